"""White: grey brought to the white point at two levels."""

from functools import partial
from typing import Any

import numpy as np

from aequitone.advice.two_point.mover import decisive
from aequitone.colorimetry import Formula, cast_of
from aequitone.desktop.commands import Command
from aequitone.desktop.frame.panel_state import DeltaFigure, DialState, PanelState
from aequitone.desktop.session.live import Live, LiveTracker
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.session.prompts import beginning
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.stations.grey.ladder import LadderPage, ladder_page
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.desktop.stations.white import panel
from aequitone.desktop.stations.white.commands import FORMULA, PAIR, STOP_FIGURE
from aequitone.desktop.stations.white.ladder import white_ladder, with_reach
from aequitone.desktop.widgets.ladder_state import LadderState
from aequitone.desktop.widgets.ladder_text import ladder_text
from aequitone.desktop.widgets.moves import MovesPage, moves_text, two_point_moves
from aequitone.passes import AS_FOUND, WHITE, PassType, Snapshot, light_now, load_snapshot, white_state
from aequitone.procedures.white.session import WhiteState

# Trips that the trail of the cast goes back.
_TRAIL = 6


class WhiteTracker(LiveTracker):
    """Follows the cast of the worse level from trip to trip."""

    def followed(self, value: Any, trail: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        if not isinstance(value, WhiteState):
            return trail
        now = self.cast_of(value)
        return (trail if trail and trail[-1] == now else (*trail, now))[-_TRAIL:]

    def cast_of(self, state: WhiteState) -> tuple[float, float]:
        """The cast of the worse level, warm and green in u'v'."""
        cast = cast_of(state.xyz[decisive(np.array(state.errors))], self.target.white.xyz())
        return cast.warm, cast.green


class WhiteStation(MeasuredStation):
    """Brings the white point right at two levels."""

    id = "white"
    title = "White"
    passes = (WHITE,)
    tracker_type = WhiteTracker

    def white_before(self, snapshot: Snapshot) -> float | None:
        return light_now(snapshot)[0] if snapshot.result(AS_FOUND) is not None else None

    def black_before(self, snapshot: Snapshot) -> float:
        return light_now(snapshot)[1]

    @property
    def state(self) -> WhiteState | None:
        """Where white balance stands: of the pass that runs, or of the newest."""
        live = self.live
        if self.session.running.kind in self.passes:
            return live.value if live is not None and isinstance(live.value, WhiteState) else None
        return white_state(self.snapshot)

    def figures(self) -> tuple[DeltaFigure | None, DialState | None]:
        result = self.snapshot.result(WHITE)
        if result is None:
            return None, None
        tracker = self.tracker(self.snapshot, WHITE)
        assert isinstance(tracker, WhiteTracker)
        return panel.delta_of(result.state), DialState((tracker.cast_of(result.state),))

    def idle(self) -> PanelState:
        result = self.snapshot.result(WHITE)
        message = self.session.message
        if result is None:
            return panel.to_begin(self.snapshot, message)
        told = " ".join(part for part in (message, result.words, self.revised()) if part)
        delta, dial = self.figures()
        return panel.done(self.snapshot, result.state, told, delta, dial, self.session.navigator.next_station())

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        session, snapshot, state = self.session, self.snapshot, self.state
        asked, why = session.asked, session.running.explaining
        trail = DialState(live.trail) if live is not None and live.trail else None
        if asked is not None and isinstance(asked.question, AskMove):
            return panel.moving(asked.question, snapshot, live, state, trail, session.message, why=why)
        if live is None:
            return beginning()
        if live.watched is not None and not live.paused:
            return panel.watching(live.watched, snapshot, live, session.message, heard=session.audio.on)
        return panel.measuring(live, state, trail, why=why)

    def ladder(self) -> LadderState:
        """The grey ladder with the three levels that are read here, and the reach of the controls."""
        live = self.live
        if live is None:
            return white_ladder(self.snapshot, self.state)
        return with_reach(live.rows, self.state, here=live.percent)

    def page(self) -> LadderPage | MovesPage:
        if self.session.moves_listed:
            return self._moves()
        return ladder_page(self.ladder(), tabled=self.session.tabled)

    def _moves(self) -> MovesPage:
        state = self.state
        return MovesPage(two_point_moves(state.trips if state else ()))

    def as_text(self) -> str:
        return moves_text(self._moves()) if self.session.moves_listed else ladder_text(self.ladder())

    def make_view(self) -> RoomView:
        from aequitone.desktop.stations.white.view import white_view

        return white_view()

    def commands(self) -> Commands:
        chosen = {command: partial(self._choose, command) for command in (STOP_FIGURE, FORMULA, PAIR)}
        return {**super().commands(), **chosen}

    def _choose(self, command: Command) -> None:
        """Go on to the next stop figure, formula or pair of levels."""
        logbook, visit_id = self.session.logbook, self.snapshot.visit.id
        stop, formula, pair = panel.next_choice(command, self.snapshot)

        def work() -> Snapshot:
            logbook.choose_white(visit_id, stop, Formula(formula), pair)
            return load_snapshot(logbook, visit_id)

        self.session.write(work)
