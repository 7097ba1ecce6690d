"""Fuzzed scenarios, and fuzzed lines both ways: what a program says to an instrument, and what it is answered.

Used by benchmarks/attack.py. Anything but a sentence, or an answer of the protocol, is a fault.
"""

import random
import re
import time
from collections import Counter
from unittest.mock import patch

from aequitone.errors import AequitoneError
from aequitone.instruments import line as line_module
from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineMeter, LineScreen, LineSource
from aequitone.signal import SignalFormat, grey_patch
from aequitone.standins.bench import build_bench
from aequitone.standins.scenario import load_scenario, parse_scenario
from aequitone.standins.service.scpi import ScpiError
from aequitone.standins.service.served import Failing, served_meter, served_screen, served_source
from aequitone.standins.service.server import Messages
from aequitone.standins.shipped import shipped_text

_PIECES = [
    "nan",
    "inf",
    "1e999",
    "-1",
    "9" * 5001,
    '"',
    '""',
    "#",
    "#10",
    "#9999999999",
    ";",
    ",",
    ":",
    "?",
    " ",
    "\r",
    "\x00",
    "é",
    "1e-400",
    "[",
    "]",
    "{",
    "}",
    "=",
    "true",
    "''",
    "'''",
    "\n",
    "0x",
    "1_0",
    "*",
    "GAMMA",
    "-0",
]
_SAID = [
    "*IDN?",
    "*RST",
    "*CLS",
    "*OPC?",
    "SYST:ERR?",
    "SYST:KIND?",
    "MEAS:XYZ? 1,0.5",
    "SENS:NOIS?",
    "SENS:LIM?",
    "SENS:SYNC 59.94",
    'SENS:MODE "plasma"',
    "PATT:SHOW? 2,10,LIMITED,GAMMA,REC709,0.1,502,502,502",
    "PATT:CURR?",
    "CONT:COUN?",
    "CONT:DESC? 3",
    "CONT:ALL?",
    'CONT:SET? 4,"gain-r",47,"gain-b",1000000',
    'MEM:SEL "HDMI 1","Day"',
    "TABL:ONED:LOAD #14abcd",
    "TABL:THRE:CLE",
]
_ANSWERED = {
    "*IDN?": "Maker,Model,Serial,1",
    "SYST:PROT?": "1",
    "SYST:ERR?": '0,"No error"',
    "SENS:NOIS?": "0.01,0.002,0",
    "SENS:LIM?": "0.003,2000,0.1,20",
    "SENS:MODE:CAT?": '"led-lcd","plasma"',
    "SENS:MODE?": '"plasma"',
    "SENS:REFR?": "59.94",
    "PATT:SETT?": "0.5",
    "PATT:DEPT:CAT?": "8,10",
    "PATT:CURR?": "8,LIMITED,GAMMA,REC709,0.1,126,126,126",
    "CONT:COUN?": "2",
    "CONT:ALL?": '"gain-r",47,"gain-b",3',
    "CONT:DESC?": '"gain-r","Red",0,100,1,50,"Low|High"',
    "TABL:ONED:SIZE?": "0",
    "TABL:THRE:SIZE?": "17",
}
_PATCH = grey_patch(50.0, SignalFormat(8))
SLOW_SECONDS = 1.0


def spoilt(text: str, rng: random.Random) -> str:
    """A text with a few things put in, taken out or doubled."""
    for _ in range(rng.randint(1, 3)):
        at = rng.randrange(len(text) + 1)
        to = min(len(text), at + rng.randint(0, 8))
        text = text[:at] + rng.choice((rng.choice(_PIECES), "", text[at:to] * 2)) + text[to:]
    return text


def scenarios(count: int, rng: random.Random) -> Counter[str]:
    """Fuzzed scenarios; those that are taken must make a bench that can be turned and looked at."""
    told: Counter[str] = Counter()
    texts = [shipped_text(name) for name in ("demo", "white-oled", "plasma", "laser-projector")]
    for _ in range(count):
        lines = rng.choice(texts).split("\n")
        # One line is spoilt: spoilt anywhere, nearly every text would be no TOML.
        at = rng.randrange(len(lines))
        lines[at] = (
            spoilt(lines[at], rng) if rng.random() < 0.5 else re.sub(r"\d+(\.\d+)?", _figure(rng), lines[at])
        )
        text = "\n".join(lines)
        began = time.monotonic()
        try:
            bench = build_bench(parse_scenario(text, "fuzzed"), 1)
            bench.link.turn({control.role: control.highest for control in bench.screen.controls()})
            bench.source.show(_PATCH)
            bench.meter.measure(_PATCH, 0.5)
            told["taken"] += 1
        except AequitoneError:
            told["refused with a sentence"] += 1
        except Exception as error:
            told[f"FAULT {type(error).__name__}: {error} in {lines[at]!r}"[:300]] += 1
        if time.monotonic() - began > SLOW_SECONDS:
            told[f"FAULT slow: {lines[at]!r}"[:200]] += 1
    return told


def _figure(rng: random.Random) -> str:
    return rng.choice(["0", "-1", "1e308", "1e-308", "nan", "inf", "100000", "0.0001", "7", "2.5", "9" * 40])


def said(count: int, rng: random.Random) -> Counter[str]:
    """Fuzzed messages to the three stand-ins, as a stream."""
    told: Counter[str] = Counter()
    bench = build_bench(load_scenario("demo"), 1)
    instruments = [served_meter(bench), served_source(bench), served_screen(bench)]
    streams = [Messages() for _ in instruments]
    for _ in range(count):
        which = rng.randrange(3)
        message = spoilt(rng.choice(_SAID), rng).encode("utf-8", "surrogatepass") + b"\n"
        began = time.monotonic()
        try:
            for whole in streams[which].feed(message):
                instruments[which].carry_out(whole)
            told["carried out or refused by the queue"] += 1
        except ScpiError:
            told["refused as a stream"] += 1
        except Failing:
            told["failed as the scenario wants"] += 1
        except Exception as error:
            told[f"FAULT {type(error).__name__}: {error} on {message!r}"[:300]] += 1
        if time.monotonic() - began > SLOW_SECONDS:
            told[f"FAULT slow: {message!r}"[:200]] += 1
    return told


class _Fuzzed:
    """A channel whose answers are spoilt now and then."""

    def __init__(self, kind: str, rng: random.Random) -> None:
        self._kind, self._rng, self._answers = kind, rng, list[str]()

    def write(self, data: bytes, until: float) -> None:
        header, _, rest = data.decode().strip().partition(" ")
        if header == "SYST:KIND?":
            answer = self._kind
        elif header in ("MEAS:XYZ?", "PATT:SHOW?", "CONT:SET?"):
            answer = rest.split(",")[0] + (",95.0,100.0,108.9" if header == "MEAS:XYZ?" else "")
        else:
            answer = _ANSWERED.get(header, "")
        if header.endswith("?"):
            self._answers.append(spoilt(answer, self._rng) if self._rng.random() < 0.4 else answer)

    def read_line(self, until: float) -> bytes:
        if not self._answers:
            raise TimeoutError("nothing was asked")
        return self._answers.pop(0).encode("utf-8", "surrogatepass")

    def close(self) -> None:
        self._answers.clear()


def answered(count: int, rng: random.Random) -> Counter[str]:
    """Fuzzed answers to our drivers."""
    told: Counter[str] = Counter()
    kinds: dict[str, type[LineMeter] | type[LineSource] | type[LineScreen]] = {
        "METER": LineMeter,
        "SOURCE": LineSource,
        "SCREEN": LineScreen,
    }
    for _ in range(count):
        kind = rng.choice(list(kinds))
        with patch.object(line_module, "open_channel", lambda *_, kind=kind: _Fuzzed(kind, rng)):
            try:
                device = kinds[kind](Line("fuzzed", kind))
                _used(device)
                told["taken"] += 1
            except AequitoneError:
                told["refused with a sentence"] += 1
            except Exception as error:
                told[f"FAULT {type(error).__name__}: {error}"[:300]] += 1
    return told


def _used(device: LineMeter | LineSource | LineScreen) -> None:
    match device:
        case LineMeter():
            device.measure(_PATCH, 0.5)
            device.modes()
            device.mode()
            device.measure_refresh()
        case LineSource():
            device.show(_PATCH)
            device.shows(_PATCH)
        case LineScreen():
            device.menu()
            device.values()
            device.turn({"gain-r": 3})
            device.table_sizes()
