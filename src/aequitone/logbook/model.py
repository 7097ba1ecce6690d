"""The tables. A change here needs a migration in migrations/versions/."""

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import JSON, DateTime, Float, ForeignKey, Integer, LargeBinary, String, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


def now() -> datetime:
    """Now, in UTC without zone: what the file holds."""
    return datetime.now(UTC).replace(tzinfo=None)


class Base(DeclarativeBase):
    """Column types shared by all tables."""

    type_annotation_map = {  # noqa: RUF012 - SQLAlchemy's own name for it
        dict[str, Any]: JSON,
        list[Any]: JSON,
        datetime: DateTime,
        float: Float,
        int: Integer,
        str: String,
        bytes: LargeBinary,
    }


class Client(Base):
    __tablename__ = "client"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    archived: Mapped[int] = mapped_column(default=0, server_default="0")
    """1 for a client who is not listed any more unless asked for."""


class StoredRoom(Base):
    __tablename__ = "room"
    __table_args__ = (UniqueConstraint("client_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    client_id: Mapped[int] = mapped_column(ForeignKey("client.id"), index=True)
    name: Mapped[str]


class Screen(Base):
    __tablename__ = "screen"
    __table_args__ = (UniqueConstraint("room_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    room_id: Mapped[int] = mapped_column(ForeignKey("room.id"), index=True)
    name: Mapped[str]
    technology: Mapped[str] = mapped_column(default="")
    size: Mapped[str] = mapped_column(default="", server_default="")
    hours: Mapped[str] = mapped_column(default="", server_default="")
    firmware: Mapped[str] = mapped_column(default="", server_default="")
    serial: Mapped[str] = mapped_column(default="", server_default="")
    throw: Mapped[str] = mapped_column(default="", server_default="")
    gain: Mapped[str] = mapped_column(default="", server_default="")


class Input(Base):
    __tablename__ = "input"
    __table_args__ = (UniqueConstraint("screen_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    screen_id: Mapped[int] = mapped_column(ForeignKey("screen.id"), index=True)
    name: Mapped[str]
    device: Mapped[str] = mapped_column(default="", server_default="")
    """What hangs on it."""


class Memory(Base):
    __tablename__ = "memory"
    __table_args__ = (UniqueConstraint("input_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    input_id: Mapped[int] = mapped_column(ForeignKey("input.id"), index=True)
    name: Mapped[str]


class Control(Base):
    __tablename__ = "control"
    __table_args__ = (UniqueConstraint("screen_id", "role"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    screen_id: Mapped[int] = mapped_column(ForeignKey("screen.id"), index=True)
    role: Mapped[str]
    name: Mapped[str]
    lowest: Mapped[int]
    highest: Mapped[int]
    step: Mapped[int]
    factory: Mapped[int | None]
    choices: Mapped[list[Any]]
    reach: Mapped[str] = mapped_column(default="", server_default="")
    """With `signals` and `copied`: what it acts on, as a person said; empty for what is usual for its role."""
    signals: Mapped[str] = mapped_column(default="", server_default="")
    copied: Mapped[str] = mapped_column(default="", server_default="")


class Visit(Base):
    __tablename__ = "visit"
    id: Mapped[int] = mapped_column(primary_key=True)
    bench: Mapped[dict[str, Any]]
    started: Mapped[datetime] = mapped_column(default=now)
    closed: Mapped[datetime | None]
    job_id: Mapped[int] = mapped_column(default=0, server_default="0")
    """The job that is worked on."""
    notes: Mapped[str] = mapped_column(default="", server_default="")
    """The calibrator's own, for the report."""


class Job(Base):
    """One picture memory to bring to one target."""

    __tablename__ = "job"
    id: Mapped[int] = mapped_column(primary_key=True)
    visit_id: Mapped[int] = mapped_column(ForeignKey("visit.id"), index=True)
    memory_id: Mapped[int] = mapped_column(ForeignKey("memory.id"))
    target: Mapped[str]
    levels: Mapped[int]
    light: Mapped[float] = mapped_column(default=0.0, server_default="0")
    """Luminance of white that is wanted in the end, cd/m²; 0 for what is usual for the screen."""
    stop_at: Mapped[float] = mapped_column(default=0.5, server_default="0.5")
    formula: Mapped[str] = mapped_column(default="ΔE 2000", server_default="ΔE 2000")
    bright: Mapped[float] = mapped_column(default=80.0, server_default="80")
    dark: Mapped[float] = mapped_column(default=30.0, server_default="30")
    depth: Mapped[int] = mapped_column(default=8, server_default="8")
    """Bits of its signal."""
    range: Mapped[str] = mapped_column(default="limited", server_default="limited")
    left_out: Mapped[int] = mapped_column(default=0, server_default="0")
    """1 for a job that is not done on this visit after all."""


class Setting(Base):
    """The ledger: a control's setting at a moment of a visit, and why. Rows are only ever added."""

    __tablename__ = "setting"
    id: Mapped[int] = mapped_column(primary_key=True)
    visit_id: Mapped[int] = mapped_column(ForeignKey("visit.id"), index=True)
    control_id: Mapped[int] = mapped_column(ForeignKey("control.id"), index=True)
    memory_id: Mapped[int] = mapped_column(default=0, server_default="0")
    """The memory it holds in; 0 in rows from before memories could change within a visit."""
    value: Mapped[int]
    reason: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)


class Debt(Base):
    """Something that was switched off for the measuring, and what becomes of it."""

    __tablename__ = "debt"
    id: Mapped[int] = mapped_column(primary_key=True)
    visit_id: Mapped[int] = mapped_column(ForeignKey("visit.id"), index=True)
    control_id: Mapped[int] = mapped_column(ForeignKey("control.id"))
    memory_id: Mapped[int] = mapped_column(default=0, server_default="0")
    """The memory it was switched off in; 0 in rows from before a visit held several."""
    from_value: Mapped[int]
    at: Mapped[datetime] = mapped_column(default=now)
    answer: Mapped[str] = mapped_column(default="", server_default="")
    answered: Mapped[datetime | None]


class Check(Base):
    """A line of the checklist that was answered."""

    __tablename__ = "check"
    id: Mapped[int] = mapped_column(primary_key=True)
    visit_id: Mapped[int] = mapped_column(ForeignKey("visit.id"), index=True)
    memory_id: Mapped[int] = mapped_column(default=0, server_default="0")
    """The memory that was worked in; 0 in rows from before a visit held several."""
    key: Mapped[str]
    state: Mapped[str]
    detail: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)


class Pass(Base):
    __tablename__ = "pass"
    id: Mapped[int] = mapped_column(primary_key=True)
    visit_id: Mapped[int] = mapped_column(ForeignKey("visit.id"), index=True)
    job_id: Mapped[int] = mapped_column(default=0, server_default="0", index=True)
    kind: Mapped[str]
    state: Mapped[str]
    plan: Mapped[dict[str, Any]]
    outcome: Mapped[str] = mapped_column(default="")
    bench: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    """What it was measured with: instruments, correction, care."""
    result: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    """What it came to, as it was given on the day; null where that was not kept."""
    started: Mapped[datetime] = mapped_column(default=now)
    ended: Mapped[datetime | None]


class Instrument(Base):
    __tablename__ = "instrument"
    __table_args__ = (UniqueConstraint("kind", "address"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    kind: Mapped[str]
    address: Mapped[str]
    name: Mapped[str]
    serial: Mapped[str]


class Correction(Base):
    """A meter's correction: never changed, only made anew."""

    __tablename__ = "correction"
    id: Mapped[int] = mapped_column(primary_key=True)
    meter: Mapped[str]
    reference: Mapped[str]
    technology: Mapped[str]
    screen: Mapped[str]
    method: Mapped[str]
    matrix: Mapped[list[Any]]
    fit_uv: Mapped[float]
    fit_light: Mapped[float]
    made: Mapped[datetime] = mapped_column(default=now)


class StoredReading(Base):
    __tablename__ = "reading"
    __table_args__ = (UniqueConstraint("pass_id", "seq"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    pass_id: Mapped[int] = mapped_column(ForeignKey("pass.id"), index=True)
    seq: Mapped[int]
    at: Mapped[datetime] = mapped_column(default=now)
    elapsed: Mapped[float]
    patch: Mapped[str]
    percent: Mapped[float]
    code_r: Mapped[int]
    code_g: Mapped[int]
    code_b: Mapped[int]
    depth: Mapped[int]
    range: Mapped[str]
    window: Mapped[float]
    purpose: Mapped[str]
    X: Mapped[float]
    Y: Mapped[float]
    Z: Mapped[float]
    sd_X: Mapped[float]
    sd_Y: Mapped[float]
    sd_Z: Mapped[float]
    repeats: Mapped[int]
    seconds: Mapped[float]
    took: Mapped[float]
    scatter: Mapped[float]
    transfer: Mapped[str] = mapped_column(server_default="gamma")
    container: Mapped[str] = mapped_column(server_default="rec709")
    rejected: Mapped[int] = mapped_column(server_default="0")
    shape: Mapped[str] = mapped_column(default="window", server_default="window")
    mastering: Mapped[float] = mapped_column(default=0.0, server_default="0")
    """The mastering peak that was named, cd/m²; 0 for none."""


class StoredMove(Base):
    __tablename__ = "move"
    __table_args__ = (UniqueConstraint("pass_id", "seq"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    pass_id: Mapped[int] = mapped_column(ForeignKey("pass.id"), index=True)
    seq: Mapped[int]
    at: Mapped[datetime] = mapped_column(default=now)
    elapsed: Mapped[float]
    changes: Mapped[list[Any]]
    expected: Mapped[dict[str, Any]]
    undoes: Mapped[bool]


class Remark(Base):
    """A note, or a wish of the person that steered the procedure."""

    __tablename__ = "remark"
    __table_args__ = (UniqueConstraint("pass_id", "seq"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    pass_id: Mapped[int] = mapped_column(ForeignKey("pass.id"), index=True)
    seq: Mapped[int]
    at: Mapped[datetime] = mapped_column(default=now)
    kind: Mapped[str]
    text: Mapped[str]


class Letterhead(Base):
    """The head of the report; one row at most."""

    __tablename__ = "letterhead"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(default="", server_default="")
    address: Mapped[str] = mapped_column(default="", server_default="")
    image: Mapped[bytes | None]
    colour: Mapped[str] = mapped_column(default="", server_default="")
    paper: Mapped[str] = mapped_column(default="", server_default="")
    exposure: Mapped[str] = mapped_column(default="", server_default="")
