"""Figures in rows, and a line with a status mark."""

from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.desk.shelf import Fact
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.session import Session
from kesh.ui.theme import fonts


class FactList(QWidget):
    """Computed figures, one a line, with a mark where one is judged."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._facts: tuple[Fact, ...] = ()

    def show_facts(self, found: tuple[Fact, ...]) -> None:
        """Other figures."""
        self._facts = found
        self.setFixedHeight(fonts.scaled(21) * len(found) + 4)
        self.setAccessibleName("; ".join(f"{f.words} {f.value}" for f in found))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t, each = self._session.theme, fonts.scaled(21)
        for i, fact in enumerate(self._facts):
            y = each * (i + 1) - 6.0
            if fact.status:
                status_mark(painter, t, fact.status, 6, y - 4.5, 10)
            words(painter, t, fact.words, 20, y, font=fonts.text(14))
            words(painter, t, fact.value, self.width(), y, font=fonts.text(14, bold=True), align="right")


class MarkedLine(QWidget):
    """A status mark before a link."""

    def __init__(self, session: Session, status: str, link: QWidget) -> None:
        super().__init__()
        self._session, self._status = session, status
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 0, 0, 0)
        column.addWidget(link)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        status_mark(painter, self._session.theme, self._status, 6, self.height() / 2, 10)
