"""What a screen does by itself with the picture, with time, or with the room: dynamic contrast and its like."""

from collections.abc import Sequence

import numpy as np

from aequitone.standins.living import DARK, Frame
from aequitone.standins.parts import FeaturePart

# Averages of a picture's light, by which a feature that follows them has done most of what it does.
_AVERAGE, _ZONE_AVERAGE, _DARK_LIGHT = 0.05, 0.03, 0.02
_ROOM_SECONDS = 97.0


class Automatic:
    """The features of a screen, and what each has come to. Times are seconds on the bench's clock."""

    def __init__(self, features: Sequence[FeaturePart], start: float) -> None:
        self._features = features
        self._frame, self._since = DARK, start
        self._came_from = [_aim(feature, DARK) for feature in features]

    def show(self, frame: Frame, now: float) -> None:
        """The picture changes at `now`."""
        self._came_from = [self._at(i, now) for i in range(len(self._features))]
        self._frame, self._since = frame, now

    def factor(self, on: Sequence[FeaturePart], now: float) -> float:
        """What those that are on make of the light at `now`."""
        factors = (self._at(i, now) for i, feature in enumerate(self._features) if feature in on)
        room = 0.5 * (1.0 + float(np.sin(2.0 * np.pi * now / _ROOM_SECONDS)))
        sensors = (1.0 - part.strength * room for part in on if part.kind == "ambient-sensor")
        return float(np.prod([*factors, *sensors]))

    def _at(self, i: int, now: float) -> float:
        seconds, aim = self._features[i].seconds, _aim(self._features[i], self._frame)
        if not seconds:
            return aim
        return aim + (self._came_from[i] - aim) * float(np.exp(-(now - self._since) / seconds))


def _aim(feature: FeaturePart, frame: Frame) -> float:
    """The factor on light that a feature goes to under a picture."""
    lost = _share_lost(feature, frame)
    if feature.steps:
        lost = round(lost * feature.steps) / feature.steps
    return 1.0 - feature.strength * lost


def _share_lost(feature: FeaturePart, frame: Frame) -> float:
    """How much of its strength a feature takes of the light, 0 to 1."""
    match feature.kind:
        case "dynamic-contrast":
            peak = 1.0 - frame.peak
            return max(peak, 0.0) if feature.follows == "peak" else float(np.exp(-frame.average / _AVERAGE))
        case "energy-saving":
            return 1.0
        case "zone-dimming":
            return float(np.exp(-frame.average / _ZONE_AVERAGE))
        case "dynamic-iris":
            return 1.0 - float(np.sqrt(min(frame.peak, 1.0)))
        case "black-stretch":
            return float(np.exp(-frame.light / _DARK_LIGHT))
    return 0.0
