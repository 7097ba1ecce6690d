"""Carries out the steps of a procedure on a bench, keeps the journal, and can be paused and abandoned."""

import math
import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from enum import Enum
from typing import Any, Protocol, TypeVar

import numpy as np

from aequitone.advice.by_hand.standing import Standing
from aequitone.advice.moves import Change, Move
from aequitone.advice.roles import Role
from aequitone.colorimetry.arrays import Array
from aequitone.instruments.errors import CancelledError, InstrumentError
from aequitone.instruments.ports import Bench
from aequitone.instruments.reliable import ReliableMeter, ReliableSource
from aequitone.procedures.care import CARE, Care
from aequitone.procedures.exposures import Looked, UnsteadyError, look
from aequitone.procedures.journal import Journal, Recorded, Wished, checked
from aequitone.procedures.noise import learnt_noise
from aequitone.procedures.steps import (
    INTERRUPTS,
    Done,
    Interrupt,
    Note,
    Place,
    Procedure,
    Progress,
    Read,
    Reading,
    Show,
    Step,
    Turn,
    Wait,
    Watch,
)
from aequitone.signal import Patch, grey_patch

T = TypeVar("T")
# A patch that goes while it is read is shown again so often.
_SHOWINGS = 3


class AbandonedError(Exception):
    """The person set the pass aside. What was read is kept, and it can be gone on with."""


class Remedy(Enum):
    """What to do about an instrument that failed."""

    TRY_AGAIN = "try again"
    GIVE_UP = "give up"


class Operator(Protocol):
    """The person at the bench. Both calls block until they have answered."""

    def turn(self, move: Move) -> type[Interrupt] | Standing | None:
        """Ask for a move; None once it is turned, where its controls stand instead, or what the person wishes."""
        ...

    def place(self, step: Place) -> None:
        """Ask for the meter to be hung elsewhere."""
        ...

    def trouble(self, error: InstrumentError) -> Remedy:
        """Tell of a failed instrument."""
        ...


class NobodyThere:
    """The operator of a run without a window: everything is turned by link, and trouble ends it."""

    def turn(self, move: Move) -> type[Interrupt] | None:
        raise InstrumentError("Screen link", f"there is nobody to turn {move.words}")

    def place(self, step: Place) -> None:
        raise InstrumentError("Meter", f"there is nobody to hang it at {step.name}")

    def trouble(self, error: InstrumentError) -> Remedy:  # noqa: ARG002
        return Remedy.GIVE_UP


@dataclass(frozen=True)
class StepBegun:
    """The runner begins a step; `replayed` when its result comes from the journal."""

    seq: int
    step: Step
    replayed: bool


@dataclass(frozen=True)
class StepDone:
    """A step's result, after it is in the journal."""

    seq: int
    step: Step
    result: Any
    replayed: bool


@dataclass(frozen=True)
class Paused:
    """The runner waits until it is told to go on."""


Event = StepBegun | StepDone | Paused
Listener = Callable[[Event], None]


class Runner:
    """Runs one procedure. `run` blocks; the other methods may be called from any thread."""

    def __init__(
        self,
        bench: Bench,
        journal: Journal,
        operator: Operator,
        listener: Listener | None = None,
        care: Care = CARE,
    ) -> None:
        self._care = care
        self._bench = bench
        self._meter, self._source = ReliableMeter(bench.meter), ReliableSource(bench.source)
        self._journal = journal
        self._operator = operator
        self._listener = listener or _hear_nothing
        self._changed = threading.Condition()
        self._paused = False
        self._abandoned = False
        self._wish: type[Interrupt] | None = None
        self._shown: Patch | None = None
        self._asked_at = 0.0
        self._began = 0.0
        self._refreshed_at = 0.0
        self._turned_since = False
        self._together = False
        self._watching = False
        self._before: tuple[Patch, Array] | None = None

    def pause(self) -> None:
        with self._changed:
            self._paused = True

    def go_on(self) -> None:
        with self._changed:
            self._paused = False
            self._changed.notify_all()

    def abandon(self) -> None:
        """Stop before the next step; `run` raises AbandonedError."""
        with self._changed:
            self._abandoned = True
            self._changed.notify_all()

    def wish(self, kind: type[Interrupt]) -> None:
        """Have an interrupt thrown into the procedure before its next step."""
        with self._changed:
            self._wish = kind

    def run(self, procedure: Procedure[T]) -> T:
        """Carry out the procedure and return its value.

        Raises AbandonedError, InstrumentError once the operator gives up, or JournalMismatchError.
        """
        past = self._journal.recorded()
        readings = [result for result in past.values() if isinstance(result, Reading)]
        self._noise = learnt_noise(self._meter.noise, readings)
        now = self._bench.clock.now()
        self._began = now - max((reading.at for reading in readings), default=0.0)
        # Nobody knows how long the picture has stood: a pass with refresh fields begins with one.
        self._refreshed_at = -math.inf
        last = max(past, default=-1)
        seq = -1
        try:
            step = next(procedure)
            while True:
                seq += 1
                outcome = self._replay(seq, step, past.get(seq)) if seq <= last else self._live(seq, step)
                step = procedure.throw(outcome()) if _is_wish(outcome) else procedure.send(outcome)
        except StopIteration as end:
            return end.value  # type: ignore[no-any-return]
        finally:
            procedure.close()

    def _replay(self, seq: int, step: Step, result: Recorded | None) -> Any:
        self._listener(StepBegun(seq, step, replayed=True))
        if isinstance(result, Wished):
            kind = INTERRUPTS[result.kind]
            self._watching = kind is Watch or (self._watching and kind is not Done)
            return kind
        value = checked(seq, step, result)
        self._listener(StepDone(seq, step, value, replayed=True))
        return value

    def _live(self, seq: int, step: Step) -> Any:
        while True:
            wish = self._gate(step)
            if wish is None:
                self._listener(StepBegun(seq, step, replayed=False))
                try:
                    result = self._carry_out(seq, step)
                except CancelledError:
                    continue
                except InstrumentError as error:
                    if self._operator.trouble(error) is Remedy.GIVE_UP:
                        raise
                    continue
                if not _is_wish(result):
                    self._listener(StepDone(seq, step, result, replayed=False))
                    return result
                wish = result
            self._watching = wish is Watch or (self._watching and wish is not Done)
            self._journal.wished(seq, wish.__name__)
            return wish

    def _gate(self, step: Step) -> type[Interrupt] | None:
        """Wait out a pause; raise AbandonedError, or hand over a wish.

        A wish is about what is shown, read or turned: at a note it waits for what comes next. That all is turned
        can only be said while a move is watched; said twice, it is said once.
        """
        with self._changed:
            if self._paused and not self._abandoned:
                self._listener(Paused())
                self._changed.wait_for(lambda: self._abandoned or not self._paused)
            if self._abandoned:
                raise AbandonedError
            if isinstance(step, Note | Progress):
                return None
            wish, self._wish = self._wish, None
            return None if wish is Done and not self._watching else wish

    def _carry_out(self, seq: int, step: Step) -> Any:
        match step:
            case Show(patch, settle, together):
                self._show(patch, settle=settle, together=together)
            case Read():
                return self._read(seq, step)
            case Turn():
                return self._turn(seq, step)
            case Place(_, spot):
                self._place(step, spot)
            case Wait(seconds):
                self._bench.clock.sleep(seconds)
            case Note(text):
                self._journal.note(seq, text)
            case Progress():
                pass
        return None

    def _show(self, patch: Patch, *, settle: bool = True, together: bool = False) -> None:
        self._asked_at = self._bench.clock.now()
        # Nor before a reading that measures the settling itself.
        self._together = together or not settle
        if self._field_due():
            self._refresh(patch)
        self._source.show(patch)
        if settle:
            self._settle()
        self._shown = patch

    def _settle(self) -> None:
        measured = self._care.settle_seconds
        self._bench.clock.sleep(self._source.settle_seconds if measured is None else measured)

    def _field_due(self) -> bool:
        """Whether it is time for a brighter field."""
        fields = self._care.refresh
        if fields is None or self._together:
            return False
        # A trip to the menu is long, and what is read after it would be dim before the next field is due.
        every = fields.every_seconds / 2.0 if self._turned_since else fields.every_seconds
        return self._bench.clock.now() - self._refreshed_at >= every

    def _refresh(self, patch: Patch) -> None:
        """Slip in a brighter full field."""
        fields, clock = self._care.refresh, self._bench.clock
        assert fields is not None
        self._source.show(grey_patch(fields.percent, replace(patch.format, window=1.0)))
        clock.sleep(fields.for_seconds)
        self._refreshed_at = clock.now()
        self._turned_since = False
        self._shown = None

    def _read(self, seq: int, step: Read) -> Reading:
        for _ in range(_SHOWINGS):
            # After a crash the record ends between Show and Read as often as not: the patch must be up.
            # And one that is read at length, or twice, may have stood for too long meanwhile.
            if self._shown != step.patch or self._field_due():
                self._show(step.patch)
            looked = self._look(step)
            if self._source.shows(step.patch):
                break
            # The source was started anew, or shows something else: this light belongs to no patch of ours.
            self._shown = None
        else:
            raise InstrumentError(
                self._source.name,
                f"{step.patch.name} was shown {_SHOWINGS} times, and each time it had gone before it was read. "
                "Check whether something else uses the source",
            )
        X, Y, Z = map(float, looked.xyz)
        sd_X, sd_Y, sd_Z = map(float, looked.sd)
        now = self._bench.clock.now()
        reading = Reading(
            step.patch,
            step.purpose,
            X,
            Y,
            Z,
            sd_X,
            sd_Y,
            sd_Z,
            looked.repeats,
            looked.seconds,
            now - self._asked_at,
            looked.scatter,
            now - self._began,
            looked.rejected,
        )
        self._journal.reading(seq, reading)
        self._before = (step.patch, looked.xyz)
        self._asked_at = self._bench.clock.now()
        return reading

    def _look(self, step: Read) -> Looked:
        policy = step.policy.coarser(self._care.noise_allowed)

        def measure(seconds: float) -> Array:
            return self._meter.measure(step.patch, seconds).xyz

        repeats = self._meter.repeats and not step.once
        doubt = self._care.doubt and not step.once

        def once_more() -> Looked:
            try:
                return look(measure, policy, self._noise, repeats=repeats, doubt=doubt)
            except UnsteadyError as error:
                raise InstrumentError(
                    self._meter.name,
                    f"its answers at {step.patch.name} do not agree with each other: the light changes by itself "
                    "(a room sensor, dynamic contrast), or the meter has moved. Switch off what is automatic, and "
                    "check that the meter hangs as before",
                ) from error

        looked = once_more()
        if repeats and doubt and self._late(step.patch, looked):
            self._settle()
            again = once_more()
            rejected = looked.repeats + looked.rejected if self._differ(looked.xyz, again) else 0
            looked = replace(again, rejected=again.rejected + rejected)
        return looked

    def _late(self, patch: Patch, looked: Looked) -> bool:
        """Whether the light is still that of the patch before, although this one is another."""
        if self._before is None or self._before[0].codes == patch.codes:
            return False
        return not self._differ(self._before[1], looked) and looked.xyz[1] > self._noise.darkest(1.0)

    @staticmethod
    def _differ(xyz: Array, looked: Looked) -> bool:
        return bool(np.any(np.abs(xyz - looked.xyz) > 4.0 * looked.sd))

    def _place(self, step: Place, spot: tuple[float, float]) -> None:
        if self._bench.mount is not None:
            self._bench.mount.place(spot)
        else:
            self._operator.place(step)
        # What was read before was read elsewhere.
        self._before = None

    def _turn(self, seq: int, step: Turn) -> type[Interrupt] | Move:
        made = step.move
        if step.made:
            pass
        elif self._bench.link is None:
            answer = self._turned_by_hand(step)
            if not isinstance(answer, Move):
                return answer
            made = answer
        else:
            self._bench.link.turn({change.role.key: change.to_value for change in made.changes})
        self._turned_since = True
        self._journal.turned(seq, made)
        return made

    def _turned_by_hand(self, step: Turn) -> type[Interrupt] | Move:
        """Have a person make a move; where they say how it stands, the rest is asked for from there."""
        left, free, stood = step.move, dict[Role, int](), dict[Role, int]()
        answer = self._operator.turn(left)
        if step.heeds and isinstance(answer, Standing) and answer.is_astray(left):
            self._journal.stands(answer.at)
            return answer.untouched(left)
        while isinstance(answer, Standing):
            self._journal.stands(answer.at)
            # What is said first is of before the turn, or of its middle; the light will tell.
            stood = {**answer.at, **stood}
            free |= answer.moved(left, step.freely)
            left = answer.rest_of(left, free)
            answer = self._operator.turn(left) if left.changes else None
        if answer is not None:
            return answer
        changes = (
            replace(change, to_value=free.get(change.role, change.to_value), stood=_elsewhere(change, stood))
            for change in step.move.changes
        )
        return replace(step.move, changes=tuple(changes))


def _elsewhere(change: Change, stood: Mapping[Role, int]) -> int | None:
    """Where a control stood before a change, where that is not what the change begins with."""
    at = stood.get(change.role, change.from_value)
    return at if at != change.from_value else None


def _hear_nothing(event: Event) -> None:
    """Nobody listens."""


def _is_wish(outcome: Any) -> bool:
    return isinstance(outcome, type) and issubclass(outcome, Interrupt)
