"""What colours count for, and what a trip for them must bring."""

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.procedures.colour.manage_plan import ManagePlan

# White, and pale colours, are where people look; everyday colours together count as much as the six.
_WHITE_WEIGHT = 14.0
_WEIGHTS = {25.0: 1.15, 50.0: 1.15, 75.0: 0.95, 100.0: 0.75}
_EVERYDAY = 1.0
# ΔE a minute of trips and readings, of average and worst together.
WORTH_A_MINUTE = 0.09
NO_SERVICE = 0.15
"""ΔE 2000 on average that the whole block must bring to be worth that it is on."""
A_READING_SECONDS = 2.2


def weights_of(plan: ManagePlan) -> Array:
    """Weights of the samples and of white, the last, on average 1, (n,)."""
    of_six = [_WEIGHTS[plan.samples[row].saturation] for row in plan.read]
    everyday = len(plan.samples) - len(of_six)
    share = _EVERYDAY * sum(of_six) / max(everyday, 1)
    weights = np.array([*of_six, *everyday * [share]])
    # White against all colours together, however many they are.
    weights = np.append(weights, _WHITE_WEIGHT * weights.sum() / sum(of_six))
    return np.asarray(weights / weights.mean())


def least_gain(plan: ManagePlan) -> float:
    """Least ΔE, of average and worst together, that a trip must promise.

    By hand a trip may turn one colour of six; by link it turns all, and none is worth less than the whole. In HDR
    colours are further off, and the later trips are needed.
    """
    readings = len(plan.read) / 2.0
    paid = WORTH_A_MINUTE * (plan.trip_seconds + readings * A_READING_SECONDS) / 60.0
    return paid if plan.by_hand or plan.diffuse is not None else max(NO_SERVICE, paid)
