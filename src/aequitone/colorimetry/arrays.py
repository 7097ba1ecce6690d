"""The array types used throughout the core."""

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]
Codes = NDArray[np.int64]
Mask = NDArray[np.bool_]

__all__ = ["Array", "ArrayLike", "Codes", "Mask", "triples"]


def triples(values: ArrayLike, what: str) -> Array:
    """Return `values` as float64 with a last axis of three, or say what is wrong with its shape."""
    array: NDArray[Any] = np.asarray(values, dtype=np.float64)
    if array.ndim == 0 or array.shape[-1] != 3:
        raise ValueError(f"{what} needs a last axis of 3 components, got shape {array.shape}")
    return array
