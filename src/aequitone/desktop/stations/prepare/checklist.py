"""The checklist of Prepare as it stands: pure functions, no Qt."""

from dataclasses import dataclass
from typing import Any

from aequitone.advice import checklist as lines_of
from aequitone.advice.checklist import ChecklistLine, Way, checklist
from aequitone.advice.roles import FEATURES, Role
from aequitone.advice.scopes import Reach
from aequitone.desktop.stations.prepare.state import ChecklistRow, Mark
from aequitone.desktop.widgets.chart_state import LineState
from aequitone.logbook.settings.ledger import CheckState
from aequitone.passes import (
    GAMMA,
    GAMUT,
    MODE,
    ROOM,
    TEMPERATURE,
    WARM_UP,
    WATCHED,
    NotNotedError,
    NotReadyError,
    PassType,
    Snapshot,
)
from aequitone.passes.comparing.watched import changed_since
from aequitone.procedures.preparation.presets import ChoiceState
from aequitone.procedures.preparation.warm_up import Warmth

MEASURED: dict[str, PassType[Any, Any]] = {
    lines_of.WATCHED: WATCHED,
    lines_of.WARM_UP: WARM_UP,
    lines_of.ROOM: ROOM,
    lines_of.CHOICE: TEMPERATURE,
    lines_of.GAMMA: GAMMA,
    lines_of.GAMUT: GAMUT,
    lines_of.MODE: MODE,
}
"""The pass that measures a line, by the line's key."""
_TO_DRAW = 2
_MARKS = {CheckState.DONE: Mark.DONE, CheckState.LEFT: Mark.LEFT, CheckState.NOT_HERE: Mark.NOT_HERE}


@dataclass(frozen=True)
class Standing:
    """A line and how it stands."""

    line: ChecklistLine
    mark: Mark
    detail: str = ""


def standings(snapshot: Snapshot) -> tuple[Standing, ...]:
    """The lines for this visit, in order, each with how it stands."""
    visit = snapshot.visit
    roles = {control.role for control in snapshot.controls}
    # Of the memories of a visit the first is the one that was on; another may be made on this visit.
    first = not snapshot.jobs or visit.job_id == snapshot.jobs[0].id
    metered = visit.bench.automatic
    lines = checklist(visit.technology, roles, metered=metered, hdr=snapshot.hdr, watched=first)
    return tuple(_standing(snapshot, line) for line in lines)


def prepared(snapshot: Snapshot) -> bool:
    """Whether every line has been answered."""
    return all(standing.mark is not Mark.OPEN for standing in standings(snapshot))


def _standing(snapshot: Snapshot, line: ChecklistLine) -> Standing:
    check = snapshot.checks.get(line.key)
    if check is not None:
        return Standing(line, _MARKS[check.state], check.detail or check.state.value)
    warmth, room = snapshot.result(WARM_UP), snapshot.result(ROOM)
    if line.key == lines_of.WARM_UP and warmth is not None:
        return Standing(line, Mark.DONE if warmth.settled else Mark.OPEN, warmth.words)
    if line.key == lines_of.ROOM and room is not None:
        return Standing(line, Mark.DONE if room.dark else Mark.OPEN, room.words)
    if line.key == lines_of.WATCHED:
        return _as_watched(snapshot, line)
    chosen = snapshot.result(MEASURED[line.key]) if line.key in MEASURED else None
    if isinstance(chosen, ChoiceState) and chosen.order:
        # Put back before one was chosen: nothing is decided.
        mark = Mark.DONE if chosen.words else Mark.OPEN
        return Standing(line, mark, chosen.words or "stopped, and put back")
    if line.role is not None:
        if any(debt.role == line.role for debt in snapshot.debts):
            return Standing(line, Mark.DONE, "switched off; to settle at Hand over")
        if snapshot.found_settings.get(line.role) == 0:
            return Standing(line, Mark.DONE, "found off")
    return Standing(line, Mark.OPEN)


def _as_watched(snapshot: Snapshot, line: ChecklistLine) -> Standing:
    """How the first line of a visit stands: once something is changed it cannot be made up for."""
    if snapshot.done(WATCHED):
        return Standing(line, Mark.DONE, snapshot.words(WATCHED))
    if changed_since(snapshot):
        return Standing(line, Mark.NOT_HERE, "not measured before something was changed")
    return Standing(line, Mark.OPEN)


def hindrance(snapshot: Snapshot, line: ChecklistLine) -> NotReadyError | None:
    """Why a line cannot be worked on; None where it can."""
    if line.way is not Way.LOOK and _has_unnoted_settings(snapshot):
        return NotNotedError(
            f"{snapshot.visit.memory} is on now, and it has settings of its own. Note them before anything is "
            "turned: what is not noted is not set here, and cannot be put back."
        )
    kind = MEASURED.get(line.key)
    if kind is None or line.way is not Way.MEASURE:
        return None
    try:
        kind.make_plan(snapshot)
    except NotReadyError as error:
        return error
    return None


def _has_unnoted_settings(snapshot: Snapshot) -> bool:
    """Whether another picture mode was chosen by hand, and none of its settings has been noted."""
    beside = (Role.PICTURE_MODE, *FEATURES)
    own = [c.role for c in snapshot.controls if c.scope.reach is Reach.MEMORY and c.role not in beside]
    noted = snapshot.settings
    return Role.PICTURE_MODE in noted and bool(own) and not any(role in noted for role in own)


def drift(warmth: Warmth | None) -> LineState | None:
    """White over the minutes that it was watched; None before there are two readings."""
    if warmth is None or len(warmth.seconds) < _TO_DRAW:
        return None
    light = warmth.xyz[:, 1]
    off = 100.0 * (light / light[-1] - 1.0)
    points = zip((warmth.seconds / 60.0).tolist(), off.tolist(), [0.0] * len(off), strict=True)
    return LineState("white", tuple(points))


def rows(lines: tuple[Standing, ...], here: int) -> tuple[ChecklistRow, ...]:
    """The lines as they are drawn."""
    return tuple(ChecklistRow(s.line.title, s.detail, s.mark, i == here) for i, s in enumerate(lines))
