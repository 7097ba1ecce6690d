"""A bench that is a function, for procedures: no noise unless asked for, no stand-in."""

from collections.abc import Callable, Mapping

import numpy as np

from aequitone.instruments import Bench, InstrumentError, Measurement, MeterNoise
from aequitone.signal import Patch
from aequitone.standins.clock import VirtualClock


class FakeBench:
    """Shows patches to a function `light(percent) -> XYZ`, which tests change as they go."""

    def __init__(self, light: Callable[[float], np.ndarray], *, link: bool = True) -> None:
        self.light = light
        self.clock = VirtualClock()
        self.shown: list[float] = []
        self.read: list[float] = []
        self.turned: list[dict[str, int]] = []
        self.fail: list[Exception] = []
        self.name, self.noise, self.repeats = "Fake meter", MeterNoise(0.01, 0.002), True
        self.settle_seconds = 0.5
        self.bench = Bench(self, self, self if link else None, self.clock)

    def show(self, patch: Patch) -> None:
        self.shown.append(patch.percent)

    def shows(self, patch: Patch) -> bool:
        return self.shown[-1] == patch.percent

    def measure(self, patch: Patch, seconds: float) -> Measurement:
        if self.fail and isinstance(error := self.fail.pop(0), InstrumentError):
            raise error
        assert self.shown[-1] == patch.percent, "a reading belongs to the patch that is shown"
        self.clock.sleep(seconds)
        self.read.append(patch.percent)
        return Measurement(*(float(value) for value in self.light(patch.percent)))

    def turn(self, settings: Mapping[str, int]) -> None:
        self.turned.append(dict(settings))

    def values(self) -> dict[str, int]:
        return {}
