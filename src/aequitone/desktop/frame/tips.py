"""Tool tips of what is painted: which words belong to which place."""

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QPointF
from PySide6.QtGui import QHelpEvent
from PySide6.QtWidgets import QToolTip, QWidget


class PlaceTips(QObject):
    """Shows what `tip_at` says of the place under the mouse; "" for nothing."""

    def __init__(self, widget: QWidget, tip_at: Callable[[QPointF], str]) -> None:
        super().__init__(widget)
        self._widget, self._tip_at = widget, tip_at
        widget.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() != QEvent.Type.ToolTip or not isinstance(event, QHelpEvent):
            return False
        QToolTip.showText(event.globalPos(), self._tip_at(QPointF(event.pos())), self._widget)
        return True
