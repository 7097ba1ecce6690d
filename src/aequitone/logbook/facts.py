"""All that is known of a visit at one moment, worked out from the logbook in one go."""

from collections.abc import Sequence
from dataclasses import dataclass

from aequitone.advice.roles import Role
from aequitone.logbook.passes import grey_result, white_result
from aequitone.logbook.records import ControlRecord, PassKind, PassRecord, PassState, VisitRecord
from aequitone.logbook.shelf import CorrectionRecord
from aequitone.logbook.store import Logbook
from aequitone.procedures.grey_pass import GreyPass
from aequitone.procedures.journal import JournalMismatch
from aequitone.procedures.steps import Reading
from aequitone.procedures.white_balance import WhiteResult, WhiteState


@dataclass(frozen=True)
class VisitFacts:
    """A snapshot: safe in any thread, and it does not change."""

    visit: VisitRecord
    controls: tuple[ControlRecord, ...]
    found_settings: dict[Role, int]
    settings: dict[Role, int]
    passes: tuple[PassRecord, ...]
    as_found: GreyPass | None
    white: WhiteResult | None
    white_state: WhiteState | None
    proof: GreyPass | None
    interrupted: PassRecord | None
    readings: Sequence[Reading]
    """Of the newest pass that has any: what the instruments' pace is learnt from."""
    found_notes: tuple[str, ...] = ()
    """What was said during the pass as found, and during the proof."""
    proof_notes: tuple[str, ...] = ()
    correction: CorrectionRecord | None = None
    """Of the meter, where one is chosen and still on the shelf."""

    def seconds(self, kind: PassKind) -> float:
        """Time spent on passes of a kind, set aside ones included."""
        return sum(record.seconds for record in self.passes if record.kind is kind)

    def done(self, kind: PassKind) -> bool:
        return any(p.kind is kind and p.state is PassState.DONE for p in self.passes)


def load_facts(logbook: Logbook, visit_id: int, *, advice: bool = True) -> VisitFacts:
    """The facts of a visit; LookupError where there is none.

    Without `advice` white balance is not worked out again, which is most of the time this takes.
    """
    visit = logbook.visit(visit_id)
    passes = tuple(logbook.passes(visit_id))
    running = [record for record in passes if record.state is PassState.RUNNING]
    white = _newest(passes, PassKind.WHITE)
    white_value, white_state = None, None
    if white is not None and advice:
        try:
            white_value, white_state = white_result(logbook, white)
        except JournalMismatch:
            # A record of another version: its readings stay, its advice cannot be worked out again.
            white_value, white_state = None, None
    with_readings = [record for record in passes if record.readings]
    return VisitFacts(
        visit=visit,
        controls=logbook.controls(visit.screen_id),
        found_settings=logbook.settings(visit_id, as_found=True),
        settings=logbook.settings(visit_id),
        passes=passes,
        as_found=_grey(logbook, passes, PassKind.AS_FOUND),
        white=white_value,
        white_state=white_state,
        proof=_grey(logbook, passes, PassKind.PROOF),
        interrupted=running[-1] if running else None,
        readings=logbook.readings(with_readings[-1].id) if with_readings else (),
        found_notes=_notes(logbook, passes, PassKind.AS_FOUND),
        proof_notes=_notes(logbook, passes, PassKind.PROOF),
        correction=_correction(logbook, visit.bench.correction_id),
    )


def _newest(passes: tuple[PassRecord, ...], kind: PassKind) -> PassRecord | None:
    kept = [record for record in passes if record.kind is kind and record.state is not PassState.SET_ASIDE]
    return kept[-1] if kept else None


def _correction(logbook: Logbook, correction_id: int) -> CorrectionRecord | None:
    return next((c for c in logbook.shelf.corrections() if c.id == correction_id), None) if correction_id else None


def _notes(logbook: Logbook, passes: tuple[PassRecord, ...], kind: PassKind) -> tuple[str, ...]:
    done = [record for record in passes if record.kind is kind and record.state is PassState.DONE]
    return tuple(logbook.notes(done[-1].id)) if done else ()


def _grey(logbook: Logbook, passes: tuple[PassRecord, ...], kind: PassKind) -> GreyPass | None:
    done = [record for record in passes if record.kind is kind and record.state is PassState.DONE]
    if not done:
        return None
    try:
        return grey_result(logbook, done[-1])
    except JournalMismatch:
        return None
