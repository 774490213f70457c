"""The box of commands and the key card: small windows over the sheet, closed by Escape."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QGridLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from kesh.reference.search import explained
from kesh.ui.rooms.room import Command
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme
from kesh.ui.widgets.common import Sheet, title


class Over(Sheet):
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
    """Type a few letters, Enter does it. Commands stand in their groups, their keys in a column."""

    def __init__(
        self, parent: QWidget, theme: Theme, commands: Sequence[Command], do: Callable[[str], None],
        meant: Callable[[str], list[str]] = lambda words: [],
    ) -> None:  # fmt: skip
        super().__init__(parent, theme)
        self._do, self._commands, self._meant = do, commands, meant
        column = QVBoxLayout(self)
        self.line = QLineEdit()
        self.line.setPlaceholderText("What shall be done?")
        self.line.setAccessibleName("Find a command")
        self.list = QTreeWidget()
        self.list.setColumnCount(2)
        self.list.setHeaderHidden(True)
        self.list.setRootIsDecorated(False)
        self.list.setIndentation(0)
        self.list.setUniformRowHeights(True)
        self.list.setFixedSize(fonts.scaled(560), fonts.scaled(400))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setAccessibleName("Commands")
        across = self.list.header()
        assert across is not None
        across.setStretchLastSection(False)
        across.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        across.setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        column.addWidget(self.line)
        column.addWidget(self.list)
        self.line.textChanged.connect(self._search)
        self.line.installEventFilter(self)
        self.list.itemActivated.connect(lambda *_: self._run())
        self.list.itemClicked.connect(lambda *_: self._run())
        self._search("")
        self.line.setFocus()

    @property
    def rows(self) -> list[QTreeWidgetItem]:
        """The commands in sight, without the heads of their groups."""
        found = [self.list.topLevelItem(i) for i in range(self.list.topLevelItemCount())]
        return [row for row in found if row is not None and row.data(0, Qt.ItemDataRole.UserRole)]

    def _search(self, needle: str) -> None:
        self.list.clear()
        group, shown = "", set[str]()
        words = needle.lower().split()
        for row in self._commands:
            if row.key == "commands" or not all(w in f"{row.text} {row.group} {row.also}".lower() for w in words):
                continue
            if row.group != group:
                group = row.group
                self._head(group)
            self._row(row)
            shown.add(row.key)
        by_key = {row.key: row for row in self._commands}
        more = (
            [by_key[key] for key in self._meant(needle) if key in by_key and key not in shown and key != "commands"]
            if words
            else []
        )
        if more:
            self._head("Perhaps")
            for row in more:
                self._row(row)
        means = explained(needle) if words else ""
        if means:
            self._head(means)
        if self.rows:
            self.list.setCurrentItem(self.rows[0])
        elif words and not means:
            self._head("Nothing is near: try one word of it, or what you want to do")

    def _head(self, told: str) -> None:
        head = QTreeWidgetItem([told, ""])
        head.setToolTip(0, told)
        head.setFlags(Qt.ItemFlag.NoItemFlags)
        head.setFont(0, fonts.book(15))
        self.list.addTopLevelItem(head)

    def _row(self, row: Command) -> None:
        item = QTreeWidgetItem([f"   {row.text}", row.shortcut])
        item.setData(0, Qt.ItemDataRole.UserRole, row.key)
        item.setToolTip(0, f"{row.text}\n{row.also}" if row.also else row.text)
        self.list.addTopLevelItem(item)

    def _run(self) -> None:
        item = self.list.currentItem()
        key = item.data(0, Qt.ItemDataRole.UserRole) if item is not None else None
        if key:
            self.close()
            self._do(key)

    def _step(self, by: int) -> None:
        rows, now = self.rows, self.list.currentItem()
        if rows:
            at = next((i for i, row in enumerate(rows) if row is now), 0)
            self.list.setCurrentItem(rows[max(0, min(len(rows) - 1, at + by))])

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                self._step(1 if event.key() == Qt.Key.Key_Down else -1)
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._run()
                return True
        return super().eventFilter(watched, event)


KEY_COLUMNS = 3


class KeyCard(Over):
    """All keys on one card."""

    def __init__(
        self, parent: QWidget, theme: Theme, commands: Sequence[Command], sheet_keys: Sequence[tuple[str, str]]
    ) -> None:
        super().__init__(parent, theme)
        self._words: list[QLabel] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 10, 20, 10)
        column.addWidget(title("Keys"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(0)
        rows = [(row.shortcut, row.text) for row in commands if row.shortcut] + list(sheet_keys)
        each = -(-len(rows) // KEY_COLUMNS)
        for i, (keys, text) in enumerate(rows):
            key, word = QLabel(keys), QLabel(text)
            key.setAlignment(Qt.AlignmentFlag.AlignRight)
            key.setStyleSheet("font-weight: bold;")
            word.setWordWrap(True)
            word.setAlignment(Qt.AlignmentFlag.AlignTop)
            word.setFixedWidth(fonts.scaled(262))
            self._words.append(word)
            grid.addWidget(key, i % each, 2 * (i // each))
            grid.addWidget(word, i % each, 2 * (i // each) + 1)
        column.addLayout(grid)

    def open_over(self, window: QWidget) -> None:
        """Show, every line as high as its words: the grid asks nobody how high wrapped words are."""
        for word in self._words:
            word.ensurePolished()
            word.setMinimumHeight(word.heightForWidth(word.maximumWidth()))
        super().open_over(window)
