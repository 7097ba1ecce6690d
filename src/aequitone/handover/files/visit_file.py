"""A whole visit as JSON: what such a file may hold, and what is wrong with one that may not."""

import json
from collections.abc import Mapping
from datetime import datetime
from functools import cache
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError, create_model
from sqlalchemy import JSON

from aequitone.advice.roles import is_role
from aequitone.handover.errors import ImportFailedError
from aequitone.handover.incoming.tables import NOTHING
from aequitone.logbook.carrying import REFERENCES, Row, Rows
from aequitone.logbook.naming import LONGEST_NAME
from aequitone.logbook.records import PassState
from aequitone.passes import PASSES
from aequitone.reference import target_named

FORMAT, VERSION = "aequitone-visit", 1
_LONGEST_TEXT, _LARGEST_NUMBER = 100_000, 2**53
_NAMED_FAULTS = 3
# Columns of JSON that hold a list; the others hold an object.
_LISTS = ("choices", "changes", "matrix")
# Of which a visit has just one.
_ONE = ("client", "room", "screen", "visit")


def _moment(text: str) -> str:
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        moment = None
    if moment is None or moment.tzinfo is not None:
        raise ValueError("a moment is written in UTC without a zone, as 2026-11-29T20:15:00")
    return text


def _of(known: Any, what: str) -> AfterValidator:
    def check(word: str) -> str:
        if not known(word):
            raise ValueError(f"this version knows no {what} “{word[:40]}”")
        return word

    return AfterValidator(check)


def _is_target(name: str) -> bool:
    try:
        target_named(name)
    except ValueError:
        return False
    return True


_KINDS = frozenset(kind.key for kind in PASSES)
_Moment = Annotated[str, AfterValidator(_moment)]
_Text = Annotated[str, Field(max_length=_LONGEST_TEXT)]
_TYPES: dict[type, Any] = {
    int: Annotated[int, Field(ge=-_LARGEST_NUMBER, le=_LARGEST_NUMBER)],
    bool: bool,
    float: Annotated[float, Field(allow_inf_nan=False)],
    str: _Text,
    datetime: _Moment,
    dict: dict[str, Any],
    list: list[Any],
}
# What a word must be one of, by table and column.
_WORDS: dict[tuple[str, str], Any] = {
    ("control", "role"): Annotated[str, _of(is_role, "control of the role")],
    ("job", "target"): Annotated[str, _of(_is_target, "target")],
    ("pass", "kind"): Annotated[str, _of(_KINDS.__contains__, "pass")],
    ("pass", "state"): Annotated[str, _of([each.value for each in PassState].__contains__, "state of a pass")],
    **{
        (table, "name"): Annotated[str, Field(max_length=LONGEST_NAME)]
        for table in ("client", "room", "screen", "input", "memory", "control")
    },
}


@cache
def visit_model() -> type[BaseModel]:
    """The form of the file, made of the logbook's own tables."""
    strict = ConfigDict(extra="forbid", strict=True)
    tables: dict[str, Any] = {}
    for table in REFERENCES:
        name = table.__tablename__
        columns: dict[str, Any] = {}
        for column in table.__table__.columns:
            of = _WORDS.get((name, column.name), _TYPES[_python_type(column)])
            columns[column.name] = (of | None if column.nullable else of, ...)
        row = create_model(f"{table.__name__}Row", __config__=strict, **columns)
        tables[name] = (list[row], ...)
    whole: dict[str, Any] = {
        "format": (Literal["aequitone-visit"], ...),
        "version": (Literal[1], ...),
        "tables": (create_model("Tables", __config__=strict, **tables), ...),
    }
    return create_model("AequitoneVisit", __config__=strict, **whole)


def visit_schema() -> dict[str, Any]:
    """The JSON schema of the file."""
    return visit_model().model_json_schema()


def visit_text(rows: Rows) -> str:
    """The file's text, of the rows of a visit."""
    return json.dumps({"format": FORMAT, "version": VERSION, "tables": rows}, indent=1, allow_nan=False) + "\n"


def visit_read(text: bytes, where: str) -> Rows:
    """The rows of a file. Raises ImportFailedError with what is wrong and where."""
    try:
        whole = json.loads(text)
    except (ValueError, RecursionError) as error:
        told = "brackets stand too deep in one another" if isinstance(error, RecursionError) else str(error)
        raise ImportFailedError(f"{where} is not JSON: {told}. {NOTHING}") from error
    if isinstance(whole, dict) and whole.get("format") == FORMAT and _is_newer(whole.get("version")):
        raise ImportFailedError(
            f"{where} was written by a newer Aequitone (version {whole['version']} of the file; this one knows "
            f"{VERSION}). {NOTHING}"
        )
    try:
        tables: Rows = visit_model().model_validate(whole).model_dump()["tables"]
    except (ValidationError, RecursionError) as error:
        raise ImportFailedError(f"{where} is no visit: {_faults(error)}. {NOTHING}") from error
    if fault := _loose(tables):
        raise ImportFailedError(f"{where} is no visit: {fault}. {NOTHING}")
    return tables


def _is_newer(version: Any) -> bool:
    return isinstance(version, int) and not isinstance(version, bool) and version > VERSION


def _python_type(column: Any) -> type:
    if isinstance(column.type, JSON):
        return list if column.name in _LISTS else dict
    of: type = column.type.python_type
    return of


def _faults(error: Exception) -> str:
    if not isinstance(error, ValidationError):
        return "what it holds stands too deep in itself"
    faults = error.errors(include_url=False)
    told = [
        f"{'.'.join(map(str, fault['loc'])) or 'the file'}: {_plain(fault)}" for fault in faults[:_NAMED_FAULTS]
    ]
    more = f", and {len(faults) - _NAMED_FAULTS} more" if len(faults) > _NAMED_FAULTS else ""
    return f"{'; '.join(told)}{more}"


def _plain(fault: Mapping[str, Any]) -> str:
    message = str(fault["msg"]).removeprefix("Value error, ")
    return message[:1].lower() + message[1:]


def _loose(tables: Rows) -> str:
    """What does not hang together in a file of the right form; "" where everything does."""
    for name in _ONE:
        if len(tables[name]) != 1:
            return f"it has {len(tables[name])} rows of {name}, and a visit has one"
    known = {name: {row["id"] for row in rows} for name, rows in tables.items()}
    for table, references in REFERENCES.items():
        name = table.__tablename__
        if len(known[name]) != len(tables[name]):
            return f"two rows of {name} have the same number"
        for column, to in references.items():
            for row in tables[name]:
                if not _refers(row, column, known[to.__tablename__]):
                    return f"row {row['id']} of {name} refers to {column[:-3]} {row[column]}, which is not there"
    return ""


def _refers(row: Row, column: str, known: set[int]) -> bool:
    # Rows from before memories could change within a visit have none.
    return row[column] in known or (row[column] == 0 and column == "memory_id" and "target" not in row)
