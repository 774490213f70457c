"""The sheet: paper with one scale, in mm. Wheel and keys zoom, the middle button pans, Z fits."""

from collections.abc import Callable

from PyQt6.QtCore import QLineF, QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QWidget

from kesh.base.errors import KeshError
from kesh.desk.bench import Stand
from kesh.ui.paint.gallery import Gallery
from kesh.ui.session import Session
from kesh.ui.theme import fonts

TRUE_PX_MM = 96 / 25.4


class SheetView(QWidget):
    """Base of all drawings to scale. Subclasses say what lies on the sheet and paint it in px."""

    scaled = pyqtSignal(float)
    pointed = pyqtSignal(str)
    wants = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__()
        self.session, self.gallery = session, gallery
        self.setObjectName("sheet")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        # it covers all of itself, so nothing below it need be painted
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.px_mm = 0.5
        self.origin = QPointF(300, 500)
        self._fitted = True
        self._pan: QPoint | None = None
        self._way: tuple[QRectF, str] | None = None
        self.show_dimensions = True
        self.show_eye = False
        gallery.ready.connect(self.update)

    @property
    def stand(self) -> Stand | None:
        """The tree in hand in its present pot, as shown."""
        return self.session.stand()

    def extent_mm(self) -> QRectF:
        """What must be in sight: left, bottom, width, height in mm, y up from the bench."""
        return QRectF(-200, 0, 400, 500)

    def margins(self) -> tuple[int, int, int, int]:
        """Room in px kept free round the drawing: left, top, right, bottom."""
        return 60, 60, 60, 60

    def fit(self) -> None:
        """Show everything."""
        self._fitted = True
        left, top, right, bottom = self.margins()
        box = self.extent_mm()
        room_w, room_h = max(self.width() - left - right, 80), max(self.height() - top - bottom, 80)
        self.px_mm = max(0.02, min(room_w / max(box.width(), 1), room_h / max(box.height(), 1), 6.0))
        x = left + room_w / 2 - (box.left() + box.width() / 2) * self.px_mm
        y = top + room_h / 2 + (box.top() + box.height() / 2) * self.px_mm
        self.origin = QPointF(x, y)
        self.scaled.emit(self.px_mm)
        self.update()

    def refit(self) -> None:
        """Fit again unless the user has zoomed."""
        if self._fitted:
            self.fit()

    def px(self, x_mm: float, y_mm: float) -> QPointF:
        """A point of the drawing in px."""
        return QPointF(self.origin.x() + x_mm * self.px_mm, self.origin.y() - y_mm * self.px_mm)

    def mm(self, point: QPointF) -> tuple[float, float]:
        """A px point in the drawing's mm; while nothing is drawn to scale, as if a mm were a px."""
        scale = self.px_mm or 1.0
        return (point.x() - self.origin.x()) / scale, (self.origin.y() - point.y()) / scale

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom about a point, the middle by default. Nothing happens while nothing is drawn to scale."""
        if self.px_mm <= 0:
            return
        at = at or QPointF(self.width() / 2, self.height() / 2)
        x, y = self.mm(at)
        self.px_mm = min(max(self.px_mm * factor, 0.05), 8.0)
        self.origin = QPointF(at.x() - x * self.px_mm, at.y() + y * self.px_mm)
        self._fitted = False
        self.scaled.emit(self.px_mm)
        self.update()

    def resizeEvent(self, event: object) -> None:
        self.refit()

    def showEvent(self, event: object) -> None:
        self.refit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None:
            return
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(1.0015 ** event.angleDelta().y(), event.position())
            event.accept()
        else:
            event.ignore()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.MiddleButton:
            self._pan = event.position().toPoint()
        if event is not None and event.button() == Qt.MouseButton.LeftButton and self.way_at(event.position()):
            self.wants.emit(self.way_at(event.position()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._pan is not None:
            delta = event.position().toPoint() - self._pan
            self._pan = event.position().toPoint()
            self.origin += QPointF(delta)
            self._fitted = False
            self.update()
            return
        x, y = self.mm(event.position())
        u = self.session.units
        self.pointed.emit(f"Pointer {u.figure(x)}, {u.mm(y)}")

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._pan = None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        moves = {
            Qt.Key.Key_Z: self.fit, Qt.Key.Key_F: self.fit,
            Qt.Key.Key_X: lambda: self.zoom(TRUE_PX_MM / self.px_mm),
            Qt.Key.Key_Plus: lambda: self.zoom(1.2), Qt.Key.Key_Equal: lambda: self.zoom(1.2), Qt.Key.Key_Minus: lambda: self.zoom(1 / 1.2),
            Qt.Key.Key_D: lambda: self._flip("show_dimensions"), Qt.Key.Key_E: lambda: self._flip("show_eye"),
        }  # fmt: skip
        move: Callable[[], None] | None = (
            moves.get(Qt.Key(event.key())) if not event.modifiers() & Qt.KeyboardModifier.ControlModifier else None
        )
        if move is None:
            super().keyPressEvent(event)
        else:
            move()

    def _flip(self, name: str) -> None:
        setattr(self, name, not getattr(self, name))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.session.theme.color("sheet"))
        self._way = None
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        try:
            self.paint(painter)
        except KeshError as err:
            # one record that cannot be drawn is a sentence on the sheet, never a window that goes down
            self._say_fault(painter, str(err))

    def _say_fault(self, painter: QPainter, reason: str) -> None:
        painter.resetTransform()
        painter.setClipping(False)
        painter.setOpacity(1.0)
        painter.fillRect(self.rect(), self.session.theme.color("sheet"))
        painter.setPen(self.session.theme.color("oxide"))
        painter.setFont(fonts.text(15))
        box = QRectF(self.rect()).adjusted(40, 20, -40, -20)
        flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(box, int(flags), f"This cannot be drawn. {reason}.")

    def paint(self, painter: QPainter) -> None:
        """Paint the sheet in px."""

    def ground(self, painter: QPainter, left: float, right: float, y: float) -> None:
        """The bench line."""
        painter.setPen(QPen(self.session.theme.color("ink"), 1.5))
        painter.drawLine(QLineF(left, y, right, y))

    def empty(
        self, painter: QPainter, sentence: str, width_mm: float = 300, height_mm: float = 420, action: tuple[str, str] | None = None
    ) -> None:  # fmt: skip
        """An empty sheet: ground line, a dashed outline at a plausible size, one sentence, and what to do: (words, command)."""
        t = self.session.theme
        middle, y = self.width() / 2, self.height() * 0.72
        self.ground(painter, middle - 220, middle + 220, y)
        pen = QPen(t.color("edge"), 1.2)
        pen.setDashPattern([5, 4])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        k = min(0.7, self.height() * 0.5 / height_mm)
        painter.drawRoundedRect(QRectF(middle - 90, y - 60 * k - 24, 180, 60 * k), 4, 4)
        painter.drawEllipse(QRectF(middle - width_mm * k / 2, y - height_mm * k, width_mm * k, height_mm * k * 0.6))
        painter.setFont(fonts.text(14))
        painter.setPen(t.color("quiet"))
        painter.drawText(
            QRectF(40, y + 20, self.width() - 80, 50),
            Qt.AlignmentFlag.AlignHCenter | Qt.TextFlag.TextWordWrap,
            sentence,
        )
        if action is None:
            return
        font = fonts.text(14, bold=True)
        painter.setFont(font)
        wide = painter.fontMetrics().horizontalAdvance(action[0]) + 36
        self._way = (QRectF(middle - wide / 2, y + 62, wide, fonts.scaled(28)), action[1])
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.color("moss"))
        painter.drawRoundedRect(self._way[0], 2, 2)
        painter.setPen(t.color("sheet"))
        painter.drawText(self._way[0], Qt.AlignmentFlag.AlignCenter, action[0])

    def way_at(self, point: QPointF) -> str:
        """The command under a point of an empty sheet; empty elsewhere."""
        return self._way[1] if self._way is not None and self._way[0].contains(point) else ""
