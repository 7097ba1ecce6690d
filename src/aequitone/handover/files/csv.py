"""Readings as CSV (docs/formats.md)."""

import csv
from pathlib import Path

from aequitone.logbook import Logbook, PassRecord, VisitRecord
from aequitone.passes import pass_type
from aequitone.procedures.steps import Purpose, Reading

HEADS = (
    "pass", "kind", "step", "patch", "percent", "code_r", "code_g", "code_b", "depth_bit", "range",
    "window_share", "purpose", "X_cd_m2", "Y_cd_m2", "Z_cd_m2", "sd_X", "sd_Y", "sd_Z", "repeats", "integration_s",
    "transfer", "container", "left_out", "job", "input", "memory",
)  # fmt: skip

_BEGIN_A_FORMULA = ("=", "+", "-", "@")

Row = tuple[str | float | int, ...]


def numbered_readings(logbook: Logbook, record: PassRecord, *, glances: bool) -> list[tuple[int, Reading]]:
    """The readings of a pass with their numbers in it, from 1.

    `glances`: also those that were taken while a control was watched on its way, which are many and say little.
    """
    numbered = list(enumerate(logbook.readings(record.id), 1))
    if glances or not pass_type(record.kind).adjusts:
        return numbered
    return [(number, reading) for number, reading in numbered if reading.purpose is not Purpose.WATCH]


def readings_rows(logbook: Logbook, visit: VisitRecord, *, glances: bool = False) -> list[Row]:
    """The readings of a visit in the order they were taken, a row each under HEADS."""
    jobs = {job.id: job for job in logbook.jobs.of(visit.id)}
    rows: list[Row] = []
    for record in logbook.passes(visit.id):
        job = jobs[record.job_id]
        for step, reading in numbered_readings(logbook, record, glances=glances):
            patch, format_ = reading.patch, reading.patch.format
            rows.append(
                (
                    record.id, record.kind, step, patch.name, patch.percent, *patch.codes,
                    format_.depth, format_.range.value, format_.window, reading.purpose.value,
                    *reading.xyz, *reading.sd, reading.repeats, reading.seconds,
                    format_.transfer.value, format_.container.value, reading.rejected,
                    job.id, _inert(job.input), _inert(job.memory),
                )
            )  # fmt: skip
    return rows


def _inert(words: str) -> str:
    """A person's own words, so that no spreadsheet takes them for a formula by their first letter."""
    return f"'{words}" if words[:1] in _BEGIN_A_FORMULA else words


def write_readings(logbook: Logbook, visit: VisitRecord, path: Path, *, glances: bool = False) -> int:
    """Write the readings of a visit in the order they were taken; returns how many."""
    rows = readings_rows(logbook, visit, glances=glances)
    with path.open("w", newline="", encoding="utf-8") as file:
        table = csv.writer(file)
        table.writerow(HEADS)
        table.writerows([f"{cell:.6g}" if isinstance(cell, float) else cell for cell in row] for row in rows)
    return len(rows)
