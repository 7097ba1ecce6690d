"""The logbook's visits: searched by words, and one of them opened."""

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from aequitone.desktop.session.worker import Desk
from aequitone.desktop.states import Act, BigLine, EntryState, KeyHint, PanelState
from aequitone.logbook import Logbook
from aequitone.logbook.records import VisitLine
from aequitone.logbook.register import Named

ACTS = (Act.VISITS, Act.RENAME, Act.PUT_AWAY, Act.SHOW_AWAY, Act.REGISTER_UNDO)


class Finding(QObject):
    """Keeps what was typed and what was found; the logbook is asked at the desk."""

    changed = Signal()
    said = Signal(str)

    def __init__(self, logbook: Logbook, desk: Desk) -> None:
        super().__init__()
        self._logbook, self._desk = logbook, desk
        self.open = False
        self.words = ""
        self.lines: tuple[VisitLine, ...] = ()
        self.row = 0
        """The visit that Enter would open."""
        self.renaming: Named | None = None
        self._name = ""
        self._objection = ""
        self._away = False
        self._undo: list[Callable[[], None]] = []

    def toggle(self) -> None:
        """Show the visits, or leave them."""
        if self.renaming is not None:
            # Escape leaves the name as it was, and the list where it is.
            self.renaming = None
            self.changed.emit()
            return
        self.open, self._away = not self.open, False
        if self.open:
            self.search(self.words)
        self.changed.emit()

    def leave(self) -> None:
        self.open, self.renaming = False, None

    def act(self, act: Act) -> None:
        """Carry out a key."""
        chosen = self.chosen
        if act is Act.VISITS:
            self.toggle()
        elif act is Act.SHOW_AWAY:
            self._away = not self._away
            self.search(self.words)
        elif act is Act.REGISTER_UNDO and self._undo:
            self._write(self._undo.pop())
        elif act is Act.RENAME and chosen is not None:
            kinds = list(Named)
            self._ask(chosen, kinds[(kinds.index(self.renaming) + 1) % len(kinds)] if self.renaming else kinds[0])
        elif act is Act.PUT_AWAY and chosen is not None:
            register, away = self._logbook.register, not self._away
            self._undo.append(lambda: register.put_away(chosen, away=not away))
            self._write(lambda: register.put_away(chosen, away=away))

    def typed(self, name: str) -> None:
        """A name was typed."""
        what, chosen, before = self.renaming, self.chosen, self._name
        if what is None or chosen is None:
            return
        register = self._logbook.register

        def refused(error: Exception) -> None:
            self._objection = str(error)
            self.changed.emit()

        def done(_: None) -> None:
            self._undo.append(lambda: register.rename(chosen, what, before))
            self.renaming, self._objection = None, ""
            self.search(self.words)

        self._desk.do(lambda: register.rename(chosen, what, name), done, refused)

    def _ask(self, visit_id: int, what: Named) -> None:
        def done(name: str) -> None:
            self.renaming, self._name, self._objection = what, name, ""
            self.changed.emit()

        self._desk.do(lambda: self._logbook.register.name(visit_id, what), done, self._failed)

    def _write(self, work: Callable[[], None]) -> None:
        self._desk.do(work, lambda _: self.search(self.words), self._failed)

    def _failed(self, error: Exception) -> None:
        self.said.emit(f"{str(error).rstrip('.')}. What was there before is kept.")

    def search(self, words: str) -> None:
        """Look for visits; an answer that is overtaken by more typing is dropped."""
        self.words, away = words, self._away

        def done(lines: list[VisitLine]) -> None:
            if (words, away) == (self.words, self._away):
                self.lines, self.row = tuple(lines), 0
                self.changed.emit()

        self._desk.do(lambda: self._logbook.find_visits(words, away=away), done, self._failed)

    def choose(self, row: int) -> None:
        """A row is looked at."""
        self.row = row

    @property
    def chosen(self) -> int | None:
        """The number of the visit that Enter would open."""
        return self.lines[self.row].id if 0 <= self.row < len(self.lines) else None

    def panel(self, message: str) -> PanelState:
        if self.renaming is not None:
            return PanelState(
                "Logbook",
                True,
                (BigLine("Rename"), BigLine(self.renaming.value)),
                "" if self._objection else "It is renamed in every visit, past ones too.",
                entry=EntryState(
                    f"{self.renaming.value} of visit {self.chosen}", self._objection, self._name, letters=True
                ),
                keys=(
                    KeyHint("Enter", "rename", Act.KEEP_READING, main=True),
                    KeyHint("F2", "another name", Act.RENAME),
                    KeyHint("Esc", "leave it", Act.VISITS),
                ),
            )
        found = f"{len(self.lines)} visits" if len(self.lines) != 1 else "1 visit"
        told = f"{found}, newest first." if self.lines else "No visit holds all of these words."
        return PanelState(
            "Logbook",
            False,
            (BigLine("Put away" if self._away else "Visits"),),
            f"{message} Type any part of client, room, screen, input or memory; several words narrow it.".strip(),
            keys=(
                KeyHint("Enter", "open the visit", Act.OPEN_VISIT, main=True),
                KeyHint("Ctrl+N", "visit it again", Act.VISIT_AGAIN),
                KeyHint("F2", "rename", Act.RENAME),
                KeyHint("Ctrl+D", "take in again" if self._away else "put client away", Act.PUT_AWAY),
                KeyHint("Ctrl+H", "the others" if self._away else "who is away", Act.SHOW_AWAY),
                *((KeyHint("Ctrl+Z", "undo", Act.REGISTER_UNDO),) if self._undo else ()),
                KeyHint("Esc", "back", Act.VISITS),
            ),
            outlook=told,
        )
