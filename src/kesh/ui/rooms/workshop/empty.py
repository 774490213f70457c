"""A place where nothing stands yet: one drawing, one sentence, and what to do about it."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, title


class DashedPots(QWidget):
    """Two dashed pots on a board."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setFixedHeight(fonts.scaled(150))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y, middle = self.height() - 12.0, self.width() / 2
        painter.setPen(QPen(t.color("ink"), 1.5))
        painter.drawLine(QLineF(middle - 230, y, middle + 230, y))
        pen = QPen(t.color("edge"), 1.3)
        pen.setDashPattern([5, 4])
        painter.setPen(pen)
        painter.setBrush(t.color("oxide_tint", 0.5))
        for x, wide, high, foot in ((-110, 190, 62, 22), (95, 130, 92, 16)):
            left = middle + x - wide / 2
            painter.drawPolygon(_trapeze(left, wide, y - 8, high, foot))
            for at in (left + foot + 6, left + wide - foot - 30):
                painter.drawRect(QRectF(at, y - 8, 24, 8))


def _trapeze(left: float, wide: float, low: float, high: float, inset: float) -> QPolygonF:
    return QPolygonF([
        QPointF(left, low - high), QPointF(left + wide, low - high), QPointF(left + wide - inset, low), QPointF(left + inset, low),
    ])  # fmt: skip


class WordsPanel(Panel):
    """Beside an empty place: what is taken as known, and what is left to say."""

    def __init__(self, session: Session, head: str, *sections: tuple[str, str]) -> None:
        super().__init__(session)
        self.column.addWidget(title(head))
        for words, sentence in sections:
            if words:
                self.gap(4)
                self.column.addWidget(SectionHead(session, words))
            self.column.addWidget(quiet(sentence))


class EmptySheet(QWidget):
    """Drawing, title, sentence and actions in the middle of a sheet."""

    def __init__(
        self, session: Session, head: str, sentence: str, actions: Sequence[tuple[str, Callable[[], object]]]
    ) -> None:
        super().__init__()
        self.setObjectName("sheet")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(self)
        column.addStretch(2)
        column.addWidget(DashedPots(session))
        column.addSpacing(10)
        for words in (title(head, 21), quiet(sentence)):
            words.setAlignment(Qt.AlignmentFlag.AlignHCenter)
            column.addWidget(words)
        column.addSpacing(8)
        line = QHBoxLayout()
        line.addStretch(1)
        self.ways = [button(text, do, main=i == 0) for i, (text, do) in enumerate(actions)]
        for made in self.ways:
            line.addWidget(made)
        line.addStretch(1)
        column.addLayout(line)
        column.addStretch(3)
