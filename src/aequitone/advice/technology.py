"""Is the meter set to the right screen technology? Native white and primaries tell, softly."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from aequitone.colorimetry import uv_from_xy, uv_from_xyz
from aequitone.colorimetry.arrays import Array


class Technology(StrEnum):
    """How a screen makes its light."""

    UNKNOWN = ""
    LED_LCD = "led-lcd"
    WIDE_LCD = "wide-lcd"
    WHITE_OLED = "white-oled"
    RGB_OLED = "rgb-oled"
    PLASMA = "plasma"
    TUBE = "crt"
    DLP_WHEEL = "dlp-wheel"
    THREE_PANEL_PROJECTOR = "three-panel-projector"

    @property
    def words(self) -> str:
        """In words; nothing for one that is not known."""
        return TECHNOLOGY_WORDS.get(self, "")


DIMMING = (Technology.WHITE_OLED, Technology.RGB_OLED)
"""Panels that dim under a picture that stands still."""
PULSED = (Technology.TUBE, Technology.PLASMA, Technology.DLP_WHEEL)
"""Screens whose light comes in pulses, one or more a frame."""
TECHNOLOGIES = tuple(each for each in Technology if each is not Technology.UNKNOWN)


def technology_of(word: str) -> Technology:
    """The technology of that word; an instrument or a record may have one that is not known here."""
    return Technology(word) if word in TECHNOLOGIES else Technology.UNKNOWN


# Where the native primaries of each kind of screen usually lie (x, y of red, green, blue): textbook
# figures, with the spread between makers below. Only a big distance from one's own kind, with another kind
# close by, is worth a word.
_USUAL = {
    Technology.LED_LCD: ((0.641, 0.333), (0.305, 0.604), (0.151, 0.058)),
    Technology.WIDE_LCD: ((0.684, 0.312), (0.256, 0.696), (0.153, 0.053)),
    Technology.WHITE_OLED: ((0.666, 0.330), (0.258, 0.676), (0.147, 0.053)),
    Technology.RGB_OLED: ((0.677, 0.321), (0.210, 0.718), (0.142, 0.050)),
    Technology.PLASMA: ((0.645, 0.338), (0.286, 0.622), (0.150, 0.061)),
    Technology.TUBE: ((0.630, 0.340), (0.297, 0.601), (0.152, 0.065)),
    Technology.DLP_WHEEL: ((0.643, 0.336), (0.310, 0.612), (0.151, 0.063)),
    Technology.THREE_PANEL_PROJECTOR: ((0.660, 0.330), (0.285, 0.650), (0.150, 0.054)),
}
_SPREAD_UV = 0.012
_FAR, _NEAR = 3.0, 1.5
TECHNOLOGY_WORDS = {
    Technology.LED_LCD: "LED-LCD",
    Technology.WIDE_LCD: "wide-gamut LCD",
    Technology.WHITE_OLED: "white-subpixel OLED",
    Technology.RGB_OLED: "three-primary OLED",
    Technology.PLASMA: "plasma",
    Technology.TUBE: "tube",
    Technology.DLP_WHEEL: "projector with a wheel",
    Technology.THREE_PANEL_PROJECTOR: "three-panel projector",
}


@dataclass(frozen=True)
class Suspicion:
    """How far the primaries lie from what the technology usually has, in spreads, and a kind that fits better."""

    distance: float
    closest: Technology
    closest_distance: float
    technology: Technology

    @property
    def words(self) -> str:
        """What to look at, or nothing."""
        if self.distance < _FAR:
            return ""
        own = self.technology.words
        if self.closest_distance > _NEAR:
            return (
                f"Red, green and blue are not those of a usual {own}. A gamut preset other than the panel's own "
                "explains that; if none is chosen, check what technology is chosen in the meter."
            )
        return (
            f"Red, green and blue look like those of a {self.closest.words}, not of a {own}. Check "
            "what technology is chosen in the meter: a wrong one makes a green or pink picture with perfect "
            "numbers."
        )


_USUAL_LIGHT = {Technology.TUBE: 80.0, Technology.DLP_WHEEL: 48.0, Technology.THREE_PANEL_PROJECTOR: 48.0}

# Of white, the light that black has at least where light is not made by each pixel for itself; in spreads, what is
# sure.
_LEAST_BLACK, _SURE = 5e-5, 4.0
_DARK_FOOT = {Technology.WHITE_OLED: 0.0045, Technology.RGB_OLED: 0.002}


def suspect(technology: Technology, primaries: Array) -> Suspicion | None:
    """Judge red, green and blue at native gamut, XYZ of shape (3, 3); None for an unknown technology."""
    if technology not in _USUAL:
        return None
    seen = uv_from_xyz(primaries)
    distances = {
        name: float(np.sqrt((((seen - uv_from_xy(xy)) / _SPREAD_UV) ** 2).sum() / 3.0))
        for name, xy in _USUAL.items()
    }
    closest = min(distances, key=lambda name: distances[name])
    return Suspicion(distances[technology], closest, distances[closest], technology)


def black_words(screen: Technology, white: float, black: float, sd: float) -> str:
    """What to ask where black is not what such a screen has, or nothing.

    `white`, `black`: luminance in cd/m²; `sd`: standard deviation of black's.
    """
    if not screen or screen is Technology.TUBE or white <= 0.0:
        return ""
    least = _LEAST_BLACK * white
    if screen in DIMMING and black - _SURE * sd > least:
        return (
            f"Black gives {black:.3f} cd/m², and an OLED's gives none: is the screen what it is noted as, the "
            "room dark, and black not raised by its level or a bias?"
        )
    if screen not in DIMMING and black + _SURE * sd < least:
        return (
            f"Black gives no light, and that of a {screen.words} does: is the screen what it is noted as? Or is "
            "local dimming on, or the picture shut off where nothing is shown?"
        )
    return ""


def mode_words(screen: Technology, mode: str) -> str:
    """What to say where the meter is set to another technology than the screen has, or nothing."""
    if not screen or mode in ("", "any", screen):
        return ""
    chosen = technology_of(mode).words or mode
    return (
        f"The meter is set to {chosen}, but the screen is noted as a {screen.words}. Choose the "
        "screen's technology in the meter, or correct the meter by a second one."
    )


def has_fourth(technology: Technology) -> bool:
    """Whether such a screen may make white brighter than its colours: by a white subpixel or a clear segment."""
    return technology in (Technology.WHITE_OLED, Technology.DLP_WHEEL)


def dark_foot(technology: Technology) -> float:
    """Share of the signal above black that such a panel usually gives no light for: its driver's first step."""
    return _DARK_FOOT.get(technology, 0.0)


def usual_light(technology: Technology) -> float:
    """Luminance of SDR white that is usual for such a screen in a dark room, cd/m² (practice)."""
    return _USUAL_LIGHT.get(technology, 100.0)
