"""White that is brighter than red, green and blue together: by a white subpixel, or a clear segment of a wheel."""

import numpy as np

from aequitone.colorimetry.arrays import Array

# Shares of their light that primaries must miss together, and each by itself, before white is called boosted: a
# tone that is off at their level, or one faulty primary, is no boost.
_TOGETHER, _EACH = 0.15, 0.05


def missing_light(measured: Array, wanted: Array) -> float:
    """The share of light that red, green and blue miss together beside a white of the same signal.

    `measured` and `wanted`: luminance of the full primaries, (3,). 0 where white is not boosted.
    """
    missing = 1.0 - np.asarray(measured) / np.asarray(wanted)
    together = 1.0 - float(np.sum(measured)) / float(np.sum(wanted))
    return together if together > _TOGETHER and bool((missing > _EACH).all()) else 0.0


def boosted_words(missing: float) -> str:
    """Say that white is boosted, by the share of light that colours miss."""
    return (
        f"Red, green and blue together have {missing * 100.0:.0f} % less light than white: the screen adds light "
        "to white that no colour can have."
    )
