"""What HDR is mapped from: by the scenario, by what the source names, or moving with the picture."""

import numpy as np

from aequitone.standins.parts import FeaturePart, HdrPart

# Of a picture's light: an average at which nothing is left of what follows dark pictures.
_BRIGHT_AVERAGE = 0.08
# So many steps from dark to bright: no eye and no meter sees one.
_STEPS = 64


class ToneMapping:
    """The light that the roll-off brings down to the screen's peak, cd/m². Times are seconds of the bench."""

    def __init__(self, part: HdrPart, peak: float, start: float) -> None:
        self._part, self._peak = part, peak
        self._came_from = self._aim = 1.0
        self._since = start
        self._named = 0.0
        self.follows: FeaturePart | None = None
        """What moves it with the picture, where that is on."""

    @property
    def moves(self) -> bool:
        """Whether it follows the picture."""
        return self.follows is not None

    def show(self, average: float, named: float, now: float) -> None:
        """A picture of this average light comes at `now`; `named`: its mastering peak, cd/m², 0 where none is."""
        self._came_from = self._at(now)
        self._aim, self._since, self._named = min(1.0, average / _BRIGHT_AVERAGE), now, named

    def maps_from(self, now: float) -> float:
        """What is mapped from at `now`."""
        return self._from(round(self._at(now) * _STEPS) / _STEPS, self._named)

    def steady(self, average: float, named: float) -> float:
        """What is mapped from where a picture of this average light, and of this mastering peak, stays."""
        return self._from(min(1.0, average / _BRIGHT_AVERAGE), named)

    def _from(self, bright: float, named: float) -> float:
        part = self._part
        top = named if part.heeds_metadata and named else part.maps_from_cd_m2
        lost = self.follows.strength * (1.0 - bright) if self.follows is not None else 0.0
        return top - lost * max(top - self._peak, 0.0)

    def _at(self, now: float) -> float:
        seconds = self.follows.seconds if self.follows is not None else 0.0
        if not seconds:
            return self._aim
        return self._aim + (self._came_from - self._aim) * float(np.exp(-(now - self._since) / seconds))
