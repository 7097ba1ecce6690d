"""Colours, type and the style of standard widgets (docs/look.md)."""

from functools import cache, lru_cache
from importlib import resources

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF, QPainter, QPainterPath, QPalette, QPen
from PySide6.QtWidgets import QApplication

from aequitone.reference import Verdict

# The chrome is neutral: R = G = B everywhere, so that it does not tint the judgement of colour.
GROUND = QColor(24, 24, 24)
PANEL = QColor(32, 32, 32)
RAISED = QColor(44, 44, 44)
LINE = QColor(62, 62, 62)
FAINT = QColor(104, 104, 104)
QUIET = QColor(160, 160, 160)
TEXT = QColor(218, 218, 218)
BRIGHT = QColor(238, 238, 238)
# The one warm accent: your move, and nothing else.
ACCENT = QColor(232, 196, 119)
CHANNEL = {"R": QColor(224, 112, 108), "G": QColor(112, 186, 112), "B": QColor(122, 156, 236)}

NOTE, BODY, TITLE, MOVE, FIGURE = 11, 13, 16, 30, 54
_FAMILY = "B612"


def load_fonts() -> None:
    """Make the shipped fonts known to Qt; call once, after the application exists."""
    folder = resources.files("aequitone") / "assets" / "fonts"
    for name in ("B612-Regular.ttf", "B612-Bold.ttf"):
        QFontDatabase.addApplicationFontFromData((folder / name).read_bytes())


@cache
def font(size: int, *, bold: bool = False) -> QFont:
    """B612 at a size in logical pixels; one object for each, as painting asks for hundreds."""
    made = QFont(_FAMILY)
    made.setPixelSize(size)
    made.setBold(bold)
    return made


def dress(application: QApplication) -> None:
    """Palette and style sheet for the standard widgets."""
    load_fonts()
    application.setStyle("Fusion")
    application.setFont(font(BODY))
    palette = QPalette()
    for role, colour in (
        (QPalette.ColorRole.Window, GROUND),
        (QPalette.ColorRole.WindowText, TEXT),
        (QPalette.ColorRole.Base, PANEL),
        (QPalette.ColorRole.AlternateBase, RAISED),
        (QPalette.ColorRole.Text, TEXT),
        (QPalette.ColorRole.Button, RAISED),
        (QPalette.ColorRole.ButtonText, TEXT),
        (QPalette.ColorRole.Highlight, FAINT),
        (QPalette.ColorRole.HighlightedText, BRIGHT),
        (QPalette.ColorRole.ToolTipBase, RAISED),
        (QPalette.ColorRole.ToolTipText, TEXT),
        (QPalette.ColorRole.PlaceholderText, QUIET),
    ):
        palette.setColor(role, colour)
    application.setPalette(palette)
    application.setStyleSheet(_SHEET)


_SHEET = f"""
QWidget {{ color: {TEXT.name()}; }}
QLineEdit, QPlainTextEdit, QComboBox, QSpinBox {{
    background: {PANEL.name()}; border: 1px solid {LINE.name()}; border-radius: 3px; padding: 3px 7px;
    min-height: 20px; selection-background-color: {FAINT.name()};
}}
QLineEdit:focus, QPlainTextEdit:focus, QComboBox:focus, QTableView:focus, QSpinBox:focus {{
    border: 2px solid {TEXT.name()}; padding: 2px 6px;
}}
QComboBox:disabled, QLineEdit:disabled {{ color: {QUIET.name()}; background: {GROUND.name()}; }}
QLineEdit:read-only {{ background: {GROUND.name()}; border-color: {GROUND.name()}; }}
QComboBox QAbstractItemView {{ background: {PANEL.name()}; border: 1px solid {LINE.name()}; }}
QTableView {{
    background: {GROUND.name()}; alternate-background-color: {PANEL.name()}; border: 1px solid {LINE.name()};
    gridline-color: {LINE.name()}; selection-background-color: {LINE.name()};
}}
QTableView::item {{ padding: 0 4px; }}
QHeaderView::section {{
    background: {GROUND.name()}; color: {QUIET.name()}; border: 0; border-bottom: 1px solid {LINE.name()};
    padding: 4px 6px;
}}
QTableCornerButton::section {{ background: {GROUND.name()}; border: 0; }}
QMenuBar {{ background: {GROUND.name()}; color: {QUIET.name()}; padding: 2px 14px 0 14px; }}
QMenuBar::item {{ padding: 3px 8px; border-radius: 3px; }}
QMenuBar::item:selected {{ background: {RAISED.name()}; color: {BRIGHT.name()}; }}
QMenu {{ background: {PANEL.name()}; border: 1px solid {LINE.name()}; padding: 4px 0; }}
QMenu::item {{ padding: 4px 22px 4px 26px; }}
QMenu::item:selected {{ background: {LINE.name()}; color: {BRIGHT.name()}; }}
QMenu::item:disabled {{ color: {FAINT.name()}; }}
QMenu::separator {{ height: 1px; background: {LINE.name()}; margin: 4px 10px; }}
QToolTip {{ background: {RAISED.name()}; color: {TEXT.name()}; border: 1px solid {LINE.name()}; padding: 4px; }}
QScrollBar:vertical {{ background: {GROUND.name()}; width: 10px; }}
QScrollBar::handle:vertical {{ background: {LINE.name()}; border-radius: 4px; min-height: 24px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
QScrollArea {{ border: 0; }}
"""


def text(
    painter: QPainter,
    place: QRectF,
    words: str,
    size: int,
    colour: QColor = TEXT,
    *,
    bold: bool = False,
    align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft,
    elide: Qt.TextElideMode = Qt.TextElideMode.ElideRight,
) -> float:
    """Draw one line of words, cut with an ellipsis where it does not fit; returns its width."""
    width = advance(words, size, bold=bold)
    if width > place.width() + 0.5:
        metrics = QFontMetricsF(font(size, bold=bold))
        words = metrics.elidedText(words, elide, place.width() + 0.5)
        width = metrics.horizontalAdvance(words)
    painter.setFont(font(size, bold=bold))
    painter.setPen(colour)
    painter.drawText(place, int(align | Qt.AlignmentFlag.AlignVCenter), words)
    return width


@lru_cache(maxsize=2048)
def advance(words: str, size: int, *, bold: bool = False) -> float:
    """Width of words in one line, in logical pixels."""
    return QFontMetricsF(font(size, bold=bold)).horizontalAdvance(words)


def verdict_mark(
    painter: QPainter, centre: QPointF, radius: float, verdict: Verdict, colour: QColor = TEXT
) -> None:
    """Ring, half disc or disc: a verdict by shape."""
    painter.setPen(QPen(colour, max(1.4, radius / 5.0)))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(centre, radius, radius)
    if verdict is Verdict.NOT_VISIBLE:
        return
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour)
    if verdict is Verdict.VISIBLE:
        painter.drawEllipse(centre, radius, radius)
        return
    half = QPainterPath(QPointF(centre.x(), centre.y() - radius))
    half.arcTo(QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius), 90.0, -180.0)
    painter.drawPath(half)
