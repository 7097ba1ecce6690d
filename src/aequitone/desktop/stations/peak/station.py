"""Peak: what a screen can give in HDR, its knee, and the figures to enter in a tone mapping."""

from typing import Any

from aequitone.desktop.frame.panel_state import PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.prompts import beginning
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.desktop.stations.peak import panel
from aequitone.desktop.stations.peak.commands import SCENES, UPPER_END
from aequitone.desktop.stations.peak.page import peak_page, peak_text
from aequitone.desktop.stations.peak.scenes import ScenesPage, scenes_page, scenes_text
from aequitone.desktop.stations.peak.state import PeakPage
from aequitone.passes import PEAK, PassType, Snapshot, load_snapshot
from aequitone.procedures.hdr.peak import READINGS, PeakPass


class PeakStation(MeasuredStation):
    """Reads white by window, the light that it holds, the knee and the darkest grey; it turns nothing."""

    id = "peak"
    title = "Peak"
    passes = (PEAK,)
    optional = True
    _scenes = False
    _drawn: tuple[Snapshot, ScenesPage | None] | None = None

    @property
    def _found(self) -> PeakPass | None:
        """What the pass that runs has told, or the newest came to."""
        value = self.live.value if self.live else None
        return value if isinstance(value, PeakPass) else self.snapshot.result(PEAK)

    def idle(self) -> PanelState:
        snapshot, message = self.snapshot, self.session.message
        if snapshot.result(PEAK) is None:
            return panel.to_begin(snapshot, message, READINGS, self.time_words)
        told = " ".join(part for part in (message, self.said(), self.revised()) if part)
        following = self.session.navigator.next_station()
        return panel.done(snapshot, told, following, scenes=self._scenes)

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        if live is None:
            return beginning()
        whole = kind.seconds(self.snapshot, self.snapshot.pace)
        return panel.measuring(live, whole * max(0.0, 1.0 - live.done / max(1, live.total)))

    def commands(self) -> Commands:
        return {**super().commands(), UPPER_END: self._next_end, SCENES: self._toggle_scenes}

    def _next_end(self) -> None:
        """Hold grey to another upper end: what was read is judged by it at once."""
        logbook, visit_id, target = self.session.logbook, self.snapshot.visit.id, panel.next_end(self.snapshot)

        def work() -> Snapshot:
            logbook.choose_target(visit_id, target)
            return load_snapshot(logbook, visit_id)

        self.session.write(work)

    def _toggle_scenes(self) -> None:
        self._scenes = not self._scenes

    def page(self) -> PeakPage | ScenesPage:
        shown = self._shown_scenes() if self._scenes and self.live is None else None
        return shown or peak_page(self._found)

    def _shown_scenes(self) -> ScenesPage | None:
        """The scenes, drawn at the desk once for what is known; those before until they are there."""
        snapshot, session = self.snapshot, self.session
        if self._drawn is None or self._drawn[0] is not snapshot:
            self._drawn = snapshot, self._drawn[1] if self._drawn else None

            def done(page: ScenesPage | None) -> None:
                # What was asked for since is drawn next.
                if self._drawn is not None and self._drawn[0] is snapshot:
                    self._drawn = snapshot, page
                    session.changed.emit()

            session.desk.do(lambda: scenes_page(snapshot), done, lambda error: session.say(str(error)))
        return self._drawn[1]

    def as_text(self) -> str:
        page = self.page()
        return scenes_text(page) if isinstance(page, ScenesPage) else peak_text(page)

    def make_view(self) -> RoomView:
        from aequitone.desktop.stations.peak.scenes_view import ScenesView
        from aequitone.desktop.stations.peak.view import PeakView
        from aequitone.desktop.widgets.page_stack import PageStack

        return PageStack({PeakPage: PeakView(), ScenesPage: ScenesView()})
