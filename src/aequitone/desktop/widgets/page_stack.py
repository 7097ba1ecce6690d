"""Views of one room, one for each kind of page that it draws."""

from collections.abc import Mapping
from typing import Any

from PySide6.QtWidgets import QStackedWidget, QWidget


class PageStack(QStackedWidget):
    """Shows a page in the view of its type."""

    def __init__(self, views: Mapping[type, QWidget]) -> None:
        super().__init__()
        self._views = dict(views)
        for view in self._views.values():
            self.addWidget(view)

    def show_page(self, page: Any) -> None:
        """Draw a page."""
        view = self._views[type(page)]
        view.show_page(page)  # type: ignore[attr-defined]
        self.setCurrentWidget(view)
