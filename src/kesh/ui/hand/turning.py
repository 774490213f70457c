"""Tilt and turn on the drawing: round handles on trunk and plan, the tilted mass, and the wedge under it."""

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from kesh.geometry.outline import Floats
from kesh.model import RootMass
from kesh.science.roots.side_room import toward
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.paint.section_painter import ball_section
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

# the handle of the tilt stands so high over the roots; that of the turn so far outside the trunk
TILT_AT_MM, TURN_AT_PX = 38.0, 15.0


def tilt_spot(foot: QPointF, px_mm: float, tilt_deg: float) -> QPointF:
    """Where the handle of the tilt lies: up the trunk as it leans."""
    t = np.radians(tilt_deg)
    return foot + QPointF(float(np.sin(t)), -float(np.cos(t))) * (TILT_AT_MM * px_mm)


def tilt_at(foot: QPointF, point: QPointF) -> float:
    """The tilt that a handle pulled to a point means, degrees to the right."""
    away = point - foot
    return float(np.degrees(np.arctan2(away.x(), max(-away.y(), 1e-6))))


def turn_spot(centre: QPointF, trunk_px: float, turn_deg: float) -> QPointF:
    """Where the handle of the turn lies: outside the trunk at the tree's own front."""
    way = toward(-turn_deg)
    return centre + QPointF(float(way[0]), -float(way[1])) * (0.5 * trunk_px + TURN_AT_PX)


def turn_at(centre: QPointF, point: QPointF) -> float:
    """The turn that a handle pulled to a point means, degrees against the clock seen from above."""
    away = point - centre
    return float(-np.degrees(np.arctan2(-away.x(), away.y())))


def round_handle(painter: QPainter, theme: Theme, at: QPointF, *, hover: bool) -> None:
    """A round handle: what turns."""
    painter.setPen(QPen(theme.color("moss" if hover else "edge"), 1.4))
    painter.setBrush(theme.color("field"))
    painter.drawEllipse(at, 5.0, 5.0)
    painter.setBrush(theme.color("moss" if hover else "edge"))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawEllipse(at, 1.8, 1.8)


def tilted_mass(roots: RootMass, trunk_x: float, top_mm: float, tilt_deg: float) -> tuple[Floats, Floats]:
    """(the root mass in section as it leans, the wedge under its raised side), mm from the pot's middle and the bench."""
    ring = ball_section(roots, trunk_x, top_mm)
    t = np.radians(tilt_deg)
    spin = np.array([[np.cos(t), np.sin(t)], [-np.sin(t), np.cos(t)]])
    foot = np.array([trunk_x, top_mm])
    leans = (ring - foot) @ spin.T + foot
    depth = len(ring) // 2
    # the lower corners right and left
    right, left = leans[depth - 1], leans[depth]
    low, high = (right, left) if right[1] < left[1] else (left, right)
    return leans, np.array([low, high, [high[0], low[1]]])


def draw_tilted(
    painter: QPainter, theme: Theme, roots: RootMass, place: tuple[QPointF, float], trunk_x: float, top_mm: float, tilt_deg: float, told: str
) -> None:  # fmt: skip
    """The leaning mass as a line and the wedge hatched; `place` is the pot's foot in px and the px of a mm."""
    bench, k = place
    leans, wedge = tilted_mass(roots, trunk_x, top_mm, tilt_deg)

    def polygon(points: Floats) -> QPolygonF:
        return QPolygonF([QPointF(bench.x() + x * k, bench.y() - y * k) for x, y in points.tolist()])

    path = QPainterPath()
    path.addPolygon(polygon(wedge))
    path.closeSubpath()
    painter.fillPath(path, theme.color("ochre_fill", 0.45))
    hatch(painter, path, theme.color("ochre"), 1.0, angle_deg=15, gap_px=6)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.color("moss"), 1.6))
    painter.drawPolygon(polygon(leans))
    at = path.boundingRect()
    words(painter, theme, told, at.center().x(), at.bottom() + fonts.scaled(14), "ochre", font=fonts.text(12, bold=True),
          align="center", ground="sheet")  # fmt: skip
