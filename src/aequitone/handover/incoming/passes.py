"""A pass that was measured elsewhere, entered into a visit as if its meter had been asked here."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from aequitone.handover.errors import ImportFailedError
from aequitone.handover.incoming.readings import FILE_NOISE, ImportedReading
from aequitone.handover.incoming.tables import NOTHING
from aequitone.instruments import InstrumentError
from aequitone.instruments.ports import Bench, Measurement
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import FROM_FILE, PassType, enter_whole, grey_plan, load_snapshot
from aequitone.procedures.grey.first_look import WrongSignalError
from aequitone.procedures.grey.grey_pass import GreyPass, GreyPlan
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.signal import Patch

# A level is the same when it is within half a code of 8 bit.
_SAME_PERCENT = 0.25
# Anchors that drift differ by less than the first, as a share; blacks by less than the second, in cd/m².
_REPEATS_APART, _BLACKS_APART = 0.15, 0.05


def import_pass(
    logbook: Logbook,
    visit: VisitRecord,
    kind: PassType[GreyPlan, GreyPass],
    rows: Sequence[ImportedReading],
    source: str,
) -> GreyPass:
    """Enter a grey pass from a file. Raises ImportFailedError, and then nothing was entered."""
    if not kind.from_file:
        raise ImportFailedError("Readings from a file are a pass as found or a proof, not an adjustment.")
    snapshot = load_snapshot(logbook, visit.id, advice=False)
    plan = replace(grey_plan(snapshot), repeat_anchors=False, anchor_every=0)
    file = _File(_greys(rows, plan.percents, source))
    journal = MemoryJournal()
    # Worked out in memory first: what cannot be a pass leaves nothing behind.
    try:
        found = Runner(Bench(file, file, None, file), journal, NobodyThere()).run(kind.procedure(plan))
    except (InstrumentError, WrongSignalError) as error:
        raise ImportFailedError(f"{source} makes no pass: {str(error).rstrip('.')}. {NOTHING}") from error
    enter_whole(logbook, visit.id, kind, plan, {"meter": FROM_FILE, "file": source}, journal, found)
    return found


def _greys(
    rows: Sequence[ImportedReading], percents: tuple[float, ...], source: str
) -> list[tuple[float, ImportedReading]]:
    """The greys of the last pass in the file that has every level."""
    missing: list[float] = []
    for group in reversed(dict.fromkeys(row.group for row in rows)):
        greys = [(row.grey_percent, row) for row in rows if row.grey_percent is not None and row.group == group]
        missing = [p for p in percents if not any(abs(level - p) <= _SAME_PERCENT for level, _ in greys)]
        if not missing:
            _check_repeats(greys, percents, source)
            return greys
    raise ImportFailedError(
        f"{source} lacks {', '.join(f'{percent:g} %' for percent in missing)} of the {len(percents)} grey levels "
        "of this visit. Choose the number of levels at Arrive that it has. {NOTHING}"
    )


def _check_repeats(
    greys: Sequence[tuple[float, ImportedReading]], percents: tuple[float, ...], source: str
) -> None:
    """Refuse a level that was read twice with such different light that one of them is of something else."""
    for percent in percents:
        near = [row for level, row in greys if abs(level - percent) <= _SAME_PERCENT]
        low, high = (pick(near, key=lambda row: float(row.xyz[1])) for pick in (min, max))
        apart = float(high.xyz[1] - low.xyz[1])
        if apart > max(_REPEATS_APART * float(high.xyz[1]), _BLACKS_APART):
            raise ImportFailedError(
                f"{source} has {percent:g} % more than once, with {low.xyz[1]:.4g} cd/m² in line {low.line} and "
                f"{high.xyz[1]:.4g} in line {high.line}. Leave one of them in it. {NOTHING}"
            )


class _File:
    """Meter, source and clock of a pass that lies in a file."""

    name = "File"
    settle_seconds = 0.0
    repeats = False
    noise = FILE_NOISE

    def __init__(self, greys: list[tuple[float, ImportedReading]]) -> None:
        self._greys = greys

    def show(self, patch: Patch) -> None:
        """Nothing is shown."""

    def shows(self, patch: Patch) -> bool:  # noqa: ARG002 - port
        return True

    def measure(self, patch: Patch, seconds: float) -> Measurement:  # noqa: ARG002 - it was measured long ago
        near = [row.xyz for level, row in self._greys if abs(level - patch.percent) <= _SAME_PERCENT]
        X, Y, Z = np.mean(near, axis=0).tolist()
        return Measurement(X, Y, Z)

    def now(self) -> float:
        return 0.0

    def sleep(self, seconds: float) -> None:
        """No time passes."""
