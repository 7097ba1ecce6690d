"""The standard role of a control, whatever the screen's menu calls it."""

from enum import StrEnum


class Role(StrEnum):
    """What a control does."""

    GAIN_R = "gain-r"
    GAIN_G = "gain-g"
    GAIN_B = "gain-b"
    BIAS_R = "bias-r"
    BIAS_G = "bias-g"
    BIAS_B = "bias-b"
    LIGHT_OUTPUT = "light-output"
    CONTRAST = "contrast"
    BLACK_LEVEL = "black-level"
    GAMMA = "gamma"
    TEMPERATURE = "temperature"


GAINS = (Role.GAIN_R, Role.GAIN_G, Role.GAIN_B)
BIASES = (Role.BIAS_R, Role.BIAS_G, Role.BIAS_B)
TWO_POINT = GAINS + BIASES

ROLE_WORDS = {
    Role.GAIN_R: "red gain",
    Role.GAIN_G: "green gain",
    Role.GAIN_B: "blue gain",
    Role.BIAS_R: "red bias",
    Role.BIAS_G: "green bias",
    Role.BIAS_B: "blue bias",
    Role.LIGHT_OUTPUT: "light output",
    Role.CONTRAST: "contrast",
    Role.BLACK_LEVEL: "black level",
    Role.GAMMA: "gamma preset",
    Role.TEMPERATURE: "colour temperature preset",
}

CHANNELS = ("R", "G", "B")


def channel_of(role: Role) -> str | None:
    """R, G or B for a gain or a bias."""
    return CHANNELS[TWO_POINT.index(role) % 3] if role in TWO_POINT else None
