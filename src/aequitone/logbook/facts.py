"""All that is known of a visit at one moment, worked out from the logbook in one go."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import TypeVar

from aequitone.advice.roles import Role
from aequitone.logbook.ledger import CheckRecord, DebtRecord, SettingRecord, standing
from aequitone.logbook.passes import grey_result, levels_result, prepared_result, tone_result, white_result
from aequitone.logbook.records import ControlRecord, PassKind, PassRecord, PassState, VisitRecord
from aequitone.logbook.shelf import CorrectionRecord
from aequitone.logbook.store import Logbook
from aequitone.procedures.choosing import ChoiceState
from aequitone.procedures.evenness import Evenness
from aequitone.procedures.grey_pass import GreyPass
from aequitone.procedures.journal import JournalMismatch
from aequitone.procedures.levels import LevelsState
from aequitone.procedures.room import RoomLight
from aequitone.procedures.steps import Reading
from aequitone.procedures.tone import ToneState
from aequitone.procedures.warm_up import Warmth
from aequitone.procedures.white_balance import WhiteResult
from aequitone.procedures.white_session import WhiteState


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
    levels: LevelsState | None = None
    """Where the newest pass of levels stands, or how it ended."""
    tone: ToneState | None = None
    """Where the newest pass of tone stands, or how it ended."""
    trip_seconds: float = 0.0
    """What a trip to the menu has taken on this visit; 0 where none was made, or without advice."""
    warmth: Warmth | None = None
    room: RoomLight | None = None
    choice: ChoiceState | None = None
    mode: ChoiceState | None = None
    gamma: ChoiceState | None = None
    evenness: Evenness | None = None
    checks: dict[str, CheckRecord] = field(default_factory=dict)
    debts: tuple[DebtRecord, ...] = ()
    history: tuple[SettingRecord, ...] = ()
    """Every setting that was noted, oldest first."""
    correction: CorrectionRecord | None = None
    """Of the meter, where one is chosen and still on the shelf."""

    def seconds(self, kind: PassKind) -> float:
        """Time spent on passes of a kind, set aside ones included."""
        return sum(record.seconds for record in self.passes if record.kind is kind)

    def done(self, kind: PassKind) -> bool:
        return any(p.kind is kind and p.state is PassState.DONE for p in self.passes)


def load_facts(logbook: Logbook, visit_id: int, *, advice: bool = True) -> VisitFacts:
    """The facts of a visit; LookupError where there is none.

    Without `advice` levels and white balance are not worked out again, which is most of the time this takes.
    """
    visit = logbook.visit(visit_id)
    passes = tuple(logbook.passes(visit_id))
    running = [record for record in passes if record.state is PassState.RUNNING]
    white = _newest(passes, PassKind.WHITE)
    white_value, white_state = _kept(lambda record: white_result(logbook, record), white if advice else None) or (
        None,
        None,
    )
    history = logbook.ledger.history(visit_id)
    with_readings = [record for record in passes if record.readings]
    return VisitFacts(
        visit=visit,
        controls=logbook.controls(visit.screen_id),
        found_settings=standing(history, as_found=True),
        settings=standing(history),
        passes=passes,
        as_found=_grey(logbook, passes, PassKind.AS_FOUND),
        white=white_value,
        white_state=white_state,
        proof=_grey(logbook, passes, PassKind.PROOF),
        interrupted=running[-1] if running else None,
        readings=logbook.readings(with_readings[-1].id) if with_readings else (),
        found_notes=_notes(logbook, passes, PassKind.AS_FOUND),
        proof_notes=_notes(logbook, passes, PassKind.PROOF),
        levels=_kept(
            lambda record: levels_result(logbook, record), _newest(passes, PassKind.LEVELS) if advice else None
        ),
        tone=_kept(
            lambda record: tone_result(logbook, record), _newest(passes, PassKind.TONE) if advice else None
        ),
        trip_seconds=logbook.trip_seconds(visit_id) if advice else 0.0,
        warmth=_prepared(logbook, passes, PassKind.WARM_UP, Warmth),
        room=_prepared(logbook, passes, PassKind.ROOM, RoomLight),
        choice=_prepared(logbook, passes, PassKind.CHOICE, ChoiceState),
        mode=_prepared(logbook, passes, PassKind.MODE, ChoiceState),
        gamma=_prepared(logbook, passes, PassKind.GAMMA, ChoiceState),
        evenness=_prepared(logbook, passes, PassKind.EVENNESS, Evenness),
        checks=logbook.ledger.checks(visit_id),
        debts=logbook.ledger.debts(visit_id),
        history=history,
        correction=_correction(logbook, visit.bench.correction_id),
    )


def _newest(passes: tuple[PassRecord, ...], kind: PassKind) -> PassRecord | None:
    kept = [record for record in passes if record.kind is kind and record.state is not PassState.SET_ASIDE]
    return kept[-1] if kept else None


T = TypeVar("T")


def _kept(work: Callable[[PassRecord], T], record: PassRecord | None) -> T | None:
    """What a record says; None where it was made by another version, whose advice cannot be worked out again."""
    try:
        return work(record) if record is not None else None
    except JournalMismatch:
        return None


def _prepared(logbook: Logbook, passes: tuple[PassRecord, ...], kind: PassKind, wanted: type[T]) -> T | None:
    found = _kept(lambda record: prepared_result(logbook, record), _newest(passes, kind))
    return found if isinstance(found, wanted) else None


def _correction(logbook: Logbook, correction_id: int) -> CorrectionRecord | None:
    return next((c for c in logbook.shelf.corrections() if c.id == correction_id), None) if correction_id else None


def _notes(logbook: Logbook, passes: tuple[PassRecord, ...], kind: PassKind) -> tuple[str, ...]:
    done = [record for record in passes if record.kind is kind and record.state is PassState.DONE]
    return tuple(logbook.notes(done[-1].id)) if done else ()


def _grey(logbook: Logbook, passes: tuple[PassRecord, ...], kind: PassKind) -> GreyPass | None:
    done = [record for record in passes if record.kind is kind and record.state is PassState.DONE]
    return _kept(lambda record: grey_result(logbook, record), done[-1] if done else None)
