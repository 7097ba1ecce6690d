"""The stations of the route, in the order of work. A new one is a folder here and its class in STATIONS."""

from aequitone.desktop.station import Station
from aequitone.desktop.stations.arrive.station import ArriveStation
from aequitone.desktop.stations.as_found.station import AsFoundStation
from aequitone.desktop.stations.colour.station import ColourStation
from aequitone.desktop.stations.hand_over.station import HandOverStation
from aequitone.desktop.stations.levels.station import LevelsStation
from aequitone.desktop.stations.peak.station import PeakStation
from aequitone.desktop.stations.prepare.station import PrepareStation
from aequitone.desktop.stations.proof.station import ProofStation
from aequitone.desktop.stations.tone.station import ToneStation
from aequitone.desktop.stations.white.station import WhiteStation

STATIONS: tuple[type[Station], ...] = (
    ArriveStation,
    PrepareStation,
    AsFoundStation,
    PeakStation,
    LevelsStation,
    WhiteStation,
    ToneStation,
    ColourStation,
    ProofStation,
    HandOverStation,
)
