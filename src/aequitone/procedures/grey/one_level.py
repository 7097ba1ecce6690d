"""One level of grey, read to see how far off it is."""

from aequitone.advice.answers.encoding import usual_formula
from aequitone.procedures.policy import target_policy
from aequitone.procedures.steps import Procedure, Purpose
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.reference import Target, grey_errors
from aequitone.signal import SignalFormat, grey_patch


def read_error(
    percent: float, target: Target, format_: SignalFormat, white: float, black: float
) -> Procedure[float]:
    """Read a level, whatever the person wishes meanwhile; returns its ΔE, by the formula that suits the target.

    `white`, `black`: luminance of 100 and 0 %, cd/m².
    """
    wanted = float(target.grey(percent, white, black)[1])
    patch = grey_patch(percent, format_)
    reading = yield from insist_on_reading(patch, target_policy(target, wanted, white), Purpose.ADJUST)
    errors = grey_errors([percent], reading.xyz[None], target, white=white, black=black)
    return float(errors.by(usual_formula(target))[0][0])
