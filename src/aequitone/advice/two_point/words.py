"""Advice in sentences."""

import numpy as np

from aequitone.advice.two_point.mover import WHITE_LENIENCE, Stop
from aequitone.advice.two_point.responses import Responses
from aequitone.colorimetry import Formula
from aequitone.colorimetry.arrays import Array

# Chi-square with six degrees of freedom: one right move in ten thousand lies above.
_SURPRISING = 27.9
_UNEVEN = 0.15
_LITTLE = 0.004


def stop_words(
    stop: Stop,
    errors: tuple[float, float, float],
    sd: float,
    stop_at: float,
    formula: Formula = Formula.DE2000,
) -> str:
    """Why adjusting ends, for the person in the room; `errors` at 100 %, bright and dark, by `formula`."""
    white, bright, dark = errors
    # The usual one is called what everybody calls it.
    name = "ΔE" if formula is Formula.DE2000 else formula.value
    figure = f"{name} {max(bright, dark):.2f} ± {sd:.2f} at the worse of the two levels, {white:.2f} at 100 %"
    match stop:
        case Stop.MET:
            above = max(bright, dark) > stop_at or white > stop_at + WHITE_LENIENCE
            how = " as far as the meter can tell" if above else ""
            wanted = f"wanted {stop_at:g}, and {stop_at + WHITE_LENIENCE:g} at 100 %"
            return f"The target is met{how}: {figure}; {wanted}."
        case Stop.CANNOT_TELL:
            return f"The meter cannot tell any more: {figure}. Going on would chase its noise."
        case Stop.CANNOT_REACH:
            return f"No turn of these controls promises more: {figure}, wanted {stop_at:g}."
        case Stop.LONG_ENOUGH:
            return f"The limit of trips to the menu is reached: {figure}, wanted {stop_at:g}."
        case Stop.WISHED:
            return f"Stopped by you: {figure}."


def surprise_words(responses: Responses, steps: Array, change: Array, variance: Array) -> str:
    """A sentence when a move came out otherwise than it could have, or "" when it did not.

    `steps` (6,) as asked for; `change` (9,) of log light as seen, with `variance` of its noise.
    """
    rows = slice(3, 9)
    predicted = responses.predict(steps)[rows]
    surprise = change[rows] - predicted
    # Controls are not quite even along their range, and channels leak into each other: a part of the
    # largest change, and a little in any case, is no surprise.
    largest = np.repeat(np.abs(predicted).reshape(2, 3).max(axis=1), 3)
    allowed = (_UNEVEN * largest) ** 2 + _LITTLE**2
    spread = responses.variance(steps)[rows] + variance[rows] + allowed
    if float((surprise**2 / spread).sum()) < _SURPRISING:
        return ""
    came = (np.exp(change[rows]) - 1.0) * 100.0
    wanted = (np.exp(predicted) - 1.0) * 100.0
    worst = int((surprise**2 / spread).argmax())
    channel, level = ("red", "green", "blue")[worst % 3], ("bright", "dark")[worst // 3]
    return (
        f"This is not what was expected: {channel} light at the {level} level changed by "
        f"{came[worst]:+.1f} % where {wanted[worst]:+.1f} % was expected. Check that the right control "
        "was turned, and by the right amount; the program goes on from what it sees."
    )
