"""What the Bench says: options, knowledge and ailments in words; pure functions, no Qt."""

from collections.abc import Sequence
from datetime import UTC, datetime

from aequitone.advice.technology import TECHNOLOGY_WORDS, Technology
from aequitone.desktop.tools.bench.state import BenchOptions, Option
from aequitone.instruments.ports import MeterNoise
from aequitone.logbook import BenchChoice
from aequitone.logbook.health import BenchConditions, ailments
from aequitone.logbook.records import Connection
from aequitone.logbook.shelf import CorrectionRecord, InstrumentKind, InstrumentRecord
from aequitone.passes import Snapshot
from aequitone.planning.pace import Pace
from aequitone.procedures.noise import learnt_noise
from aequitone.procedures.steps import Reading

# A colorimeter of the usual kind, until one is used.
USUAL_NOISE = MeterNoise(0.010, 0.002)
_BY_HAND: tuple[Option, ...] = (("by hand xyY", "by hand: type x, y, Y"), ("by hand XYZ", "by hand: type X, Y, Z"))


def options(
    choice: BenchChoice, shelf: Sequence[InstrumentRecord], corrections: Sequence[CorrectionRecord]
) -> BenchOptions:
    """Everything that can be chosen now."""
    now = datetime.now(UTC).replace(tzinfo=None)
    simulated: tuple[Option, ...] = (
        ((Connection.STANDIN.value, f"stand-in “{choice.scenario}”"),) if choice.scenario else ()
    )
    meters = _of_kind(shelf, InstrumentKind.METER)
    return BenchOptions(
        meters=(
            ("by hand xyY", "by hand: type x, y, Y"),
            ("by hand XYZ", "by hand: type X, Y, Z"),
            *simulated,
            *meters,
        ),
        modes=(("", "as the meter is set"), *TECHNOLOGY_WORDS.items()),
        corrections=(("0", "none"), *((str(c.id), correction_words(c, now)) for c in corrections)),
        references=(
            (Connection.BY_HAND.value, "by hand: type its figures"),
            *(((Connection.STANDIN.value, "stand-in spectroradiometer"),) if choice.scenario else ()),
            *meters,
        ),
        sources=(
            (Connection.SCREEN.value, "this computer's screen"),
            (Connection.BY_HAND.value, "by hand: disc, stick or app"),
            *simulated,
            *_of_kind(shelf, InstrumentKind.SOURCE),
        ),
        links=((Connection.BY_HAND.value, "by hand: you turn"), *simulated, *_of_kind(shelf, InstrumentKind.LINK)),
    )


def _of_kind(shelf: Sequence[InstrumentRecord], kind: InstrumentKind) -> tuple[Option, ...]:
    return tuple(
        (str(record.id), f"{record.name} {record.serial}, {record.address}")
        for record in shelf
        if record.kind is kind
    )


def correction_words(correction: CorrectionRecord, now: datetime) -> str:
    """A correction in one line: what it is for, how well it fits, how old it is."""
    kind = correction.technology.words or "any screen"
    days = correction.age_days(now)
    age = "today" if days == 0 else "yesterday" if days == 1 else f"{days} days old"
    fit = f"leaves {correction.fit_uv:.4f} u'v', {age}"
    return f"{kind}: {correction.meter} by {correction.reference}, {fit}"


def knowledge(
    snapshot: Snapshot | None, choice: BenchChoice, readings: Sequence[Reading], sheet: MeterNoise
) -> tuple[Option, ...]:
    """What is known of the bench's pace, noise and delay."""
    told: list[Option] = []
    if snapshot is not None and readings:
        pace = Pace().learnt(readings)
        told.append(("Pace", f"{pace.reading_overhead:.1f} s a reading beyond its integration"))
        noise = learnt_noise(sheet, readings)
        factors = ", ".join(
            f"{band.factor:.1f} {'above' if band.low else 'under'} {band.low or band.high:g}"
            for band in noise.bands()
            if band.repeats
        )
        told.append(("Noise", f"times the data sheet's: {factors} cd/m²"))
        told.append(("Darkest reading", f"{noise.darkest(2.0):.4f} cd/m² in 2 s"))
    delay = "as the source says" if choice.settle_seconds is None else f"{choice.settle_seconds:.1f} s, measured"
    told.append(("Delay", delay))
    if choice.synchronise_hz is not None:
        told.append(("Refresh", f"{choice.synchronise_hz:g} Hz" if choice.synchronise_hz else "steady light"))
    return tuple(told)


def ailment_lines(
    snapshot: Snapshot | None, choice: BenchChoice, correction: CorrectionRecord | None, sheet: MeterNoise
) -> tuple[tuple[str, str], ...]:
    """The warnings, each with what to do."""
    bench = BenchConditions(
        choice,
        snapshot.visit.technology if snapshot else Technology.UNKNOWN,
        sheet,
        snapshot.readings if snapshot else (),
        correction,
    )
    now = datetime.now(UTC).replace(tzinfo=None)
    return tuple((ailment.words, ailment.todo) for ailment in ailments(bench, now))
