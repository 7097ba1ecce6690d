"""The journal of one pass, on disk: every call returns after the commit has been synced."""

from collections.abc import Mapping
from functools import partial
from itertools import pairwise

from sqlalchemy import Engine, delete, func, select
from sqlalchemy.orm import Session

from aequitone.advice.moves import Change, Expectation, Move
from aequitone.advice.roles import Role, role_of
from aequitone.instruments.ports import Clock
from aequitone.logbook import model
from aequitone.logbook.settings.ledger import add_settings
from aequitone.logbook.storage.unreadable import Unreadable
from aequitone.procedures.journal import MemoryJournal, Recorded, Turned, Wished
from aequitone.procedures.steps import Purpose, Reading
from aequitone.signal import Container, MasteringLight, Patch, Range, Shape, SignalFormat, Transfer

_WISH, _NOTE = "wish", "note"
STANDS_REASON = "stands so, said by hand"


class PassJournal:
    """Implements procedures.journal.Journal on the logbook's file."""

    def __init__(self, engine: Engine, pass_id: int, clock: Clock, reason: str) -> None:
        """`reason`: why its controls are turned, in the ledger."""
        self._engine, self._pass_id, self._clock, self._reason = engine, pass_id, clock, reason
        self._began = clock.now() - _elapsed(engine, pass_id)

    def recorded(self) -> dict[int, Recorded]:
        return recorded(self._engine, self._pass_id, Unreadable())

    def reading(self, seq: int, reading: Reading) -> None:
        self._write(reading_row(self._pass_id, seq, reading))

    def turned(self, seq: int, move: Move) -> None:
        """The move, and the ledger's new settings, in one commit."""
        with Session(self._engine) as session:
            visit_id, ids = self._ledger(session)
        reason = "put back" if move.undoes else self._reason
        # Power is no setting: it is off for one reading and on again.
        turned = {ids[c.role.key]: c.to_value for c in move.changes if c.role.key in ids}
        with Session(self._engine) as session, session.begin():
            session.add(
                model.StoredMove(
                    pass_id=self._pass_id,
                    seq=seq,
                    elapsed=self._elapsed(),
                    changes=[_change_out(change) for change in move.changes],
                    expected=vars(move.expected) if move.expected else {},
                    undoes=move.undoes,
                )
            )
            add_settings(session, visit_id, turned, reason)

    def stands(self, at: Mapping[Role, int]) -> None:
        """Where controls stand, into the ledger: the rest of the move is still to be made."""
        with Session(self._engine) as session:
            visit_id, ids = self._ledger(session)
        with Session(self._engine) as session, session.begin():
            known = {ids[role.key]: value for role, value in at.items() if role.key in ids}
            add_settings(session, visit_id, known, STANDS_REASON)

    def _ledger(self, session: Session) -> tuple[int, dict[str, int]]:
        """The visit, and the numbers of its screen's controls by role."""
        pass_ = session.get_one(model.Pass, self._pass_id)
        job = session.get_one(model.Job, pass_.job_id)
        screen = select(model.Input.screen_id).join(model.Memory).where(model.Memory.id == job.memory_id)
        controls = select(model.Control.role, model.Control.id).where(
            model.Control.screen_id == screen.scalar_subquery()
        )
        return pass_.visit_id, dict(session.execute(controls).tuples().all())

    def wished(self, seq: int, kind: str) -> None:
        self._remark(seq, _WISH, kind)

    def note(self, seq: int, text: str) -> None:
        self._remark(seq, _NOTE, text)

    def _remark(self, seq: int, kind: str, text: str) -> None:
        """Write a remark in the place of any from here on: a run that was killed after a note writes it again."""
        stale = delete(model.Remark).where(model.Remark.pass_id == self._pass_id, model.Remark.seq >= seq)
        with Session(self._engine) as session, session.begin():
            session.execute(stale)
            session.add(model.Remark(pass_id=self._pass_id, seq=seq, kind=kind, text=text))

    def _elapsed(self) -> float:
        return self._clock.now() - self._began

    def _write(self, row: model.Base) -> None:
        with Session(self._engine) as session, session.begin():
            session.add(row)


def reading_row(pass_id: int, seq: int, reading: Reading) -> model.StoredReading:
    """A reading as it is stored."""
    code_r, code_g, code_b = reading.patch.codes
    format_ = reading.patch.format
    return model.StoredReading(
        pass_id=pass_id,
        seq=seq,
        elapsed=reading.at,
        patch=reading.patch.name,
        percent=reading.patch.percent,
        code_r=code_r,
        code_g=code_g,
        code_b=code_b,
        depth=format_.depth,
        range=format_.range.value,
        window=format_.window,
        purpose=reading.purpose.value,
        X=reading.X,
        Y=reading.Y,
        Z=reading.Z,
        sd_X=reading.sd_X,
        sd_Y=reading.sd_Y,
        sd_Z=reading.sd_Z,
        repeats=reading.repeats,
        seconds=reading.seconds,
        took=reading.took,
        scatter=reading.scatter,
        transfer=format_.transfer.value,
        container=format_.container.value,
        rejected=reading.rejected,
        shape=reading.patch.shape.value,
        mastering=format_.mastering.peak if format_.mastering is not None else 0.0,
    )


def rows_of(pass_id: int, kept: MemoryJournal) -> list[model.Base]:
    """The rows of a pass that was carried out in memory and turned nothing. Raises ValueError where it did."""
    rows: list[model.Base] = []
    for seq, result in kept.results.items():
        if not isinstance(result, Reading):
            raise ValueError(f"step {seq} is no reading: {result}")
        rows.append(reading_row(pass_id, seq, result))
    return rows + [
        model.Remark(pass_id=pass_id, seq=seq, kind=_NOTE, text=text) for seq, text in kept.notes.items()
    ]


def recorded(engine: Engine, pass_id: int, unreadable: Unreadable) -> dict[int, Recorded]:
    """The results of a pass by step number, but for rows that cannot be read."""
    results: dict[int, Recorded | None] = {}
    with Session(engine) as session:
        for reading in session.scalars(select(model.StoredReading).where(model.StoredReading.pass_id == pass_id)):
            what = f"reading {reading.seq} of pass {pass_id}"
            results[reading.seq] = unreadable.read(what, partial(reading_in, reading))
        for seq in session.scalars(select(model.StoredMove.seq).where(model.StoredMove.pass_id == pass_id)).all():
            what = f"move {seq} of pass {pass_id}"
            results[seq] = unreadable.read(what, partial(_turned, session, pass_id, seq))
        wishes = select(model.Remark).where(model.Remark.pass_id == pass_id, model.Remark.kind == _WISH)
        for wish in session.scalars(wishes):
            results[wish.seq] = Wished(wish.text)
    return {seq: result for seq, result in results.items() if result is not None}


def _turned(session: Session, pass_id: int, seq: int) -> Turned:
    query = select(model.StoredMove).where(model.StoredMove.pass_id == pass_id, model.StoredMove.seq == seq)
    return Turned(move_in(session.scalars(query).one()))


def turning(session: Session, pass_id: int) -> list[float]:
    """Seconds that each trip of a pass took: from the reading before it to its being turned."""
    read = select(model.StoredReading.seq, model.StoredReading.elapsed).where(
        model.StoredReading.pass_id == pass_id
    )
    turned = select(model.StoredMove.seq, model.StoredMove.elapsed).where(model.StoredMove.pass_id == pass_id)
    ends = sorted(
        (seq, at, kind) for kind, query in enumerate((read, turned)) for seq, at in session.execute(query)
    )
    return [now[1] - before[1] for before, now in pairwise(ends) if now[2] == 1]


def notes(engine: Engine, pass_id: int) -> list[str]:
    """The notes of a pass, in order."""
    with Session(engine) as session:
        query = select(model.Remark.text).where(model.Remark.pass_id == pass_id, model.Remark.kind == _NOTE)
        return list(session.scalars(query.order_by(model.Remark.seq)))


def reading_in(row: model.StoredReading) -> Reading:
    """A reading as the procedures know it."""
    format_ = SignalFormat(
        row.depth,
        Range(row.range),
        row.window,
        Transfer(row.transfer),
        Container(row.container),
        MasteringLight.usual(row.mastering) if row.mastering else None,
    )
    return Reading(
        Patch(row.patch, row.percent, (row.code_r, row.code_g, row.code_b), format_, Shape(row.shape)),
        Purpose(row.purpose),
        row.X,
        row.Y,
        row.Z,
        row.sd_X,
        row.sd_Y,
        row.sd_Z,
        row.repeats,
        row.seconds,
        row.took,
        row.scatter,
        row.elapsed,
        row.rejected,
    )


def move_in(row: model.StoredMove) -> Move:
    """A move as the procedures know it."""
    changes = tuple(Change(role_of(c["role"]), c["name"], c["from"], c["to"], c.get("stood")) for c in row.changes)
    return Move(changes, Expectation(**row.expected) if row.expected else None, row.undoes)


def _change_out(change: Change) -> dict[str, str | int]:
    told: dict[str, str | int] = {
        "role": change.role.key,
        "name": change.name,
        "from": change.from_value,
        "to": change.to_value,
    }
    if change.stood is not None:
        told["stood"] = change.stood
    return told


def _elapsed(engine: Engine, pass_id: int) -> float:
    with Session(engine) as session:
        ends = [
            session.scalar(select(func.max(table.elapsed)).where(table.pass_id == pass_id))
            for table in (model.StoredReading, model.StoredMove)
        ]
    return max((end for end in ends if end is not None), default=0.0)
