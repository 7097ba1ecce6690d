"""The foot of the curve: light from 7 % down, brought in by the three biases together.

Near black a bias is felt as an offset of the drive: the darker the level, the more. So one figure, how many
steps all three go, is weighed against what it does higher up, where white balance has set the dark level.
"""

from dataclasses import dataclass, field, replace

import numpy as np

from aequitone.advice.linear import updated
from aequitone.advice.points.drive import GAMMA
from aequitone.colorimetry.arrays import Array, Mask
from aequitone.reference import BlackReference, Target

NEAR_BLACK = (7.0, 5.0, 4.0, 3.0, 2.0, 1.0)
SHOULDER = (50.0, 30.0, 15.0)
"""Levels that biases move along, in %, and of which near black must not take too much."""
GOOD_LIGHT = 0.10
"""Light this far off near black, in logarithm, counts as right."""
DARK = 0.30
"""The drive at which it is counted what a bias does: about that of the dark level of SDR."""
_UNSURE = 0.25
# A step is not the same at every level of a real screen; and what is wanted may move along with black.
_UNEVEN, _SHARE_SD = 0.1, 0.3
_LEAST_SHARE, _MOST_SHARE = 0.2, 2.0
# Light a tenth off near black counts like this much ΔE; less than the second is not chased. Beyond the third a
# level is wrong in any case, and a tenth more counts as little as it is seen.
_A_TENTH, _EASY, _WRONG, _A_TENTH_MORE = 0.8, 0.02, 0.25, 0.2
# ΔE 2000 for a unit of log light on the shoulder, by the slope of lightness there (CIE 15:2018).
_SHOULDER_DE = np.array([23.0, 12.0, 6.3])
# What is taken out later of a mean of three levels, as a share of that of one.
_OF_MEAN = 0.3
UNSEEN = 1.0
"""ΔE 2000 that nobody sees: so much the shoulder may give for near black."""
# The furthest that all three go at once, in drive.
_MOST_DRIVE = 0.03
# A level that is buried, or far too bright, is no more wrong than this; and light is never taken for nothing.
_MOST_MISSED, _LEAST = 0.7, 0.02
# What takes off too small a part is not worth a trip, nor too little: noise of the readings alone, a twenty-fifth
# of their light, counts like a quarter of that.
_WORTH, _WORTH_DE = 0.7, 1.0


@dataclass(frozen=True)
class Price:
    """What near black may cost on the shoulder, in ΔE 2000.

    A level may be off by `level`, or by `more` than it is; and all of them by `mean` more on average.
    """

    level: float = UNSEEN
    more: float = 0.0
    mean: float = np.inf
    repaired: float = 0.0
    """How much further a level may be off as it is read, which is taken out again later."""

    def is_beaten(self, before: Array, after: Array) -> bool:
        """Whether the shoulder is foretold to be off by more than it may be; ΔE 2000, shape (n,) each."""
        return self._is_beaten(before, after, 0.0, 0.0)

    def is_beaten_as_read(self, before: Array, after: Array, doubt: Array) -> bool:
        """Whether the shoulder was read to be off by more than it may be, with the doubt of both readings.

        ΔE 2000, shape (n,) each.
        """
        on_average = float(np.linalg.norm(doubt)) / len(doubt)
        more = np.maximum(self.repaired, doubt)
        return self._is_beaten(before, after, more, max(_OF_MEAN * self.repaired, on_average))

    def _is_beaten(self, before: Array, after: Array, more: Array | float, more_on_average: float) -> bool:
        allowed = np.maximum(np.maximum(before, self.level), before + self.more) + more
        return bool((after > allowed).any() or after.mean() > before.mean() + self.mean + more_on_average)


REPAIRED = Price(repaired=1.0)
"""Where multi-point comes after; what it does not repair is looked at after it."""
ALONE = Price(level=0.0, more=0.3, mean=0.1)
"""Where nothing comes after that could take out what near black has cost."""


@dataclass(frozen=True)
class Shadows:
    """What was read near black, in cd/m², shape (n,) each, and what leaks through whatever the drive is."""

    wanted: Array
    light: Array
    sd: Array
    leak: float
    white: float
    shoulder: Array
    """How far light at SHOULDER lies above what is wanted there, in logarithm."""
    drive: Array = field(default_factory=lambda: np.array(SHOULDER) / 100.0)
    """Of the panel at SHOULDER."""

    @property
    def above(self) -> Array:
        """Light above what leaks; never nothing."""
        return np.asarray(np.maximum(self.light - self.leak, _LEAST * self.wanted))

    @property
    def misses(self) -> Array:
        """How far light is above what is wanted, in logarithm."""
        return miss(self.wanted, self.light)


@dataclass(frozen=True)
class NearBlackModel:
    """What a step of all biases does: `step` and its spread in drive near black, `dark` in log light at DARK."""

    step: float
    sd: float
    dark: float
    shares: Array = field(default_factory=lambda: np.ones(len(NEAR_BLACK)))
    """How much of that each level really came nearer to what is wanted, shape (n,)."""

    @classmethod
    def prior(cls, dark: float) -> "NearBlackModel":
        """From what a step does at DARK, in log light."""
        step = dark * DARK / (GAMMA * (1.0 - DARK))
        return cls(step, _UNSURE * step, dark)

    def misses(self, at: Shadows, steps: float) -> Array:
        """How far light (n,) would be above what is wanted, in logarithm, after all biases went `steps`."""
        return at.misses + self.shares * self._change(at, steps)

    def shoulder(self, at: Shadows, steps: float) -> Array:
        """The same on the shoulder, in ΔE 2000."""
        v = at.drive
        each = self.dark * DARK / v * (1.0 - v) / (1.0 - DARK)
        return np.asarray(_SHOULDER_DE * (at.shoulder + steps * each))

    def _change(self, at: Shadows, steps: float) -> Array:
        light = at.leak + at.white * np.maximum(_drive(at.above, at.white) + steps * self.step, 0.0) ** GAMMA
        return np.asarray(np.log(np.maximum(light, _LEAST * at.wanted) / (at.leak + at.above)))

    def learn(self, steps: int, before: Shadows, after: Shadows) -> "NearBlackModel":
        """Update from what was read before and after `steps`."""
        usable = (before.light - before.leak > 3.0 * after.sd) & (after.light - after.leak > 3.0 * after.sd)
        if not usable.any() or steps == 0:
            return self
        sd = after.sd[usable]
        drives = [_drive(at.above[usable], at.white) for at in (before, after)]
        seen = (drives[1] - drives[0]) / steps
        noise = np.hypot(drives[0] / before.above[usable], drives[1] / after.above[usable]) * sd / GAMMA
        effect, covariance = np.array([self.step]), np.array([[self.sd**2]])
        for change, variance in zip(seen, (noise / steps) ** 2 + (_UNEVEN * self.step) ** 2, strict=True):
            effect, covariance = updated(effect, covariance, np.ones(1), change, variance)
        step, spread = float(effect[0]), float(np.sqrt(covariance[0, 0]))
        # All levels share what the model does not know: the spread does not shrink below it.
        learnt = replace(self, step=step, sd=max(spread, _UNEVEN / 2.0 * abs(step)))
        return replace(learnt, shares=learnt._shared(steps, before, after))

    def _shared(self, steps: int, before: Shadows, after: Shadows) -> Array:
        told = self._change(before, steps)
        noise = np.hypot(before.sd / before.wanted, after.sd / after.wanted)
        trust = told**2 / (told**2 + (noise / _SHARE_SD) ** 2)
        seen = np.divide(after.misses - before.misses, told, out=np.ones_like(told), where=told != 0.0)
        return np.asarray(np.clip(1.0 + trust * (seen - 1.0), _LEAST_SHARE, _MOST_SHARE))

    def best_steps(self, at: Shadows, limits: tuple[int, int], price: Price = REPAIRED) -> int:
        """How many steps all biases should go now; 0 where nothing is gained by it."""
        if right(at.wanted, at.light, at.sd).all():
            return 0
        tries = self._tries(limits)
        costs, standing = [], np.abs(self.shoulder(at, 0.0))
        for n in tries:
            shoulder = self.shoulder(at, float(n))
            too_far = n != 0 and price.is_beaten(standing, np.abs(shoulder))
            costs.append(np.inf if too_far else self._near(at, float(n)) + float((shoulder**2).sum()))
        now, best = costs[tries.index(0)], int(np.argmin(costs))
        return tries[best] if now - costs[best] > max((1.0 - _WORTH) * now, _WORTH_DE**2) else 0

    def price(self, at: Shadows, limits: tuple[int, int]) -> float:
        """ΔE 2000 that the shoulder would be off if only near black counted; 0 where that would turn nothing."""
        steps = min(self._tries(limits), key=lambda n: self._near(at, float(n)))
        return float(np.abs(self.shoulder(at, float(steps))).max()) if steps else 0.0

    def _tries(self, limits: tuple[int, int]) -> list[int]:
        most = int(_MOST_DRIVE / abs(self.step)) if self.step else 0
        return list(range(max(limits[0], -most), min(limits[1], most) + 1))

    def _near(self, at: Shadows, steps: float) -> float:
        """What near black counts like after so many steps, in ΔE squared."""
        return shadow_cost(at, self.misses(at, steps))


def bias_light(learnt: float, drive: float) -> float:
    """Log light at DARK for a step of all biases that does `learnt` at another drive: an offset of the drive."""
    return learnt * drive / (1.0 - drive) * (1.0 - DARK) / DARK


def shadow_cost(at: Shadows, misses: Array) -> float:
    """What near black counts like where light misses by so much, in ΔE squared."""
    return float((_counts(at, misses) ** 2).sum())


def shadow_cost_sd(at: Shadows) -> float:
    """What the readings' noise makes of the same, of light as it was read."""
    noise = _trust(at) * _A_TENTH / GOOD_LIGHT * at.sd / at.wanted
    return 2.0 * float(np.linalg.norm(_counts(at, at.misses) * noise))


def _counts(at: Shadows, misses: Array) -> Array:
    return np.asarray(_trust(at) * _weighed(np.abs(misses)))


def _trust(at: Shadows) -> Array:
    """What the meter can hardly see counts less."""
    return np.asarray(GOOD_LIGHT / np.hypot(GOOD_LIGHT, at.sd / at.wanted))


def shadow_weights(missed: Array, sd: Array) -> Array:
    """How much of the square counts of what levels (n,) near black are off by, in logarithm; `sd` in the same.

    What the meter can hardly see counts less; what is wrong in any case pulls no harder than what is just wrong.
    """
    trust = GOOD_LIGHT / np.hypot(GOOD_LIGHT, sd)
    return np.asarray(trust**2 * np.minimum(1.0, _WRONG / np.maximum(np.abs(missed), _EASY)))


def _weighed(missed: Array) -> Array:
    """What a level counts like in ΔE when its light is off by so much, in logarithm."""
    wrong = np.clip(missed - _EASY, 0.0, _WRONG - _EASY)
    more = np.clip(missed - _WRONG, 0.0, _MOST_MISSED - _WRONG)
    return np.asarray((_A_TENTH * wrong + _A_TENTH_MORE * more) / GOOD_LIGHT)


def _drive(light: Array, white: float) -> Array:
    return np.asarray((np.maximum(light, 0.0) / white) ** (1.0 / GAMMA))


def wanted_light(target: Target, percents: Array, white: float, black: float) -> Array:
    """Light (n,) in cd/m² that is right near black: what the target asks for, with what it makes of black.

    A target of an earlier version stands on no black, but near black it did, or it would have buried the shadows.
    """
    if target.black is BlackReference.EARLIER:
        target = replace(target, black=BlackReference.ADDED)
    return target.luminance(percents / 100.0, white, black)


def miss(wanted: Array, light: Array) -> Array:
    """How far light lies above what is wanted, in logarithm."""
    return np.asarray(np.log(np.maximum(light, _LEAST * wanted) / wanted))


def right(wanted: Array, light: Array, sd: Array) -> Mask:
    """Where light is right: within GOOD_LIGHT, or within two spreads of its reading."""
    return np.asarray(np.abs(miss(wanted, light)) <= np.maximum(GOOD_LIGHT, 2.0 * sd / np.maximum(light, wanted)))
