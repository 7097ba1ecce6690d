"""The controls of a colour management as a list: where each stands, and where a move wants it."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from aequitone.desktop.frame import theme
from aequitone.desktop.stations.colour.state import ColourPage, Setting

_ROW, _LEAST_ROW, _NAME = 72.0, 34.0, 16.0
_LEFTS = Qt.AlignmentFlag.AlignLeft


def settings(painter: QPainter, place: QRectF, page: ColourPage) -> None:
    """Draw the settings of a page, a row a colour; those that are to be turned stand out."""
    asked = any(setting.to is not None for _, row in page.settings for setting in row)
    note = "Controls: turn those that stand out" if asked else "Controls, as they stand"
    theme.text(painter, QRectF(place.left(), place.top(), place.width(), 16), note, theme.NOTE, theme.QUIET)
    inner = place.adjusted(0, 26, 0, 0)
    most = max(len(row) for _, row in page.settings)
    tall, wide = min(_ROW, inner.height() / len(page.settings)), inner.width() / most
    if tall < _LEAST_ROW:
        return
    for i, (_, row) in enumerate(page.settings):
        top = inner.top() + i * tall
        painter.setPen(QPen(theme.RAISED, 1.0))
        painter.drawLine(QPointF(inner.left(), top + tall - 4.0), QPointF(inner.right(), top + tall - 4.0))
        for j, setting in enumerate(row):
            _setting(painter, QRectF(inner.left() + j * wide, top, wide - 12.0, tall - 8.0), setting)


def _setting(painter: QPainter, place: QRectF, setting: Setting) -> None:
    asked = setting.to is not None
    name = QRectF(place.left(), place.top(), place.width(), _NAME)
    theme.text(painter, name, setting.name, theme.NOTE, theme.TEXT if asked else theme.QUIET, align=_LEFTS)
    words = f"{setting.now} → {setting.to}" if asked else f"{setting.now}"
    figure = QRectF(place.left(), place.top() + _NAME, place.width(), 22.0)
    theme.text(painter, figure, words, theme.BODY, theme.ACCENT if asked else theme.FAINT, align=_LEFTS)
