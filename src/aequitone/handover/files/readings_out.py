"""Readings as CGATS.17 text, for other programs."""

from pathlib import Path

from aequitone.handover.files.csv import numbered_readings
from aequitone.logbook import Logbook, PassRecord, VisitRecord

_FORMAT = "SAMPLE_ID SAMPLE_NAME RGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z"


def write_cgats(
    logbook: Logbook, visit: VisitRecord, record: PassRecord, path: Path, *, glances: bool = False
) -> int:
    """Write the readings of a pass (ISO 28178); signals in %, XYZ in cd/m². Returns how many."""
    readings = numbered_readings(logbook, record, glances=glances)
    lines = [
        "CGATS.17",
        f'ORIGINATOR "Aequitone, pass {record.id}, {record.kind}"',
        f'DESCRIPTOR "{_plain(visit.screen)}, {_plain(visit.input)}, {_plain(visit.memory)}"',
        f'CREATED "{record.started:%Y-%m-%d}"',
        f"NUMBER_OF_FIELDS {len(_FORMAT.split())}",
        "BEGIN_DATA_FORMAT",
        _FORMAT,
        "END_DATA_FORMAT",
        f"NUMBER_OF_SETS {len(readings)}",
        "BEGIN_DATA",
    ]
    for number, reading in readings:
        signal = " ".join(f"{100.0 * value:.5g}" for value in reading.patch.signal)
        xyz = " ".join(f"{value:.6g}" for value in reading.xyz)
        lines.append(f'{number} "{_plain(reading.patch.name)}" {signal} {xyz}')
    lines.append("END_DATA")
    path.write_text("\n".join(lines) + "\n", "utf-8")
    return len(readings)


def _plain(words: str) -> str:
    return words.replace('"', "'")
