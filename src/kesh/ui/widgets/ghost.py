"""What is about to stand somewhere, to scale beside a cup, with grips that are dragged to the size."""

from collections.abc import Mapping

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.desk.first import CUP_MM
from kesh.ui.paint.marks import ruler, words
from kesh.ui.session import Session
from kesh.ui.theme import fonts

GRIP_PX, REACH_PX = 11.0, 26.0


class Ghost(QWidget):
    """A ground line, a ruler, a cup and grips; what stands on it is drawn by whoever takes this up."""

    sized = pyqtSignal(str, float)

    def __init__(self, session: Session, name: str) -> None:
        super().__init__()
        self._session = session
        self._held = ""
        self.setMinimumSize(fonts.scaled(300), fonts.scaled(220))
        self.setAccessibleName(name)
        self.setMouseTracking(True)

    @property
    def px_mm(self) -> float:
        """Pixels for a millimetre."""
        return 1.0

    def foot(self) -> QPointF:
        """The middle of what stands there, on the ground line."""
        return QPointF(self.width() / 2, self.height() - 18)

    def grips(self) -> Mapping[str, QPointF]:
        """Where each size is taken."""
        return {}

    def mm_at(self, key: str, at: QPointF) -> float:
        """The size a grip has when it is dragged there."""
        return (self.foot().y() - at.y()) / self.px_mm

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            away = {key: (at - event.position()).manhattanLength() for key, at in self.grips().items()}
            near = [key for key in sorted(away, key=away.__getitem__) if away[key] < REACH_PX]
            self._held = near[0] if near else ""

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._held:
            self.sized.emit(self._held, self.mm_at(self._held, event.position()))
            return
        near = any((p - event.position()).manhattanLength() < REACH_PX for p in self.grips().values())
        self.setCursor(Qt.CursorShape.SizeAllCursor if near else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = ""

    def begin(self, event: QPaintEvent | None, tall_mm: float) -> QPainter:
        """A painter on the sheet with the ruler and the ground line drawn."""
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), t.color("sheet"))
        y = self.foot().y()
        ruler(painter, t, 32, y, self.px_mm, tall_mm, unit=self._session.units.length)
        painter.setPen(QPen(t.color("ink"), 1.5))
        painter.drawLine(QLineF(36, y, self.width() - 6, y))
        return painter

    def grip(self, painter: QPainter, key: str, shown: str, *, known: bool, line: QLineF | None = None) -> None:
        """A handle with its size beside it; a question mark while nobody said it."""
        t, at = self._session.theme, self.grips()[key]
        painter.setPen(QPen(t.color("moss"), 1.4))
        if line is not None:
            painter.drawLine(line)
        painter.setBrush(t.color("sheet"))
        painter.drawRect(QRectF(at.x() - GRIP_PX / 2, at.y() - GRIP_PX / 2, GRIP_PX, GRIP_PX))
        text = shown if known else f"{shown}?"
        words(painter, t, text, at.x() + 12, at.y() - 4, "moss" if known else "quiet",
              font=fonts.text(14, bold=True), ground="sheet")  # fmt: skip

    def cup(self, painter: QPainter, right_px: float) -> None:
        """Something everybody knows the size of, ending at `right_px`."""
        t, k, y = self._session.theme, self.px_mm, self.foot().y()
        high, wide = CUP_MM * k, 0.84 * CUP_MM * k
        box = QRectF(right_px - 1.3 * wide, y - high, wide, high)
        painter.setPen(QPen(t.color("ink"), 1))
        painter.setBrush(t.color("indigo_tint"))
        painter.drawEllipse(QRectF(box.right() - 0.1 * wide, box.top() + 0.2 * high, 0.36 * wide, 0.5 * high))
        painter.drawRoundedRect(box, 2, 2)
        painter.setPen(QPen(t.color("indigo_fill"), 1.4))
        for share in (0.18, 0.25):
            painter.drawLine(QLineF(box.left(), box.top() + share * high, box.right(), box.top() + share * high))
        text = f"a cup, {self._session.units.figure(CUP_MM)}"
        words(painter, t, text, box.left(), box.top() - 6, "quiet", font=fonts.text(12))
