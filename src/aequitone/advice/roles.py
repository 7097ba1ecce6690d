"""The standard role of a control, whatever the screen's menu calls it: a value of kind, channel and level."""

import re
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from typing import ClassVar

COLOUR_ORDER = ("red", "yellow", "green", "cyan", "blue", "magenta")
"""The primaries and secondaries that a colour management has controls for, by hue."""
AMOUNTS = ("hue", "saturation", "lightness", "r", "g", "b")
"""What is turned of each: the first three, or the amounts of red, green and blue that are mixed in."""
_MIXED = {"r": "red", "g": "green", "b": "blue"}
_COLOUR = re.compile(rf"cms-({'|'.join(COLOUR_ORDER)})-({'|'.join(AMOUNTS)})")
_POINT = re.compile(r"multi-([rgby])-(0|[1-9]\d{0,2})")


class RoleKind(StrEnum):
    """What a control does. A gain, a bias and a point do it to one channel, a point at one level."""

    GAIN = "gain"
    BIAS = "bias"
    POINT = "multi"
    COLOUR_MANAGEMENT = "cms"
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


@dataclass(frozen=True, order=True)
class Role:
    """What a control does, to which channel and at which level in %.

    Channels are "r", "g", "b", and "y" for the light of all three; of a colour management, its colour.
    Raises ValueError for a kind without the channel or level that it needs, or with one that it has not.
    """

    kind: RoleKind
    channel: str = ""
    level: int | None = None
    amount: str = ""
    """Of a colour management: what it turns of the colour, one of AMOUNTS."""

    GAIN_R: ClassVar["Role"]
    GAIN_G: ClassVar["Role"]
    GAIN_B: ClassVar["Role"]
    BIAS_R: ClassVar["Role"]
    BIAS_G: ClassVar["Role"]
    BIAS_B: ClassVar["Role"]
    LIGHT_OUTPUT: ClassVar["Role"]
    CONTRAST: ClassVar["Role"]
    BLACK_LEVEL: ClassVar["Role"]
    PICTURE_MODE: ClassVar["Role"]
    POWER: ClassVar["Role"]
    GAMMA: ClassVar["Role"]
    TEMPERATURE: ClassVar["Role"]
    COLOUR: ClassVar["Role"]
    TINT: ClassVar["Role"]
    GAMUT: ClassVar["Role"]
    SHARPNESS: ClassVar["Role"]
    OVERSCAN: ClassVar["Role"]
    KEYSTONE: ClassVar["Role"]
    BLACK_RANGE: ClassVar["Role"]
    DYNAMIC_CONTRAST: ClassVar["Role"]
    ENERGY_SAVING: ClassVar["Role"]
    AMBIENT_SENSOR: ClassVar["Role"]
    ZONE_DIMMING: ClassVar["Role"]
    DYNAMIC_IRIS: ClassVar["Role"]
    BLACK_STRETCH: ClassVar["Role"]
    LOGO_DIMMING: ClassVar["Role"]
    TONE_MAPPING: ClassVar["Role"]
    NOISE_REDUCTION: ClassVar["Role"]
    EDGE_ENHANCEMENT: ClassVar["Role"]
    SUPER_RESOLUTION: ClassVar["Role"]
    MOTION: ClassVar["Role"]

    def __post_init__(self) -> None:
        if self.kind is RoleKind.COLOUR_MANAGEMENT:
            if self.channel not in COLOUR_ORDER or self.amount not in AMOUNTS or self.level is not None:
                raise ValueError(f"a colour management has no “{self.amount}” of “{self.channel}”")
            return
        if self.amount:
            raise ValueError(f"a control of {self.kind.value} has no amount “{self.amount}”")
        channels = {RoleKind.GAIN: "rgb", RoleKind.BIAS: "rgb", RoleKind.POINT: "rgby"}.get(self.kind, "")
        if len(self.channel) != bool(channels) or self.channel not in channels:
            raise ValueError(f"a control of {self.kind.value} has no channel “{self.channel}”")
        if (self.level is not None) != (self.kind is RoleKind.POINT) or not 0 <= (self.level or 0) <= 100:
            raise ValueError(f"a control of {self.kind.value} has no level {self.level}")

    @cached_property
    def key(self) -> str:
        """The word for it in the logbook, in files and in the bench protocol: "gain-r", "multi-b-35"."""
        if self.kind is RoleKind.COLOUR_MANAGEMENT:
            return f"{self.kind.value}-{self.channel}-{self.amount}"
        return "-".join([self.kind.value, *self.channel, *([] if self.level is None else [str(self.level)])])

    def __str__(self) -> str:
        return self.key

    @property
    def is_feature(self) -> bool:
        """Whether it acts by itself and spoils a measurement while it is on."""
        return self.kind.startswith("feature-")


GAINS = Role.GAIN_R, Role.GAIN_G, Role.GAIN_B = tuple(Role(RoleKind.GAIN, channel) for channel in "rgb")
BIASES = Role.BIAS_R, Role.BIAS_G, Role.BIAS_B = tuple(Role(RoleKind.BIAS, channel) for channel in "rgb")
TWO_POINT = GAINS + BIASES
_SEVERAL = (RoleKind.GAIN, RoleKind.BIAS, RoleKind.POINT, RoleKind.COLOUR_MANAGEMENT)
_PLAIN = tuple(Role(k) for k in RoleKind if k not in _SEVERAL)
for _role in _PLAIN:
    setattr(Role, _role.kind.name, _role)
ROLES = TWO_POINT + _PLAIN
"""Every role but those of multi-point and of a colour management, of which each screen has its own."""
_OF_KEY = {role.key: role for role in ROLES}


def role_of(key: str) -> Role:
    """The role of a key. Raises ValueError where there is none of that name."""
    if known := _OF_KEY.get(key):
        return known
    if (of_colour := _COLOUR.fullmatch(key)) is not None:
        return Role(RoleKind.COLOUR_MANAGEMENT, of_colour[1], amount=of_colour[2])
    if (found := _POINT.fullmatch(key)) is None:
        raise ValueError(f"there is no role “{key}”")
    return point_role(found[1], int(found[2]))


def in_ledger(role: Role) -> bool:
    """Whether the settings of a role are noted: all but what is only ever off for a moment."""
    return role != Role.POWER


LEDGER_ROLES = tuple(role for role in ROLES if in_ledger(role))
"""What a menu's settings are noted for, multi-point aside; power is only ever off for a moment."""
FEATURES = tuple(role for role in ROLES if role.is_feature)
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
    return Role(RoleKind.POINT, channel, percent)


def point_of(role: Role) -> tuple[str, int] | None:
    """Channel and level in % of a multi-point control; None for any other."""
    return None if role.level is None else (role.channel, role.level)


POINT_COUNTS = (10, 11, 20, 21, 26, 42)
"""How many levels a multi-point adjustment has, on one screen or another."""


def point_percents(count: int) -> tuple[int, ...]:
    """The levels in % of a multi-point adjustment, dark to bright: 11 and 21 begin at black, others above it."""
    first = 0.0 if count in (11, 21) else 100.0 / count
    return tuple(round(first + (100.0 - first) * i / (count - 1)) for i in range(count))


def is_role(value: str) -> bool:
    """Whether there is a role of that name."""
    try:
        role_of(value)
    except ValueError:
        return False
    return True


def role_words(role: Role) -> str:
    """A role in words."""
    point = point_of(role)
    if is_of_colours(role):
        return f"{role.channel}: {_CHANNEL_WORDS.get(role.amount, role.amount)}"
    return ROLE_WORDS[role] if point is None else f"{_CHANNEL_WORDS[point[0]]} at {point[1]} %"


def menu_words(role: Role) -> str:
    """How menus usually call a control of a colour management: "Red hue", and of what is mixed in "Red: green"."""
    colour, mixed = role.channel.capitalize(), _MIXED.get(role.amount)
    return f"{colour}: {mixed}" if mixed else f"{colour} {role.amount}"


def is_of_colours(role: Role) -> bool:
    """Whether it is a control of a colour management."""
    return role.kind is RoleKind.COLOUR_MANAGEMENT


def is_one_of_many(role: Role) -> bool:
    """Whether it is one of the many controls of multi-point or of a colour management."""
    return role.level is not None or is_of_colours(role)


def channel_of(role: Role) -> str | None:
    """R, G or B for a gain, a bias, or a control of one level."""
    return role.channel.upper() if role.channel and role.channel in "rgb" else None
