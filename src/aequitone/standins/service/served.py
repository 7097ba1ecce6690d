"""The three stand-ins as instruments of the bench protocol: which command does what."""

import threading
from collections.abc import Callable

import numpy as np

from aequitone.advice.technology import TECHNOLOGIES, Technology
from aequitone.colorimetry.arrays import Array
from aequitone.instruments.errors import InstrumentError
from aequitone.instruments.line_devices import MASTERING, described_mastering
from aequitone.signal import DEPTHS, Container, MasteringLight, Patch, Range, Shape, SignalFormat, Transfer
from aequitone.signal.mastering import LEAST, MOST
from aequitone.standins.bench import StandInBench
from aequitone.standins.devices import Fault
from aequitone.standins.service.scpi import Arguments, Interpreter, ScpiError, quoted

PROTOCOL = "2"
MOST_TAG = 999_999
SHORTEST, LONGEST = 0.02, 30.0
BRIGHTEST = 10_000.0
VERSION = "1.0"


class Failing(Exception):  # noqa: N818 - an order to the server
    """The answer that is due goes wrong on the wire in this way."""

    def __init__(self, fault: Fault) -> None:
        super().__init__(fault.value)
        self.fault = fault


class Served:
    """One instrument; connections of any number share it, one message at a time."""

    def __init__(self, kind: str, name: str, serial: str, reset: Callable[[], None]) -> None:
        self.kind, self._lock = kind, threading.Lock()
        self.commands = Interpreter()
        add = self.commands.add
        add("*IDN?", _answer(f"Aequitone,{name.replace(',', ' ')},{serial},{VERSION}"))
        add("*OPC?", _answer("1"))
        add("SYSTem:KIND?", _answer(kind))
        add("SYSTem:PROTocol?", _answer(PROTOCOL))
        add("*RST", _do(reset))

    def carry_out(self, message: bytes) -> str | None:
        """The answer to a message. Raises Failing where the scenario wants it to go wrong."""
        with self._lock:
            try:
                return self.commands.carry_out(message)
            except InstrumentError as error:
                self.commands.queue(str(ScpiError(-240, error.what)))
                return None


def served_meter(bench: StandInBench) -> Served:
    """The stand-in meter."""
    meter, part, clock = bench.meter, bench.scenario.meter, bench.clock
    exact = part.kind == "spectroradiometer"
    modes = ("any",) if exact else TECHNOLOGIES

    def measure(arguments: Arguments) -> str:
        seconds = arguments.number(SHORTEST, LONGEST)
        arguments.end()
        if bench.screen.picture is None:
            raise ScpiError(-230, "no picture yet")
        light = meter.integrate(seconds)
        fault = meter.fault()
        if fault is not None:
            raise Failing(fault)
        seen = meter.told(light, seconds)
        return f",{seen.X:.9g},{seen.Y:.9g},{seen.Z:.9g}"

    def choose(arguments: Arguments) -> None:
        technology = arguments.text()
        arguments.end()
        if technology not in modes:
            raise ScpiError(-224, technology)
        if not exact:
            meter.sensor.choose(Technology(technology))

    def refresh(arguments: Arguments) -> str:
        arguments.end()
        clock.sleep(1.0)
        flicker = bench.screen.part.flicker
        return f"{flicker.hz if flicker.depth else 0:g}"

    def synchronise(arguments: Arguments) -> None:
        hz = arguments.number(0.0, 1000.0)
        arguments.end()
        meter.synchronise(hz or None)

    noise = meter.noise
    limits = f"{part.darkest_cd_m2:g},{BRIGHTEST:g},{SHORTEST:g},{LONGEST:g}"
    served = Served("METER", part.name, part.serial, lambda: meter.sensor.choose(meter.sensor.first_technology))
    add = served.commands.add
    add("MEASure:XYZ?", _tagged(served, measure))
    add("SENSe:NOISe?", _answer(f"{noise.shot:.9g},{noise.floor:.9g},{noise.read:.9g}"))
    add("SENSe:LIMits?", _answer(limits))
    add("SENSe:MODE:CATalog?", _answer(",".join(quoted(mode) for mode in modes)))
    add("SENSe:MODE", choose)
    add("SENSe:MODE?", _ask(lambda: quoted("any" if exact else meter.sensor.technology)))
    add("SENSe:REFResh?", refresh)
    add("SENSe:SYNC", synchronise)
    add("SENSe:SYNC?", _ask(lambda: f"{meter.synchronised_hz or 0:g}"))
    return served


def served_source(bench: StandInBench) -> Served:
    """The stand-in pattern source."""
    source, part = bench.source, bench.scenario.source

    def show(arguments: Arguments) -> str:
        depth = arguments.whole(8, 12)
        if depth not in DEPTHS:
            raise ScpiError(-222, f"{depth} bit")
        range_ = Range(arguments.word(*Range))
        transfer, container = Transfer(arguments.word(*Transfer)), Container(arguments.word(*Container))
        window = arguments.number(1e-4, 1.0)
        r, g, b = (arguments.whole(0, 2**depth - 1) for _ in range(3))
        shape, mastering = Shape.WINDOW, None
        if len(arguments):
            word = arguments.word(*Shape, MASTERING)
            if word != MASTERING:
                shape = Shape(word)
            if word == MASTERING or (len(arguments) and arguments.word(MASTERING)):
                mastering = _mastering(arguments)
        arguments.end()
        fault = source.fault()
        if fault is not None:
            raise Failing(fault)
        source.send(
            Patch("", 0.0, (r, g, b), SignalFormat(depth, range_, window, transfer, container, mastering), shape)
        )
        return ""

    def current(arguments: Arguments) -> str:
        arguments.end()
        patch = source.shown
        if patch is None:
            return "NONE"
        sent = patch.format
        words = ",".join(word.value.upper() for word in (sent.range, sent.transfer, sent.container))
        shape = "" if patch.shape is Shape.WINDOW else f",{patch.shape.value.upper()}"
        named = described_mastering(sent.mastering)
        return f"{sent.depth},{words},{sent.window:.9g},{','.join(map(str, patch.codes))}{shape}{named}"

    served = Served("SOURCE", part.name, part.serial, source.forget)
    add = served.commands.add
    add("PATTern:SHOW?", _tagged(served, show))
    add("PATTern:CURRent?", current)
    add("PATTern:SETTle?", _answer(f"{part.settle_seconds:.9g}"))
    add("PATTern:DEPTh:CATalog?", _answer(",".join(map(str, DEPTHS))))
    return served


def _mastering(arguments: Arguments) -> MasteringLight:
    peak, black = arguments.number(LEAST, MOST), arguments.number(0.0, MOST)
    pixel, frame = (arguments.whole(0, int(MOST)) for _ in range(2))
    try:
        return MasteringLight(peak, black, pixel, frame)
    except ValueError as error:
        raise ScpiError(-222, str(error)) from error


def served_screen(bench: StandInBench) -> Served:
    """The stand-in screen's link."""
    screen, link = bench.screen, bench.link
    menu = screen.controls()
    roles = {control.role for control in menu}

    def describe(arguments: Arguments) -> str:
        control = menu[arguments.whole(0, len(menu) - 1)]
        arguments.end()
        figures = f"{control.lowest},{control.highest},{control.step},{control.factory}"
        return f"{quoted(control.role)},{quoted(control.name)},{figures},{quoted('|'.join(control.choices))}"

    def set_(arguments: Arguments) -> str:
        settings = {}
        while len(arguments):
            role = arguments.text()
            if role not in roles:
                raise ScpiError(-224, role)
            settings[role] = arguments.whole(-1_000_000, 1_000_000)
        if not settings:
            raise ScpiError(-109, "a role and a value")
        link.turn(settings)
        return ""

    def select(arguments: Arguments) -> None:
        input_, memory = arguments.text(), arguments.text()
        arguments.end()
        screen.choose_memory(input_, memory)

    served = Served("SCREEN", screen.part.name, "0001", screen.switch_on)
    add = served.commands.add
    add("CONTrol:COUNt?", _answer(str(len(menu))))
    add("CONTrol:DESCribe?", describe)
    add("CONTrol:ALL?", _ask(lambda: ",".join(f"{quoted(r)},{v}" for r, v in screen.settings().items())))
    add("CONTrol:SET?", _tagged(served, set_))
    add("MEMory:SELect", select)
    add("MEMory:SELect?", _ask(lambda: ",".join(map(quoted, screen.memory))))
    tables = screen.path.tables
    _add_table(served, "ONED", tables.size_1d, (tables.size_1d, 3), screen.load_1d)
    _add_table(served, "THREed", tables.size_3d, (*[tables.size_3d] * 3, 3), screen.load_3d)
    return served


def _add_table(
    served: Served, node: str, size: int, shape: tuple[int, ...], load: Callable[[Array | None], None]
) -> None:
    def take(arguments: Arguments) -> None:
        block = arguments.block()
        arguments.end()
        if len(block) != 4 * int(np.prod(shape)) or not size:
            raise ScpiError(-161, f"{len(block)} bytes")
        try:
            load(np.frombuffer(block, dtype="<f4").astype(np.float64).reshape(shape))
        except ValueError as error:
            raise ScpiError(-161, str(error)) from error

    served.commands.add(f"TABLe:{node}:SIZE?", _answer(str(size)))
    served.commands.add(f"TABLe:{node}:LOAD", take)
    served.commands.add(f"TABLe:{node}:CLEar", _do(lambda: load(None)))


def _tagged(served: Served, handler: Callable[[Arguments], str]) -> Callable[[Arguments], str]:
    """A query that begins with a tag; it is answered even when it fails, so that nobody waits in vain."""

    def answer(arguments: Arguments) -> str:
        tag = arguments.whole(0, MOST_TAG)
        try:
            return f"{tag}{handler(arguments)}"
        except ScpiError as error:
            served.commands.queue(str(error))
            return f"{tag},ERROR"

    return answer


def _answer(words: str) -> Callable[[Arguments], str]:
    return _ask(lambda: words)


def _ask(what: Callable[[], str]) -> Callable[[Arguments], str]:
    def handler(arguments: Arguments) -> str:
        arguments.end()
        return what()

    return handler


def _do(what: Callable[[], None]) -> Callable[[Arguments], None]:
    def handler(arguments: Arguments) -> None:
        arguments.end()
        what()

    return handler
