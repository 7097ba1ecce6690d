"""Levels by meter: light output, black level, contrast, colour and tint."""

from aequitone.advice.technology import dark_foot, has_fourth, usual_light
from aequitone.passes.base import NotReadyError, PassType
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace, levels_seconds
from aequitone.procedures.levels.levels import LEVEL_ROLES, LevelsPlan, LevelsState, levels
from aequitone.reference import target_named


def _plan(snapshot: Snapshot) -> LevelsPlan:
    visit, values = snapshot.visit, snapshot.settings
    known = [control for control in snapshot.controls if control.role in LEVEL_ROLES and control.role in values]
    if not known:
        raise NotReadyError(
            "Levels need the settings of light output, contrast, black level, colour or tint: enter them "
            "at Arrive."
        )
    target = target_named(visit.target)
    return LevelsPlan(
        target,
        visit.bench.format,
        tuple(control.state(values[control.role]) for control in known),
        target.light or visit.light or usual_light(visit.technology),
        windows=visit.bench.automatic and visit.bench.window < 1.0,
        fourth=has_fourth(visit.technology),
        board=visit.bench.automatic,
        dark_foot=dark_foot(visit.technology),
    )


def _seconds(snapshot: Snapshot, pace: Pace) -> float:
    return levels_seconds(sum(control.role in LEVEL_ROLES for control in snapshot.controls), pace)


def levels_words(state: LevelsState) -> str:
    """What was found, control by control."""
    told = []
    for swept in {swept.control.role: swept for swept in state.sweeps}.values():
        if swept.kept:
            told.append(f"{swept.control.name} was put back to {swept.control.value}.")
        elif swept.finding is not None:
            told.append(swept.finding.words)
    return " ".join(told)


LEVELS = PassType(
    key="levels",
    title="Levels",
    plan=LevelsPlan,
    result=LevelsState,
    procedure=levels,
    make_plan=_plan,
    seconds=_seconds,
    words=levels_words,
    adjusts=True,
    sdr_only=True,
)
