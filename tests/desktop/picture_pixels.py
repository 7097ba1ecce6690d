"""Run by test_real_window in a real X server: every still picture, read back from the frame buffer.

Usage: picture_pixels.py RANGE. Prints, for each picture, how many pixels are not the code that was drawn.
"""

import json
import sys
import time

import numpy as np
from PySide6.QtGui import QImage

from aequitone.desktop.app import application
from aequitone.desktop.patterns.window import PatternWindow, shown_picture
from aequitone.signal import Range, SignalFormat
from aequitone.signal.pictures import PICTURES, render


def main() -> None:
    range_ = Range(sys.argv[1])
    app = application()
    window = PatternWindow()
    screen = app.primaryScreen()
    window.put_on(screen, whole=True)
    told: dict[str, int] = {}
    for picture in PICTURES:
        if picture.moves:
            continue
        width, height = window.pixels
        window.show_picture(shown_picture(picture.key, width, height, range_))
        for _ in range(8):
            app.processEvents()
            time.sleep(0.02)
        image = screen.grabWindow(0).toImage().convertToFormat(QImage.Format.Format_RGB888)
        line = image.bytesPerLine()
        seen = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(image.height(), line)
        seen = seen[:, : 3 * image.width()].reshape(image.height(), image.width(), 3)
        asked = render(picture, width, height, SignalFormat(8, range_)).codes
        told[picture.key] = int((seen[:height, :width] != asked).any(axis=-1).sum())
    print(json.dumps({"size": window.pixels, "wrong": told}))  # noqa: T201


if __name__ == "__main__":
    main()
