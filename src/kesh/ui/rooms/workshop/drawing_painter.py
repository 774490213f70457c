"""A maker's drawing on the screen: lines by their layer, words and figures in the screen's own size."""

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from kesh.base.units import Units
from kesh.figure.drawing import Circle, Dim, Drawing, Line
from kesh.ui.paint.marks import dimension, words
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

# layer: role, width in px, dashes
LOOK: dict[str, tuple[str, float, list[float] | None]] = {
    "outline": ("ink", 1.3, None), "inside": ("ink", 1.0, None), "section": ("ink", 1.3, None), "hidden": ("edge", 1.0, [5, 4]),
    "holes": ("oxide", 1.3, None), "tie_holes": ("indigo", 1.3, None), "centre": ("quiet", 0.8, [8, 3, 2, 3]), "cut": ("oxide", 1.2, [4, 2]),
    "marks": ("ink", 1.0, None),
}  # fmt: skip
OFF_PX, STEP_PX, COLUMN_PX, LEAST_PX, CLEAR_PX, TOUCH_MM = 16.0, 17.0, 44.0, 40.0, 6.0, 0.5


def draw_drawing(painter: QPainter, t: Theme, drawing: Drawing, plane: Plane, units: Units) -> None:
    """Lines and circles to scale, then words, then dimensions in rows that do not cross each other."""
    for item in drawing.items:
        if isinstance(item, Line):
            _line(painter, t, item, plane)
        elif isinstance(item, Circle):
            _pen(painter, t, item.layer)
            painter.setBrush(t.color("sheet"))
            at = plane.px(item.x, item.y)
            painter.drawEllipse(at, item.radius * plane.px_mm, item.radius * plane.px_mm)
    _, bottom, _, top = drawing.drawn()
    for item in drawing.items:
        if not isinstance(item, Line | Circle | Dim):
            at = plane.px(item.x, item.y)
            # what stands below or above all lines keeps clear of them at every scale
            clear = plane.px(0, bottom).y() + CLEAR_PX + 10, plane.px(0, top).y() - CLEAR_PX
            y = max(at.y(), clear[0]) if item.y < bottom else min(at.y(), clear[1]) if item.y > top else at.y()
            big = item.text.isdigit()
            font = fonts.book(17, bold=True) if big else fonts.text(13)
            words(painter, t, item.text, at.x(), y, "ink" if big else "quiet", font=font, align=item.align)
    told = [item for item in drawing.items if not isinstance(item, Line | Circle | Dim)]
    # a level figure stands clear of words on its side
    worded = any(w.y < bottom for w in told), any(w.y > top for w in told)
    _dimensions(painter, t, [d for d in drawing.items if isinstance(d, Dim)], plane, units, worded)


def _pen(painter: QPainter, t: Theme, layer: str) -> None:
    role, wide, dashes = LOOK.get(layer, LOOK["marks"])
    pen = QPen(t.color(role), wide)
    if dashes:
        pen.setDashPattern(dashes)
    painter.setPen(pen)


def _line(painter: QPainter, t: Theme, item: Line, plane: Plane) -> None:
    ring = QPolygonF([plane.px(float(x), float(y)) for x, y in item.points])
    if item.closed and item.layer in ("outline", "section"):
        path = QPainterPath()
        path.addPolygon(ring)
        path.closeSubpath()
        painter.fillPath(path, t.color("oxide_tint"))
        if item.hatched:
            hatch(painter, path, t.color("oxide"), 1.0, gap_px=5)
    elif item.closed and item.layer == "inside":
        path = QPainterPath()
        path.addPolygon(ring)
        path.closeSubpath()
        painter.fillPath(path, t.color("sheet"))
    _pen(painter, t, item.layer)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolygon(ring) if item.closed else painter.drawPolyline(ring)


def _dimensions(
    painter: QPainter, t: Theme, found: list[Dim], plane: Plane, units: Units, worded: tuple[bool, bool]
) -> None:
    """The nearest first on each side; each side's lines stand in rows of their own, so that figures never cross."""
    sides: dict[tuple[bool, bool], list[Dim]] = {}
    for one in found:
        sides.setdefault((one.level, one.away > 0), []).append(one)
    for (level, plus), own in sides.items():
        rows: list[list[tuple[float, float]]] = []
        edge = max if plus else min
        base = edge(v for d in own for v in ((d.ay, d.by) if level else (d.ax, d.bx)))
        for one in sorted(own, key=lambda d: (round(abs(d.away), 1), d.value_mm)):
            span = sorted((one.ax, one.bx) if level else (one.ay, one.by))
            wide = max(span[1] - span[0], LEAST_PX / plane.px_mm)
            middle = sum(span) / 2
            need = (middle - wide / 2, middle + wide / 2)
            row = next(
                (
                    k
                    for k, taken in enumerate(rows)
                    if all(need[1] <= a + TOUCH_MM or need[0] >= b - TOUCH_MM for a, b in taken)
                ),
                len(rows),
            )
            if row == len(rows):
                rows.append([])
            rows[row].append(need)
            text = f"{one.prefix}{units.figure(one.value_mm)}{one.suffix}"
            # a figure stands across an upright line: its half must not reach into the drawing
            half = 0.0 if level else QFontMetricsF(fonts.text(13)).horizontalAdvance(text) / 2
            clear = STEP_PX if level and worded[plus] else 0.0
            away = (max(OFF_PX, half + 8) + clear + row * (STEP_PX if level else COLUMN_PX)) * (1 if plus else -1)
            start = plane.px(span[0], base) if level else plane.px(base, span[0])
            end = plane.px(span[1], base) if level else plane.px(base, span[1])
            shift = QPointF(0, -away) if level else QPointF(away, 0)
            dimension(
                painter, t, start + shift, end + shift, text, side=0 if level else (1 if plus else -1), bold=False
            )
