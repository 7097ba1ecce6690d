"""The controls of a multi-point adjustment: levels down, red, green, blue and light across."""

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.moves import Change, ControlState
from aequitone.advice.roles import point_of
from aequitone.colorimetry.arrays import Array

CHANNEL_LETTERS = ("r", "g", "b")
_LIGHT = "y"


_LADDER = tuple(float(percent) for percent in range(100, 0, -5))
# With more controls than that, there is no level between them that matters.
_FEW = 21


def ladder_of(controls: Iterable[ControlState], *, whole: bool) -> tuple[float, ...]:
    """List the levels to read for these controls, in % from 100 % down.

    Their own, and where they are few and `whole` is wanted also those between.
    """
    own = {float(point[1]) for control in controls if (point := point_of(control.role)) and point[1] > 0}
    between = set(_LADDER) if whole and len(own) <= _FEW else set()
    return tuple(sorted({100.0} | own | between, reverse=True))


@dataclass(frozen=True)
class Grid:
    """A row for each level, bright to dark; in a row R, G, B and, where the screen has it, light."""

    percents: tuple[int, ...]
    rows: tuple[tuple[ControlState, ...], ...]

    @classmethod
    def of(cls, controls: Iterable[ControlState]) -> "Grid":
        """The grid of a screen's controls; others are left out. ValueError where a level lacks a channel."""
        found: dict[int, dict[str, ControlState]] = {}
        for control in controls:
            point = point_of(control.role)
            if point is not None:
                found.setdefault(point[1], {})[point[0]] = control
        if len(found) < 2:
            raise ValueError("multi-point needs red, green and blue at two levels at least")
        percents = tuple(sorted(found, reverse=True))
        light = all(_LIGHT in found[percent] for percent in percents)
        letters = (*CHANNEL_LETTERS, _LIGHT) if light else CHANNEL_LETTERS
        for percent in percents:
            missing = [letter.upper() for letter in CHANNEL_LETTERS if letter not in found[percent]]
            if missing:
                raise ValueError(f"multi-point lacks {' and '.join(missing)} at {percent} %")
        return cls(percents, tuple(tuple(found[percent][letter] for letter in letters) for percent in percents))

    @property
    def light(self) -> bool:
        """Whether there is a control for the light of all three."""
        return len(self.rows[0]) > len(CHANNEL_LETTERS)

    @property
    def signal(self) -> Array:
        """The levels as signal, 0 to 1, shape (P,)."""
        return np.array(self.percents) / 100.0

    @property
    def offsets(self) -> Array:
        """What R, G, B stand at in steps from the middle of their range, light included, shape (P, 3)."""
        return self._sums("value")

    @property
    def limits(self) -> tuple[Array, Array]:
        """The least and the most that `offsets` can be, shape (P, 3) each."""
        return self._sums("lowest"), self._sums("highest")

    @property
    def controls(self) -> tuple[ControlState, ...]:
        """All of them, level by level."""
        return tuple(control for row in self.rows for control in row)

    def moved(self, changes: Iterable[Change]) -> "Grid":
        """The grid after changes."""
        to = {change.role: change.to_value for change in changes}
        return replace(
            self, rows=tuple(tuple(replace(c, value=to.get(c.role, c.value)) for c in row) for row in self.rows)
        )

    def stood_at(self, offsets: Array) -> "Grid":
        """The grid with what R, G, B stand at, light included (P, 3), as near to it as the end stops allow."""
        by = np.rint(offsets - self.offsets)
        return self.moved(
            change for level in range(len(self.percents)) for change in self.changes(level, by[level])
        )

    def changes(self, level: int, by: Array) -> tuple[Change, ...]:
        """What to turn at a level so that R, G, B move `by` whole steps (3,): as few controls as can be.

        Where the end stops do not allow it, as near to it as they do.
        """
        row, wanted = self.rows[level], np.rint(by).astype(int)
        shares = sorted({0, *wanted.tolist()}, key=abs) if self.light else [0]
        ways = [self._way(row, wanted, shared) for shared in shares]
        missed = [abs(total - wanted).sum() for total, _ in ways]
        turned = min(
            zip(missed, ways, strict=True), key=lambda way: (way[0], (way[1][1] != 0).sum(), abs(way[1][1]).sum())
        )[1][1]
        return tuple(
            Change(c.role, c.name, c.value, c.value + int(n) * c.step)
            for c, n in zip(row, turned, strict=True)
            if n
        )

    def _way(self, row: tuple[ControlState, ...], wanted: Array, shared: int) -> tuple[Array, Array]:
        """What R, G, B come to where so many steps are shared as light, and the steps of each control."""
        steps = np.array([*(wanted - shared), *([shared] if self.light else [])])
        room = [((c.lowest - c.value) // c.step, (c.highest - c.value) // c.step) for c in row]
        turned = np.clip(steps, *np.array(room).T)
        return turned[:3] + (turned[3] if self.light else 0), turned

    def _sums(self, what: str) -> Array:
        """R, G, B with light (P, 3), of each control's value or end, in steps from the middle of its range."""
        steps = np.array(
            [[(getattr(c, what) - (c.lowest + c.highest) / 2.0) / c.step for c in row] for row in self.rows]
        )
        return np.asarray(steps[:, :3] + (steps[:, 3:] if self.light else 0.0))
