"""Colour: primaries and secondaries from pale to full, and everyday colours, as found and as left. No Qt."""

from typing import Any

from aequitone.desktop import commands
from aequitone.desktop.frame.panel_state import DeltaFigure, DialState, PanelState
from aequitone.desktop.session.live import Live, LiveTracker
from aequitone.desktop.session.prompts import beginning
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.stations.colour import panel
from aequitone.desktop.stations.colour.commands import LENGTH
from aequitone.desktop.stations.colour.page import colour_page, colour_table, colour_text
from aequitone.desktop.stations.colour.state import ColourPage, ColourTable
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.passes import COLOURS_FOUND, COLOURS_LEFT, PassType, Snapshot, begin_planned, colour_plan
from aequitone.planning.pace import colour_pass_seconds
from aequitone.procedures.colour.colour_pass import ColourPass, ColoursSoFar
from aequitone.procedures.colour.samples import Length


class ColourTracker(LiveTracker):
    """Follows a colour pass."""

    def followed(self, value: Any, trail: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        if isinstance(value, ColoursSoFar):
            # Worked out here, in the runner's thread, and kept: the window's must not wait for it.
            _ = value.found
        return trail


class ColourStation(MeasuredStation):
    """Reads colours. Optional: grey is set without it."""

    id = "colour"
    title = "Colour"
    passes = (COLOURS_FOUND, COLOURS_LEFT)
    optional = True
    tracker_type = ColourTracker
    _length: Length | None = None
    _drawn: tuple[Snapshot, ColoursSoFar | None, str, ColourPage] | None = None

    @property
    def length(self) -> Length:
        """How much a pass is to read: as chosen, or the usual for this bench."""
        return self._length or colour_plan(self.snapshot).length

    @property
    def kind(self) -> PassType[Any, Any]:
        """What is measured next: as found once, then as left."""
        return COLOURS_LEFT if self.snapshot.done(COLOURS_FOUND) else COLOURS_FOUND

    def is_done(self, snapshot: Snapshot) -> bool:
        return snapshot.done(COLOURS_FOUND)

    def seconds(self, snapshot: Snapshot) -> float:
        if self.is_done(snapshot):
            return snapshot.seconds(*self.passes)
        return COLOURS_FOUND.seconds(snapshot, snapshot.pace) if COLOURS_FOUND.fits(snapshot) else 0.0

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
        return panel.done(snapshot, told, found, self.length, following, left=left)

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        if live is None:
            return beginning()
        value = live.value
        plan = value.plan if isinstance(value, ColoursSoFar) else colour_plan(self.snapshot, self.length)
        share = 1.0 - live.done / max(1, live.total or plan.readings)
        return panel.measuring(live, colour_pass_seconds(plan, self.snapshot.pace, live.white or 100.0) * share)

    def said(self) -> str:
        kind = COLOURS_LEFT if self.snapshot.done(COLOURS_LEFT) else COLOURS_FOUND
        return " ".join((*self.snapshot.notes(kind), self.snapshot.words(kind))).strip()

    def figures(self) -> tuple[DeltaFigure | None, DialState | None]:
        found = self.newest
        return (panel.mean_delta(found) if found else None), None

    def commands(self) -> Commands:
        return {commands.BEGIN: self.begin, LENGTH: self._change_length}

    def _change_length(self) -> None:
        self._length = panel.next_length(self.length)
        self.session.changed.emit()

    def begin(self) -> None:
        session, kind, length = self.session, self.kind, self.length
        snapshot = self.snapshot
        if not kind.fits(snapshot):
            session.begin(kind)
            return
        logbook = session.logbook
        session.run(kind, lambda: begin_planned(logbook, snapshot, kind, colour_plan(snapshot, length)))

    @property
    def _so_far(self) -> ColoursSoFar | None:
        value = self.live.value if self.live else None
        return value if isinstance(value, ColoursSoFar) else None

    def page(self) -> ColourPage | ColourTable:
        if self.session.tabled:
            so_far = self._so_far
            return colour_table(so_far.found if so_far else self.newest)
        return self._picture()

    def _picture(self) -> ColourPage:
        snapshot, so_far, here = self.snapshot, self._so_far, self.live.shown if self.live else ""
        kept = self._drawn
        # Thirty pictures a second are drawn while a pass runs, and few of them show anything new here.
        if kept is None or kept[0] is not snapshot or kept[1] is not so_far or kept[2] != here:
            kept = self._drawn = (snapshot, so_far, here, self._page(so_far, here))
        return kept[3]

    def _page(self, so_far: ColoursSoFar | None, here: str) -> ColourPage:
        snapshot = self.snapshot
        as_found, left = snapshot.result(COLOURS_FOUND), snapshot.result(COLOURS_LEFT)
        if self.live is not None:
            plan = so_far.plan if so_far else colour_plan(snapshot, self.length)
            return colour_page(plan, so_far.found if so_far else None, as_found, "being read", here)
        plan = colour_plan(snapshot, self.length)
        if left is not None:
            return colour_page(plan, left, as_found, "as left, with as found behind")
        return colour_page(plan, as_found, None, "as found" if as_found else "not read yet")

    def as_text(self) -> str:
        return colour_text(self.newest)

    def make_view(self) -> RoomView:
        from aequitone.desktop.stations.colour.view import colour_view

        return colour_view()
