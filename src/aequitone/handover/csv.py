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


def numbered_readings(logbook: Logbook, record: PassRecord, *, glances: bool) -> list[tuple[int, Reading]]:
    """The readings of a pass with their numbers in it, from 1.

    `glances`: also those that were taken while a control was watched on its way, which are many and say little.
    """
    numbered = list(enumerate(logbook.readings(record.id), 1))
    if glances or not pass_type(record.kind).adjusts:
        return numbered
    return [(number, reading) for number, reading in numbered if reading.purpose is not Purpose.WATCH]


def write_readings(logbook: Logbook, visit: VisitRecord, path: Path, *, glances: bool = False) -> int:
    """Write the readings of a visit in the order they were taken; returns how many."""
    count = 0
    with path.open("w", newline="", encoding="utf-8") as file:
        table = csv.writer(file)
        table.writerow(HEADS)
        jobs = {job.id: job for job in logbook.jobs.of(visit.id)}
        for record in logbook.passes(visit.id):
            job = jobs[record.job_id]
            for step, reading in numbered_readings(logbook, record, glances=glances):
                patch, format_ = reading.patch, reading.patch.format
                table.writerow(
                    (
                        record.id, record.kind, step, patch.name, f"{patch.percent:g}", *patch.codes,
                        format_.depth, format_.range.value, f"{format_.window:g}", reading.purpose.value,
                        *(f"{value:.6g}" for value in (*reading.xyz, *reading.sd)),
                        reading.repeats, f"{reading.seconds:g}",
                        format_.transfer.value, format_.container.value, reading.rejected,
                        job.id, job.input, job.memory,
                    )
                )  # fmt: skip
                count += 1
    return count
