"""Minutes, from the instruments' own measured pace."""

from bisect import bisect_right
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np

from aequitone.advice.answers.answer import LOOK_PERCENTS, MUTED
from aequitone.advice.points.near_black import NEAR_BLACK, SHOULDER
from aequitone.colorimetry import Formula
from aequitone.instruments.ports import MeterNoise
from aequitone.procedures.colour.colour_pass import ColourPlan
from aequitone.procedures.exposures import expected_seconds
from aequitone.procedures.grey.grey_pass import GreyPlan
from aequitone.procedures.noise import NoiseBand, NoiseModel, learnt_noise
from aequitone.procedures.policy import CLOSER_DE, WANTED_DE, WEIGHED_DE, ReadPolicy, policy_for, policy_for_colour
from aequitone.procedures.steps import Reading

# A visit's stations that are not measured, as practice has them for one screen and one memory.
ARRIVE_SECONDS, PREPARE_SECONDS, HAND_OVER_SECONDS = 240.0, 600.0, 180.0
# Positions that a sweep of one control usually takes, and readings at each.
# Levels share their trips; most of their readings are dark or exact.
_LEVELS_TRIPS, _TRIPS_A_CONTROL, _READINGS_A_CONTROL, _BEFORE_AND_AFTER = 2.0, 0.65, 10.0, 8.0
STOPS = (0.3, 0.5, 1.0)
"""ΔE that white balance can be told to stop at."""
# Trips to the menu that it then usually takes on the stand-ins, by the formula.
_TRIPS = {
    Formula.DE2000: (4, 3, 2),
    Formula.DE2000_CAST: (4, 3, 2),
    Formula.ITP: (4, 3, 2),
    Formula.ITP_CAST: (3, 2, 2),
}
_READINGS_A_TRIP = 3
# Of the levels, how many are usually turned where readings are typed (benchmarks/typed.py); and what a reading
# near black takes.
_TURNED_SHARE, _NEAR_BLACK_SECONDS, _LOOKS = 0.2, 4.0, 1.5
# Of the ladder, how much is usually read again after a trip to several levels (benchmarks/whole_memory.py).
_READ_AGAIN = 0.5
_A_WHITE = 100.0
_USUAL_CONTRAST = 1500.0
_REMEMBERED = 256
# A colorimeter of the usual kind, until the bench says better.
_USUAL_NOISE = MeterNoise(0.010, 0.002)


@dataclass(frozen=True)
class Pace:
    """What a reading and a trip cost beyond the integration, in seconds."""

    reading_overhead: float = 1.4
    trip: float = 15.0
    typed: bool = False
    """A person types the readings: no repeats, and the integration is their meter's own."""
    noise: NoiseModel = field(default_factory=lambda: NoiseModel(_USUAL_NOISE), compare=False)

    def reading(self, policy: ReadPolicy) -> float:
        """Seconds for one reading with its repeats."""
        if self.typed:
            return self.reading_overhead
        return self.reading_overhead + expected_seconds(policy, self.noise)

    def learnt(self, readings: Iterable[Reading], trip_seconds: float = 0.0) -> "Pace":
        """The pace of the readings and trips that were really taken; as it was where there are none."""
        taken = list(readings)
        if trip_seconds > 0.0:
            return replace(self, trip=trip_seconds).learnt(taken)
        if not taken:
            return self
        # The median: one pause for a telephone call is not the pace of the evening. Typed, all is a person's.
        meters = [0.0 if self.typed else reading.seconds * reading.repeats for reading in taken]
        extra = float(np.median([reading.took - meter for reading, meter in zip(taken, meters, strict=True)]))
        return replace(self, reading_overhead=extra, noise=learnt_noise(self.noise.sheet, taken))


BY_HAND = Pace(reading_overhead=12.0, typed=True)
"""The pace of a person who types the readings."""
BY_LINK = Pace(trip=1.0)
"""The pace where the program reads the meter, and a link turns."""


@dataclass(frozen=True)
class _Known:
    """A pace by all that it goes by: a window asks for the same minutes many times a second."""

    pace: Pace
    sheet: MeterNoise
    bands: tuple[NoiseBand, ...]

    @classmethod
    def of(cls, pace: Pace) -> "_Known":
        return cls(pace, pace.noise.sheet, pace.noise.bands())


def grey_pass_seconds(plan: GreyPlan, pace: Pace, white: float = _A_WHITE) -> float:
    """Seconds for a whole grey pass."""
    return _grey_pass_seconds(plan, _Known.of(pace), white)


@lru_cache(maxsize=_REMEMBERED)
def _grey_pass_seconds(plan: GreyPlan, known: _Known, white: float) -> float:
    pace = known.pace
    levels = [float(plan.target.grey(percent, white)[1]) for percent in plan.percents]
    anchors = 3 if plan.repeat_anchors else 1
    whole = [*levels, *[white, 0.0] * (1 if anchors == 1 else 2), *[white] * plan.on_the_way]
    if plan.first_look:
        whole += [white * (max(percent, 0.0) / 100.0) ** 2.2 for percent in LOOK_PERCENTS]
        whole += [white / 4.0] * (len(MUTED) + 1)
    # Black is wanted black, but what is read is the screen's own.
    return sum(pace.reading(policy_for(max(luminance, white / _USUAL_CONTRAST), white)) for luminance in whole)


def colour_pass_seconds(plan: ColourPlan, pace: Pace, white: float = _A_WHITE) -> float:
    """Seconds for a whole colour pass."""
    return _colour_pass_seconds(plan, _Known.of(pace), white)


@lru_cache(maxsize=_REMEMBERED)
def _colour_pass_seconds(plan: ColourPlan, known: _Known, white: float) -> float:
    pace = known.pace
    signals = np.array([sample.signal for sample in plan.samples]) / 100.0
    wanted, reference = plan.target.colour(signals, white), plan.target.white.xyz() * white
    colours = sum(pace.reading(policy_for_colour(xyz, reference)) for xyz in wanted)
    greys = (plan.readings - len(signals) - 1) * pace.reading(policy_for(white, white))
    return colours + greys + pace.reading(policy_for(white / _USUAL_CONTRAST, white))


def seconds_left(plan: GreyPlan, pace: Pace, done: int, white: float = _A_WHITE) -> float:
    """Seconds until a grey pass ends, `done` readings having been taken."""
    share = max(0.0, 1.0 - done / plan.readings)
    return grey_pass_seconds(plan, pace, white) * share


def usual_trips(stop_at: float, formula: Formula) -> int:
    """Trips to the menu that white balance usually takes to one of STOPS, or to the next smaller figure."""
    return _TRIPS[formula][max(0, bisect_right(STOPS, stop_at) - 1)]


def white_balance_seconds(pace: Pace, trips: int) -> float:
    """Seconds that two-point white balance usually takes."""
    first, later = (
        _READINGS_A_TRIP * pace.reading(policy_for(_A_WHITE / 4.0, _A_WHITE, wanted))
        for wanted in (WANTED_DE, WEIGHED_DE)
    )
    return first + trips * (pace.trip + later)


def tone_seconds(pace: Pace, levels: int, *, near_black: bool, trips: int = 0) -> float:
    """Seconds that tone usually takes: `levels` of multi-point (0 for none), and near black, at one look or two.

    `trips`: in so many trips several levels are turned; 0 where they are turned one at a time.
    """
    total = 0.0
    if near_black:
        dark = len(NEAR_BLACK) * (pace.reading_overhead + _NEAR_BLACK_SECONDS)
        light = len(SHOULDER) * pace.reading(policy_for(_A_WHITE / 8.0, _A_WHITE))
        total += pace.trip + _LOOKS * (dark + light)
    if levels:
        first, later = (
            pace.reading(policy_for(_A_WHITE / 8.0, _A_WHITE, wanted)) for wanted in (WANTED_DE, CLOSER_DE)
        )
        several = trips * (pace.trip + _READ_AGAIN * levels * later)
        total += levels * first + (several if trips else _TURNED_SHARE * levels * (pace.trip + later))
    return total


def levels_trips(controls: int) -> float:
    """Trips to the menu that levels by meter usually take for so many controls."""
    return _LEVELS_TRIPS + _TRIPS_A_CONTROL * controls if controls else 0.0


def levels_seconds(controls: int, pace: Pace) -> float:
    """Seconds that levels by meter usually take on so many controls; none where there is none."""
    if not controls:
        return 0.0
    reading = pace.reading(policy_for(_A_WHITE / 100.0, _A_WHITE))
    readings = (_BEFORE_AND_AFTER + _READINGS_A_CONTROL * controls) * reading
    return readings + levels_trips(controls) * pace.trip


def minutes_words(seconds: float) -> str:
    """Seconds as a person says them: "40 s", "1 min 20 s", "12 min"."""
    if seconds < 55.0:
        return f"{max(5, round(seconds / 5.0) * 5)} s"
    if seconds < 295.0:
        minutes, rest = divmod(round(seconds / 10.0) * 10, 60)
        return f"{minutes} min {rest} s" if rest else f"{minutes} min"
    return f"{round(seconds / 60.0)} min"


def short_minutes_words(seconds: float) -> str:
    """Seconds where there is little room: "40 s", "1 min", "12 min"."""
    return minutes_words(seconds) if seconds < 55.0 else f"{max(1, round(seconds / 60.0))} min"


def clock_words(seconds: float) -> str:
    """Seconds as hours and minutes: "0:42"."""
    minutes = round(seconds / 60.0)
    return f"{minutes // 60}:{minutes % 60:02d}"
