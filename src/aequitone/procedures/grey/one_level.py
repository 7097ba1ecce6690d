"""One level of grey, read to see how far off it is."""

from aequitone.procedures.policy import policy_for
from aequitone.procedures.steps import Procedure, Purpose
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.reference import Target, grey_errors
from aequitone.signal import SignalFormat, grey_patch


def read_error(
    percent: float, target: Target, format_: SignalFormat, white: float, black: float
) -> Procedure[float]:
    """Read a level, whatever the person wishes meanwhile; returns its ΔE 2000.

    `white`, `black`: luminance of 100 and 0 %, cd/m².
    """
    wanted = float(target.grey(percent, white, black)[1])
    patch = grey_patch(percent, format_)
    reading = yield from insist_on_reading(patch, policy_for(wanted, white), Purpose.ADJUST)
    return float(grey_errors([percent], reading.xyz[None], target, white=white, black=black).de2000[0])
