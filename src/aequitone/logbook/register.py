"""The names in a logbook, mended: client, room, screen, input, memory, device; and clients put away."""

from enum import StrEnum

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from aequitone.errors import AequitoneError
from aequitone.logbook import model
from aequitone.logbook.naming import checked_name


class Named(StrEnum):
    """What has a name, from the client down; a device hangs on an input."""

    CLIENT = "client"
    ROOM = "room"
    SCREEN = "screen"
    INPUT = "input"
    MEMORY = "picture memory"
    DEVICE = "device on the input"


class NameTakenError(AequitoneError, ValueError):
    """A name that another of the same kind has already, or an empty one; the message says so."""


class Register:
    """Of one logbook. Every method opens its own short session."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def known_names(self) -> dict[str, list[str]]:
        """Names already in the logbook, by what they name: client, room, screen, input, memory."""
        tables = {
            "client": model.Client.name,
            "room": model.StoredRoom.name,
            "screen": model.Screen.name,
            "input": model.Input.name,
            "memory": model.Memory.name,
        }
        with Session(self._engine) as session:
            names = {what: select(name).distinct().order_by(name) for what, name in tables.items()}
            return {what: list(session.scalars(query)) for what, query in names.items()}

    def name(self, visit_id: int, what: Named) -> str:
        """The name as it is now."""
        with Session(self._engine) as session:
            row = _row(session, visit_id, what)
            return row.device if what is Named.DEVICE and isinstance(row, model.Input) else row.name

    def rename(self, visit_id: int, what: Named, name: str) -> None:
        """Give what the visit belongs to another name, in every visit. Raises NameTakenError."""
        try:
            words = checked_name(name, f"The name of the {what.value}")
        except ValueError as error:
            raise NameTakenError(f"{error}; the one before is kept.") from error
        with Session(self._engine) as session, session.begin():
            row = _row(session, visit_id, what)
            if what is Named.DEVICE and isinstance(row, model.Input):
                row.device = words
                return
            if not words:
                raise NameTakenError(f"A {what.value} needs a name; “{row.name}” is kept.")
            if _taken(session, row, words):
                raise NameTakenError(f"There is a {what.value} called “{words}” already; “{row.name}” is kept.")
            row.name = words

    def put_away(self, visit_id: int, *, away: bool) -> None:
        """Leave the visit's client out of the list, or take them in again. Nothing is lost."""
        with Session(self._engine) as session, session.begin():
            client = _row(session, visit_id, Named.CLIENT)
            assert isinstance(client, model.Client)
            client.archived = int(away)


Row = model.Client | model.StoredRoom | model.Screen | model.Input | model.Memory


def _row(session: Session, visit_id: int, what: Named) -> Row:
    """What a visit belongs to; LookupError where there is no such visit."""
    visit = session.get(model.Visit, visit_id)
    if visit is None:
        raise LookupError(f"there is no visit {visit_id}")
    memory = session.get_one(model.Memory, session.get_one(model.Job, visit.job_id).memory_id)
    if what is Named.MEMORY:
        return memory
    input_ = session.get_one(model.Input, memory.input_id)
    if what in (Named.INPUT, Named.DEVICE):
        return input_
    screen = session.get_one(model.Screen, input_.screen_id)
    if what is Named.SCREEN:
        return screen
    room = session.get_one(model.StoredRoom, screen.room_id)
    return room if what is Named.ROOM else session.get_one(model.Client, room.client_id)


def _taken(session: Session, row: Row, name: str) -> bool:
    """Whether another of the same kind, in the same place, has the name."""
    table = type(row)
    query = select(table.id).where(table.name == name, table.id != row.id)
    match row:
        case model.StoredRoom():
            query = query.where(model.StoredRoom.client_id == row.client_id)
        case model.Screen():
            query = query.where(model.Screen.room_id == row.room_id)
        case model.Input():
            query = query.where(model.Input.screen_id == row.screen_id)
        case model.Memory():
            query = query.where(model.Memory.input_id == row.input_id)
    return session.scalar(query) is not None
