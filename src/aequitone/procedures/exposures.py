"""One reading: exposures until it is as exact as was wanted, and answers that do not belong left out."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.procedures.noise import NoiseModel
from aequitone.procedures.policy import ReadPolicy

SHORTEST, LONGEST = 0.2, 4.0
# A light that nobody knows yet is first looked at for this long.
_FIRST_LOOK = 0.5
# Two answers further apart than this many standard deviations of their difference do not agree ...
_SIGMAS = 5.0
# ... unless they are as near as this share of the light, which is no outlier whatever the noise.
_SAME = 0.002
# Within this of what was wanted is good enough.
_ENOUGH = 1.05
_MOST_ANSWERS = 9
# Two answers of three may be wrong by chance: so many are taken before light is called unsteady for want of time.
_FEWEST_ANSWERS = 5
# Light that wanders by less than this is still a reading, with the wandering as its doubt.
_WANDERING = 0.05
# Standard deviation of normal noise over its median absolute deviation.
_NORMAL = 1.4826
# Answers that follow their order in time this closely have a course, and are no noise.
_IN_ORDER = 0.8

Measure = Callable[[float], Array]
"""Integrates for so many seconds; XYZ in cd/m², shape (3,)."""


class UnsteadyError(Exception):
    """No two answers agree: the light changes, or the meter cannot be believed."""


@dataclass(frozen=True)
class Looked:
    """A reading: the weighted mean XYZ in cd/m² and its standard deviation, both of shape (3,)."""

    xyz: Array
    sd: Array
    repeats: int
    seconds: float
    """Integration of each repeat, on average."""
    scatter: float
    rejected: int


def exposure(noise: NoiseModel, light: float, information: float, luminance: float | None = None) -> float:
    """Seconds that add `information`, 1/(cd/m²)², about X, Y or Z in cd/m²; between the shortest and longest.

    `luminance`: Y, by which the meter's noise is known, where `light` is not Y itself.
    """
    if information <= 0.0:
        return SHORTEST
    factor, sheet = noise.factor(light if luminance is None else luminance), noise.sheet
    counted = factor**2 * (sheet.shot**2 * max(light, 0.0) + sheet.floor**2)
    read = (factor * sheet.read) ** 2
    # Variance v = counted / s + read / s²; solved for s.
    variance = 1.0 / information
    seconds = (counted + math.sqrt(counted**2 + 4.0 * variance * read)) / (2.0 * variance)
    return min(max(seconds, SHORTEST), LONGEST)


def expected_seconds(policy: ReadPolicy, noise: NoiseModel) -> float:
    """Integration in all that a policy is likely to take, its two exposures at least."""
    xyz = _expected(policy)
    times: list[float] = []
    while sum(times) < policy.most_seconds:
        have = _information(noise, [xyz] * len(times), times)
        if len(times) >= 2 and _enough(policy, have):
            break
        times.append(_next_exposure(policy, noise, xyz, have, len(times)))
    return sum(times)


def look(
    measure: Measure, policy: ReadPolicy, noise: NoiseModel, *, repeats: bool = True, doubt: bool = True
) -> Looked:
    """Take exposures until the policy is met. `repeats` False: one answer, as a person types it.

    `doubt` False takes every answer as it comes. Light that wanders gives its middle with that doubt.
    Raises UnsteadyError where no two of nine answers agree and they lie far apart.
    """
    answers: list[Array] = []
    times: list[float] = []
    xyz = None if policy.expected is None else _expected(policy)
    while True:
        kept = _agreeing(answers, times, noise) if doubt else list(range(len(answers)))
        have = _information(noise, [answers[i] for i in kept], [times[i] for i in kept])
        enough = _enough(policy, have) or sum(times) >= policy.most_seconds
        if kept and (not repeats or (len(kept) >= 2 and enough)):
            return _put_together(answers, times, kept, noise)
        spent = sum(times) >= policy.most_seconds and len(answers) >= _FEWEST_ANSWERS
        if len(answers) >= _MOST_ANSWERS or spent:
            if len(kept) >= 2 or (kept and not doubt):
                return _put_together(answers, times, kept, noise)
            return _wandering(answers, times, noise)
        if kept:
            xyz = np.mean([answers[i] for i in kept], axis=0)
        seconds = _next_exposure(policy, noise, xyz, have, len(kept)) if xyz is not None else _FIRST_LOOK
        answers.append(measure(seconds))
        times.append(seconds)


def _wanted(policy: ReadPolicy) -> Array:
    """Standard deviations that are wanted of X, Y and Z, shape (3,); infinite where nothing is."""
    colour = policy.colour
    return np.array([math.inf, policy.sd, math.inf] if colour is None else [colour.sd_X, policy.sd, colour.sd_Z])


def _expected(policy: ReadPolicy) -> Array:
    """XYZ that is expected, shape (3,); of a grey its light for all three."""
    light, colour = policy.expected or 0.0, policy.colour
    return np.full(3, light) if colour is None else np.array([colour.X, light, colour.Z])


def _information(noise: NoiseModel, answers: list[Array], times: list[float]) -> Array:
    """What answers tell of X, Y and Z, 1/(cd/m²)², shape (3,)."""
    told = (1.0 / noise.variance(answer, seconds) for answer, seconds in zip(answers, times, strict=True))
    return sum(told, np.zeros(3))


def _enough(policy: ReadPolicy, have: Array) -> bool:
    return bool(np.all(have >= 1.0 / (_ENOUGH * _wanted(policy)) ** 2))


def _next_exposure(policy: ReadPolicy, noise: NoiseModel, xyz: Array, have: Array, count: int) -> float:
    wanted = 1.0 / _wanted(policy) ** 2
    # The first of two gets half of the work, so that the second can confirm it as well as finish it.
    missing = wanted / 2.0 if count == 0 else wanted - have
    seconds = max(exposure(noise, *each, luminance=float(xyz[1])) for each in zip(xyz, missing, strict=True))
    # Two are needed, and both together are not to take longer than was allowed.
    seconds = min(seconds, policy.most_seconds / 2.0)
    # In tenths: a meter's clock is no finer, and a record reads better.
    return max(SHORTEST, math.ceil(seconds * 10.0 - 1e-6) / 10.0)


def _agreeing(answers: list[Array], times: list[float], noise: NoiseModel) -> list[int]:
    """The largest group of answers that agree with one of them; two of two, or nothing sure yet."""
    if len(answers) < 2:
        return list(range(len(answers)))
    groups = [
        [j for j in range(len(answers)) if j == i or _agree(answers[i], answers[j], times[i], times[j], noise)]
        for i in range(len(answers))
    ]
    best = max(groups, key=len)
    # One against one: nobody knows yet which of them is wrong.
    return best if len(best) >= 2 else []


def _agree(first: Array, second: Array, time_first: float, time_second: float, noise: NoiseModel) -> bool:
    middle = (first + second) / 2.0
    apart = np.abs(first - second)
    spread = np.sqrt(noise.variance(middle, time_first) + noise.variance(middle, time_second))
    return bool(np.all((apart <= _SIGMAS * spread) | (apart <= _SAME * np.abs(middle))))


def _wandering(answers: list[Array], times: list[float], noise: NoiseModel) -> Looked:
    """Light that moves, or a meter much noisier than it says: the middle, with all of the spread as the doubt."""
    taken = np.array(answers)
    middle = np.median(taken, axis=0)
    spread = _NORMAL * np.median(np.abs(taken - middle), axis=0)
    if spread[1] > _WANDERING * max(float(middle[1]), 1e-9):
        raise UnsteadyError
    kept = np.flatnonzero(np.all(np.abs(taken - middle) <= _SIGMAS * np.maximum(spread, 1e-12), axis=1))
    order = np.corrcoef(np.arange(len(kept)), taken[kept, 1])[0, 1] if len(kept) > 2 else 0.0
    scatter = 0.0
    if abs(order) < _IN_ORDER:
        # No course in it, so it is noise: what is learnt now spares the next reading the doubt.
        sheet = np.array([noise.sheet.variance(middle, times[i]) for i in kept])
        scatter = float((((taken[kept] - taken[kept].mean(axis=0)) ** 2) / sheet).sum())
        noise.learn(float(middle[1]), scatter, len(kept))
    return Looked(
        taken[kept].mean(axis=0), spread, len(kept), sum(times) / len(times), scatter, len(answers) - len(kept)
    )


def _put_together(answers: list[Array], times: list[float], kept: list[int], noise: NoiseModel) -> Looked:
    taken = np.array([answers[i] for i in kept])
    seconds = [times[i] for i in kept]
    middle = taken.mean(axis=0)
    sheet = np.array([noise.sheet.variance(middle, t) for t in seconds])
    mean = (taken / sheet).sum(axis=0) / (1.0 / sheet).sum(axis=0)
    scatter = float((((taken - mean) ** 2) / sheet).sum())
    noise.learn(float(mean[1]), scatter, len(kept))
    sd = np.sqrt(1.0 / (1.0 / sheet).sum(axis=0)) * noise.factor(float(mean[1]))
    return Looked(mean, sd, len(kept), sum(seconds) / len(seconds), scatter, len(answers) - len(kept))
