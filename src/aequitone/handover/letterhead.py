"""The letterhead as it may be: a colour that can be read on paper, an image that is one, paper that there is."""

import io
import re

from aequitone.errors import AequitoneError
from aequitone.handover.picture import Exposure
from aequitone.logbook.letterheads import Letterhead

DEFAULT_COLOUR = "#1f3a4d"
# Sizes in points (ISO 216; ANSI Y14.1).
PAPERS = {"A4": (595.28, 841.89), "Letter": (612.0, 792.0)}
_LONGEST_NAME, _MOST_LINES, _LONGEST_LINE = 80, 6, 80
_LARGEST_IMAGE, _MOST_PIXELS = 2_000_000, 16_000_000
_LEAST_CONTRAST = 4.5
_COLOUR = re.compile(r"#[0-9a-f]{6}")


class LetterheadError(AequitoneError):
    """A letterhead that cannot be; the message says why, and the one before is kept."""


def checked(letterhead: Letterhead) -> Letterhead:
    """The letterhead, trimmed. Raises LetterheadError with a sentence."""
    name = " ".join(letterhead.name.split())
    lines = [" ".join(line.split()) for line in letterhead.address.strip().splitlines()]
    if len(name) > _LONGEST_NAME:
        raise LetterheadError(f"The name has {len(name)} letters; {_LONGEST_NAME} fit over a page")
    if len(lines) > _MOST_LINES or any(len(line) > _LONGEST_LINE for line in lines):
        raise LetterheadError(f"The address may have {_MOST_LINES} lines of {_LONGEST_LINE} letters")
    colour = letterhead.colour.strip().lower()
    if colour:
        _check_colour(colour)
    if letterhead.paper and letterhead.paper not in PAPERS:
        raise LetterheadError(f"Paper is {' or '.join(PAPERS)}, not {letterhead.paper}")
    if letterhead.exposure and letterhead.exposure not in [each.value for each in Exposure]:
        raise LetterheadError(f"The pictures are exposed as {' or '.join(Exposure)}, not {letterhead.exposure}")
    if letterhead.image is not None:
        _check_image(letterhead.image)
    return Letterhead(name, "\n".join(lines), letterhead.image, colour, letterhead.paper, letterhead.exposure)


def paper_of(letterhead: Letterhead) -> tuple[float, float]:
    """Width and height of the paper, in points."""
    return PAPERS.get(letterhead.paper, PAPERS["A4"])


def exposure_of(letterhead: Letterhead) -> Exposure:
    """How the pictures of before and after are exposed."""
    return Exposure(letterhead.exposure) if letterhead.exposure in list(Exposure) else Exposure.SAME


def _check_colour(colour: str) -> None:
    if not _COLOUR.fullmatch(colour):
        raise LetterheadError(f"A colour is written as #1f3a4d, not {colour}")
    contrast = _contrast_on_white(colour)
    if contrast < _LEAST_CONTRAST:
        raise LetterheadError(
            f"{colour} is too pale to be read on white paper: its contrast is {contrast:.1f} : 1, and headings "
            f"need {_LEAST_CONTRAST} : 1. Take a darker one"
        )


def _contrast_on_white(colour: str) -> float:
    """Contrast of a colour on white by its relative luminance (W3C, WCAG 2.2, 1.4.3)."""
    codes = [int(colour[at : at + 2], 16) / 255.0 for at in (1, 3, 5)]
    linear = [code / 12.92 if code <= 0.04045 else ((code + 0.055) / 1.055) ** 2.4 for code in codes]
    luminance = 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]
    return 1.05 / (luminance + 0.05)


def _check_image(image: bytes) -> None:
    """Raise LetterheadError where a file is no picture, or too large a one."""
    from PIL import Image

    if len(image) > _LARGEST_IMAGE:
        raise LetterheadError(f"The picture is larger than {_LARGEST_IMAGE // 1_000_000} MB")
    try:
        with Image.open(io.BytesIO(image), formats=("PNG", "JPEG")) as opened:
            if opened.width * opened.height > _MOST_PIXELS:
                raise LetterheadError(
                    f"The picture has {opened.width} by {opened.height} pixels, which is too many"
                )
            opened.verify()
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise LetterheadError("The picture is neither a PNG nor a JPEG file that can be read") from error
