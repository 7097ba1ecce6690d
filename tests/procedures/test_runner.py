"""The runner: order, pauses, wishes, trouble, and going on from the record."""

import threading
import time
from collections.abc import Iterator
from dataclasses import replace
from typing import ClassVar

import numpy as np
import pytest

from aequitone.advice.by_hand.standing import Standing
from aequitone.advice.moves import Change, Move
from aequitone.advice.roles import Role
from aequitone.instruments import InstrumentError
from aequitone.procedures.care import Care, RefreshFields
from aequitone.procedures.journal import JournalMismatchError, MemoryJournal, Turned, Wished
from aequitone.procedures.policy import ReadPolicy
from aequitone.procedures.replay import replay
from aequitone.procedures.runner import AbandonedError, NobodyThere, Paused, Remedy, Runner, StepBegun, StepDone
from aequitone.procedures.steps import (
    Checkpoint,
    Done,
    Note,
    Procedure,
    Progress,
    Purpose,
    PutBack,
    Read,
    Reading,
    Show,
    Turn,
    Wait,
)  # fmt: skip
from aequitone.signal import SignalFormat, grey_patch

from .fakes import FakeBench

POLICY = ReadPolicy(0.5)
MOVE = Move((Change(Role.GAIN_R, "R gain", 50, 55),))


def flat(percent: float) -> np.ndarray:
    return np.array([percent, percent, percent]) + 1.0


def three_levels() -> Procedure[list[float]]:
    """Reads three levels with a move between; what it got is its value."""
    got = []
    for i, percent in enumerate((100.0, 50.0, 10.0)):
        patch = grey_patch(percent, SignalFormat())
        yield Show(patch)
        reading: Reading = yield Read(patch, POLICY, Purpose.LEVEL)
        got.append(round(reading.Y, 6))
        yield Progress(i + 1, 3)
        if i == 1:
            yield Turn(MOVE)
            yield Note("turned")
    yield Wait(3.0, "settling")
    yield Checkpoint("end")
    return got


class Refusing:
    """An operator who gives up, or wishes, on request."""

    def __init__(self, *remedies: Remedy) -> None:
        self.remedies: Iterator[Remedy] = iter(remedies)
        self.told: list[str] = []
        self.moves: list[Move] = []

    def turn(self, move: Move) -> None:
        self.moves.append(move)

    def trouble(self, error: InstrumentError) -> Remedy:
        self.told.append(str(error))
        return next(self.remedies)


def test_steps_are_carried_out_in_order_and_recorded() -> None:
    bench, journal, events = FakeBench(flat), MemoryJournal(), []
    value = Runner(bench.bench, journal, NobodyThere(), events.append).run(three_levels())
    assert value == [101.0, 51.0, 11.0]
    assert bench.shown == [100.0, 50.0, 10.0]
    assert bench.turned == [{"gain-r": 55}]
    assert [type(r).__name__ for _, r in sorted(journal.results.items())] == [
        "Reading",
        "Reading",
        "Turned",
        "Reading",
    ]
    assert list(journal.notes.values()) == ["turned"]
    begun, done = ([e.seq for e in events if isinstance(e, kind)] for kind in (StepBegun, StepDone))
    assert begun == done == list(range(13))


def test_without_a_link_a_person_turns() -> None:
    bench, operator = FakeBench(flat, link=False), Refusing()
    Runner(bench.bench, MemoryJournal(), operator).run(three_levels())
    assert operator.moves == [MOVE]
    assert bench.turned == []


def test_where_a_control_really_stands_is_noted_and_the_rest_asked_for() -> None:
    class Corrects(Refusing):
        """Turned it too far, then back, then not quite."""

        answers: ClassVar = [Standing({Role.GAIN_R: 60}), Standing({Role.GAIN_R: 54}), None]

        def turn(self, move: Move) -> Standing | None:
            super().turn(move)
            return self.answers[len(self.moves) - 1]

    bench, operator, journal = FakeBench(flat, link=False), Corrects(), MemoryJournal()
    value = Runner(bench.bench, journal, operator).run(three_levels())
    assert [(c.from_value, c.to_value) for move in operator.moves for c in move.changes] == [
        (50, 55),
        (60, 55),
        (54, 55),
    ]
    assert journal.stood == [{Role.GAIN_R: 60}, {Role.GAIN_R: 54}]
    # The record has the move as it was wanted, with where it stood first, and goes on from it.
    (made,) = (kept.move for kept in journal.results.values() if isinstance(kept, Turned))
    assert made == replace(MOVE, changes=tuple(replace(each, stood=60) for each in MOVE.changes))
    assert replay(three_levels(), journal.results)[0] == value


@pytest.mark.parametrize("kept", range(5))
def test_going_on_reads_nothing_twice_wherever_it_ended(kept: int) -> None:
    whole = MemoryJournal()
    Runner(FakeBench(flat).bench, whole, NobodyThere()).run(three_levels())
    journal = MemoryJournal()
    journal.results = dict(sorted(whole.results.items())[:kept])
    bench = FakeBench(flat)
    value = Runner(bench.bench, journal, NobodyThere()).run(three_levels())
    assert value == [101.0, 51.0, 11.0]
    assert journal.results.keys() == whole.results.keys()
    already = sum(isinstance(r, Reading) for r in list(whole.results.values())[:kept])
    assert len(bench.read) == 2 * (3 - already)


def test_a_record_of_another_procedure_is_refused() -> None:
    journal = MemoryJournal()
    Runner(FakeBench(flat).bench, journal, NobodyThere()).run(three_levels())
    journal.results[1] = Turned(MOVE)
    with pytest.raises(JournalMismatchError, match="step 1"):
        Runner(FakeBench(flat).bench, journal, NobodyThere()).run(three_levels())
    with pytest.raises(JournalMismatchError):
        replay(three_levels(), journal.recorded())


def test_a_replay_of_half_a_record_has_no_value() -> None:
    journal = MemoryJournal()
    Runner(FakeBench(flat).bench, journal, NobodyThere()).run(three_levels())
    half = dict(sorted(journal.results.items())[:2])
    assert replay(three_levels(), half) == (None, None)
    assert replay(three_levels(), journal.results)[0] == [101.0, 51.0, 11.0]


def test_a_failed_meter_is_told_of_and_tried_again() -> None:
    bench = FakeBench(flat)
    bench.fail = [InstrumentError("Fake meter", "it does not answer")] * 3
    operator = Refusing(Remedy.TRY_AGAIN)
    assert Runner(bench.bench, MemoryJournal(), operator).run(three_levels()) == [101.0, 51.0, 11.0]
    assert len(operator.told) == 1
    assert "Fake meter: it does not answer, 3 times running, at 100 % grey" in operator.told[0]


def test_giving_up_keeps_what_was_read_and_can_be_gone_on_with() -> None:
    bench, journal = FakeBench(flat), MemoryJournal()
    bench.fail = [None, None, *[InstrumentError("Fake meter", "gone")] * 3]  # type: ignore[list-item]
    with pytest.raises(InstrumentError, match="gone"):
        Runner(bench.bench, journal, Refusing(Remedy.GIVE_UP)).run(three_levels())
    assert len(journal.results) == 1
    assert Runner(FakeBench(flat).bench, journal, NobodyThere()).run(three_levels()) == [101.0, 51.0, 11.0]


def test_pause_go_on_and_abandon_from_another_thread() -> None:
    paused = threading.Event()
    journal = MemoryJournal()
    runner = Runner(
        FakeBench(flat).bench, journal, NobodyThere(), lambda e: paused.set() if isinstance(e, Paused) else None
    )
    runner.pause()
    outcome: list[object] = []

    def work() -> None:
        try:
            outcome.append(runner.run(three_levels()))
        except AbandonedError:
            outcome.append("abandoned")

    thread = threading.Thread(target=work)
    thread.start()
    assert paused.wait(5)
    assert journal.results == {}
    runner.pause()
    runner.go_on()
    thread.join(5)
    assert outcome == [[101.0, 51.0, 11.0]]

    second = threading.Thread(target=work)
    runner.pause()
    second.start()
    time.sleep(0.05)
    runner.abandon()
    second.join(5)
    assert outcome[1] == "abandoned"


@pytest.mark.parametrize("together", [True, False])
def test_no_field_comes_between_readings_that_are_compared(*, together: bool) -> None:
    first, second = grey_patch(80.0, SignalFormat()), grey_patch(30.0, SignalFormat())

    def compare() -> Procedure[None]:
        yield Show(first)
        yield Read(first, POLICY, Purpose.SWEEP)
        yield Wait(20.0, "as long as a reading in the dark takes")
        yield Show(second, together=together)
        yield Read(second, POLICY, Purpose.SWEEP)
        yield Show(first)

    fake = FakeBench(flat)
    Runner(fake.bench, MemoryJournal(), NobodyThere(), care=Care(refresh=RefreshFields(10.0, 2.0, 50.0))).run(
        compare()
    )
    assert fake.shown == ([50.0, 80.0, 30.0, 50.0, 80.0] if together else [50.0, 80.0, 50.0, 30.0, 80.0])


def test_what_is_read_for_long_is_refreshed_before_it_is_read_once_more() -> None:
    patch = grey_patch(30.0, SignalFormat())

    def twice() -> Procedure[None]:
        yield Show(patch)
        yield Read(patch, POLICY, Purpose.LEVEL)
        yield Wait(20.0, "as long as a reading in the dark takes")
        yield Read(patch, POLICY, Purpose.LEVEL)

    fake = FakeBench(flat)
    Runner(fake.bench, MemoryJournal(), NobodyThere(), care=Care(refresh=RefreshFields(10.0, 2.0, 50.0))).run(
        twice()
    )
    assert fake.shown == [50.0, 30.0, 50.0, 30.0]


@pytest.mark.parametrize(
    ("turned", "waited", "fields"), [(True, 25.0, 2), (False, 25.0, 1), (True, 12.0, 1), (False, 42.0, 2)]
)
def test_after_a_trip_to_the_menu_a_field_comes_at_half_the_time(
    *, turned: bool, waited: float, fields: int
) -> None:
    """A menu stands still for long, and what is read after it would be dim before the next field is due."""
    patch = grey_patch(80.0, SignalFormat())

    def with_a_trip() -> Procedure[None]:
        yield Show(patch)
        yield Read(patch, POLICY, Purpose.ADJUST)
        if turned:
            yield Turn(MOVE)
        yield Wait(waited, "fields come every 40 s, after a trip every 20")
        yield Show(patch)
        yield Read(patch, POLICY, Purpose.ADJUST)

    fake = FakeBench(flat)
    Runner(fake.bench, MemoryJournal(), NobodyThere(), care=Care(refresh=RefreshFields(40.0, 2.0, 50.0))).run(
        with_a_trip()
    )
    assert fake.shown.count(50.0) == fields


def patient() -> Procedure[str]:
    """Takes one wish and tells of it."""
    patch = grey_patch(50.0, SignalFormat())
    try:
        yield Show(patch)
        yield Read(patch, POLICY, Purpose.LEVEL)
    except PutBack:
        yield Turn(MOVE)
        return "put back"
    return "no wish"


def noting() -> Procedure[str]:
    """Tells and notes after a reading, as procedures do, and does not expect a wish there."""
    patch = grey_patch(50.0, SignalFormat())
    yield Show(patch)
    yield Read(patch, POLICY, Purpose.LEVEL)
    yield Progress(1, 2)
    yield Note("half way")
    try:
        yield Show(patch)
    except PutBack:
        return "put back"
    return "no wish"


def test_a_wish_waits_at_a_note_for_what_comes_next() -> None:
    def hear(event: object) -> None:
        if isinstance(event, StepDone) and isinstance(event.step, Read):
            runners[0].wish(PutBack)

    runners = list[Runner]()
    journal = MemoryJournal()
    runners.append(Runner(FakeBench(flat).bench, journal, NobodyThere(), hear))
    assert runners[0].run(noting()) == "put back"
    assert replay(noting(), journal.recorded())[0] == "put back"


def test_that_all_is_turned_is_no_wish_where_nothing_is_watched() -> None:
    runner = Runner(FakeBench(flat).bench, MemoryJournal(), NobodyThere())
    runner.wish(Done)
    assert runner.run(noting()) == "no wish"


def test_a_wish_is_thrown_in_recorded_and_replayed() -> None:
    journal = MemoryJournal()
    runner = Runner(FakeBench(flat).bench, journal, NobodyThere())
    runner.wish(PutBack)
    assert runner.run(patient()) == "put back"
    assert journal.results[0] == Wished("PutBack")
    fresh = FakeBench(flat)
    assert Runner(fresh.bench, journal, NobodyThere()).run(patient()) == "put back"
    assert fresh.read == []
    assert replay(patient(), journal.recorded())[0] == "put back"
