"""Settings from a file: a table of controls and settings, such as another unit's or one from the internet."""

from collections.abc import Sequence
from pathlib import Path

from aequitone.advice.roles import Role, role_words
from aequitone.handover.errors import ImportFailedError
from aequitone.handover.incoming.tables import NOTHING, rows_of
from aequitone.logbook.records import ControlRecord

_HEADS = ("control", "setting")


def read_settings(path: Path, controls: Sequence[ControlRecord]) -> dict[Role, int]:
    """The settings of a file, of controls that this screen has: by its own word, or by what each does.

    The table has the headings "control" and "setting". Raises ImportFailedError with what is wrong and where.
    """
    where = path.name
    try:
        with path.open(encoding="utf-8-sig", errors="replace", newline="") as file:
            rows = rows_of(file, where)
            _, heads = next(rows)
            columns = [_column(heads, head, where) for head in _HEADS]
            found: dict[Role, int] = {}
            for line, cells in rows:
                name, setting = (cells[column].strip() for column in columns)
                control = _control(name, controls)
                if control is None:
                    raise ImportFailedError(
                        f"{where}, line {line}: no control “{name[:40]}” on this screen. {NOTHING}"
                    )
                if control.role in found:
                    raise ImportFailedError(f"{where}, line {line}: {control.name} stands there twice. {NOTHING}")
                found[control.role] = _setting(setting, control, f"{where}, line {line}")
    except OSError as error:
        raise ImportFailedError(f"{where} cannot be read: {error.strerror or error}. {NOTHING}") from error
    if not found:
        raise ImportFailedError(f"{where} names no control. {NOTHING}")
    return found


def _column(heads: Sequence[str], head: str, where: str) -> int:
    named = [each.strip().lower() for each in heads]
    if head not in named:
        raise ImportFailedError(
            f"{where} has no column “{head}”: such a list has the headings {' and '.join(_HEADS)}. {NOTHING}"
        )
    return named.index(head)


def _control(name: str, controls: Sequence[ControlRecord]) -> ControlRecord | None:
    """The control of that name: the screen's own word goes before what it does."""
    wanted = name.lower()
    by_name = [control for control in controls if control.name.lower() == wanted]
    by_role = [control for control in controls if wanted in (control.role.key, role_words(control.role).lower())]
    return next(iter((*by_name, *by_role)), None)


def _setting(words: str, control: ControlRecord, where: str) -> int:
    named = [choice.lower() for choice in control.choices]
    if words.lower() in named:
        return control.lowest + named.index(words.lower())
    try:
        value = int(words)
    except ValueError:
        of = f" one of {', '.join(control.choices)}" if control.choices else " a whole number"
        raise ImportFailedError(f"{where}: {control.name} is{of}, not “{words[:40]}”. {NOTHING}") from None
    if objection := control.objection(value):
        raise ImportFailedError(f"{where}: {objection}. {NOTHING}")
    return value
