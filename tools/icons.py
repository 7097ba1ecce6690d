"""Draws the PNG sizes of the icon from its SVG: `.venv/bin/python tools/icons.py`."""

import os
from pathlib import Path

ICONS = Path(__file__).parents[1] / "src" / "aequitone" / "assets" / "icons"
SIZES = (16, 24, 32, 48, 64, 128, 256)


def drawn(size: int) -> bytes:
    """The icon as PNG."""
    from PySide6.QtCore import QBuffer, QIODevice, Qt
    from PySide6.QtGui import QImage, QPainter
    from PySide6.QtSvg import QSvgRenderer

    image = QImage(size, size, QImage.Format.Format_ARGB32)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    QSvgRenderer(str(ICONS / "aequitone.svg")).render(painter)
    painter.end()
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, b"PNG")
    return bytes(buffer.data().data())


if __name__ == "__main__":
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtGui import QGuiApplication

    application = QGuiApplication([])
    for size in SIZES:
        (ICONS / f"aequitone-{size}.png").write_bytes(drawn(size))
