"""Trips to the menu of one sweep after another: what was found, and what goes along, is turned with the next."""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from aequitone.advice.moves import Change, ControlState, Move
from aequitone.advice.roles import Role
from aequitone.procedures.levels.riding import Riders
from aequitone.procedures.steps import Procedure, Turn
from aequitone.procedures.uninterrupted import insist


@dataclass
class Trips:
    """`together`: whether a turn may wait for the next one, so that a person walks to the menu once for both."""

    together: bool
    riders: Riders = field(default_factory=Riders)
    _owed: dict[Role, Change] = field(default_factory=dict)

    def turn(self, *to: tuple[ControlState, int]) -> Procedure[None]:
        """Turn controls to their settings now, and what waits or goes along with them."""
        changes = self._with(to)
        if changes:
            offers = self.riders.offers(changes)
            yield Turn(Move(tuple(self._with((*to, *offers)).values())))
            self.riders.turned(offers)
        self._owed = {}

    def insist_on_turning(self, *to: tuple[ControlState, int]) -> Procedure[None]:
        """Turn controls before anything is read again, whatever a person wishes meanwhile."""
        self._owed = self._with(to)
        if not self.together:
            yield from self.settle()

    def turn_later(self, *to: tuple[ControlState, int]) -> Procedure[None]:
        """Turn controls before anything is read again."""
        if self.together:
            self._owed = self._with(to)
        else:
            yield from self.turn(*to)

    def owes(self, role: Role) -> bool:
        """Whether a control waits to be turned."""
        return role in self._owed

    def settle(self) -> Procedure[None]:
        """Turn what waits."""
        if self._owed:
            offers = self.riders.offers(self._owed)
            yield from insist(Turn(Move(tuple(self._with(offers).values()))))
            self.riders.turned(offers)
            self._owed = {}

    def _with(self, to: Iterable[tuple[ControlState, int]]) -> dict[Role, Change]:
        every = dict(self._owed)
        for control, setting in to:
            change = control.moved_to(setting).changes[0]
            owed = every.get(control.role)
            every[control.role] = change if owed is None else replace(change, from_value=owed.from_value)
        return {role: each for role, each in every.items() if each.by}
