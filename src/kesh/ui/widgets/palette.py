"""The box of commands and the key card: small windows over the sheet, closed by Escape."""

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QDialog, QGridLayout, QLabel, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from kesh.ui.actions import ACTIONS, SHEET_KEYS, Act
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme
from kesh.ui.widgets.common import title


class Over(QDialog):
    """A plain box over the window."""

    def __init__(self, parent: QWidget, theme: Theme) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setStyleSheet(f"QDialog {{ background: {theme.panel}; border: 1px solid {theme.edge}; }}")
        self.theme = theme

    def open_over(self, window: QWidget) -> None:
        """Show in the upper middle of a window."""
        self.adjustSize()
        at = window.mapToGlobal(QPoint((window.width() - self.width()) // 2, 90))
        self.move(at)
        self.show()


class CommandBox(Over):
    """Type a few letters, Enter does it."""

    def __init__(self, parent: QWidget, theme: Theme, do: Callable[[Act], None]) -> None:
        super().__init__(parent, theme)
        self._do = do
        column = QVBoxLayout(self)
        self.line = QLineEdit()
        self.line.setPlaceholderText("What shall be done?")
        self.line.setAccessibleName("Find a command")
        self.list = QListWidget()
        self.list.setFixedSize(fonts.scaled(430), fonts.scaled(330))
        self.list.setAccessibleName("Commands")
        column.addWidget(self.line)
        column.addWidget(self.list)
        self.line.textChanged.connect(self._search)
        self.line.installEventFilter(self)
        self.list.itemActivated.connect(lambda _: self._run())
        self.list.itemClicked.connect(lambda _: self._run())
        self._search("")
        self.line.setFocus()

    def _search(self, needle: str) -> None:
        self.list.clear()
        for act, row in ACTIONS.items():
            if act != Act.COMMANDS and all(w in f"{row.text} {row.group}".lower() for w in needle.lower().split()):
                item = QListWidgetItem(f"{row.text}    {row.shortcut}")
                item.setData(Qt.ItemDataRole.UserRole, act)
                self.list.addItem(item)
        self.list.setCurrentRow(0)

    def _run(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            act = item.data(Qt.ItemDataRole.UserRole)
            self.close()
            self._do(act)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                by = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + by)))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._run()
                return True
        return super().eventFilter(watched, event)


class KeyCard(Over):
    """All keys on one card."""

    def __init__(self, parent: QWidget, theme: Theme) -> None:
        super().__init__(parent, theme)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 18)
        column.addWidget(title("Keys"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(3)
        rows = [(row.shortcut, row.text) for row in ACTIONS.values()] + list(SHEET_KEYS)
        half = (len(rows) + 1) // 2
        for i, (keys, text) in enumerate(rows):
            key, word = QLabel(keys), QLabel(text)
            key.setAlignment(Qt.AlignmentFlag.AlignRight)
            key.setStyleSheet("font-weight: bold;")
            grid.addWidget(key, i % half, 2 * (i // half))
            grid.addWidget(word, i % half, 2 * (i // half) + 1)
        column.addLayout(grid)
