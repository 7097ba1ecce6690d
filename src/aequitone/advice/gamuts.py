"""Which gamut preset shows colours nearest to the target, and what is wrong with one that does not.

Two things are told apart. Primaries that lie elsewhere: too wide, too narrow, turned. And a signal that was mixed
by one matrix and taken apart by another: primaries are about where they should be, but red, green and blue do not
add up to the grey of the same signal.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from aequitone.advice.presets import Judged, Track, in_order
from aequitone.colorimetry import delta_e_2000
from aequitone.colorimetry.arrays import Array
from aequitone.reference import Target
from aequitone.reference.colour_errors import saturation_and_hue
from aequitone.reference.saturations import SIX, saturation_signal

GAMUT_LEVEL = 75.0
"""The highest signal, in %, of the colours that a preset is judged by: nothing clips there."""
GAMUT_GREYS = (100.0, GAMUT_LEVEL, 0.0)
"""The greys that are read beside them, in %."""
_PRIMARIES = [SIX.index(name) for name in ("red", "green", "blue")]
# Luma of the three standards (ITU-R BT.601-7, BT.709-6, BT.2020-2), green being the rest.
_LUMA = {"BT.601": (0.299, 0.114), "BT.709": (0.2126, 0.0722), "BT.2020": (0.2627, 0.0593)}
# In %, and in degrees, on average over the three primaries: what is beyond is named.
_WIDE, _TURNED = 4.0, 3.0
# Logarithms of the amounts of light: further than the first from adding up is no accident, and another matrix must
# explain it so much better.
_ADDS_UP, _MUCH_BETTER = 0.12, 0.5
_GAMMA = 2.2
# ΔE 2000 by which the average of six colours may be off for the readings' noise.
_SPREAD = 0.05


class Fault(StrEnum):
    """What is wrong with the colours that a preset shows."""

    NONE = "right"
    WIDE = "too wide"
    NARROW = "too narrow"
    TURNED = "turned"
    MATRIX = "another matrix"


@dataclass(frozen=True)
class Diagnosis:
    """What is wrong, and how far."""

    fault: Fault
    saturation: float
    """How much further from white the primaries lie than wanted, in %, on average."""
    hue: float
    """How far they are turned, in degrees, on average whichever way."""
    encoded: str = ""
    """The standard that the signal was mixed by, where that is another than it was taken apart by."""
    decoded: str = ""

    @property
    def words(self) -> str:
        """It in a few words, or nothing where nothing is wrong."""
        match self.fault:
            case Fault.WIDE:
                return f"too wide: primaries {self.saturation:+.0f} % from white"
            case Fault.NARROW:
                return f"too narrow: primaries {self.saturation:+.0f} % from white"
            case Fault.TURNED:
                return f"primaries are turned by {self.hue:.0f}°"
            case Fault.MATRIX:
                return (
                    f"red, green and blue do not add up to grey: mixed by {self.encoded}, taken apart by "
                    f"{self.decoded}; correct the colour matrix of source or input"
                )
        return ""


def gamut_signals() -> Array:
    """Signals, 0 to 1, of the colours that a preset is judged by: SIX at GAMUT_LEVEL, shape (6, 3)."""
    return np.array([saturation_signal(name, 100.0, GAMUT_LEVEL) for name in SIX]) / 100.0


def diagnosed(six: Array, grey: Array, black: Array, target: Target, white: float) -> Diagnosis:
    """Say what is wrong with colours as read; XYZ in cd/m².

    `six`: SIX at GAMUT_LEVEL, shape (6, 3). `grey`: the grey of GAMUT_LEVEL, (3,). `black`: 0 %, (3,). `white`:
    luminance of 100 %.
    """
    wanted = target.colour(gamut_signals(), white)
    # A white that is not set yet moves all colours alike; what is asked here is where they lie from it.
    by_white = target.white.xyz() * grey[1] / np.maximum(grey, 1e-9)
    saturation, hue = saturation_and_hue((six - black) * by_white, wanted, target.white.xyz())
    wide, turned = float(saturation[_PRIMARIES].mean()), float(np.abs(hue[_PRIMARIES]).mean())
    encoded, decoded = _matrix_of(_amounts(six - black, grey - black))
    if encoded != decoded:
        return Diagnosis(Fault.MATRIX, wide, turned, encoded, decoded)
    if abs(wide) > _WIDE:
        return Diagnosis(Fault.WIDE if wide > 0.0 else Fault.NARROW, wide, turned)
    return Diagnosis(Fault.TURNED if turned > _TURNED else Fault.NONE, wide, turned)


def _amounts(six: Array, grey: Array) -> Array:
    """Logarithms of how much of red, green and blue as read makes the grey, (3,), their mean taken out.

    A fourth, white light makes grey brighter than its colours, by all of them alike.
    """
    return _balance(six[_PRIMARIES], grey)


def _balance(primaries: Array, grey: Array) -> Array:
    """Logarithms of how much of each of the primaries (3, n) makes a grey (n,), (3,), their mean taken out."""
    logs = np.log(np.maximum(np.linalg.solve(primaries.T, grey), 1e-3))
    return np.asarray(logs - logs.mean())


def _matrix_of(amounts: Array) -> tuple[str, str]:
    """The standards by which a signal was mixed and taken apart, as the amounts tell; the same where none does."""
    right = ("BT.709", "BT.709")
    off = float(np.linalg.norm(amounts))
    if off < _ADDS_UP:
        return right
    pairs = [(one, other) for one in _LUMA for other in _LUMA if one != other]
    misses = {pair: float(np.linalg.norm(amounts - _amounts_of(*pair))) for pair in pairs}
    best = min(pairs, key=lambda pair: misses[pair])
    return best if misses[best] < _MUCH_BETTER * off else right


def _amounts_of(encoded: str, decoded: str) -> Array:
    """The amounts that a wrong matrix makes, as `_amounts` has them."""
    signal = np.clip(taken_apart(np.eye(3) * GAMUT_LEVEL / 100.0, encoded, decoded), 0.0, 1.0)
    return _balance(signal**_GAMMA, np.full(3, (GAMUT_LEVEL / 100.0) ** _GAMMA))


def taken_apart(rgb: Array, encoded: str, decoded: str) -> Array:
    """R'G'B', shape (..., 3), mixed to Y'CbCr by one standard and taken apart by another; 0 to 1 may be left."""
    red, blue = _LUMA[encoded]
    luma = rgb @ np.array([red, 1.0 - red - blue, blue])
    cb = (rgb[..., 2] - luma) / (2.0 * (1.0 - blue))
    cr = (rgb[..., 0] - luma) / (2.0 * (1.0 - red))
    red, blue = _LUMA[decoded]
    r, b = luma + 2.0 * (1.0 - red) * cr, luma + 2.0 * (1.0 - blue) * cb
    return np.stack([r, (luma - red * r - blue * b) / (1.0 - red - blue), b], axis=-1)


def judged_by_colour(track: Track, target: Target) -> Judged:
    """Judge a gamut preset by the colours that it shows, seen against its own white; less is better."""
    assert track.colours is not None
    white, grey, black = (track.xyz[list(track.percents).index(percent)] for percent in GAMUT_GREYS)
    # White is set later, and takes all colours along; where a fourth light helps it, colours are seen against what
    # they add up to themselves.
    alone = white * (track.colours[_PRIMARIES].sum(axis=0)[1] - 2.0 * black[1]) / grey[1]
    by_white = target.white.xyz() * alone[1] / np.maximum(alone, 1e-9)
    # A black that cannot be read comes out below nothing as often as above.
    wanted = target.colour(gamut_signals(), float(alone[1]), max(float(black[1]), 0.0))
    off = float(delta_e_2000(track.colours * by_white, wanted, target.white.xyz(float(alone[1]))).mean())
    told = diagnosed(track.colours, grey, black, target, float(white[1]))
    return Judged(track, 0.0, 0.0, None, off, _SPREAD, colour=off, fault=told.words)


def ranked_by_colour(tracks: Sequence[Track], target: Target, found: int | None = None) -> tuple[Judged, ...]:
    """The tracks, the one whose colours are nearest to the target's first; see `presets.ranked` for `found`."""
    return in_order([judged_by_colour(track, target) for track in tracks], found)
