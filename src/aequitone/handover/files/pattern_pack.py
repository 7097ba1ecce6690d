"""A pattern pack: numbered test pictures with a list, for a stick or a disc."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from aequitone.advice.answers.encoding import CONTAINER_GAMUTS
from aequitone.advice.last_look import PERCENTS
from aequitone.advice.levels.black import DISC_RAMP as BLACK_RAMP
from aequitone.advice.levels.clipping import DISC_RAMP as WHITE_RAMP
from aequitone.advice.levels.crossing import CYAN, MAGENTA, PRIMARIES
from aequitone.handover.errors import NoEncoderError
from aequitone.handover.files.picture_files import VideoPlan, write_png, write_video
from aequitone.procedures.colour.samples import Length, samples
from aequitone.signal import Patch, SignalFormat, code_value, colour_patch, grey_patch, window_rect
from aequitone.signal.pictures import PICTURES, Picture, Rendered, render

LIST, CODES = "list.txt", "codes.csv"
# The signal of the six, in %, and the skin that is read beside them.
_LEVEL, _SKIN = 75.0, "fair skin"
_ABOUT_PATCHES = (
    "patch-*.png",
    "    What an input is looked at by, where its device shows nothing but files, and what Levels reads: each is",
    "    asked for by its name.",
    "",
)


@dataclass(frozen=True)
class PackPlan:
    """What the pack is to hold."""

    width: int
    height: int
    format: SignalFormat
    png_bits: int = 16
    video: VideoPlan | None = None
    pictures: tuple[Picture, ...] = PICTURES

    def __post_init__(self) -> None:
        if self.png_bits not in (8, 16) or self.format.depth > self.png_bits:
            raise ValueError(f"{self.format.depth}-bit codes do not fit a PNG of {self.png_bits} bit")
        if self.width < 64 or self.height < 36:
            raise ValueError(f"pictures have at least 64 × 36 pixels, got {self.width} × {self.height}")
        if self.video is not None and (self.width % 2 or self.height % 2):
            raise ValueError(f"a video has an even number of pixels each way, got {self.width} × {self.height}")


@dataclass(frozen=True)
class Pack:
    """What was made."""

    folder: Path
    files: tuple[Path, ...]
    words: str


def write_pack(
    plan: PackPlan,
    folder: Path,
    tell: Callable[[int, int, str], None] = lambda _done, _all, _name: None,
    going_on: Callable[[], bool] = lambda: True,
) -> Pack:
    """Make the pack in a folder; `tell` hears how many pictures of how many are done, and which is next.

    Where `going_on` says no, the pack ends after what was finished, and its list says so. Raises OSError where the
    folder cannot be written; what was finished before stays.
    """
    folder.mkdir(parents=True, exist_ok=True)
    files, lines, codes = list[Path](), list[str](), ["file,area,x,y,width,height,red,green,blue"]
    trouble, whole = "", True
    for i, picture in enumerate(plan.pictures):
        if not going_on():
            whole = False
            break
        tell(i, len(plan.pictures), picture.title)
        made = render(picture, plan.width, plan.height, plan.format)
        png = folder / f"{i + 1:02d}-{picture.key}.png"
        write_png(png, made.codes, plan.format.depth, bits=plan.png_bits)
        files.append(png)
        codes += _areas(png.name, made)
        lines += _entry(i + 1, picture)
        if plan.video is None or trouble:
            continue
        video = png.with_suffix(".mp4")
        try:
            name = write_video(video, picture, plan.width, plan.height, plan.format, plan.video, going_on)
        except NoEncoderError as error:
            trouble = f" {error}."
            continue
        if name:
            files.append(video)
    pictures = len(lines) // 3
    if whole:
        patches, told = _patches(plan, folder)
        files += patches
        codes += told
        lines += _ABOUT_PATCHES
    for name, words in ((LIST, [*_head(plan, whole), *lines]), (CODES, codes)):
        path = folder / name
        path.write_text("\n".join(words) + "\n", "utf-8")
        files.append(path)
    made_words = f"{pictures} pictures in {folder}" if whole else f"Stopped; {pictures} pictures kept"
    return Pack(folder, tuple(files), f"{made_words}.{trouble}")


def look_patches(format_: SignalFormat) -> tuple[Patch, ...]:
    """The patches by which an input is looked at through its own device: greys, the six colours, a skin."""
    container = CONTAINER_GAMUTS[format_.container]
    greys = tuple(grey_patch(percent, format_) for percent in PERCENTS)
    told = samples(Length.SHORT, _LEVEL, container)
    colours = [sample for sample in told if sample.saturation == 100.0 or sample.name == _SKIN]
    return (*greys, *(colour_patch(sample.name, sample.signal, format_) for sample in colours))


def level_patches(format_: SignalFormat) -> tuple[Patch, ...]:
    """The patches that Levels reads where a person shows them: dark and bright greys, and colours at 75 %."""
    looks = (*BLACK_RAMP, *WHITE_RAMP, *PRIMARIES, CYAN, MAGENTA)
    return tuple(colour_patch(look.name, look.percents, format_) for look in looks)


def _patches(plan: PackPlan, folder: Path) -> tuple[list[Path], list[str]]:
    """Write them beside the pictures, a file each: a window on black; and what code is where."""
    files, codes = list[Path](), list[str]()
    rect = window_rect(plan.width, plan.height, plan.format.window)
    black = code_value(0.0, plan.format.depth, plan.format.range)
    for patch in {each.name: each for each in (*look_patches(plan.format), *level_patches(plan.format))}.values():
        picture = np.full((plan.height, plan.width, 3), int(black), dtype=np.uint16)
        picture[rect.y : rect.y + rect.height, rect.x : rect.x + rect.width] = patch.codes
        path = folder / f"patch-{patch.name.replace(' %', '').replace(' ', '-')}.png"
        write_png(path, picture, plan.format.depth, bits=plan.png_bits)
        files.append(path)
        figures = (path.name, "patch", rect.x, rect.y, rect.width, rect.height, *patch.codes)
        codes.append(",".join(map(str, figures)))
    return files, codes


def _head(plan: PackPlan, whole: bool) -> Sequence[str]:
    shift = 16 - plan.format.depth
    scaled = f"; a code n of {plan.format.depth} bit is written as {2**shift} n" if plan.png_bits == 16 else ""
    lines = [
        "Test pictures of Aequitone",
        f"{plan.width} x {plan.height}, {plan.format.depth} bit, {plan.format.range.value} range, "
        f"{plan.format.transfer.value}, {plan.format.container.value}. PNG of {plan.png_bits} bit{scaled}.",
        "Show them without scaling and without colour management. What code is where stands in codes.csv.",
        "",
    ]
    return lines if whole else [*lines, "This pack was stopped before it was whole.", ""]


def _entry(number: int, picture: Picture) -> list[str]:
    warning = f" {picture.warning}" if picture.warning else ""
    return [f"{number:02d}  {picture.title}", f"    {picture.look_for}{warning}", ""]


def _areas(name: str, made: Rendered) -> list[str]:
    return [
        ",".join(map(str, (name, area.name, rect.x, rect.y, rect.width, rect.height, *area.codes)))
        for area in made.areas
        for rect in (area.rect,)
    ]
