"""Proof: the same pass as at the start, side by side with it; and later a look at whether it still holds."""

from dataclasses import replace
from typing import Any

from aequitone.desktop.commands import hint
from aequitone.desktop.frame.key_hints import COPY, DARKEN, LEAVE, pause
from aequitone.desktop.frame.panel_state import BigLine, PanelState
from aequitone.desktop.session.live import Live
from aequitone.desktop.session.prompts import beginning
from aequitone.desktop.station import Commands
from aequitone.desktop.stations.grey.station import GreyStation
from aequitone.desktop.stations.proof.commands import LOOK_AGAIN
from aequitone.handover import words
from aequitone.passes import AS_FOUND, COLOURS_LEFT, LAST_LOOK, PROOF, PassType, unlooked


class ProofStation(GreyStation):
    """Reads grey once more, as it is left."""

    id = "proof"
    title = "Proof"
    passes = (PROOF, LAST_LOOK)
    colours = COLOURS_LEFT
    wanted = ("Measure grey", "once more")
    subtitles = ("proof, with as found behind it", "proof, with as found behind it", "as found, no proof yet")

    @property
    def before(self) -> str:
        """What to know before it is begun."""
        return "The same pass as at the start, so that the two can be compared side by side."

    def said(self) -> str:
        before, after = self.snapshot.result(AS_FOUND), self.snapshot.result(self.kind)
        compared = words.compared_words(before, after) if before and after else ""
        return f"{words.last_look_words(self.snapshot)} {compared} {super().said()}".strip()

    def idle(self) -> PanelState:
        panel = super().idle()
        if not self.snapshot.done(PROOF):
            return panel
        here = self.snapshot.visit.name
        again = hint(LOOK_AGAIN, "look once more", main=here in unlooked(self.snapshot))
        return replace(panel, keys=(*panel.keys, again))

    def measuring(self, kind: PassType[Any, Any], live: Live | None) -> PanelState:
        if kind is not LAST_LOOK:
            return super().measuring(kind, live)
        if live is None:
            return beginning()
        return PanelState(
            "Paused" if live.paused else "Measuring",
            live.paused,
            (BigLine("Last look"), BigLine(live.shown)),
            "A few greys are compared with the proof: did another job change this one?",
            reading=live.reading,
            keys=(pause(paused=live.paused), LEAVE, DARKEN, COPY),
            outlook=f"{live.done} of {live.total} readings.",
            progress=live.done / max(1, live.total),
        )

    def commands(self) -> Commands:
        return {**super().commands(), LOOK_AGAIN: lambda: self.session.begin(LAST_LOOK)}
