"""The presets that a memory can start from, compared by measuring: temperature, gamma, gamut, mode."""

from dataclasses import replace
from functools import partial

from aequitone.advice.presets import LEVELS
from aequitone.advice.roles import ROLE_WORDS, Role
from aequitone.instruments.ports import Bench
from aequitone.logbook import Logbook
from aequitone.logbook.settings.ledger import FOUND_REASON
from aequitone.passes.base import NotNotedError, NotReadyError, PassType
from aequitone.passes.grey import AS_FOUND
from aequitone.passes.snapshot import Snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.known_level import KnownLevel
from aequitone.procedures.policy import policy_for
from aequitone.procedures.preparation.presets import ChoicePlan, ChoiceState, choose, recovered
from aequitone.reference import target_named

# More settings than that are a scale, not presets.
_MOST_PRESETS = 12
_WHITE = 100.0


def _plan(snapshot: Snapshot, role: Role) -> ChoicePlan:
    control = next((c for c in snapshot.controls if c.role == role), None)
    values = snapshot.settings
    if control is None or role not in values:
        raise NotNotedError(f"Enter the {ROLE_WORDS[role]} and its setting at Arrive first.")
    settings = tuple(range(control.lowest, control.highest + 1, control.step))
    if not 2 <= len(settings) <= _MOST_PRESETS:
        raise NotReadyError(f"{control.name} has {len(settings)} settings: it is not a preset to choose from.")
    return ChoicePlan(
        target_named(snapshot.visit.target),
        snapshot.visit.bench.format,
        control.state(values[role]),
        settings,
        tuple(control.shown(setting) for setting in settings),
        primaries=role == Role.PICTURE_MODE,
        once=role == Role.PICTURE_MODE,
        tone=role == Role.GAMMA,
        colour=role == Role.GAMUT,
        by_hand=not snapshot.visit.bench.by_link,
        known=_known(snapshot) if role == Role.GAMMA else (),
    )


def _known(snapshot: Snapshot) -> tuple[KnownLevel, ...]:
    """The greys of the colour temperature that is on, where its choice is the last pass, and a link turned it."""
    chosen = snapshot.result(TEMPERATURE)
    if chosen is None or not (snapshot.visit.bench.by_link and snapshot.ended_with(TEMPERATURE)):
        return ()
    track = next((judged.track for judged in chosen.order if judged.track.value == chosen.control.value), None)
    if track is None or set(track.percents) != set(LEVELS):
        return ()
    return tuple(map(KnownLevel, map(float, track.percents), track.xyz, track.sd))


def _mode_plan(snapshot: Snapshot) -> ChoicePlan:
    """Plan the choice of a mode, which has settings of its own: nothing may have been done to this one yet."""
    if snapshot.done(AS_FOUND):
        raise NotReadyError("Grey as found was measured in this picture mode; add a job for another mode.")
    owed = [debt.name for debt in snapshot.debts if debt.answer is None]
    if owed:
        raise NotReadyError(
            f"{', '.join(owed)} switched off in this picture mode. Put the settings back first, so that nothing "
            "stays changed in a mode that is not used."
        )
    plan, visit = _plan(snapshot, Role.PICTURE_MODE), snapshot.visit
    # A memory has one job: this one does not move to where another is.
    taken = {job.memory for job in snapshot.jobs if job.input == visit.input and job.id != visit.job_id}
    free = [
        (value, name)
        for value, name in zip(plan.values, plan.names, strict=True)
        if name not in taken or value == plan.control.value
    ]
    if len(free) < 2:
        raise NotReadyError("Every other picture mode has a job of its own on this visit.")
    values, names = zip(*free, strict=True)
    return replace(plan, values=values, names=names)


def _seconds(snapshot: Snapshot, pace: Pace, *, role: Role) -> float:
    control = next((c for c in snapshot.controls if c.role == role), None)
    if control is None or role not in snapshot.settings:
        return 0.0
    settings = (control.highest - control.lowest) // control.step + 1
    if not 2 <= settings <= _MOST_PRESETS:
        return 0.0
    readings = _plan(snapshot, role).readings
    return settings * pace.trip + readings * pace.reading(policy_for(_WHITE / 4.0, _WHITE))


def _work_in(logbook: Logbook, visit_id: int, plan: ChoicePlan, chosen: ChoiceState, bench: Bench) -> None:
    """Go on in the mode that was chosen; by link its settings are noted as found, otherwise a person does it."""
    visit = logbook.visit(visit_id)
    if chosen.control.value == plan.control.value:
        return
    names = dict(zip(plan.values, plan.names, strict=True))
    logbook.work_in(visit.id, names[chosen.control.value])
    ids = {control.role.key: control.id for control in logbook.controls(visit.screen_id)}
    told = bench.link.values() if bench.link is not None else {}
    found = {**told, Role.PICTURE_MODE.key: chosen.control.value}
    logbook.ledger.note(visit.id, {ids[key]: value for key, value in found.items() if key in ids}, FOUND_REASON)


def _preset(key: str, title: str, role: Role, reason: str, *, sdr_only: bool) -> PassType[ChoicePlan, ChoiceState]:
    return PassType(
        key=key,
        title=title,
        plan=ChoicePlan,
        result=ChoiceState,
        procedure=choose,
        make_plan=partial(_plan, role=role),
        seconds=partial(_seconds, role=role),
        words=lambda result: result.words,
        recover=recovered,
        reason=reason,
        sdr_only=sdr_only,
    )


TEMPERATURE = _preset("choice", "Colour temperature preset", Role.TEMPERATURE, "choice of preset", sdr_only=False)
GAMMA = _preset("gamma preset", "Gamma preset", Role.GAMMA, "choice of gamma preset", sdr_only=True)
GAMUT = _preset("gamut preset", "Gamut preset", Role.GAMUT, "choice of gamut preset", sdr_only=True)
MODE = PassType(
    key="mode",
    title="Picture mode",
    plan=ChoicePlan,
    result=ChoiceState,
    procedure=choose,
    make_plan=_mode_plan,
    seconds=partial(_seconds, role=Role.PICTURE_MODE),
    words=lambda result: result.words,
    recover=recovered,
    reason="choice of mode",
    finish=_work_in,
)
