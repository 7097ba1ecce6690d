"""Transfer functions: from signal (0 to 1) to light and back."""

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike

# SMPTE ST 2084:2014 / ITU-R BT.2100-2, table 4.
_M1, _M2 = 2610.0 / 16384.0, 2523.0 / 4096.0 * 128.0
_C1, _C2, _C3 = 3424.0 / 4096.0, 2413.0 / 4096.0 * 32.0, 2392.0 / 4096.0 * 32.0
PQ_PEAK = 10_000.0
# ITU-R BT.2100-2, table 5.
_HLG_A, _HLG_B, _HLG_C = 0.17883277, 0.28466892, 0.55991073


def power_light(signal: ArrayLike, gamma: float) -> Array:
    """Relative light, 0 to 1, of a pure power law; signals below 0 give 0."""
    return np.asarray(np.clip(np.asarray(signal, dtype=np.float64), 0.0, None) ** gamma)


def bt1886_light(signal: ArrayLike, white: ArrayLike, black: ArrayLike, gamma: float = 2.4) -> Array:
    """Luminance in cd/m² by ITU-R BT.1886, annex 1, from measured white and black in cd/m²; they broadcast."""
    if not np.all((np.asarray(black) >= 0.0) & (np.asarray(black) < np.asarray(white))):
        raise ValueError(f"BT.1886 needs 0 <= black < white, got black {black!r} and white {white!r} cd/m²")
    root_white, root_black = np.asarray(white) ** (1.0 / gamma), np.asarray(black) ** (1.0 / gamma)
    scale = (root_white - root_black) ** gamma
    lift = root_black / (root_white - root_black)
    return np.asarray(scale * np.clip(np.asarray(signal, dtype=np.float64) + lift, 0.0, None) ** gamma)


def srgb_light(signal: ArrayLike) -> Array:
    """Compute relative light, 0 to 1, of an sRGB signal from 0 to 1 (IEC 61966-2-1)."""
    v = np.clip(np.asarray(signal, dtype=np.float64), 0.0, None)
    return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)


def srgb_codes(linear: ArrayLike) -> Array:
    """Compute sRGB codes, whole numbers from 0 to 255, of linear light from 0 to 1 (IEC 61966-2-1)."""
    light = np.clip(np.asarray(linear, dtype=np.float64), 0.0, 1.0)
    return np.asarray(
        np.rint(255.0 * np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055))
    )


def pq_light(signal: ArrayLike) -> Array:
    """Absolute luminance in cd/m² of a PQ signal, 0 to 1 (SMPTE ST 2084)."""
    root = np.clip(np.asarray(signal, dtype=np.float64), 0.0, 1.0) ** (1.0 / _M2)
    return np.asarray(PQ_PEAK * (np.maximum(root - _C1, 0.0) / (_C2 - _C3 * root)) ** (1.0 / _M1))


def hlg_scene(signal: ArrayLike) -> Array:
    """Scene light, 0 to 1, of an HLG signal: the inverse OETF of ITU-R BT.2100-2, table 5."""
    v = np.clip(np.asarray(signal, dtype=np.float64), 0.0, None)
    bright = (np.exp((np.maximum(v, 0.5) - _HLG_C) / _HLG_A) + _HLG_B) / 12.0
    return np.where(v <= 0.5, v**2 / 3.0, bright)


HLG_SURROUND = 5.0
"""Light of the surround, cd/m², that programmes are graded in (ITU-R BT.2100-2, table 3)."""


def hlg_gamma(peak: ArrayLike, surround: ArrayLike = HLG_SURROUND) -> Array:
    """Compute the system gamma for a nominal peak and the light around the screen, both in cd/m².

    ITU-R BT.2390-9, 6.2: 1.2 for 1,000 cd/m² in the reference surround, more for a brighter screen, less for a
    brighter room. `peak` and `surround` broadcast.
    """
    brighter = np.log2(np.asarray(peak, dtype=np.float64) / 1000.0)
    lighter = np.log2(np.asarray(surround, dtype=np.float64) / HLG_SURROUND)
    return np.asarray(1.2 * 1.111**brighter * 0.98**lighter)


def pq_encode(luminance: ArrayLike) -> Array:
    """PQ signal, 0 to 1, of absolute luminance in cd/m² (SMPTE ST 2084)."""
    y = np.clip(np.asarray(luminance, dtype=np.float64) / PQ_PEAK, 0.0, None) ** _M1
    return np.asarray(((_C1 + _C2 * y) / (1.0 + _C3 * y)) ** _M2)


def roll_off_from(mastering: float, peak: float) -> float:
    """The PQ signal, 0 to 1, from which light is rolled off, from a mastering peak to a screen's, both in cd/m².

    The knee start of ITU-R BT.2390-11, 5.4.1, mastering black being none.
    """
    most = float(pq_encode(min(peak, mastering)) / pq_encode(mastering))
    return min(1.0, (1.5 * most - 0.5)) * float(pq_encode(mastering))


def rolled_off(signal: ArrayLike, mastering: float, peak: ArrayLike, black: ArrayLike = 0.0) -> Array:
    """Luminance in cd/m² of a PQ signal, 0 to 1, rolled off from a mastering peak to a screen's peak and black.

    The electrical-electrical transfer function of ITU-R BT.2390-11, 5.4.1 (equations 1 to 6), mastering black
    being none, before the EOTF of SMPTE ST 2084. `signal`, `peak` and `black` broadcast; signals beyond the
    mastering peak give the screen's own.
    """
    # A screen that reaches further than the mastering peak cuts off at its own.
    scale = pq_encode(np.maximum(mastering, peak))
    given = np.minimum(np.asarray(signal, dtype=np.float64) / scale, 1.0)
    most = np.minimum(pq_encode(peak) / scale, 1.0)
    # PQ of no light is not quite 0.
    least = (pq_encode(black) - pq_encode(0.0)) / scale
    knee = 1.5 * most - 0.5
    with np.errstate(divide="ignore", invalid="ignore"):
        t = np.where(knee < 1.0, (given - knee) / (1.0 - knee), 0.0)
    spline = (
        (2.0 * t**3 - 3.0 * t**2 + 1.0) * knee
        + (t**3 - 2.0 * t**2 + t) * (1.0 - knee)
        + (-2.0 * t**3 + 3.0 * t**2) * most
    )
    held = np.where(given < knee, given, spline)
    # On a dim screen with a bright black the lift would go above its own peak.
    lifted = np.minimum(held + least * (1.0 - held) ** 4, most)
    return pq_light(lifted * scale)
