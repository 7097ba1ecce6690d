"""A colour management as noted at Arrive: one line for what would be eighteen rows. No Qt."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from aequitone.advice.roles import COLOUR_ORDER, Role, RoleKind, is_of_colours, menu_words
from aequitone.desktop.stations.arrive.many_form import checked_many, found_of
from aequitone.logbook import ControlRecord

AMOUNTS_OF = {
    "hsl": ("hue", "saturation", "lightness"),
    "hs": ("hue", "saturation"),
    "mix": ("r", "g", "b"),
}
"""What each kind turns of a colour."""
_PRIMARIES = ("red", "green", "blue")


@dataclass(frozen=True)
class ColoursDraft:
    """What is turned of each colour, from where to where, and where all stand, as typed; `kind` "" for none."""

    kind: str = ""
    lowest: str = "-50"
    highest: str = "50"
    secondaries: bool = True
    """Whether cyan, magenta and yellow have controls too."""
    found: str = "0"
    """Where all stand as found."""
    told: tuple[tuple[str, int], ...] = ()
    """By role, what a link told instead."""
    known: tuple[ControlRecord, ...] = ()
    """As the logbook has them already: their names are kept."""


def colours_of(controls: Iterable[ControlRecord], found: Mapping[Role, int]) -> ColoursDraft:
    """The line for controls that are known, and settings as found where they are noted."""
    known = tuple(control for control in controls if is_of_colours(control.role))
    if not known:
        return ColoursDraft()
    amounts = {control.role.amount for control in known}
    kind = next((name for name, own in AMOUNTS_OF.items() if amounts == {*own}), "hsl")
    secondaries = any(control.role.channel not in _PRIMARIES for control in known)
    told, by_role = found_of(known, found)
    return ColoursDraft(kind, str(known[0].lowest), str(known[0].highest), secondaries, told, by_role, known)


def checked_colours(draft: ColoursDraft) -> tuple[list[ControlRecord], dict[Role, int]]:
    """The controls and their settings as found. ValueError with a sentence where something cannot be."""
    if not draft.kind:
        return [], {}
    others = [name for name in COLOUR_ORDER if name not in _PRIMARIES] if draft.secondaries else []
    roles = [
        Role(RoleKind.COLOUR_MANAGEMENT, colour, amount=amount)
        for colour in (*_PRIMARIES, *others)
        for amount in AMOUNTS_OF[draft.kind]
    ]
    return checked_many(draft, [(role, menu_words(role)) for role in roles], "Colour management")
