"""The controls of a colour management as a list: where each stands, and where a move wants it."""

import re
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from aequitone.desktop.frame import theme
from aequitone.desktop.stations.colour.state import ColourPage, Setting

_ROW, _LEAST_ROW, _LINE, _FIGURE, _GAP, _WIDE = 72.0, 48.0, 15.0, 18.0, 4.0, 80.0
_LEFTS = Qt.AlignmentFlag.AlignLeft


def settings(painter: QPainter, place: QRectF, page: ColourPage) -> None:
    """Draw the settings of a page, a row a colour; those that are to be turned stand out."""
    asked = [setting for _, row in page.settings for setting in row if setting.to is not None]
    turn = "turn" if any(setting.to != setting.now for setting in asked) else "look at"
    note = f"Controls: {turn} those that stand out" if asked else "Controls, as they stand"
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
        shared = _shared(row)
        theme.text(painter, QRectF(inner.left(), top, inner.width(), _LINE), shared, theme.NOTE, theme.QUIET)
        for j, setting in enumerate(row):
            place_ = QRectF(inner.left() + j * wide, top + _LINE, wide - _GAP, tall - _LINE)
            _setting(painter, place_, setting, setting.name[len(shared) :].lstrip(": "))


def _shared(row: Sequence[Setting]) -> str:
    """The word that all names of a row begin with: "Red" of "Red hue" and "Red saturation"."""
    first = {re.split(r"[ :]", setting.name)[0] for setting in row}
    return first.pop() if len(first) == 1 and all(len(s.name.split()) > 1 for s in row) else ""


def _setting(painter: QPainter, place: QRectF, setting: Setting, name: str) -> None:
    asked = setting.to is not None
    at = QRectF(place.left(), place.top(), place.width(), _LINE)
    theme.text(painter, at, name, theme.NOTE, theme.TEXT if asked else theme.QUIET, align=_LEFTS)
    words = f"{setting.now} → {setting.to}" if asked and setting.to != setting.now else f"{setting.now}"
    figure = QRectF(place.left(), place.top() + _LINE, place.width(), _FIGURE)
    # Where to turn it must be seen whole in the smallest window too.
    size = theme.BODY if place.width() > _WIDE else theme.NOTE
    theme.text(painter, figure, words, size, theme.ACCENT if asked else theme.FAINT, align=_LEFTS)
