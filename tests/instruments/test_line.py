"""The drivers against a small independent bench: what they send, what they make of answers and mishaps."""

from collections.abc import Iterator

import pytest

from aequitone.instruments import InstrumentError, MeterNoise
from aequitone.instruments.line import Line, texts
from aequitone.instruments.line_devices import LineMeter, LineScreen, LineSource
from aequitone.instruments.ports import Bench
from aequitone.procedures.grey.grey_pass import GreyPlan, grey_pass
from aequitone.procedures.journal import MemoryJournal
from aequitone.procedures.runner import NobodyThere, Runner
from aequitone.reference import target_named
from aequitone.signal import MasteringLight, SignalFormat, Transfer, corners_patch, grey_patch
from aequitone.standins.clock import PacedClock

from .little_bench import LittleBench

PATCH = grey_patch(50.0, SignalFormat(10))
# On loopback a third of a time-out is as good as a whole one, on a busy machine too.
QUICK = 0.3


@pytest.fixture
def little() -> Iterator[LittleBench]:
    with LittleBench() as bench:
        yield bench


def meter_on(little: LittleBench) -> LineMeter:
    return LineMeter(Line(little.meter.address, "METER", patience=QUICK))


def source_on(little: LittleBench) -> LineSource:
    return LineSource(Line(little.source.address, "SOURCE", patience=QUICK))


def test_a_meter_introduces_itself_and_is_read(little: LittleBench) -> None:
    meter, source = meter_on(little), source_on(little)
    assert meter.name == "Little meter"
    assert meter.identity.serial == "S7"
    assert meter.noise == MeterNoise(0.01, 0.002, 0.0)
    assert (meter.limits.shortest, meter.limits.longest) == (0.1, 10.0)
    source.show(PATCH)
    seen = meter.measure(PATCH, 0.5)
    assert pytest.approx(little.light(PATCH.codes[0], 10, "LIMITED"), rel=1e-5) == seen.Y
    assert pytest.approx(0.9505) == seen.X / seen.Y


def test_modes_refresh_and_synchronising(little: LittleBench) -> None:
    meter = meter_on(little)
    assert meter.modes() == ["led-lcd", "white-oled"]
    meter.choose_mode("white-oled")
    assert meter.mode() == "white-oled"
    with pytest.raises(
        InstrumentError, match=r"Little meter: it refused SENS:MODE: Illegal parameter value; plasma"
    ):
        meter.choose_mode("plasma")
    assert meter.mode() == "white-oled"
    assert meter.measure_refresh() == 59.94
    meter.synchronise(59.94)
    assert little.meter.heard[-2] == "SENS:SYNC 59.94"


def test_a_source_shows_and_tells_what_it_shows(little: LittleBench) -> None:
    source = source_on(little)
    assert source.settle_seconds == 0.05
    assert not source.shows(PATCH)
    source.show(PATCH)
    assert source.shows(PATCH)
    assert not source.shows(grey_patch(51.0, SignalFormat(10)))
    assert not source.shows(grey_patch(50.0, SignalFormat(8)))
    with pytest.raises(InstrumentError, match="it sends 8 or 10 bit, not 12 bit"):
        source.show(grey_patch(50.0, SignalFormat(12)))


def test_a_screen_is_turned_and_describes_its_menu(little: LittleBench) -> None:
    screen = LineScreen(Line(little.screen.address, "SCREEN", patience=QUICK))
    screen.turn({"gain-r": 47, "gain-b": 55})
    assert screen.values() == {"gain-r": 47, "gain-b": 55}
    (control,) = screen.menu()
    assert (control.name, control.highest, control.choices) == ("Red, bright end", 100, ("Low", "High"))
    assert screen.table_sizes() == (0, 0)
    with pytest.raises(InstrumentError, match="it refused CONT:SET"):
        screen.turn({"gain-x": 3})
    assert screen.values() == {"gain-r": 47, "gain-b": 55}


@pytest.mark.parametrize(
    ("mishap", "sentence"),
    [
        ("silent", "it did not answer within"),
        ("half", "it did not answer within"),
        ("rubbish", "not text|different question"),
        ("gone", "it did not answer within|connection was lost"),
        ("old", "to a different question from the one it was asked"),
    ],
)
def test_a_mishap_is_one_sentence_and_the_next_answer_is_right(
    little: LittleBench, mishap: str, sentence: str
) -> None:
    meter, source = meter_on(little), source_on(little)
    source.show(PATCH)
    right = meter.measure(PATCH, 0.5)
    little.meter.mishaps.append(mishap)
    with pytest.raises(InstrumentError, match=sentence):
        meter.measure(PATCH, 0.5)
    assert meter.measure(PATCH, 0.5) == right


def test_nothing_to_look_at_is_said_in_the_instruments_words(little: LittleBench) -> None:
    with pytest.raises(InstrumentError, match="it refused MEAS:XYZ.*Data corrupt or stale"):
        meter_on(little).measure(PATCH, 0.5)


def test_an_instrument_of_another_kind_is_refused(little: LittleBench) -> None:
    with pytest.raises(InstrumentError, match="a source answers at .*, not a meter"):
        LineMeter(Line(little.source.address, "METER", patience=QUICK))


def test_an_address_where_nothing_answers() -> None:
    with pytest.raises(InstrumentError, match="nothing answers at TCPIP::127.0.0.1::9::SOCKET"):
        LineMeter(Line("TCPIP::127.0.0.1::9::SOCKET", "METER", patience=QUICK))
    with pytest.raises(InstrumentError, match="nothing answers at my meter"):
        Line("my meter", "METER").identity()


def test_another_instrument_at_the_same_address_is_noticed(little: LittleBench) -> None:
    meter, source = meter_on(little), source_on(little)
    source.show(PATCH)
    meter.measure(PATCH, 0.5)
    little.meter.model = "Another meter"
    meter.line.close()
    with pytest.raises(InstrumentError, match="Another meter S7 answers .* where Little meter S7 was"):
        meter.measure(PATCH, 0.5)


def test_an_unknown_protocol_is_refused(little: LittleBench) -> None:
    little.meter.protocol = "3"
    line = Line(little.meter.address, "METER", patience=QUICK)
    with pytest.raises(InstrumentError, match="it speaks version 3 of the bench protocol, this program 1 and 2"):
        line.identity()


@pytest.mark.parametrize("version", ["1", "2"])
def test_metadata_go_only_to_a_source_that_knows_them(little: LittleBench, version: str) -> None:
    little.source.protocol = version
    source = source_on(little)
    named = SignalFormat(10, transfer=Transfer.PQ, mastering=MasteringLight.usual(4_000.0))
    for patch, shape in ((grey_patch(50.0, named), ""), (corners_patch(50.0, named), ",CORNERS")):
        source.show(patch)
        told = ",MASTERING,4000,0.0001,4000,1600" if version == "2" else ""
        assert little.source.heard[-1].endswith(f"{shape}{told}")
        assert source.shows(patch)
    # Sent again without, it is another picture to a source that knows them.
    assert source.shows(corners_patch(50.0, SignalFormat(10, transfer=Transfer.PQ))) is (version == "1")


def test_a_whole_pass_over_the_line(little: LittleBench) -> None:
    target = target_named("rec709-2.2")
    bench = Bench(meter_on(little), source_on(little), None, PacedClock(50.0))
    plan = GreyPlan(target, SignalFormat(10), anchor_every=4)
    found = Runner(bench, MemoryJournal(), NobodyThere()).run(grey_pass(plan))
    codes = [grey_patch(percent, SignalFormat(10)).codes[0] for percent in found.percents]
    assert found.xyz[:, 1] == pytest.approx([little.light(code, 10, "LIMITED") for code in codes], rel=1e-4)


def test_texts_are_cut_at_commas_outside_quotes() -> None:
    assert texts('"a,b",3,"say ""no""",""') == ["a,b", "3", 'say "no"', ""]
