"""How long a source and a screen really need between a patch and a reading."""

from dataclasses import dataclass

from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import Note, Procedure, Progress, Purpose, Read, Reading, Show, Wait
from aequitone.signal import Patch, SignalFormat, grey_patch

LONGEST_DELAY = 6.0
# Bisecting six seconds down to less than a tenth.
_HALVINGS = 6
# Light within this share of white, and four times the noise, has arrived.
_ARRIVED = 0.004
_SIGMAS = 4.0
_PRECISION = 0.001
_BEFORE_SECONDS = 3.0
_MARGIN_SECONDS = 0.1


@dataclass(frozen=True)
class Delay:
    """Seconds after a patch was shown until its light stands, from dark to bright and back."""

    rise: float
    fall: float

    @property
    def seconds(self) -> float:
        """What a bench should wait, with a margin, in tenths."""
        return round(max(self.rise, self.fall) + _MARGIN_SECONDS, 1)


def measure_delay(format_: SignalFormat) -> Procedure[Delay]:
    """Show black and white in turn and read ever sooner after; returns a Delay."""
    black, white = grey_patch(0.0, format_), grey_patch(100.0, format_)
    settled: dict[Patch, Reading] = {}
    for patch in (white, black):
        yield Show(patch)
        yield Wait(_BEFORE_SECONDS, "the light is to stand")
        expected = 100.0 if patch is white else 0.1
        settled[patch] = yield Read(patch, ReadPolicy(expected * 0.01, expected), Purpose.WATCH)
    light = settled[white].Y
    if light <= 4.0 * settled[white].sd_Y or light <= settled[black].Y:
        yield Note("White is no brighter than black here: the delay cannot be measured.")
        return Delay(LONGEST_DELAY, LONGEST_DELAY)
    found: list[float] = []
    total = 2 * _HALVINGS
    for before, after in ((black, white), (white, black)):
        low, high = 0.0, LONGEST_DELAY
        for i in range(_HALVINGS):
            middle = (low + high) / 2.0
            yield Show(before)
            yield Wait(_BEFORE_SECONDS, "the light is to stand")
            yield Show(after, settle=False)
            yield Wait(middle, "the delay that is tried")
            policy = ReadPolicy(light * _PRECISION, max(settled[after].Y, light * 1e-4))
            seen: Reading = yield Read(after, policy, Purpose.WATCH, once=True)
            away = abs(seen.Y - settled[after].Y)
            arrived = away <= _ARRIVED * light + _SIGMAS * (seen.sd_Y + settled[after].sd_Y)
            low, high = (low, middle) if arrived else (middle, high)
            yield Progress(len(found) * _HALVINGS + i + 1, total)
        found.append(high)
    delay = Delay(*found)
    yield Note(
        f"Light stands {delay.rise:.1f} s after a brighter patch and {delay.fall:.1f} s after a darker one; "
        f"readings wait {delay.seconds:.1f} s."
    )
    return delay
