"""Correlated colour temperature and Duv, from colour-science (imported when first called)."""

import warnings

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike, triples
from aequitone.colorimetry.spaces import uv_from_xyz

# Outside this distance from the locus a temperature has no meaning (CIE 15:2018, 9.5).
DUV_LIMIT = 0.05


def cct_and_duv(xyz: ArrayLike) -> Array:
    """CCT in kelvin and signed Duv (CIE 1960 uv), shape (..., 2), by Ohno (2013).

    nan where there is no light or the colour is further than `DUV_LIMIT` from the locus.
    """
    with warnings.catch_warnings():
        # On import colour-science warns of optional packages for plotting, which nothing here needs.
        warnings.simplefilter("ignore")
        from colour.temperature import uv_to_CCT_Ohno2013

    uv = uv_from_xyz(triples(xyz, "XYZ")) * [1.0, 2.0 / 3.0]
    lit = np.isfinite(uv).all(axis=-1)
    result = np.full(uv.shape, np.nan)
    if lit.any():
        result[lit] = uv_to_CCT_Ohno2013(uv[lit])
    far = np.abs(np.nan_to_num(result[..., 1])) > DUV_LIMIT
    result[far] = np.nan
    return result
