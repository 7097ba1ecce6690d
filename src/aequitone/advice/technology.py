"""Is the meter set to the right screen technology? Native white and primaries tell, softly."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry import uv_from_xy, uv_from_xyz
from aequitone.colorimetry.arrays import Array

# Where the native primaries of each kind of screen usually lie (x, y of red, green, blue): textbook
# figures, with the spread between makers below. Only a big distance from one's own kind, with another kind
# close by, is worth a word.
_USUAL = {
    "led-lcd": ((0.641, 0.333), (0.305, 0.604), (0.151, 0.058)),
    "wide-lcd": ((0.684, 0.312), (0.256, 0.696), (0.153, 0.053)),
    "white-oled": ((0.666, 0.330), (0.258, 0.676), (0.147, 0.053)),
    "rgb-oled": ((0.677, 0.321), (0.210, 0.718), (0.142, 0.050)),
    "plasma": ((0.645, 0.338), (0.286, 0.622), (0.150, 0.061)),
    "crt": ((0.630, 0.340), (0.297, 0.601), (0.152, 0.065)),
    "dlp-wheel": ((0.643, 0.336), (0.310, 0.612), (0.151, 0.063)),
    "three-panel-projector": ((0.660, 0.330), (0.285, 0.650), (0.150, 0.054)),
}
_SPREAD_UV = 0.012
_FAR, _NEAR = 3.0, 1.5
TECHNOLOGY_WORDS = {
    "led-lcd": "LED-LCD",
    "wide-lcd": "wide-gamut LCD",
    "white-oled": "white-subpixel OLED",
    "rgb-oled": "three-primary OLED",
    "plasma": "plasma",
    "crt": "tube",
    "dlp-wheel": "projector with a wheel",
    "three-panel-projector": "three-panel projector",
}


@dataclass(frozen=True)
class Suspicion:
    """How far the primaries lie from what the technology usually has, in spreads, and a kind that fits better."""

    distance: float
    closest: str
    closest_distance: float
    technology: str

    @property
    def words(self) -> str:
        """What to look at, or nothing."""
        if self.distance < _FAR:
            return ""
        own = TECHNOLOGY_WORDS[self.technology]
        if self.closest_distance > _NEAR:
            return (
                f"Red, green and blue are not those of a usual {own}. A gamut preset other than the panel's own "
                "explains that; if none is chosen, check what technology is chosen in the meter."
            )
        return (
            f"Red, green and blue look like those of a {TECHNOLOGY_WORDS[self.closest]}, not of a {own}. Check "
            "what technology is chosen in the meter: a wrong one makes a green or pink picture with perfect "
            "numbers."
        )


_USUAL_LIGHT = {"crt": 80.0, "dlp-wheel": 48.0, "three-panel-projector": 48.0}

_DARK_FOOT = {"white-oled": 0.0045, "rgb-oled": 0.002}


def suspect(technology: str, primaries: Array) -> Suspicion | None:
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


def mode_words(screen: str, mode: str) -> str:
    """What to say where the meter is set to another technology than the screen has, or nothing."""
    if not screen or mode in ("", "any", screen) or screen not in TECHNOLOGY_WORDS:
        return ""
    chosen = TECHNOLOGY_WORDS.get(mode, mode)
    return (
        f"The meter is set to {chosen}, but the screen is noted as a {TECHNOLOGY_WORDS[screen]}. Choose the "
        "screen's technology in the meter, or correct the meter by a second one."
    )


def has_fourth(technology: str) -> bool:
    """Whether such a screen may make white brighter than its colours: by a white subpixel or a clear segment."""
    return technology in ("white-oled", "dlp-wheel")


def dark_foot(technology: str) -> float:
    """Share of the signal above black that such a panel usually gives no light for: its driver's first step."""
    return _DARK_FOOT.get(technology, 0.0)


def usual_light(technology: str) -> float:
    """Luminance of SDR white that is usual for such a screen in a dark room, cd/m² (practice)."""
    return _USUAL_LIGHT.get(technology, 100.0)
