"""Rows that can wait: one line says what they are until somebody opens it, or until one of them holds something."""

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.ui.widgets.common import button


class Folded(QWidget):
    """A line to open, and the rows below it."""

    def __init__(self, words: str, tip: str = "") -> None:
        super().__init__()
        self._asked = False
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.way = button(words, self.unfold, link=True, tip=tip)
        self.rows = QWidget()
        self._inside = QVBoxLayout(self.rows)
        self._inside.setContentsMargins(0, 0, 0, 0)
        self._inside.setSpacing(2)
        column.addWidget(self.way)
        column.addWidget(self.rows)

    def add(self, widget: QWidget) -> None:
        """One row more."""
        self._inside.addWidget(widget)

    def unfold(self) -> None:
        """Open, and stay so."""
        self._asked = True
        self.show_needed(True)

    def show_needed(self, needed: bool) -> None:
        """Open where a row holds something or where somebody asked for it."""
        self.rows.setVisible(needed or self._asked)
        self.way.setVisible(not (needed or self._asked))
