"""A control that is not what its name says: it does nothing, works backwards, or does another's work.

By link nobody's hand slips. What looks like a slip there may be the control's own way. A move of several controls
only raises the suspicion; it is believed once that control, turned alone, has done the same again.
"""

from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.moves import ControlState
from aequitone.advice.two_point.guards import Judgement, Mishap, judge
from aequitone.advice.two_point.responses import Responses
from aequitone.colorimetry.arrays import Array

# A slip is over with the next move; what is taken for a control's nature stays, and must be surer.
_SURE = 0.995
# How unsure the new belief is, relative to what is believed, and of the largest of its kind in any case.
_UNSURE, _LEAST = 0.3, 0.05
# Of log likelihood: a hundred to one.
_PROVEN = 4.6
# Controls are not quite even along their range, and a little changes in any case, in log light.
_UNEVEN, _LITTLE = 0.2, 0.002


@dataclass(frozen=True)
class Oddity:
    """What a control is suspected of, or has turned out to be."""

    control: int
    """Its column."""
    words: str
    """What there is to say once it is proven."""
    responses: Responses
    """What the controls are then believed to do."""

    def is_proven(self, usual: Responses, steps: Array, change: Array, variance: Array) -> bool:
        """Whether a turn of that control alone speaks for it, and not for what is `usual`.

        `steps` (6,) as asked for; `change` (9,) of log light as seen, with `variance` of its noise.
        """
        odd_way, usual_way = (_evidence(each, steps, change, variance) for each in (self.responses, usual))
        return odd_way - usual_way > _PROVEN


def odd(
    responses: Responses, controls: tuple[ControlState, ...], steps: Array, change: Array, variance: Array
) -> Oddity | None:
    """What a move by link told of one of its controls that nobody expected; None where all are as they should be.

    The arguments are those of `guards.judge`.
    """
    told = judge(responses, controls, steps, change, variance, sure=_SURE)
    own = _own_effect(responses, told)
    if own is None:
        return None
    name = controls[told.control].name
    match told.mishap:
        case Mishap.NOT_TURNED:
            by = "one step" if abs(steps[told.control]) == 1 else f"{abs(steps[told.control]):.0f} steps"
            words = (
                f"{name} does nothing over {by}, also when it is turned alone: the others do its work as well as "
                "they can."
            )
        case Mishap.WRONG_WAY:
            words = (
                f"{name} works backwards, also when it is turned alone: it is turned the other way from now on."
            )
        case _:
            other = controls[told.instead].name
            words = f"{name} does the work of {other}, also when it is turned alone, and is taken for that."
    return Oddity(told.control, words, _believing(responses, told.control, own))


def _own_effect(responses: Responses, told: Judgement) -> Array | None:
    """What a step of the control that is judged really does, shape (9,); None where it is as it should be."""
    if told.control < 0:
        return None
    effect = responses.effect
    match told.mishap:
        case Mishap.NOT_TURNED:
            return np.zeros(len(effect))
        case Mishap.WRONG_WAY:
            return np.asarray(-effect[:, told.control])
        case Mishap.WRONG_CONTROL:
            return np.asarray(effect[:, told.instead])
    return None


def _believing(responses: Responses, column: int, own: Array) -> Responses:
    effect, covariance = responses.effect.copy(), responses.covariance.copy()
    scale = float(np.abs(effect[:, column]).max())
    effect[:, column] = own
    covariance[:, column, :] = covariance[:, :, column] = 0.0
    covariance[:, column, column] = (_UNSURE * np.abs(own)) ** 2 + (_LEAST * scale) ** 2
    return replace(responses, effect=effect, covariance=covariance)


def _evidence(responses: Responses, steps: Array, change: Array, variance: Array) -> float:
    """Log likelihood of what was seen, if the controls do what is believed of them."""
    predicted = responses.predict(steps)
    spread = responses.variance(steps) + variance + (_UNEVEN * predicted) ** 2 + _LITTLE**2
    return float(-0.5 * ((change - predicted) ** 2 / spread + np.log(spread)).sum())
