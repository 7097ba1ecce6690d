"""The positions of a sweep that are believed, and the hand that turned to them: taken in one after another."""

from dataclasses import dataclass, replace

from aequitone.advice.levels import Position, Sweep, seems_noted_wrong, slipped, unlike_as_found
from aequitone.advice.moves import ControlState
from aequitone.procedures.levels.words import noted_wrong_words, slip_words, unlike_words


@dataclass(frozen=True)
class Believed:
    """What is believed of a sweep so far."""

    found_at: int
    positions: tuple[Position, ...] = ()
    is_doubted: bool = False
    """Whether the newest position did not fit, and is being read once more."""

    def take(self, position: Position) -> "Believed":
        """Take a position in as it is."""
        return replace(self, positions=(*self.positions, position), is_doubted=False)

    def without(self, place: int) -> "Believed":
        """Leave a position out."""
        return replace(self, positions=(*self.positions[:place], *self.positions[place + 1 :]))

    def take_by_hand(
        self, sweep: Sweep, control: ControlState, position: Position, *, said: bool
    ) -> tuple["Believed", str, int | None]:
        """Take a position in that a person turned `control` to; `said`: they have named the setting themselves.

        Returns what is believed now, what there is to say, and the setting at which the control seems to stand
        instead: it is then turned and read once more. What is read so again is no slip, but the screen's own way,
        or a figure that was noted wrong.
        """
        if unlike_as_found(sweep, self.positions, position):
            # Whichever of the two was read elsewhere, the edge is found without the first.
            later = replace(self, positions=(*self.positions[1:], position), is_doubted=False)
            return later, unlike_words(control.name, position.setting), None
        taken = self.take(position)
        if self.is_doubted:
            if not seems_noted_wrong(sweep, taken.positions, said=said):
                return taken, "", None
            words = noted_wrong_words(control.name, self.found_at, position.setting)
            return Believed(position.setting, (position,)), words, None
        stood = slipped(sweep, taken.positions)
        if stood is None:
            return taken, "", None
        return replace(self, is_doubted=True), slip_words(control, position, stood), stood
