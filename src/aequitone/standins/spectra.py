"""The spectra behind a screen's primaries, and what an observer or a meter's filters make of them.

A screen's primaries are mixtures of its three bands of light (filters leak, phosphors have tails), so a
set of bands spans every colour of the screen, and a meter's response to it is a 3x3 matrix of its XYZ.
"""

from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np

from aequitone.colorimetry.arrays import Array

WAVELENGTHS = np.arange(380.0, 781.0, 1.0)
Peak = tuple[float, float, float]
"""Centre in nm, standard deviation in nm, weight."""


@dataclass(frozen=True)
class Bands:
    """The light of red, green and blue, each as a sum of Gaussian peaks."""

    red: tuple[Peak, ...]
    green: tuple[Peak, ...]
    blue: tuple[Peak, ...]

    def shifted(self, shifts: Array) -> "Bands":
        """The bands moved by `shifts`, shape (3,), in nm: another unit of the same model."""
        return Bands(
            *(
                tuple((centre + float(by), width, weight) for centre, width, weight in peaks)
                for by, peaks in zip(shifts, (self.red, self.green, self.blue), strict=True)
            )
        )

    @property
    def spectra(self) -> Array:
        """Relative power, shape (3, wavelengths)."""
        return np.array([spectrum(peaks) for peaks in (self.red, self.green, self.blue)])


# Generated, not measured: where the bands of each kind of light source lie is textbook knowledge, their
# exact form is ours.
BANDS = {
    "white-led": Bands(((622, 20, 1.0),), ((534, 24, 1.0),), ((451, 10, 1.0),)),
    "narrow-red-led": Bands(((631, 3, 1.0), (613, 3, 0.28), (648, 3, 0.18)), ((529, 17, 1.0),), ((448, 9, 1.0),)),
    "quantum-dot": Bands(((634, 11, 1.0),), ((529, 12, 1.0),), ((449, 8, 1.0),)),
    "white-oled": Bands(((628, 17, 1.0),), ((529, 19, 1.0),), ((457, 11, 1.0),)),
    "rgb-oled": Bands(((624, 13, 1.0),), ((527, 13, 1.0),), ((460, 9, 1.0),)),
    "plasma-phosphor": Bands(
        ((611, 5, 1.0), (594, 5, 0.18), (653, 6, 0.10)), ((523, 17, 1.0),), ((449, 20, 1.0),)
    ),
    "tube-phosphor": Bands(((626, 4, 1.0), (617, 4, 0.45), (596, 5, 0.10)), ((532, 27, 1.0),), ((450, 22, 1.0),)),
    "arc-lamp": Bands(
        ((618, 18, 1.0), (690, 14, 0.2)), ((547, 6, 0.8), (525, 17, 1.0)), ((438, 5, 1.0), (458, 12, 0.8))
    ),
    "laser": Bands(((639, 1.5, 1.0),), ((525, 1.5, 1.0),), ((455, 1.5, 1.0),)),
}
# Light that comes with a spectrum of its own: the white of a fourth subpixel, and a lamp in the room.
WHITE_SUBPIXEL: tuple[Peak, ...] = ((456, 13, 1.0), (545, 38, 0.62), (612, 42, 0.55))
ROOM_LAMP: tuple[Peak, ...] = ((455, 14, 0.55), (570, 60, 1.0))


def spectrum(peaks: tuple[Peak, ...]) -> Array:
    """Relative power of a sum of Gaussian peaks, shape (wavelengths,)."""
    centre, width, weight = np.array(peaks).T[:, :, None]
    return np.asarray((weight * np.exp(-0.5 * ((WAVELENGTHS - centre) / width) ** 2)).sum(axis=0))


@cache
def observer() -> Array:
    """Colour-matching functions of the CIE 1931 2° standard observer, shape (3, wavelengths).

    ISO/CIE 11664-1:2019, table 1, at 5 nm and linear between.
    """
    text = (resources.files("aequitone.standins") / "data" / "observer.csv").read_text("utf-8")
    table = np.array([[float(cell) for cell in line.split(",")] for line in text.splitlines()[1:]])
    return np.array([np.interp(WAVELENGTHS, table[:, 0], column) for column in table[:, 1:].T])


def filters(shift_nm: Array, widen: float) -> Array:
    """A colorimeter's three filters: the observer's curves, moved and widened, shape (3, wavelengths)."""
    middle = np.array([[598.0], [556.0], [446.0]])
    at = middle + (WAVELENGTHS - middle - np.asarray(shift_nm)[:, None]) / widen
    return np.array([np.interp(row, WAVELENGTHS, curve) for row, curve in zip(at, observer(), strict=True)])


def response_matrix(bands: Array, sensor: Array) -> Array:
    """What a sensor answers to XYZ made of these bands, shape (3, 3); both inputs (3, wavelengths)."""
    return np.asarray((sensor @ bands.T) @ np.linalg.inv(observer() @ bands.T))


def response_scale(light: Array, sensor: Array) -> Array:
    """What a sensor answers to each of X, Y, Z of one fixed spectrum, shape (3,)."""
    return np.asarray((sensor @ light) / (observer() @ light))
