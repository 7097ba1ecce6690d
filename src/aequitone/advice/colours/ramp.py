"""Whether a ramp through a corrected colour shows a step: what a colour management that is pushed hard may do."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry import lab_from_xyz
from aequitone.colorimetry.arrays import Array

# Saturations in % that a ramp is read at. Nearer to full ones a channel ends: it bends there without a step.
RAMP = tuple(float(at) for at in range(40, 91, 5))
# What a screen and its colour management do along a ramp bends no more than this law.
_LAW = 3
# Difference between neighbours, in ΔE, that may be the edge that an eye sees from 1 on, as a smooth course takes a
# part of it along; and so many times the noise.
_SEEN, _SIGMAS = 0.7, 3.0


@dataclass(frozen=True)
class Step:
    """The largest step of a ramp."""

    size: float
    """What the error of two neighbours differs by beyond a smooth course, in ΔE."""
    above: float
    """The saturation in % above which it lies."""
    is_seen: bool
    """Whether it may be an edge that an eye sees, and noise does not explain it."""

    @property
    def is_doubtful(self) -> bool:
        """Whether it would be seen if it were no noise: its two neighbours are worth another reading."""
        return self.size > _SEEN and not self.is_seen


def largest_step(xyz: Array, wanted: Array, sd: Array, white: Array) -> Step:
    """Find the largest step on a ramp read at RAMP: XYZ (n, 3) as read, as wanted, its deviation, and of white.

    A smooth course of the error is taken out; a step is what the errors of two neighbours still differ by, in Lab
    with a and b weighed by chroma as in ISO/CIE 11664-6.
    """
    reference = lab_from_xyz(wanted, white)
    seen = lab_from_xyz(xyz, white)
    off = seen - reference
    # What the deviation of X, Y and Z each makes of it.
    each = np.array([lab_from_xyz(xyz + sd * unit, white) - seen for unit in np.eye(3)])
    chroma = np.hypot(reference[:, 1], reference[:, 2])
    scale = np.column_stack([np.ones_like(chroma), *2 * [1.0 + 0.03 * chroma]])
    off, noise = off / scale, np.linalg.norm(each / scale, axis=(0, 2))
    at = np.linspace(-1.0, 1.0, len(off))
    design = np.vander(at, _LAW + 1)
    rest = off - design @ np.linalg.lstsq(design, off, rcond=None)[0]
    sizes = np.linalg.norm(np.diff(rest, axis=0), axis=1)
    doubt = np.hypot(noise[1:], noise[:-1])
    large = sizes > _SEEN
    beyond = sizes - _SIGMAS * doubt
    # The one that is seen; else the one that most likely would be, were it no noise.
    place = max(range(len(sizes)), key=lambda at: (large[at] and beyond[at] > 0.0, large[at], beyond[at]))
    return Step(float(sizes[place]), RAMP[place], bool(large[place] and beyond[place] > 0.0))
