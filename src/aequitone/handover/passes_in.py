"""A pass that was measured elsewhere, entered into a visit as if its meter had been asked here."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from aequitone.handover.errors import ImportFailedError
from aequitone.handover.readings_in import ImportedReading
from aequitone.instruments.ports import Bench, Measurement, MeterNoise
from aequitone.logbook import Logbook, VisitRecord
from aequitone.passes import PassType, begin_planned, carry_out, grey_plan, load_snapshot
from aequitone.procedures.grey.grey_pass import GreyPass, GreyPlan
from aequitone.procedures.runner import NobodyThere
from aequitone.signal import Patch

# A level is the same when it is within half a code of 8 bit.
_SAME_PERCENT = 0.25


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
    greys = _greys(rows, plan.percents, source)
    prepared = begin_planned(logbook, snapshot, kind, plan, {"meter": "file", "file": source})
    file = _File(greys)
    return carry_out(logbook, prepared, Bench(file, file, None, file), NobodyThere())


def _greys(
    rows: Sequence[ImportedReading], percents: tuple[float, ...], source: str
) -> list[tuple[float, ImportedReading]]:
    """The greys of the last pass in the file that has every level."""
    missing: list[float] = []
    for group in reversed(dict.fromkeys(row.group for row in rows)):
        greys = [(row.grey_percent, row) for row in rows if row.grey_percent is not None and row.group == group]
        missing = [p for p in percents if not any(abs(level - p) <= _SAME_PERCENT for level, _ in greys)]
        if not missing:
            return greys
    raise ImportFailedError(
        f"{source} lacks {', '.join(f'{percent:g} %' for percent in missing)} of the {len(percents)} grey levels "
        "of this visit. Choose the number of levels at Arrive that it has. Nothing was taken from it."
    )


class _File:
    """Meter, source and clock of a pass that lies in a file."""

    name = "File"
    settle_seconds = 0.0
    repeats = False
    # What the digits of a file are good for; nobody knows the meter behind it.
    noise = MeterNoise(shot=0.01, floor=0.002)

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
