"""What the tables of a logbook show of a visit, read without the program."""

import sqlite3
from dataclasses import dataclass
from pathlib import Path

from aequitone.advice.checklist import WARM_UP as WARM_LINE
from aequitone.logbook import VisitRecord


@dataclass
class Tables:
    """What the logbook's tables show of a visit."""

    names: dict[str, str]
    settings: list[tuple[str, int, str]]
    """Role, value and moment, in the order they were noted."""
    passes: list[tuple[int, str, str, str]]
    """Number, kind, state, moment."""
    path: Path
    wanted: float
    warm: bool
    debts: list[tuple[str, str]]

    @property
    def found(self) -> dict[str, int]:
        """The first that was noted of each control."""
        return {role: value for role, value, _ in reversed(self.settings)}

    def at(self, moment: str = "9", *, before: bool = False) -> dict[str, int]:
        """How all stood at a moment."""
        return {r: v for r, v, at in self.settings if (at < moment if before else at <= moment)}

    def last(self, kind: str, state: str = "done") -> tuple[int, str] | None:
        """Number and moment of the newest pass of a kind."""
        told = [(number, at) for number, of, is_, at in self.passes if of == kind and is_ == state]
        return told[-1] if told else None

    def light(self, number: int) -> list[float]:
        """Every reading of a full white in a pass, cd/m²."""
        with sqlite3.connect(self.path) as base:
            rows = base.execute(_WHITES, (number,))
            return [float(row[0]) for row in rows]


_WHITES = (
    "SELECT Y FROM reading WHERE pass_id = ? AND percent = 100 AND code_r = code_g AND code_g = code_b "
    "AND shape = 'window'"
)
_SETTINGS = (
    "SELECT control.role, value, at FROM setting JOIN control ON control.id = control_id "
    "WHERE visit_id = ? ORDER BY setting.id"
)
_PASSES = "SELECT id, kind, state, started FROM pass WHERE visit_id = ? ORDER BY id"
_CHECKED = 'SELECT count(*) FROM "check" WHERE visit_id = ? AND key = ? AND state = ?'
_DEBTS = (
    "SELECT control.name, answer FROM debt JOIN control ON control.id = control_id "
    "WHERE visit_id = ? ORDER BY debt.id"
)


def tables_of(path: Path, visit: VisitRecord, usual: float) -> Tables:
    with sqlite3.connect(path) as base:
        names = dict(base.execute("SELECT role, name FROM control WHERE screen_id = ?", (visit.screen_id,)))
        settings, passes, debts = (list(base.execute(sql, (visit.id,))) for sql in (_SETTINGS, _PASSES, _DEBTS))
        (light,) = base.execute("SELECT light FROM job WHERE visit_id = ?", (visit.id,)).fetchone()
        (warm,) = base.execute(_CHECKED, (visit.id, WARM_LINE, "done")).fetchone()
    return Tables(names, settings, passes, path, light or usual, bool(warm), debts)
