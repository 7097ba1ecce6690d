"""Forty everyday colours, of our own choosing: what people see of a screen's colour.

Chosen in CIE Lab under D65 so that they are those of things, from pale to dark, inside Rec.709 and far from its
edge; no measured set stands behind them. docs/everyday-colours.md says how and why.
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import cache

import numpy as np

from aequitone.colorimetry import D65, REC709, Gamut, xyz_from_lab
from aequitone.reference.saturations import pq_signal


class Kind(StrEnum):
    """What a colour is of."""

    SKIN = "skin"
    LEAF = "leaf"
    SKY = "sky and water"
    EARTH = "earth and wood"
    FRUIT = "fruit"
    CLOTH = "cloth"
    MUTED = "muted and dark"


@dataclass(frozen=True)
class EverydayColour:
    """A colour by its name and its Lab under D65; `order`: how soon a short pass takes it, 0 first."""

    name: str
    kind: Kind
    lab: tuple[float, float, float]
    order: int


_OF_A_KIND: dict[Kind, tuple[tuple[str, tuple[float, float, float]], ...]] = {
    Kind.SKIN: (
        ("porcelain skin", (84.0, 8.0, 12.0)),
        ("fair skin", (76.0, 14.0, 18.0)),
        ("olive skin", (67.0, 13.0, 25.0)),
        ("tan skin", (57.0, 17.0, 28.0)),
        ("brown skin", (43.0, 17.0, 24.0)),
        ("deep brown skin", (30.0, 12.0, 14.0)),
    ),
    Kind.LEAF: (
        ("young leaf", (68.0, -30.0, 48.0)),
        ("grass", (54.0, -30.0, 36.0)),
        ("moss", (44.0, -14.0, 28.0)),
        ("pine", (32.0, -16.0, 10.0)),
        ("sage", (66.0, -9.0, 9.0)),
    ),
    Kind.SKY: (
        ("noon sky", (64.0, -6.0, -32.0)),
        ("pale horizon", (84.0, -4.0, -9.0)),
        ("evening sky", (48.0, 10.0, -34.0)),
        ("shallow sea", (66.0, -28.0, -10.0)),
        ("deep water", (34.0, -6.0, -24.0)),
    ),
    Kind.EARTH: (
        ("sand", (76.0, 4.0, 22.0)),
        ("pine board", (72.0, 12.0, 36.0)),
        ("terracotta", (52.0, 32.0, 34.0)),
        ("walnut wood", (36.0, 12.0, 16.0)),
        ("wet soil", (26.0, 6.0, 10.0)),
    ),
    Kind.FRUIT: (
        ("lemon", (84.0, -4.0, 68.0)),
        ("orange", (69.0, 36.0, 66.0)),
        ("tomato", (48.0, 58.0, 42.0)),
        ("plum", (30.0, 26.0, -10.0)),
        ("lime", (72.0, -36.0, 58.0)),
        ("peach", (77.0, 22.0, 30.0)),
        ("blueberry", (34.0, 4.0, -22.0)),
    ),
    Kind.CLOTH: (
        ("denim", (40.0, -2.0, -22.0)),
        ("burgundy wool", (30.0, 34.0, 14.0)),
        ("mustard linen", (66.0, 10.0, 54.0)),
        ("teal silk", (48.0, -28.0, -8.0)),
        ("lilac cotton", (70.0, 16.0, -20.0)),
        ("rose velvet", (52.0, 46.0, 6.0)),
    ),
    Kind.MUTED: (
        ("slate", (50.0, -3.0, -6.0)),
        ("clay grey", (60.0, 4.0, 8.0)),
        ("khaki", (58.0, -2.0, 20.0)),
        ("night blue", (18.0, 6.0, -24.0)),
        ("bottle green", (22.0, -14.0, 6.0)),
        ("aubergine", (18.0, 14.0, -8.0)),
    ),
}
# A short pass takes the faces, a leaf, a sky and one strong colour of each kind.
_FIRST = (
    "fair skin",
    "tan skin",
    "deep brown skin",
    "grass",
    "noon sky",
    "sand",
    "tomato",
    "teal silk",
    "olive skin",
    "lemon",
    "deep water",
    "khaki",
)
# The law by which their signals are made; what is right for them is worked out from the signals as sent.
_LAW = 2.2


def _listed() -> tuple[EverydayColour, ...]:
    names = [name for colours in _OF_A_KIND.values() for name, _ in colours]
    order = [*_FIRST, *(name for name in names if name not in _FIRST)]
    return tuple(
        EverydayColour(name, kind, lab, order.index(name))
        for kind, colours in _OF_A_KIND.items()
        for name, lab in colours
    )


EVERYDAY = _listed()
"""All forty, kind by kind."""


@cache
def everyday_signal(colour: EverydayColour, container: Gamut = REC709) -> tuple[float, float, float]:
    """Signals of red, green and blue in % of a container's, by a power law of 2.2 and rounded to a tenth."""
    linear = np.clip(container.rgb(xyz_from_lab(colour.lab, D65.xyz())), 0.0, 1.0)
    r, g, b = (round(float(value), 1) for value in linear ** (1.0 / _LAW) * 100.0)
    return r, g, b


@cache
def hdr_everyday_signal(colour: EverydayColour, light: float, container: Gamut) -> tuple[float, float, float]:
    """Signals of red, green and blue in % under PQ where diffuse white gives `light` cd/m²."""
    return pq_signal(light * xyz_from_lab(colour.lab, D65.xyz()), container)
