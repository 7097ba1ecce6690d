"""Two-point white balance."""

from collections.abc import Sequence
from dataclasses import replace

from aequitone.advice.moves import moved, steps_of
from aequitone.advice.roles import ROLE_WORDS, TWO_POINT, Role
from aequitone.passes.base import NotNotedError, NotReadyError, PassType
from aequitone.passes.grey import AS_FOUND, shadows
from aequitone.passes.hdr import solved_pair, solved_target
from aequitone.passes.levels import LEVELS, wanted_light
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace, usual_trips, white_balance_seconds
from aequitone.procedures.journal import Recorded, Turned
from aequitone.procedures.policy import seen_black
from aequitone.procedures.steps import Purpose, Reading
from aequitone.procedures.white.plan import LightStep, WhitePlan
from aequitone.procedures.white.session import Trip, WhiteSession, WhiteState, seen_of
from aequitone.procedures.white.white_balance import WhiteResult, white_balance
from aequitone.signal import ladder_step
from aequitone.wording import and_listed


def _plan(snapshot: Snapshot) -> WhitePlan:
    visit, values = snapshot.visit, snapshot.settings
    found = snapshot.result(AS_FOUND)
    if found is None:
        raise NotReadyError("White needs grey as found first.")
    controls = {control.role: control for control in snapshot.controls}
    missing = [ROLE_WORDS[role] for role in TWO_POINT if role not in controls or role not in values]
    if missing:
        raise NotNotedError(f"White needs the settings of {and_listed(missing)}: enter them at Arrive.")
    white, black = light_now(snapshot)
    target = solved_target(snapshot)
    return WhitePlan(
        target,
        visit.bench.format,
        tuple(controls[role].state(values[role]) for role in TWO_POINT),
        white,
        black,
        *white_levels(snapshot),
        stop_at=visit.stop_at,
        looks=3 if visit.bench.automatic else 1,
        technology=visit.technology,
        by_hand=not visit.bench.by_link,
        formula=visit.formula,
        # A person who types readings is not asked for one more.
        watched=shadows(found, target) if visit.bench.automatic else None,
        light=_light_step(snapshot),
    )


def white_levels(snapshot: Snapshot) -> tuple[float, float]:
    """The bright and the dark level, in %, that White adjusts: as chosen, or below the knee of HDR."""
    visit, found = snapshot.visit, snapshot.result(AS_FOUND)
    if found is None:
        return visit.pair
    return solved_pair(visit.pair, solved_target(snapshot), light_now(snapshot)[0], ladder_step(visit.levels))


def _light_step(snapshot: Snapshot) -> LightStep | None:
    """What light output should be brought to in the end, where Levels has set it before."""
    levels = snapshot.result(LEVELS)
    control = next((each for each in snapshot.controls if each.role == Role.LIGHT_OUTPUT), None)
    if snapshot.hdr or levels is None or control is None or Role.LIGHT_OUTPUT not in snapshot.settings:
        return None
    swept = [each for each in levels.sweeps if each.control.role == Role.LIGHT_OUTPUT]
    if not swept or any(each.kept for each in swept):
        return None
    read = max(swept, key=lambda each: len(each.positions)).positions
    shape = tuple((position.setting, float(position.xyz[0, 1])) for position in read)
    return LightStep(control.state(snapshot.settings[Role.LIGHT_OUTPUT]), wanted_light(snapshot), shape)


def light_now(snapshot: Snapshot) -> tuple[float, float]:
    """Luminance of white and black as they are: what was found, unless levels were set since."""
    found, read = snapshot.result(AS_FOUND), snapshot.latest_done(AS_FOUND)
    after, set_ = snapshot.result(LEVELS), snapshot.latest_done(LEVELS)
    assert found is not None
    assert read is not None
    if set_ is None or set_.id < read.id or after is None or after.white is None or after.black is None:
        return found.white, found.black
    return float(after.white[1]), float(after.black[1])


def _seconds(snapshot: Snapshot, pace: Pace) -> float:
    if not snapshot.has_two_point:
        return 0.0
    return white_balance_seconds(pace, usual_trips(snapshot.visit.stop_at, snapshot.visit.formula))


def _recovered(plan: WhitePlan, record: Sequence[Recorded], words: str) -> WhiteResult | None:
    """The result as the record has it: what was turned, what was read after it, and what was said in the end."""
    levels = (100.0, plan.bright, plan.dark)
    session = WhiteSession.begin(plan)
    newest: dict[float, Reading] = {}
    before: float | None = None
    turned: Turned | None = None
    for result in record:
        if isinstance(result, Turned) and any(change.role in TWO_POINT for change in result.move.changes):
            turned = result
            before = session.mover.worst(session.seen) if session.seen is not None else None
            session.controls = moved(session.controls, steps_of(result.move, session.controls))
            newest = {}
        elif isinstance(result, Reading) and result.purpose is Purpose.ADJUST and result.patch.percent == 0.0:
            session.mover = replace(session.mover, black=seen_black(result.Y, result.sd_Y))
        elif isinstance(result, Reading) and result.purpose is Purpose.ADJUST and result.patch.percent in levels:
            newest[result.patch.percent] = result
            if len(newest) < len(levels):
                continue
            readings = [newest[level] for level in levels]
            session.seen = seen_of(readings, plan.target)
            if turned is not None and before is not None:
                worst, sd = session.mover.worst(session.seen), session.mover.worst_sd(session.seen)
                session.trips.append(Trip(turned.move, before, worst, sd))
                turned = None
    if session.seen is None:
        return None
    return WhiteResult(None, words, replace(session.state(), responses=session.responses))


def white_state(snapshot: Snapshot) -> WhiteState | None:
    """Where white balance stands, or how it ended."""
    progress, result = snapshot.progress(WHITE), snapshot.result(WHITE)
    if isinstance(progress, WhiteState):
        return progress
    return result.state if result is not None else None


WHITE = PassType(
    key="white",
    title="White",
    plan=WhitePlan,
    result=WhiteResult,
    procedure=white_balance,
    make_plan=_plan,
    seconds=_seconds,
    words=lambda result: result.words,
    reason="white balance",
    adjusts=True,
    recover=_recovered,
)
