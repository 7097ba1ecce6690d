"""Levels by meter: light output, black level, contrast, colour and tint."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from aequitone.advice.levels import Finding
from aequitone.advice.technology import dark_foot, has_fourth, usual_light
from aequitone.logbook.records import Connection
from aequitone.passes.base import NotNotedError, PassType
from aequitone.passes.grey import AS_FOUND, shadows
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace, levels_seconds
from aequitone.procedures.journal import Recorded, Turned
from aequitone.procedures.levels.levels import levels
from aequitone.procedures.levels.session import LEVEL_ROLES, LevelsPlan, LevelsState
from aequitone.procedures.levels.swept import Swept
from aequitone.procedures.policy import seen_black
from aequitone.procedures.steps import Reading
from aequitone.reference import target_named
from aequitone.signal import Shape


def _plan(snapshot: Snapshot) -> LevelsPlan:
    visit, values = snapshot.visit, snapshot.settings
    known = [control for control in snapshot.controls if control.role in LEVEL_ROLES and control.role in values]
    if not known:
        raise NotNotedError(
            "Levels need the settings of light output, contrast, black level, colour or tint: enter them "
            "at Arrive."
        )
    target, found = target_named(visit.target), snapshot.result(AS_FOUND)
    return LevelsPlan(
        target,
        visit.bench.format,
        tuple(control.state(values[control.role]) for control in known),
        wanted_light(snapshot),
        windows=visit.bench.automatic and visit.bench.window < 1.0,
        fourth=has_fourth(visit.technology),
        board=visit.bench.automatic,
        dark_foot=dark_foot(visit.technology),
        by_link=visit.bench.by_link,
        from_disc=visit.bench.patterns is Connection.BY_HAND,
        watched=shadows(found, target_named(visit.target))
        if found is not None and visit.bench.automatic
        else None,
    )


def wanted_light(snapshot: Snapshot) -> float:
    """Luminance that the job wants of white in the end, cd/m²."""
    visit = snapshot.visit
    return target_named(visit.target).light or visit.light or usual_light(visit.technology)


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
    return " ".join(words for words in told if words)


def _recovered(plan: LevelsPlan, record: Sequence[Recorded], words: str) -> LevelsState | None:
    """The result as the record has it: white and black as read last, and where every control was left."""
    readings = [r for r in record if isinstance(r, Reading) and r.patch.shape is Shape.WINDOW]
    full = [r for r in readings if r.patch.format == plan.format]
    whites, blacks = ([r for r in full if r.patch.percent == percent] for percent in (100.0, 0.0))
    if not whites or not blacks:
        return None
    left = {change.role: change.to_value for r in record if isinstance(r, Turned) for change in r.move.changes}
    sweeps: list[Swept] = []
    for control in plan.controls:
        stands = left.get(control.role, control.value)
        # What was found stands in the words of the pass, which are of all controls.
        finding = Finding(stands, float(stands), 0.0, words if not sweeps else "")
        sweeps.append(Swept(replace(control, value=stands), control.value, (), finding))
    windows = {r.patch.format.window: r.Y for r in readings if r.patch.percent == 100.0}
    black = seen_black(blacks[-1].Y, blacks[-1].sd_Y)
    return LevelsState(
        tuple(sweeps),
        whites[-1].xyz,
        blacks[-1].xyz if black else np.zeros(3),
        windows=tuple(sorted(windows.items())) if plan.windows else (),
    )


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
    recover=_recovered,
)
