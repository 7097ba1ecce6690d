"""A correction of the meter: the same colours by a reference meter, and by the one that is corrected."""

from dataclasses import replace

import numpy as np

from aequitone.advice.technology import Technology
from aequitone.colorimetry import uv_from_xyz
from aequitone.colorimetry.correction import Fit, four_colour, least_squares
from aequitone.desktop.session.instruments import ConnectedBench
from aequitone.desktop.tools.bench.measurement_thread import MeasurementThread
from aequitone.instruments.line_devices import LineMeter
from aequitone.instruments.ports import Bench, Meter
from aequitone.logbook import BenchChoice
from aequitone.logbook.model import now
from aequitone.logbook.shelf import CorrectionRecord
from aequitone.procedures.preparation.colour_pairs import PAIR_COLOURS, read_colours
from aequitone.procedures.steps import Reading


def corrected_by(
    run: MeasurementThread,
    benched: ConnectedBench,
    reference: Meter,
    bare: BenchChoice,
    technology: Technology,
    screen: str,
) -> CorrectionRecord:
    """Read eight colours with the reference and with the field meter; returns the matrix between them.

    `bare`: the choice of instruments without a correction. For the thread of a run: it takes a minute or two.
    """
    bench = benched.bench
    run.ask("Reference meter", "on the screen", f"Place {reference.name} on the middle of the screen.")
    by_reference = Bench(reference, bench.source, None, bench.clock)
    wanted = run.procedure(by_reference, read_colours(PAIR_COLOURS, bare.format))
    run.ask("Field meter", "on the same spot", f"Place {bench.meter.name} exactly where the reference was.")
    seen = run.procedure(bench, read_colours(PAIR_COLOURS, bare.format))
    fit = _fitted(wanted, seen)
    serial = f" {benched.meter.identity.serial}" if isinstance(benched.meter, LineMeter) else ""
    mode = f", set to {bare.meter_mode}" if bare.meter_mode else ""
    return CorrectionRecord(
        0,
        f"{benched.meter.name}{serial}{mode}",
        reference.name,
        technology,
        screen,
        fit.method,
        fit.matrix,
        fit.worst_uv,
        fit.worst_light,
        now(),
    )


def _fitted(wanted: list[Reading], seen: list[Reading]) -> Fit:
    """Four colours, or least squares over all where that leaves less."""
    reference = np.array([reading.xyz for reading in wanted])
    field = np.array([reading.xyz for reading in seen])
    four = four_colour(reference[:4], field[:4])
    many = least_squares(reference, field)
    left = field @ four.matrix.T
    over_all = float(np.linalg.norm(uv_from_xyz(left) - uv_from_xyz(reference), axis=1).max())
    return many if many.worst_uv < 0.8 * over_all else replace(four, uv=np.append(four.uv, over_all))
