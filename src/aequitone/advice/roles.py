"""The standard role of a control, whatever the screen's menu calls it."""

import re
from enum import StrEnum

_POINT = re.compile(r"multi-([rgby])-(\d{1,3})")


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

    def __reduce_ex__(self, _protocol: object) -> tuple[type["Role"], tuple[str]]:
        """By value: Python before 3.11.4 copies by name, and those that came to be late have none on the class."""
        return type(self), (self._value_,)

    @classmethod
    def _missing_(cls, value: object) -> "Role | None":
        """Controls of a multi-point adjustment, "multi-r-50", come to be when they are first named.

        Only a few screens have them, and each other levels; listing them all would drown the rest.
        """
        if not isinstance(value, str) or not (found := _POINT.fullmatch(value)) or int(found[2]) > 100:
            return None
        member = str.__new__(cls, value)
        member._name_, member._value_ = value.upper().replace("-", "_"), value
        cls._value2member_map_[value] = member
        return member


def in_ledger(role: Role) -> bool:
    """Whether the settings of a role are noted: all but what is only ever off for a moment."""
    return role is not Role.POWER


GAINS = (Role.GAIN_R, Role.GAIN_G, Role.GAIN_B)
BIASES = (Role.BIAS_R, Role.BIAS_G, Role.BIAS_B)
TWO_POINT = GAINS + BIASES
LEDGER_ROLES = tuple(role for role in Role if in_ledger(role))
"""What a menu's settings are noted for, multi-point aside; power is only ever off for a moment."""
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
_CHANNEL_WORDS = {"r": "red", "g": "green", "b": "blue", "y": "light"}


def point_role(channel: str, percent: int) -> Role:
    """The role of a multi-point control: `channel` "r", "g", "b", or "y" for the light of all three."""
    return Role(f"multi-{channel}-{percent}")


def point_of(role: Role) -> tuple[str, int] | None:
    """Channel and level in % of a multi-point control; None for any other."""
    found = _POINT.fullmatch(role.value)
    return (found[1], int(found[2])) if found else None


POINT_COUNTS = (10, 11, 20, 21, 26, 42)
"""How many levels a multi-point adjustment has, on one screen or another."""


def point_percents(count: int) -> tuple[int, ...]:
    """The levels in % of a multi-point adjustment, dark to bright: 11 and 21 begin at black, others above it."""
    first = 0.0 if count in (11, 21) else 100.0 / count
    return tuple(round(first + (100.0 - first) * i / (count - 1)) for i in range(count))


def is_role(value: str) -> bool:
    """Whether there is a role of that name."""
    try:
        Role(value)
    except ValueError:
        return False
    return True


def role_words(role: Role) -> str:
    """A role in words."""
    point = point_of(role)
    return ROLE_WORDS[role] if point is None else f"{_CHANNEL_WORDS[point[0]]} at {point[1]} %"


def channel_of(role: Role) -> str | None:
    """R, G or B for a gain, a bias, or a control of one level."""
    point = point_of(role)
    if point is not None:
        return point[0].upper() if point[0].upper() in CHANNELS else None
    return CHANNELS[TWO_POINT.index(role) % 3] if role in TWO_POINT else None
