"""Letters of the report: which font has them, and how they stand from right to left.

B612 is the house's own and has the letters of western Europe. Latin Extended, Greek, Cyrillic, Arabic and Hebrew
are DejaVu's, Chinese, Japanese and Korean those that every PDF reader knows by name (ISO 32000-2, 9.7.5.2). What
none of them has is told by its code point: nothing is left out silently.
"""

import io
import re
import unicodedata
from functools import cache
from importlib import resources
from xml.sax.saxutils import escape

HOUSE, HOUSE_BOLD = "B612", "B612-Bold"
_WIDE = {False: "DejaVu", True: "DejaVu-Bold"}
_FILES = {
    HOUSE: "B612-Regular.ttf",
    HOUSE_BOLD: "B612-Bold.ttf",
    "DejaVu": "DejaVuSans.ttf",
    "DejaVu-Bold": "DejaVuSans-Bold.ttf",
}
_JAPANESE, _KOREAN, _CHINESE = "HeiseiKakuGo-W5", "HYGothic-Medium", "STSong-Light"
_KANA, _HANGUL = re.compile("[぀-ヿ]"), re.compile("[ᄀ-ᇿ㄰-㆏가-힯]")
# Ideographs, and the marks and full-width forms that stand among them.
_EASTERN = re.compile("[぀-ヿ㄰-㆏가-힯㐀-鿿豈-﫿　-〿！-｠]")
_TO_THE_LEFT = re.compile("[֐-ࣿיִ-﷿ﹰ-ﻼ]")
_RUN_TO_THE_LEFT = re.compile(f"{_TO_THE_LEFT.pattern}(?:.*{_TO_THE_LEFT.pattern})?")
# Characters that change the direction of what follows them (Unicode Annex 9, 2).
_TURNING = re.compile("[\u200e\u200f\u202a-\u202e\u2066-\u2069]")
_ARABIC = re.compile("[؀-ۿ]")


def marked_up(words: str, *, bold: bool = False) -> str:
    """Words as ReportLab's markup, each in a font that has its letters, in the order they stand on paper."""
    eastern = _eastern_font(words)
    words = _RUN_TO_THE_LEFT.sub(lambda match: _in_visual_order(match[0]), words)
    return "".join(_run(part, eastern, bold=bold) for part in re.split(r"(\s+)", words) if part)


def in_one_font(words: str, house: str, *, bold: bool = False) -> tuple[str, str]:
    """A line for a picture: its letters in the order they stand, and the file of the font that has them.

    What neither the house's font nor the wider one has is told by its code point.
    """
    words = _RUN_TO_THE_LEFT.sub(lambda match: _in_visual_order(match[0]), words)
    if all(ord(letter) in _letters(house) for letter in words):
        return words, _FILES[house]
    return "".join(_known(letter, _WIDE[bold]) for letter in words), _FILES[_WIDE[bold]]


@cache
def load_fonts() -> None:
    """Make the fonts known to ReportLab."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.cidfonts import UnicodeCIDFont
    from reportlab.pdfbase.ttfonts import TTFont

    folder = resources.files("aequitone") / "assets" / "fonts"
    for name, file in _FILES.items():
        pdfmetrics.registerFont(TTFont(name, io.BytesIO((folder / file).read_bytes())))
    for name in (_JAPANESE, _KOREAN, _CHINESE):
        pdfmetrics.registerFont(UnicodeCIDFont(name))


@cache
def _letters(font: str) -> frozenset[int]:
    from reportlab.pdfbase import pdfmetrics

    load_fonts()
    return frozenset(pdfmetrics.getFont(font).face.charToGlyph)


def _run(word: str, eastern: str, *, bold: bool) -> str:
    """One word, set in one font as far as that goes: letters of two would not look like one word."""
    for font in (HOUSE_BOLD if bold else HOUSE, _WIDE[bold]):
        if all(ord(letter) in _letters(font) for letter in word):
            return escape(word) if font in (HOUSE, HOUSE_BOLD) else _in_font(font, word)
    told = []
    for part in re.split(f"({_EASTERN.pattern}+)", word):
        if _EASTERN.match(part):
            told.append(_in_font(eastern, part))
        elif part:
            told.append(_in_font(_WIDE[bold], "".join(_known(letter, _WIDE[bold]) for letter in part)))
    return "".join(told)


def _known(letter: str, font: str) -> str:
    """A letter, or its code point in brackets where the font lacks it; marks that only modify are left to it."""
    if ord(letter) in _letters(font):
        return letter
    return "" if unicodedata.category(letter) == "Cf" else f"[U+{ord(letter):04X}]"


def _in_font(font: str, words: str) -> str:
    return f'<font name="{font}">{escape(words)}</font>'


def _eastern_font(words: str) -> str:
    """Ideographs are drawn as the language beside them has them."""
    if _KANA.search(words):
        return _JAPANESE
    return _KOREAN if _HANGUL.search(words) else _CHINESE


def _in_visual_order(words: str) -> str:
    """A run from right to left as it stands from left to right (Unicode Annex 9)."""
    from bidi.algorithm import get_display

    # The library knows no isolates; and a name needs nobody to turn it round.
    words = _TURNING.sub("", words)
    if _ARABIC.search(words):
        from arabic_reshaper import reshape

        words = reshape(words)
    return str(get_display(words))
