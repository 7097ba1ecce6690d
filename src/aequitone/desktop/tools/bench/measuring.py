"""What happens at the Bench: instruments are added and chosen, read live, watched, corrected; draws nothing."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
from PySide6.QtCore import QObject, Signal

from aequitone.advice.technology import Technology, suspect, technology_of
from aequitone.colorimetry import cast_of
from aequitone.desktop.session.instruments import Instruments
from aequitone.desktop.session.left_running import wait_for
from aequitone.desktop.session.operator import WindowOperator
from aequitone.desktop.session.worker import Desk
from aequitone.desktop.tools.bench import words as bench_words
from aequitone.desktop.tools.bench.correcting import corrected_by
from aequitone.desktop.tools.bench.measurement_thread import MeasurementThread
from aequitone.desktop.tools.bench.spot_readings import Aim, SpotRow, spot_rows
from aequitone.desktop.tools.bench.state import BenchState, Sample
from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.line_devices import LineMeter
from aequitone.instruments.opening import EXAMPLES, introduced
from aequitone.instruments.ports import Bench
from aequitone.logbook import BenchChoice, Logbook
from aequitone.logbook.records import Connection
from aequitone.logbook.shelf import CorrectionRecord, InstrumentKind, InstrumentRecord
from aequitone.passes import AS_FOUND, PROOF, Snapshot
from aequitone.procedures.preparation.colour_pairs import FOUR_COLOURS, read_colours
from aequitone.procedures.preparation.continuous import live, read_once
from aequitone.procedures.preparation.delay import Delay, measure_delay
from aequitone.procedures.preparation.warm_up import Warmth, WarmUpPlan, warm_up
from aequitone.procedures.runner import Event, StepDone
from aequitone.procedures.steps import Note, Progress, Read, Reading
from aequitone.reference import DEFAULT_TARGET, target_named
from aequitone.signal import Patch, grey_patch, patch_typed

# The chart keeps an hour of glances.
_MOST_SAMPLES = 4000
_PATIENCE_MS = 10_000
_KINDS = {"METER": InstrumentKind.METER, "SOURCE": InstrumentKind.SOURCE, "SCREEN": InstrumentKind.LINK}


class BenchMeasurements(QObject):
    """Keeps what the Bench shows; everything that takes time runs at the desk or in a MeasurementThread."""

    changed = Signal()
    said = Signal(str)
    chosen = Signal(object)
    """What is to be chosen otherwise: fields of a BenchChoice and their values."""

    def __init__(self, logbook: Logbook, desk: Desk, instruments: Instruments, operator: WindowOperator) -> None:
        super().__init__()
        self._logbook, self._desk, self._instruments, self._operator = logbook, desk, instruments, operator
        self._shelf: tuple[InstrumentRecord, ...] = ()
        self._corrections: tuple[CorrectionRecord, ...] = ()
        self._samples: list[Sample] = []
        self.aim = Aim(DEFAULT_TARGET)
        self.patch = "white"
        """What is read once or continuously, as it was typed."""
        self._spots: list[Reading] = []
        self._rows: tuple[SpotRow, ...] = ()
        self._visit_id = 0
        """Whose single readings they are."""
        self._run: MeasurementThread | None = None
        self._charted = False
        self.title = ""
        """What runs, in words; empty where nothing does."""
        self.reading: Reading | None = None
        self.warmth: Warmth | None = None
        self.note = ""
        self.reference = Connection.BY_HAND.value
        self.noise = bench_words.USUAL_NOISE
        """The data sheet of the meter that was last used here."""

    @property
    def running(self) -> bool:
        return self._run is not None

    def enter(self) -> None:
        """Fetch what the shelf holds."""

        def done(found: tuple[tuple[InstrumentRecord, ...], tuple[CorrectionRecord, ...]]) -> None:
            self._shelf, self._corrections = found
            self.changed.emit()

        shelf = self._logbook.shelf
        self._desk.do(lambda: (shelf.instruments(), shelf.corrections()), done, self._failed)

    def state(self, snapshot: Snapshot | None, choice: BenchChoice, *, locked: bool) -> BenchState:
        """What the view draws."""
        correction = next((c for c in self._corrections if c.id == choice.correction_id), None)
        readings = snapshot.readings if snapshot else ()
        return BenchState(
            choice,
            self.reference,
            bench_words.options(choice, self._shelf, self._corrections),
            tuple(self._samples),
            self.title or "Light and cast over time",
            bench_words.ailment_lines(snapshot, choice, correction, self.noise),
            bench_words.knowledge(snapshot, choice, readings, self.noise),
            locked or self.running,
            self.patch,
            self._rows,
        )

    # What keys do

    def add(self, address: str) -> None:
        """Ask what answers at an address and what it can do, and remember it."""
        address = address.strip()
        if not address:
            self.said.emit(f"Type an address first: {'; '.join(EXAMPLES)}.")
            return

        def work() -> tuple[InstrumentRecord, str]:
            found = introduced(address)
            kind = _KINDS[found.kind]
            return self._logbook.shelf.remember(kind, address, found.name, found.serial), found.told

        def done(found: tuple[InstrumentRecord, str]) -> None:
            record, told = found
            name = f"{record.name} {record.serial}".strip()
            self.said.emit(f"{name} answers. {told} It is remembered and chosen.")
            self.chosen.emit(_choosing(record))
            self.enter()

        self.said.emit(f"Asking at {address}.")
        self._desk.do(work, done, self._failed)

    def read_live(self, choice: BenchChoice) -> None:
        """Read the chosen patch again and again, on the chart."""
        patch = self._patch_of(choice)
        if patch is None:
            return
        self._begin(
            "Continuous reading", choice, lambda run, bench: run.procedure(bench, live(patch)), lambda _: None
        )

    def read_once(self, choice: BenchChoice) -> None:
        """One reading of the chosen patch: the test of the whole bench, and a line of the table."""
        patch = self._patch_of(choice)
        if patch is None:
            return
        white = self.aim.white

        def done(value: Reading) -> None:
            self._spots.append(value)
            self.aim = self.aim.learnt(value)
            self._rows = spot_rows(self._spots, self.aim)
            row = self._rows[-1]
            off = "" if row.de2000 is None or patch.is_white else f", ΔE 2000 {row.de2000:.1f}"
            name = "White" if patch.is_white else patch.name.capitalize()
            self.said.emit(
                f"{name}: {row.Y:.4g} ± {row.sd:.2g} cd/m², x {row.x:.4f}, y {row.y:.4f}{off}, "
                f"in {value.took:.1f} s."
            )

        self._begin("Reading once", choice, lambda run, bench: run.procedure(bench, read_once(patch, white)), done)

    def choose_patch(self, words: str) -> None:
        """Read this patch from now on; what is no patch is said when it is to be read."""
        self.patch = words

    def aim_at(self, snapshot: Snapshot | None) -> None:
        """Hold readings to the target of the visit, and to the white and black that it has measured."""
        target = target_named(snapshot.visit.target) if snapshot else DEFAULT_TARGET
        found = (snapshot.result(PROOF) or snapshot.result(AS_FOUND)) if snapshot else None
        white, black = (found.white, found.black) if found else (0.0, 0.0)
        visit_id = snapshot.visit.id if snapshot else 0
        if visit_id != self._visit_id:
            # Readings of another screen are held to nothing here.
            self._visit_id, self._spots = visit_id, []
        if self._spots:
            white, black = self.aim.white or white, self.aim.black or black
        self.aim = Aim(target, white, black)
        self._rows = spot_rows(self._spots, self.aim)

    def _patch_of(self, choice: BenchChoice) -> Patch | None:
        try:
            return patch_typed(self.patch, choice.format)
        except ValueError as error:
            self.said.emit(f"{error}.")
            return None

    def watch_warm_up(self, choice: BenchChoice) -> None:
        """Watch white until the screen has settled."""
        plan = WarmUpPlan(choice.format)

        def done(value: Warmth) -> None:
            self.said.emit(value.words)

        self._begin("Warm-up watch", choice, lambda run, bench: run.procedure(bench, warm_up(plan)), done)

    def measure_delay(self, choice: BenchChoice) -> None:
        """Measure the delay that source and screen need, and use it."""

        def done(value: Delay) -> None:
            self.said.emit(self.note)
            self.chosen.emit({"settle_seconds": value.seconds})

        format_ = choice.format
        self._begin(
            "Measuring the delay",
            choice,
            lambda run, bench: run.procedure(bench, measure_delay(format_)),
            done,
            charted=False,
        )

    def find_refresh(self, choice: BenchChoice) -> None:
        """Have the meter measure the refresh, and integrate over it."""

        def work(_run: MeasurementThread) -> float:
            benched = self._instruments.bench(choice)
            if not isinstance(benched.meter, LineMeter):
                raise InstrumentError(benched.meter.name, "it cannot measure a refresh rate")
            benched.bench.source.show(grey_patch(100.0, choice.format))
            return benched.meter.measure_refresh()

        def done(hz: float) -> None:
            self.said.emit(_refresh_words(hz))
            self.chosen.emit({"synchronise_hz": hz})

        self._start("Finding the refresh", choice, work, done, charted=False)

    def check_mode(self, snapshot: Snapshot | None, choice: BenchChoice) -> None:
        """Read red, green and blue, and say whether they can be those of this kind of screen."""
        technology = snapshot.visit.technology if snapshot else Technology.UNKNOWN

        def done(readings: list[Reading]) -> None:
            judged = suspect(technology, np.array([reading.xyz for reading in readings[:3]]))
            if judged is None:
                self.said.emit("Note at Arrive what kind of screen this is; then its primaries can be judged.")
            else:
                self.said.emit(judged.words or "Red, green and blue are as usual for this kind of screen.")

        format_ = choice.format
        self._begin(
            "Checking the mode",
            choice,
            lambda run, bench: run.procedure(bench, read_colours(FOUR_COLOURS, format_)),
            done,
            charted=False,
        )

    def correct(self, snapshot: Snapshot | None, choice: BenchChoice) -> None:
        """Read eight colours with the reference and with the field meter, and keep the matrix between them."""
        if choice.meter is Connection.BY_HAND:
            self.said.emit("First choose the meter to correct; one read by hand cannot be corrected here.")
            return
        technology = (snapshot and snapshot.visit.technology) or technology_of(choice.meter_mode)
        screen = snapshot.visit.screen if snapshot else ""
        bare = replace(choice, correction_id=0)
        reference_key = self.reference

        def work(run: MeasurementThread) -> CorrectionRecord:
            benched, reference = self._instruments.bench(bare), self._instruments.reference(bare, reference_key)
            made = corrected_by(run, benched, reference, bare, technology, screen)
            return self._logbook.shelf.keep_correction(made)

        def done(record: CorrectionRecord) -> None:
            self.said.emit(
                f"Corrected by {record.reference}, {record.method}: it leaves up to {record.fit_uv:.4f} in u'v' "
                f"and {record.fit_light:.1f} % of light. It is used from now on."
            )
            self.chosen.emit({"correction_id": record.id})
            self.enter()

        self._start("Correcting the meter", choice, work, done, charted=False)

    def stop(self) -> None:
        """Stop what runs."""
        if self._run is not None:
            self._run.stop()

    def close(self) -> None:
        """The window closes."""
        self.stop()
        if self._run is not None:
            self._instruments.hurry()
            wait_for(self._run, _PATIENCE_MS)

    # Plumbing

    def _begin(
        self,
        title: str,
        choice: BenchChoice,
        work: Callable[[MeasurementThread, Bench], Any],
        done: Callable[[Any], None],
        *,
        charted: bool = True,
    ) -> None:
        def on_bench(run: MeasurementThread) -> Any:
            bench = self._instruments.bench(choice).bench
            self.noise = bench.meter.noise
            return work(run, bench)

        self._start(title, choice, on_bench, done, charted=charted)

    def _start(
        self,
        title: str,
        choice: BenchChoice,
        work: Callable[[MeasurementThread], Any],
        done: Callable[[Any], None],
        *,
        charted: bool,
    ) -> None:
        if self._run is not None:
            return
        self.title, self.note, self.reading, self.warmth = title, "", None, None
        self._charted = charted
        if charted:
            self._samples.clear()
        run = MeasurementThread(work, self._operator, self._digest, choice.care)
        run.heard.connect(self._on_heard)
        run.ended.connect(lambda value, sentence: self._on_ended(value, sentence, done))
        self._run = run
        run.start()
        self.changed.emit()

    def _digest(self, event: Event) -> object | None:
        """In the runner's thread: what the window is to hear."""
        match event:
            case StepDone(_, Read(), Reading() as reading):
                wanted = None if reading.patch.is_grey else self.aim.wanted(reading.patch.signal)
                reference = self.aim.target.white.xyz() if wanted is None else wanted
                cast = cast_of(np.clip(reading.xyz, 1e-9, None), reference)
                return Sample(reading.at, reading.Y, cast.warm, cast.green), reading
            case StepDone(_, Progress(_, _, Warmth() as warmth)):
                return warmth
            case StepDone(_, Note(text)):
                return text
        return None

    def _on_heard(self, told: object) -> None:
        match told:
            case (Sample() as sample, Reading() as reading):
                self.reading = reading
                if self._charted:
                    self._keep(sample)
            case Warmth():
                self.warmth = told
            case str():
                self.note = told
        self.changed.emit()

    def _keep(self, sample: Sample) -> None:
        if len(self._samples) >= _MOST_SAMPLES:
            del self._samples[: _MOST_SAMPLES // 4]
        self._samples.append(sample)

    def _on_ended(self, value: Any, sentence: str, done: Callable[[Any], None]) -> None:
        run, self._run = self._run, None
        if run is not None:
            run.wait()
        if not self._charted:
            # The last of many colours tells nobody anything.
            self.reading = None
        self.title = ""
        if sentence:
            self.said.emit(sentence)
        elif value is not None:
            done(value)
        self.changed.emit()

    def _failed(self, error: Exception) -> None:
        self.said.emit(f"{str(error).rstrip('.')}. What was chosen before is kept.")


def _refresh_words(hz: float) -> str:
    return (
        f"The light pulses at {hz:g} Hz; the meter integrates over whole pulses." if hz else "The light is steady."
    )


def _choosing(record: InstrumentRecord) -> dict[str, Any]:
    match record.kind:
        case InstrumentKind.METER:
            return {"meter": Connection.INSTRUMENT, "meter_id": record.id, "correction_id": 0}
        case InstrumentKind.SOURCE:
            return {"patterns": Connection.INSTRUMENT, "source_id": record.id}
    return {"link": Connection.INSTRUMENT, "link_id": record.id}
