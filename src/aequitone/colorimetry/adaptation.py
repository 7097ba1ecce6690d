"""What an adapted eye makes of a colour: each white seen as white."""

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike, triples

# CAT16 (CIE 248:2022, 5.2): XYZ to the responses that adapt each by itself.
_CAT16 = np.array(
    [
        [0.401288, 0.650173, -0.051461],
        [-0.250268, 1.204414, 0.045854],
        [-0.002079, 0.048952, 0.953127],
    ]
)


def adapted(xyz: ArrayLike, white: ArrayLike, to: ArrayLike) -> Array:
    """XYZ, shape (..., 3), seen by an eye adapted to `white`, as one adapted to `to` would see it.

    Complete adaptation by CAT16 (CIE 248:2022); `white` comes out as `to`, both XYZ of shape (3,).
    """
    scale = (_CAT16 @ np.asarray(to, dtype=float)) / (_CAT16 @ np.asarray(white, dtype=float))
    return np.asarray(triples(xyz, "XYZ") @ (np.linalg.inv(_CAT16) @ np.diag(scale) @ _CAT16).T)
