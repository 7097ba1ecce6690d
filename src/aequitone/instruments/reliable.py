"""A meter that is believed only when its answer can be light, and a source that is asked twice."""

import math

from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.ports import Measurement, MeterNoise, PatternSource
from aequitone.instruments.wrapped import WrappedMeter
from aequitone.signal import Patch

ATTEMPTS = 3
# Brighter than any screen for the home, by a factor: an answer above is not light.
_BRIGHTEST = 50_000.0
# Of its largest figure, what a meter's matrix may take too much from the smallest.
_LEFT_OF_A_COLOUR = 0.02


def implausible(answer: Measurement, noise: MeterNoise, seconds: float) -> str | None:
    """Why an answer cannot be a reading, or None if it can."""
    figures = (answer.X, answer.Y, answer.Z)
    if not all(map(math.isfinite, figures)):
        return "it answered with something that is not a number"
    # Noise around black goes below nothing; eight times the noise does not. Of a strong red, whose Z is next to
    # nothing, filters or a correction that are a little off leave less than none.
    if min(figures) < -8.0 * noise.floor / math.sqrt(seconds) - _LEFT_OF_A_COLOUR * max(figures):
        return f"it answered with less than no light (X {answer.X:.4g}, Y {answer.Y:.4g}, Z {answer.Z:.4g})"
    if max(figures) > _BRIGHTEST:
        return f"it answered {max(figures):.4g} cd/m², more than any screen gives"
    return None


class ReliableMeter(WrappedMeter):
    """Asks again when a meter fails or answers rubbish; gives up with a sentence after three tries."""

    def measure(self, patch: Patch, seconds: float) -> Measurement:
        why = ""
        for _ in range(ATTEMPTS):
            try:
                answer = self._meter.measure(patch, seconds)
            except InstrumentError as error:
                why = error.what
                continue
            reason = implausible(answer, self.noise, seconds)
            if reason is None:
                return answer
            why = reason
        raise InstrumentError(self.name, f"{why}, {ATTEMPTS} times running, at {patch.name}")


class ReliableSource:
    """Shows once more when a source fails: after a lost connection the second time goes over a new one."""

    def __init__(self, source: PatternSource) -> None:
        self._source = source

    @property
    def name(self) -> str:
        return self._source.name

    @property
    def settle_seconds(self) -> float:
        return self._source.settle_seconds

    def show(self, patch: Patch) -> None:
        try:
            self._source.show(patch)
        except InstrumentError:
            self._source.show(patch)

    def shows(self, patch: Patch) -> bool:
        try:
            return self._source.shows(patch)
        except InstrumentError:
            return self._source.shows(patch)
