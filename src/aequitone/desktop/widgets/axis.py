"""A range with its ticks: one axis for all charts; no Qt."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array

_STEPS = (1.0, 2.0, 5.0)


@dataclass(frozen=True)
class Axis:
    """A range with its ticks."""

    low: float
    high: float
    ticks: tuple[float, ...]
    digits: int
    names: tuple[str, ...] = ()
    """What to write at the ticks, where it is not their value."""

    def share(self, values: Array) -> Array:
        """Where values lie, 0 at the low end and 1 at the high one."""
        return np.asarray((values - self.low) / (self.high - self.low))


def axis_of(values: Array, least: float, most_ticks: int, above: float = 0.08) -> Axis:
    """An axis around values: at least a span of `least`, at most so many round ticks, a share of room above."""
    low, high = float(values.min()), float(values.max())
    room = max(0.0, least - (high - low)) / 2.0
    span = high - low + 2.0 * room
    low, high = low - room - 0.08 * span, high + room + above * span
    raw = (high - low) / max(1, most_ticks)
    power = 10.0 ** np.floor(np.log10(raw))
    step = next((power * each for each in _STEPS if power * each >= raw), power * 10.0)
    first = int(np.ceil(low / step - 1e-9))
    ticks = tuple(float(step * i) for i in range(first, int(np.floor(high / step + 1e-9)) + 1))
    return Axis(low, high, ticks, max(0, -int(np.floor(np.log10(step) + 1e-9))))
