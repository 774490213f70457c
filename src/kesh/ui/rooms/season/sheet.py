"""The sheet of Season: its title and views, the chart with this week below it, and who gets which pot."""

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from kesh.ui.paint.gallery import Gallery
from kesh.ui.rooms.season.chart import SeasonChart
from kesh.ui.rooms.season.week_table import WeekTable
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import quiet, title

LOW_PX = 560


class SeasonSheet(QWidget):
    """`turned` is sent with the view that was asked for."""

    turned = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery, views: Sequence[tuple[str, str]], pots: QWidget) -> None:
        super().__init__()
        self.setObjectName("sheet")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 10, 0, 0)
        column.setSpacing(6)
        self.title, self.under = title("", 21), quiet("")
        self.title.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.title.setWordWrap(False)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a tree, pot, mix or due work")
        self.search.setAccessibleName("Find a tree, pot, mix or due work")
        self.search.setFixedWidth(fonts.scaled(200))
        head = QHBoxLayout()
        head.setContentsMargins(14, 0, 14, 0)
        head.setSpacing(10)
        head.addWidget(self.title, 1)
        head.addWidget(self.search)
        column.addLayout(head)
        line = QHBoxLayout()
        line.setContentsMargins(14, 0, 14, 0)
        line.setSpacing(0)
        line.addWidget(self.under, 1)
        group = QButtonGroup(self)
        self.views: dict[str, QPushButton] = {}
        for key, text in views:
            made = self.views[key] = QPushButton(text)
            made.setCheckable(True)
            made.clicked.connect(lambda _=False, k=key: self.turned.emit(k))
            group.addButton(made)
            line.addWidget(made)
        column.addLayout(line)
        self.chart, self.week = SeasonChart(session, gallery), WeekTable(session, gallery)
        self.both = QWidget()
        inner = QVBoxLayout(self.both)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(0)
        inner.addWidget(self.chart, 1)
        inner.addWidget(self.week)
        self.stack = QStackedWidget()
        self.stack.addWidget(self.both)
        self.stack.addWidget(pots)
        self.pots = pots
        column.addWidget(self.stack, 1)

    def show_view(self, key: str) -> None:
        """Mark the view and put its part in sight."""
        self.views[key].setChecked(True)
        self.stack.setCurrentWidget(self.pots if key == "pots" else self.both)
        self.search.setVisible(key != "pots")

    def resizeEvent(self, event: object) -> None:
        self.fold()

    def fold(self) -> None:
        """A low window keeps the chart and folds this week."""
        self.week.setVisible(self.height() >= fonts.scaled(LOW_PX))
