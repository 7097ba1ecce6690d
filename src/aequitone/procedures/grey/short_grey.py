"""A row of greys, each read once: for a before that is told in tenths, and for what is tried and turned back."""

from collections.abc import Sequence

import numpy as np

from aequitone.colorimetry import Formula
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.procedures.policy import seen_black, target_policy
from aequitone.procedures.steps import Procedure, Progress, Purpose, Reading
from aequitone.procedures.uninterrupted import insist_on_reading
from aequitone.reference import Target, grey_errors
from aequitone.signal import SignalFormat, grey_patch

# What white is taken for before it was read, cd/m²; what is told in tenths of ΔE needs no hundredths.
_WHITE, _HDR_WHITE, _ROUGH_DE = 100.0, 1_000.0, 0.1


def short_grey(
    target: Target,
    format_: SignalFormat,
    percents: Sequence[float],
    formula: Formula,
    *,
    done: int = 0,
    total: int = 0,
) -> Procedure[GreyPass]:
    """Read greys from 100 % down to 0 %; returns a GreyPass. `done` of `total`: readings of a larger whole."""
    white, seen = _HDR_WHITE if target.tone.absolute else _WHITE, list[Reading]()
    for percent in percents:
        policy = target_policy(target, float(target.grey(percent, white)[1]), white, _ROUGH_DE)
        seen.append((yield from insist_on_reading(grey_patch(percent, format_), policy, Purpose.SWEEP)))
        white = seen[0].Y or white
        yield Progress(done + len(seen), total or len(percents))
    xyz, sd = np.array([each.xyz for each in seen]), np.array([each.sd for each in seen])
    black = seen_black(float(xyz[-1, 1]), float(sd[-1, 1]))
    errors = grey_errors(percents, xyz, target, white=float(xyz[0, 1]), black=black, sd=sd)
    return GreyPass(tuple(percents), xyz, sd, errors, 0.0, formula=formula)
