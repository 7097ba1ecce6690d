"""Every exchange has a deadline for all of it and a bound on its length, and can be ended from another thread."""

import socket
import threading
import time
import tracemalloc
from collections.abc import Callable, Iterator

import pytest

from aequitone.instruments import InstrumentError
from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineMeter, LineScreen, LineSource

from .little_bench import LittleBench, LittleInstrument

QUICK = 0.2
HALF_A_SECOND = 0.5


@pytest.fixture
def little() -> Iterator[LittleBench]:
    with LittleBench() as bench:
        yield bench


def timed(work: Callable[[], object]) -> float:
    began = time.monotonic()
    work()
    return time.monotonic() - began


def wired(little: LittleInstrument, send: Callable[[socket.socket], None]) -> None:
    """Let the next answer go over the wire in a way of its own."""

    def mishap(connection: socket.socket, answer: str) -> bool:
        little._mishap = usual  # type: ignore[method-assign]
        send(connection)
        return True

    usual = little._mishap
    little._mishap = mishap  # type: ignore[method-assign]


def test_a_byte_now_and_then_does_not_hold_up_an_answer(little: LittleBench) -> None:
    line = Line(little.meter.address, "METER", patience=QUICK)
    line.identity()

    def drip(connection: socket.socket) -> None:
        for _ in range(40):
            connection.sendall(b"1")
            time.sleep(0.05)

    wired(little.meter, drip)

    def asked() -> None:
        with pytest.raises(InstrumentError, match=r"did not answer within 0\.4 s"):
            line.ask("SENS:NOIS?", 2.0)

    assert timed(asked) < 0.4 + HALF_A_SECOND


def test_an_answer_without_an_end_is_given_up_early_and_is_not_kept(little: LittleBench) -> None:
    line = Line(little.meter.address, "METER")
    line.identity()

    def babble(connection: socket.socket) -> None:
        for _ in range(2_000):
            connection.sendall(b"9" * 65_536)

    wired(little.meter, babble)
    tracemalloc.start()
    with pytest.raises(InstrumentError, match="its answer had no end"):
        line.ask("SENS:NOIS?", 5.0)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert peak < 4_000_000
    assert line.ask("SENS:NOIS?") == "1E-2,2.0e-3,0"


def test_a_table_is_not_sent_for_ever_to_one_that_does_not_read() -> None:
    listener = socket.create_server(("127.0.0.1", 0))

    def deaf() -> None:
        connection, _ = listener.accept()
        for answer in (b"A,B,C,D\n", b"SCREEN\n", b"1\n"):
            connection.recv(4096)
            connection.sendall(answer)
        time.sleep(3.0)
        connection.close()

    threading.Thread(target=deaf, daemon=True).start()
    line = Line(f"TCPIP::127.0.0.1::{listener.getsockname()[1]}::SOCKET", "SCREEN", patience=QUICK)

    def told() -> None:
        with pytest.raises(InstrumentError, match="did not answer within"):
            line.tell("TABL:ONED:LOAD", bytes(8_000_000)[: 8_000 * 2])
            line.tell("TABL:THRE:LOAD", bytes(8_000_000)[:16_000])

    assert timed(told) < 3.0
    line.close()
    listener.close()


def test_hanging_up_wakes_whoever_waits_and_is_for_good(little: LittleBench) -> None:
    line = Line(little.meter.address, "METER")
    line.identity()
    little.meter.mishaps.append("silent")
    said: list[str] = []

    def asking() -> None:
        try:
            line.ask("SENS:NOIS?", 30.0)
        except InstrumentError as error:
            said.append(error.what)

    thread = threading.Thread(target=asking)
    thread.start()
    time.sleep(0.1)
    assert timed(line.hang_up) < HALF_A_SECOND
    thread.join(HALF_A_SECOND)
    assert said == ["the connection was lost"]
    with pytest.raises(InstrumentError, match="ended with the program"):
        line.ask("SENS:NOIS?")


@pytest.mark.parametrize(
    ("header", "answer", "sentence"),
    [
        ("SENS:NOIS?", "nan,0.002,0", "nan is not between"),
        ("SENS:NOIS?", "0.01,-1,0", "-1 is not between"),
        ("SENS:NOIS?", "0.01,inf,0", "inf is not between"),
        ("SENS:LIM?", "0.001,3000,0.1,1e9", "is not between"),
        ("SENS:LIM?", "0.001,3000,10,0.1", "its limits begin beyond where they end"),
        ("SENS:LIM?", "5000,3000,0.1,10", "its limits begin beyond where they end"),
    ],
)
def test_figures_that_no_meter_has_are_refused(
    little: LittleBench, header: str, answer: str, sentence: str
) -> None:
    little.meter.answers[header] = lambda _: answer
    with pytest.raises(InstrumentError, match=sentence):
        LineMeter(Line(little.meter.address, "METER", patience=QUICK))


@pytest.mark.parametrize(
    ("header", "answer"),
    [("PATT:SETT?", "1e9"), ("PATT:SETT?", "-1"), ("PATT:DEPT:CAT?", "7,x"), ("PATT:DEPT:CAT?", "")],
)
def test_figures_that_no_source_has_are_refused(little: LittleBench, header: str, answer: str) -> None:
    little.source.answers[header] = lambda _: answer
    with pytest.raises(InstrumentError):
        LineSource(Line(little.source.address, "SOURCE", patience=QUICK))


@pytest.mark.parametrize(
    ("header", "answer"),
    [
        ("CONT:COUN?", "1e12"),
        ("CONT:DESC?", '"gain-r","Red",100,0,1,50,""'),
        ("CONT:DESC?", '"gain-r","Red",0,100,0,50,""'),
        ("CONT:DESC?", '"gain-r","Red",0,100,1,500,""'),
        ("CONT:DESC?", '"gain-r","Red",0,99999999999,1,50,""'),
    ],
)
def test_a_menu_that_cannot_be_is_refused(little: LittleBench, header: str, answer: str) -> None:
    little.screen.answers[header] = lambda _: answer
    screen = LineScreen(Line(little.screen.address, "SCREEN", patience=QUICK))
    with pytest.raises(InstrumentError):
        screen.menu()
