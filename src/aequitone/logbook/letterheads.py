"""What the report says beside what was measured: its head, one for a logbook, and the notes of a visit."""

from dataclasses import dataclass

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from aequitone.logbook import model


@dataclass(frozen=True)
class Letterhead:
    """Who hands over, and how the pages look; empty where nothing was chosen."""

    name: str = ""
    address: str = ""
    """Several lines."""
    image: bytes | None = None
    """A PNG or JPEG file."""
    colour: str = ""
    """As "#rrggbb"."""
    paper: str = ""
    exposure: str = ""
    """How the pictures of before and after are exposed."""


class Letterheads:
    """Of one logbook. Every method opens its own short session."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def get(self) -> Letterhead:
        """The letterhead as it was kept last."""
        with Session(self._engine) as session:
            row = session.scalars(select(model.Letterhead)).first()
            if row is None:
                return Letterhead()
            return Letterhead(row.name, row.address, row.image, row.colour, row.paper, row.exposure)

    def keep(self, letterhead: Letterhead) -> None:
        """Keep another in place of the one before."""
        with Session(self._engine) as session, session.begin():
            row = session.scalars(select(model.Letterhead)).first()
            if row is None:
                row = model.Letterhead()
                session.add(row)
            row.name, row.address, row.image = letterhead.name, letterhead.address, letterhead.image
            row.colour, row.paper, row.exposure = letterhead.colour, letterhead.paper, letterhead.exposure

    def keep_notes(self, visit_id: int, words: str) -> None:
        """Keep the calibrator's notes of a visit in place of those before."""
        with Session(self._engine) as session, session.begin():
            session.get_one(model.Visit, visit_id).notes = words
