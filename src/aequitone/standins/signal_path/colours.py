"""Colour, tint and colour management, in linear light."""

from collections.abc import Mapping

import numpy as np

from aequitone.colorimetry import REC709, Gamut
from aequitone.colorimetry.arrays import Array
from aequitone.colorimetry.gamut import P3, REC2020
from aequitone.standins.parts import EffectPart
from aequitone.standins.screen_part import ScreenPart

# From R'G'B' to Y' and the two colour differences (ITU-R BT.709-6, items 3.2 and 3.3).
_LUMA = np.array([0.2126, 0.7152, 0.0722])
_DIFFERENCES = np.array(
    [_LUMA, (np.array([0.0, 0.0, 1.0]) - _LUMA) / 1.8556, (np.array([1.0, 0.0, 0.0]) - _LUMA) / 1.5748]
)
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


# Of signal on light, and coarse steps from grey to full.
_SIGNAL_LAW, _BANDS = 2.2, 6.0
_MATRICES = {
    # R'G'B' to Y' and the colour differences (ITU-R BT.601-7, 2.5.1 and 2.5.2; BT.2020-2, table 4).
    "bt601": np.array([[0.299, 0.587, 0.114], [-0.299, -0.587, 0.886], [0.701, -0.587, -0.114]])
    / np.array([[1.0], [1.772], [1.402]]),
    "bt2020": np.array([[0.2627, 0.678, 0.0593], [-0.2627, -0.678, 0.9407], [0.7373, -0.678, -0.0593]])
    / np.array([[1.0], [1.8814], [1.4746]]),
}


def mixed_wrongly(signal: Array, matrix: str) -> Array:
    """R'G'B' signals (..., 3) mixed by another matrix, as a screen takes them apart by BT.709's."""
    return np.asarray(np.maximum(signal @ _MATRICES[matrix].T @ np.linalg.inv(_DIFFERENCES).T, 0.0))


def content_to_panel(panel: Gamut, content: str) -> Array | None:
    """The matrix from the content's linear RGB to the panel's, white to white; None for the panel's own."""
    if content == "native":
        return None
    matrix = panel.rgb_matrix @ _CONTENT[content].xyz_matrix
    return np.asarray(matrix / matrix.sum(axis=1, keepdims=True))


def colour_and_tint(effect: EffectPart, more: float, turn: float) -> Array | None:
    """The 3x3 matrix of the controls colour and tint on signals, so many steps from neutral; None at neutral.

    They act where a screen has them: on the colour differences of the signal (ITU-R BT.709-6, item 3.3).
    """
    if more == 0 and turn == 0:
        return None
    saturation = max(0.0, 1.0 + effect.colour_per_step * more)
    angle = np.radians(effect.tint_degree_per_step * turn)
    along, across = saturation * np.cos(angle), saturation * np.sin(angle)
    turned = np.array([[1.0, 0.0, 0.0], [0.0, along, across], [0.0, -across, along]])
    return np.asarray(np.linalg.solve(_DIFFERENCES, turned @ _DIFFERENCES))


def management(part: ScreenPart, at: Mapping[str, int]) -> Array | None:
    """What is added per primary and secondary, shape (6, 3); None where nothing is set."""
    kind = part.colour_management
    if kind is None:
        return None
    half = (kind.highest - kind.lowest) / 2.0
    added = np.zeros((6, 3))

    def turned(role: str) -> float:
        if kind.swapped and role in kind.swapped:
            role = kind.swapped[1 - kind.swapped.index(role)]
        value = 0 if role in kind.dead else at.get(role, 0)
        if kind.hue_ends_at and role.endswith("-hue"):
            value = max(-kind.hue_ends_at, min(kind.hue_ends_at, value))
        return value * (1.0 - kind.weakens_share * abs(value) / half)

    for row, (name, (mixture, towards)) in zip(added, _COLOURS.items(), strict=True):

        def by(amount: str, name: str = name, step: float = kind.effect_per_step) -> float:
            return float(step * turned(f"cms-{name}-{amount}"))

        if kind.kind == "mix":
            row += [by("r"), by("g"), by("b")]
            continue
        own = np.array(mixture, dtype=float)
        lighter = by("lightness")
        if kind.lightness_on == "signal":
            # About as much at first as in light, and more and more.
            lighter = (1.0 + lighter / _SIGNAL_LAW) ** _SIGNAL_LAW - 1.0
        row += by("hue") * np.array(towards) + lighter * own - by("saturation") * (1.0 - own)
    order = [list(_COLOURS).index(name) for name in ("red", "yellow", "green", "cyan", "blue", "magenta")]
    ring = added[order]
    leaking = kind.leak_share * (np.roll(ring, 1, axis=0) + np.roll(ring, -1, axis=0))
    added[order] = ring + leaking
    return added if np.any(added) else None


def banded(part: ScreenPart, at: Mapping[str, int]) -> Array | None:
    """1 for each of the six, in the order of the table above, that is corrected in coarse steps, else 0, (6,).

    None where none is.
    """
    kind = part.colour_management
    if kind is None or not kind.bands_from:
        return None
    most = [
        max((abs(value) for role, value in at.items() if role.startswith(f"cms-{name}-")), default=0)
        for name in _COLOURS
    ]
    coarse = (np.array(most) > kind.bands_from).astype(float)
    return coarse if coarse.any() else None


def in_bands(shares: Array, coarse: Array) -> Array:
    """Shares (..., 6) of which those in `coarse` (6,) come in a few steps alone."""
    return np.where(coarse > 0.0, np.rint(shares * _BANDS) / _BANDS, shares)


def colour_shares(linear: Array) -> Array:
    """How much of each primary and secondary is in a colour, shape (..., 6), the order of the table above.

    A colour is its least channel as grey, its middle one as a secondary, and the rest as a primary.
    """
    r, g, b = np.moveaxis(linear, -1, 0)
    primary = [r - np.maximum(g, b), g - np.maximum(r, b), b - np.maximum(r, g)]
    secondary = [np.minimum(g, b) - r, np.minimum(r, b) - g, np.minimum(r, g) - b]
    return np.asarray(np.maximum(np.stack([*primary, *secondary], axis=-1), 0.0))
