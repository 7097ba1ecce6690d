"""A file is there whole or not at all."""

from pathlib import Path

import pytest

from aequitone.whole_file import made_beside, write_whole


def test_text_and_bytes_take_the_place_of_what_stood_there(tmp_path: Path) -> None:
    path = tmp_path / "summary.json"
    write_whole(path, "ΔE")
    assert path.read_text("utf-8") == "ΔE"
    write_whole(path, b"\x00")
    assert path.read_bytes() == b"\x00"
    assert list(tmp_path.iterdir()) == [path]


def test_what_fails_on_the_way_leaves_what_stood_there_and_nothing_beside_it(tmp_path: Path) -> None:
    path = tmp_path / "report.pdf"
    path.write_bytes(b"the one before")
    with pytest.raises(OSError, match="full"), made_beside(path) as fresh:
        fresh.write_bytes(b"half of")
        raise OSError("the disk is full")
    assert path.read_bytes() == b"the one before"
    assert list(tmp_path.iterdir()) == [path]


def test_a_folder_that_is_not_there_is_said(tmp_path: Path) -> None:
    with pytest.raises(FileNotFoundError):
        write_whole(tmp_path / "away" / "visit.json", "{}")
