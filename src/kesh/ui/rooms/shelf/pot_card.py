"""A pot drawn small: its front and its plan, with its sizes."""

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.desk.holes import hole_near
from kesh.figure.pot_figure import plan_rings
from kesh.model import Pot
from kesh.ui.paint.marks import dimension, words
from kesh.ui.paint.pot_painter import draw_pot, figure_for, hatch
from kesh.ui.paint.tree_painter import polygon
from kesh.ui.session import Session
from kesh.ui.theme import fonts

# a press that moves farther is a drag
DRAG_PX = 5


class PotDrawing(QWidget):
    """Half elevation, half section, and the plan below, at one scale with dimensions; holes are made and moved in the plan."""

    # (x, y, whether for a wire); (which hole, x, y)
    hole_clicked = pyqtSignal(float, float, bool)
    hole_moved = pyqtSignal(int, float, float)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._pot: Pot | None = None
        self.setFixedHeight(fonts.scaled(250))
        self.setToolTip(
            "In the plan: a click makes a hole or takes it away, with Shift one for a wire; drag one to move it"
        )
        self._held: int | None = None
        self._at: QPointF | None = None

    def show_pot(self, pot: Pot) -> None:
        """Another pot, or the same one changed."""
        self._pot = pot
        self.setAccessibleName(f"{pot.name} in elevation, section and from above")
        self.update()

    def _scale(self, pot: Pot) -> tuple[float, QPointF]:
        """(pixels of a millimetre, the middle of the plan)."""
        room_w, room_h = self.width() - 66.0, self.height() - 62.0
        k = min(room_w / pot.length_mm, room_h / (pot.height_mm + pot.width_mm + 16))
        below = 10 + pot.height_mm * k + 17
        return k, QPointF(self.width() / 2 - 12, below + 16 + pot.width_mm / 2 * k)

    def at(self, x_mm: float, y_mm: float) -> QPointF:
        """Where a place of the pot lies in the plan."""
        assert self._pot is not None
        k, middle = self._scale(self._pot)
        return middle + QPointF(x_mm * k, -y_mm * k)

    def _spot(self, at: QPointF) -> tuple[float, float]:
        assert self._pot is not None
        k, middle = self._scale(self._pot)
        return (at.x() - middle.x()) / k, (middle.y() - at.y()) / k

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pot is None:
            return
        self._at = event.position()
        self._held = hole_near(self._pot, *self._spot(event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        pot, began, held = self._pot, self._at, self._held
        self._at = self._held = None
        if event is None or pot is None or began is None:
            return
        x, y = self._spot(event.position())
        half_x, half_y = pot.length_mm / 2, pot.width_mm / 2
        if held is not None and (event.position() - began).manhattanLength() > DRAG_PX:
            self.hole_moved.emit(held, x, y)
        elif abs(x) <= half_x and abs(y) <= half_y:
            self.hole_clicked.emit(x, y, bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        pot, t, u = self._pot, self._session.theme, self._session.units
        if pot is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        k, plan = self._scale(pot)
        middle, bench = self.width() / 2 - 12, 10 + pot.height_mm * k
        figure = figure_for(pot)
        painter.save()
        painter.translate(middle, bench)
        painter.scale(k, k)
        painter.save()
        painter.setClipRect(QRectF(-pot.length_mm, -pot.height_mm - 20, pot.length_mm, pot.height_mm + 40))
        draw_pot(painter, pot, t, k, shadow=False)
        painter.restore()
        painter.setClipRect(QRectF(0, -pot.height_mm - 20, pot.length_mm, pot.height_mm + 40))
        for ring in (*figure.clay, *figure.feet):
            path = _closed(ring)
            painter.fillPath(path, t.color("oxide_tint"))
            hatch(painter, path, t.color("oxide"), k, gap_px=4)
            painter.setPen(QPen(t.color("ink"), 1.1 / k))
            painter.drawPath(path)
        painter.restore()
        painter.setPen(QPen(t.color("ink"), 1.4))
        painter.drawLine(
            QPointF(middle - pot.length_mm / 2 * k - 10, bench), QPointF(middle + pot.length_mm / 2 * k + 10, bench)
        )
        side = middle + pot.length_mm / 2 * k + 18
        dimension(
            painter,
            t,
            QPointF(side, bench),
            QPointF(side, bench - pot.height_mm * k),
            u.figure(pot.height_mm),
            bold=False,
            side=1,
        )
        below = bench + 17
        a, b = QPointF(middle - pot.length_mm / 2 * k, below), QPointF(middle + pot.length_mm / 2 * k, below)
        dimension(painter, t, a, b, u.figure(pot.length_mm), bold=False)
        self._plan(painter, pot, k, plan)

    def _plan(self, painter: QPainter, pot: Pot, k: float, at: QPointF) -> None:
        t, u = self._session.theme, self._session.units
        outer, inner = plan_rings(pot)
        painter.save()
        painter.translate(at)
        painter.scale(k, k)
        rim, hollow = _closed(outer), _closed(inner)
        painter.fillPath(rim, t.color("oxide_tint"))
        painter.fillPath(hollow, t.color("panel"))
        painter.setPen(QPen(t.color("ink"), 1.0 / k))
        for path in (rim, hollow):
            painter.drawPath(path)
        for hole in pot.holes:
            painter.setBrush(t.color("field"))
            painter.drawEllipse(QPointF(hole.x_mm, -hole.y_mm), hole.diameter_mm / 2, hole.diameter_mm / 2)
        painter.restore()
        side = at.x() + pot.length_mm / 2 * k + 18
        half = pot.width_mm / 2 * k
        dimension(
            painter,
            t,
            QPointF(side, at.y() + half),
            QPointF(side, at.y() - half),
            u.figure(pot.width_mm),
            bold=False,
            side=1,
        )
        words(
            painter, t, "front", at.x(), at.y() + half + 14, "quiet", font=fonts.book(13, italic=True), align="center"
        )


def _closed(ring: Any) -> Any:
    from PyQt6.QtGui import QPainterPath

    path = QPainterPath()
    path.addPolygon(polygon(ring))
    path.closeSubpath()
    return path
