"""A job of the report with its pictures."""

from dataclasses import dataclass
from pathlib import Path

from aequitone.handover.client_words import before_of
from aequitone.handover.picture import ScreenLight, screen_light
from aequitone.passes import COLOURS_FOUND, COLOURS_LEFT, PROOF, Snapshot
from aequitone.reference import target_named


@dataclass(frozen=True)
class Part:
    """A job, and where its pictures of before and after lie; None where there are none."""

    snapshot: Snapshot
    before: Path | None = None
    after: Path | None = None

    @property
    def name(self) -> str:
        """Its memory and input."""
        return self.snapshot.visit.name


def lights(snapshot: Snapshot) -> tuple[ScreenLight | None, ScreenLight | None]:
    """The screen's light before and after, as far as each was measured."""
    grey, colours, _ = before_of(snapshot)
    proof = snapshot.result(PROOF)
    absolute = target_named(snapshot.visit.target).tone.absolute
    found = colours or snapshot.result(COLOURS_FOUND)
    left = snapshot.result(COLOURS_LEFT) or snapshot.result(COLOURS_FOUND)
    return (
        screen_light(grey, found, absolute=absolute) if grey is not None else None,
        screen_light(proof, left, absolute=absolute) if proof is not None else None,
    )
