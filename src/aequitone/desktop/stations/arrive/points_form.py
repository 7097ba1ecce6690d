"""Multi-point controls as noted at Arrive: one line for what would be eighty rows. No Qt."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from aequitone.advice.roles import POINT_COUNTS, Role, point_of, point_percents, point_role, role_of
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
    noted = {control.role.key: found[control.role] for control in points if control.role in found}
    same = len(set(noted.values())) == 1
    return PointsDraft(
        count,
        str(points[0].lowest),
        str(points[0].highest),
        light,
        str(next(iter(noted.values()))) if same else "as noted" if noted else "",
        () if same else tuple(noted.items()),
        points,
    )


def checked(draft: PointsDraft) -> tuple[list[ControlRecord], dict[Role, int]]:
    """The controls and their settings as found. ValueError with a sentence where something cannot be."""
    if not draft.count:
        return [], {}
    lowest, highest = whole(draft.lowest, "Multi-point: lowest"), whole(draft.highest, "Multi-point: highest")
    if lowest >= highest:
        raise ValueError(f"Multi-point: lowest, {lowest}, must be below highest, {highest}")
    names = {control.role: control.name for control in draft.known}
    factory = 0 if lowest <= 0 <= highest else (lowest + highest) // 2
    controls = [
        ControlRecord(0, role, names.get(role, f"{percent} % {channel.upper()}"), lowest, highest, 1, factory)
        for percent in point_percents(draft.count)
        for channel in (WITH_LIGHT if draft.light else CHANNELS)
        for role in (point_role(channel, percent),)
    ]
    told = {role_of(role): value for role, value in draft.told}
    if told or not draft.found.strip():
        return controls, {control.role: told[control.role] for control in controls if control.role in told}
    value = whole(draft.found, "Multi-point: setting as found")
    objection = controls[0].objection(value)
    if objection:
        raise ValueError(f"Multi-point: {objection}")
    return controls, {control.role: value for control in controls}


def whole(text: str, what: str) -> int:
    """A whole number as typed; ValueError says which words are none."""
    try:
        return int(text.strip())
    except ValueError:
        raise ValueError(f"{what} is “{text.strip()}”, which is not a whole number") from None
