"""The shadows after white balance: what biases that are set at the dark level do below it."""

from dataclasses import replace

import numpy as np

from aequitone.advice.moves import ControlState, trip_between
from aequitone.figures import ratio_words
from aequitone.procedures.grey.one_level import read_error
from aequitone.procedures.policy import LAB_SLOPE_BLACK, seen_black, target_policy
from aequitone.procedures.steps import Interrupt, Note, Procedure, Purpose, Turn
from aequitone.procedures.uninterrupted import insist, insist_on_reading
from aequitone.procedures.white.session import Trip, WhiteSession, look
from aequitone.signal import grey_patch

# The biases are at their own end of the six.
_BIASES = 3
# ΔE 2000 that the shadows may be worse than as found, and that is not worth a trip in any case.
_WORSE, _SEEN = 1.0, 2.0
_MOST_TRIPS = 2
# L* that black may come up by, and the share of contrast that is left, before it is said.
_SEEN_OF_BLACK, _KEPT = 0.3, 0.8


def keep_shadows(session: WhiteSession) -> Procedure[None]:
    """Read the level that is watched, and take the biases half way back, twice at most, where that is better.

    White balance reads no level below its dark one. On a screen whose biases act on light, or where one of them
    does nothing, grey can be right at 30 % and far off at 10 %. What decides is the worst of all that was read.
    """
    plan = session.plan
    if plan.watched is None:
        return
    percent, found = plan.watched
    yield from _read_black(session)
    shadows = yield from _read(session, percent)
    if shadows <= max(_SEEN, found + _WORSE):
        return
    yield Note(
        f"At {percent:g} % ΔE is {shadows:.1f} now and was {found:.1f} as found: the biases go half way back, to "
        "see whether that is better on the whole."
    )
    for _ in range(_MOST_TRIPS):
        stood, worst = session.controls, _worst(session, shadows)
        half = tuple(
            _half_way(now, there) if i >= _BIASES else now
            for i, (now, there) in enumerate(zip(stood, plan.controls, strict=True))
        )
        if half == stood:
            return
        yield from _turned(session, half)
        yield from _read_black(session)
        fresh = yield from _read(session, percent)
        if _worst(session, fresh) >= worst:
            yield Note("That is no better on the whole, so the biases stay where they were.")
            yield from _turned(session, stood)
            yield from _read_black(session)
            return
        shadows = fresh


def contrast_words(session: WhiteSession) -> str:
    """What contrast has fallen to since biases were turned, where that can be seen; nothing where it has not."""
    plan, black = session.plan, session.mover.black
    if session.controls[_BIASES:] == plan.controls[_BIASES:] or min(black, plan.black) <= 0.0:
        return ""
    assert session.seen is not None
    white = float(session.seen.xyz[0, 1])
    before, now = plan.white / plan.black, white / black
    lifted = LAB_SLOPE_BLACK * (1.0 / now - 1.0 / before)
    if lifted < _SEEN_OF_BLACK or now > _KEPT * before:
        return ""
    fell = f"Contrast fell from {ratio_words(before)} to {ratio_words(now)}"
    return f"{fell}, by biases that lift black and gains that take light."


def _worst(session: WhiteSession, shadows: float) -> float:
    assert session.seen is not None
    return max(session.mover.worst(session.seen), shadows)


def _turned(session: WhiteSession, to: tuple[ControlState, ...]) -> Procedure[None]:
    """Turn the controls there, and read the levels of white balance again."""
    assert session.seen is not None
    move, before = replace(trip_between(session.controls, to), undoes=True), session.mover.worst(session.seen)
    yield from insist(Turn(move))
    session.controls, session.looks = to, 0
    while session.looks == 0:
        try:
            yield from look(session)
        except Interrupt:
            # The round of readings that goes with a turn is not given up for a wish.
            continue
    session.trips.append(
        Trip(move, before, session.mover.worst(session.seen), session.mover.worst_sd(session.seen))
    )


def _read(session: WhiteSession, percent: float) -> Procedure[float]:
    """Read the watched level; returns its ΔE."""
    assert session.seen is not None
    plan, white = session.plan, float(session.seen.xyz[0, 1])
    return (yield from read_error(percent, plan.target, plan.format, white, session.mover.black))


def _read_black(session: WhiteSession) -> Procedure[None]:
    """Read 0 % where biases were turned, on which the target may stand: they can lift black, or sink it."""
    plan = session.plan
    if session.controls[_BIASES:] == plan.controls[_BIASES:]:
        return
    assert session.seen is not None
    policy = target_policy(plan.target, plan.black, float(session.seen.xyz[0, 1]))
    reading = yield from insist_on_reading(grey_patch(0.0, plan.format), policy, Purpose.ADJUST)
    session.mover = replace(session.mover, black=seen_black(reading.Y, reading.sd_Y))


def _half_way(now: ControlState, there: ControlState) -> ControlState:
    steps = np.trunc((there.value - now.value) / now.step / 2.0)
    return replace(now, value=now.value + int(steps) * now.step)
