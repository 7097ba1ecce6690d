"""The person at a terminal: asked for a move, for another place of the meter, and told of trouble."""

from collections.abc import Callable
from dataclasses import dataclass

from aequitone.advice.by_hand.standing import Standing, standing_typed
from aequitone.advice.moves import Move
from aequitone.instruments.errors import InstrumentError
from aequitone.procedures.runner import AbandonedError, Remedy
from aequitone.procedures.steps import Interrupt, Place, PutBack, ReadAgain, StopHere
from aequitone.wording import sentence

Ask = Callable[[str], str]
Say = Callable[[str], None]

_WISHES: dict[str, type[Interrupt]] = {"s": StopHere, "z": PutBack, "r": ReadAgain}
_STANDS = "at "
_KEYS = (
    "Enter: turned; at 12: the menu shows 12; s: stop here; z: put the last move back; r: read again; "
    "q: leave, continue later"
)


@dataclass(frozen=True)
class TerminalOperator:
    """Asks in words and waits for a line; `ask` returns it, and raises EOFError where there is none any more."""

    ask: Ask
    say: Say

    def turn(self, move: Move) -> type[Interrupt] | Standing | None:
        """Ask for a move until it is turned, stands elsewhere, or something else is wished."""
        for change in move.changes:
            self.say(f"  {change.name}: {change.from_value} → {change.to_value}")
        if move.expected is not None:
            self.say(f"  {move.expected.words}.")
        while True:
            answer = self._answer(f"  [{_KEYS}] ", ("", *_WISHES), _STANDS)
            if not answer.startswith(_STANDS):
                return _WISHES.get(answer)
            try:
                return standing_typed(answer.removeprefix(_STANDS), move)
            except ValueError as error:
                self.say(f"  {sentence(str(error))}")

    def place(self, step: Place) -> None:
        """Ask for the meter to be hung elsewhere."""
        self._answer(f"  Hang the meter at {step.name}, then Enter. ", ("",))

    def trouble(self, error: InstrumentError) -> Remedy:
        """Tell of a failed instrument, and ask what to do."""
        self.say(f"  {error}.")
        answer = self._answer("  [Enter: try again; g: give up, continue later] ", ("", "g"))
        return Remedy.GIVE_UP if answer == "g" else Remedy.TRY_AGAIN

    def _answer(self, prompt: str, known: tuple[str, ...], opening: str = "") -> str:
        """One of the answers that are known, or one that has an opening; leaving is always one.

        Raises AbandonedError for that.
        """
        while True:
            try:
                answer = self.ask(prompt).strip().lower()
            except EOFError:
                raise AbandonedError from None
            if answer == "q":
                raise AbandonedError
            if answer in known or (opening and answer.startswith(opening)):
                return answer
            self.say(f"  “{answer}” is none of the answers.")
