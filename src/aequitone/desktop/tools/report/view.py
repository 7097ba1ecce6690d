"""The Report tool: a form for letterhead and notes, and a page of the report beside it."""

from dataclasses import replace

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QImage, QPainter, QPaintEvent, QPixmap
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from aequitone.desktop.frame import theme
from aequitone.desktop.tools.report.state import PageImage, ReportDraft, ReportPage
from aequitone.desktop.widgets.forms import label_of, place
from aequitone.handover.letterhead import DEFAULT_COLOUR, PAPERS
from aequitone.handover.picture import Exposure

_LINES = 4
_PICTURE_HIGH = 44


class ReportView(QWidget):
    """Shows a ReportPage, and reads the draft back."""

    edited = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._page = ReportPage(-1)
        self._name, self._colour = QLineEdit(), QLineEdit()
        self._colour.setPlaceholderText(DEFAULT_COLOUR)
        self._address, self._notes = _lines("Address"), _lines("Notes of this visit, for the client")
        self._paper, self._exposure = QComboBox(), QComboBox()
        self._paper.addItems(list(PAPERS))
        self._exposure.addItems([each.value for each in Exposure])
        self._picture = QLabel()
        grid = QGridLayout()
        place(grid, 0, 0, "Name", self._name)
        grid.addWidget(label_of("Address", self._address), 1, 0, Qt.AlignmentFlag.AlignTop)
        grid.addWidget(self._address, 1, 1)
        grid.addWidget(label_of("Picture", self._picture), 2, 0)
        grid.addWidget(self._picture, 2, 1)
        place(grid, 3, 0, "Colour", self._colour)
        place(grid, 4, 0, "Paper", self._paper)
        place(grid, 5, 0, "Before, after", self._exposure)
        grid.addWidget(label_of("Notes", self._notes), 6, 0, Qt.AlignmentFlag.AlignTop)
        grid.addWidget(self._notes, 6, 1)
        form = QVBoxLayout()
        form.addLayout(grid)
        form.addStretch(1)
        self._sheet = _Sheet()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 2, 4, 4)
        layout.setSpacing(14)
        layout.addLayout(form, 2)
        layout.addWidget(self._sheet, 3)
        for edit in (self._name, self._colour):
            edit.textEdited.connect(self.edited)
        for text in (self._address, self._notes):
            text.textChanged.connect(self._typed)
        for choice in (self._paper, self._exposure):
            choice.activated.connect(self.edited)
        self._filling = False

    def show_page(self, page: ReportPage) -> None:
        """Draw the page of the report; fill the form where it was filled anew."""
        if page.revision != self._page.revision:
            self._fill(page.draft)
        self._page = page
        self._sheet.show_sheet(page.image, page.instead)

    def draft(self) -> ReportDraft:
        """What is typed now; the picture is not read back."""
        head = replace(
            self._page.draft.head,
            name=self._name.text(),
            address=self._address.toPlainText(),
            colour=self._colour.text(),
            paper=self._paper.currentText(),
            exposure=self._exposure.currentText(),
        )
        return ReportDraft(head, self._notes.toPlainText())

    def focus_first(self) -> None:
        """Put the cursor where typing should begin."""
        self._name.setFocus()

    def _fill(self, draft: ReportDraft) -> None:
        self._filling = True
        head = draft.head
        self._name.setText(head.name)
        self._colour.setText(head.colour)
        self._address.setPlainText(head.address)
        self._notes.setPlainText(draft.notes)
        self._paper.setCurrentText(head.paper or next(iter(PAPERS)))
        self._exposure.setCurrentText(head.exposure or Exposure.SAME.value)
        self._show_picture(head.image)
        self._filling = False

    def _show_picture(self, image: bytes | None) -> None:
        pixmap = QPixmap()
        if image is None or not pixmap.loadFromData(image):
            self._picture.setText("none")
            return
        smooth = Qt.TransformationMode.SmoothTransformation
        self._picture.setPixmap(pixmap.scaledToHeight(min(_PICTURE_HIGH, pixmap.height()), smooth))

    def _typed(self) -> None:
        if not self._filling:
            self.edited.emit()


class _Sheet(QWidget):
    """A page as large as it fits."""

    def __init__(self) -> None:
        super().__init__()
        self._image, self._instead = QImage(), ""
        self._of: PageImage | None = None
        self.setMinimumWidth(200)

    def show_sheet(self, image: PageImage | None, instead: str) -> None:
        """Show a page, or say why there is none."""
        if image is self._of and instead == self._instead:
            return
        self._of, self._instead = image, instead
        self._image = QImage()
        if image is not None:
            bytes_, wide = image.rgb, image.width
            self._image = QImage(bytes_, wide, image.height, 3 * wide, QImage.Format.Format_RGB888).copy()
        self.setAccessibleName(image.words if image is not None else instead)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        if self._image.isNull():
            theme.text(painter, QRectF(0, 0, self.width(), 26), self._instead, theme.BODY, theme.QUIET)
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        scale = min(self.width() / self._image.width(), self.height() / self._image.height())
        wide, high = self._image.width() * scale, self._image.height() * scale
        painter.drawImage(QRectF((self.width() - wide) / 2.0, 0.0, wide, high), self._image)


def _lines(name: str) -> QPlainTextEdit:
    """A field of several lines, which Tab leaves."""
    field = QPlainTextEdit()
    field.setTabChangesFocus(True)
    field.setAccessibleName(name)
    field.setFixedHeight(field.fontMetrics().lineSpacing() * _LINES + 14)
    return field
