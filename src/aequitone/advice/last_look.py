"""Whether a memory still is as it was left: a handful of greys against those of its proof, and what has moved."""

from dataclasses import dataclass

import numpy as np

from aequitone.colorimetry import cast_word, uv_from_xyz
from aequitone.colorimetry.arrays import Array, Mask
from aequitone.colorimetry.cast import cast_components

PERCENTS = (100.0, 70.0, 50.0, 30.0, 10.0, 0.0)
"""Greys of a last look, in % of the signal, where the proof has them."""
# What a screen wanders by between two looks: light as a share, cast in u'v'; and spreads that are none by chance.
_LIGHT, _TONE, _CAST, _SIGMAS = 0.025, 0.03, 0.0012, 4.0
# Of the dark greys light is less sure; below it, in %.
_DARK, _DARK_TONE, _DARK_CAST = 20.0, 0.08, 0.003
# Black that moved by this share of itself and of the light of 10 %.
_BLACK, _BLACK_SHARE = 0.2, 0.02


@dataclass(frozen=True)
class Moved:
    """One thing that is not as it was left."""

    what: str
    """In a sentence, with its size."""
    likely: str
    """What to look at."""


def moved(percents: Array, then: Array, now: Array, sd: Array) -> tuple[Moved, ...]:
    """What has moved between two looks at the same greys.

    `percents` (n,), from 100 % down; `then` and `now` (n, 3): XYZ in cd/m²; `sd` (n, 3): of their difference.
    """
    told: list[Moved] = []
    lit = percents > 0.0
    light = now[lit, 1] / np.maximum(then[lit, 1], 1e-9) - 1.0
    doubt = sd[lit, 1] / np.maximum(then[lit, 1], 1e-9)
    white, tone = float(light[0]), (1.0 + light) / (1.0 + light[0]) - 1.0
    if abs(white) > max(_LIGHT, _SIGMAS * float(doubt[0])):
        told.append(
            Moved(f"White gives {white * 100:+.0f} % light.", "light output, energy saving, contrast, or a sensor")
        )
    dark = percents[lit] < _DARK
    least = np.where(dark, _DARK_TONE, _TONE)
    off = np.where(np.abs(tone) > np.maximum(least, _SIGMAS * np.hypot(doubt, doubt[0])), tone, 0.0)
    if off.any():
        # A gamma is felt most in the dark, and there alone it is a bias.
        at = int(np.abs(np.where(dark, 0.0, off) if off[~dark].any() else off).argmax())
        told.append(
            Moved(
                f"Against white, {percents[lit][at]:g} % gives {off[at] * 100:+.0f} % light.",
                "biases or black level" if dark[at] else "the gamma preset, black level, or a tone of the signal",
            )
        )
    told += _casts(percents[lit], then[lit], now[lit], sd[lit], dark)
    if (~lit).any():
        told += _black(then[~lit][0], now[~lit][0], sd[~lit][0], then[lit][-1])
    return tuple(told)


def _casts(percents: Array, then: Array, now: Array, sd: Array, dark: Mask) -> list[Moved]:
    """The cast that has come in bright and in dark greys."""
    change = cast_components(now, then)
    doubt = uv_spread(then, sd)
    size = np.hypot(change[:, 0], change[:, 1])
    off = np.where(size > np.maximum(np.where(dark, _DARK_CAST, _CAST), _SIGMAS * doubt), size, 0.0)
    if not off.any():
        return _alike(change, doubt, dark)
    at = int(off.argmax())
    bright = percents >= 50.0
    everywhere = bool(off[bright].any())
    return [
        Moved(
            f"{percents[at]:g} % has gone {_lean(change[at])}, by {size[at]:.4f} in u'v'.",
            "gains, or the temperature preset" if everywhere else "biases",
        )
    ]


def _alike(change: Array, doubt: Array, dark: Mask) -> list[Moved]:
    """A cast that has come in all brighter greys alike, and shows in none of them alone."""
    weights = np.where(dark, 0.0, 1.0 / np.maximum(doubt, 1e-6) ** 2)
    if not weights.any():
        return []
    mean = (weights[:, None] * change).sum(axis=0) / weights.sum()
    size, sd = float(np.hypot(*mean)), float(1.0 / np.sqrt(weights.sum()))
    if size <= max(_CAST, _SIGMAS * sd):
        return []
    what = f"All greys have gone {_lean(mean)}, by {size:.4f} in u'v'."
    return [Moved(what, "gains, or the temperature preset")]


def _lean(cast: Array) -> str:
    """Where a cast (2,), warm and green, has gone."""
    word = cast_word(float(cast[0]), float(cast[1]))
    return word if word != "even" else "another colour"


def uv_spread(xyz: Array, sd: Array) -> Array:
    """Spread in u'v', (n,), of XYZ (n, 3) read with standard deviations `sd`, by first-order propagation."""
    nudged = uv_from_xyz(xyz[:, None, :] + np.eye(3) * sd[:, None, :])
    return np.asarray(np.sqrt(((nudged - uv_from_xyz(xyz)[:, None, :]) ** 2).sum(axis=(1, 2))))


def _black(then: Array, now: Array, sd: Array, darkest: Array) -> list[Moved]:
    change = float(now[1] - then[1])
    if abs(change) <= max(_BLACK * float(then[1]), _BLACK_SHARE * float(darkest[1]), _SIGMAS * float(sd[1])):
        return []
    return [Moved(f"Black went from {then[1]:.4f} to {max(0.0, now[1]):.4f} cd/m².", "black level, biases, range")]
