"""What is written of a visit as a whole, and the facts afterwards: run at the desk, no Qt."""

from pathlib import Path

from aequitone.colorimetry import Formula
from aequitone.logbook import Logbook, PassState, VisitRecord
from aequitone.passes import SET_ASIDE_BY_PERSON, PassType, Snapshot, load_snapshot


def set_aside(logbook: Logbook, visit_id: int, pass_id: int) -> Snapshot:
    """Set an interrupted pass aside; its readings stay."""
    logbook.end_pass(pass_id, PassState.SET_ASIDE, SET_ASIDE_BY_PERSON)
    return load_snapshot(logbook, visit_id)


def choose_light(logbook: Logbook, visit_id: int, light: float) -> Snapshot:
    """Want another light of white in the end."""
    logbook.choose_light(visit_id, light)
    return load_snapshot(logbook, visit_id)


def choose_white(
    logbook: Logbook, visit_id: int, stop_at: float, formula: Formula, pair: tuple[float, float]
) -> Snapshot:
    """Stop white balance at another ΔE, by another formula, or adjust it at other levels."""
    logbook.choose_white(visit_id, stop_at, formula, pair)
    return load_snapshot(logbook, visit_id)


def choose_target(logbook: Logbook, visit: VisitRecord, target: str) -> Snapshot:
    """Bring the memory to another target."""
    logbook.change_visit(visit.id, target=target, levels=visit.levels, bench=visit.bench, controls=())
    return load_snapshot(logbook, visit.id)


def close_visit(logbook: Logbook, visit_id: int) -> Snapshot:
    """Close the visit; raises OpenDebts."""
    logbook.close_visit(visit_id)
    return load_snapshot(logbook, visit_id)


def take_from_file(logbook: Logbook, visit: VisitRecord, kind: PassType, path: Path) -> Snapshot:
    """Enter the readings of a file as a pass; raises ImportFailed."""
    # Imported here: a start without files does without them.
    from aequitone.handover.passes_in import import_pass
    from aequitone.handover.readings_in import read_file

    import_pass(logbook, visit, kind, read_file(path), path.name)
    return load_snapshot(logbook, visit.id)
