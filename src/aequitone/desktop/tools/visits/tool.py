"""Visits: the logbook searched by words, and one of its visits opened."""

from collections.abc import Callable
from typing import TYPE_CHECKING, ClassVar

from aequitone.desktop import commands
from aequitone.desktop.commands import hint
from aequitone.desktop.frame.panel_state import BigLine, EntryState, PanelState
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.tools.visits.commands import ARCHIVE, OPEN, RENAME, SHOW_ARCHIVED, UNDO_CHANGE
from aequitone.desktop.tools.visits.state import VisitsPage
from aequitone.logbook.records import VisitLine
from aequitone.logbook.register import Named

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session

_KEPT = "What was there before is kept."


class VisitsTool:
    """Keeps what was typed and what was found; the logbook is asked at the desk."""

    id: ClassVar[str] = "visits"
    title: ClassVar[str] = "Visits"
    opened_by: ClassVar[commands.Command] = commands.VISITS
    needs_visit: ClassVar[bool] = False

    def __init__(self, session: "Session") -> None:
        self.session = session
        self.words = ""
        self.lines: tuple[VisitLine, ...] = ()
        self.row = 0
        """The visit that Enter would open."""
        self.renaming: Named | None = None
        self._name = ""
        self._objection = ""
        self._archived = False
        """Whether the visits of archived clients are shown."""
        self._undo: list[Callable[[], None]] = []

    def enter(self) -> None:
        """Show the visits."""
        self._archived = False
        self.search(self.words)

    def leave(self) -> None:
        """Be left; a name that was being typed is left as it was."""
        self.renaming = None

    def commands(self) -> Commands:
        """What its keys do."""
        told = {
            OPEN: self._open,
            commands.NEW_VISIT: self._visit_again,
            RENAME: self._rename,
            ARCHIVE: self._archive,
            SHOW_ARCHIVED: self._show_archived,
            UNDO_CHANGE: self._undo_last,
        }
        if self.renaming is not None:
            # Escape leaves the name as it was, and the list where it is.
            return {**told, commands.CLOSE_TOOL: self._keep_name}
        return told

    def typed(self, name: str) -> None:
        """Rename to what was typed."""
        what, chosen, before = self.renaming, self.chosen, self._name
        if what is None or chosen is None:
            return
        register = self.session.logbook.register

        def refused(error: Exception) -> None:
            self._objection = str(error)
            self.session.changed.emit()

        def done(_: None) -> None:
            self._undo.append(lambda: register.rename(chosen, what, before))
            self.renaming, self._objection = None, ""
            self.search(self.words)

        self.session.desk.do(lambda: register.rename(chosen, what, name), done, refused)

    def search(self, words: str) -> None:
        """Look for visits; an answer that is overtaken by more typing is dropped."""
        self.words, archived = words, self._archived

        def done(lines: list[VisitLine]) -> None:
            if (words, archived) == (self.words, self._archived):
                self.lines, self.row = tuple(lines), 0
                self.session.changed.emit()

        logbook = self.session.logbook
        self.session.desk.do(lambda: logbook.find_visits(words, away=archived), done, self._failed)

    def choose(self, row: int) -> None:
        """Look at a row."""
        self.row = row

    @property
    def chosen(self) -> int | None:
        """The number of the visit that Enter would open."""
        return self.lines[self.row].id if 0 <= self.row < len(self.lines) else None

    def page(self) -> VisitsPage:
        """The list."""
        return VisitsPage(self.lines)

    def as_text(self) -> str:
        """The list as text."""
        rows = ((f"{v.started:%Y-%m-%d}", v.client, v.room, v.screen, v.input, v.memory) for v in self.lines)
        return "\n".join("\t".join(row) for row in rows) + "\n"

    def make_view(self) -> RoomView:
        """Make the list."""
        from aequitone.desktop.tools.visits.view import VisitsView

        view = VisitsView()
        view.searched.connect(self.search)
        view.chosen.connect(self.choose)
        return view

    def panel(self) -> PanelState:
        """What the move panel says."""
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
                    hint(commands.KEEP_ENTRY, "rename", main=True),
                    hint(RENAME, "rename something else"),
                    hint(commands.CLOSE_TOOL, "cancel"),
                ),
            )
        found = f"{len(self.lines)} visits" if len(self.lines) != 1 else "1 visit"
        told = f"{found}, newest first." if self.lines else "No visit has all of these words."
        how = "Type any part of client, room, screen, input or memory; more words narrow the search."
        return PanelState(
            "Logbook",
            False,
            (BigLine("Archived visits" if self._archived else "Visits"),),
            f"{self.session.message} {how}".strip(),
            keys=(
                hint(OPEN, "open the visit", main=True),
                hint(commands.NEW_VISIT, "new visit to this screen"),
                hint(RENAME, "rename"),
                hint(ARCHIVE, "restore the client" if self._archived else "archive the client"),
                hint(SHOW_ARCHIVED, "current clients" if self._archived else "archived clients"),
                *((hint(UNDO_CHANGE, "undo"),) if self._undo else ()),
                hint(commands.LOG, "open the log"),
                hint(commands.BUG_REPORT, "save a bug report"),
                hint(commands.CLOSE_TOOL, "back"),
            ),
            outlook=told,
        )

    def _keep_name(self) -> None:
        self.renaming = None

    def _open(self) -> None:
        if self.chosen is not None:
            self.session.navigator.open_visit(self.chosen)

    def _visit_again(self) -> None:
        if self.chosen is not None:
            self.session.navigator.visit_again(self.chosen)

    def _show_archived(self) -> None:
        self._archived = not self._archived
        self.search(self.words)

    def _undo_last(self) -> None:
        if self._undo:
            self._write(self._undo.pop())

    def _rename(self) -> None:
        if self.chosen is None:
            return
        kinds = list(Named)
        self._ask(self.chosen, kinds[(kinds.index(self.renaming) + 1) % len(kinds)] if self.renaming else kinds[0])

    def _archive(self) -> None:
        register, chosen, archived = self.session.logbook.register, self.chosen, not self._archived
        if chosen is not None:
            self._undo.append(lambda: register.put_away(chosen, away=not archived))
            self._write(lambda: register.put_away(chosen, away=archived))

    def _ask(self, visit_id: int, what: Named) -> None:
        def done(name: str) -> None:
            self.renaming, self._name, self._objection = what, name, ""
            self.session.changed.emit()

        register = self.session.logbook.register
        self.session.desk.do(lambda: register.name(visit_id, what), done, self._failed)

    def _write(self, work: Callable[[], None]) -> None:
        self.session.desk.do(work, lambda _: self.search(self.words), self._failed)

    def _failed(self, error: Exception) -> None:
        self.session.say(f"{str(error).rstrip('.')}. {_KEPT}")
