"""A pass that was measured elsewhere, entered into a visit as if its meter had been asked here."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from aequitone.handover.errors import ImportFailed
from aequitone.handover.readings_in import ImportedReading
from aequitone.instruments.ports import Bench, Measurement, MeterNoise
from aequitone.logbook import Logbook, PassKind, VisitRecord
from aequitone.logbook.passes import PreparedPass, carry_out, grey_plan
from aequitone.logbook.plans import grey_plan_out
from aequitone.logbook.records import GREY_PASSES
from aequitone.procedures.grey_pass import GreyPass
from aequitone.procedures.runner import NobodyThere
from aequitone.signal import Patch

# A level is the same when it is within half a code of 8 bit.
_SAME_PERCENT = 0.25


def import_pass(
    logbook: Logbook, visit: VisitRecord, kind: PassKind, rows: Sequence[ImportedReading], source: str
) -> GreyPass:
    """Enter a grey pass from a file. Raises ImportFailed, and then nothing was entered."""
    if kind not in GREY_PASSES:
        raise ImportFailed("Readings from a file are a pass as found or a proof, not an adjustment.")
    plan = replace(grey_plan(visit, kind), repeat_anchors=False, anchor_every=0, first_look=False)
    greys = _greys(rows, plan.percents, source)
    bench = {"meter": "file", "file": source}
    prepared = PreparedPass(logbook.begin_pass(visit.id, kind, grey_plan_out(plan), bench), kind, plan)
    file = _File(greys)
    found = carry_out(logbook, prepared, Bench(file, file, None, file), NobodyThere())
    assert isinstance(found, GreyPass)
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
            return greys
    raise ImportFailed(
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
