"""Trips to the menu of one sweep after another: what one has found is turned along with the next."""

from dataclasses import dataclass, field, replace

from aequitone.advice.moves import Change, ControlState, Move
from aequitone.advice.roles import Role
from aequitone.procedures.steps import Procedure, Turn
from aequitone.procedures.uninterrupted import insist


@dataclass
class Trips:
    """`together`: whether a turn may wait for the next one, so that a person walks to the menu once for both."""

    together: bool
    _owed: dict[Role, Change] = field(default_factory=dict)

    def turn(self, *to: tuple[ControlState, int]) -> Procedure[None]:
        """Turn controls to their settings now, and what waits along with them."""
        changes = self._with(to)
        if changes:
            yield Turn(Move(tuple(changes.values())))
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

    def settle(self) -> Procedure[None]:
        """Turn what waits."""
        if self._owed:
            yield from insist(Turn(Move(tuple(self._owed.values()))))
            self._owed = {}

    def _with(self, to: tuple[tuple[ControlState, int], ...]) -> dict[Role, Change]:
        every = dict(self._owed)
        for control, setting in to:
            change = control.moved_to(setting).changes[0]
            owed = every.get(control.role)
            every[control.role] = change if owed is None else replace(change, from_value=owed.from_value)
        return {role: each for role, each in every.items() if each.by}
