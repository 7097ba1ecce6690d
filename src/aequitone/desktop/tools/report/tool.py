"""Report: the letterhead and the notes as typed, kept on demand; the pages as they were made last."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, ClassVar

from aequitone.desktop import commands
from aequitone.desktop.commands import hint
from aequitone.desktop.frame.panel_state import BigLine, PanelState
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.tools.report.commands import KEEP, NEXT_PAGE, NO_PICTURE, PAGE_BEFORE, PICTURE, REPORT
from aequitone.desktop.tools.report.preview import page_image
from aequitone.desktop.tools.report.state import PageImage, ReportDraft, ReportPage
from aequitone.handover.letterhead import checked
from aequitone.logbook.letterheads import Letterhead
from aequitone.passes import AS_FOUND, Snapshot, load_snapshot

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session

_KEPT = "The letterhead before is kept."


class ReportTool:
    """Keeps what is typed and which page is looked at; files and the logbook are asked at the desk."""

    id: ClassVar[str] = "report"
    title: ClassVar[str] = "Report"
    opened_by: ClassVar[commands.Command] = REPORT
    needs_visit: ClassVar[bool] = True

    def __init__(self, session: "Session") -> None:
        self.session = session
        self.draft, self._kept = ReportDraft(), ReportDraft()
        self._revision = 0
        self._image: PageImage | None = None
        self._open = False
        session.reports.made.connect(self._show_made)

    def enter(self) -> None:
        """Show the letterhead as kept, the visit's notes, and the first page of the report, if it was made."""
        session, notes = self.session, self.session.visit.visit.notes
        self._open, self._image = True, None
        session.reports.look(session.visit.visit.id)

        def there(head: Letterhead) -> None:
            self._fill(ReportDraft(head, notes))

        session.desk.do(session.logbook.letterheads.get, there, self._failed)
        self._turn_to(1)

    def leave(self) -> None:
        """Be left; what is typed and not kept is gone."""
        self._open = False

    def edit(self, draft: ReportDraft) -> None:
        """The form was changed by hand; the picture is not in it."""
        self.draft = replace(draft, head=replace(draft.head, image=self.draft.head.image))
        self.session.message = ""
        self.session.changed.emit()

    def page(self) -> ReportPage:
        """The form and the page in view."""
        return ReportPage(self._revision, self.draft, self._image, self._instead())

    def as_text(self) -> str:
        """The notes: what else stands here is the report's."""
        return f"{self.draft.notes}\n" if self.draft.notes else ""

    def make_view(self) -> RoomView:
        """Make the form and the page beside it."""
        from aequitone.desktop.tools.report.view import ReportView

        view = ReportView()
        view.edited.connect(lambda: self.edit(view.draft()))
        return view

    def commands(self) -> Commands:
        """What its keys do."""
        told: dict[commands.Command, Callable[[], None]] = {
            KEEP: self._keep,
            NEXT_PAGE: lambda: self._turn(1),
            PAGE_BEFORE: lambda: self._turn(-1),
            PICTURE: self._choose_picture,
            NO_PICTURE: self._no_picture,
        }
        return told

    def panel(self) -> PanelState:
        """What the move panel says."""
        image = self.draft.head.image
        changed = self.draft != self._kept
        told = self.session.message or (
            "Who hands over, on the first page of every report of this logbook. The notes are of this visit alone."
        )
        keys = [
            hint(KEEP, "keep, make it", main=changed or self._image is None),
            hint(PICTURE, "other picture" if image else "choose a picture"),
            *((hint(NO_PICTURE, "no picture"),) if image else ()),
        ]
        if self._image is not None and self._image.count > 1:
            keys += [hint(NEXT_PAGE, "next page"), hint(PAGE_BEFORE, "page before")]
        busy = self.session.reports.busy
        return PanelState(
            "Writing" if busy else "Report",
            False,
            (BigLine("Making the report"),) if busy else (BigLine("Letterhead"), BigLine("and notes")),
            told,
            keys=(*keys, hint(commands.CLOSE_TOOL, "back")),
            outlook=self._image.words if self._image is not None else "",
        )

    def _instead(self) -> str:
        """What is said where no page is shown."""
        if self._image is not None:
            return ""
        if self.session.visit.result(AS_FOUND) is None:
            return "The pages come once grey as found has been measured."
        return "The pages come with the report."

    def _keep(self) -> None:
        session, draft, visit_id = self.session, self.draft, self.session.visit.visit.id
        letterheads = session.logbook.letterheads

        def work() -> tuple[Letterhead, Snapshot]:
            head = checked(draft.head)
            letterheads.keep(head)
            letterheads.keep_notes(visit_id, draft.notes.strip())
            return head, load_snapshot(session.logbook, visit_id)

        def done(kept: tuple[Letterhead, Snapshot]) -> None:
            self._fill(ReportDraft(kept[0], draft.notes.strip()))
            session.take(kept[1])
            if kept[1].result(AS_FOUND) is not None:
                session.reports.make(visit_id)
            session.say("Kept.")

        session.desk.do(work, done, self._failed)

    def _choose_picture(self) -> None:
        self.session.other_file_wanted.emit(
            "The letterhead's picture", "Pictures (*.png *.jpg *.jpeg)", self._take
        )

    def _no_picture(self) -> None:
        self._fill(replace(self.draft, head=replace(self.draft.head, image=None)), kept=False)

    def _take(self, path: Path) -> None:
        draft = self.draft

        def work() -> bytes:
            image = path.read_bytes()
            checked(Letterhead(image=image))
            return image

        def there(image: bytes) -> None:
            self._fill(replace(draft, head=replace(draft.head, image=image)), kept=False)

        self.session.desk.do(work, there, self._failed)

    def _fill(self, draft: ReportDraft, *, kept: bool = True) -> None:
        self.draft = draft
        if kept:
            self._kept = draft
        self._revision += 1
        self.session.changed.emit()

    def _turn(self, by: int) -> None:
        if self._image is not None:
            self._turn_to(self._image.number + by)

    def _turn_to(self, number: int) -> None:
        pdf = self.session.reports.pdf
        if pdf is None:
            return

        def there(image: PageImage) -> None:
            self._image = image
            self.session.changed.emit()

        self.session.desk.do(lambda: page_image(pdf, number), there, self._failed)

    def _show_made(self) -> None:
        if self._open:
            self._turn_to(self._image.number if self._image is not None else 1)

    def _failed(self, error: Exception) -> None:
        self.session.say(f"{str(error).rstrip('.')}. {_KEPT}")
