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
    PICTURE_MODE = "picture-mode"
    POWER = "power"
    GAMMA = "gamma"
    TEMPERATURE = "temperature"
    COLOUR = "colour"
    TINT = "tint"
    GAMUT = "gamut"
    SHARPNESS = "sharpness"
    OVERSCAN = "overscan"
    KEYSTONE = "keystone"
    BLACK_RANGE = "black-range"
    DYNAMIC_CONTRAST = "feature-dynamic-contrast"
    ENERGY_SAVING = "feature-energy-saving"
    AMBIENT_SENSOR = "feature-ambient-sensor"
    ZONE_DIMMING = "feature-zone-dimming"
    DYNAMIC_IRIS = "feature-dynamic-iris"
    BLACK_STRETCH = "feature-black-stretch"
    LOGO_DIMMING = "feature-logo-dimming"
    TONE_MAPPING = "feature-tone-mapping"
    NOISE_REDUCTION = "feature-noise-reduction"
    EDGE_ENHANCEMENT = "feature-edge-enhancement"
    SUPER_RESOLUTION = "feature-super-resolution"
    MOTION = "feature-motion"


GAINS = (Role.GAIN_R, Role.GAIN_G, Role.GAIN_B)
BIASES = (Role.BIAS_R, Role.BIAS_G, Role.BIAS_B)
TWO_POINT = GAINS + BIASES
LEDGER_ROLES = tuple(role for role in Role if role is not Role.POWER)
"""What a menu's settings are noted for; power is only ever off for a moment."""
FEATURES = tuple(role for role in Role if role.startswith("feature-"))
"""What acts by itself and spoils a measurement while it is on."""

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
    Role.PICTURE_MODE: "picture mode",
    Role.POWER: "power",
    Role.GAMMA: "gamma preset",
    Role.TEMPERATURE: "colour temperature preset",
    Role.COLOUR: "colour",
    Role.TINT: "tint",
    Role.GAMUT: "gamut preset",
    Role.SHARPNESS: "sharpness",
    Role.OVERSCAN: "overscan",
    Role.KEYSTONE: "keystone correction",
    Role.BLACK_RANGE: "signal range",
    Role.DYNAMIC_CONTRAST: "dynamic contrast",
    Role.ENERGY_SAVING: "energy saving",
    Role.AMBIENT_SENSOR: "ambient light sensor",
    Role.ZONE_DIMMING: "local dimming",
    Role.DYNAMIC_IRIS: "dynamic iris or laser dimming",
    Role.BLACK_STRETCH: "black stretch",
    Role.LOGO_DIMMING: "dimming of still logos",
    Role.TONE_MAPPING: "dynamic tone mapping",
    Role.NOISE_REDUCTION: "noise reduction",
    Role.EDGE_ENHANCEMENT: "edge enhancement",
    Role.SUPER_RESOLUTION: "super resolution",
    Role.MOTION: "motion interpolation",
}

CHANNELS = ("R", "G", "B")


def channel_of(role: Role) -> str | None:
    """R, G or B for a gain or a bias."""
    return CHANNELS[TWO_POINT.index(role) % 3] if role in TWO_POINT else None
