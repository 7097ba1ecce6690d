"""Tone: near black, and grey at many levels."""

from typing import Any

from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.session.prompts import beginning
from aequitone.desktop.station import RoomView
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.desktop.stations.tone import panel
from aequitone.desktop.stations.tone.page import tone_page, tone_text
from aequitone.desktop.stations.tone.state import TonePage
from aequitone.desktop.stations.white.panel import watching
from aequitone.desktop.widgets.moves import MovesPage, moves_text, multi_point_moves
from aequitone.passes import TONE, PassType, Snapshot, white_state
from aequitone.procedures.tone.tone import ToneState


class ToneStation(MeasuredStation):
    """Corrects light and colour level by level. Optional: not every screen has controls for it."""

    id = "tone"
    title = "Tone"
    passes = (TONE,)
    optional = True
    _drawn: tuple[Snapshot, ToneState | None, float | None, TonePage] | None = None

    def white_before(self, snapshot: Snapshot) -> float | None:
        state = white_state(snapshot)
        return float(state.xyz[0, 1]) if state is not None else None

    @property
    def state(self) -> ToneState | None:
        """Where tone stands: of the pass that runs, or of the newest."""
        return self._told or self.snapshot.state(TONE)

    @property
    def _told(self) -> ToneState | None:
        """What the pass that runs has told."""
        value = self.live.value if self.live else None
        return value if isinstance(value, ToneState) else None

    def idle(self) -> PanelState:
        result, message = self.snapshot.result(TONE), self.session.message
        following = self.session.navigator.next_station()
        if result is None:
            return panel.to_begin(self.snapshot, message, self.time_words, following)
        told = " ".join(part for part in (message, result.words, self.revised()) if part)
        return panel.done(self.snapshot, told, following)

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        session = self.session
        asked, why = session.asked, session.running.explaining
        if asked is not None and isinstance(asked.question, AskMove):
            return panel.moving(asked.question, self.snapshot, live, self._told, session.message, why=why)
        if live is None:
            return beginning()
        if live.watched is not None and not live.paused:
            return watching(live.watched, self.snapshot, live, session.message, heard=session.audio.on)
        return panel.measuring(live, self._told, why=why)

    def page(self) -> TonePage | MovesPage:
        return self._moves() if self.session.moves_listed else self._picture()

    def _picture(self) -> TonePage:
        snapshot, told, here = self.snapshot, self._told, self.live.percent if self.live else None
        kept = self._drawn
        # Thirty pictures a second are drawn while a pass runs, and few of them show anything new here.
        if kept is None or kept[0] is not snapshot or kept[1] is not told or kept[2] != here:
            kept = self._drawn = (snapshot, told, here, tone_page(snapshot, told, here))
        return kept[3]

    def _moves(self) -> MovesPage:
        state = self.state
        ladder = state.ladder if state else None
        return MovesPage(multi_point_moves(ladder.trips if ladder else ()))

    def as_text(self) -> str:
        return moves_text(self._moves()) if self.session.moves_listed else tone_text(self._picture())

    def make_view(self) -> RoomView:
        from aequitone.desktop.stations.tone.view import ToneView
        from aequitone.desktop.widgets.moves_table import MovesTable
        from aequitone.desktop.widgets.page_stack import PageStack

        return PageStack({TonePage: ToneView(), MovesPage: MovesTable()})
