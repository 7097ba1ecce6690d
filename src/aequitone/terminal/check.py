"""What an instrument is, how fast, how noisy, and where it breaks the bench protocol."""

import time
from collections.abc import Callable

import numpy as np

from aequitone.instruments.bridges import bridge_kind
from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineMeter, LineScreen, LineSource
from aequitone.instruments.opening import introduced, opened_meter
from aequitone.instruments.ports import Meter
from aequitone.instruments.reliable import implausible
from aequitone.signal import SignalFormat, grey_patch

Say = Callable[[str], None]
_READINGS, _SECONDS = 8, 0.5
_PATCH = grey_patch(75.0, SignalFormat(8))
# How an instrument says that nothing is shown yet (docs/bench-protocol.md, error -230).
_STALE = "Data corrupt or stale"
# So many times what its data sheet promises is more than chance makes of eight readings.
_NOISY = 2.0


def check_instrument(address: str, say: Say) -> int:
    """Say what is found at an address; returns the number of faults. InstrumentError where nothing answers."""
    found = introduced(address)
    name = f"{found.name} {found.serial}".strip()
    say(f"{name}, a {found.kind.lower()}. {found.told}")
    if bridge_kind(address):
        return _of_meter(opened_meter(address).device, say) if found.kind == "METER" else 0
    line = Line(address, found.kind)
    try:
        faults = _of_protocol(line, say)
        match found.kind:
            case "METER":
                faults += _of_meter(LineMeter(line), say)
            case "SOURCE":
                faults += _of_source(LineSource(line), say)
            case "SCREEN":
                faults += _of_screen(LineScreen(line), say)
    finally:
        line.close()
    say("No fault was found." if not faults else f"{faults} fault{'s' if faults > 1 else ''}.")
    return faults


def _of_protocol(line: Line, say: Say) -> int:
    """What every instrument must do: answer in time, and keep an unknown command in its queue of errors."""
    faults = 0
    began = time.monotonic()
    for _ in range(_READINGS):
        line.ask("*IDN?")
    say(f"A question and its answer take {(time.monotonic() - began) / _READINGS * 1000.0:.0f} ms.")
    try:
        line.tell("NONE:SUCH")
        say("Fault: a command that there is not leaves no error in the queue.")
        faults += 1
    except InstrumentError:
        pass
    if not line.ask("SYST:ERR?").startswith("0"):
        say("Fault: the queue of errors is not empty once its error was told.")
        faults += 1
    return faults


def _of_meter(meter: Meter, say: Say) -> int:
    """How long it takes, and how far its readings scatter against what it promises."""
    told, took, faults = [], [], 0
    for _ in range(_READINGS):
        began = time.monotonic()
        try:
            seen = meter.measure(_PATCH, _SECONDS)
        except InstrumentError as error:
            if _STALE in error.what:
                say("There is nothing to look at yet: show a picture, and check once more.")
                return faults
            say(f"Fault: {error.what}.")
            return faults + 1
        took.append(time.monotonic() - began)
        wrong = implausible(seen, meter.noise, _SECONDS)
        if wrong is not None:
            say(f"Fault: {wrong}.")
            return faults + 1
        told.append(seen.xyz)
    light, scatter = float(np.mean(told, axis=0)[1]), float(np.std(told, axis=0, ddof=1)[1])
    promised = float(meter.noise.sd(np.mean(told, axis=0), _SECONDS)[1])
    say(f"A reading of {_SECONDS:g} s takes {np.median(took):.2f} s.")
    share = f" ({scatter / light * 100.0:.2f} %)" if light > 0.0 else ""
    say(f"It reads {light:.4g} cd/m², scattering by {scatter:.2g}{share}; its data sheet promises {promised:.2g}.")
    if scatter > _NOISY * promised and scatter > 1e-4 * max(light, 1e-6):
        say("Fault: it scatters more than it promises, or the light is not steady.")
        faults += 1
    return faults


def _of_source(source: LineSource, say: Say) -> int:
    """Whether it shows what it is asked for and says so, in every depth that it names."""
    faults = 0
    for depth in source.depths:
        patch = grey_patch(50.0, SignalFormat(depth))
        began = time.monotonic()
        source.show(patch)
        say(f"A patch of {depth} bit is sent in {time.monotonic() - began:.2f} s.")
        if not source.shows(patch):
            say(f"Fault: PATTern:CURRent? does not tell the patch of {depth} bit that was shown.")
            faults += 1
    return faults


def _of_screen(screen: LineScreen, say: Say) -> int:
    """Whether its list of settings is that of its menu, within its own limits. Nothing is turned."""
    menu, values = screen.menu(), screen.values()
    faults = 0
    for control in menu:
        value = values.get(control.role)
        if value is None or not control.lowest <= value <= control.highest:
            limits = f"its menu goes from {control.lowest} to {control.highest}"
            say(f"Fault: {control.name} stands at {value}, {limits}.")
            faults += 1
    for role in sorted(values.keys() - {control.role for control in menu}):
        say(f"Fault: CONTrol:ALL? tells of “{role}”, which its menu has not.")
        faults += 1
    return faults
