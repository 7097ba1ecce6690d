"""Puts together everything the window shows at one moment, from those who know each part."""

from aequitone.desktop import stages
from aequitone.desktop.rooms import Rooms
from aequitone.desktop.states import ChecklistRow, LadderState, LevelsPage, MoveRow, PanelState, Station, TonePage
from aequitone.desktop.stations.hand_over import panel as hand_over_panels
from aequitone.desktop.stations.levels import page as levels_page
from aequitone.desktop.stations.prepare import panel as prepare_panels
from aequitone.desktop.stations.tone import page as tone_page
from aequitone.desktop.tools.bench.state import BenchState
from aequitone.desktop.view import Still, View
from aequitone.desktop.widgets import moves as moves_page
from aequitone.logbook import BenchChoice
from aequitone.passes import LEVELS, TONE, Snapshot
from aequitone.procedures.tone import ToneState


class Scene:
    """Decides nothing; keeps what changes seldom."""

    def __init__(self, rooms: Rooms) -> None:
        self._rooms = rooms
        self._still_for: tuple[Snapshot | None, Station, BenchChoice] | None = None
        self._still_parts: Still | None = None
        self._tone_for: tuple[Snapshot, ToneState | None, float | None] | None = None
        self._tone_page: TonePage | None = None

    def view(
        self,
        facts: Snapshot | None,
        here: Station,
        choice: BenchChoice,
        panel: PanelState,
        bench: BenchState | None,
    ) -> View:
        """The present moment at a station; `choice`: the instruments."""
        strip, route, foot, still = self._still(facts, here, choice)
        handing_over = here is Station.HAND_OVER
        return View(
            strip,
            route,
            panel,
            self._moving_ladder(here) or still,
            foot,
            here,
            bench,
            hand_over_panels.paragraphs(facts) if handing_over else (),
            self._rooms.reports.pictures if handing_over else None,
            self._checklist(facts, here),
            self._levels(facts, here),
            self._rooms.finding.lines if self._rooms.finding.open else None,
            self._rooms.ledger.page(facts) if self._rooms.ledger.open and facts else None,
            self._tone(facts, here),
            self._moves(facts, here),
        )

    def _checklist(self, facts: Snapshot | None, here: Station) -> tuple[ChecklistRow, ...]:
        if facts is None or here is not Station.PREPARE:
            return ()
        return prepare_panels.rows(self._rooms.preparing.lines(facts), self._rooms.preparing.here(facts))

    def _levels(self, facts: Snapshot | None, here: Station) -> LevelsPage | None:
        if facts is None or here is not Station.LEVELS:
            return None
        live = self._rooms.passing.live if self._rooms.passing.kind is LEVELS else None
        return levels_page.page(facts, levels_page.levels_of(live.value) if live else None, self._rooms.eye.role)

    def _moves(self, facts: Snapshot | None, here: Station) -> tuple[MoveRow, ...] | None:
        if facts is None:
            return None
        live = self._rooms.passing.live
        return moves_page.moves(
            facts, here, live.state if live else None, tone_page.tone_of(live.value) if live else None
        )

    def _tone(self, facts: Snapshot | None, here: Station) -> TonePage | None:
        if facts is None or here is not Station.TONE:
            return None
        live = self._rooms.passing.live if self._rooms.passing.kind is TONE else None
        state = tone_page.tone_of(live.value) if live else None
        here_now = live.percent if live else None
        kept = self._tone_for
        # Thirty pictures a second are drawn while a pass runs, and few of them show anything new here.
        if kept is None or kept[0] is not facts or kept[1] is not state or kept[2] != here_now:
            self._tone_for = (facts, state, here_now)
            self._tone_page = tone_page.page(facts, state, here_now)
        return self._tone_page

    def _still(self, facts: Snapshot | None, here: Station, choice: BenchChoice) -> Still:
        """What changes only with the facts and the station, kept until one of them does."""
        # The facts themselves are kept in the key: they are compared by identity, and must not die.
        kept = self._still_for
        if self._still_parts is None or kept is None or facts is not kept[0] or (here, choice) != kept[1:]:
            ladder = stages.pass_ladder(facts, here) if facts and here in stages.GREY_STATIONS else None
            self._still_parts = (stages.strip(facts), stages.route(facts, here), stages.foot(choice), ladder)
            self._still_for = (facts, here, choice)
        return self._still_parts

    def _moving_ladder(self, here: Station) -> LadderState | None:
        """The ladder of the pass that runs at this station, if one does."""
        live, kind = self._rooms.passing.live, self._rooms.passing.kind
        if live is None or kind is None or here not in stages.GREY_STATIONS:
            return None
        if stages.STATION_PASS[here] is not kind:
            return None
        return stages.moving_ladder(live.rows, live.percent, kind, live.state)
