"""Turning controls, one after another, to how they stood at an earlier moment or stand in another memory."""

from dataclasses import dataclass

from aequitone.advice.moves import ControlState, Move
from aequitone.advice.roles import FEATURES, Role
from aequitone.procedures.steps import Note, Procedure, Progress, PutBack, ReadAgain, StopHere, Turn


@dataclass(frozen=True)
class PutBackPlan:
    """The controls as they stand, and the setting each goes to; `moment` in words."""

    controls: tuple[ControlState, ...]
    to: tuple[int, ...]
    moment: str
    memory: str = ""
    """The memory that the settings are those of, where they are copied from another."""
    alone: bool = False
    """Whether one control goes back and the others stay as they stand."""

    def __post_init__(self) -> None:
        if len(self.controls) != len(self.to):
            raise ValueError(f"{len(self.controls)} controls to put back, but {len(self.to)} settings for them")


@dataclass(frozen=True)
class PutBackState:
    """What is back, and what is not yet."""

    done: tuple[str, ...]
    left: tuple[str, ...]
    moment: str
    memory: str = ""
    alone: bool = False

    @property
    def words(self) -> str:
        """What came of it, in a sentence."""
        if self.memory:
            left = f" {', '.join(self.left)} left as found." if self.left else ""
            count = "1 setting" if len(self.done) == 1 else f"{len(self.done)} settings"
            return f"{count} copied from {self.memory}, as a start.{left}"
        if self.alone and not self.left:
            return f"{', '.join(self.done)} is back to how it stood {self.moment}."
        if not self.left:
            return f"Everything is back to how it stood {self.moment}."
        return f"{len(self.done)} put back, {len(self.left)} left as they stand: {', '.join(self.left)}."


def put_back(plan: PutBackPlan) -> Procedure[PutBackState]:
    """Turn each control back; returns a PutBackState. StopHere leaves the rest as it stands."""
    order = sorted(zip(plan.controls, plan.to, strict=True), key=lambda each: _order(each[0].role))
    moves = [control.moved_to(to) for control, to in order if control.value != to]
    names = [move.changes[0].name for move in moves]
    done = 0
    yield Progress(0, len(moves), _state(names, done, plan))
    while done < len(moves):
        try:
            yield Turn(moves[done])
            done += 1
        except PutBack:
            # The one before was a mistake: it goes back to where it stood when this began.
            done = yield from _undone(moves, done)
        except ReadAgain:
            continue
        except StopHere:
            break
        yield Progress(done, len(moves), _state(names, done, plan))
    state = _state(names, done, plan)
    yield Note(state.words)
    return state


def _undone(moves: list[Move], done: int) -> Procedure[int]:
    if not done:
        return 0
    try:
        yield Turn(moves[done - 1].reverse)
    except (PutBack, ReadAgain, StopHere):
        return done
    return done - 1


def _state(names: list[str], done: int, plan: PutBackPlan) -> PutBackState:
    return PutBackState(tuple(names[:done]), tuple(names[done:]), plan.moment, plan.memory, plan.alone)


def _order(role: Role) -> int:
    """A picture mode brings settings of its own, so it goes first; what acts by itself comes last."""
    return 0 if role == Role.PICTURE_MODE else 2 if role in FEATURES else 1
