"""Decides which room is in view and where a key goes; knows no station by name."""

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import Any, cast

from PySide6.QtCore import QObject

from aequitone.desktop import commands
from aequitone.desktop.commands import Command
from aequitone.desktop.frame.header_state import first_open, fits, foot, on_route, route, strip
from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.frame.state import MOST_KEYS, FootState, RouteState, StripState, View
from aequitone.desktop.session.errands import import_pass_from, open_log, save_bug_report
from aequitone.desktop.session.live import LiveTracker
from aequitone.desktop.session.prompts import asked_to_turn, elsewhere, held
from aequitone.desktop.session.session import KEPT, Session
from aequitone.desktop.station import Commands, Station, Tool, Workplace
from aequitone.desktop.stations import STATIONS
from aequitone.desktop.stations.arrive.station import ArriveStation, show_remote
from aequitone.desktop.tools import TOOLS
from aequitone.instruments.ports import PatternSource
from aequitone.logbook import BenchChoice, Logbook, PassState
from aequitone.logbook.records import Connection
from aequitone.passes import SET_ASIDE_BY_PERSON, PassType, Snapshot, go_on, load_snapshot, pass_type
from aequitone.procedures.runner import Remedy


class Presenter(QObject):
    """The route and the tools on one session."""

    def __init__(
        self,
        logbook: Logbook,
        snapshot: Snapshot | None,
        *,
        pace: float,
        patterns: PatternSource,
        stations: Sequence[type[Station]] = STATIONS,
        tools: Sequence[type[Tool]] = TOOLS,
    ) -> None:
        super().__init__()
        self.session = Session(logbook, snapshot, pace=pace, patterns=patterns)
        self.session.navigator = self
        self.stations = tuple(station(self.session) for station in stations)
        self.tools = tuple(tool(self.session) for tool in tools)
        self.tool: Tool | None = None
        self._around: tuple[tuple[object, ...], StripState, RouteState, FootState] | None = None
        self.here = self._resume_station()
        self._station.enter()
        if snapshot is not None:
            self._work_out(snapshot)

    @property
    def snapshot(self) -> Snapshot | None:
        """What is known of the visit in view."""
        return self.session.snapshot

    @property
    def running(self) -> bool:
        """Whether a pass has the instruments."""
        return self.session.running.running

    @property
    def room(self) -> Workplace:
        """The tool that is open, or else the station in view."""
        return self.tool or self._station

    def station(self, station_id: str) -> Any:
        """A station by its id."""
        return next(station for station in self.stations if station.id == station_id)

    def tool_of(self, tool_id: str) -> Any:
        """A tool by its id."""
        return next(tool for tool in self.tools if tool.id == tool_id)

    @property
    def _station(self) -> Station:
        return cast(Station, self.station(self.here))

    # What is shown

    def view(self) -> View:
        """Everything that is shown at the present moment."""
        strip_, route_, foot_ = self._surroundings()
        return View(strip_, route_, self._panel(), foot_, self.room.id, self.room.page())

    def _surroundings(self) -> tuple[StripState, RouteState, FootState]:
        """What changes only with the snapshot and the station, kept until one of them does."""
        snapshot, bench = self.session.snapshot, self.session.bench
        # The snapshot itself is kept in the key: it is compared by identity, and must not be freed meanwhile.
        kept = self._around
        if kept is None or kept[0][0] is not snapshot or kept[0][1:] != (self.here, bench):
            around = strip(snapshot, self.stations), route(snapshot, self.stations, self.here), foot(bench)
            kept = self._around = ((snapshot, self.here, bench), *around)
        return kept[1:]

    def _panel(self) -> PanelState:
        kind = self.session.running.kind
        if self.tool is None and self.running and kind is not None and kind not in self._station.passes:
            return elsewhere(*self.place_of(kind))
        if self.tool is None and self.session.held_by:
            return held(self.session.held_by, self._station.title)
        panel, session = self.room.panel(), self.session
        return panel if self.tool is not None else asked_to_turn(panel, session.asked, standing=session.standing)

    # What keys do

    def do(self, command: Command) -> None:
        """Carry out what a key means now: in the room in view, for the pass that runs, or for the window."""
        self.session.message = ""
        if self.session.held_by and not command.looks:
            self.session.say(f"{self.session.held_by} It can only be looked at here.")
            return
        if command.while_running or not self.running:
            for handlers in self._handlers():
                if command in handlers:
                    handlers[command]()
                    break
        self.session.changed.emit()

    def _handlers(self) -> list[Commands]:
        """Who is asked, in order."""
        told = [self.tool.commands()] if self.tool is not None else [self.session.commands()]
        if self.running:
            told.append(self.session.running.commands())
        elif self.tool is None:
            told.append(self._station.commands())
        return [*told, self._own()]

    def _own(self) -> Commands:
        session = self.session
        return {
            commands.NEXT_STATION: self._go_to_next,
            commands.NEW_VISIT: self.new_visit,
            commands.TO_ARRIVE: partial(self.go_to, self.stations[0].id),
            commands.NEXT_JOB: self._next_job,
            commands.GO_ON: self._go_on,
            commands.SET_ASIDE: self._set_aside,
            commands.CLOSE_TOOL: self.close_tool,
            commands.REMOTE: lambda: show_remote(session),
            commands.SHOW: session.pattern_window_wanted.emit,
            commands.TABLE: session.toggle_table,
            commands.MOVES: session.toggle_moves,
            commands.LOG: partial(open_log, session),
            commands.BUG_REPORT: partial(save_bug_report, session),
            commands.DEMO: self._begin_demo,
            commands.TAKE_VISIT: self._take_visit,
            # Answers to what the Bench asks, where no pass runs.
            commands.TURNED: session.operator.answer,
            commands.STANDS_AT: session.ask_where_it_stands,
            commands.TRY_AGAIN: partial(session.operator.answer, Remedy.TRY_AGAIN),
            **{tool.opened_by: self._toggle(tool) for tool in self.tools},
        }

    def _toggle(self, tool: Tool) -> Callable[[], None]:
        def toggle() -> None:
            if self.tool is tool:
                self.close_tool()
            elif self.session.snapshot is None and tool.needs_visit:
                self.session.say("Enter the visit first.")
            else:
                self._leave_tool()
                self.tool = tool
                tool.enter()

        return toggle

    def _take_visit(self) -> None:
        """Ask once more for a visit that another program had, and look at what it has become."""
        session = self.session
        session.claim(again=True)
        if session.held_by:
            session.say(session.held_by)
        elif session.snapshot is not None:
            self.open_visit(session.snapshot.visit.id)

    def _begin_demo(self) -> None:
        """Enter the demo's visit into an empty logbook, so that everything can be tried without instruments."""
        session = self.session

        def work() -> Snapshot:
            from aequitone.desktop.demo.demo import begin_demo_visit

            return load_snapshot(session.logbook, begin_demo_visit(session.logbook).id)

        def done(snapshot: Snapshot) -> None:
            session.take(snapshot)
            self.go_to(self.here)

        session.write(work, done)

    def typed(self, text: str) -> None:
        """A reading was typed, or words that a tool or a station asked for."""
        taker = getattr(self.tool or self._station, "typed", None)
        if taker is not None and self.session.asked is None:
            taker(text)
        else:
            self.session.typed(text)

    def import_file(self, path: Path) -> None:
        """Enter the readings of a file as the pass of this station."""
        if self.session.snapshot is not None and self._station.passes and not self.running:
            import_pass_from(self.session, self._station.passes[0], path)

    # Where the window is: session.Navigator

    def go_to(self, station: str) -> None:
        """Look at another station."""
        if self.session.snapshot is None and station != self.stations[0].id:
            self.session.message = "Enter the visit first."
        else:
            self._leave_tool()
            self._station.leave()
            self.here, self.session.message = station, ""
            self._station.enter()
        self.session.changed.emit()

    @property
    def on_route(self) -> tuple[Station, ...]:
        """The stations of the job that is worked on, in their order."""
        return on_route(self.session.snapshot, self.stations)

    def next_station(self) -> str:
        """The title of the station after the one in view; "" at the end."""
        following = self._following
        return following.title if following is not None else ""

    @property
    def _following(self) -> Station | None:
        after = self.stations[[station.id for station in self.stations].index(self.here) + 1 :]
        snapshot = self.session.snapshot
        return next((each for each in after if snapshot is None or fits(snapshot, each)), None)

    def _go_to_next(self) -> None:
        if self._following is not None:
            self.go_to(self._following.id)

    def close_tool(self) -> None:
        """Go back from a tool to the route."""
        self._leave_tool()
        self.session.changed.emit()

    def _leave_tool(self) -> None:
        if self.tool is not None:
            self.tool.leave()
        self.tool = None

    def saved(self) -> None:
        """Go on from the form, once the visit was written: to Prepare, or to where a visit that began goes on."""
        measured = self.session.snapshot is not None and any(
            self.session.snapshot.done(station.passes[0]) for station in self.stations[2:] if station.passes
        )
        self.go_to(self._resume_station() if measured else self.stations[1].id)

    def place_of(self, kind: PassType[Any, Any]) -> tuple[str, str]:
        """The title of a pass, and the key that goes to its station."""
        station = self._station_of(kind)
        number = (*self.on_route, station).index(station) + 1
        return kind.title, f"Ctrl+{number if number <= MOST_KEYS else 0}"

    def tracker(self, snapshot: Snapshot, kind: PassType[Any, Any]) -> LiveTracker:
        """Make what follows a pass, at the station that it belongs to."""
        return self._station_of(kind).tracker(snapshot, kind)

    def _station_of(self, kind: PassType[Any, Any]) -> Station:
        return next(station for station in self.stations if kind in station.passes)

    def new_visit(self) -> None:
        """Leave the visit in view for an empty form."""
        session = self.session
        bench = session.snapshot.visit.bench if session.snapshot else BenchChoice()
        self._leave_tool()
        session.snapshot, self.here = None, self.stations[0].id
        session.claim()
        self._form.begin_anew(bench)

    def visit_again(self, visit_id: int) -> None:
        """Begin another visit to the screen of an earlier one."""

        def there(snapshot: Snapshot) -> None:
            self.new_visit()
            self._form.begin_again(snapshot)

        self._load(visit_id, there)

    def open_visit(self, visit_id: int) -> None:
        """Go to another visit of the logbook; nothing that runs is stopped for it."""

        def there(snapshot: Snapshot) -> None:
            self.session.take(snapshot)
            self.go_to(self._resume_station())
            self._work_out(snapshot)

        self._load(visit_id, there)

    def _next_job(self) -> None:
        snapshot = self.session.snapshot
        jobs = [job for job in snapshot.jobs if not job.left_out] if snapshot is not None else []
        if snapshot is None or len(jobs) < 2:
            self.session.say("There is one job on this visit; Ctrl+J adds others.")
            return
        ids = [job.id for job in jobs]
        at = ids.index(snapshot.visit.job_id) if snapshot.visit.job_id in ids else -1
        self.work_on_job(ids[(at + 1) % len(ids)])

    def work_on_job(self, job_id: int | None) -> None:
        """Go to another job of the visit; None for the one that the logbook has as its present one."""
        session = self.session
        if self.running or session.bench_busy:
            session.say("Something is being measured; stop it first.")
            return
        visit_id = session.visit.visit.id

        def work() -> Snapshot:
            if job_id is not None:
                session.logbook.jobs.choose(visit_id, job_id)
            fresh = load_snapshot(session.logbook, visit_id, advice=False)
            session.instruments.go_to_job(fresh)
            return fresh

        def there(fresh: Snapshot) -> None:
            session.take(fresh)
            self.go_to(self._resume_station())
            visit = fresh.visit
            if visit.bench.link is not Connection.STANDIN:
                session.say(f"Switch the screen to {visit.input}, {visit.memory}.")
            self._work_out(fresh)

        session.write(work, there)

    def _load(self, visit_id: int, then: Callable[[Snapshot], None]) -> None:
        session = self.session
        if self.running or session.bench_busy:
            session.say("Something is being measured; stop it first.")
            return
        session.write(lambda: load_snapshot(session.logbook, visit_id, advice=False), then)

    @property
    def _form(self) -> ArriveStation:
        return next(station for station in self.stations if isinstance(station, ArriveStation))

    # Passes that were interrupted

    def _go_on(self) -> None:
        snapshot = self.session.snapshot
        if snapshot is not None and snapshot.interrupted is not None:
            record = snapshot.interrupted
            self.session.run(pass_type(record.kind), lambda: go_on(record))

    def _set_aside(self) -> None:
        """Set an interrupted pass aside; its readings stay."""
        snapshot, logbook = self.session.snapshot, self.session.logbook
        if snapshot is None or snapshot.interrupted is None:
            return
        visit_id, pass_id = snapshot.visit.id, snapshot.interrupted.id

        def work() -> Snapshot:
            logbook.end_pass(pass_id, PassState.SET_ASIDE, SET_ASIDE_BY_PERSON)
            return load_snapshot(logbook, visit_id)

        self.session.write(work)

    def _work_out(self, snapshot: Snapshot) -> None:
        """What this version makes of adjusting follows once there is something to look at."""
        session = self.session
        if not any(pass_type(record.kind).adjusts for record in snapshot.passes):
            return

        def done(fresh: Snapshot) -> None:
            if session.snapshot is snapshot:
                session.take(fresh)

        def failed(error: Exception) -> None:
            session.say(f"{str(error).rstrip('.')}. {KEPT}")

        session.desk.do(
            lambda: load_snapshot(session.logbook, snapshot.visit.id, job_id=snapshot.visit.job_id), done, failed
        )

    def _resume_station(self) -> str:
        """Where a visit goes on: at an interrupted pass, or at the first station that is not done."""
        snapshot = self.session.snapshot
        if snapshot is None:
            return self.stations[0].id
        if snapshot.visit.closed is not None:
            return self.stations[-1].id
        if snapshot.interrupted is not None:
            return self._station_of(pass_type(snapshot.interrupted.kind)).id
        return first_open(snapshot, self.stations)

    def close(self) -> None:
        """The window closes: whatever runs is stopped where it can be gone on with."""
        self.session.close()
        for room in (*self.stations, *self.tools):
            closing = getattr(room, "close", None)
            if closing is not None:
                closing()
        self.session.hang_up()
