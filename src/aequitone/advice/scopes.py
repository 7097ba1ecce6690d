"""What a control acts on, and whether copying settings takes it along: usual for its role, until a person says."""

from dataclasses import dataclass
from enum import StrEnum

from aequitone.advice.roles import FEATURES, TWO_POINT, Role, point_of
from aequitone.advice.technology import Technology
from aequitone.advice.templates import kind_of


class Reach(StrEnum):
    """Where a setting holds."""

    MEMORY = "this memory"
    INPUT = "this input"
    SCREEN = "whole screen"


class Signals(StrEnum):
    """On which signals a control does anything."""

    ALL = "every signal"
    VIDEO = "not on RGB"
    SDR = "SDR only"
    HDR = "HDR only"


class Copied(StrEnum):
    """Whether the screen's own "apply to all" takes a setting along."""

    NOT_KNOWN = "not known"
    YES = "copied"
    NO = "not copied"


@dataclass(frozen=True)
class Scope:
    """What one control acts on."""

    reach: Reach = Reach.MEMORY
    signals: Signals = Signals.ALL
    copied: Copied = Copied.NOT_KNOWN

    @property
    def words(self) -> str:
        """In a few words, for a column."""
        signals = "" if self.signals is Signals.ALL else f", {self.signals.value}"
        return f"{self.reach.value}{signals}"


_SCREEN_WIDE = (
    Role.PICTURE_MODE,
    Role.ENERGY_SAVING,
    Role.AMBIENT_SENSOR,
    Role.LOGO_DIMMING,
    Role.KEYSTONE,
)
_OF_INPUT = (Role.OVERSCAN, Role.BLACK_RANGE)
_COLOUR_DIFFERENCE = (Role.COLOUR, Role.TINT)


def usual_scope(role: Role, technology: Technology) -> Scope:
    """What such a control usually acts on, on such a screen."""
    tube = kind_of(technology) == "tube television"
    if tube and role in TWO_POINT:
        # Gains and biases of a tube are its guns': they know no inputs.
        return Scope(Reach.SCREEN)
    reach = Reach.MEMORY
    if role in _SCREEN_WIDE:
        reach = Reach.SCREEN
    elif role in _OF_INPUT:
        reach = Reach.INPUT
    signals = Signals.ALL
    if role == Role.TONE_MAPPING:
        signals = Signals.HDR
    elif tube and (role in _COLOUR_DIFFERENCE or role == Role.SHARPNESS):
        signals = Signals.VIDEO
    # White balance usually goes along with "apply to all"; what acts by itself is often left behind.
    white = role in TWO_POINT or point_of(role) is not None
    copied = Copied.YES if white else Copied.NO if role in FEATURES else Copied.NOT_KNOWN
    return Scope(reach, signals, copied)
