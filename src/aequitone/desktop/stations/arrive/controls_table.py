"""The table of controls as found: Enter goes from row to row, and a control with choices offers them."""

from PySide6.QtCore import QAbstractItemModel, QEvent, QModelIndex, QObject, QPersistentModelIndex, Qt
from PySide6.QtGui import QContextMenuEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QComboBox,
    QMenu,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QWidget,
)

CHOICES = Qt.ItemDataRole.UserRole + 1
"""The data of a cell that holds one of several choices: their words."""
FILL_DOWN = QKeySequence("Ctrl+F")
_ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
Index = QModelIndex | QPersistentModelIndex


class ControlsTable(QTableWidget):
    """Rows of controls; typing on a cell changes it."""

    def __init__(self, columns: int) -> None:
        super().__init__(0, columns)
        self.setItemDelegate(ControlDelegate(self))
        self.setTabKeyNavigation(False)
        self.setTextElideMode(Qt.TextElideMode.ElideMiddle)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ContiguousSelection)
        # By rows, the last one could not be scrolled to whole.
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setEditTriggers(
            QAbstractItemView.EditTrigger.AnyKeyPressed
            | QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.EditKeyPressed
        )

    def edit(  # type: ignore[override]
        self, index: Index, trigger: QAbstractItemView.EditTrigger, event: QEvent
    ) -> bool:
        # A cell that cannot be changed is not begun to be edited: Qt would warn of it on the terminal.
        if not index.flags() & Qt.ItemFlag.ItemIsEditable:
            return False
        return super().edit(index, trigger, event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in _ENTER and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            # Enter that ends an edit comes here too; it goes down once that edit is closed.
            if self.state() is not QAbstractItemView.State.EditingState:
                self.go_down()
            return
        if QKeySequence(event.keyCombination()) == FILL_DOWN:
            self.fill_down()
            return
        super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.addAction(f"Fill down\t{FILL_DOWN.toString()}").triggered.connect(lambda _=False: self.fill_down())
        menu.popup(event.globalPos())

    def fill_down(self) -> None:
        """Put the topmost of the chosen cells of each column into those below it.

        Where one cell is chosen, the cell above goes into it, and the row after it comes next: as spreadsheets do.
        What cannot be changed, or does not offer the word, is left as it is.
        """
        cells = sorted((index.column(), index.row()) for index in self.selectedIndexes())
        if len(cells) == 1:
            ((column, row),) = cells
            if row > 0:
                self._take_over(column, row - 1, row)
                self.go_down()
            return
        tops: dict[int, int] = {}
        for column, row in cells:
            if tops.setdefault(column, row) != row:
                self._take_over(column, tops[column], row)

    def _take_over(self, column: int, from_row: int, row: int) -> None:
        above, cell = self.item(from_row, column), self.item(row, column)
        if above is None or cell is None or not cell.flags() & Qt.ItemFlag.ItemIsEditable:
            return
        choices = cell.data(CHOICES)
        if not choices or above.text() in choices:
            cell.setText(above.text())

    def closeEditor(self, editor: QWidget, hint: QAbstractItemDelegate.EndEditHint) -> None:
        super().closeEditor(editor, hint)
        if hint is QAbstractItemDelegate.EndEditHint.SubmitModelCache:
            self.go_down()

    def go_down(self) -> None:
        """Go to the same column of the next row."""
        if self.currentRow() + 1 < self.rowCount():
            self.setCurrentCell(self.currentRow() + 1, self.currentColumn())


class ControlDelegate(QStyledItemDelegate):
    """Edits a cell: as text, or by its choices."""

    def createEditor(self, parent: QWidget, option: QStyleOptionViewItem, index: Index) -> QWidget:
        choices = index.data(CHOICES)
        if not choices:
            return super().createEditor(parent, option, index)
        combo = QComboBox(parent)
        combo.addItem("")
        combo.addItems(list(choices))
        combo.setAccessibleName("Setting as found")
        combo.activated.connect(lambda _: self._chosen(combo))
        return combo

    def setEditorData(self, editor: QWidget, index: Index) -> None:
        if isinstance(editor, QComboBox):
            editor.setCurrentIndex(max(0, editor.findText(str(index.data() or ""))))
            return
        super().setEditorData(editor, index)

    def setModelData(self, editor: QWidget, model: QAbstractItemModel, index: Index) -> None:
        if isinstance(editor, QComboBox):
            model.setData(index, editor.currentText())
            return
        super().setModelData(editor, model, index)

    def eventFilter(self, editor: QObject, event: QEvent) -> bool:
        pressed = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress
        if pressed and isinstance(editor, QComboBox) and event.key() in _ENTER:  # type: ignore[attr-defined]
            self._chosen(editor)
            return True
        return super().eventFilter(editor, event)

    def _chosen(self, editor: QComboBox) -> None:
        self.commitData.emit(editor)
        self.closeEditor.emit(editor, QAbstractItemDelegate.EndEditHint.SubmitModelCache)
