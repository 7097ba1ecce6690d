"""Jobs: which memories are done on this visit, in which order; the one to work on is chosen here."""

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, ClassVar

from aequitone.advice.own_picture import own_wish
from aequitone.desktop import commands
from aequitone.desktop.commands import hint
from aequitone.desktop.frame.panel_state import BigLine, EntryState, PanelState
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.tools.jobs.commands import (
    ADD_DAY,
    ADD_GAME,
    ADD_HDR,
    ADD_INPUT,
    ADD_NIGHT,
    ADD_OWN,
    COPY_SETTINGS,
    WORK_ON,
)
from aequitone.desktop.tools.jobs.page import (
    DAY,
    GAME,
    HDR,
    NIGHT,
    OWN,
    Template,
    jobs_page,
    own_job,
    templated,
    total_words,
)
from aequitone.desktop.tools.jobs.state import JobsPage
from aequitone.logbook.records import Connection, JobRecord
from aequitone.passes import COPIED, Snapshot, begin_copy, load_snapshot
from aequitone.reference import target_named

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session


class JobsTool:
    """Keeps which row is looked at, and what is being added."""

    id: ClassVar[str] = "jobs"
    title: ClassVar[str] = "Jobs"
    opened_by: ClassVar[commands.Command] = commands.JOBS
    needs_visit: ClassVar[bool] = True

    def __init__(self, session: "Session") -> None:
        self.session = session
        self.row = 0
        self._adding: Template | None = None
        """What is added once its input and memory are typed."""
        self._objection = ""

    def enter(self) -> None:
        """Begin at the job that is worked on."""
        snapshot = self.session.visit
        ids = [job.id for job in snapshot.jobs]
        self.row = ids.index(snapshot.visit.job_id) if snapshot.visit.job_id in ids else 0
        self._adding, self._objection = None, ""

    def leave(self) -> None:
        """Be left; a job that was being typed is not added."""
        self._adding = None

    def commands(self) -> Commands:
        """What its keys do."""
        told: dict[commands.Command, Callable[[], None]] = {
            WORK_ON: self._work_on,
            commands.SKIP: self._leave_out,
            commands.UP: partial(self._go, -1),
            commands.DOWN: partial(self._go, 1),
            ADD_NIGHT: partial(self._ask, NIGHT),
            ADD_DAY: partial(self._ask, DAY),
            ADD_GAME: partial(self._ask, GAME),
            ADD_HDR: partial(self._ask, HDR),
            COPY_SETTINGS: self._copy_settings,
            ADD_OWN: partial(self._ask, OWN),
            ADD_INPUT: partial(self._ask, Template(self.session.visit.visit.memory, "", 1.0)),
        }
        if self._adding is not None:
            # Escape adds nothing, and leaves the list where it is.
            return {commands.CLOSE_TOOL: self._add_nothing}
        return told

    def typed(self, words: str) -> None:
        """Add the job of the input and memory that were typed."""
        template = self._adding
        if template is None:
            return
        input_, memory, wish = (*(part.strip() for part in words.split(",", 2)), "", "")[:3]
        session, snapshot = self.session, self.session.visit
        target, light = _wanted(template, snapshot)
        try:
            if not input_ or not memory:
                raise ValueError("An input and a memory, with a comma between: HDMI 2, Day")
            if template is OWN:
                target, light = own_job(snapshot, own_wish(wish))
            elif wish:
                raise ValueError("An input and a memory, with one comma between: HDMI 2, Day")
        except ValueError as error:
            self._objection = f"{error}."
            session.changed.emit()
            return
        visit_id, depth = snapshot.visit.id, _depth(template, snapshot)

        def work() -> None:
            session.logbook.jobs.add(
                visit_id, input_=input_, memory=memory, target=target, light=light, depth=depth
            )

        def refused(error: Exception) -> None:
            self._objection = str(error)
            session.changed.emit()

        def done(_: None) -> None:
            self._adding = None
            session.navigator.work_on_job(None)

        session.desk.do(work, done, refused)

    def page(self) -> JobsPage:
        """The list."""
        return jobs_page(self.session.visit, self.session.navigator.stations, self.row)

    def as_text(self) -> str:
        """The list as text."""
        page = self.page()
        rows = ((r.input, r.memory, r.whole_target, r.state, r.minutes) for r in page.rows)
        return "\n".join("\t".join(row) for row in rows) + "\n"

    def make_view(self) -> RoomView:
        """Make the list."""
        from aequitone.desktop.tools.jobs.view import JobsView

        return JobsView()

    def panel(self) -> PanelState:
        """What the move panel says."""
        if self._adding is not None:
            return self._asking(self._adding)
        chosen, snapshot = self._chosen, self.session.visit
        current, here = chosen.id == snapshot.visit.job_id, snapshot.visit.memory
        return PanelState(
            "Jobs",
            False,
            (BigLine(chosen.memory), BigLine(chosen.input)),
            self.session.message
            or "Each memory has a route and readings of its own. What acts on the whole screen is asked once.",
            keys=(
                hint(WORK_ON, "back to the route" if current else "work on it", main=True),
                hint(commands.SKIP, "do it after all" if chosen.left_out else "leave it out"),
                hint(ADD_NIGHT, "add a night memory, gamma 2.4", wide=True),
                hint(ADD_DAY, "add a brighter day memory, gamma 2.2", wide=True),
                hint(ADD_GAME, "add a game memory", wide=True),
                hint(ADD_HDR, "add an HDR memory, PQ", wide=True),
                hint(ADD_OWN, "add the client's own, beside the reference", wide=True),
                hint(ADD_INPUT, "add the same on another input", wide=True),
                *(() if current else (hint(COPY_SETTINGS, f"copy its settings to {here}", wide=True),)),
                hint(commands.CLOSE_TOOL, "back"),
            ),
            outlook=total_words(snapshot, self.session.navigator.stations),
        )

    def _asking(self, template: Template) -> PanelState:
        snapshot = self.session.visit
        visit = snapshot.visit
        target, light = _wanted(template, snapshot)
        depth = _depth(template, snapshot)
        wanted = f"{target_named(target).label}{f', {light:g} cd/m²' if light else ''}, {depth} bit."
        if template is OWN:
            wanted = f"Brighter or darker, cooler or warmer than {visit.memory}, by so much: a picture on purpose."
        proposed = f"{visit.input if template.target else 'HDMI 2'}, {template.memory}"
        return PanelState(
            "Jobs",
            True,
            (BigLine("Add a job"),),
            ""
            if self._objection
            else f"{wanted} Levels and the stop figure are those of {visit.memory}. Note its settings at Arrive.",
            entry=EntryState(
                "input, memory, how far" if template is OWN else "input, memory",
                self._objection,
                f"{proposed}, +30 %, +1000 K" if template is OWN else proposed,
                letters=True,
            ),
            keys=(hint(commands.KEEP_ENTRY, "add it", main=True), hint(commands.CLOSE_TOOL, "cancel")),
        )

    @property
    def _chosen(self) -> JobRecord:
        jobs = self.session.visit.jobs
        return jobs[min(self.row, len(jobs) - 1)]

    def _go(self, by: int) -> None:
        self.row = min(max(self.row + by, 0), len(self.session.visit.jobs) - 1)

    def _ask(self, template: Template) -> None:
        self._adding, self._objection = template, ""

    def _add_nothing(self) -> None:
        self._adding = None

    def _copy_settings(self) -> None:
        """Turn the memory that is worked in to the settings of the job that the arrows are at, as a start."""
        session, chosen = self.session, self._chosen
        visit_id = session.visit.visit.id
        if chosen.id == session.visit.visit.job_id:
            return
        session.navigator.go_to("hand-over")
        session.run(COPIED, lambda: begin_copy(session.logbook, visit_id, chosen.id))

    def _work_on(self) -> None:
        if self._chosen.id == self.session.visit.visit.job_id:
            self.session.navigator.close_tool()
        else:
            self.session.navigator.work_on_job(self._chosen.id)

    def _leave_out(self) -> None:
        session, chosen = self.session, self._chosen
        visit_id = session.visit.visit.id

        def work() -> Snapshot:
            session.logbook.jobs.leave_out(chosen.id, left_out=not chosen.left_out)
            return load_snapshot(session.logbook, visit_id)

        session.write(work)


def _wanted(template: Template, snapshot: Snapshot) -> tuple[str, float]:
    """Target and light of the job that is added: of a template, or as the present one has them."""
    return templated(template, snapshot) if template.target else (snapshot.visit.target, snapshot.visit.light)


def _depth(template: Template, snapshot: Snapshot) -> int:
    """Bits of the signal of the job that is added; a window of this computer shows 8."""
    bench = snapshot.visit.bench
    return bench.depth if template.depth is None or bench.patterns is Connection.SCREEN else template.depth
