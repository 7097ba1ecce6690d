"""A control of a colour management that is not what its name says: dead, backwards, or exchanged with another."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

from aequitone.advice.moves import ControlState
from aequitone.advice.roles import Role

# What share of blocks has one that is so.
_DEAD, _BACKWARDS, _EXCHANGED = 0.02, 0.005, 0.02


@dataclass(frozen=True)
class Oddity:
    """Which control is odd and how, by its place among the controls."""

    first: int
    second: int | None = None
    """The control that it is exchanged with."""
    works: bool = True
    is_backwards: bool = False
    odds: float = 1.0
    """Before anything was seen, against all being as named."""

    def roles(self, named: tuple[Role, ...]) -> tuple[Role, ...]:
        """Whose work each control does."""
        if self.second is None:
            return named
        does = list(named)
        does[self.first], does[self.second] = named[self.second], named[self.first]
        return tuple(does)

    @property
    def controls(self) -> tuple[int, ...]:
        """Places of the controls that it is about."""
        return (self.first,) if self.second is None else (self.first, self.second)

    def words(self, controls: Sequence[ControlState]) -> str:
        """What there is to say of it once it is proven."""
        name = controls[self.first].name
        if self.second is not None:
            other = controls[self.second].name
            return f"{name} does the work of {other}, also turned alone, and {other} that of {name}."
        if self.is_backwards:
            return f"{name} works backwards, also turned alone: it is turned the other way from now on."
        return f"{name} does nothing, also turned alone: the others do its work as well as they can."


def oddities(turned: Sequence[int], count: int) -> Iterator[Oddity]:
    """What could be odd of `count` controls of which those at places `turned` were turned."""
    for first in turned:
        yield Oddity(first, works=False, odds=_DEAD / count)
        yield Oddity(first, is_backwards=True, odds=_BACKWARDS / count)
    pairs = count * (count - 1) / 2.0
    for first, second in combinations(range(count), 2):
        if first in turned or second in turned:
            yield Oddity(first, second, odds=_EXCHANGED / pairs)
