"""The upper end of an HDR screen: its peak, where it leaves PQ, and by which curve.

Everything is looked at along PQ's own scale, on which equal steps look alike. Below the knee a screen may be off
by a scale and a slope, which are no part of its shoulder and are taken out; the knee is where it falls off.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from aequitone.colorimetry.arrays import Array, Mask
from aequitone.colorimetry.transfer import pq_encode, pq_light, roll_off_from, rolled_off

# Signals below which grey says nothing of a shoulder.
LEAST_SIGNAL = 0.2
USUAL_MASTERING = (1_000.0, 2_000.0, 4_000.0, 10_000.0)
"""Mastering peaks that a screen may take for given, cd/m²; a roll-off from any other is called its own."""
# In PQ: what a screen wanders by from a smooth line, how far below it a grey has left it for good, and how far
# from the curve of BT.2390 a screen may be that is said to follow it: with a knee where the curve has it, and not.
_WANDER, _LEFT, _AS_BT2390, _AS_ALONE, _SAME_KNEE = 0.0003, 0.0018, 0.0015, 0.0007, 0.011
_SIGMAS = 5.0
# Greys that a line needs, and signal below and above the knee that is looked at.
_LEAST, _BELOW, _ABOVE = 5, 0.26, 0.075
# A soft bend begins so far below the first grey that has left the line for good.
_SOFT = 0.05
_STEP = 0.0002
# Beyond a hard cut nothing more comes: light falls off from the line by all that is sent more.
_ALL = 0.12


class ShoulderKind(StrEnum):
    """By which curve a screen comes to its peak."""

    NONE = "no roll-off: it reaches all that is sent"
    CLIP = "a hard cut at its peak"
    SPLINE = "the roll-off of BT.2390"
    OWN = "a roll-off of its own"


@dataclass(frozen=True)
class Shoulder:
    """What was found of the upper end; signals from 0 to 1, light in cd/m²."""

    kind: ShoulderKind
    peak: float
    knee: float
    """Signal from which the screen gives less than it is sent."""
    knee_sd: float = 0.0
    mastering: float = 0.0
    """Of BT.2390's roll-off: the peak that is brought down to the screen's, cd/m²; else 0."""

    @property
    def knee_light(self) -> float:
        """What the knee's signal means, cd/m²."""
        return float(pq_light(self.knee))


@dataclass(frozen=True)
class _Hinge:
    """A line that is left at a knee; `line`: its offset and slope in deviation from PQ."""

    cost: float
    knee: float
    line: tuple[float, float]
    falls: float
    """Slope above the knee minus slope below it; 0 for a smooth bend."""


def fit_shoulder(signal: Array, light: Array, sd: Array, black: float = 0.0, named: float = 0.0) -> Shoulder:
    """Find the shoulder in greys under PQ.

    `signal` (n,), 0 to 1, with 1 among it; `light` (n,) as read and its standard deviation `sd`, cd/m²; `black`:
    light of 0 %; `named`: the mastering peak that the source names, cd/m², which a screen may map from, or 0.
    ValueError where fewer than six greys lie above `LEAST_SIGNAL`, or white gives no light.
    """
    used = np.argsort(signal)[np.sort(signal) >= LEAST_SIGNAL]
    if len(used) < _LEAST + 1:
        raise ValueError("a shoulder needs six greys above 20 % at least")
    x, y = signal[used], np.maximum(light[used] - black, 1e-6)
    peak = float(y[-1])
    if peak <= 1e-3:
        raise ValueError("white gives no light")
    code = pq_encode(y)
    spread = np.hypot(pq_encode(y + np.maximum(sd[used], 1e-9)) - code, _WANDER)
    left = _departure(x, code - x, spread)
    if left is None:
        return Shoulder(ShoulderKind.NONE, peak + black, 1.0)
    hinges = _hinges(
        x, code - x, spread, (min(float(x[max(left - 2, 0)]), float(x[left]) - _SOFT), float(x[left]))
    )
    best = min(hinges, key=lambda hinge: hinge.cost)
    if best.falls and abs(best.falls + 1.0 + best.line[1]) < _ALL:
        return Shoulder(ShoulderKind.CLIP, peak + black, best.knee, _knee_sd(hinges, best))
    bent = min((hinge for hinge in hinges if not hinge.falls), key=lambda hinge: hinge.cost)
    by_name = _as_bt2390(x, code, bent, (named,) if named else USUAL_MASTERING)
    if by_name is not None:
        return Shoulder(ShoulderKind.SPLINE, peak + black, by_name[0], _knee_sd(hinges, bent), by_name[1])
    return Shoulder(ShoulderKind.OWN, peak + black, bent.knee, _knee_sd(hinges, bent))


def _departure(x: Array, off: Array, spread: Array) -> int | None:
    """The first grey that lies below the line of darker ones, as do all brighter ones; None where none does."""
    for at in range(_LEAST, len(x)):
        below = _near_below(x, float(x[at - 1]))
        below[at:] = False
        if below.sum() < _LEAST - 1:
            below[:at] = True
        slope, base = np.polyfit(x[below], off[below], 1, w=1.0 / spread[below])
        fallen = off[at:] - (base + slope * x[at:])
        if (fallen < -np.maximum(_SIGMAS * spread[at:], _LEFT)).all():
            return at
    return None


def _near_below(x: Array, knee: float) -> Mask:
    return np.asarray((x <= knee) & (x >= knee - _BELOW))


def _hinges(x: Array, off: Array, spread: Array, between: tuple[float, float]) -> list[_Hinge]:
    """Fit a line with a knee at each signal between two: a sharp one, and a smooth bend."""
    # Two greys above it at least: one alone may lie on any curve.
    above = max(between[1] + _ABOVE, float(x[x >= between[1]][:2][-1]))
    looked = (x >= between[0] - _BELOW) & (x <= above)
    if looked.sum() < _LEAST:
        looked = x >= between[0] - 2.0 * _BELOW
    at, weight = x[looked], 1.0 / spread[looked]
    seen = off[looked] * weight
    told = []
    for knee in np.arange(between[0], between[1], _STEP):
        past = np.maximum(at - knee, 0.0)
        plain = np.column_stack([np.ones_like(at), at])
        for columns in ((past,), (past**2, past**3)):
            rows = np.column_stack([plain, *columns]) * weight[:, None]
            answer = np.linalg.lstsq(rows, seen, rcond=None)[0]
            cost = float(((seen - rows @ answer) ** 2).sum())
            falls = float(answer[2]) if len(columns) == 1 else 0.0
            # A figure more must earn its keep (Schwarz, Annals of Statistics 6, 1978).
            cost += (len(columns) - 1) * float(np.log(len(at)))
            told.append(_Hinge(cost, float(knee), (float(answer[0]), float(answer[1])), falls))
    return told


def _knee_sd(hinges: list[_Hinge], best: _Hinge) -> float:
    """Spread of the knee: of all lines of that kind, each weighed by how well it fits."""
    alike = [hinge for hinge in hinges if bool(hinge.falls) is bool(best.falls)]
    knees = np.array([hinge.knee for hinge in alike])
    weights = np.exp(-0.5 * (np.array([hinge.cost for hinge in alike]) - best.cost))
    mean = float((weights * knees).sum() / weights.sum())
    return float(np.sqrt((weights * (knees - mean) ** 2).sum() / weights.sum()))


def _as_bt2390(x: Array, code: Array, bent: _Hinge, masterings: tuple[float, ...]) -> tuple[float, float] | None:
    """Knee and mastering peak of the roll-off of BT.2390 that the screen follows, or None.

    What the screen is off by below the knee is taken out of all of it, the peak included.
    """
    base, slope = bent.line
    pure = code - (base + slope * np.minimum(x, bent.knee))
    peak = float(pq_light(pure[-1]))
    told = []
    for mastering in masterings:
        if mastering > peak:
            miss = pure - pq_encode(rolled_off(x, mastering, peak))
            told.append((float(np.sqrt((miss[x > bent.knee] ** 2).mean())), mastering))
    if not told:
        return None
    miss_of, mastering = min(told)
    knee = roll_off_from(mastering, peak)
    # A bend of its own can come near the curve, but begins elsewhere.
    most = _AS_BT2390 if abs(knee - bent.knee) < _SAME_KNEE else _AS_ALONE
    return (knee, mastering) if miss_of <= most else None
