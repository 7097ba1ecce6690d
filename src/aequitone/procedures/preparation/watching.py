"""Watching one patch while a person chooses a preset: its light and its colour, now and before."""

from dataclasses import dataclass

import numpy as np

from aequitone.advice.moves import Move
from aequitone.colorimetry import uv_from_xyz
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import Done, Interrupt, Procedure, Progress, Purpose, Read, Reading, Show
from aequitone.procedures.uninterrupted import insist
from aequitone.signal import Patch

# Exact enough to follow a hand, as a share of light; and what two such glances differ by in any case: presets are
# further apart, in light or in u'v'.
_EXACT, _SAME_LIGHT, _SAME_UV = 0.004, 0.03, 0.004


def unseen_words(name: str) -> str:
    """What to say of a control that was watched and not seen to change."""
    return f"Watched, and not seen to change: {name}. Choose it, or say where it stands."


@dataclass(frozen=True)
class PresetGlance:
    """What is seen of a patch while a person chooses: XYZ in cd/m² now, and at the first glance."""

    move: Move
    patch: str
    xyz: Array
    before: Array

    @property
    def apart(self) -> float:
        """Distance in u'v' from how it was."""
        return float(np.linalg.norm(uv_from_xyz(self.xyz) - uv_from_xyz(self.before)))

    @property
    def is_still(self) -> bool:
        """Whether it is what it was, in light and in colour."""
        light = abs(float(self.xyz[1]) - float(self.before[1]))
        return light <= _SAME_LIGHT * float(self.before[1]) and self.apart <= _SAME_UV


def watch(move: Move, patch: Patch, expected: float) -> Procedure[bool]:
    """Read a patch until the person says that the preset is chosen; returns whether it was seen to change.

    Every glance is told by a Progress. `expected`: luminance of about that patch, cd/m².
    """
    yield from insist(Show(patch))
    glance: PresetGlance | None = None
    while True:
        try:
            reading: Reading = yield Read(patch, ReadPolicy(_EXACT * expected), Purpose.WATCH, once=True)
            before = reading.xyz if glance is None else glance.before
            glance = PresetGlance(move, patch.name, reading.xyz, before)
            yield Progress(0, 0, glance)
        except Done:
            return glance is not None and not glance.is_still
        except Interrupt:
            # Half of a choice may be made: there is nothing to put back or to stop at before it is whole.
            continue
