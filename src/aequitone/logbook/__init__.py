"""Clients, rooms, screens, memories, controls, visits, passes, readings and moves, kept in SQLite."""

from aequitone.logbook.journal import PassJournal
from aequitone.logbook.records import BenchChoice, ControlRecord, PassRecord, PassState, VisitRecord
from aequitone.logbook.storage.opening import LogbookDamagedError, LogbookError, open_logbook
from aequitone.logbook.store import Logbook

__all__ = [
    "BenchChoice",
    "ControlRecord",
    "Logbook",
    "LogbookDamagedError",
    "LogbookError",
    "PassJournal",
    "PassRecord",
    "PassState",
    "VisitRecord",
    "open_logbook",
]
