"""The 1D and 3D tables that were loaded into a screen."""

import numpy as np

from aequitone.colorimetry.arrays import Array


class Tables:
    """None, one or both; drive in, drive out."""

    def __init__(self, size_1d: int, size_3d: int) -> None:
        self.size_1d, self.size_3d = size_1d, size_3d
        self._curve: Array | None = None
        self._cube: Array | None = None

    def load_1d(self, table: Array | None) -> None:
        """Drive of R, G, B at evenly spaced inputs, shape (size, 3); None takes the table out."""
        self._curve = None if table is None else _checked(table, (self.size_1d, 3), "1D")

    def load_3d(self, table: Array | None) -> None:
        """Drive at each point of a cube, shape (size, size, size, 3), red first; None takes the table out."""
        size = self.size_3d
        self._cube = None if table is None else _checked(table, (size, size, size, 3), "3D")

    def apply(self, drive: Array) -> Array:
        """Drive, shape (..., 3), after the tables that are loaded."""
        if self._curve is not None:
            at = np.linspace(0.0, 1.0, self.size_1d)
            drive = np.stack([np.interp(drive[..., i], at, self._curve[:, i]) for i in range(3)], axis=-1)
        if self._cube is not None:
            drive = _trilinear(self._cube, drive)
        return drive


def _checked(table: Array, shape: tuple[int, ...], kind: str) -> Array:
    if 0 in shape:
        raise ValueError(f"this screen takes no {kind} table")
    if table.shape != shape:
        raise ValueError(f"a {kind} table here has {shape[0]} points a side, got an array of shape {table.shape}")
    if not np.isfinite(table).all():
        raise ValueError(f"the {kind} table holds something that is not a number")
    return np.clip(table, 0.0, 1.0)


def _trilinear(cube: Array, drive: Array) -> Array:
    place = drive * (len(cube) - 1)
    low = np.minimum(place.astype(int), len(cube) - 2)
    part = place - low
    mixed = np.zeros_like(drive)
    for corner in np.ndindex(2, 2, 2):
        weight = np.where(np.array(corner) == 1, part, 1.0 - part).prod(axis=-1)
        r, g, b = np.moveaxis(low + np.array(corner), -1, 0)
        mixed += weight[..., None] * cube[r, g, b]
    return mixed
