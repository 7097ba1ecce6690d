"""Near black: light from 7 % down, read slowly, and brought in with the three biases together."""

from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.moves import Change, ControlState, Move
from aequitone.advice.points.foot import GOOD_LIGHT, NEAR_BLACK, Foot, Shadows, off, wanted_light
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.insisting import insist
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import (
    Interrupt,
    Note,
    Procedure,
    Progress,
    Purpose,
    PutBack,
    Read,
    ReadAgain,
    Reading,
    Show,
    StopHere,
    Turn,
)
from aequitone.reference import Target
from aequitone.signal import SignalFormat, grey_patch

# Of the wanted light, how exactly a level is read; and how long it may take.
_EXACT, _MOST_SECONDS = 0.04, 6.0
_MOST_TRIPS = 3
_SIGMAS = 3.0
_TUBE = "crt"
# Of white's light: what black is taken for before it was read, and a precision that nobody needs to better.
_UNKNOWN_BLACK, _LEAST = 3e-4, 1e-6


@dataclass(frozen=True)
class NearBlackPlan:
    """What is wanted, and the biases as they stand."""

    target: Target
    format: SignalFormat
    biases: tuple[ControlState, ...]
    """Red, green and blue; none where they are not to be turned."""
    white: float
    """Luminance of 100 %, cd/m²."""
    bias_light: float = 0.0
    """What a step of the biases does to light at 30 %, in logarithm; 0 for not known: nothing is turned then."""
    technology: str = ""
    """Of the screen: whether its biases may be turned here."""


@dataclass(frozen=True)
class NearBlack:
    """Light near black as it stands, cd/m²."""

    percents: tuple[float, ...]
    xyz: Array
    """(n, 3), as read."""
    sd: Array
    wanted: tuple[float, ...]
    black: float
    biases: tuple[ControlState, ...]
    trips: int = 0

    @property
    def light(self) -> Array:
        return np.asarray(self.xyz[:, 1])

    @property
    def right(self) -> tuple[bool, ...]:
        """Which are right, within a tenth or the meter's noise."""
        away = off(np.array(self.wanted), self.light, self.sd[:, 1])
        return tuple(bool(each) for each in away <= GOOD_LIGHT)

    @property
    def words(self) -> str:
        """What there is to say of it."""
        wrong = [f"{p:g} %" for p, right in zip(self.percents, self.right, strict=True) if not right]
        if not wrong:
            return "Near black is right, within a tenth or the meter's noise."
        return f"Near black, light at {', '.join(wrong)} is off by more than a tenth."


def near_black(plan: NearBlackPlan) -> Procedure[NearBlack | None]:
    """Read near black, and turn the biases together where that brings it in.

    Returns a NearBlack; None where it was stopped before the first look was complete. Understands PutBack (the
    biases go back to where they were), ReadAgain and StopHere.
    """
    # A tube's biases are its guns': what they bring in near black they undo at every level that White has set.
    turned = plan.biases and plan.bias_light > 0.0 and plan.technology != _TUBE
    foot = Foot.prior(plan.bias_light) if turned else None
    state: NearBlack | None = None
    wish: Interrupt | None = None
    while True:
        try:
            if wish is not None:
                thrown, wish = wish, None
                raise thrown
            if state is None:
                state, _ = yield from _look(plan, plan.biases, 0)
            yield Progress(state.trips, state.trips, state)
            steps = _next(plan, foot, state)
            if foot is None or steps == 0:
                return state
            yield Turn(_move(state.biases, steps))
            before = state
            state, wish = yield from _look(plan, _stand(before.biases, steps), before.trips + 1, insist_on_it=True)
            then, now = _shadows(plan, before), _shadows(plan, state)
            foot = foot.learn(steps, then.light - then.leak, now.light - now.leak, now.sd, plan.white)
        except ReadAgain:
            if state is not None:
                state, wish = yield from _look(plan, state.biases, state.trips, insist_on_it=True)
        except PutBack:
            if state is not None:
                return (yield from _put_back(plan, state))
        except StopHere:
            return state


def _put_back(plan: NearBlackPlan, state: NearBlack) -> Procedure[NearBlack]:
    if state.biases == plan.biases:
        yield Note("There is no move to put back.")
        return state
    pairs = zip(state.biases, plan.biases, strict=True)
    changes = tuple(Change(now.role, now.name, now.value, was.value) for now, was in pairs)
    yield from insist(Turn(Move(changes, undoes=True)))
    there, _ = yield from _look(plan, plan.biases, state.trips + 1, insist_on_it=True)
    return there


def _next(plan: NearBlackPlan, foot: Foot | None, state: NearBlack) -> int:
    if foot is None or state.trips >= _MOST_TRIPS:
        return 0
    low = max(-((c.value - c.lowest) // c.step) for c in state.biases)
    high = min((c.highest - c.value) // c.step for c in state.biases)
    moved = (state.biases[0].value - plan.biases[0].value) // plan.biases[0].step
    return _shadows(plan, state).best_steps(foot, (low, high), moved)


def _shadows(plan: NearBlackPlan, state: NearBlack) -> Shadows:
    return Shadows(np.array(state.wanted), state.light, state.sd[:, 1], state.black, plan.white)


def _move(biases: tuple[ControlState, ...], steps: int) -> Move:
    return Move(tuple(Change(c.role, c.name, c.value, c.value + steps * c.step) for c in biases))


def _stand(biases: tuple[ControlState, ...], steps: int) -> tuple[ControlState, ...]:
    return tuple(replace(c, value=c.value + steps * c.step) for c in biases)


def _look(
    plan: NearBlackPlan, biases: tuple[ControlState, ...], trips: int, *, insist_on_it: bool = False
) -> Procedure[tuple[NearBlack, Interrupt | None]]:
    """Read black and every level. What is insisted on goes with a turn: a wish that comes meanwhile waits."""
    wish: Interrupt | None = None
    readings: list[Reading] = []
    wanted = np.full(len(NEAR_BLACK), plan.white * _UNKNOWN_BLACK)
    while len(readings) <= len(NEAR_BLACK):
        at = len(readings) - 1
        try:
            percent, light = (NEAR_BLACK[at], float(wanted[at])) if readings else (0.0, float(wanted[0]))
            readings.append((yield from _read(plan, percent, light)))
        except Interrupt as interrupt:
            if not insist_on_it:
                raise
            wish = interrupt
        if len(readings) == 1:
            wanted = wanted_light(plan.target, np.array(NEAR_BLACK), plan.white, _seen_black(readings[0]))
    black, levels = readings[0], readings[1:]
    state = NearBlack(
        NEAR_BLACK,
        np.array([reading.xyz for reading in levels]),
        np.array([reading.sd for reading in levels]),
        tuple(float(value) for value in wanted),
        _seen_black(black),
        biases,
        trips,
    )
    return state, wish


def _seen_black(reading: Reading) -> float:
    """Luminance of 0 %, where the meter can tell it from nothing."""
    return reading.Y if _SIGMAS * reading.sd_Y < reading.Y else 0.0


def _read(plan: NearBlackPlan, percent: float, wanted: float) -> Procedure[Reading]:
    patch = grey_patch(percent, plan.format)
    yield Show(patch)
    policy = ReadPolicy(max(_EXACT * wanted, plan.white * _LEAST), wanted, _MOST_SECONDS)
    reading: Reading = yield Read(patch, policy, Purpose.ADJUST)
    return reading
