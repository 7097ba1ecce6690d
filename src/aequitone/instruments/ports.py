"""The three ports of a bench, and the clock they run on.

A driver is anything of this shape. Calls block the runner's thread, never the window's, and raise
InstrumentError with a sentence when the device fails.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.signal import Patch


@dataclass(frozen=True)
class MeterNoise:
    """The spread that a meter's data sheet promises.

    sd of each of X, Y, Z at luminance L, in cd/m²: sqrt((shot² · L + floor²) / seconds + (read / seconds)²).
    The first part is counting light, the second the dark current, the third each read-out, however long.
    """

    shot: float
    floor: float
    read: float = 0.0

    def sd(self, xyz: Array, seconds: float) -> Array:
        """Standard deviation in cd/m², shape of `xyz`."""
        return np.asarray(np.sqrt(self.variance(xyz, seconds)))

    def variance(self, xyz: Array, seconds: float) -> Array:
        """Variance in (cd/m²)², shape of `xyz`."""
        counted = (self.shot**2 * np.maximum(xyz, 0.0) + self.floor**2) / seconds
        return np.asarray(counted + (self.read / seconds) ** 2)


@dataclass(frozen=True)
class Measurement:
    """One answer of a meter: XYZ in cd/m²."""

    X: float
    Y: float
    Z: float

    @property
    def xyz(self) -> Array:
        return np.array([self.X, self.Y, self.Z])


class Clock(Protocol):
    """Seconds, real or simulated."""

    def now(self) -> float: ...

    def sleep(self, seconds: float) -> None: ...


class Meter(Protocol):
    """Reads the light in front of it."""

    @property
    def name(self) -> str: ...

    @property
    def noise(self) -> MeterNoise: ...

    @property
    def repeats(self) -> bool:
        """Whether asking twice is worth it: a person types one figure, and it is their last word."""
        ...

    def measure(self, patch: Patch, seconds: float) -> Measurement:
        """Integrate for `seconds`. The patch only tells a person what they should be looking at."""
        ...


class PatternSource(Protocol):
    """Shows a patch."""

    @property
    def name(self) -> str: ...

    @property
    def settle_seconds(self) -> float:
        """How long after `show` a reading may begin."""
        ...

    def show(self, patch: Patch) -> None: ...

    def shows(self, patch: Patch) -> bool:
        """Whether it still shows this patch: false once it was started anew, or someone else used it."""
        ...


class ScreenLink(Protocol):
    """Turns the screen's own controls. A bench without one has a person who does."""

    @property
    def name(self) -> str: ...

    def turn(self, settings: Mapping[str, int]) -> None:
        """Set controls, by role, in one trip to the menu."""
        ...

    def values(self) -> dict[str, int]:
        """All controls, by role, as they stand."""
        ...


class Mount(Protocol):
    """Moves the meter about in front of the screen."""

    def place(self, spot: tuple[float, float]) -> None:
        """Hang the meter at a place: across and up, 0 the middle, 1 an edge."""
        ...


@dataclass(frozen=True)
class Bench:
    """The instruments of a visit. `link` is None where a person turns the controls, `mount` where they hang it."""

    meter: Meter
    source: PatternSource
    link: ScreenLink | None
    clock: Clock
    mount: Mount | None = None
