"""The search of a logbook: visits by words of where they were."""

from collections.abc import Sequence
from functools import partial
from typing import Any

from sqlalchemy import Engine, Executable, or_, select
from sqlalchemy.orm import Session

from aequitone.advice.technology import technology_of
from aequitone.logbook import model
from aequitone.logbook.records import VisitLine
from aequitone.logbook.storage.unreadable import Unreadable


def find_visits(engine: Engine, unreadable: Unreadable, words: str, most: int, *, away: bool) -> list[VisitLine]:
    """Find visits whose client, room, screen, input or memory hold every one of the words, newest first.

    `away`: those of clients who were put away, instead of the others. A line that cannot be read is left out.
    """
    visit, screen = model.Visit, model.Screen
    names = [table.name for table in (model.Client, model.StoredRoom, screen, model.Input, model.Memory)]
    query = (
        select(visit.id, *names, screen.technology, visit.started, visit.closed, screen.hours)
        .join(model.Job, visit.job_id == model.Job.id)
        .join(model.Memory, model.Job.memory_id == model.Memory.id)
        .join(model.Input, model.Memory.input_id == model.Input.id)
        .join(screen, model.Input.screen_id == screen.id)
        .join(model.StoredRoom, screen.room_id == model.StoredRoom.id)
        .join(model.Client, model.StoredRoom.client_id == model.Client.id)
        .where(model.Client.archived == int(away))
        .order_by(visit.id.desc())
        .limit(most)
    )
    for word in words.split():
        query = query.where(or_(*(name.contains(word, autoescape=True) for name in names)))
    found = unreadable.read("a line of the list of visits", partial(_lines, engine, query))
    if found is not None:
        return found
    # One of them is damaged: each by itself.
    with Session(engine) as session:
        ids = session.scalars(query.with_only_columns(visit.id)).all()
    each = (unreadable.read(f"visit {n}", partial(_lines, engine, query.where(visit.id == n))) for n in ids)
    return [line for lines in each if lines is not None for line in lines]


def _lines(engine: Engine, query: Executable) -> list[VisitLine]:
    with Session(engine) as session:
        rows: Sequence[Any] = session.execute(query).all()
    return [
        VisitLine(id_, client, room, name, input_, memory, technology_of(technology), started, closed, hours)
        for id_, client, room, name, input_, memory, technology, started, closed, hours in rows
    ]
