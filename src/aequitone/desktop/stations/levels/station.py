"""Levels: light output, black level, contrast, colour and tint, by meter or by eye; uniformity."""

from typing import TYPE_CHECKING, Any

from aequitone.desktop import commands
from aequitone.desktop.frame.key_hints import bench_keys
from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.session.prompts import beginning
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.stations.levels import panel
from aequitone.desktop.stations.levels.by_eye import ByEye
from aequitone.desktop.stations.levels.commands import BY_EYE, LIGHT, MEASURE_UNIFORMITY, TYPE_LIGHT
from aequitone.desktop.stations.levels.page import levels_page, levels_text
from aequitone.desktop.stations.levels.state import LevelsPage
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.passes import LEVELS, UNIFORMITY, PassType, Snapshot, load_snapshot
from aequitone.procedures.levels.session import LevelsState
from aequitone.procedures.preparation.uniformity import Evenness

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session


class LevelsStation(MeasuredStation):
    """Sets light output, black level, contrast, colour and tint."""

    id = "levels"
    title = "Levels"
    passes = (LEVELS, UNIFORMITY)

    def __init__(self, session: "Session") -> None:
        super().__init__(session)
        self.by_eye = ByEye(session)
        self._typing, self._objection = False, ""

    @property
    def _told(self) -> LevelsState | None:
        """What the pass that runs has told."""
        value = self.live.value if self.live else None
        return value if isinstance(value, LevelsState) else None

    def panel(self) -> PanelState:
        if self.by_eye.open and not self.session.running.running:
            return self.by_eye.panel(bench_keys(self.snapshot))
        if self._typing and not self.session.running.running:
            return panel.typing_light(self.snapshot, self._objection)
        return super().panel()

    def idle(self) -> PanelState:
        following = self.session.navigator.next_station()
        if self.snapshot.result(LEVELS) is None:
            return panel.to_begin(self.snapshot, self.session.message, self.time_words, following)
        told = " ".join(part for part in (self.session.message, self.said(), self.revised()) if part)
        return panel.done(self.snapshot, told, following)

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        asked = self.session.asked
        if asked is not None and isinstance(asked.question, AskMove):
            watched = self.snapshot.visit.bench.automatic
            return panel.moving(asked.question, self._told, bench_keys(self.snapshot), watched=watched)
        if live is None:
            return beginning()
        if self._told is not None and self._told.glance is not None and not live.paused:
            return panel.watching(self._told.glance, bench_keys(self.snapshot))
        if kind is UNIFORMITY:
            found = live.value if isinstance(live.value, Evenness) else None
            return panel.uniformity(found, live.shown, live.reading, paused=live.paused)
        return panel.measuring(self._told, live.shown, live.reading, live.turned, paused=live.paused)

    def page(self) -> LevelsPage:
        return levels_page(self.snapshot, self._told, self.by_eye.role)

    def as_text(self) -> str:
        return levels_text(self.page())

    def make_view(self) -> RoomView:
        from aequitone.desktop.stations.levels.view import SweepView

        return SweepView()

    def commands(self) -> Commands:
        if self._typing and not self.session.running.running:
            return {commands.CLOSE_TOOL: self._type_nothing}
        own = {
            BY_EYE: self.by_eye.enter,
            LIGHT: self._next_light,
            TYPE_LIGHT: self._type_light,
            MEASURE_UNIFORMITY: lambda: self.session.begin(UNIFORMITY),
        }
        return {**super().commands(), **own, **(self.by_eye.commands() if self.by_eye.open else {})}

    def leave(self) -> None:
        self.by_eye.leave()
        self._type_nothing()

    def typed(self, text: str) -> None:
        """A reading was typed, or the light that white is to have."""
        if not self._typing or self.session.asked is not None:
            self.session.typed(text)
            return
        try:
            light = panel.light_typed(text)
        except ValueError as error:
            self._objection = f"{error}. It stays as it was."
            self.session.changed.emit()
            return
        self._type_nothing()
        self._want(light)

    def _type_light(self) -> None:
        self._typing, self._objection = True, ""

    def _type_nothing(self) -> None:
        self._typing = False

    def _next_light(self) -> None:
        """Want another light of white in the end."""
        self._want(panel.next_light(self.snapshot))

    def _want(self, light: float) -> None:
        """Want this luminance of white in the end, cd/m²; 0: what is usual."""
        logbook, visit_id = self.session.logbook, self.snapshot.visit.id

        def work() -> Snapshot:
            logbook.choose_light(visit_id, light)
            return load_snapshot(logbook, visit_id)

        self.session.write(work)
