"""Those who know a part of what is shown, together: one argument for whoever puts it on the screen."""

from dataclasses import dataclass

from aequitone.desktop.session.running_pass import Passing
from aequitone.desktop.stations.arrive.controller import Arriving
from aequitone.desktop.stations.hand_over.report import Reports
from aequitone.desktop.stations.levels.by_eye import EyeRoom
from aequitone.desktop.stations.prepare.controller import Preparing
from aequitone.desktop.tools.controls.controller import LedgerRoom
from aequitone.desktop.tools.visits.controller import Finding


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
