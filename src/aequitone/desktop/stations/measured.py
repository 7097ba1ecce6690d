"""What stations that measure have in common; no Qt."""

from collections.abc import Mapping
from dataclasses import replace
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from aequitone.desktop import commands
from aequitone.desktop.commands import hint
from aequitone.desktop.frame.key_hints import CONTROLS, NEXT, VIEW_KEYS, VISITS
from aequitone.desktop.frame.panel_state import BigLine, DeltaFigure, DialState, PanelState
from aequitone.desktop.session.live import Live, LiveTracker
from aequitone.desktop.session.prompts import beginning, go_on, interrupted, prompt
from aequitone.desktop.station import Commands
from aequitone.passes import AS_FOUND, NotNotedError, NotReadyError, PassType, Snapshot, pass_type
from aequitone.planning.pace import minutes_words
from aequitone.reference import target_named

if TYPE_CHECKING:
    from aequitone.desktop.session.session import Session


class MeasuredStation:
    """A station with one main kind of pass: says what is to be said whatever it measures.

    What a station adds: `idle`, `measuring`, `page`, `make_view`, and its own commands.
    """

    id: ClassVar[str]
    title: ClassVar[str]
    passes: ClassVar[tuple[PassType[Any, Any], ...]]
    optional: ClassVar[bool] = False
    of: ClassVar[Literal["visit", "job"]] = "job"

    def __init__(self, session: "Session") -> None:
        self.session = session
        self._checked: tuple[Snapshot, PassType[Any, Any], str] | None = None
        self._timed: tuple[Snapshot, PassType[Any, Any], str] | None = None

    @property
    def kind(self) -> PassType[Any, Any]:
        """The main kind of pass."""
        return self.passes[0]

    @property
    def snapshot(self) -> Snapshot:
        """The visit in view."""
        return self.session.visit

    @property
    def live(self) -> Live | None:
        """The last moment of the pass that runs here; None where none does, or nothing was heard of it yet."""
        return self.session.running.live if self.session.running.kind in self.passes else None

    def is_done(self, snapshot: Snapshot) -> bool:
        """Whether its work is done."""
        return snapshot.done(self.kind)

    def seconds(self, snapshot: Snapshot) -> float:
        """What it took where it is done, or will take."""
        if self.is_done(snapshot):
            return snapshot.seconds(self.kind)
        return self.kind.seconds(snapshot, snapshot.pace) if self.kind.fits(snapshot) else 0.0

    @property
    def time_words(self) -> str:
        """What its pass will take, in words; worked out once for each snapshot."""
        snapshot, kind = self.snapshot, self.kind
        if self._timed is None or self._timed[0] is not snapshot or self._timed[1] is not kind:
            self._timed = snapshot, kind, self._time_words(snapshot)
        return self._timed[2]

    def _time_words(self, snapshot: Snapshot) -> str:
        """Minutes, and by hand the trips to the menu, if there are any; nothing where nothing can be set."""
        pace = snapshot.pace
        seconds = self.kind.seconds(snapshot, pace)
        if not seconds:
            return ""
        told = f"About {minutes_words(seconds)}"
        if snapshot.visit.bench.by_link:
            return f"{told}."
        # What dearer trips would cost more tells how many there are.
        trips = round(self.kind.seconds(snapshot, replace(pace, trip=pace.trip + 1.0)) - seconds)
        return f"{told}, with about {trips} trip{'s' if trips != 1 else ''} to the menu." if trips else f"{told}."

    def tracker(self, snapshot: Snapshot, kind: PassType[Any, Any]) -> LiveTracker:
        """Make what follows a pass: beside grey as found, at the light that is known."""
        found = snapshot.result(AS_FOUND) if kind is not AS_FOUND else None
        return self.tracker_type(
            target_named(snapshot.visit.target),
            snapshot.visit.levels,
            white=self.white_before(snapshot),
            black=self.black_before(snapshot) if found else 0.0,
            ghost=found,
            formula=snapshot.leading,
        )

    tracker_type: ClassVar[type[LiveTracker]] = LiveTracker

    def black_before(self, snapshot: Snapshot) -> float:
        """Luminance of 0 % that its pass begins with, cd/m², once grey as found is read."""
        found = snapshot.result(AS_FOUND)
        return found.black if found is not None else 0.0

    def white_before(self, snapshot: Snapshot) -> float | None:
        """Luminance of 100 % that its pass begins with, cd/m²; None where it reads it itself."""
        return None

    def panel(self) -> PanelState:
        """What the move panel says."""
        snapshot, running = self.snapshot, self.session.running
        kind = running.kind
        if running.running and kind in self.passes and kind is not None:
            asked = prompt(snapshot, kind, running.live, self.session.asked)
            return asked or self.measuring(kind, running.live)
        if snapshot.visit.closed is not None:
            return self.closed()
        if snapshot.interrupted is not None and pass_type(snapshot.interrupted.kind) in self.passes:
            return interrupted(snapshot, self.session.message)
        return self._hindered(self.idle()) if self.kind.fits(snapshot) else self._unfit()

    def _hindered(self, panel: PanelState) -> PanelState:
        """What is said where the pass cannot begin for settings that are not noted: where to note them."""
        main = next((each for each in panel.keys if each.main), None)
        if main is None or main.command != commands.BEGIN or not (lacking := self._lacking()):
            return panel
        rest = tuple(each for each in panel.keys if each is not main)
        message = self.session.message
        told = message if lacking in message else f"{message} {lacking}".strip()
        keys = (hint(commands.TO_ARRIVE, "go to Arrive", main=True), *rest)
        return replace(panel, sentence=told, keys=keys, outlook="")

    def _lacking(self) -> str:
        """Which settings the main pass needs and does not have, worked out once for each snapshot; "" for none."""
        snapshot, kind = self.snapshot, self.kind
        if self._checked is None or self._checked[0] is not snapshot or self._checked[1] is not kind:
            lacking = ""
            try:
                kind.make_plan(snapshot)
            except NotNotedError as error:
                lacking = str(error)
            except NotReadyError:
                pass
            self._checked = snapshot, kind, lacking
        return self._checked[2]

    def _unfit(self) -> PanelState:
        """The job is one of HDR, and this station sets SDR only."""
        return go_on(
            self.session.navigator.next_station(),
            self.session.message or self.kind.misfit(self.snapshot),
            (NEXT, *VIEW_KEYS),
        )

    def idle(self) -> PanelState:
        """Nothing is running."""
        raise NotImplementedError

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        """A pass of this station is running; `live` None where nothing was heard of it yet."""
        return beginning()

    def said(self) -> str:
        """What its pass came to, in words; "" where it is not done."""
        return self.snapshot.words(self.kind)

    def figures(self) -> tuple[DeltaFigure | None, DialState | None]:
        """The ΔE and the casts that its pass left."""
        return None, None

    def revised(self) -> str:
        """What this version says of the same readings, where that is not what was said on the day."""
        told = self.snapshot.revised_words(self.kind)
        return f"Today's version of the program says of the same readings: {told}" if told else ""

    def closed(self) -> PanelState:
        """The visit is closed: to look at, not to measure."""
        snapshot = self.snapshot
        said = self.said() or "Nothing was measured here."
        delta, dial = self.figures()
        return PanelState(
            "Closed",
            False,
            (BigLine("Visit closed"),),
            f"{snapshot.visit.started:%d %B %Y}. {said} {self.revised()}".strip(),
            delta=delta,
            dial=dial,
            keys=(
                hint(commands.NEW_VISIT, "another visit", main=True),
                VISITS,
                CONTROLS,
                *VIEW_KEYS,
            ),
        )

    def commands(self) -> Commands:
        """What its keys do."""
        told: Mapping[commands.Command, Any] = {commands.BEGIN: self.begin}
        if self.kind.from_file:
            told = {**told, commands.IMPORT: self.session.file_wanted.emit}
        return told

    def begin(self) -> None:
        """Begin the main pass."""
        self.session.begin(self.kind)

    def as_text(self) -> str:
        """The page as text for the clipboard."""
        return ""

    def enter(self) -> None:
        """Get ready to be looked at."""

    def leave(self) -> None:
        """Be left for another."""
