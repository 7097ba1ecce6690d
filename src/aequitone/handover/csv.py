"""Readings as CSV (docs/formats.md)."""

import csv
from pathlib import Path

from aequitone.logbook import Logbook, VisitRecord

HEADS = (
    "pass", "kind", "step", "patch", "percent", "code_r", "code_g", "code_b", "depth_bit", "range",
    "window_share", "purpose", "X_cd_m2", "Y_cd_m2", "Z_cd_m2", "sd_X", "sd_Y", "sd_Z", "repeats", "integration_s",
    "transfer", "container", "left_out", "job", "input", "memory",
)  # fmt: skip


def write_readings(logbook: Logbook, visit: VisitRecord, path: Path) -> int:
    """Write every reading of a visit in the order it was taken; returns how many."""
    count = 0
    with path.open("w", newline="", encoding="utf-8") as file:
        table = csv.writer(file)
        table.writerow(HEADS)
        jobs = {job.id: job for job in logbook.jobs.of(visit.id)}
        for record in logbook.passes(visit.id):
            job = jobs[record.job_id]
            for step, reading in enumerate(logbook.readings(record.id), 1):
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
