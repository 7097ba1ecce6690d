"""A sweep: positions of one control, chosen one after another, and what they say of it."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from aequitone.advice.moves import ControlState
from aequitone.colorimetry.arrays import Array

MOST_POSITIONS = 7


@dataclass(frozen=True)
class Look:
    """A patch that a sweep reads at each position, by the signals of red, green and blue in %."""

    name: str
    percents: tuple[float, float, float]


def grey_look(percent: float) -> Look:
    """A grey of so much of the signal."""
    return Look(f"{percent:g} % grey", (percent, percent, percent))


BLACK, WHITE = Look("0 % black", (0.0, 0.0, 0.0)), Look("100 % white", (100.0, 100.0, 100.0))


@dataclass(frozen=True)
class Ask:
    """What a sweep wants to know next: a setting, and the patches to be read there."""

    setting: int
    looks: tuple[Look, ...]


@dataclass(frozen=True)
class Position:
    """One setting, and what was read there: XYZ in cd/m² and its standard deviation, both (looks, 3)."""

    setting: int
    xyz: Array
    sd: Array
    looks: tuple[Look, ...] = ()
    """What was read, in the order of the rows."""
    white: float = 0.0
    """Luminance of white then, cd/m², by which positions are compared; 0 where it is not known."""
    fresh: bool = False
    """Whether white was read with all levels as they stood there."""
    lift: float = 0.0
    """Signal that black's level added to every patch then, against where it stands now, 0 to 1."""

    def of(self, *looks: Look) -> tuple[Array, Array]:
        """XYZ of some of its looks, and their standard deviation, both (looks, 3)."""
        rows = [self.looks.index(look) for look in looks]
        return self.xyz[rows], self.sd[rows]


@dataclass(frozen=True)
class Curve:
    """A line to be drawn: settings across, values up."""

    name: str
    settings: Array
    values: Array
    sd: Array


@dataclass(frozen=True)
class Finding:
    """Where a control should stand, and why."""

    setting: int
    exact: float
    """The place on the curve, between two settings as often as not."""
    sd: float
    """Of `exact`, in settings."""
    words: str
    curves: tuple[Curve, ...] = ()
    at_end: bool = False
    """The end stop came before what was looked for."""


class Sweep(Protocol):
    """One control's sweep. Pure: the positions so far are handed to it each time."""

    @property
    def control(self) -> ControlState: ...

    def precision(self, look: Look, expected: float | None) -> float:
        """The standard deviation of Y wanted of a look, in cd/m²; `expected`: what was read there last."""
        ...

    def next(self, positions: Sequence[Position]) -> Ask | None:
        """What to read next, or None when enough is known."""
        ...

    def found(self, positions: Sequence[Position]) -> Finding:
        """What the positions say; there is at least one."""
        ...


def in_order(positions: Sequence[Position]) -> list[Position]:
    """The positions by their settings, the lowest first."""
    return sorted(positions, key=lambda position: position.setting)


def luminances(positions: Sequence[Position]) -> tuple[Array, Array, Array]:
    """Settings, Y of the first look and its standard deviation, in the order of the settings, each (n,)."""
    ordered = in_order(positions)
    settings = np.array([position.setting for position in ordered], dtype=float)
    Y = np.array([position.xyz[0, 1] for position in ordered])
    sd = np.array([position.sd[0, 1] for position in ordered])
    return each_once(settings, Y, sd)


def each_once(settings: Array, values: Array, sd: Array) -> tuple[Array, Array, Array]:
    """Settings, rising, with what was read at each, (n,), and its spread; what was read twice counts once."""
    each, where = np.unique(settings, return_inverse=True)
    often = np.bincount(where)
    return each, np.bincount(where, values) / often, np.sqrt(np.bincount(where, sd**2)) / often


def greys(positions: Sequence[Position]) -> tuple[Array, Array, Array, Array]:
    """Every grey that was read: settings and signals (0 to 1), each (n,), XYZ and its spread, each (n, 3)."""
    rows = [
        (position.setting, look.percents[0] / 100.0 + position.lift, xyz, sd)
        for position in positions
        for look, xyz, sd in zip(position.looks, position.xyz, position.sd, strict=True)
    ]
    settings, signals, xyz, sd = zip(*rows, strict=True)
    return np.array(settings, dtype=float), np.array(signals), np.array(xyz), np.array(sd)


def read_already(positions: Sequence[Position], setting: int) -> bool:
    """Whether a setting was read."""
    return any(position.setting == setting for position in positions)


def first_unread(control: ControlState, positions: Sequence[Position], *wanted: float) -> int | None:
    """The first of the wanted settings that was not read yet, or None where the end stops leave none."""
    return next((s for s in map(control.snapped, wanted) if not read_already(positions, s)), None)


def share_of_range(control: ControlState, share: float) -> int:
    """So much of a control's range as whole steps, in settings; at least one step."""
    return max(1, round(share * control.steps)) * control.step
