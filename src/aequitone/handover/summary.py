"""summary.json of a run without a window (docs/formats.md): keys are added, never renamed."""

import math
from typing import Any

from aequitone.advice.moves import Move
from aequitone.handover.open_points import open_points
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.records import JobRecord
from aequitone.passes import (
    AS_FOUND,
    COLOURS_FOUND,
    COLOURS_LEFT,
    MANAGEMENT,
    PEAK,
    PROOF,
    WHITE,
    Snapshot,
    load_snapshot,
)
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.colour.manage_plan import Managed
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.procedures.hdr.peak import PeakPass


def summary(logbook: Logbook, visit: VisitRecord, seed: int) -> dict[str, Any]:
    """What a visit measured and did: of its first job, and under "jobs" of each; a missing pass is null."""
    jobs = [_job(load_snapshot(logbook, visit.id, job_id=job.id), job) for job in logbook.jobs.of(visit.id)]
    first = {key: value for key, value in jobs[0].items() if key not in _OF_JOB_ALONE}
    return {"seed": seed, **first, "jobs": jobs}


# In the list of jobs, and not again beside it.
_OF_JOB_ALONE = ("job", "input", "memory", "levels_read", "light_cd_m2", "left_out")


def _job(snapshot: Snapshot, job: JobRecord) -> dict[str, Any]:
    visit = snapshot.visit
    result = snapshot.result(WHITE)
    trips = result.state.trips if result else ()
    return {
        "job": job.id,
        "input": visit.input,
        "memory": visit.memory,
        "levels_read": visit.levels,
        "light_cd_m2": visit.light or None,
        "left_out": job.left_out,
        "target": visit.target,
        "as_found": grey_summary(snapshot.result(AS_FOUND)),
        "proof": grey_summary(snapshot.result(PROOF)),
        "peak": peak_summary(snapshot.result(PEAK)),
        "colours_as_found": colour_summary(snapshot.result(COLOURS_FOUND)),
        "colours_as_left": colour_summary(snapshot.result(COLOURS_LEFT)),
        "open": list(open_points(snapshot)),
        "colour_management": _management(snapshot.result(MANAGEMENT)),
        "moves": [
            _move(number, trip.move, trip.worst_before, trip.worst_after, trip.worst_sd)
            for number, trip in enumerate(trips, 1)
        ],
        "stopped": result.words if result else None,
        "readings": sum(record.readings for record in snapshot.passes),
        "menu_trips": len(trips),
        "simulated_minutes": round(sum(record.seconds for record in snapshot.passes) / 60.0, 2),
    }


def grey_summary(found: GreyPass | None) -> dict[str, Any] | None:
    """The levels of a pass as JSON; nan becomes null."""
    if found is None:
        return None
    errors = found.errors
    return {
        "white_cd_m2": found.white,
        "black_cd_m2": found.black,
        "drift_percent": found.drift,
        "formula": found.formula.value,
        "mean": _number(found.mean),
        "mean_sd": _number(found.mean_sd),
        "levels": [
            {
                "percent": percent,
                "X": float(found.xyz[i, 0]),
                "Y": float(found.xyz[i, 1]),
                "Z": float(found.xyz[i, 2]),
                "de2000": _number(errors.de2000[i]),
                "de2000_sd": _number(errors.de2000_sd[i]),
                "de2000_cast": _number(errors.de2000_cast[i]),
                "deitp": _number(errors.deitp[i]),
                "beyond": bool(errors.beyond[i]),
                "light_percent": _number(errors.light[i]),
                "cast_warm_uv": _number(errors.cast[i, 0]),
                "cast_green_uv": _number(errors.cast[i, 1]),
            }
            for i, percent in enumerate(found.percents)
        ],
    }


def peak_summary(found: PeakPass | None) -> dict[str, Any] | None:
    """What a screen can give in HDR, as JSON."""
    if found is None:
        return None
    shoulder = found.shoulder
    return {
        "windows": [{"share": share, "white_cd_m2": light} for share, light, _ in found.windows],
        "held_share": found.held[-1][1] if found.held else None,
        "recovered_share": found.recovered,
        "black_cd_m2": found.black,
        "darkest_percent": found.darkest or None,
        "darkest_cd_m2": found.darkest_light or None,
        "knee_percent": 100.0 * shoulder.knee if shoulder is not None else None,
        "knee_sd_percent": 100.0 * shoulder.knee_sd if shoulder is not None else None,
        "curve": shoulder.kind.value if shoulder is not None else None,
        "mastering_cd_m2": shoulder.mastering or None if shoulder is not None else None,
        "moves_share": found.moves or None,
        "heeds_share": found.heeds or None,
    }


def colour_summary(found: ColourPass | None) -> dict[str, Any] | None:
    """The colours of a pass as JSON; nan becomes null."""
    if found is None:
        return None
    errors = found.errors
    return {
        "white_cd_m2": float(found.white[1]),
        "black_cd_m2": found.black,
        "drift_percent": found.drift,
        "saturations_mean_de2000": _mean(found, everyday=False),
        "everyday_mean_de2000": _mean(found, everyday=True),
        "colours": [
            {
                "name": sample.name,
                "signal_percent": list(sample.signal),
                "X": float(found.xyz[i, 0]),
                "Y": float(found.xyz[i, 1]),
                "Z": float(found.xyz[i, 2]),
                "de2000": _number(errors.de2000[i]),
                "de2000_sd": _number(errors.de2000_sd[i]),
                "deitp": _number(errors.deitp[i]),
                "light_percent": _number(errors.light[i]),
                "saturation_percent": _number(errors.saturation[i]),
                "hue_degree": _number(errors.hue[i]),
            }
            for i, sample in enumerate(found.samples)
        ],
    }


def _mean(found: ColourPass, *, everyday: bool) -> float | None:
    return found.mean(everyday=everyday)[0] if found.rows(everyday=everyday) else None


def _number(value: float) -> float | None:
    return float(value) if math.isfinite(value) else None


def _management(managed: Managed | None) -> dict[str, Any] | None:
    """What was turned of a colour management, and what came of it."""
    if managed is None:
        return None
    return {
        "words": managed.words,
        "settings": {control.role.key: control.value for control in managed.controls},
        "moves": [
            _move(number, trip.move, trip.before, trip.after, trip.sd)
            for number, trip in enumerate(managed.trips, 1)
        ],
        "light_counts": managed.formula.light,
        "everyday_reckoned_de2000": list(managed.everyday) if managed.everyday is not None else None,
        "ramps": [{"colour": ramp.colour, "step_de2000": ramp.step} for ramp in managed.ramps],
    }


def _move(number: int, move: Move, before: float, after: float, sd: float) -> dict[str, Any]:
    return {
        "trip": number,
        "changes": [
            {"role": c.role.key, "control": c.name, "from": c.from_value, "to": c.to_value} for c in move.changes
        ],
        "expected": vars(move.expected) if move.expected else None,
        "de2000_before": before,
        "de2000_after": after,
        "de2000_sd": sd,
        "undoes": move.undoes,
    }
