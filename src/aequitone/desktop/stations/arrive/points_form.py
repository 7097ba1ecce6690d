"""Multi-point controls as noted at Arrive: one line for what would be eighty rows. No Qt."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from aequitone.advice.roles import POINT_COUNTS, Role, point_of, point_percents, point_role
from aequitone.desktop.stations.arrive.many_form import checked_many, found_of
from aequitone.logbook import ControlRecord

CHANNELS, WITH_LIGHT = "rgb", "rgby"


@dataclass(frozen=True)
class PointsDraft:
    """How many levels, from where to where, and where all of them stand, as typed; `count` 0 for none."""

    count: int = 0
    lowest: str = "-50"
    highest: str = "50"
    light: bool = True
    """Whether each level has a control for its light, beside red, green and blue."""
    found: str = "0"
    """Where all stand as found."""
    told: tuple[tuple[str, int], ...] = ()
    """By role, what a link told instead."""
    known: tuple[ControlRecord, ...] = ()
    """As the logbook has them already: their names are kept."""


def points_of(controls: Iterable[ControlRecord], found: Mapping[Role, int]) -> PointsDraft:
    """The line for controls that are known, and settings as found where they are noted."""
    points = tuple(control for control in controls if point_of(control.role))
    if not points:
        return PointsDraft()
    percents = tuple(sorted({point[1] for control in points if (point := point_of(control.role))}))
    count = next((n for n in POINT_COUNTS if point_percents(n) == percents), 0)
    light = any(control.role == point_role("y", percents[-1]) for control in points)
    told, by_role = found_of(points, found)
    return PointsDraft(count, str(points[0].lowest), str(points[0].highest), light, told, by_role, points)


def checked(draft: PointsDraft) -> tuple[list[ControlRecord], dict[Role, int]]:
    """The controls and their settings as found. ValueError with a sentence where something cannot be."""
    if not draft.count:
        return [], {}
    named = [
        (point_role(channel, percent), f"{percent} % {channel.upper()}")
        for percent in point_percents(draft.count)
        for channel in (WITH_LIGHT if draft.light else CHANNELS)
    ]
    return checked_many(draft, named, "Multi-point")
