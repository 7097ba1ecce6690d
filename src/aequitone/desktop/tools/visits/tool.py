"""Visits: the logbook searched by words, and one of its visits opened."""

from collections.abc import Callable, Sequence
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, ClassVar

from aequitone.desktop import commands
from aequitone.desktop.commands import hint
from aequitone.desktop.frame.panel_state import BigLine, EntryState, PanelState
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.tools.visits.commands import (
    ARCHIVE,
    DUE,
    KEEP_CONTROLS,
    OPEN,
    RENAME,
    SHOW_ARCHIVED,
    TAKE_CONTROLS,
    UNDO_CHANGE,
)
from aequitone.desktop.tools.visits.state import VisitsPage
from aequitone.handover.coming_again import due_list
from aequitone.logbook.records import VisitLine
from aequitone.logbook.register import Named

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session

_Listed = tuple[tuple[VisitLine, ...], tuple[str, ...], tuple[str, ...]]
"""Visits, and where they are listed by when to come again that in words, and why."""
_KEPT = "What was there before is kept."
# Lines of a list that somebody goes through; and all there are, where the newest of each screen is looked for.
_MOST, _EVERY = 200, 100_000


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
        self._by_due = False
        """Whether screens are listed by when to come again."""
        self._due: tuple[str, ...] = ()
        self._why: tuple[str, ...] = ()
        self._conflict: Path | None = None
        """An archive whose controls differ from those here, of which it is asked what to do."""

    def enter(self) -> None:
        """Show the visits."""
        self._archived, self._by_due, self._conflict = False, False, None
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
            DUE: self._show_due,
            commands.IMPORT: self._choose_archive,
        }
        if self._conflict is not None:
            path = self._conflict
            told |= {
                KEEP_CONTROLS: lambda: self._take_in(path, take_controls=False),
                TAKE_CONTROLS: lambda: self._take_in(path, take_controls=True),
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
        self.words = words
        asked = words, self._archived, self._by_due
        logbook = self.session.logbook

        def work() -> _Listed:
            lines = logbook.find_visits(words, _EVERY if self._by_due else _MOST, away=asked[1])
            return _by_due(lines) if asked[2] else (tuple(lines), (), ())

        def done(found: _Listed) -> None:
            if asked == (self.words, self._archived, self._by_due):
                (self.lines, self._due, self._why), self.row = found, 0
                self.session.changed.emit()

        self.session.desk.do(work, done, self._failed)

    def choose(self, row: int) -> None:
        """Look at a row."""
        self.row = row
        if self._by_due:
            # The panel says why this one is due.
            self.session.changed.emit()

    @property
    def chosen(self) -> int | None:
        """The number of the visit that Enter would open."""
        return self.lines[self.row].id if 0 <= self.row < len(self.lines) else None

    def page(self) -> VisitsPage:
        """The list."""
        return VisitsPage(self.lines, self._due, self._why)

    def as_text(self) -> str:
        """The list as text."""
        due = self._due or ("",) * len(self.lines)
        rows = (
            (f"{v.started:%Y-%m-%d}", v.client, v.room, v.screen, v.input, v.memory, *filter(None, (words,)))
            for v, words in zip(self.lines, due, strict=True)
        )
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
        if self._conflict is not None:
            return PanelState(
                "Logbook",
                True,
                (BigLine("Other controls"),),
                self.session.message,
                keys=(
                    hint(KEEP_CONTROLS, "keep those here", main=True),
                    hint(TAKE_CONTROLS, "take the file's"),
                    hint(commands.CLOSE_TOOL, "back"),
                ),
            )
        if self._by_due and 0 <= self.row < len(self._why):
            return self._panel_of_due(self._why[self.row], told)
        how = "Type any part of client, room, screen, input or memory; more words narrow the search."
        return PanelState(
            "Logbook",
            False,
            (BigLine("Archived visits" if self._archived else "Visits"),),
            f"{self.session.message} {how}".strip(),
            keys=(
                hint(OPEN, "open the visit", main=True),
                hint(commands.NEW_VISIT, "visit it again"),
                hint(RENAME, "rename"),
                hint(ARCHIVE, "restore the client" if self._archived else "archive the client"),
                hint(SHOW_ARCHIVED, "current clients" if self._archived else "archived clients"),
                hint(DUE, "who is due"),
                hint(commands.IMPORT, "take a visit in"),
                *((hint(UNDO_CHANGE, "undo"),) if self._undo else ()),
                hint(commands.LOG, "open the log"),
                hint(commands.BUG_REPORT, "save a bug report"),
                hint(commands.CLOSE_TOOL, "back"),
            ),
            outlook=told,
        )

    def _panel_of_due(self, why: str, found: str) -> PanelState:
        """Who is due, and why the one that is chosen is."""
        return PanelState(
            "Logbook",
            False,
            (BigLine("Who is due"),),
            f"{self.session.message} {why}".strip(),
            keys=(
                hint(OPEN, "open the visit", main=True),
                hint(commands.NEW_VISIT, "visit it again"),
                hint(DUE, "all visits"),
                hint(commands.COPY, "copy"),
                hint(commands.CLOSE_TOOL, "back"),
            ),
            outlook=found.replace(" visits", " screens").replace(
                ", newest first", ", those that wait longest first"
            ),
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

    def _show_due(self) -> None:
        self._by_due = not self._by_due
        self.search(self.words)

    def _choose_archive(self) -> None:
        self.session.other_file_wanted.emit("Take a visit in", "Visits (*.zip *.json)", self._take_in)

    def _take_in(self, path: Path, *, take_controls: bool | None = None) -> None:
        """Take a visit in from an archive: whole, or not at all."""
        session = self.session

        def work() -> tuple[Path | None, str]:
            # A start without files does without what they need.
            from aequitone.handover.files.archive import ConflictError, import_archive

            try:
                taken = import_archive(session.logbook, path, take_controls=take_controls)
            except ConflictError as conflict:
                return path, str(conflict)
            return None, f"{path.name} was taken in, as visit {taken.visit_id} with {taken.readings} readings."

        def done(told: tuple[Path | None, str]) -> None:
            self._conflict = told[0]
            self.search(self.words)
            session.say(told[1])

        session.desk.do(work, done, self._failed)

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


def _by_due(lines: Sequence[VisitLine]) -> _Listed:
    """The newest visit of every screen by when to come again, that in words, and why."""
    due, today = due_list(lines)[:_MOST], date.today()
    why = tuple(f"About {each.again.day:%B %Y}: {each.again.why}. {each.again.sooner_words}" for each in due)
    return tuple(each.line for each in due), tuple(each.words(today) for each in due), why
