"""Colour: primaries and secondaries from pale to full, and everyday colours, as found and as left. No Qt."""

from dataclasses import replace
from typing import Any

from aequitone.desktop import commands
from aequitone.desktop.frame.panel_state import DeltaFigure, DialState, PanelState
from aequitone.desktop.session.live import Live, LiveTracker
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.session.prompts import beginning
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.stations.colour import managing, panel
from aequitone.desktop.stations.colour.commands import DIAGRAM, LENGTH, LIGHT, SIGNAL_LEVEL
from aequitone.desktop.stations.colour.diagram import Figures, coverage_figures, diagram_page
from aequitone.desktop.stations.colour.page import (
    colour_page,
    colour_table,
    colour_text,
    ramp_figures,
    ramp_of,
    settings_of,
)
from aequitone.desktop.stations.colour.state import ColourPage, ColourTable, DiagramPage
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.desktop.widgets.moves import MovesPage, colour_moves, moves_text
from aequitone.passes import (
    COLOURS_FOUND,
    COLOURS_LEFT,
    MANAGEMENT,
    PassType,
    Snapshot,
    begin_planned,
    colour_plan,
    has_management,
    load_snapshot,
    management_plan,
)
from aequitone.planning.pace import colour_pass_seconds
from aequitone.procedures.colour.colour_pass import ColourPass, ColoursSoFar
from aequitone.procedures.colour.manage_plan import Managed
from aequitone.procedures.colour.samples import Length


class ColourTracker(LiveTracker):
    """Follows a colour pass, or the setting of a colour management."""

    def followed(self, value: Any, trail: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        if isinstance(value, ColoursSoFar):
            # Worked out here, in the runner's thread, and kept: the window's must not wait for it.
            _ = value.found
        return trail


class ColourStation(MeasuredStation):
    """Reads colours, and sets a colour management. Optional: grey is set without it."""

    id = "colour"
    title = "Colour"
    passes = (COLOURS_FOUND, MANAGEMENT, COLOURS_LEFT)
    optional = True
    tracker_type = ColourTracker
    _length: Length | None = None
    _light: bool | None = None
    _diagrammed = False
    _covered: tuple[ColourPass, Figures] | None = None
    """What the newest colours cover of the target, once it was worked out at the desk."""
    _drawn: tuple[Snapshot, Any, str, ColourPage] | None = None

    @property
    def length(self) -> Length:
        """How much a pass is to read: as chosen, or the usual for this bench."""
        return self._length or colour_plan(self.snapshot).length

    @property
    def kind(self) -> PassType[Any, Any]:
        """What is done next: colours as found, a colour management where there is one, colours as left."""
        snapshot = self.snapshot
        if not snapshot.done(COLOURS_FOUND):
            return COLOURS_FOUND
        return MANAGEMENT if has_management(snapshot) and MANAGEMENT.fits(snapshot) else COLOURS_LEFT

    @property
    def managed(self) -> Managed | None:
        """Where the colour management stands: of the pass that runs, or of the newest."""
        if self.session.running.kind is MANAGEMENT:
            value = self.live.value if self.live else None
            return value if isinstance(value, Managed) else None
        return self.snapshot.result(MANAGEMENT)

    def is_done(self, snapshot: Snapshot) -> bool:
        return snapshot.done(COLOURS_FOUND)

    def seconds(self, snapshot: Snapshot) -> float:
        if self.is_done(snapshot):
            return snapshot.seconds(*self.passes)
        wanted = [each for each in self.passes if each.fits(snapshot)]
        if not has_management(snapshot):
            wanted = wanted[:1]
        return sum(each.seconds(snapshot, snapshot.pace) for each in wanted)

    @property
    def newest(self) -> ColourPass | None:
        """The newest colours that were read to the end."""
        left = self.snapshot.result(COLOURS_LEFT)
        return left if left is not None else self.snapshot.result(COLOURS_FOUND)

    def idle(self) -> PanelState:
        snapshot, session, found = self.snapshot, self.session, self.newest
        if found is None:
            plan = colour_plan(snapshot, self.length)
            seconds = colour_pass_seconds(plan, snapshot.pace)
            return panel.to_begin(snapshot, session.message, self.length, plan.readings, seconds)
        told = " ".join(part for part in (session.message, self.said(), self.revised()) if part)
        following, left = session.navigator.next_station(), snapshot.done(COLOURS_LEFT)
        if self.kind is MANAGEMENT and not left:
            managed = snapshot.result(MANAGEMENT)
            if managed is None:
                return managing.to_begin(
                    snapshot,
                    session.message,
                    self.said(),
                    self.time_words,
                    self.length,
                    following,
                    light=self._light,
                )
            told = f"{session.message} {managed.words}".strip()
            return managing.done(snapshot, managed, told, self.length, light=self._light)
        return panel.done(snapshot, told, found, self.length, following, left=left)

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        if kind is MANAGEMENT:
            return self._managing(live)
        if live is None:
            return beginning()
        value = live.value
        plan = value.plan if isinstance(value, ColoursSoFar) else colour_plan(self.snapshot, self.length)
        share = 1.0 - live.done / max(1, live.total or plan.readings)
        return panel.measuring(live, colour_pass_seconds(plan, self.snapshot.pace, live.white or 100.0) * share)

    def _managing(self, live: Live | None) -> PanelState:
        session = self.session
        asked, why = session.asked, session.running.explaining
        if asked is not None and isinstance(asked.question, AskMove):
            return managing.moving(asked.question, self.snapshot, live, self.managed, session.message, why=why)
        return beginning() if live is None else managing.measuring(live, self.managed, why=why)

    def said(self) -> str:
        kind = COLOURS_LEFT if self.snapshot.done(COLOURS_LEFT) else COLOURS_FOUND
        return " ".join((*self.snapshot.notes(kind), self.snapshot.words(kind))).strip()

    def figures(self) -> tuple[DeltaFigure | None, DialState | None]:
        found = self.newest
        return (panel.mean_delta(found) if found else None), None

    def commands(self) -> Commands:
        return {
            commands.BEGIN: self.begin,
            commands.COLOURS: self._measure,
            LENGTH: self._change_length,
            SIGNAL_LEVEL: self._change_level,
            LIGHT: self._change_light,
            DIAGRAM: self._change_diagram,
        }

    def _change_length(self) -> None:
        self._length = panel.next_length(self.length)
        self.session.changed.emit()

    def _change_light(self) -> None:
        lights = managing.LIGHTS
        self._light = lights[(lights.index(self._light) + 1) % len(lights)]
        self.session.changed.emit()

    def _change_diagram(self) -> None:
        self._diagrammed = not self._diagrammed
        self.session.changed.emit()

    def _change_level(self) -> None:
        """Read the six at the other level of the signal from now on, in this visit."""
        session, visit = self.session, self.snapshot.visit
        bench = replace(visit.bench, colour_level=panel.other_level(visit.bench.colour_level))

        def work() -> Snapshot:
            session.logbook.choose_bench(visit.id, bench)
            return load_snapshot(session.logbook, visit.id)

        session.write(work)

    def begin(self) -> None:
        session, snapshot, light = self.session, self.snapshot, self._light
        if self.kind is not MANAGEMENT:
            self._measure()
        elif not MANAGEMENT.fits(snapshot):
            session.begin(MANAGEMENT)
        else:
            logbook = session.logbook
            session.run(
                MANAGEMENT,
                lambda: begin_planned(logbook, snapshot, MANAGEMENT, management_plan(snapshot, light=light)),
            )

    def _measure(self) -> None:
        """Read the colours: as found where that was not done yet, else as they are left."""
        session, length, snapshot = self.session, self.length, self.snapshot
        kind = COLOURS_LEFT if snapshot.done(COLOURS_FOUND) else COLOURS_FOUND
        if not kind.fits(snapshot):
            session.begin(kind)
            return
        logbook = session.logbook
        session.run(kind, lambda: begin_planned(logbook, snapshot, kind, colour_plan(snapshot, length)))

    def page(self) -> ColourPage | ColourTable | DiagramPage | MovesPage:
        if self.session.moves_listed and self.managed is not None:
            return MovesPage(colour_moves(self.managed.trips))
        if self.session.tabled:
            return colour_table(self._told_of or self.newest)
        picture = self._picture()
        if self._diagrammed:
            return self._diagram(picture.subtitle)
        return picture

    def _diagram(self, subtitle: str) -> DiagramPage:
        """The diagram; what is covered is said of colours that were read to the end."""
        plan, found = colour_plan(self.snapshot), self._told_of or self.newest
        if self.live is not None or found is None:
            return diagram_page(plan, found, subtitle)
        if self._covered is None or self._covered[0] is not found:
            self._covered = (found, ())
            session = self.session

            def done(figures: Figures) -> None:
                self._covered = (found, figures)
                session.changed.emit()

            target = plan.target
            session.desk.do(lambda: coverage_figures(target, found), done, lambda error: session.say(str(error)))
        return diagram_page(plan, found, subtitle, self._covered[1])

    @property
    def _told_of(self) -> ColourPass | None:
        """The colours that the pass that runs has told of."""
        value = self.live.value if self.live else None
        if isinstance(value, Managed):
            return value.colours
        return value.found if isinstance(value, ColoursSoFar) else None

    def _picture(self) -> ColourPage:
        snapshot, live = self.snapshot, self.live
        value, here = (live.value, live.shown) if live else (None, "")
        kept = self._drawn
        # Thirty pictures a second are drawn while a pass runs, and few of them show anything new here.
        if kept is None or kept[0] is not snapshot or kept[1] is not value or kept[2] != here:
            kept = self._drawn = (snapshot, value, here, self._page(value, here))
        return kept[3]

    def _page(self, value: Any, here: str) -> ColourPage:
        snapshot = self.snapshot
        as_found, left = snapshot.result(COLOURS_FOUND), snapshot.result(COLOURS_LEFT)
        plan = value.plan if isinstance(value, ColoursSoFar) else colour_plan(snapshot, self.length)
        if self.live is not None:
            if not isinstance(value, Managed):
                return colour_page(plan, self._told_of, as_found, "being read", here)
            page = colour_page(plan, value.colours, as_found, "being set", here)
            return replace(page, settings=settings_of(value), ramp=ramp_of(value.ramp))
        managed = snapshot.result(MANAGEMENT)
        if left is None and managed is not None:
            how = "as set" if managed.trips else "read once more"
            page = colour_page(plan, managed.colours, as_found, f"{how}, with as found behind")
            return replace(page, figures=(*page.figures, *ramp_figures(managed)))
        if left is not None:
            return colour_page(plan, left, as_found, "as left, with as found behind")
        return colour_page(plan, as_found, None, "as found" if as_found else "not read yet")

    def as_text(self) -> str:
        if self.session.moves_listed and self.managed is not None:
            return moves_text(MovesPage(colour_moves(self.managed.trips)))
        return colour_text(self.newest)

    def make_view(self) -> RoomView:
        from aequitone.desktop.stations.colour.view import colour_view

        return colour_view()
