"""Test pictures as files: written, read again, and the same codes in them."""

import csv
from pathlib import Path

import av
import numpy as np
import pytest

from aequitone.advice.last_look import PERCENTS
from aequitone.handover.files.pattern_pack import CODES, LIST, PackPlan, write_pack
from aequitone.handover.files.picture_files import (
    VideoPlan,
    read_png,
    read_video,
    write_png,
    write_video,
)
from aequitone.signal import Container, MasteringLight, Range, SignalFormat, Transfer
from aequitone.signal.pictures import PICTURES, picture_named, render
from aequitone.signal.ycc import ycc_codes

WIDTH, HEIGHT = 192, 108
SOME = tuple(picture_named(key) for key in ("black-steps", "staircase", "colour-bars"))


@pytest.mark.parametrize("range_", list(Range))
@pytest.mark.parametrize(("depth", "bits"), [(8, 8), (8, 16), (10, 16), (12, 16)])
def test_png_keeps_every_code(tmp_path: Path, depth: int, bits: int, range_: Range) -> None:
    for picture in PICTURES:
        codes = render(picture, WIDTH, HEIGHT, SignalFormat(depth, range_)).codes
        path = tmp_path / "picture.png"
        write_png(path, codes, depth, bits=bits)
        assert (read_png(path) == codes << (bits - depth)).all(), picture.key


def test_ten_bit_does_not_fit_eight() -> None:
    with pytest.raises(ValueError, match="do not fit"):
        write_png(Path("never.png"), np.zeros((4, 4, 3), dtype=np.uint16), 10, bits=8)
    with pytest.raises(ValueError, match="do not fit"):
        PackPlan(WIDTH, HEIGHT, SignalFormat(10), png_bits=8)


@pytest.mark.parametrize("range_", list(Range))
@pytest.mark.parametrize("depth", [8, 10])
@pytest.mark.parametrize("key", ["black-steps", "white-steps", "ramp", "everyday"])
def test_video_keeps_every_code(tmp_path: Path, key: str, depth: int, range_: Range) -> None:
    picture, format_ = picture_named(key), SignalFormat(depth, range_)
    path = tmp_path / "picture.mp4"
    write_video(path, picture, 640, 360, format_, VideoPlan(0.07))
    made = render(picture, 640, 360, format_)
    wanted = ycc_codes(made.codes, format_)
    frames = list(read_video(path))
    assert len(frames) == 96
    for frame in (frames[0], frames[-1]):
        assert (frame[..., 0] == wanted[..., 0]).all()
        for area in made.areas:
            rect = area.rect
            # Chroma is shared by two pixels each way: the outermost are left out.
            part = frame[rect.y + 2 : rect.y + rect.height - 2, rect.x + 2 : rect.x + rect.width - 2]
            assert (part == wanted[rect.y + rect.height // 2, rect.x + rect.width // 2]).all(), area.name


def test_video_says_what_it_is(tmp_path: Path) -> None:
    format_ = SignalFormat(10, Range.LIMITED, transfer=Transfer.PQ, container=Container.REC2020)
    path = tmp_path / "hdr.mp4"
    write_video(path, SOME[1], WIDTH, HEIGHT, format_, VideoPlan(0.07, MasteringLight(peak=1000.0)))
    with av.open(str(path)) as container:
        frame = next(container.decode(video=0))
        assert container.streams.video[0].codec_context.name == "hevc"
        assert (frame.color_range, frame.color_primaries, frame.color_trc, frame.colorspace) == (1, 9, 16, 9)
        assert frame.format.name == "yuv420p10le"
    data = path.read_bytes()
    # The SEI of ST 2086 holds the peak in units of 0.0001 cd/m², and CTA-861's light levels follow in theirs.
    assert (10_000_000).to_bytes(4, "big") in data
    assert (1000).to_bytes(2, "big") + (400).to_bytes(2, "big") in data


def test_a_moving_picture_moves_and_a_stopped_one_leaves_nothing(tmp_path: Path) -> None:
    picture, format_ = picture_named("moving-bars"), SignalFormat(8)
    path = tmp_path / "moving.mp4"
    write_video(path, picture, WIDTH, HEIGHT, format_, VideoPlan(0.07))
    frames = list(read_video(path))
    wanted = ycc_codes(render(picture, WIDTH, HEIGHT, format_, 24 / 24).codes, format_)
    assert (frames[24][..., 0] == wanted[..., 0]).all()
    assert (frames[0] != frames[24]).any()
    asked = iter([True, True, False])
    name = write_video(tmp_path / "no.mp4", picture, WIDTH, HEIGHT, format_, VideoPlan(1), lambda: next(asked))
    assert name == ""
    assert [file.name for file in tmp_path.iterdir()] == ["moving.mp4"]


def test_a_pack_is_numbered_listed_and_true_to_its_list(tmp_path: Path) -> None:
    told: list[tuple[int, int, str]] = []
    plan = PackPlan(WIDTH, HEIGHT, SignalFormat(10), video=VideoPlan(0.05), pictures=SOME)
    pack = write_pack(plan, tmp_path / "pack", lambda *now: told.append(now))
    every = sorted(path.name for path in (tmp_path / "pack").iterdir())
    names = [name for name in every if not name.startswith("patch-")]
    assert names == [
        "01-black-steps.mp4", "01-black-steps.png", "02-staircase.mp4", "02-staircase.png",
        "03-colour-bars.mp4", "03-colour-bars.png", CODES, LIST,
    ]  # fmt: skip
    # What an input is looked at by lies beside them, each patch that may be asked for by its name.
    asked = {f"patch-{percent:g}-grey.png" for percent in PERCENTS} | {
        f"patch-{name}.png" for name in ("red-100", "cyan-100", "fair-skin", "5-grey", "95-grey", "cyan-75")
    }
    assert asked <= set(every)
    assert told == [(0, 3, "Black steps"), (1, 3, "Grey staircase"), (2, 3, "Colour bars")]
    assert "3 pictures" in pack.words
    assert "02  Grey staircase" in (pack.folder / LIST).read_text("utf-8")
    with (pack.folder / CODES).open(newline="") as file:
        rows = list(csv.DictReader(file))
    assert len(rows) > 30
    for row in rows:
        values = read_png(pack.folder / row["file"])
        x, y = int(row["x"]) + int(row["width"]) // 2, int(row["y"]) + int(row["height"]) // 2
        assert values[y, x].tolist() == [int(row[c]) << 6 for c in ("red", "green", "blue")]


def test_a_pack_that_is_stopped_keeps_what_is_whole_and_says_so(tmp_path: Path) -> None:
    asked = iter([True, False])
    plan = PackPlan(WIDTH, HEIGHT, SignalFormat(8), png_bits=8, pictures=SOME)
    pack = write_pack(plan, tmp_path, going_on=lambda: next(asked))
    assert [path.name for path in pack.files] == ["01-black-steps.png", LIST, CODES]
    assert "stopped before it was whole" in (tmp_path / LIST).read_text("utf-8")
    assert "1 pictures kept" in pack.words


@pytest.mark.parametrize(
    ("size", "video", "match"),
    [((20, 20), None, "at least 64"), ((193, 108), VideoPlan(1), "even number of pixels")],
)
def test_packs_that_cannot_be(size: tuple[int, int], video: VideoPlan | None, match: str) -> None:
    with pytest.raises(ValueError, match=match):
        PackPlan(*size, SignalFormat(8), 8, video)
