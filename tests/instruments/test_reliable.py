"""A meter that answers rubbish, late or not at all."""

import pytest

from aequitone.instruments import InstrumentError, Measurement, MeterNoise
from aequitone.instruments.reliable import ATTEMPTS, ReliableMeter, ReliableSource
from aequitone.signal import SignalFormat, grey_patch

PATCH = grey_patch(80.0, SignalFormat())


class Scripted:
    """Answers from a list: a Measurement, or an error to raise."""

    name, noise, repeats = "Scripted meter", MeterNoise(0.01, 0.002), True

    def __init__(self, *answers: object) -> None:
        self.answers = list(answers)

    def measure(self, patch: object, seconds: float) -> Measurement:
        answer = self.answers.pop(0)
        if isinstance(answer, Exception):
            raise answer
        return answer


GOOD = Measurement(95.0, 100.0, 108.0)
LATE = InstrumentError("Scripted meter", "it did not answer in time")


@pytest.mark.parametrize(
    "bad", [LATE, Measurement(float("nan"), 1.0, 1.0), Measurement(1.0, -3.0, 1.0), Measurement(1.0, 1e7, 1.0)]
)
def test_one_bad_answer_is_asked_again(bad: object) -> None:
    meter = Scripted(bad, GOOD)
    assert ReliableMeter(meter).measure(PATCH, 1.0) is GOOD
    assert meter.answers == []


def test_it_gives_up_with_a_sentence_that_says_what_and_where() -> None:
    meter = Scripted(*[Measurement(float("inf"), 0.0, 0.0)] * ATTEMPTS, GOOD)
    with pytest.raises(InstrumentError, match=r"Scripted meter: .*not a number, 3 times running, at 80 % grey"):
        ReliableMeter(meter).measure(PATCH, 1.0)
    assert meter.answers == [GOOD]


def test_noise_around_black_is_believed() -> None:
    below = Measurement(-0.003, -0.002, 0.001)
    assert ReliableMeter(Scripted(below)).measure(PATCH, 2.0) is below


def test_a_strong_red_may_leave_less_than_no_z() -> None:
    red = Measurement(24.83, 11.68, -0.048)
    assert ReliableMeter(Scripted(red)).measure(PATCH, 1.0) is red
    rubbish = Measurement(24.83, 11.68, -3.0)
    assert ReliableMeter(Scripted(rubbish, red)).measure(PATCH, 1.0) is red


class Stuttering:
    """A source that fails as often as it is told to."""

    name, settle_seconds = "Stuttering source", 0.1

    def __init__(self, failures: int) -> None:
        self.failures, self.shown = failures, []

    def _fail(self) -> None:
        if self.failures:
            self.failures -= 1
            raise InstrumentError(self.name, "the connection was lost")

    def show(self, patch: object) -> None:
        self._fail()
        self.shown.append(patch)

    def shows(self, patch: object) -> bool:
        self._fail()
        return self.shown[-1:] == [patch]


def test_a_source_that_fails_once_is_asked_again() -> None:
    inner = Stuttering(1)
    source = ReliableSource(inner)
    source.show(PATCH)
    inner.failures = 1
    assert source.shows(PATCH)
    assert inner.shown == [PATCH]
    assert (source.name, source.settle_seconds) == ("Stuttering source", 0.1)


def test_a_source_that_goes_on_failing_is_told_of() -> None:
    for ask in (ReliableSource.show, ReliableSource.shows):
        with pytest.raises(InstrumentError, match="the connection was lost"):
            ask(ReliableSource(Stuttering(2)), PATCH)
