"""What a screen does over time and with the picture: warm-up, drift, limits, dimming."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.standins.screen_part import ScreenPart

_REFRESH_SECONDS = 1.5


@dataclass(frozen=True)
class Frame:
    """A picture as the panel sees it: the patch's linear RGB and light (white 1), the frame's average."""

    linear: Array
    light: float
    average: float
    around: float = 0.0
    """Of the average, what is not the patch's own."""
    peak: float = 0.0
    """Light of the brightest part."""


DARK = Frame(np.zeros(3), 0.0, 0.0)


def power_limit(part: ScreenPart, average: float) -> float:
    """Light left by the power supply at an average level of the picture, as a share."""
    budget = part.power.full_field_share
    limited = 1.0 if average <= budget else budget / average
    return limited * (1.0 - part.power.sag_share * average)


class Life:
    """The state that a panel carries from picture to picture. Times are seconds on the bench's clock."""

    def __init__(self, part: ScreenPart, start: float) -> None:
        self._part = part
        self._start = start
        self._frame = DARK
        self._since = start
        self._fresh = start
        """When the picture last changed enough to end dimming under a still one."""
        self._heat = 0.0

    def show(self, frame: Frame, now: float) -> None:
        """The picture changes at `now`."""
        if self._frame.average >= self._part.still.refreshed_by_level and now - self._since >= _REFRESH_SECONDS:
            self._fresh = now
        self._heat = self._heat_at(now)
        self._frame, self._since = frame, now

    def light(self, now: float) -> float:
        """Factor on the light at `now`."""
        part = self._part
        factor = 1.0
        if part.still.share:
            standing = now - self._fresh - part.still.after_seconds
            if standing > 0.0:
                factor -= part.still.share * (1.0 - float(np.exp(-standing / part.still.fade_seconds)))
        if part.afterglow.share:
            factor *= 1.0 - part.afterglow.share * self._heat_at(now)
        on = now - self._start
        factor *= 1.0 - part.warm_up.missing_share * self._cold(on)
        return factor * (1.0 + part.drift.light_share_per_hour * on / 3600.0)

    def cast(self, now: float) -> Array | None:
        """Factors on R, G, B at `now`; None where there is no cast."""
        on = now - self._start
        cold, drift = self._cold(on), self._part.drift.cast_share_per_hour
        if cold < 1e-4 and not any(drift):
            return None
        return 1.0 + np.array(self._part.warm_up.cast_share) * cold + np.array(drift) * on / 3600.0

    def _cold(self, on: float) -> float:
        warm = self._part.warm_up
        return float(np.exp(-(on / 60.0 + warm.already_minutes) / warm.minutes))

    def _heat_at(self, now: float) -> float:
        if not self._part.afterglow.share:
            return 0.0
        kept = float(np.exp(-(now - self._since) / self._part.afterglow.recovers_seconds))
        return self._frame.average + (self._heat - self._frame.average) * kept
