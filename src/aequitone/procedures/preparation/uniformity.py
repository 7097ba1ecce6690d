"""Uniformity: one grey read at nine places of the screen, against the middle."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry import uv_from_xyz
from aequitone.colorimetry.arrays import Array
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.steps import Note, Place, Procedure, Progress, Purpose, StopHere
from aequitone.procedures.uninterrupted import insist, insist_on_reading
from aequitone.signal import SignalFormat, grey_patch

# Across and up, the middle first: 0 the middle, 1 an edge. The outer places lie two thirds of the way out.
_OUT = 2.0 / 3.0
PLACES: tuple[tuple[str, tuple[float, float]], ...] = (
    ("the middle", (0.0, 0.0)),
    ("the upper left", (-_OUT, _OUT)),
    ("the top", (0.0, _OUT)),
    ("the upper right", (_OUT, _OUT)),
    ("the right", (_OUT, 0.0)),
    ("the lower right", (_OUT, -_OUT)),
    ("the bottom", (0.0, -_OUT)),
    ("the lower left", (-_OUT, -_OUT)),
    ("the left", (-_OUT, 0.0)),
)
_LIGHT = 0.002
_ROUGHLY = 20.0


@dataclass(frozen=True)
class EvennessPlan:
    """A grey in a full field: bright enough to read soon, dark enough not to be limited."""

    format: SignalFormat
    percent: float = 60.0


@dataclass(frozen=True)
class Evenness:
    """XYZ in cd/m² at the first places of PLACES, (n, 3)."""

    xyz: Array

    @property
    def light(self) -> Array:
        """Luminance against the middle, in %, (n,)."""
        return np.asarray((self.xyz[:, 1] / self.xyz[0, 1] - 1.0) * 100.0)

    @property
    def cast(self) -> Array:
        """Distance in u'v' from the middle, (n,)."""
        return np.asarray(np.linalg.norm(uv_from_xyz(self.xyz) - uv_from_xyz(self.xyz[:1]), axis=-1))

    @property
    def words(self) -> str:
        """The worst of it, in a sentence."""
        if len(self.xyz) < 2:
            return "Only the middle was read."
        light, cast = self.light, self.cast
        at, off = int(np.abs(light).argmax()), int(cast.argmax())
        return (
            f"Against the middle the light differs most at {PLACES[at][0]}, by {light[at]:+.0f} %, and the colour "
            f"at {PLACES[off][0]}, by {cast[off]:.4f} in u'v'."
        )


def evenness(plan: EvennessPlan) -> Procedure[Evenness]:
    """Read the grey at nine places; returns an Evenness. StopHere ends it with those that were read."""
    patch = grey_patch(plan.percent, SignalFormat(plan.format.depth, plan.format.range, 1.0))
    rows: list[Array] = []
    for name, spot in PLACES:
        try:
            yield Place(name, spot)
        except StopHere:
            if rows:
                break
        light = float(rows[0][1]) if rows else _ROUGHLY
        reading = yield from insist_on_reading(patch, ReadPolicy(_LIGHT * light), Purpose.SWEEP)
        rows.append(reading.xyz)
        yield Progress(len(rows), len(PLACES), Evenness(np.array(rows)))
    # Whatever is measured next is measured in the middle again.
    yield from insist(Place(*PLACES[0]))
    found = Evenness(np.array(rows))
    yield Note(found.words)
    return found
