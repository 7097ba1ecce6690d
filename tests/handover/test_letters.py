"""Names in any letters: in the report as they were typed, and nothing of them dropped silently."""

import csv
import unicodedata
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from pypdf import PdfReader

from aequitone.handover.letters import marked_up
from aequitone.handover.report import make_report
from aequitone.logbook import Logbook, VisitRecord
from aequitone.logbook.naming import LONGEST_NAME, checked_name
from aequitone.logbook.register import Named, NameTakenError
from aequitone.passes import AS_FOUND, begin, carry_out
from aequitone.procedures.runner import NobodyThere
from aequitone.standins.bench import StandInBench

Make = Callable[[int], StandInBench]
AS_TYPED = {
    "Polish": ("Łukasz Żółć", "Gęślą jaźń"),
    "Turkish": ("Işıl Gökçeoğlu", "Şirin oda"),
    "Greek": ("Αθηνά Παπαδάκη", "Αίθουσα ψυχαγωγίας"),
    "Cyrillic": ("Щедрина Ёлка", "Подъезд їжака"),
}
WHOLE = {
    "Japanese": "山田花子のへや テレビ",
    "Arabic": "سلمى العطار",
    "Hebrew": "שרה לוי",
    "Korean": "김하늘 거실",
}


def text_with(logbook: Logbook, visit: VisitRecord, bench: Make, out: Path, client: str, room: str) -> str:
    logbook.register.rename(visit.id, Named.CLIENT, client)
    logbook.register.rename(visit.id, Named.ROOM, room)
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench(4).bench(), NobodyThere())
    pages = PdfReader(make_report(logbook, visit.id, out).pdf).pages
    return " ".join(" ".join(page.extract_text() for page in pages).split())


@pytest.mark.parametrize("letters", AS_TYPED)
def test_european_names_are_in_the_report_as_typed(
    logbook: Logbook, visit: VisitRecord, bench: Make, tmp_path: Path, letters: str
) -> None:
    client, room = AS_TYPED[letters]
    text = text_with(logbook, visit, bench, tmp_path, client, room)
    assert client in text
    assert room in text


@pytest.mark.parametrize("letters", WHOLE)
def test_of_other_names_no_letter_is_dropped(
    logbook: Logbook, visit: VisitRecord, bench: Make, tmp_path: Path, letters: str
) -> None:
    name = WHOLE[letters]
    text = text_with(logbook, visit, bench, tmp_path, name, "Room")
    # Joined forms are taken back to their letters; some join two letters in one.
    plain = unicodedata.normalize("NFKC", text)
    assert {letter for letter in name if not letter.isspace()} <= set(plain)


def test_what_no_font_has_is_told_by_its_code_point() -> None:
    assert "[U+0905]" in marked_up("अ")
    assert marked_up("Plain & simple") == "Plain &amp; simple"
    assert marked_up("Łódź <b>") == '<font name="DejaVu">Łódź</font> &lt;b&gt;'


def test_from_right_to_left_words_stand_in_their_order_and_others_stay() -> None:
    told = marked_up("Room of שרה לוי, 2")
    assert told.startswith("Room of ")
    assert told.endswith(", 2") or told.endswith("2")
    # The first letter to be read stands furthest to the right.
    assert told.index("ש") > told.index("ר")


def test_a_name_is_one_line_and_has_bounds(logbook: Logbook, visit: VisitRecord) -> None:
    assert checked_name(" Anna\n\tB.\x00 ") == "Anna B."
    with pytest.raises(ValueError, match=r"60,000 letters; 120 are the most"):
        checked_name("x" * 60_000)
    with pytest.raises(NameTakenError, match="121 letters"):
        logbook.register.rename(visit.id, Named.CLIENT, "x" * (LONGEST_NAME + 1))
    begun = logbook.begin_visit(
        client="Line\none", room="R\r\noom", screen="S", input_="I", memory="M", target=visit.target, levels=11,
        bench=visit.bench, controls=(), technology=visit.technology,
    )  # fmt: skip
    assert (begun.client, begun.room) == ("Line one", "R oom")


def test_a_line_break_in_a_name_splits_no_row(
    logbook: Logbook, visit: VisitRecord, bench: Make, tmp_path: Path
) -> None:
    logbook.change_visit(
        visit.id, target=visit.target, levels=visit.levels, bench=visit.bench,
        controls=[replace(logbook.controls(visit.screen_id)[0], name="Red\ngain")],
    )  # fmt: skip
    carry_out(logbook, begin(logbook, visit.id, AS_FOUND), bench(4).bench(), NobodyThere())
    files = make_report(logbook, visit.id, tmp_path)
    text = files.csv.read_text("utf-8")
    assert len(list(csv.reader(text.splitlines()))) == len(text.splitlines())
    assert logbook.controls(visit.screen_id)[0].name == "Red gain"
