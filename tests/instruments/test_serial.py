"""The same drivers over a serial line: a pseudo-terminal stands for the cable."""

import os
import threading
import tty
from collections.abc import Iterator

import pytest

from aequitone.instruments import InstrumentError
from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineMeter
from aequitone.signal import SignalFormat, grey_patch

from .little_bench import LittleBench

PATCH = grey_patch(50.0, SignalFormat(10))


@pytest.fixture
def cable() -> Iterator[tuple[LittleBench, str]]:
    """A little bench whose meter answers at the far end of a pseudo-terminal."""
    try:
        ours, theirs = os.openpty()
    except OSError:
        pytest.skip("this machine has no pseudo-terminals (no /dev/pts)")
    tty.setraw(theirs)
    with LittleBench() as little:

        def serve() -> None:
            kept = b""
            while True:
                try:
                    kept += os.read(ours, 4096)
                except OSError:
                    return
                while b"\n" in kept:
                    line, kept = kept.split(b"\n", 1)
                    answer = little.meter._answer(line.decode().strip())
                    if answer is not None and not (little.meter.mishaps and little.meter.mishaps.pop(0)):
                        os.write(ours, answer.encode() + b"\n")

        threading.Thread(target=serve, daemon=True).start()
        yield little, f"ASRL{os.ttyname(theirs)}::INSTR"
        os.close(theirs)
        os.close(ours)


def test_a_meter_on_a_serial_line_is_read(cable: tuple[LittleBench, str]) -> None:
    little, address = cable
    little.shown = ["10", "LIMITED", "GAMMA", "REC709", "0.1", "502", "502", "502"]
    meter = LineMeter(Line(address, "METER", patience=0.2))
    first = meter.measure(PATCH, 0.5)
    assert pytest.approx(little.light(502, 10, "LIMITED"), rel=1e-5) == first.Y
    little.meter.mishaps.append("silent")
    with pytest.raises(InstrumentError, match="did not answer within"):
        meter.measure(PATCH, 0.5)
    assert meter.measure(PATCH, 0.5) == first
    meter.line.close()
