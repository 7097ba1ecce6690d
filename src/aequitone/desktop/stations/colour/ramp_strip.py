"""The ramp under test: wanted above, seen below, from pale to nearly full."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from aequitone.advice.colours.ramp import RAMP
from aequitone.desktop.frame import theme
from aequitone.desktop.stations.colour.state import RampStrip

_LINE, _MOST_TALL = 18.0, 220.0
_RIGHTS = Qt.AlignmentFlag.AlignRight


def ramp_strip(painter: QPainter, place: QRectF, ramp: RampStrip) -> None:
    """Draw a ramp; what is not read yet is outlined."""
    note = f"Ramp, {ramp.colour}: wanted above, seen below"
    theme.text(painter, QRectF(place.left(), place.top(), place.width(), 16), note, theme.NOTE, theme.QUIET)
    tall = min(_MOST_TALL, place.height() - 3.0 * _LINE)
    if tall < 40.0:
        return
    top, wide, half = place.top() + 26.0, place.width() / ramp.of, tall / 2.0
    for i in range(ramp.of):
        left = place.left() + i * wide
        if i < len(ramp.pairs):
            wanted, seen = ramp.pairs[i]
            # No gap between neighbours: a gap would hide a step.
            painter.fillRect(QRectF(left, top, wide + 1.0, half), QColor(*wanted))
            painter.fillRect(QRectF(left, top + half, wide + 1.0, half), QColor(*seen))
            continue
        painter.setPen(QPen(theme.LINE, 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(left + 0.5, top + 0.5, wide - 1.0, tall - 1.0))
    below = QRectF(place.left(), top + tall + 4.0, place.width(), _LINE)
    theme.text(painter, below, f"{RAMP[0]:.0f} %", theme.NOTE, theme.QUIET)
    theme.text(painter, below, f"{RAMP[-1]:.0f} %", theme.NOTE, theme.QUIET, align=_RIGHTS)
    if ramp.words:
        theme.text(painter, below.translated(0.0, _LINE), ramp.words, theme.BODY, theme.BRIGHT)
