"""All that is known of a visit at one moment, worked out from the logbook in one go."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, TypeVar

from aequitone.advice.roles import TWO_POINT, Role
from aequitone.colorimetry import Formula
from aequitone.logbook import Logbook
from aequitone.logbook.records import ControlRecord, JobRecord, PassRecord, PassState, VisitRecord
from aequitone.logbook.settings.copies import CopyRecord
from aequitone.logbook.settings.ledger import CheckRecord, DebtRecord, SettingRecord, standing
from aequitone.logbook.shelf import CorrectionRecord
from aequitone.passes.base import PassType
from aequitone.passes.kept import KeptError, from_json
from aequitone.planning.pace import BY_HAND, BY_LINK, Pace
from aequitone.procedures.grey.first_look import WrongSignalError
from aequitone.procedures.journal import JournalMismatchError
from aequitone.procedures.replay import replay
from aequitone.procedures.steps import Reading
from aequitone.signal import Transfer

P = TypeVar("P")
R = TypeVar("R")


@dataclass(frozen=True)
class Outcome:
    """What the passes of one kind came to."""

    given: Any = None
    """The result of the newest that is done, as it was given on the day; None where none was kept."""
    recomputed: Any = None
    """What this version makes of the same readings; None where it was not worked out, or does not decide alike."""
    recovered: Any = None
    """What the record alone tells, where neither is to be had."""
    progress: Any = None
    """What the newest told last, where it is not done."""
    notes: tuple[str, ...] = ()
    """What was said during the newest that is done."""


_NONE = Outcome()


@dataclass(frozen=True, kw_only=True)
class Snapshot:
    """A visit at one moment: safe in any thread, and it does not change."""

    visit: VisitRecord
    controls: tuple[ControlRecord, ...]
    found_settings: dict[Role, int]
    settings: dict[Role, int]
    passes: tuple[PassRecord, ...]
    outcomes: Mapping[str, Outcome]
    """By the key of the kind of pass."""
    readings: Sequence[Reading]
    """Of the newest pass that has any: what the instruments' pace is learnt from."""
    trip_seconds: float = 0.0
    """What a trip to the menu has taken on this visit; 0 where none was made."""
    checks: dict[str, CheckRecord] = field(default_factory=dict)
    debts: tuple[DebtRecord, ...] = ()
    history: tuple[SettingRecord, ...] = ()
    """Every setting that was noted, oldest first."""
    jobs: tuple[JobRecord, ...] = ()
    """Every job of the visit; the other fields are of the one that is worked on."""
    copies: tuple[CopyRecord, ...] = ()
    """Memories of other inputs that are to be as a finished one."""
    correction: CorrectionRecord | None = None
    """Of the meter, where one is chosen and still on the shelf."""
    _regraded: dict[str, tuple[Any, Any]] = field(default_factory=dict, repr=False, compare=False, init=False)
    """Results as kept and held to the present target, once they were asked for."""

    def result(self, kind: PassType[P, R]) -> R | None:
        """The result of the newest pass of a kind that is done: as given on the day, where that was kept."""
        kept = self.outcomes.get(kind.key, _NONE)
        found: R | None = next((r for r in (kept.given, kept.recomputed, kept.recovered) if r is not None), None)
        if found is None:
            return None
        held = self._regraded.get(kind.key)
        if held is None or held[0] is not found:
            held = self._regraded[kind.key] = found, kind.regraded(found, self)
        regraded: R = held[1]
        return regraded

    def progress(self, kind: PassType[P, Any]) -> Any:
        """What the newest pass of a kind told last, where it is under way; None otherwise."""
        return self.outcomes.get(kind.key, _NONE).progress

    def state(self, kind: PassType[P, R]) -> R | None:
        """Where the newest pass of a kind stands, if it tells its result as it grows; else the result."""
        progress = self.progress(kind)
        return progress if isinstance(progress, kind.result) else self.result(kind)

    def words(self, kind: PassType[P, R]) -> str:
        """What was said of the newest pass of a kind that is done, as it was said on the day; "" where none is."""
        done, result = self.latest_done(kind), self.result(kind)
        if done is not None and done.outcome:
            return done.outcome
        return kind.words(result) if result is not None else ""

    def revised_words(self, kind: PassType[P, R]) -> str:
        """What this version would say of the same readings, where that is not what was said; "" otherwise."""
        kept = self.outcomes.get(kind.key, _NONE)
        if kept.given is None or kept.recomputed is None:
            return ""
        said, says = kind.words(kept.given), kind.words(kept.recomputed)
        return says if says != said else ""

    def notes(self, kind: PassType[P, R]) -> tuple[str, ...]:
        """What was said during the newest pass of a kind that is done."""
        return self.outcomes.get(kind.key, _NONE).notes

    def seconds(self, *kinds: PassType[Any, Any]) -> float:
        """Time spent on passes of some kinds, set aside ones included."""
        keys = {kind.key for kind in kinds}
        return sum(record.seconds for record in self.passes if record.kind in keys)

    def done(self, kind: PassType[Any, Any]) -> bool:
        """Whether a pass of a kind is done."""
        return self.latest_done(kind) is not None

    def latest_done(self, kind: PassType[Any, Any]) -> PassRecord | None:
        """The newest pass of a kind that is done."""
        done = (p for p in reversed(self.passes) if p.kind == kind.key and p.state is PassState.DONE)
        return next(done, None)

    def ended_with(self, kind: PassType[Any, Any]) -> bool:
        """Whether the last pass of all is one of a kind, and done: nothing was begun since."""
        done = self.latest_done(kind)
        return done is not None and self.passes[-1].id == done.id

    @property
    def interrupted(self) -> PassRecord | None:
        """The pass that was under way when the program ended, or was stopped."""
        return next((p for p in reversed(self.passes) if p.state is PassState.RUNNING), None)

    @property
    def hdr(self) -> bool:
        """Whether the job that is worked on sends PQ or HLG."""
        return self.visit.bench.transfer is not Transfer.GAMMA

    @property
    def leading(self) -> Formula:
        """The ΔE that tells how good grey is: ΔE 2000 of SDR, of HDR what the job chose, its light included."""
        if not self.hdr:
            return Formula.DE2000
        return Formula.ITP if self.visit.formula in (Formula.ITP, Formula.ITP_CAST) else Formula.DE2000

    @property
    def has_two_point(self) -> bool:
        """Whether the screen has gains and biases of all three channels."""
        return {control.role for control in self.controls}.issuperset(TWO_POINT)

    @cached_property
    def pace(self) -> Pace:
        """The instruments' pace, learnt from the newest readings where there are any."""
        bench = self.visit.bench
        start = (BY_LINK if bench.by_link else Pace()) if bench.automatic else BY_HAND
        return start.learnt(self.readings, self.trip_seconds)


def load_snapshot(logbook: Logbook, visit_id: int, *, advice: bool = True, job_id: int | None = None) -> Snapshot:
    """Take the snapshot of a visit, from its present job or another; LookupError where there is none.

    Without `advice` what adjusting came to is not worked out again, which is most of the time this takes: it is
    there as it was given on the day.
    """
    from aequitone.passes import PASSES

    visit = logbook.visit(visit_id, job_id)
    passes = tuple(logbook.passes(visit_id, visit.job_id))
    history = logbook.ledger.history(visit_id, job_id)
    with_readings = [record for record in passes if record.readings]
    outcomes = {
        kind.key: _outcome(logbook, [record for record in passes if record.kind == kind.key], kind, advice=advice)
        for kind in PASSES
    }
    return Snapshot(
        visit=visit,
        controls=logbook.controls(visit.screen_id),
        found_settings=standing(history, as_found=True),
        settings=standing(history),
        passes=passes,
        outcomes=outcomes,
        readings=logbook.readings(with_readings[-1].id) if with_readings else (),
        trip_seconds=logbook.trip_seconds(visit_id, tuple(kind.key for kind in PASSES if kind.adjusts)),
        checks=logbook.ledger.checks(visit_id, job_id),
        debts=logbook.ledger.debts(visit_id, job_id),
        history=history,
        jobs=logbook.jobs.of(visit_id),
        copies=logbook.copies.of(visit_id),
        correction=_correction(logbook, visit.bench.correction_id),
    )


def load_as_given(logbook: Logbook, visit_id: int, job_id: int) -> Snapshot:
    """Take the snapshot of a job with every result as it was given on the day; LookupError where there is none.

    Only where one was not kept is adjusting worked out again.
    """
    from aequitone.passes import PASSES

    quick = load_snapshot(logbook, visit_id, advice=False, job_id=job_id)
    adjusted = (kind for kind in PASSES if kind.adjusts and quick.done(kind))
    if all(quick.outcomes[kind.key].given is not None for kind in adjusted):
        return quick
    return load_snapshot(logbook, visit_id, job_id=job_id)


def given_result(record: PassRecord, kind: PassType[Any, R]) -> R | None:
    """What a pass came to, as given on the day; None where that was not kept, or cannot be read any more."""
    try:
        return from_json(kind.result, record.result) if record.result is not None else None
    except KeptError:
        return None


def _outcome(logbook: Logbook, records: list[PassRecord], kind: PassType[Any, Any], *, advice: bool) -> Outcome:
    done = next((record for record in reversed(records) if record.state is PassState.DONE), None)
    running = next((record for record in reversed(records) if record.state is PassState.RUNNING), None)
    if done is None and running is None:
        return _NONE
    work_out = advice or not kind.adjusts
    progress = _replayed(logbook, running, kind)[1] if running is not None and work_out else None
    if done is None:
        return Outcome(progress=progress)
    given = _once(logbook, "given", done, lambda: given_result(done, kind))
    recomputed = _replayed(logbook, done, kind)[0] if work_out else None
    recovered = None
    if given is None and recomputed is None and work_out:
        recovered = _once(logbook, "recovered", done, lambda: _recovered(logbook, done, kind))
    return Outcome(given, recomputed, recovered, progress, tuple(logbook.notes(done.id)))


def _once(logbook: Logbook, what: str, record: PassRecord, work: Callable[[], Any]) -> Any:
    """Work something out of a pass once: the record of one that is done does not change any more."""
    key = (what, record.id)
    if key not in logbook.understood:
        made = work()
        if record.state is not PassState.DONE:
            return made
        logbook.understood[key] = made
    return logbook.understood[key]


def keep_understood(logbook: Logbook, pass_id: int, value: object, progress: object) -> None:
    """Keep what a pass came to that was carried out just now: its record would tell the same."""
    logbook.understood["replayed", pass_id] = value, progress


def _replayed(logbook: Logbook, record: PassRecord, kind: PassType[Any, Any]) -> tuple[Any, object]:
    """The value and the last progress of a pass; None for both where this version does not decide alike."""

    def work() -> tuple[Any, object]:
        try:
            return replay(kind.procedure(from_json(kind.plan, record.plan)), logbook.recorded(record.id))
        except (JournalMismatchError, KeptError, WrongSignalError):
            # A version that stops where another went on decides otherwise, too.
            return None, None

    found: tuple[Any, object] = _once(logbook, "replayed", record, work)
    return found


def _recovered(logbook: Logbook, record: PassRecord, kind: PassType[Any, Any]) -> Any:
    try:
        plan = from_json(kind.plan, record.plan)
    except KeptError:
        return None
    results = [result for _, result in sorted(logbook.recorded(record.id).items())]
    return kind.recover(plan, results, record.outcome)


def _correction(logbook: Logbook, correction_id: int) -> CorrectionRecord | None:
    return next((c for c in logbook.shelf.corrections() if c.id == correction_id), None) if correction_id else None
