"""Instruments by the address that a person types: on a line, a program, or a bridge to one."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, TypeVar

from aequitone.instruments.bridges import BridgeMeter, BridgeSource, bridge_kind
from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineMeter, LineScreen, LineSource
from aequitone.signal import SignalFormat, grey_patch

D = TypeVar("D")
EXAMPLES = (
    "TCPIP::127.0.0.1::5025::SOCKET",
    "ASRL/dev/ttyUSB0::INSTR",
    "EXEC::command that speaks the bench protocol",
    "READ::command that prints X Y Z",
    "SHOW::command {r} {g} {b}",
)


@dataclass(frozen=True)
class Introduction:
    """Who answers at an address, and what it can do in a sentence."""

    kind: str
    """METER, SOURCE or SCREEN."""
    name: str
    serial: str
    told: str


def introduced(address: str) -> Introduction:
    """Ask a fresh instrument who it is and for the least that it must answer. Raises InstrumentError."""
    match bridge_kind(address):
        case "METER":
            meter = BridgeMeter(address)
            seen = meter.measure(grey_patch(100.0, SignalFormat(8)), 1.0)
            return Introduction("METER", meter.name, "", f"It reads {seen.Y:.4g} cd/m².")
        case "SOURCE":
            source = BridgeSource(address)
            source.show(grey_patch(50.0, SignalFormat(8)))
            return Introduction("SOURCE", source.name, "", "It was run for a grey of 50 %.")
    line = Line(address, None)
    try:
        identity = line.identity()
        return Introduction(identity.kind, identity.name, identity.serial, _told(line, identity.kind))
    finally:
        line.close()


def _told(line: Line, kind: str) -> str:
    match kind:
        case "METER":
            meter = LineMeter(line)
            return f"It integrates from {meter.limits.shortest:g} to {meter.limits.longest:g} s."
        case "SOURCE":
            source = LineSource(line)
            return f"It sends {' or '.join(map(str, source.depths))} bit."
        case "SCREEN":
            return f"Its menu has {len(LineScreen(line).menu())} controls."
    raise InstrumentError(line.name, f"it is a {kind}, which is no instrument of a bench")


@dataclass(frozen=True)
class Opened(Generic[D]):
    """An instrument that was opened by its address."""

    device: D
    name: str
    serial: str
    hang_up: Callable[[], None]


def opened_meter(address: str) -> Opened[LineMeter | BridgeMeter]:
    """The meter at an address. Raises InstrumentError."""
    if bridge_kind(address) == "METER":
        bridge = BridgeMeter(address)
        return Opened(bridge, bridge.name, "", bridge.hang_up)
    meter = LineMeter(Line(address, "METER"))
    return Opened(meter, meter.identity.name, meter.identity.serial, meter.line.hang_up)


def opened_source(address: str) -> Opened[LineSource | BridgeSource]:
    """The pattern source at an address. Raises InstrumentError."""
    if bridge_kind(address) == "SOURCE":
        bridge = BridgeSource(address)
        return Opened(bridge, bridge.name, "", bridge.hang_up)
    source = LineSource(Line(address, "SOURCE"))
    return Opened(source, source.identity.name, source.identity.serial, source.line.hang_up)


def opened_screen(address: str) -> Opened[LineScreen]:
    """The screen at an address. Raises InstrumentError."""
    screen = LineScreen(Line(address, "SCREEN"))
    return Opened(screen, screen.identity.name, screen.identity.serial, screen.line.hang_up)
