"""The grey ladder at White: as found behind, now in front, brackets for what gains and biases reach. No Qt."""

from dataclasses import replace

from aequitone.advice.roles import BIASES, GAINS
from aequitone.advice.two_point.explanation import reach
from aequitone.desktop.widgets.ladder_state import LadderRow, LadderState, empty_rows, filled, ghosted
from aequitone.passes import AS_FOUND, Snapshot
from aequitone.procedures.white.session import WhiteState
from aequitone.reference import grey_errors, target_named

_SUBTITLE = "now, with as found behind it"


def white_ladder(snapshot: Snapshot, state: WhiteState | None) -> LadderState:
    """The three levels as they were left, as found behind all."""
    target = target_named(snapshot.visit.target)
    found = snapshot.result(AS_FOUND)
    rows = empty_rows(target, snapshot.visit.levels, found.white if found else None)
    if found:
        rows = ghosted(rows, found.errors, found.xyz, found.white, snapshot.leading)
    if state is not None:
        white, black = float(state.xyz[0, 1]), state.black
        if black is None:
            black = found.black if found else 0.0
        errors = grey_errors(state.percents, state.xyz, target, white=white, black=black, sd=state.sd)
        rows = filled(rows, errors, state.xyz, white, snapshot.leading)
    return replace(with_reach(tuple(rows.values()), state), formula=snapshot.leading)


def with_reach(rows: tuple[LadderRow, ...], state: WhiteState | None, *, here: float | None = None) -> LadderState:
    """The ladder with what gains and biases reach as learnt, those that the move turns being marked.

    `here`: the level that is read.
    """
    rows = tuple(replace(row, here=True) if row.percent == here else row for row in rows)
    if state is None:
        return LadderState("Grey ladder", _SUBTITLE, rows)
    move, (_, bright, dark) = state.proposed, state.percents
    roles = {change.role for change in move.changes} if move else set()
    gains, biases = bool(roles & set(GAINS)), bool(roles & set(BIASES))
    active = "both" if gains and biases else "gains" if gains else "biases" if biases else ""
    return LadderState("Grey ladder", _SUBTITLE, rows, reach(state.responses, bright, dark), active)
