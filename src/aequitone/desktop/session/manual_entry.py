"""Readings that a person types: taken, questioned once, or refused with a sentence. No Qt."""

from dataclasses import dataclass, replace
from typing import Any

from aequitone.desktop.session.live import Live
from aequitone.desktop.session.operator import AskReading, Question
from aequitone.instruments.by_hand import HandEntry, parse_entry
from aequitone.passes import AS_FOUND, COLOURS_FOUND, COLOURS_LEFT, PROOF, WHITE, PassType, Snapshot
from aequitone.reference import target_named
from aequitone.signal import Patch

_USUAL_CONTRAST = 400.0
_OF_GREY = (AS_FOUND, PROOF, WHITE)


@dataclass(frozen=True)
class Asked:
    """What the runner waits for, and what was wrong with the last answer."""

    question: Question
    objection: str = ""


class ManualEntry:
    """Remembers what it questioned: the same again is meant."""

    def __init__(self) -> None:
        self._questioned: tuple[Patch, HandEntry] | None = None

    def taken(self, text: str, asked: Asked, expected: float | None, form: str) -> tuple[Asked, HandEntry | None]:
        """The entry, or the question once more with what is wrong. `form`: "xyY" or "XYZ"."""
        assert isinstance(asked.question, AskReading)
        patch = asked.question.patch
        grey = len(set(patch.codes)) == 1
        try:
            entry = parse_entry(text, expected, form=form, grey=grey)
        except ValueError as error:
            return replace(asked, objection=f"{error}. Nothing was kept of it."), None
        if entry.doubts and (patch, entry) != self._questioned:
            self._questioned = patch, entry
            doubts = "; ".join(entry.doubts)
            return replace(asked, objection=f"{doubts}. Press Enter again to keep it, or correct it."), None
        self._questioned = None
        return asked, entry

    @staticmethod
    def expected(
        snapshot: Snapshot | None, kind: PassType[Any, Any] | None, live: Live | None, patch: Patch
    ) -> float | None:
        """The light that a patch should give; None where a sweep moves it about, or white is not known yet."""
        white = live.white if live else None
        of_colours = kind in (COLOURS_FOUND, COLOURS_LEFT)
        if snapshot is None or white is None or not (of_colours or (patch.is_grey and kind in _OF_GREY)):
            return None
        wanted = float(target_named(snapshot.visit.target).colour([patch.signal], white)[0, 1])
        # A power law wants no light at all of black; a screen's black is a few hundredths of a percent.
        return max(wanted, white / _USUAL_CONTRAST)
