"""The drive of a panel at a signal, before anything is known of the screen."""

import numpy as np

from aequitone.colorimetry.arrays import Array
from aequitone.reference import Target

GAMMA = 2.2
"""A power law that is near enough to that of any screen."""


def drives(target: Target, percents: Array, white: float) -> Array:
    """Drive, 0 to 1, shape (n,), at `percents` of the signal on a screen of this white, cd/m².

    Of SDR the signal itself; of PQ the root of the light that is meant, which is what drives a panel.
    """
    signal = np.asarray(percents, dtype=np.float64) / 100.0
    if not target.tone.absolute:
        return signal
    light = np.minimum(target.luminance(signal, white, 0.0) / white, 1.0)
    return np.asarray(light ** (1.0 / GAMMA))
