"""A move: one trip to the menu, what it should bring, and how to say it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from aequitone.advice.roles import COLOUR_ORDER, Role, is_of_colours
from aequitone.colorimetry import Formula
from aequitone.colorimetry.arrays import Array, Mask
from aequitone.figures import signed

# A move of so many levels of multi-point, or of so many colours, is told by what they are, not one by one.
_MANY_LEVELS = _MANY_COLOURS = 3


@dataclass(frozen=True)
class ControlState:
    """One control of the screen: its limits and where it stands."""

    role: Role
    name: str
    """The screen's own word."""
    lowest: int
    highest: int
    step: int
    value: int

    @property
    def steps(self) -> int:
        """How many steps there are from end stop to end stop."""
        return (self.highest - self.lowest) // self.step

    def snapped(self, value: float) -> int:
        """The nearest setting there is."""
        step = round((value - self.lowest) / self.step)
        return self.lowest + self.step * min(max(step, 0), self.steps)

    def moved_to(self, value: int) -> "Move":
        """The trip that brings this control alone to a setting."""
        return Move((Change(self.role, self.name, self.value, value),))


@dataclass(frozen=True)
class Change:
    """One control from one setting to another."""

    role: Role
    name: str
    from_value: int
    to_value: int
    stood: int | None = None
    """Where it stood instead, by the menu, when a person was asked for the change; None where nothing was said."""

    @property
    def by(self) -> int:
        return self.to_value - self.from_value

    @property
    def words(self) -> str:
        if not self.by:
            return f"{self.name} at {self.to_value}"
        return f"{self.name} {'up' if self.by > 0 else 'down'} {abs(self.by)}"

    @property
    def reverse(self) -> "Change":
        """The change back to where it began: most often a control stood there before where a person found it."""
        return Change(self.role, self.name, self.to_value, self.from_value if self.stood is None else self.stood)


@dataclass(frozen=True)
class Expectation:
    """What a move should bring: ΔE of the level that most asks for the move, and light."""

    de2000_before: float
    de2000_after: float
    de2000_sd: float
    light_percent: float
    """Change of white's luminance."""
    delta: str = Formula.DE2000.short
    """What the ΔE is called."""

    @property
    def words(self) -> str:
        return (
            f"Expect {self.delta} {self.de2000_before:.1f} → {self.de2000_after:.1f} ± {self.de2000_sd:.1f}, "
            f"light {signed(self.light_percent)} %"
        )


@dataclass(frozen=True)
class Move:
    """One trip to the menu."""

    changes: tuple[Change, ...]
    expected: Expectation | None = None
    undoes: bool = False

    @property
    def is_untouched(self) -> bool:
        """Whether nothing is turned: a person was asked, and has said where the controls stand."""
        return not any(change.by for change in self.changes)

    @property
    def words(self) -> str:
        return ", ".join(change.words for change in self.changes)

    @property
    def levels(self) -> tuple[int, ...]:
        """The levels of multi-point that it turns, bright to dark."""
        return tuple(sorted({c.role.level for c in self.changes if c.role.level is not None}, reverse=True))

    @property
    def colours(self) -> tuple[str, ...]:
        """The colours of a colour management that it turns, by hue."""
        turned = {c.role.channel for c in self.changes if is_of_colours(c.role)}
        return tuple(name for name in COLOUR_ORDER if name in turned)

    @property
    def summary(self) -> str:
        """The move in a few words, however many controls it turns."""
        levels, colours = self.levels, self.colours
        if len(colours) >= _MANY_COLOURS:
            return f"{', '.join(colours)}: {len(self.changes)} controls"
        if len(levels) < _MANY_LEVELS:
            return self.words
        others = [change.words for change in self.changes if change.role.level is None]
        told = (
            f"{len(levels)} levels from {levels[0]} to {levels[-1]} %, {len(self.changes) - len(others)} controls"
        )
        return ", ".join((told, *others))

    @property
    def reverse(self) -> "Move":
        return Move(tuple(change.reverse for change in self.changes), undoes=True)


def way_back_words(move: Move, made: Sequence[Move]) -> str:
    """What a move goes back on, after the moves that were made; nothing of one that goes on."""
    if not move.undoes:
        return ""
    is_of_the_last = bool(made) and set(made[-1].reverse.changes) == set(move.changes)
    return "This undoes the last move." if is_of_the_last else "This takes back some of what was turned."


def last_standing(moves: Sequence[Move]) -> int | None:
    """The place of the last move that has not been undone by a later one; None where none is left."""
    undone = 0
    for at in range(len(moves) - 1, -1, -1):
        if moves[at].undoes:
            undone += 1
        elif undone:
            undone -= 1
        else:
            return at
    return None


def moved(controls: Iterable[ControlState], steps: Iterable[float]) -> tuple[ControlState, ...]:
    """The controls after each went so many whole steps."""
    return tuple(replace(c, value=c.value + int(n) * c.step) for c, n in zip(controls, steps, strict=True))


def trip_between(now: Iterable[ControlState], to: Iterable[ControlState]) -> Move:
    """The trip that brings controls from where they stand to where the same ones, in any order, stand in `to`.

    ValueError where they are not the same ones.
    """
    stands, wanted = tuple(now), {control.role: control.value for control in to}
    if {control.role for control in stands} != wanted.keys():
        raise ValueError("a trip goes from controls to the same controls")
    return Move(
        tuple(
            Change(each.role, each.name, each.value, wanted[each.role])
            for each in stands
            if each.value != wanted[each.role]
        )
    )


def looked_at(controls: Iterable[ControlState]) -> Move:
    """A walk to the menu to see that controls stand where they are held to stand: nothing is to be turned."""
    return Move(tuple(Change(each.role, each.name, each.value, each.value) for each in controls))


def stood_off(move: Move, controls: Iterable[ControlState]) -> Array:
    """Whole steps by which each of the controls stood elsewhere than the move begins, as a person said."""
    off = {change.role: change.stood - change.from_value for change in move.changes if change.stood is not None}
    return np.array([off.get(control.role, 0) / control.step for control in controls])


def stands_as_asked(move: Move, controls: Iterable[ControlState]) -> Mask:
    """Which of the controls a person found where a move was to bring them, before they turned anything."""
    found = {change.role for change in move.changes if change.by and change.stood == change.to_value}
    return np.array([control.role in found for control in controls])


def steps_of(move: Move, controls: Iterable[ControlState]) -> Array:
    """Whole steps that a move asks of each of the controls, as they stand before it."""
    by = {change.role: change.by for change in move.changes}
    return np.array([by.get(control.role, 0) / control.step for control in controls])
