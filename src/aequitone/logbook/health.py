"""What is to be said of a bench: each warning in words, with what to do."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from aequitone.advice.technology import DIMMING, PULSED, Technology, mode_words
from aequitone.instruments.ports import MeterNoise
from aequitone.logbook.records import BenchChoice, Connection
from aequitone.logbook.shelf import CorrectionRecord
from aequitone.procedures.noise import learnt_noise
from aequitone.procedures.steps import Reading
from aequitone.signal import Transfer

_NOISY = 1.7
_LEAST_REPEATS = 6
_OLD_DAYS = 180
_LOOSE_UV = 0.002
_MANY_LEFT_OUT = 0.05


@dataclass(frozen=True)
class BenchConditions:
    """What health is judged from."""

    choice: BenchChoice
    technology: Technology
    """Of the screen, as noted."""
    noise: MeterNoise
    readings: Sequence[Reading]
    """Of the newest pass."""
    correction: CorrectionRecord | None


@dataclass(frozen=True)
class Ailment:
    """One thing that is not as it should be, and what to do."""

    words: str
    todo: str


def ailments(snapshot: BenchConditions, now: datetime) -> list[Ailment]:
    """Everything that is to be said, the most serious first."""
    told = []
    # A correction made in the mode that is set takes the mode's place.
    mode = mode_words(snapshot.technology, snapshot.choice.meter_mode)
    if mode and snapshot.correction is None:
        words, _, todo = mode.partition(". ")
        told.append(Ailment(f"{words}.", todo))
    told += _of_readings(snapshot)
    told += _of_correction(snapshot, now)
    if snapshot.choice.transfer is not Transfer.GAMMA and snapshot.choice.patterns is Connection.SCREEN:
        told.append(
            Ailment(
                f"A window of this computer sends no mark of {snapshot.choice.transfer.value.upper()}.",
                "Switch the desktop and the screen to HDR by hand; the first look of As found says what arrives.",
            )
        )
    if snapshot.technology in DIMMING and snapshot.choice.automatic and not snapshot.choice.refresh_every:
        told.append(
            Ailment(
                "This kind of panel dims under a still picture, and no refresh fields are set.",
                "Set refresh fields to every 40 s; drift is followed by white on the way all the same.",
            )
        )
    if (
        snapshot.technology in PULSED
        and snapshot.choice.synchronise_hz is None
        and snapshot.choice.meter is Connection.INSTRUMENT
    ):
        told.append(
            Ailment(
                "The light of this kind of screen pulses, and the meter has not been told how fast.",
                "Measure the refresh rate with white on the screen; the meter then integrates over whole pulses.",
            )
        )
    return told


def _of_readings(snapshot: BenchConditions) -> list[Ailment]:
    told = []
    for band in learnt_noise(snapshot.noise, snapshot.readings).bands():
        if band.factor > _NOISY and band.repeats >= _LEAST_REPEATS:
            where = (
                f"above {band.low:g} cd/m²" if band.high > 1e6 else f"between {band.low:g} and {band.high:g} cd/m²"
            )
            told.append(
                Ailment(
                    f"Readings {where} scatter {band.factor:.1f} times as much as the meter's data sheet says.",
                    "Look for light that pulses (measure the refresh rate), a meter that moves, or something "
                    "automatic that is on.",
                )
            )
    left_out = sum(reading.rejected for reading in snapshot.readings)
    answers = sum(reading.repeats + reading.rejected for reading in snapshot.readings)
    if left_out and left_out > _MANY_LEFT_OUT * answers:
        told.append(
            Ailment(
                f"{left_out} of {answers} answers of the meter did not agree with the rest and were left out.",
                "Check its cable and that nothing crosses its view; each was read again.",
            )
        )
    return told


def _of_correction(snapshot: BenchConditions, now: datetime) -> list[Ailment]:
    correction = snapshot.correction
    if correction is None:
        return []
    told = []
    if correction.technology != snapshot.technology and snapshot.technology:
        told.append(
            Ailment(
                f"The meter's correction was made on another kind of screen ({correction.technology.words}).",
                "Choose one that was made on this kind, or make one here.",
            )
        )
    days = correction.age_days(now)
    if days > _OLD_DAYS:
        told.append(
            Ailment(
                f"The meter's correction is {days} days old.",
                "Filters age: make it anew when the reference is at hand.",
            )
        )
    if correction.fit_uv > _LOOSE_UV:
        told.append(
            Ailment(
                f"The meter's correction leaves up to {correction.fit_uv:.4f} in u'v'.",
                "Make it anew with both meters on the same spot, or over more colours.",
            )
        )
    return told
