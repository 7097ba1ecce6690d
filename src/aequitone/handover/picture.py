"""Before and after: a made-up picture as two measured screens show it, under one exposure.

What a grey pass knows of a screen is the light of each channel at each level, as far as the primaries
are those of the target; the picture is rendered through that, and shows grey and tone, not gamut.
"""

import numpy as np
from numpy.typing import NDArray

from aequitone.colorimetry import REC709
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.transfer import srgb_codes
from aequitone.procedures.grey.grey_pass import GreyPass
from aequitone.signal.pictures.scene import still_life


def as_shown(signal: Array, found: GreyPass, white: float) -> NDArray[np.uint8]:
    """The picture as a measured screen shows it, as sRGB codes; `white` cd/m² is the exposure's white."""
    levels = np.asarray(found.percents[::-1]) / 100.0
    light = np.clip(REC709.rgb(found.xyz[::-1]), 0.0, None) / white
    shown = np.stack([np.interp(signal[..., c], levels, light[:, c]) for c in range(3)], axis=-1)
    return srgb_codes(shown).astype(np.uint8)


def before_and_after(before: GreyPass, after: GreyPass) -> tuple[NDArray[np.uint8], NDArray[np.uint8]]:
    """Both pictures under one exposure: the brightest channel of the two whites just fits."""
    exposure = max(float(REC709.rgb(found.xyz[0]).max()) for found in (before, after))
    scene = still_life()
    return as_shown(scene, before, exposure), as_shown(scene, after, exposure)
