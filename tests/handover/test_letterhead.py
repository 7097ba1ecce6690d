"""The head of the report: what it may be, kept whole, and on the page."""

import io
from pathlib import Path

import pytest
from PIL import Image
from pypdf import PdfReader

from aequitone.handover.letterhead import DEFAULT_COLOUR, LetterheadError, checked
from aequitone.handover.report import make_report
from aequitone.logbook import Logbook, VisitRecord, open_logbook
from aequitone.logbook.letterheads import Letterhead


def picture(wide: int = 60, high: int = 20, kind: str = "PNG") -> bytes:
    buffer = io.BytesIO()
    Image.new("RGB", (wide, high), (120, 40, 40)).save(buffer, kind)
    return buffer.getvalue()


@pytest.mark.parametrize(
    ("wrong", "why"),
    [
        (Letterhead(name="x" * 81), "81 letters"),
        (Letterhead(address="\n".join("abcdefg")), "6 lines"),
        (Letterhead(colour="red"), "#1f3a4d"),
        (Letterhead(colour="#ffee00"), "too pale"),
        (Letterhead(paper="A3"), "A4 or Letter"),
        (Letterhead(exposure="by eye"), "same exposure"),
        (Letterhead(image=b"<svg onload='x'/>"), "neither a PNG nor a JPEG"),
        (Letterhead(image=picture()[:40]), "neither a PNG nor a JPEG"),
        (Letterhead(image=picture(kind="GIF")), "neither a PNG nor a JPEG"),
        (Letterhead(image=b"\x89PNG" + bytes(2_000_001)), "2 MB"),
    ],
)
def test_what_cannot_be_is_refused_with_a_sentence(wrong: Letterhead, why: str) -> None:
    with pytest.raises(LetterheadError, match=why):
        checked(wrong)


def test_the_default_colour_is_within_its_own_limits() -> None:
    assert checked(Letterhead(colour=DEFAULT_COLOUR)).colour == DEFAULT_COLOUR


def test_it_is_kept_and_stands_on_the_first_page(
    logbook: Logbook,
    whole_visit: VisitRecord,
    tmp_path: Path,
) -> None:
    wanted = checked(
        Letterhead(
            " Lantern &  Loft <b>Care</b> ",
            "12 Mill Lane \n Alderwick",
            picture(),
            "#7A2828",
            "Letter",
            "each at its own white",
        )
    )
    assert wanted.name == "Lantern & Loft <b>Care</b>"
    logbook.letterheads.keep(wanted)
    logbook.letterheads.keep_notes(whole_visit.id, "Call me <i>soon</i>.\n=1+1")
    again = open_logbook(logbook.path)
    assert again.letterheads.get() == wanted
    assert again.visit(whole_visit.id).notes == "Call me <i>soon</i>.\n=1+1"
    again.close()
    reader = PdfReader(make_report(logbook, whole_visit.id, tmp_path).pdf)
    first, second = (" ".join(page.extract_text().split()) for page in reader.pages[:2])
    # Nobody's words are taken for markup.
    assert "Lantern & Loft <b>Care</b>" in first
    assert "Call me <i>soon</i>. =1+1" in first
    assert "each at its own white" in first
    assert "Alderwick" not in second
    assert (reader.pages[0].mediabox.width, reader.pages[0].mediabox.height) == (612, 792)
    assert len(reader.pages[0].images) == 3


def test_without_one_nothing_stands_over_the_page(
    logbook: Logbook,
    whole_visit: VisitRecord,
    tmp_path: Path,
) -> None:
    assert logbook.letterheads.get() == Letterhead()
    reader = PdfReader(make_report(logbook, whole_visit.id, tmp_path).pdf)
    assert len(reader.pages[0].images) == 2
    assert round(float(reader.pages[0].mediabox.height)) == 842
