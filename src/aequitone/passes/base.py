"""What a kind of pass is: how it is planned, carried out, timed and told of."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Generic, TypeVar

from aequitone.errors import AequitoneError
from aequitone.instruments.ports import Bench
from aequitone.logbook import Logbook
from aequitone.planning.pace import Pace
from aequitone.procedures.journal import Recorded
from aequitone.procedures.steps import Procedure
from aequitone.signal import Transfer

if TYPE_CHECKING:
    from aequitone.passes.snapshot import Snapshot

P = TypeVar("P")
R = TypeVar("R")


class NotReadyError(AequitoneError):
    """A pass cannot begin yet; the message says what is missing."""


class NotNotedError(NotReadyError):
    """A pass needs settings that are to be noted at Arrive; the message says which."""


def no_words(_result: Any) -> str:
    """Words of a result that is all figures."""
    return ""


def nothing_follows(_logbook: Logbook, _visit_id: int, _plan: Any, _result: Any, _bench: Bench) -> None:
    """What most kinds of pass do once they are done."""


def as_given(result: R, _snapshot: "Snapshot") -> R:
    """What most kinds of pass make of a result when the target has changed."""
    return result


def cannot_recover(_plan: Any, _record: Sequence[Recorded], _words: str) -> None:
    """What most kinds of pass make of a record that another version's procedure made."""


@dataclass(frozen=True, kw_only=True, eq=False)
class PassType(Generic[P, R]):
    """A kind of pass; its plan `P` and its result `R` are frozen dataclasses, kept as JSON by `passes.kept`."""

    key: str
    """What it is called in the logbook: never changed."""
    title: str
    """What it is called in the window, at the beginning of a sentence."""
    plan: type[P]
    result: type[R]
    procedure: Callable[[P], Procedure[R]]
    make_plan: Callable[["Snapshot"], P]
    """From all that is known of the visit. Raises NotReadyError with a sentence."""
    seconds: Callable[["Snapshot", Pace], float]
    """What it will take."""
    words: Callable[[R], str] = no_words
    """The result in words, as it is told on the day."""
    reason: str = ""
    """Why a control was turned, in the ledger; the title in small letters where nothing is said."""
    adjusts: bool = False
    """Whether it turns controls by reasoning: its result takes long to work out again, and its trips are as long
    as trips are here."""
    sdr_only: bool = False
    """Whether it has no meaning, or no solver yet, for PQ and HLG."""
    only: Transfer | None = None
    """The one transfer that it is for; None for any."""
    from_file: bool = False
    """Whether readings from a file can be it."""
    regraded: Callable[[R, "Snapshot"], R] = as_given
    """A result held to what the job wants now, where that can change after it was read."""
    finish: Callable[[Logbook, int, P, R, Bench], None] = nothing_follows
    """What is written once it is done, beside the result: by logbook, visit, plan, result and bench."""
    recover: Callable[[P, Sequence[Recorded], str], R | None] = cannot_recover
    """The result from its plan, record and words, where the procedure that made them was another version's."""

    def __post_init__(self) -> None:
        if not self.reason:
            object.__setattr__(self, "reason", self.title.lower())

    def fits(self, snapshot: "Snapshot") -> bool:
        """Whether it is for the signal of the job that is worked on."""
        return self.fits_signal(snapshot.visit.bench.transfer)

    def fits_signal(self, transfer: Transfer) -> bool:
        """Whether it is for such a signal."""
        if self.only is not None:
            return transfer is self.only
        return not self.sdr_only or transfer is Transfer.GAMMA

    def misfit(self, snapshot: "Snapshot") -> str:
        """Say why it is not for that signal."""
        if self.only is not None:
            return f"{self.title} is for {self.only.value.upper()}, which this job does not send."
        return (
            f"{self.title} sets SDR only. In this job, of {snapshot.visit.bench.transfer.value.upper()}, As found "
            "and Proof measure the screen as it stands."
        )
