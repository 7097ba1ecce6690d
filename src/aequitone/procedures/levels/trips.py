"""Trips to the menu of one sweep after another: what was found, and what goes along, is turned with the next."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace

from aequitone.advice.moves import Change, ControlState, Move
from aequitone.advice.roles import Role
from aequitone.procedures.levels.riding import Riders
from aequitone.procedures.steps import Interrupt, Note, Procedure, ReadAgain, Turn, Watch
from aequitone.procedures.uninterrupted import insist
from aequitone.wording import and_listed


@dataclass
class Trips:
    """`together`: whether a turn may wait for the next one, so that a person walks to the menu once for both."""

    together: bool
    riders: Riders = field(default_factory=Riders)
    watch: Callable[[Move], Procedure[tuple[Change, ...]]] | None = None
    """How a move is watched while a person makes it; it returns what was not seen to move."""
    _owed: dict[Role, Change] = field(default_factory=dict)

    def turn(self, *to: tuple[ControlState, int]) -> Procedure[None]:
        """Turn controls to their settings now, and what waits or goes along with them."""
        yield from self._made(to, ())

    def turn_about(self, control: ControlState, setting: int) -> Procedure[int]:
        """Turn a control to about a setting, to be read there; returns the setting at which it stands then."""
        made = yield from self._made(((control, setting),), (control.role,))
        return made.get(control.role, setting)

    def insist_on_turning(self, *to: tuple[ControlState, int]) -> Procedure[None]:
        """Turn controls before anything is read again, whatever a person wishes meanwhile."""
        self._owed = self._with(to)
        if not self.together:
            yield from self.settle()

    def turn_again(self, control: ControlState, stood: int) -> Procedure[None]:
        """Have a control that seems to stand elsewhere turned to where it should, whatever is wished meanwhile."""
        yield from self.insist_on_turning((replace(control, value=stood), control.value))
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
        while self._owed:
            try:
                yield from self._made((), ())
            except Interrupt:
                continue

    def _made(self, to: Iterable[tuple[ControlState, int]], about: Iterable[Role]) -> Procedure[dict[Role, int]]:
        """Make a trip, where there is anything to turn; returns where the controls stand then."""
        told, changes = tuple(to), self._with(to)
        stands: dict[Role, int] = {}
        if changes:
            offers = self.riders.offers(changes)
            move = Move(tuple(self._with((*told, *offers)).values()))
            freely = frozenset((*about, *(control.role for control, _ in offers)))
            made: Move = yield from self._watched(move, freely - self._owed.keys())
            stands = {change.role: change.to_value for change in made.changes}
            self.riders.turned([(control, stands.get(control.role, setting)) for control, setting in offers])
        self._owed = {}
        return stands

    def _watched(self, move: Move, freely: frozenset[Role]) -> Procedure[Move]:
        """Have a move made, which a person may want to watch meanwhile.

        What was watched and was not seen to move is asked for once more before it is noted.
        """
        seen = False
        while True:
            try:
                made: Move = yield Turn(move, made=seen, freely=frozenset() if seen else freely)
                return made
            except Watch:
                if self.watch is None:
                    continue
                still = yield from self.watch(move)
                seen = not still
                if still:
                    names = and_listed([change.name for change in still])
                    yield from insist(
                        Note(f"Watched, and not seen to move: {names}. Turn it, or say where it stands.")
                    )
            except ReadAgain:
                # There is nothing to be read again at the menu.
                continue

    def _with(self, to: Iterable[tuple[ControlState, int]]) -> dict[Role, Change]:
        every = dict(self._owed)
        for control, setting in to:
            change = control.moved_to(setting).changes[0]
            owed = every.get(control.role)
            every[control.role] = change if owed is None else replace(change, from_value=owed.from_value)
        return {role: each for role, each in every.items() if each.by}
