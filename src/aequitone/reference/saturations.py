"""Primaries and secondaries at several saturations: the signals that ask for them."""

import numpy as np

from aequitone.colorimetry import REC709, Gamut, uv_from_xyz
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import pq_encode

SIX = ("red", "yellow", "green", "cyan", "blue", "magenta")
"""The primaries and secondaries, by hue."""
SATURATIONS = (25.0, 50.0, 75.0, 100.0)
"""Shares, in %, of the distance from white to the full colour in u'v'."""
MIXED = {
    "red": (1.0, 0.0, 0.0),
    "yellow": (1.0, 1.0, 0.0),
    "green": (0.0, 1.0, 0.0),
    "cyan": (0.0, 1.0, 1.0),
    "blue": (0.0, 0.0, 1.0),
    "magenta": (1.0, 0.0, 1.0),
}
"""Light of R, G and B that each of them is mixed of."""
# The law by which the signals are made; what is right for them is worked out from the signals as sent.
_LAW = 2.2


def saturation_signal(
    colour: str, saturation: float, level: float, container: Gamut = REC709, gamut: Gamut | None = None
) -> tuple[float, float, float]:
    """Signals of R, G and B in % of one of SIX at so much saturation, the highest of them at `level`.

    Light of white and of the full colour of a gamut (the container's where none is said) is mixed in linear light,
    which lies on a straight line in u'v'; the mixture is the one that lies `saturation` % of the way. Raises
    KeyError for another colour, ValueError for what cannot be.
    """
    gamut = gamut or container
    if not (0.0 <= saturation <= 100.0 and 0.0 < level <= 100.0):
        raise ValueError(f"{saturation:g} % of a colour at {level:g} % of the signal cannot be")
    mixture = _mixture(colour, saturation, gamut)
    if gamut != container:
        mixture = np.maximum(container.rgb(gamut.xyz(mixture)), 0.0)
    r, g, b = (round(float(value), 1) for value in level * (mixture / mixture.max()) ** (1.0 / _LAW))
    return r, g, b


def hdr_saturation_signal(
    colour: str, saturation: float, light: float, gamut: Gamut, container: Gamut
) -> tuple[float, float, float]:
    """Signals of R, G and B in % under PQ of one of SIX at so much saturation of a gamut, within a container.

    `light`: cd/m² of the white of which the mixture's strongest channel has its share. Raises KeyError for another
    colour, ValueError for what cannot be.
    """
    if not (0.0 <= saturation <= 100.0 and 0.0 < light <= 10_000.0):
        raise ValueError(f"{saturation:g} % of a colour at {light:g} cd/m² cannot be")
    return pq_signal(gamut.xyz(light * _mixture(colour, saturation, gamut)), container)


def pq_signal(xyz: Array, container: Gamut) -> tuple[float, float, float]:
    """Signals of R, G and B in % under PQ, to a tenth, of an XYZ in cd/m², shape (3,), in a container."""
    codes = 100.0 * pq_encode(np.maximum(container.rgb(xyz), 0.0))
    r, g, b = (round(float(code), 1) for code in codes)
    return r, g, b


def _mixture(colour: str, saturation: float, gamut: Gamut) -> Array:
    """Light of R, G and B of a gamut that lies so far from white, (3,), the most of them 1."""
    full = np.array(MIXED[colour])
    white, edge = (uv_from_xyz(gamut.xyz(mixture)) for mixture in (np.ones(3), full))
    wanted = white + saturation / 100.0 * (edge - white)
    return np.asarray(full + _share_of_white(gamut, full, wanted) * (1.0 - full))


def _share_of_white(container: Gamut, full: np.ndarray, wanted: np.ndarray) -> float:
    """How much of the channels that the full colour lacks makes its chromaticity u'v' (2,) the wanted one."""

    def sums(rgb: np.ndarray) -> np.ndarray:
        X, Y, Z = container.xyz(rgb)
        return np.array([4.0 * X, 9.0 * Y, X + 15.0 * Y + 3.0 * Z])

    own, other = sums(full), sums(1.0 - full)
    # u' (own + share other)_3 = (own + share other)_1, and for v'; by least squares of the two.
    slope, offset = other[:2] - wanted * other[2], own[:2] - wanted * own[2]
    return float(np.clip(-(slope @ offset) / (slope @ slope), 0.0, 1.0))
