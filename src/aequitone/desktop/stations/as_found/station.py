"""As found: grey before anything is turned, kept as the baseline."""

from aequitone.advice.roles import Role
from aequitone.desktop.stations.grey.station import GreyStation
from aequitone.handover import words
from aequitone.passes import AS_FOUND, COLOURS_FOUND
from aequitone.passes.preparation import is_warm


class AsFoundStation(GreyStation):
    """Reads grey as it is found."""

    id = "as-found"
    title = "As found"
    passes = (AS_FOUND,)
    colours = COLOURS_FOUND
    wanted = ("Measure grey", "as found")
    subtitles = ("as it is found", "as found", "not measured yet")

    @property
    def before(self) -> str:
        """What to know before it is begun: nothing of a screen that is known to be warm."""
        if is_warm(self.snapshot):
            return ""
        return "Warm the screen up for 30 minutes first; nothing measured before that counts as a baseline."

    def said(self) -> str:
        found = self.snapshot.result(self.kind)
        if found is None:
            return ""
        if self.snapshot.hdr:
            # PQ and HLG are no gamma, and no gamma setting makes them one.
            return super().said()
        preset = any(control.role == Role.GAMMA for control in self.snapshot.controls)
        return f"{words.tone_words(found, preset=preset)} {super().said()}".strip()
