"""Proof: the same pass as at the start, side by side with it."""

from aequitone.desktop.stations.grey.station import GreyStation
from aequitone.handover import words
from aequitone.passes import AS_FOUND, COLOURS_LEFT, PROOF


class ProofStation(GreyStation):
    """Reads grey once more, as it is left."""

    id = "proof"
    title = "Proof"
    passes = (PROOF,)
    colours = COLOURS_LEFT
    wanted = ("Measure grey", "once more")
    before = "The same pass as at the start, so that the two can be compared side by side."
    subtitles = ("proof, with as found behind it", "proof, with as found behind it", "as found, no proof yet")

    def said(self) -> str:
        before, after = self.snapshot.result(AS_FOUND), self.snapshot.result(self.kind)
        compared = words.compared_words(before, after) if before and after else ""
        return f"{compared} {super().said()}".strip()
