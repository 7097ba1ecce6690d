"""Drift of a screen over a pass, fitted to anchors and taken out of what was read between them."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array

# A fit is good enough when what it leaves is no more than chance would leave (χ² over its freedom).
_GOOD_FIT = 2.5


@dataclass(frozen=True)
class Drift:
    """Light of the anchor over time as a share of its first: at `times`, shape (n, 3) for X, Y, Z."""

    times: Array
    ratios: Array
    shape: str
    """"none", "line", "curve", or "between" where nothing smooth fits and it is followed from anchor to anchor."""

    def at(self, times: Array) -> Array:
        """Ratio to the start, shape (m, 3), at seconds of shape (m,)."""
        return np.stack([np.interp(times, self.times, self.ratios[:, i]) for i in range(3)], axis=-1)

    @property
    def percent(self) -> float:
        """The farthest that light (Y) went from its start, in %, with its sign."""
        away = self.ratios[:, 1] - 1.0
        return float(away[np.abs(away).argmax()] * 100.0)


def fitted(times: Array, xyz: Array, sd: Array) -> Drift:
    """The simplest course that the anchors allow; times (n,) in seconds, xyz and sd (n, 3), n at least 1.

    Constant, then a line, then a parabola, by weighted least squares; where none fits, from anchor to
    anchor. The simplest is chosen because every coefficient carries the anchors' noise into the pass.
    """
    span = max(float(times[-1] - times[0]), 1e-9)
    along = (times - times[0]) / span
    fine = np.linspace(0.0, 1.0, 65)
    for degree, shape in ((0, "none"), (1, "line"), (2, "curve")):
        if len(times) <= degree + 1:
            break
        course = [_polynomial(along, xyz[:, i], sd[:, i], degree) for i in range(3)]
        left = np.array([(np.polyval(c, along) - xyz[:, i]) / sd[:, i] for i, c in enumerate(course)])
        if (left**2).sum() / (3 * (len(times) - degree - 1)) <= _GOOD_FIT:
            values = np.stack([np.polyval(c, fine) for c in course], axis=-1)
            return Drift(times[0] + fine * span, values / values[0], shape)
    return Drift(times, xyz / xyz[0], "between" if len(times) > 1 else "none")


def rise(times: Array, light: Array, sd: Array) -> tuple[float, float]:
    """How much light rises a minute, in %, and the standard deviation of that; times (n,) in seconds."""
    minutes = (times - times[0]) / 60.0
    columns = np.column_stack([np.ones_like(minutes), minutes]) / sd[:, None]
    covariance = np.linalg.pinv(columns.T @ columns)
    slope = float((covariance @ columns.T @ (light / sd))[1])
    return slope / float(light[0]) * 100.0, float(np.sqrt(covariance[1, 1])) / float(light[0]) * 100.0


def _polynomial(along: Array, values: Array, sd: Array, degree: int) -> Array:
    return np.asarray(np.polyfit(along, values, degree, w=1.0 / sd))
