"""Correcting one meter by another: a 3x3 matrix from readings of the same colours by both."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry.arrays import Array, ArrayLike, triples
from aequitone.colorimetry.spaces import uv_from_xyz

# Where white stands among the pairs.
_WHITE = 3


@dataclass(frozen=True)
class Fit:
    """A correction: `matrix` @ XYZ of the field meter is XYZ of the reference, and what it leaves."""

    matrix: Array
    method: str
    uv: Array
    """Distance left in u'v' for each pair, shape (n,)."""
    light: Array
    """Light left over for each pair, in %, shape (n,)."""

    @property
    def worst_uv(self) -> float:
        return float(self.uv.max())

    @property
    def worst_light(self) -> float:
        return float(np.abs(self.light).max())


def four_colour(reference: ArrayLike, field: ArrayLike) -> Fit:
    """The matrix of Ohno and Hardis (1997, "Four-Color Matrix Method for Correction of Tristimulus Colorimeters").

    Both inputs are XYZ, shape (4, 3): red, green, blue, white in this order. Only chromaticities are
    used, so the levels of red, green and blue need not have stayed; white sets the scale of light.
    Raises ValueError where the three colours span no gamut.
    """
    wanted, seen = _pairs(reference, field, least=4)
    if len(wanted) != 4:
        raise ValueError(f"the four-colour method takes red, green, blue and white, got {len(wanted)} colours")
    matrix = _balanced(wanted) @ np.linalg.inv(_balanced(seen))
    # Chromaticities leave the scale open: it is what makes white's luminance right.
    matrix = matrix * (wanted[_WHITE, 1] / (matrix @ seen[_WHITE])[1])
    return _judged(np.asarray(matrix), "four colours", wanted, seen)


def least_squares(reference: ArrayLike, field: ArrayLike) -> Fit:
    """The matrix that is right for white and has the least squares of relative errors over n colours.

    Both inputs are XYZ, shape (n, 3), n at least 4: red, green, blue, white in this order, then any others.
    Each pair is weighted by its luminance, so that a dark blue counts as much as a yellow. White is held,
    since grey is what is adjusted: on a screen with a fourth light no matrix is right for all colours, and
    what is given up must not be grey. Raises ValueError where the colours span no gamut.
    """
    wanted, seen = _pairs(reference, field, least=4)
    weight = 1.0 / wanted[:, 1:2]
    rows, white = seen * weight, seen[_WHITE]
    if np.linalg.matrix_rank(rows) < 3:
        raise ValueError("the colours lie too close together to correct anything but themselves")
    # The normal equations, bordered by the condition that white comes out as the reference has it.
    system = np.block([[rows.T @ rows, white[:, None]], [white[None, :], np.zeros((1, 1))]])
    right = np.vstack([rows.T @ (wanted * weight), wanted[_WHITE]])
    solution = np.linalg.solve(system, right)[:3]
    return _judged(np.asarray(solution.T), f"least squares over {len(wanted)} colours", wanted, seen)


def _pairs(reference: ArrayLike, field: ArrayLike, least: int) -> tuple[Array, Array]:
    wanted, seen = triples(reference, "reference"), triples(field, "field")
    if wanted.shape != seen.shape or wanted.ndim != 2:
        raise ValueError(f"each colour needs both readings, got {wanted.shape} and {seen.shape}")
    if len(wanted) < least:
        raise ValueError(f"a correction needs at least {least} colours, got {len(wanted)}")
    if not (
        np.isfinite(wanted).all()
        and np.isfinite(seen).all()
        and (wanted[:, 1] > 0).all()
        and (seen[:, 1] > 0).all()
    ):
        raise ValueError("a colour without light corrects nothing")
    return wanted, seen


def _balanced(xyz: Array) -> Array:
    """Chromaticities of red, green and blue as columns, scaled so that they add up to the white's."""
    primaries = (xyz[:3] / xyz[:3].sum(axis=1, keepdims=True)).T
    white = xyz[_WHITE] / xyz[_WHITE].sum()
    if abs(np.linalg.det(primaries)) < 1e-4:
        raise ValueError("red, green and blue lie on one line; read them again, each at full level")
    return np.asarray(primaries * np.linalg.solve(primaries, white))


def _judged(matrix: Array, method: str, wanted: Array, seen: Array) -> Fit:
    corrected = seen @ matrix.T
    uv = np.linalg.norm(uv_from_xyz(corrected) - uv_from_xyz(wanted), axis=1)
    return Fit(matrix, method, uv, (corrected[:, 1] / wanted[:, 1] - 1.0) * 100.0)
