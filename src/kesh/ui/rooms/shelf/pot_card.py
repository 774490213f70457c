"""A pot drawn small: its front and its plan, with its sizes."""

from typing import Any

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.figure.pot_figure import plan_rings
from kesh.model import Pot
from kesh.ui.paint.marks import dimension, words
from kesh.ui.paint.pot_painter import draw_pot, figure_for, hatch
from kesh.ui.paint.tree_painter import polygon
from kesh.ui.session import Session
from kesh.ui.theme import fonts


class PotDrawing(QWidget):
    """Half elevation, half section, and the plan below, at one scale with dimensions."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._pot: Pot | None = None
        self.setFixedHeight(fonts.scaled(250))

    def show_pot(self, pot: Pot) -> None:
        """Another pot, or the same one changed."""
        self._pot = pot
        self.setAccessibleName(f"{pot.name} in elevation, section and from above")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        pot, t, u = self._pot, self._session.theme, self._session.units
        if pot is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        room_w, room_h = self.width() - 66.0, self.height() - 62.0
        k = min(room_w / pot.length_mm, room_h / (pot.height_mm + pot.width_mm + 16))
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
        self._plan(painter, pot, k, QPointF(middle, below + 16 + pot.width_mm / 2 * k))

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
