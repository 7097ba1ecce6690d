"""The passes of a visit: planned from the logbook, carried out into it, and understood from it."""

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass
from typing import Any, cast

from aequitone.advice.points import ladder_of
from aequitone.advice.points.foot import bias_light
from aequitone.advice.roles import BIASES, ROLE_WORDS, TWO_POINT, Role, point_of
from aequitone.advice.technology import dark_foot, has_fourth, usual_light
from aequitone.instruments.ports import Bench
from aequitone.logbook import plans
from aequitone.logbook.ledger import AS_FOUND
from aequitone.logbook.moments import Moment
from aequitone.logbook.plans import Plan
from aequitone.logbook.records import GREY_PASSES, PassKind, PassRecord, PassState, VisitRecord
from aequitone.logbook.store import Logbook
from aequitone.procedures.care import CARE, Care
from aequitone.procedures.choosing import ChoicePlan, ChoiceState, choose
from aequitone.procedures.evenness import Evenness, EvennessPlan, evenness
from aequitone.procedures.first_look import WrongSignal
from aequitone.procedures.grey_pass import GreyPass, GreyPlan, grey_pass
from aequitone.procedures.levels import LEVEL_ROLES, LevelsPlan, LevelsState, levels
from aequitone.procedures.putting_back import PutBackPlan, PutBackState, put_back
from aequitone.procedures.replay import replay
from aequitone.procedures.room import RoomLight, RoomPlan, room_light
from aequitone.procedures.runner import Listener, Operator, Runner
from aequitone.procedures.steps import Procedure
from aequitone.procedures.tone import TonePlan, ToneState, tone
from aequitone.procedures.warm_up import Warmth, WarmUpPlan, warm_up
from aequitone.procedures.white_balance import WhiteResult, white_balance
from aequitone.procedures.white_session import WhitePlan, WhiteState
from aequitone.reference import target_named

SET_ASIDE_BY_PERSON = "set aside by the person"
# More settings than that are a scale, not presets.
_MOST_PRESETS = 12


# Seconds that a trip to the menu takes before any was made on this visit.
TRIP_BY_HAND, TRIP_BY_LINK = 15.0, 1.0


class NotReady(Exception):  # noqa: N818
    """A pass cannot begin yet; the message says what is missing."""


Outcome = (
    GreyPass | WhiteResult | ToneState | Warmth | RoomLight | ChoiceState | LevelsState | PutBackState | Evenness
)

# What tells its outcome in words of its own.
_WORDED = (WhiteResult, ToneState, Warmth, RoomLight, ChoiceState, PutBackState, Evenness)

_PROCEDURES: Mapping[type, Callable[[Any], Procedure[Any]]] = {
    GreyPlan: grey_pass,
    WhitePlan: white_balance,
    TonePlan: tone,
    WarmUpPlan: warm_up,
    RoomPlan: room_light,
    ChoicePlan: choose,
    LevelsPlan: levels,
    PutBackPlan: put_back,
    EvennessPlan: evenness,
}
_OUT: Mapping[type, Callable[[Any], dict[str, Any]]] = {
    GreyPlan: plans.grey_plan_out,
    WhitePlan: plans.white_plan_out,
    TonePlan: plans.tone_plan_out,
    WarmUpPlan: plans.warm_up_plan_out,
    RoomPlan: plans.room_plan_out,
    ChoicePlan: plans.choice_plan_out,
    LevelsPlan: plans.levels_plan_out,
    PutBackPlan: plans.put_back_plan_out,
    EvennessPlan: plans.evenness_plan_out,
}
_IN: Mapping[PassKind, Callable[[dict[str, Any]], Plan]] = {
    PassKind.AS_FOUND: plans.grey_plan_in,
    PassKind.PROOF: plans.grey_plan_in,
    PassKind.WHITE: plans.white_plan_in,
    PassKind.TONE: plans.tone_plan_in,
    PassKind.WARM_UP: plans.warm_up_plan_in,
    PassKind.ROOM: plans.room_plan_in,
    PassKind.CHOICE: plans.choice_plan_in,
    PassKind.MODE: plans.choice_plan_in,
    PassKind.GAMMA: plans.choice_plan_in,
    PassKind.LEVELS: plans.levels_plan_in,
    PassKind.PUT_BACK: plans.put_back_plan_in,
    PassKind.EVENNESS: plans.evenness_plan_in,
}


@dataclass(frozen=True)
class PreparedPass:
    """A pass that has its row in the logbook and can be run, or run again from its record."""

    pass_id: int
    kind: PassKind
    plan: Plan

    @property
    def procedure(self) -> Callable[[], Procedure[Any]]:
        return lambda: _PROCEDURES[type(self.plan)](self.plan)


def begin(logbook: Logbook, visit: VisitRecord, kind: PassKind) -> PreparedPass:
    """Plan a pass and begin it. Raises NotReady with a sentence."""
    return _begun(logbook, visit, kind, _planned(logbook, visit, kind))


def begin_put_back(logbook: Logbook, visit: VisitRecord, moment: Moment) -> PreparedPass:
    """Begin turning everything back to how it stood at a moment. Raises NotReady where it stands so."""
    now = logbook.ledger.at(visit.id)
    off = [
        control
        for control in logbook.controls(visit.screen_id)
        if control.role in now and now[control.role] != moment.settings.get(control.role, now[control.role])
    ]
    if not off:
        raise NotReady(f"Everything stands as it did {moment.name}.")
    plan = PutBackPlan(
        tuple(control.state(now[control.role]) for control in off),
        tuple(moment.settings[control.role] for control in off),
        moment.name,
    )
    return _begun(logbook, visit, PassKind.PUT_BACK, plan)


def _begun(logbook: Logbook, visit: VisitRecord, kind: PassKind, plan: Plan) -> PreparedPass:
    return PreparedPass(
        logbook.begin_pass(visit.id, kind, _OUT[type(plan)](plan), asdict(visit.bench)), kind, plan
    )


def _planned(logbook: Logbook, visit: VisitRecord, kind: PassKind) -> Plan:
    match kind:
        case PassKind.WHITE:
            return _white_plan(logbook, visit)
        case PassKind.TONE:
            return _tone_plan(logbook, visit)
        case PassKind.WARM_UP:
            return WarmUpPlan(visit.bench.format)
        case PassKind.EVENNESS:
            return EvennessPlan(visit.bench.format)
        case PassKind.ROOM:
            return RoomPlan(visit.bench.format)
        case PassKind.CHOICE:
            return _choice_plan(logbook, visit, Role.TEMPERATURE)
        case PassKind.GAMMA:
            return _choice_plan(logbook, visit, Role.GAMMA)
        case PassKind.MODE:
            _require_untouched(logbook, visit)
            return _choice_plan(logbook, visit, Role.PICTURE_MODE)
        case PassKind.LEVELS:
            return _levels_plan(logbook, visit)
    return grey_plan(visit, kind)


def _require_untouched(logbook: Logbook, visit: VisitRecord) -> None:
    """Another mode has settings of its own: nothing may have been done to this one yet."""
    if logbook.latest_done(visit.id, PassKind.AS_FOUND):
        raise NotReady("Grey as found was read in this picture mode; begin another visit for another mode.")
    owed = [debt.name for debt in logbook.ledger.debts(visit.id) if debt.answer is None]
    if owed:
        raise NotReady(
            f"{', '.join(owed)} switched off in this picture mode. Put it back first (Ctrl+K), so that nothing "
            "is left behind in a mode that is not used."
        )


def _choice_plan(logbook: Logbook, visit: VisitRecord, role: Role) -> ChoicePlan:
    control = next((c for c in logbook.controls(visit.screen_id) if c.role is role), None)
    values = logbook.ledger.at(visit.id)
    if control is None or role not in values:
        raise NotReady(f"Note the {ROLE_WORDS[role]} and where it stands at Arrive first.")
    settings = tuple(range(control.lowest, control.highest + 1, control.step))
    if not 2 <= len(settings) <= _MOST_PRESETS:
        raise NotReady(f"{control.name} has {len(settings)} settings: it is no preset to choose among.")
    return ChoicePlan(
        target_named(visit.target),
        visit.bench.format,
        control.state(values[role]),
        settings,
        tuple(control.shown(setting) for setting in settings),
        primaries=role is Role.PICTURE_MODE,
        once=role is Role.PICTURE_MODE,
        tone=role is Role.GAMMA,
    )


def _levels_plan(logbook: Logbook, visit: VisitRecord) -> LevelsPlan:
    values = logbook.ledger.at(visit.id)
    known = [c for c in logbook.controls(visit.screen_id) if c.role in LEVEL_ROLES and c.role in values]
    if not known:
        raise NotReady(
            "Levels need light output, contrast, black level, colour or tint as they stand: note them at Arrive."
        )
    return LevelsPlan(
        target_named(visit.target),
        visit.bench.format,
        tuple(control.state(values[control.role]) for control in known),
        visit.light or usual_light(visit.technology),
        windows=visit.bench.automatic and visit.bench.window < 1.0,
        fourth=has_fourth(visit.technology),
        board=visit.bench.automatic,
        dark_foot=dark_foot(visit.technology),
    )


def grey_plan(visit: VisitRecord, kind: PassKind) -> GreyPlan:
    """The grey pass that a visit's choices mean."""
    bench = visit.bench
    return GreyPlan(
        target_named(visit.target),
        bench.format,
        visit.levels,
        repeat_anchors=bench.automatic,
        anchor_every=bench.anchor_every if bench.automatic else 0,
        first_look=bench.automatic and kind is PassKind.AS_FOUND,
    )


def _white_plan(logbook: Logbook, visit: VisitRecord) -> WhitePlan:
    record = logbook.latest_done(visit.id, PassKind.AS_FOUND)
    found = grey_result(logbook, record) if record else None
    if record is None or found is None:
        raise NotReady("White needs the pass of the station As found first.")
    controls = {control.role: control for control in logbook.controls(visit.screen_id)}
    values = logbook.ledger.at(visit.id)
    missing = [ROLE_WORDS[role] for role in TWO_POINT if role not in controls or role not in values]
    if missing:
        raise NotReady(f"White needs the settings of {', '.join(missing)} as they stand: note them at Arrive.")
    states = tuple(controls[role].state(values[role]) for role in TWO_POINT)
    looks = 3 if visit.bench.automatic else 1
    white, black = found.white, found.black
    set_levels = logbook.latest_done(visit.id, PassKind.LEVELS)
    after = levels_result(logbook, set_levels) if set_levels is not None and set_levels.id > record.id else None
    if after is not None and after.white is not None and after.black is not None:
        # What was found is no longer what is there.
        white, black = float(after.white[1]), float(after.black[1])
    return WhitePlan(
        target_named(visit.target),
        visit.bench.format,
        states,
        white,
        black,
        *visit.pair,
        stop_at=visit.stop_at,
        looks=looks,
        technology=visit.technology,
        by_hand=visit.bench.link == "by hand",
        formula=visit.formula,
    )


def _tone_plan(logbook: Logbook, visit: VisitRecord) -> TonePlan:
    record = logbook.latest_done(visit.id, PassKind.WHITE)
    state = white_result(logbook, record)[1] if record else None
    if state is None:
        raise NotReady("Tone follows White: what the biases do, and the light of white, are learnt there.")
    values = logbook.ledger.at(visit.id)
    noted = [c for c in logbook.controls(visit.screen_id) if c.role in values]
    points = tuple(control.state(values[control.role]) for control in noted if point_of(control.role))
    biases = {control.role: control.state(values[control.role]) for control in noted if control.role in BIASES}
    bench = visit.bench
    percents = ladder_of(points, whole=bench.automatic) if points else ()
    return TonePlan(
        target_named(visit.target),
        bench.format,
        float(state.xyz[0, 1]),
        tuple(biases[role] for role in BIASES) if len(biases) == len(BIASES) else (),
        bias_light(state.responses.bias_light, state.percents[2] / 100.0),
        points,
        percents,
        # A person who types readings would type the same again, and cannot wait as long as near black needs.
        near_black=bench.automatic,
        by_hand=bench.link == "by hand",
        trip_seconds=logbook.trip_seconds(visit.id) or (TRIP_BY_HAND if bench.link == "by hand" else TRIP_BY_LINK),
        stop_at=visit.stop_at,
    )


def go_on(record: PassRecord) -> PreparedPass:
    """An interrupted pass, ready to run from its record."""
    return PreparedPass(record.id, record.kind, _IN[record.kind](record.plan))


def carry_out(
    logbook: Logbook,
    prepared: PreparedPass,
    bench: Bench,
    operator: Operator,
    listener: Listener | None = None,
    on_runner: Callable[[Runner], None] | None = None,
    care: Care = CARE,
) -> Outcome:
    """Run a pass to its end and mark it done.

    What stops it (Abandoned, InstrumentError) leaves it resumable; WrongSignal sets it aside, as its
    readings are of another signal than the plan's.
    """
    runner = Runner(bench, logbook.journal(prepared.pass_id, bench.clock), operator, listener, care)
    if on_runner is not None:
        on_runner(runner)
    try:
        value = cast(Outcome, runner.run(prepared.procedure()))
    except WrongSignal as error:
        logbook.end_pass(prepared.pass_id, PassState.SET_ASIDE, str(error))
        raise
    if prepared.kind is PassKind.MODE and isinstance(value, ChoiceState):
        _work_in(logbook, prepared, value, bench)
    words = value.words if isinstance(value, _WORDED) else ""
    logbook.end_pass(prepared.pass_id, PassState.DONE, words)
    return value


def _work_in(logbook: Logbook, prepared: PreparedPass, chosen: ChoiceState, bench: Bench) -> None:
    """Go on in the mode that was chosen; by link its settings are noted as found, otherwise a person does it."""
    visit = logbook.visit(logbook.visit_of_pass(prepared.pass_id))
    assert isinstance(prepared.plan, ChoicePlan)
    if chosen.control.value == prepared.plan.control.value:
        return
    names = dict(zip(prepared.plan.values, prepared.plan.names, strict=True))
    logbook.work_in(visit.id, names[chosen.control.value])
    ids = {control.role: control.id for control in logbook.controls(visit.screen_id)}
    told = bench.link.values() if bench.link is not None else {}
    found = {Role(role): value for role, value in told.items() if role in ids} | {
        Role.PICTURE_MODE: chosen.control.value
    }
    logbook.ledger.note(visit.id, {ids[role]: value for role, value in found.items()}, AS_FOUND)


def grey_result(logbook: Logbook, record: PassRecord) -> GreyPass | None:
    """What a grey pass found, worked out again from its readings; None while it is unfinished."""
    if record.kind not in GREY_PASSES:
        raise ValueError(f"a pass {record.kind.value} is no grey pass")
    return cast(GreyPass | None, _again(logbook, record)[0])


def white_result(logbook: Logbook, record: PassRecord) -> tuple[WhiteResult | None, WhiteState | None]:
    """How a white pass ended, and its last state, worked out again from its record."""
    value, progress = _again(logbook, record)
    if value is not None:
        return value, value.state
    return None, progress if isinstance(progress, WhiteState) else None


def tone_result(logbook: Logbook, record: PassRecord) -> ToneState | None:
    """Where a pass of tone stands, or how it ended."""
    value, progress = _again(logbook, record)
    if value is not None:
        return cast(ToneState, value)
    return progress if isinstance(progress, ToneState) else None


def levels_result(logbook: Logbook, record: PassRecord) -> LevelsState | None:
    """Where a pass of levels stands, or how it ended."""
    value, progress = _again(logbook, record)
    if value is not None:
        return cast(LevelsState, value)
    return progress if isinstance(progress, LevelsState) else None


def prepared_result(logbook: Logbook, record: PassRecord) -> Warmth | RoomLight | ChoiceState | Evenness | None:
    """What a pass of Prepare, or of uniformity, found; None while it is unfinished."""
    return cast(Warmth | RoomLight | ChoiceState | Evenness | None, _again(logbook, record)[0])


def _again(logbook: Logbook, record: PassRecord) -> tuple[Any, object]:
    known: tuple[Any, object] | None = logbook.understood.get(record.id)
    if known is None:
        known = replay(go_on(record).procedure(), logbook.recorded(record.id))
        if record.state is PassState.DONE:
            logbook.understood[record.id] = known
    return known
