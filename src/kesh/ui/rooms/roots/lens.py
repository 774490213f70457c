"""A lens over the drawing: what lies under the pointer, larger, at a scale that it names."""

from collections.abc import Callable

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPixmap

from kesh.ui.paint.marks import words
from kesh.ui.paint.scene import pixel_ratio
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

RADIUS_PX, TIMES = 104.0, 2.6


def draw_lens(painter: QPainter, theme: Theme, at: QPointF, paint: Callable[[QPainter], None]) -> None:
    """Paint the sheet again within a circle about a point, enlarged."""
    # painted apart: what is drawn on the sheet sets its own clips
    ratio, wide = pixel_ratio(painter), round(2 * RADIUS_PX)
    under = QPixmap(round(wide * ratio), round(wide * ratio))
    under.setDevicePixelRatio(ratio)
    under.fill(theme.color("sheet"))
    inner = QPainter(under)
    inner.setRenderHint(QPainter.RenderHint.Antialiasing)
    inner.translate(RADIUS_PX, RADIUS_PX)
    inner.scale(TIMES, TIMES)
    inner.translate(-at)
    paint(inner)
    inner.end()
    glass = QPainterPath()
    glass.addEllipse(at, RADIUS_PX, RADIUS_PX)
    painter.save()
    painter.setClipPath(glass)
    painter.drawPixmap(at - QPointF(RADIUS_PX, RADIUS_PX), under)
    painter.restore()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.color("ink"), 1.6))
    painter.drawEllipse(at, RADIUS_PX, RADIUS_PX)
    words(painter, theme, f"{TIMES:g} : 1", at.x() - RADIUS_PX * 0.72, at.y() - RADIUS_PX * 0.80, "quiet", font=fonts.book(13, italic=True),
          align="right", ground="sheet")  # fmt: skip
