"""What As found and Proof have in common: the same pass over grey, before and after. No Qt."""

from dataclasses import replace
from typing import Any

from aequitone.desktop import commands
from aequitone.desktop.commands import KeyHint, hint
from aequitone.desktop.frame.key_hints import LEAVE, NEXT, VIEW_KEYS, bench_keys, pause
from aequitone.desktop.frame.panel_state import BigLine, DeltaFigure, DialState, PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.prompts import beginning
from aequitone.desktop.station import Commands, RoomView
from aequitone.desktop.stations.grey.ladder import LadderPage, casts, ladder_page, mean_delta
from aequitone.desktop.stations.measured import MeasuredStation
from aequitone.desktop.widgets.ladder_state import LadderState, empty_rows, filled, ghosted, marked
from aequitone.desktop.widgets.ladder_text import ladder_text
from aequitone.handover import words
from aequitone.logbook import PassState
from aequitone.passes import AS_FOUND, SET_ASIDE_BY_PERSON, PassType
from aequitone.planning.pace import minutes_words, seconds_left
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.reference import target_named


class GreyStation(MeasuredStation):
    """Reads the grey ladder; a station says in which words."""

    wanted: tuple[str, str]
    """What is to be done, in two large lines."""
    subtitles: tuple[str, str, str]
    """Of the ladder: while it is read, once it is read, and before."""
    colours: PassType[Any, Any]
    """The pass over colours that belongs beside."""

    @property
    def before(self) -> str:
        """What to know before it is begun."""
        return ""

    def idle(self) -> PanelState:
        found = self.snapshot.result(self.kind)
        return self._to_begin() if found is None else self._done(found)

    def _to_begin(self) -> PanelState:
        snapshot, message = self.snapshot, self.session.message
        plan = self.kind.make_plan(snapshot)
        lines, before = self.wanted, self.before
        if finding := self._what_stopped_it():
            lines, message, before = ("Correct the signal,", "measure again"), "", finding
        return PanelState(
            "Your move",
            True,
            tuple(BigLine(line) for line in lines),
            f"{message} {before}".strip(),
            keys=(
                hint(commands.BEGIN, "begin", main=True),
                hint(commands.IMPORT, "import a file"),
                *bench_keys(snapshot),
                *VIEW_KEYS,
            ),
            outlook=f"{plan.readings} readings, {self.time_words.lower()}",
        )

    def _done(self, found: GreyPass) -> PanelState:
        told = [self.session.message, self.said(), self.revised()]
        return PanelState(
            "Your move",
            True,
            (BigLine("Go on to"), BigLine(self.session.navigator.next_station())),
            " ".join(part for part in told if part),
            delta=mean_delta(found),
            dial=casts(found),
            keys=(
                NEXT,
                hint(commands.BEGIN, "measure again", key="B"),
                *self._colour_keys,
                *bench_keys(self.snapshot),
                *VIEW_KEYS,
            ),
        )

    @property
    def _colour_keys(self) -> tuple[KeyHint, ...]:
        wanted = self.colours.fits(self.snapshot) and not self.snapshot.done(self.colours)
        return (hint(commands.COLOURS, "colours too"),) if wanted else ()

    def commands(self) -> Commands:
        return {**super().commands(), commands.COLOURS: self._measure_colours}

    def _measure_colours(self) -> None:
        """Go to Colour, and measure there what belongs beside this."""
        session, wanted = self.session, bool(self._colour_keys)
        session.navigator.go_to("colour")
        if wanted:
            session.begin(self.colours)

    def said(self) -> str:
        snapshot, found = self.snapshot, self.snapshot.result(self.kind)
        if found is None:
            return ""
        told = words.found_words(found, target_named(snapshot.visit.target))
        return " ".join((*snapshot.notes(self.kind), told))

    def figures(self) -> tuple[DeltaFigure | None, DialState | None]:
        found = self.snapshot.result(self.kind)
        return (mean_delta(found), casts(found)) if found else (None, None)

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        if live is None:
            return replace(beginning(), keys=(LEAVE, *VIEW_KEYS))
        snapshot = self.snapshot
        plan = kind.make_plan(snapshot)
        left = seconds_left(plan, snapshot.pace, live.done, live.white or 100.0)
        total = live.total or plan.readings
        sentence = live.note
        if live.first_look and not sentence:
            sentence = "Checking the signal: a few greys and muted colours tell which curve and range arrive."
        return PanelState(
            "Paused" if live.paused else "Measuring",
            live.paused,
            (BigLine(live.shown),),
            sentence,
            reading=live.reading,
            delta=live.delta,
            dial=live.dial,
            keys=(pause(paused=live.paused), LEAVE, *VIEW_KEYS),
            outlook=f"{live.done} of {total} readings, about {minutes_words(left)} left.",
            progress=live.done / max(1, total),
        )

    def ladder(self) -> LadderState:
        """The ladder as it is read, or as it was."""
        reading, read, unread = self.subtitles
        live = self.live
        if live is not None:
            rows = tuple(replace(row, here=True) if row.percent == live.percent else row for row in live.rows)
            return LadderState("Grey ladder", reading, rows, formula=self.snapshot.leading)
        snapshot = self.snapshot
        formula = snapshot.leading
        earlier = snapshot.result(AS_FOUND) if self.kind is not AS_FOUND else None
        white = earlier.white if earlier else None
        rows_of = empty_rows(target_named(snapshot.visit.target), snapshot.visit.levels, white)
        if earlier:
            rows_of = ghosted(rows_of, earlier.errors, earlier.xyz, earlier.white, formula)
        found = snapshot.result(self.kind)
        if found:
            rows_of = marked(filled(rows_of, found.errors, found.xyz, found.white, formula), found)
        return LadderState("Grey ladder", read if found else unread, tuple(rows_of.values()), formula=formula)

    def page(self) -> LadderPage:
        return ladder_page(self.ladder(), tabled=self.session.tabled)

    def as_text(self) -> str:
        return ladder_text(self.ladder())

    def make_view(self) -> RoomView:
        from aequitone.desktop.stations.grey.view import ladder_view

        return ladder_view()

    def _what_stopped_it(self) -> str:
        """What stopped the last pass of this kind, where a finding did and not the person; "" otherwise."""
        last = [record for record in self.snapshot.passes if record.kind == self.kind.key][-1:]
        if last and last[0].state is PassState.SET_ASIDE and last[0].outcome != SET_ASIDE_BY_PERSON:
            return last[0].outcome
        return ""
