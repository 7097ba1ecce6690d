"""Multi-point: read the ladder, say what turning its levels promises, and turn them, several at once or one."""

from contextlib import suppress
from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.points.words import ended_words, noise_words, promise_words, ramp_words, undone_words
from aequitone.procedures.steps import Note, Procedure, Progress, PutBack, ReadAgain, StopHere
from aequitone.procedures.tone.level_by_level import level_by_level
from aequitone.procedures.tone.multi_judging import is_noise
from aequitone.procedures.tone.multi_plan import TRIPS, MultiResult
from aequitone.procedures.tone.multi_session import MultiPointSession, read_ladder
from aequitone.procedures.tone.whole_ladder import proposed, whole_ladder

# ΔE 2000, on all levels together, that a minute of turning and reading must bring to be worth it.
_WORTH_A_MINUTE = 0.5
# To find a control in a menu that is open and to turn it, by hand, and what comes of a hand that slips.
_CONTROL_SECONDS = 5.0
# Trips that a level by itself usually takes, its repairs and ways back counted (benchmarks/typed.py).
_TRIPS_A_LEVEL = 1.6
# Of a ladder read once, with a display's noise, no more is promised than about half of what then comes.
_LESS_THAN_COMES = 0.5
# A cast at 100 % that two points should have taken out: to bend every level to it would ruin the ramp.
_WHITES_WORK = 3.0


def as_found(session: MultiPointSession) -> Procedure[None]:
    """Read black and the whole ladder, before anything is turned."""
    yield from read_ladder(session)
    session.began = session.state()


def multi_point(session: MultiPointSession) -> Procedure[MultiResult]:
    """Bring every level of a ladder that was read to the target in light and cast; returns a MultiResult.

    A level at a time where readings are typed, several in a trip otherwise. Understands PutBack (the last move is
    undone), ReadAgain and StopHere.
    """
    state = session.state()
    session.found = session.best = session.ladder
    by_turning = _WORTH_A_MINUTE * _CONTROL_SECONDS / 60.0 if session.plan.by_hand else 0.0
    session.planner = replace(session.planner, least_gain=_least_gain(session), least_of_a_control=by_turning)
    if state.de2000[0] > _WHITES_WORK * session.planner.unit:
        return MultiResult(undone_words(state.de2000[0]), state)
    if is_noise(session.planner, session.tracked):
        return MultiResult(noise_words(state.mean), state)
    promised = _promised(session)
    try:
        # Nothing was turned yet: there is nothing to put back.
        with suppress(PutBack, ReadAgain):
            yield Note(promised.words)
        if promised.pays:
            yield from (level_by_level(session) if _one_at_a_time(session) else whole_ladder(session))
    except StopHere:
        pass
    state = session.state()
    yield Progress(len(session.trips), len(session.trips), state)
    return MultiResult(ladder_words(session), state)


def ladder_words(session: MultiPointSession) -> str:
    """How the ladder stands, after what was read last."""
    now, ramp = session.state(), ramp_words(session.effect, session.grid)
    began, trips = session.began or now, len(session.trips)
    return ended_words(began.mean, now.mean, now.mean_sd, now.worst, trips, ramp)


def _one_at_a_time(session: MultiPointSession) -> bool:
    """Whether a level is turned at a time: its reading alone is then typed again, and not the whole ladder."""
    return session.plan.by_hand and session.plan.typed


def _least_gain(session: MultiPointSession) -> float:
    """What a trip must bring here, by what a trip and a reading take."""
    readings = 1 if _one_at_a_time(session) else len(session.percents)
    return _WORTH_A_MINUTE * (session.plan.trip_seconds + readings * float(np.median(session.took))) / 60.0


@dataclass(frozen=True)
class _Promised:
    """Whether turning levels is worth a trip, and what the ladder should come to, in words."""

    pays: bool
    words: str


def _promised(session: MultiPointSession) -> _Promised:
    planner, tracked, effect, grid = session.planner, session.tracked, session.effect, session.grid
    again, after, levels = planner.promise(tracked, effect, grid, session.open)
    ladder, alone = len(session.percents), _one_at_a_time(session)
    trips = round(_TRIPS_A_LEVEL * levels) if alone else TRIPS
    readings = trips + ladder if alone else trips * ladder
    minutes = (trips * session.plan.trip_seconds + readings * float(np.median(session.took))) / 60.0
    worth = (again - after) / planner.unit * ladder > _LESS_THAN_COMES * _WORTH_A_MINUTE * minutes
    pays = worth if alone else proposed(session) is not None
    words = promise_words(session.state().mean, again, after, levels if pays else 0, trips, minutes)
    return _Promised(pays, words)
