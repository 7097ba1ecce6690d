"""A page of a PDF as pixels; no Qt. It takes tens of milliseconds: not for Qt's thread."""

from pathlib import Path

from aequitone.desktop.tools.report.state import PageImage

# Pixels to a point: a page of A4 is then 1,000 pixels wide.
_SCALE = 1.68


def page_image(pdf: Path, number: int) -> PageImage:
    """Render a page, by its number from 1; the nearest one where there is none of that number."""
    from pypdfium2 import PdfDocument

    document = PdfDocument(pdf)
    try:
        count = len(document)
        at = min(max(number, 1), count)
        picture = document[at - 1].render(scale=_SCALE).to_pil().convert("RGB")
    finally:
        document.close()
    return PageImage(at, count, picture.width, picture.height, picture.tobytes())
