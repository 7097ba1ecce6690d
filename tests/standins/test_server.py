"""The stand-ins on sockets, spoken to by a program that knows only docs/bench-protocol.md."""

import contextlib
import itertools
import re
import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aequitone.instruments import InstrumentError
from aequitone.instruments.line import Line
from aequitone.instruments.line_devices import LineScreen
from aequitone.signal import SignalFormat, grey_patch
from aequitone.standins.bench import StandInBench, build_bench
from aequitone.standins.scenario import load_scenario
from aequitone.standins.service.scpi import Arguments, Interpreter, ScpiError, Text, parse
from aequitone.standins.service.server import BenchServer, Messages

from .plain_client import PlainClient

DOCUMENT = Path(__file__).parents[2] / "docs" / "bench-protocol.md"
GREY = "10,LIMITED,GAMMA,REC709,0.1,502,502,502"


@pytest.fixture
def standins() -> StandInBench:
    scenario = load_scenario("demo")
    screen = scenario.screen.model_copy(update={"table_1d_size": 2, "table_3d_size": 2})
    return build_bench(scenario.model_copy(update={"screen": screen}), 0)


@pytest.fixture
def clients(standins: StandInBench) -> Iterator[tuple[PlainClient, PlainClient, PlainClient]]:
    with BenchServer(standins) as server:
        meter, source, screen = (PlainClient(address) for address in server.addresses)
        yield meter, source, screen
        for client in (meter, source, screen):
            client.close()


Clients = tuple[PlainClient, PlainClient, PlainClient]


def test_who_they_are(clients: Clients) -> None:
    for client, kind in zip(clients, ("METER", "SOURCE", "SCREEN"), strict=True):
        identity, told, protocol = client.ask("*IDN?;SYSTem:KIND?;syst:prot?").split(";")
        assert len(identity.split(",")) == 4
        assert (told, protocol) == (kind, "2")
        assert client.ask("*OPC?") == "1"


def test_a_patch_is_shown_and_read(clients: Clients, standins: StandInBench) -> None:
    meter, source, _ = clients
    assert source.ask("PATT:CURR?") == "NONE"
    assert meter.ask("MEAS:XYZ? 3,0.5") == "3,ERROR"
    assert meter.error().startswith("-230,")
    assert source.ask(f"PATT:SHOW? 7,{GREY}") == "7"
    assert source.ask("PATTern:CURRent?") == GREY
    tag, *xyz = meter.ask("MEASure:XYZ? 41,4").split(",")
    assert tag == "41"
    true = standins.meter.sensor.seen(standins.screen.light_now())
    assert [float(value) for value in xyz] == pytest.approx(true, rel=0.02)


def test_controls_tables_and_memories(clients: Clients, standins: StandInBench) -> None:
    meter, source, screen = clients
    count = int(screen.ask("CONT:COUN?"))
    menu = [screen.ask(f"CONT:DESC? {i}") for i in range(count)]
    assert '"gain-r","R gain",0,100,1,50,""' in menu
    assert screen.ask('CONT:SET? 12,"gain-r",47,"gain-b",300') == "12"
    assert '"gain-r",47' in screen.ask("CONT:ALL?")
    assert '"gain-b",100' in screen.ask("CONT:ALL?")
    source.ask(f"PATT:SHOW? 1,{GREY}")
    before = float(meter.ask("MEAS:XYZ? 1,4").split(",")[2])
    screen.load("TABL:ONED:LOAD", [0, 0, 0, 0.5, 0.5, 0.5])
    assert screen.error() == '0,"No error"'
    assert float(meter.ask("MEAS:XYZ? 2,4").split(",")[2]) < 0.4 * before
    screen.send("TABL:ONED:CLE")
    screen.load("TABL:THRE:LOAD", [c for r in (0, 1) for g in (0, 1) for b in (0, 1) for c in (r, g, b)])
    assert screen.error() == '0,"No error"'
    assert float(meter.ask("MEAS:XYZ? 3,4").split(",")[2]) == pytest.approx(before, rel=0.02)
    screen.load("TABL:THRE:LOAD", [0.0] * 23)
    assert screen.error().startswith("-161,")
    screen.send('MEM:SEL "HDMI 9","Day, \\"bright\\""'.replace('\\"', '""'))
    assert screen.ask("MEM:SEL?") == '"HDMI 9","Day, ""bright"""'
    assert '"gain-r",50' in screen.ask("CONT:ALL?")


def test_the_driver_loads_tables_and_takes_them_out(standins: StandInBench) -> None:
    patch = grey_patch(50.0, SignalFormat(10))
    with BenchServer(standins) as server:
        screen = LineScreen(Line(server.addresses[2], "SCREEN"))
        assert screen.table_sizes() == (2, 2)
        before = standins.screen.steady(patch)[1]
        screen.load_1d(np.array([[0.0] * 3, [0.5] * 3]))
        assert standins.screen.steady(patch)[1] < 0.5 * before
        screen.clear_tables()
        screen.load_3d(np.stack(np.meshgrid([0.0, 1.0], [0.0, 1.0], [0.0, 1.0], indexing="ij"), axis=-1))
        assert standins.screen.steady(patch)[1] == pytest.approx(before, rel=0.01)
        with pytest.raises(InstrumentError, match="it refused TABL:ONED:LOAD: Invalid block data; 12 bytes"):
            screen.load_1d(np.zeros((1, 3)))
        screen.line.close()


@pytest.mark.parametrize(
    ("message", "code"),
    [
        ("NONSENSE", -113),
        ("MEAS:XYZ?", -109),
        ("MEAS:XYZ? 1000000,1", -222),
        ("MEAS:XYZ? 1.5,1", -104),
        ("SENS:MODE led-lcd", -104),
        ('SENS:MODE "cardboard"', -224),
        ('SENS:MODE "led-lcd",2', -108),
        ("SENS:SYNC ,", -102),
        ('SENS:MODE "led', -102),
        ("SENS:SYNC 50 60", -102),
        ("%", -102),
    ],
)
def test_what_is_wrong_has_its_code(clients: Clients, message: str, code: int) -> None:
    meter = clients[0]
    meter.send(message)
    assert meter.error().startswith(f"{code},")
    assert meter.error() == '0,"No error"'


def test_a_tagged_query_that_fails_is_answered_with_its_tag(clients: Clients) -> None:
    meter, source, screen = clients
    assert meter.ask("MEAS:XYZ? 5,1000") == "5,ERROR"
    assert source.ask("PATT:SHOW? 6,9,LIMITED,GAMMA,REC709,0.1,1,1,1") == "6,ERROR"
    assert source.ask("PATT:SHOW? 7,8,LIMITED,GAMMA,REC709,0.1,1,1,256") == "7,ERROR"
    assert screen.ask("CONT:SET? 8") == "8,ERROR"
    assert [client.error().split(",")[0] for client in clients] == ["-222", "-222", "-109"]


def test_metadata_come_with_the_patch_and_are_told_again(clients: Clients) -> None:
    source = clients[1]
    patch = "10,LIMITED,PQ,REC2020,0.1,600,600,600"
    for rest in ("", ",MASTERING,1000,0.0001,1000,400", ",CORNERS", ",CORNERS,MASTERING,4000,0.005,4000,1600"):
        assert source.ask(f"PATT:SHOW? 3,{patch}{rest}") == "3"
        assert source.ask("PATT:CURR?") == f"{patch}{rest}"
    for wrong, code in (
        ("MASTERING,1000,0.0001", -109),
        ("MASTERING,0.1,0,1,1", -222),
        ("MASTERING,1000,1000,1000,400", -222),
        ("MASTERING,1000,0,400,1000", -222),
        ("MASTERING,1000,0,1000.5,400", -104),
        ("MASTERING,1000,0,1000,400,1", -108),
        ("METADATA,1000,0,1000,400", -224),
    ):
        assert source.ask(f"PATT:SHOW? 4,{patch},{wrong}") == "4,ERROR"
        assert source.error().startswith(f"{code},"), wrong
    assert source.ask("PATT:CURR?").endswith("CORNERS,MASTERING,4000,0.005,4000,1600")


def test_the_queue_of_errors_says_when_it_is_full(clients: Clients) -> None:
    meter = clients[0]
    for _ in range(25):
        meter.send("WRONG")
    errors = [meter.error() for _ in range(21)]
    assert errors[18].startswith("-113,")
    assert errors[19].startswith("-350,")
    assert errors[20] == '0,"No error"'


def test_what_was_answered_before_a_failure_is_sent(clients: Clients) -> None:
    assert clients[0].ask("*OPC?;NONSENSE;*OPC?") == "1"
    assert clients[0].error().startswith("-113,")


def test_the_documents_examples_are_true(clients: Clients) -> None:
    """Every exchange of the last chapter, as it is printed there."""
    meter, source, screen = clients
    source.ask("PATT:SHOW? 1,10,LIMITED,GAMMA,REC709,0.1,940,940,940")
    client, checked = meter, 0
    lines = [
        line
        for line in DOCUMENT.read_text("utf-8").split("## Examples")[1].splitlines()
        if line[:2] in ("> ", "< ")
    ]
    for said, answer in zip(lines, [*lines[1:], ""], strict=True):
        if not said.startswith("> "):
            continue
        message = said[2:]
        client = {"PATT": source, "CONT": screen, "TABL": screen, "SENS": meter, "MEAS": meter}.get(
            message[:4], client
        )
        if message.startswith("*IDN?"):
            client = meter
        block = re.search(r"\[([0-9a-f ]+)\]", message)
        if block:
            client.send(message[: block.start()].rstrip().encode() + bytes.fromhex(block.group(1)) + b"\n")
        else:
            client.send(message)
        if not answer.startswith("< "):
            if message.startswith("MEAS"):
                client.line()
            continue
        got, wanted = client.line(), answer[2:]
        if message.startswith("MEAS"):
            assert got.partition(",")[0] == wanted.partition(",")[0]
            assert len(got.split(",")) == len(wanted.split(","))
        else:
            assert got == wanted, message
        checked += 1
    assert checked >= 14


def test_two_programs_at_once_each_get_their_own_answers(standins: StandInBench) -> None:
    with BenchServer(standins) as server:
        first = PlainClient(server.addresses[1])
        first.ask(f"PATT:SHOW? 1,{GREY}")
        wrong: list[str] = []

        def read(start: int) -> None:
            client = PlainClient(server.addresses[0])
            for tag in range(start, start + 200):
                if client.ask(f"MEAS:XYZ? {tag},0.1").split(",")[0] != str(tag):
                    wrong.append(str(tag))
            client.close()

        threads = [threading.Thread(target=read, args=(start,)) for start in (0, 1000, 2000)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(30)
        first.close()
    assert wrong == []


def test_a_message_cut_anywhere_is_understood(clients: Clients) -> None:
    meter = clients[0]
    for piece in (b"*I", b"DN", b"?;SYST:KI", b"ND?\r", b"\n*OPC?\n"):
        meter.send(piece)
    assert meter.line().endswith(";METER")
    assert meter.line() == "1"


def test_a_bench_that_went_away_answers_nobody_who_comes_back_at_once(standins: StandInBench) -> None:
    server = BenchServer(standins)
    port = int(server.addresses[0].split("::")[2])
    answered: list[float] = []
    closed = threading.Event()

    def come_back() -> None:
        """A program that connects anew, whenever it is cut."""
        while not closed.is_set():
            with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", port), timeout=5.0) as line:
                while not closed.is_set():
                    line.sendall(b"*OPC?\n")
                    if not line.recv(16):
                        break
                    answered.append(time.monotonic())

    programs = [threading.Thread(target=come_back) for _ in range(4)]
    for program in programs:
        program.start()
    while len(answered) < 20:
        time.sleep(0.001)
    server.close()
    gone = time.monotonic()
    time.sleep(0.1)
    closed.set()
    for program in programs:
        program.join(10)
    # What was on its way as the bench went may still come in.
    assert max(answered) < gone + 0.05


def test_a_port_that_is_taken_is_said(standins: StandInBench) -> None:
    with socket.create_server(("127.0.0.1", 0)) as taken, pytest.raises(OSError):
        BenchServer(standins, (0, taken.getsockname()[1], 0))


@given(st.binary(max_size=80))
@settings(max_examples=300)
def test_no_bytes_break_the_parser(message: bytes) -> None:
    interpreter = Interpreter()
    interpreter.add("MEASure:XYZ?", lambda arguments: f"{arguments.number(0, 1)}")
    interpreter.carry_out(message)
    try:
        for whole in Messages().feed(message + b"\n"):
            interpreter.carry_out(whole)
    except ScpiError as error:
        assert error.code == -161


@given(
    st.lists(
        st.one_of(st.floats(-1e6, 1e6), st.text(max_size=12).filter(lambda t: "\n" not in t and "\r" not in t))
    )
)
def test_what_is_written_is_read_back(values: list[float | str]) -> None:
    written = ",".join(f"{v!r}" if isinstance(v, float) else '"' + v.replace('"', '""') + '"' for v in values)
    ((header, read),) = parse(f"TEST {written}".encode())
    assert header == "TEST"
    assert [v.value if isinstance(v, Text) else v for v in read] == values


def test_arguments_are_taken_in_order_and_none_is_left() -> None:
    arguments = Arguments("TEST", [3.0, "on", Text("a"), b"\x00"])
    assert (arguments.whole(0, 5), arguments.word("on", "off"), arguments.text(), arguments.block()) == (
        3,
        "on",
        "a",
        b"\0",
    )
    arguments.end()
    with pytest.raises(ScpiError, match="-109"):
        arguments.text()


def whole_and_in_parts(stream: bytes, cuts: list[int]) -> tuple[list[bytes] | str, list[bytes] | str]:
    """The messages of a stream fed at once and in parts; how it was refused where it was."""
    told: list[list[bytes] | str] = []
    for places in ([], sorted({cut % (len(stream) + 1) for cut in cuts})):
        messages, got = Messages(), []
        parts = [stream[a:b] for a, b in itertools.pairwise([0, *places, len(stream)])]
        try:
            for part in parts:
                got += messages.feed(part)
            told.append(got)
        except ScpiError as error:
            told.append(str(error))
    return told[0], told[1]


@given(
    stream=st.lists(st.sampled_from([b"#10", b"#15\n\n\n\n\n", b'"', b"\n", b"*IDN?", b"#", b'"#1"', b"#9"])).map(
        b"".join
    ),
    cuts=st.lists(st.integers(0, 200), max_size=6),
)
def test_a_stream_is_cut_alike_however_it_arrives(stream: bytes, cuts: list[int]) -> None:
    at_once, in_parts = whole_and_in_parts(stream, cuts)
    assert at_once == in_parts or isinstance(at_once, str) or isinstance(in_parts, str)


def test_blocks_and_halves_of_messages_are_bounded() -> None:
    with pytest.raises(ScpiError, match="without its end"):
        Messages().feed(b"TABL:ONED:LOAD #9999999999")
    messages = Messages()
    with pytest.raises(ScpiError, match="without its end"):
        for _ in range(100):
            messages.feed(b"x" * 65_536)
    assert messages.feed(b"*IDN?\n") == [b"*IDN?"]


def test_what_lies_beyond_an_end_stop_takes_no_time() -> None:
    bench = build_bench(load_scenario("demo"), 1)
    before = bench.clock.now()
    bench.link.turn({"gain-r": 1_000_000})
    assert bench.clock.now() - before < 120.0
    assert bench.screen.settings()["gain-r"] == 100
