"""Those who know a part of what is shown, together: one argument for whoever puts it on the screen."""

from dataclasses import dataclass

from aequitone.desktop.arriving import Arriving
from aequitone.desktop.eye_room import EyeRoom
from aequitone.desktop.finding import Finding
from aequitone.desktop.ledger_room import LedgerRoom
from aequitone.desktop.passing import Passing
from aequitone.desktop.preparing import Preparing
from aequitone.desktop.reporting import Reports


@dataclass(frozen=True)
class Rooms:
    """Each keeps what it is about; none of them draws."""

    arriving: Arriving
    passing: Passing
    preparing: Preparing
    eye: EyeRoom
    reports: Reports
    finding: Finding
    ledger: LedgerRoom
