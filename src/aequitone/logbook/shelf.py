"""The instruments that were added, and the corrections that were made between them."""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

import numpy as np
from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from aequitone.advice.technology import Technology, technology_of
from aequitone.colorimetry.arrays import Array
from aequitone.logbook import model
from aequitone.logbook.naming import checked_name


class InstrumentKind(StrEnum):
    """What an instrument is on a bench."""

    METER = "meter"
    SOURCE = "source"
    LINK = "screen link"


@dataclass(frozen=True)
class InstrumentRecord:
    """An instrument that speaks the line protocol, by its address."""

    id: int
    kind: InstrumentKind
    address: str
    name: str
    """As it called itself when it was tested."""
    serial: str = ""


@dataclass(frozen=True)
class CorrectionRecord:
    """A correction of one meter for a screen technology, and perhaps for one screen."""

    id: int
    meter: str
    """Name and serial number of the field meter."""
    reference: str
    technology: Technology
    screen: str
    """Empty where it is for the technology as a whole."""
    method: str
    matrix: Array
    fit_uv: float
    """Worst distance left over the colours it was made from, in u'v'."""
    fit_light: float
    """Worst light error left, in %."""
    made: datetime

    def age_days(self, now: datetime) -> int:
        return max(0, (now - self.made).days)


class Shelf:
    """Instruments and corrections of one logbook. Every method opens its own short session."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def instruments(self) -> tuple[InstrumentRecord, ...]:
        """In the order they were added."""
        with Session(self._engine) as session:
            rows = session.scalars(select(model.Instrument).order_by(model.Instrument.id))
            return tuple(
                InstrumentRecord(row.id, InstrumentKind(row.kind), row.address, row.name, row.serial)
                for row in rows
            )

    def instrument(self, instrument_id: int) -> InstrumentRecord:
        """LookupError where it was forgotten."""
        for record in self.instruments():
            if record.id == instrument_id:
                return record
        raise LookupError(f"there is no instrument {instrument_id} any more; choose another at the Bench")

    def remember(self, kind: InstrumentKind, address: str, name: str, serial: str) -> InstrumentRecord:
        """Add an instrument, or bring what is known of the one at this address up to date."""
        name, serial = checked_name(name, "its name"), checked_name(serial, "its serial number")
        with Session(self._engine) as session, session.begin():
            row = session.scalars(
                select(model.Instrument).filter_by(kind=kind.value, address=address)
            ).one_or_none()
            if row is None:
                row = model.Instrument(kind=kind.value, address=address, name=name, serial=serial)
                session.add(row)
            row.name, row.serial = name, serial
            session.flush()
            return InstrumentRecord(row.id, kind, address, name, serial)

    def forget(self, instrument_id: int) -> None:
        """Take an instrument off the shelf; its readings and corrections stay."""
        with Session(self._engine) as session, session.begin():
            row = session.get(model.Instrument, instrument_id)
            if row is not None:
                session.delete(row)

    def keep_correction(self, correction: CorrectionRecord) -> CorrectionRecord:
        """Write a correction; its `id` and `made` are the logbook's."""
        with Session(self._engine) as session, session.begin():
            row = model.Correction(
                meter=correction.meter,
                reference=correction.reference,
                technology=correction.technology.value,
                screen=correction.screen,
                method=correction.method,
                matrix=correction.matrix.ravel().tolist(),
                fit_uv=correction.fit_uv,
                fit_light=correction.fit_light,
            )
            session.add(row)
            session.flush()
            return _correction_in(row)

    def corrections(self, meter: str | None = None) -> tuple[CorrectionRecord, ...]:
        """Newest first; `meter`: only of this one."""
        query = select(model.Correction).order_by(model.Correction.id.desc())
        if meter is not None:
            query = query.where(model.Correction.meter == meter)
        with Session(self._engine) as session:
            return tuple(_correction_in(row) for row in session.scalars(query))

    def correction(self, correction_id: int) -> CorrectionRecord:
        """LookupError where there is none of that number."""
        with Session(self._engine) as session:
            row = session.get(model.Correction, correction_id)
            if row is None:
                raise LookupError(f"there is no correction {correction_id} any more; choose another at the Bench")
            return _correction_in(row)


def _correction_in(row: model.Correction) -> CorrectionRecord:
    return CorrectionRecord(
        row.id,
        row.meter,
        row.reference,
        technology_of(row.technology),
        row.screen,
        row.method,
        np.array(row.matrix, dtype=float).reshape(3, 3),
        row.fit_uv,
        row.fit_light,
        row.made,
    )
