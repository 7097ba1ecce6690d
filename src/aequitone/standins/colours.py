"""Colour, tint and colour management, in linear light."""

from collections.abc import Mapping

import numpy as np

from aequitone.colorimetry import REC709, Gamut
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.gamut import P3, REC2020
from aequitone.standins.parts import ScreenPart
from aequitone.standins.unit import Unit

_CONTENT = {"rec709": REC709, "p3": P3, "rec2020": REC2020}
# Primaries and secondaries as mixtures, and the neighbour that hue turns each one towards.
_COLOURS = {
    "red": ((1, 0, 0), (0, 1, 0)),
    "green": ((0, 1, 0), (0, 0, 1)),
    "blue": ((0, 0, 1), (1, 0, 0)),
    "cyan": ((0, 1, 1), (0, -1, 0)),
    "magenta": ((1, 0, 1), (0, 0, -1)),
    "yellow": ((1, 1, 0), (-1, 0, 0)),
}


def content_to_panel(panel: Gamut, content: str) -> Array | None:
    """The matrix from the content's linear RGB to the panel's, white to white; None for the panel's own."""
    if content == "native":
        return None
    matrix = panel.rgb_matrix @ _CONTENT[content].xyz_matrix
    return np.asarray(matrix / matrix.sum(axis=1, keepdims=True))


def colour_and_tint(part: ScreenPart, unit: Unit, at: Mapping[str, int]) -> Array | None:
    """The 3x3 matrix of the controls colour and tint; None where both stand at their factory values."""
    factory = {control.role: control.factory for control in part.control}
    more = at.get("colour", 0) - factory.get("colour", 0)
    turn = at.get("tint", 0) - factory.get("tint", 0)
    if more == 0 and turn == 0:
        return None
    grey = np.tile(unit.luminance, (3, 1))
    saturation = max(0.0, 1.0 + part.effect.colour_per_step * more)
    angle = np.radians(part.effect.tint_degree_per_step * turn)
    # A turn around the axis of greys (Rodrigues), on what is left of a colour when its grey is taken out.
    axis = np.array([[0, -1, 1], [1, 0, -1], [-1, 1, 0]]) / np.sqrt(3.0)
    rotation = np.eye(3) + np.sin(angle) * axis + (1.0 - np.cos(angle)) * (axis @ axis)
    return np.asarray(grey + saturation * rotation @ (np.eye(3) - grey))


def management(part: ScreenPart, at: Mapping[str, int]) -> Array | None:
    """What is added per primary and secondary, shape (6, 3); None where nothing is set."""
    kind = part.colour_management
    if kind is None:
        return None
    added = np.zeros((6, 3))
    for row, (name, (mixture, towards)) in zip(added, _COLOURS.items(), strict=True):

        def by(amount: str, name: str = name, step: float = kind.effect_per_step) -> float:
            return float(step * at.get(f"cms-{name}-{amount}", 0))

        if kind.kind == "mix":
            row += [by("r"), by("g"), by("b")]
            continue
        own = np.array(mixture, dtype=float)
        row += by("hue") * np.array(towards) + by("lightness") * own - by("saturation") * (1.0 - own)
    return added if np.any(added) else None


def colour_shares(linear: Array) -> Array:
    """How much of each primary and secondary is in a colour, shape (..., 6), the order of the table above.

    A colour is its least channel as grey, its middle one as a secondary, and the rest as a primary.
    """
    r, g, b = np.moveaxis(linear, -1, 0)
    primary = [r - np.maximum(g, b), g - np.maximum(r, b), b - np.maximum(r, g)]
    secondary = [np.minimum(g, b) - r, np.minimum(r, b) - g, np.minimum(r, g) - b]
    return np.asarray(np.maximum(np.stack([*primary, *secondary], axis=-1), 0.0))
