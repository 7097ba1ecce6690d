"""When to come again, and why: the same rules for the page to keep, the calendar and the list of who is due."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime

from aequitone.advice.technology import Technology
from aequitone.advice.templates import kind_of
from aequitone.figures import grouped
from aequitone.logbook.records import VisitLine, VisitRecord, local_time

_MONTHS = 6
# In which a lamp loses light that is seen.
_LAMP_HOURS = 300
# Days that are called now, and up to which weeks are counted.
_NAMED_DAYS, _IN_MONTHS = 11, 75
_YEAR_MONTHS, _LAST_DAY_OF_ALL_MONTHS = 12, 28


@dataclass(frozen=True)
class ComeAgain:
    """A day, what is expected to have moved by then, and what should bring it forward."""

    day: date
    why: str
    sooner: tuple[str, ...]
    """Each continues "Sooner, when …"."""

    @property
    def sooner_words(self) -> str:
        """What brings the day forward, in a sentence."""
        return f"Sooner when {', '.join(self.sooner[:-1])} or {self.sooner[-1]}."


def come_again(left: datetime, technology: Technology, hours: str = "") -> ComeAgain:
    """When a screen that was left at a moment, in UTC, should be looked at again; `hours`: run, as noted."""
    sooner = ["a device is added", "the screen's firmware changes"]
    kind = kind_of(technology)
    if kind == "projector":
        why = "a lamp or laser gives less light, and other light, with every hour"
        sooner.insert(0, "its lamp is changed")
        sooner.append("screen or projector is moved")
        if run := re.search(r"\d[\d ,.']*", hours):
            counted = int(re.sub(r"\D", "", run[0]))
            sooner.insert(1, f"its lamp counter reads about {grouped(counted + _LAMP_HOURS)} hours")
    elif kind == "tube television":
        why = "its guns age unevenly, and grey drifts with them"
        sooner.append("it is moved or comes near a magnet")
    elif technology in (Technology.WHITE_OLED, Technology.RGB_OLED, Technology.PLASMA):
        why = "its pixels age with use, blue the fastest"
        sooner.append("it runs a panel refresh")
    else:
        why = "its backlight settles and ages, most in the first months"
        sooner.append("it is moved to another room")
    return ComeAgain(_months_on(local_time(left).date(), _MONTHS), why, tuple(sooner))


def visit_comes_again(visit: VisitRecord) -> ComeAgain:
    """When the screen of a visit should be looked at again: counted from its close, or from its start."""
    return come_again(visit.closed or visit.started, visit.technology, visit.plate.hours)


@dataclass(frozen=True)
class Due:
    """A screen's newest visit, and when to come again."""

    line: VisitLine
    again: ComeAgain

    def words(self, today: date) -> str:
        """How long until then, or since."""
        days = (self.again.day - today).days
        if abs(days) < _NAMED_DAYS:
            return "due now"
        many = f"{round(abs(days) / 30.4)} months" if abs(days) > _IN_MONTHS else f"{round(abs(days) / 7)} weeks"
        return f"due in {many}" if days > 0 else f"due for {many}"


def due_list(lines: Iterable[VisitLine]) -> tuple[Due, ...]:
    """The newest visit of every screen, the one that is due first at the top; `lines` newest first."""
    newest: dict[tuple[str, str, str], VisitLine] = {}
    for line in lines:
        newest.setdefault((line.client, line.room, line.screen), line)
    told = (
        Due(line, come_again(line.closed or line.started, line.technology, line.hours)) for line in newest.values()
    )
    return tuple(sorted(told, key=lambda due: due.again.day))


def _months_on(day: date, months: int) -> date:
    """The same day some months on, or the last that every month has."""
    years, month = divmod(day.month - 1 + months, _YEAR_MONTHS)
    return day.replace(year=day.year + years, month=month + 1, day=min(day.day, _LAST_DAY_OF_ALL_MONTHS))
