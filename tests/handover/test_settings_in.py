"""Settings from a file: by the screen's own words; what is wrong is said, and nothing is taken."""

from pathlib import Path

import pytest

from aequitone.advice.roles import Role
from aequitone.handover.errors import ImportFailedError
from aequitone.handover.incoming.settings import read_settings
from aequitone.logbook.records import ControlRecord

CONTROLS = (
    ControlRecord(1, Role.GAIN_R, "R gain", 0, 100, 1, 50),
    ControlRecord(2, Role.CONTRAST, "Picture", 0, 100, 5, 85),
    ControlRecord(3, Role.TEMPERATURE, "Colour tone", 0, 2, 1, 0, ("Cold", "Neutral", "Soft")),
)


def read(tmp_path: Path, text: str) -> dict[Role, int]:
    (tmp_path / "list.csv").write_text(text, "utf-8")
    return read_settings(tmp_path / "list.csv", CONTROLS)


def test_controls_by_the_screens_word_or_by_what_they_do(tmp_path: Path) -> None:
    text = "Control;Setting;Remark\nr GAIN;42;x\ncontrast;80;\nColour tone;soft;\n"
    assert read(tmp_path, text) == {Role.GAIN_R: 42, Role.CONTRAST: 80, Role.TEMPERATURE: 2}


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("", "is empty"),
        ("name,value\nR gain,4\n", "no column “control”"),
        ("control,setting\n", "names no control"),
        ("control,setting\nG gain,4\n", "line 2: no control “G gain” on this screen"),
        ("control,setting\nR gain,forty\n", "line 2: R gain is a whole number, not “forty”"),
        ("control,setting\nR gain,140\n", "goes from 0 to 100; 140 cannot be"),
        ("control,setting\nPicture,82\n", "82 lies between two steps"),
        ("control,setting\nColour tone,Blue\n", "one of Cold, Neutral, Soft, not “Blue”"),
        ("control,setting\nR gain,4\nR gain,5\n", "line 3: R gain stands there twice"),
        ("control,setting\nR gain\n", "1 values under 2 headings"),
    ],
)
def test_what_is_wrong_is_said_with_its_line(tmp_path: Path, text: str, why: str) -> None:
    with pytest.raises(ImportFailedError) as told:
        read(tmp_path, text)
    assert why in str(told.value)
    assert "Nothing was taken from it." in str(told.value)


def test_a_file_that_is_not_there(tmp_path: Path) -> None:
    with pytest.raises(ImportFailedError, match="cannot be read"):
        read_settings(tmp_path / "none.csv", CONTROLS)
