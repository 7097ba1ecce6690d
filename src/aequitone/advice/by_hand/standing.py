"""Where controls really stand, as a person types it, and what is left of a move from there."""

import re
from collections.abc import Container, Iterable, Mapping
from dataclasses import dataclass, replace

from aequitone.advice.moves import Change, ControlState, Move
from aequitone.advice.roles import Role

# Of its way, what a hand may have turned a control too far.
_TOO_FAR = 0.5
_FIGURE = re.compile(r"[-+]?\d+")


@dataclass(frozen=True)
class Standing:
    """Controls of a move that stand elsewhere than it takes them to, by role."""

    at: Mapping[Role, int]

    def moved(self, move: Move, freely: Container[Role]) -> dict[Role, int]:
        """Where those stand that were moved, and may stay there: one that was not moved is asked for again."""
        return {
            change.role: self.at[change.role]
            for change in move.changes
            if change.role in freely and self.at.get(change.role, change.from_value) != change.from_value
        }

    def is_astray(self, move: Move) -> bool:
        """Whether a control stands where no part of its turn takes it: it was elsewhere before.

        One that stands on its way may have been there, or was turned half way, or a little too far.
        """
        ways = ((self._stands(c), sorted((c.from_value, c.to_value + _TOO_FAR * c.by))) for c in move.changes)
        return any(not low <= at <= high for at, (low, high) in ways)

    def untouched(self, move: Move) -> Move:
        """The controls of a move as they stand, nothing of it made."""
        return Move(tuple(self._untouched(change) for change in move.changes), undoes=move.undoes)

    def _untouched(self, change: Change) -> Change:
        at = self._stands(change)
        return replace(change, from_value=at, to_value=at, stood=at if at != change.from_value else None)

    def _stands(self, change: Change) -> int:
        return self.at.get(change.role, change.from_value)

    def rest_of(self, move: Move, settled: Container[Role] = ()) -> Move:
        """The move as it is to be made from here; without changes where nothing is left to turn.

        `settled`: controls that stay where they stand.
        """
        changes = tuple(
            replace(change, from_value=self.at.get(change.role, change.from_value)) for change in move.changes
        )
        return replace(move, changes=tuple(c for c in changes if c.by and c.role not in settled))


def as_far(move: Move, untouched: Move, controls: Iterable[ControlState]) -> Move:
    """Have each control of a move go as far as it was to go, from where a person has found it, within its range.

    `untouched`: the same move, nothing of it made, by where its controls stand; `controls`: at least these.
    """
    stands = {change.role: change.to_value for change in untouched.changes}
    of_role = {control.role: control for control in controls}

    def from_there(change: Change) -> Change:
        at, control = stands[change.role], of_role[change.role]
        return replace(change, from_value=at, to_value=control.snapped(float(at + change.by)))

    changes = tuple(from_there(change) for change in move.changes)
    return replace(move, changes=tuple(change for change in changes if change.by))


def as_noted(made: Move, untouched: Move, controls: Iterable[ControlState]) -> Move:
    """A move as it was made after a person has said where controls stand, from where they were held to stand.

    `untouched`: what was said before it; `controls`: as they were held to stand.
    """
    to = {change.role: change.to_value for each in (untouched, made) for change in each.changes}
    # What is said first is of before the turn.
    told = (change for each in (made, untouched) for change in each.changes)
    said = {change.role: change.stood for change in told if change.stood is not None}
    changes = (
        Change(control.role, control.name, control.value, to[control.role], said.get(control.role))
        for control in controls
        if to.get(control.role, control.value) != control.value or control.role in said
    )
    return replace(made, changes=tuple(changes))


def standing_typed(words: str, move: Move, limits: Mapping[Role, tuple[int, int]] | None = None) -> Standing:
    """Where the controls of a move stand, from what was typed.

    "12" or "12, 7": one figure for each, in the order of the move; "R gain 12": a control by its name, or by how
    its name begins. `limits`: lowest and highest of the controls, where they are known. ValueError says what is
    wrong.
    """
    pieces = [piece.strip() for piece in re.split(r"[,;\n]", words) if piece.strip()]
    if len(pieces) == 1 and len(move.changes) > 1 and all(_FIGURE.fullmatch(part) for part in pieces[0].split()):
        pieces = pieces[0].split()
    if not pieces:
        raise ValueError("type where it stands, as the menu shows it")
    if all(_FIGURE.fullmatch(piece) for piece in pieces):
        if len(pieces) != len(move.changes):
            wanted = _counted(len(move.changes))
            raise ValueError(
                f"{wanted} wanted, in this order: {', '.join(change.name for change in move.changes)}"
            )
        told = dict(zip((change.role for change in move.changes), map(int, pieces), strict=True))
    else:
        told = dict(_named(piece, move) for piece in pieces)
    for change in move.changes:
        value = told.get(change.role, change.from_value)
        lowest, highest = (limits or {}).get(change.role, (value, value))
        if not lowest <= value <= highest:
            raise ValueError(f"{change.name} goes from {lowest} to {highest}, so it cannot stand at {value}")
    return Standing(told)


def _named(piece: str, move: Move) -> tuple[Role, int]:
    """A control and where it stands, from a name and a figure."""
    name, _, figure = piece.rpartition(" ")
    name = name.strip().rstrip(":=").strip().lower()
    if not name or not _FIGURE.fullmatch(figure):
        raise ValueError(f"“{piece}” is no figure, and no name with a figure, as in “{move.changes[0].name} 12”")
    same = [change for change in move.changes if change.name.lower() == name]
    meant: list[Change] = same or [change for change in move.changes if change.name.lower().startswith(name)]
    if len(meant) != 1:
        known = ", ".join(change.name for change in move.changes)
        raise ValueError(f"“{piece}” could be {'several' if meant else 'none'} of {known}")
    return meant[0].role, int(figure)


def _counted(count: int) -> str:
    return "one figure is" if count == 1 else f"{count} figures are"
