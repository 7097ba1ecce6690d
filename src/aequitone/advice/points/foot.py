"""The foot of the curve: light from 7 % down, brought in by the three biases together.

Near black a bias is felt as an offset of the drive: the darker the level, the more. So one figure, how many
steps all three go, is weighed against what it does higher up, where white balance has set the dark level.
"""

from dataclasses import dataclass, replace

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.reference import Target

NEAR_BLACK = (7.0, 5.0, 4.0, 3.0, 2.0, 1.0)
GOOD_LIGHT = 0.10
"""Light this far off near black, in logarithm, counts as right."""
DARK = 0.30
"""The signal at which white balance has learnt what a bias does."""
_GAMMA, _UNSURE = 2.2, 0.25
# A step is not the same at every level of a real screen.
_UNEVEN = 0.1
# Light a tenth off near black counts like this much ΔE; so does what a step undoes at the levels that white
# balance has set, by the slope of lightness there (CIE 15:2018).
_A_TENTH = 0.3
_KEPT = np.array([0.10, 0.20, DARK])
_KEPT_DE = np.array([5.5, 9.0, 12.0])
_MOST = 8
# A level that is buried, or far too bright, is no more wrong than this; and light is never taken for nothing.
_MOST_MISSED, _LEAST = 0.7, 0.02
# A trip must take off a good part of what is wrong, and this much in any case.
_WORTH, _WORTH_DE = 0.7, 0.2


@dataclass(frozen=True)
class Foot:
    """What a step of all biases does: `step` and its spread in drive near black, `dark` in log light at DARK."""

    step: float
    sd: float
    dark: float

    @classmethod
    def prior(cls, dark: float) -> "Foot":
        """From what a step does at DARK, in log light."""
        step = dark * DARK / (_GAMMA * (1.0 - DARK))
        return cls(step, _UNSURE * step, dark)

    def after(self, light: Array, white: float, steps: float) -> Array:
        """Light (n,) above what leaks, in cd/m², after all biases went `steps`; `white` of 100 %."""
        return np.asarray(white * np.maximum(_drive(light, white) + steps * self.step, 0.0) ** _GAMMA)

    def learn(self, steps: int, before: Array, after: Array, sd: Array, white: float) -> "Foot":
        """Update from light (n,) above what leaks before and after `steps`, with the spread of either."""
        usable = (before > 3.0 * sd) & (after > 3.0 * sd)
        if not usable.any() or steps == 0:
            return self
        drives = [_drive(light[usable], white) for light in (before, after)]
        seen = (drives[1] - drives[0]) / steps
        noise = np.hypot(drives[0] / before[usable], drives[1] / after[usable]) * sd[usable] / _GAMMA
        weight = 1.0 / ((noise / steps) ** 2 + (_UNEVEN * self.step) ** 2)
        total = weight.sum() + self.sd**-2.0
        step = float(((weight * seen).sum() + self.step * self.sd**-2.0) / total)
        # All levels share what the model does not know: the spread does not shrink below it.
        return replace(self, step=step, sd=max(float(total**-0.5), _UNEVEN / 2.0 * abs(step)))

    def harm(self, steps: Array) -> Array:
        """ΔE squared that `steps` (n,) away from where white balance left the biases undo higher up."""
        each = self.dark * DARK / _KEPT * (1.0 - _KEPT) / (1.0 - DARK) * _KEPT_DE
        return np.asarray((np.outer(steps, each) ** 2).sum(axis=1))


def _drive(light: Array, white: float) -> Array:
    return np.asarray((np.maximum(light, 0.0) / white) ** (1.0 / _GAMMA))


def wanted_light(target: Target, percents: Array, white: float, black: float) -> Array:
    """Light (n,) in cd/m² that is right near black: the tone on top of the black that the screen has.

    A tone that starts from nothing asks for less light there than black itself gives; to follow it would bury
    the shadows. BT.1886 starts from black already.
    """
    tone = target.tone.luminance(percents / 100.0, white, black)
    lift = black - float(target.tone.luminance(0.0, white, black))
    return np.asarray(tone * (1.0 - lift / white) + lift)


def off(wanted: Array, light: Array, sd: Array) -> Array:
    """How far light is off, in logarithm and beyond its own noise, shape (n,)."""
    error = np.abs(np.log(np.maximum(light, _LEAST * wanted) / wanted))
    return np.asarray(np.maximum(error - 2.0 * sd / np.maximum(light, wanted), 0.0))


@dataclass(frozen=True)
class Shadows:
    """What was read near black, in cd/m², shape (n,) each, and what leaks through whatever the drive is."""

    wanted: Array
    light: Array
    sd: Array
    leak: float
    white: float

    def best_steps(self, foot: Foot, limits: tuple[int, int], moved: int) -> int:
        """How many steps all biases should go now, having gone `moved`; 0 where nothing is gained by it."""
        if off(self.wanted, self.light, self.sd).max() <= GOOD_LIGHT:
            return 0
        tries = np.arange(max(limits[0], -_MOST), min(limits[1], _MOST) + 1)
        # What the meter can hardly see counts less.
        trust = GOOD_LIGHT / np.hypot(GOOD_LIGHT, self.sd / self.wanted)
        least = _LEAST * self.wanted
        above = np.maximum(self.light - self.leak, least)
        then = np.array([self.leak + foot.after(above, self.white, float(n)) for n in tries])
        misses = np.log(np.maximum(then, least) / self.wanted)
        near = trust * _A_TENTH / GOOD_LIGHT * np.clip(misses, -_MOST_MISSED, _MOST_MISSED)
        costs = (near**2).sum(axis=1) + foot.harm((tries + moved).astype(np.float64))
        best, standing = int(costs.argmin()), float(costs[tries == 0][0])
        gained = standing - float(costs[best])
        return int(tries[best]) if gained > max((1.0 - _WORTH) * standing, _WORTH_DE**2) else 0
