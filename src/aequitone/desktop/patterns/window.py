"""The pattern window: a patch in exact codes, full screen on a chosen screen of this computer."""

import threading
import time
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QObject, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QCloseEvent,
    QColor,
    QGuiApplication,
    QImage,
    QKeyEvent,
    QPainter,
    QPaintEvent,
    QScreen,
)
from PySide6.QtWidgets import QWidget

from aequitone.instruments.errors import InstrumentError
from aequitone.signal import (
    BOARD_SQUARES,
    CORNER_AREA,
    Patch,
    Range,
    Shape,
    SignalFormat,
    board_rects,
    code_value,
    corner_rects,
    window_rect,
)
from aequitone.signal.pictures import Picture, picture_named, render
from aequitone.signal.pictures.canvas import Pixels

if TYPE_CHECKING:
    from aequitone.desktop.patterns.inhibit import Inhibitor

_FRAME_MS = 33
_PATIENCE_SECONDS = 5.0
_CLOSED = "it is closed; open it again with the key of the panel"
_NIGHT = "Switch off the desktop's night colours and any colour profile of that screen: they change every pattern."
_SAVER = "The screensaver of this computer could not be switched off for the patterns: switch it off yourself."


@dataclass(frozen=True)
class Shown:
    """A test picture as images: one, or two where it blinks."""

    picture: Picture
    images: tuple[QImage, ...]

    def paint(self, painter: QPainter, width: int, seconds: float) -> None:
        """Paint the picture as it is after so many seconds, pixel for pixel."""
        picture = self.picture
        dark = len(self.images) > 1 and seconds * picture.blinks_per_second % 1.0 >= 0.5
        image = self.images[int(dark)]
        shift = round(picture.widths_per_second * seconds * width) % width if picture.widths_per_second else 0
        painter.drawImage(shift, 0, image)
        if shift:
            painter.drawImage(shift - width, 0, image)


def shown_picture(key: str, width: int, height: int, range_: Range) -> Shown:
    """Make a picture for a window of this size; takes a second or two at the size of a screen."""
    picture, format_ = picture_named(key), SignalFormat(8, range_)
    moments = (0.0, 0.5 / picture.blinks_per_second) if picture.blinks_per_second else (0.0,)
    return Shown(picture, tuple(_image(render(picture, width, height, format_, at).codes) for at in moments))


def _image(codes: Pixels) -> QImage:
    height, width = codes.shape[:2]
    data = codes.astype(np.uint8).tobytes()
    # Copied, as an image does not keep the bytes that it was made from.
    return QImage(data, width, height, 3 * width, QImage.Format.Format_RGB888).convertToFormat(
        QImage.Format.Format_RGB32
    )


class PatternWindow(QWidget):
    """Paints codes as they are: no scaling, no smoothing, no colour management in between."""

    painted = Signal(object)
    closed = Signal()
    told = Signal(str)
    """Something that the person should know of the screen that it is on."""

    def __init__(self) -> None:
        super().__init__(None, Qt.WindowType.Window | Qt.WindowType.FramelessWindowHint)
        self.setWindowTitle("Aequitone patterns")
        self.setAccessibleName("Pattern window")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating)
        self.setCursor(Qt.CursorShape.BlankCursor)
        self._patch: Patch | None = None
        self._picture: Shown | None = None
        self._began = 0.0
        self._timer = QTimer(self)
        self._timer.setInterval(_FRAME_MS)
        self._timer.timeout.connect(self.update)
        self._on: tuple[str, bool] | None = None
        """The screen that it was put on, by name, and whether on the whole of it."""
        self.unplugged: str | None = None
        """The name of the screen that it was on, while that is gone; some have no name."""
        self._inhibitor: Inhibitor | None = None
        self._warned = False
        application = QGuiApplication.instance()
        assert isinstance(application, QGuiApplication)
        application.screenRemoved.connect(self._on_removed)
        application.screenAdded.connect(self._on_added)

    def put_on(self, screen: QScreen, *, whole: bool) -> None:
        """Show on a screen: the whole of it, or, where it is also the program's own, a quarter in a corner."""
        self._on, self.unplugged = (screen.name(), whole), None
        self._hold_screensaver()
        place = screen.geometry()
        if whole:
            self.setGeometry(place)
            self.showFullScreen()
            return
        self.setGeometry(place.right() - place.width() // 2, place.top(), place.width() // 2, place.height() // 2)
        self.show()

    def _hold_screensaver(self) -> None:
        """Hold the screensaver off, and say once what the person has to switch off."""
        # Imported here: a start without patterns does without the bus.
        from aequitone.desktop.patterns.inhibit import Inhibitor

        def told(kept: bool) -> None:
            if not self._warned:
                self._warned = True
                self.told.emit(_NIGHT if kept else f"{_SAVER} {_NIGHT}")

        self._inhibitor = self._inhibitor or Inhibitor()
        self._inhibitor.begin(told)

    def _on_removed(self, screen: QScreen) -> None:
        """The screen is gone: patterns on another one would be measured, or cover the program."""
        if self._on is not None and screen.name() == self._on[0] and self.isVisible():
            self.unplugged = screen.name()
            self.hide()
            name = screen.name() or "The screen of the patterns"
            self.told.emit(f"{name} is unplugged. The patterns come back with it; nothing is lost.")

    def _on_added(self, screen: QScreen) -> None:
        if self.unplugged is not None and self._on is not None and screen.name() == self.unplugged:
            self.put_on(screen, whole=self._on[1])
            self.told.emit(f"{screen.name() or 'The screen'} is back, and the patterns on it.")

    def show_patch(self, patch: Patch) -> None:
        self._patch, self._picture = patch, None
        self._timer.stop()
        self.update()

    def show_picture(self, shown: "Shown") -> None:
        """Show a test picture, which was made for this window's size in pixels."""
        self._picture, self._patch, self._began = shown, None, time.monotonic()
        if shown.picture.moves:
            self._timer.start()
        else:
            self._timer.stop()
        self.update()

    def put_picture_away(self) -> None:
        """Go back from a test picture to black; a patch that is shown stays."""
        self._picture = None
        self._timer.stop()
        self.update()

    @property
    def pixels(self) -> tuple[int, int]:
        """Width and height in pixels of the screen."""
        ratio = self.devicePixelRatioF()
        return round(self.width() * ratio), round(self.height() * ratio)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        patch = self._patch
        # Whole device pixels, whatever the desktop's scale: logical ones would blur the edge.
        ratio = self.devicePixelRatioF()
        width, height = self.pixels
        painter.scale(1.0 / ratio, 1.0 / ratio)
        if self._picture is not None:
            self._picture.paint(painter, width, time.monotonic() - self._began)
            return
        if patch is None:
            painter.fillRect(QRectF(0, 0, width, height), QColor(0, 0, 0))
            return
        black = int(code_value(0.0, 8, patch.format.range))
        painter.fillRect(QRectF(0, 0, width, height), QColor(black, black, black))
        rects = [window_rect(width, height, patch.format.window)]
        if patch.shape is Shape.BOARD:
            # The squares beside the middle one are its opposite.
            if patch.percent == 0.0:
                white = int(code_value(1.0, 8, patch.format.range))
                painter.fillRect(QRectF(0, 0, width, height), QColor(white, white, white))
            rects = board_rects(width, height, BOARD_SQUARES)
        elif patch.shape is Shape.CORNERS:
            white = int(code_value(1.0, 8, patch.format.range))
            for rect in corner_rects(width, height, CORNER_AREA):
                painter.fillRect(QRectF(rect.x, rect.y, rect.width, rect.height), QColor(white, white, white))
        for rect in rects:
            painter.fillRect(QRectF(rect.x, rect.y, rect.width, rect.height), QColor(*patch.codes))
        QTimer.singleShot(0, lambda: self.painted.emit(patch))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.close()

    def closeEvent(self, event: QCloseEvent) -> None:
        self._timer.stop()
        if self._inhibitor is not None:
            self._inhibitor.end()
        self.closed.emit()
        super().closeEvent(event)


class ScreenPatterns(QObject):
    """Implements PatternSource on the pattern window, from the runner's thread."""

    _wanted = Signal(object)

    def __init__(self, window: PatternWindow, *, settle_seconds: float = 0.7) -> None:
        super().__init__()
        self.name = "Pattern window"
        self.settle_seconds = settle_seconds
        self._window = window
        self._changed = threading.Condition()
        self._painted: Patch | None = None
        self._wanted.connect(window.show_patch, Qt.ConnectionType.QueuedConnection)
        window.painted.connect(self._on_painted)

    def show(self, patch: Patch) -> None:
        if patch.format.depth != 8:
            raise InstrumentError(self.name, f"it shows 8 bit, not {patch.format.depth} bit")
        if not self._window.isVisible():
            gone = self._window.unplugged
            why = f"{gone or 'its screen'} is unplugged; plug it in again" if gone is not None else _CLOSED
            raise InstrumentError(self.name, why)
        with self._changed:
            self._painted = None
        self._wanted.emit(patch)
        with self._changed:
            if not self._changed.wait_for(lambda: self._painted == patch, _PATIENCE_SECONDS):
                raise InstrumentError(self.name, f"{patch.name} did not reach the screen")

    def shows(self, patch: Patch) -> bool:
        return self._painted == patch and self._window.isVisible()

    def _on_painted(self, patch: Patch) -> None:
        with self._changed:
            self._painted = patch
            self._changed.notify_all()


def screen_names() -> list[str]:
    """The screens of this computer as a person would tell them apart, the main one first."""
    primary = QGuiApplication.primaryScreen()
    names = []
    for screen in sorted(QGuiApplication.screens(), key=lambda screen: screen is not primary):
        size = screen.size()
        mine = ", here" if screen is primary else ""
        names.append(f"{screen.name()} {size.width()} × {size.height()}{mine}")
    return names


def screen_of(name: str) -> QScreen:
    """The screen of such a name; the last one, most likely the television, where it is gone."""
    primary = QGuiApplication.primaryScreen()
    ordered = sorted(QGuiApplication.screens(), key=lambda screen: screen is not primary)
    for screen, label in zip(ordered, screen_names(), strict=True):
        if label == name:
            return screen
    return ordered[-1]
