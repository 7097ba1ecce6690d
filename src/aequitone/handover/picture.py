"""Before and after: a made-up picture as two measured screens show it.

What is known of a screen is the light of its greys and, where primaries were read, how its three channels mix:
each channel's course from the greys, its colour from the primaries.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from aequitone.colorimetry import D65, REC709
from aequitone.colorimetry.adaptation import adapted
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import pq_encode, srgb_codes
from aequitone.procedures.colour.colour_pass import ColourPass
from aequitone.procedures.colour.samples import DIFFUSE_WHITE, is_primary
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.signal.pictures.scene import still_life

# The law by which the made-up picture is encoded.
_LAW = 2.2
# Of a channel's share of white: primaries that would have to give less, or more, were not those of its channels.
_LEAST_SHARE, _MOST_SHARE = 0.3, 3.0


class Exposure(StrEnum):
    """How the two pictures are exposed."""

    SAME = "same exposure"
    OWN_WHITE = "each at its own white"

    @property
    def words(self) -> str:
        """What is said under the pictures."""
        if self is Exposure.SAME:
            return "the same exposure for both, as a camera would see them"
        return "each at its own white, as an eye that has got used to it sees them"


@dataclass(frozen=True, eq=False)
class ScreenLight:
    """What is known of a screen's light."""

    levels: Array
    """Signals from 0 to 1, (n,), rising."""
    channels: Array
    """Linear light of R, G and B at those, (n, 3), 1 at white."""
    matrix: Array
    """Linear RGB to XYZ above black, cd/m², (3, 3)."""
    black: Array
    """XYZ of black, cd/m², (3,)."""
    absolute: bool = False
    """Whether its signal is PQ."""

    @property
    def white(self) -> Array:
        """XYZ of white, cd/m²; of PQ that of diffuse white."""
        return self.xyz(np.ones(3))

    def xyz(self, scene: Array) -> Array:
        """XYZ in cd/m², (..., 3), that the screen gives of a scene, encoded from 0 to 1 by a power law."""
        signal = np.asarray(pq_encode(DIFFUSE_WHITE * scene**_LAW)) if self.absolute else scene
        # Between two levels along a power law, whose bend straight lines would miss in the dark.
        drive = self.channels ** (1.0 / _LAW)
        linear = np.stack([np.interp(signal[..., c], self.levels, drive[:, c]) for c in range(3)], axis=-1) ** _LAW
        return np.asarray(linear @ self.matrix.T + self.black)


def screen_light(grey: GreyPass, colours: ColourPass | None = None, *, absolute: bool = False) -> ScreenLight:
    """Work out a screen's light from its greys, and from the primaries among some colours."""
    xyz = grey.xyz[::-1]
    black = np.maximum(xyz[0], 0.0)
    matrix = _mixing(xyz[-1] - black, colours, black)
    channels = np.maximum((xyz - black) @ np.linalg.inv(matrix).T, 0.0)
    return ScreenLight(np.asarray(grey.percents[::-1]) / 100.0, channels, matrix, black, absolute)


def _mixing(white: Array, colours: ColourPass | None, black: Array) -> Array:
    """Linear RGB to XYZ, (3, 3), whose columns add up to white: of the primaries as read, or of Rec.709's."""
    usual = REC709.xyz_matrix * REC709.rgb(white)
    if colours is None:
        return np.asarray(usual)
    rows = {sample.colour: row for row, sample in enumerate(colours.samples) if is_primary(sample)}
    if len(rows) < 3:
        return np.asarray(usual)
    primaries = np.array([colours.xyz[rows[name]] - black for name in ("red", "green", "blue")]).T
    sums = np.linalg.solve(primaries, white)
    # One number must do for all three, within what signals below full do to a tone.
    if (
        sums.min() <= 0.0
        or not _LEAST_SHARE < sums.min() / np.median(sums) <= sums.max() / np.median(sums) < _MOST_SHARE
    ):
        return np.asarray(usual)
    return np.asarray(primaries * sums)


def before_and_after(
    before: ScreenLight, after: ScreenLight, exposure: Exposure = Exposure.SAME
) -> tuple[NDArray[np.uint8], NDArray[np.uint8]]:
    """Render the made-up picture as both screens show it, as sRGB codes (height, width, 3).

    In the same exposure the brightest channel of the two whites just fits; at its own white each white is white.
    """
    scene = still_life()
    one = max(float(REC709.rgb(screen.white).max()) for screen in (before, after))
    first, second = (_shown(scene, screen, exposure, one) for screen in (before, after))
    return first, second


def _shown(scene: Array, screen: ScreenLight, exposure: Exposure, one: float) -> NDArray[np.uint8]:
    xyz = screen.xyz(scene)
    same = exposure is Exposure.SAME
    linear = REC709.rgb(xyz) / one if same else REC709.rgb(adapted(xyz, screen.white, D65.xyz()))
    return srgb_codes(linear).astype(np.uint8)
