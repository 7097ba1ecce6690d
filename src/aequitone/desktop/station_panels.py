"""Which move panel it is: by station, by what runs there, and by what is asked."""

from aequitone.desktop import panels, stages
from aequitone.desktop.frame.key_hints import LEAVE, bench_keys
from aequitone.desktop.rooms import Rooms
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskMove
from aequitone.desktop.states import BigLine, PanelState, Station
from aequitone.desktop.stations.hand_over import panel as hand_over_panels
from aequitone.desktop.stations.levels import page as levels_page
from aequitone.desktop.stations.prepare import panel as prepare_panels
from aequitone.desktop.stations.tone import page as tone_page
from aequitone.desktop.stations.white import panel as white_panels
from aequitone.passes import LEVELS, TONE, PassType, Snapshot, pass_type
from aequitone.planning.pace import minutes_words


class StationPanels:
    """Asks those who know, and decides nothing else."""

    def __init__(self, rooms: Rooms) -> None:
        self._rooms = rooms

    def panel(self, facts: Snapshot | None, here: Station, asked: panels.Asked | None, message: str) -> PanelState:
        """The move panel at a station."""
        if self._rooms.finding.open:
            return self._rooms.finding.panel(message)
        if facts is None:
            return panels.arrive(self._rooms.arriving.draft, None, message)
        if self._rooms.ledger.open:
            return self._rooms.ledger.panel(facts, message)
        passing = self._rooms.passing
        if passing.kind is not None and passing.running:
            station = stages.PASS_STATION[passing.kind]
            if station is not here:
                return panels.elsewhere(passing.kind, list(Station).index(station) + 1)
            return self._running(facts, passing.kind, asked, message)
        if facts.visit.closed is not None and here is not Station.HAND_OVER:
            return panels.closed(facts, here)
        interrupted = facts.interrupted
        if here is Station.ARRIVE:
            return panels.arrive(self._rooms.arriving.draft, facts, message)
        if here is Station.PREPARE:
            lines = self._rooms.preparing.lines(facts)
            return prepare_panels.panel(facts, lines, self._rooms.preparing.here(facts), message)
        by_eye = here is Station.LEVELS and self._rooms.eye.open
        if interrupted is not None and stages.PASS_STATION[pass_type(interrupted.kind)] is here and not by_eye:
            return panels.interrupted(facts, message)
        if here is Station.HAND_OVER:
            made, busy = self._rooms.reports.folder is not None, self._rooms.reports.busy
            return hand_over_panels.hand_over(facts, message, made=made, busy=busy)
        if by_eye:
            return self._rooms.eye.panel(lambda: bench_keys(facts))
        if here is Station.LEVELS:
            time = minutes_words(stages.planned_seconds(facts, here))
            return levels_page.idle(facts, message, f"About {time}.")
        if here is Station.WHITE:
            return white_panels.white_idle(facts, message)
        if here is Station.TONE:
            time = minutes_words(stages.planned_seconds(facts, here))
            return tone_page.idle(facts, message, f"About {time}.")
        return panels.grey_idle(facts, here, message)

    def _tone(self, facts: Snapshot, asked: panels.Asked | None, live: Live | None, message: str) -> PanelState:
        state = tone_page.tone_of(live.value) if live else None
        why = self._rooms.passing.explaining
        if asked is not None and isinstance(asked.question, AskMove):
            return tone_page.moving(asked.question, facts, live, state, message, why=why)
        if live is None:
            return PanelState("Measuring", False, (BigLine("Beginning"),), keys=(LEAVE,))
        if live.watched is not None and not live.paused:
            heard = self._rooms.passing.hearing.on
            return white_panels.watching(live.watched, facts, live, message, heard=heard)
        return tone_page.running(live, state, why=why)

    def _running(self, facts: Snapshot, kind: PassType, asked: panels.Asked | None, message: str) -> PanelState:
        passing, live = self._rooms.passing, self._rooms.passing.live
        station = stages.PASS_STATION[kind]
        if station in stages.GREY_STATIONS:
            return panels.running(
                facts,
                kind,
                live,
                asked,
                passing.trail,
                message,
                why=passing.explaining,
                heard=passing.hearing.on,
            )
        answer = panels.answering(facts, kind, live, asked)
        if answer is not None:
            return answer
        value = live.value if live else None
        if kind is TONE:
            return self._tone(facts, asked, live, message)
        if asked is not None and isinstance(asked.question, AskMove):
            extra = bench_keys(facts)
            if kind is LEVELS:
                return levels_page.moving(asked.question, levels_page.levels_of(value), extra)
            return prepare_panels.turning(facts, asked.question, value, extra)
        shown, reading = (live.shown, live.reading) if live else ("Beginning", None)
        paused, turned = (live.paused, live.turned) if live else (False, None)
        if kind is LEVELS:
            state = levels_page.levels_of(value)
            return levels_page.running(state, shown, reading, turned, paused=paused)
        return prepare_panels.measuring(kind, value, shown, reading, paused=paused)
