"""What a meter's filters make of a screen's light: the spectral mismatch, and the mode that should undo it."""

import numpy as np

from aequitone.advice.technology import Technology
from aequitone.colorimetry import White
from aequitone.colorimetry.arrays import Array
from aequitone.standins.bench_parts import MeterPart
from aequitone.standins.parts import USUAL_SPECTRUM, AmbientPart
from aequitone.standins.screen import Light
from aequitone.standins.screen_part import ScreenPart
from aequitone.standins.spectra import (
    BANDS,
    ROOM_LAMP,
    WHITE_SUBPIXEL,
    filters,
    observer,
    response_matrix,
    response_scale,
    spectrum,
)
from aequitone.standins.unit import Unit

# How the filters of colorimeters as a kind deviate, in nm; a unit deviates a little more or less.
_KIND_SHIFT = np.array([1.0, -0.8, 0.9])
_WIDER = 1.04
_SPECTRO_NM = 0.1


class Sensor:
    """One meter looking at one screen through the mode for a technology."""

    def __init__(self, meter: MeterPart, screen: ScreenPart, unit: Unit, rng: np.random.Generator) -> None:
        jitter = rng.normal(0.0, 1.0, 3)
        self._exact = meter.kind == "spectroradiometer"
        if self._exact:
            sensor = filters(_SPECTRO_NM * jitter, 1.0)
            self._typical = observer()
        else:
            sensor = filters(_KIND_SHIFT * meter.filter_nm + meter.filter_unit_nm * jitter, _WIDER)
            self._typical = filters(_KIND_SHIFT * meter.filter_nm, _WIDER)
        light = BANDS[screen.bands].shifted(unit.band_shifts)
        self._bands = response_matrix(light.spectra, sensor)
        self._white = response_scale(spectrum(WHITE_SUBPIXEL), sensor)
        self._lamp = response_scale(spectrum(ROOM_LAMP), sensor)
        self._screen = screen
        self.first_technology = meter.technology or screen.technology
        self.choose(self.first_technology)

    def choose(self, technology: Technology) -> None:
        """Take the mode for a technology: the matrix that is right for a typical screen of it."""
        self.technology = technology
        mode: Array = np.eye(3)
        if not self._exact:
            # The maker of the meter measured screens with the technology's usual light.
            bands = BANDS[
                self._screen.bands if technology == self._screen.technology else USUAL_SPECTRUM[technology]
            ]
            mode[:] = np.linalg.inv(response_matrix(bands.spectra, self._typical))
        self._panel_seen = mode @ self._bands
        self._white_seen = mode * self._white
        self._lamp_seen = mode * self._lamp

    def seen(self, light: Light) -> Array:
        """XYZ as the meter would tell it without noise, shape (3,)."""
        xyz = self._panel_seen @ light.panel
        if light.white_pixel is not None:
            xyz = xyz + self._white_seen @ light.white_pixel
        return np.asarray(xyz)

    def ambient(self, part: AmbientPart) -> Array:
        """XYZ of the room's light that the screen reflects, as the meter would tell it."""
        return np.asarray(self._lamp_seen @ White("room", *part.xy).xyz(part.cd_m2))
