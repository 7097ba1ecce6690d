"""A person who watches a move while making it, on the stand-ins."""

from collections.abc import Callable

from aequitone.advice.by_hand.watching import Watched
from aequitone.advice.moves import Move
from aequitone.procedures.runner import NobodyThere, Runner, StepDone
from aequitone.procedures.steps import Done, Interrupt, Progress, Watch
from aequitone.standins.bench import StandInBench


class Watcher(NobodyThere):
    """Watches one move while turning it, a step of one control at a time; makes the others as asked.

    `least`: so many steps a move must have to be watched. `enough`: whether what was told so far will do.
    """

    def __init__(self, bench: StandInBench, enough: Callable[[list[Watched]], bool], least: int = 1) -> None:
        self._bench, self._enough, self._least = bench, enough, least
        self.told: list[Watched] = []
        self.runner: Runner | None = None
        self.move: Move | None = None

    def turn(self, move: Move) -> type[Interrupt] | None:
        if self.move is None and sum(abs(change.by) for change in move.changes) >= self._least:
            self.move = move
            return Watch
        self._bench.screen.turn({change.role.key: change.to_value for change in move.changes})
        return None

    def hear(self, event: object) -> None:
        if not (isinstance(event, StepDone) and isinstance(event.step, Progress)):
            return
        if not isinstance(event.step.value, Watched):
            return
        self.told.append(event.step.value)
        assert self.move is not None
        assert self.runner is not None
        settings = self._bench.screen.settings()
        for change in self.move.changes:
            at = settings[change.role.key]
            if at != change.to_value:
                self._bench.screen.turn({change.role.key: at + (1 if change.by > 0 else -1)})
                return
        if self._enough(self.told):
            self.runner.wish(Done)
