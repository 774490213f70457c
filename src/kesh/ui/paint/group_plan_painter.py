"""A group from above: tray, ground with its contours, way, root discs, trunks, lines, sight lines and the move that mends."""

from functools import lru_cache

import numpy as np
import shapely
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.group.plan import GroupPlan
from kesh.geometry.outline import Floats, outline_points
from kesh.model import HillMound
from kesh.science.group.hill import mounds_of, rise_mm
from kesh.science.group.sight import FROM_DEG
from kesh.ui.paint.labels import Labels
from kesh.ui.paint.marks import dash_dot, words
from kesh.ui.paint.plane import Plane
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme, mixed

CONTOUR_MM = 5.0
LINE_MOST = 2
# a trunk that its name fits in
BIG_PX = 8.0


def tone(t: Theme, role: str, ground: str, share: float) -> QColor:
    """A role moved towards another by a share."""
    return mixed(t.color(role), t.color(ground), share)


@lru_cache(maxsize=32)
def contour_lines(
    hill: tuple[HillMound, ...], x0: float, x1: float, y0: float, y1: float
) -> tuple[tuple[float, tuple[Floats, ...]], ...]:
    """(height, lines (k, 2) in mm) of the ground every five millimetres within a box."""
    if not hill:
        return ()
    from contourpy import contour_generator

    mounds = mounds_of(hill)
    gx, gy = np.linspace(x0, x1, 121), np.linspace(y0, y1, 91)
    z = rise_mm(mounds, gx[None, :], gy[:, None])
    lines = contour_generator(gx, gy, z)
    found = []
    for level in np.arange(CONTOUR_MM, float(z.max()) + 1e-6, CONTOUR_MM):
        # a hair below, so that a mound of exactly that height has its line
        found.append((float(level), tuple(np.asarray(line, float) for line in lines.lines(float(level) - 0.05))))
    return tuple(found)


def draw_tray(p: QPainter, plan: GroupPlan, t: Theme, plane: Plane) -> None:
    """The wall cut level, the soil inside, thirds and middle."""
    pot = plan.pot
    outer, inner = plane.path(outline_points(pot.outline, pot.length_mm, pot.width_mm)), plane.path(plan.tray.ring)
    p.setPen(QPen(t.color("ink"), 1.2))
    p.setBrush(tone(t, "edge", "sheet", 0.55))
    p.drawPath(outer)
    p.setBrush(tone(t, "soil", "sheet", 0.82))
    p.drawPath(inner)


def draw_ground(p: QPainter, plan: GroupPlan, t: Theme, plane: Plane, *, strong: bool) -> None:
    """Contours of the hill, filled higher and higher, and the way."""
    p.save()
    p.setClipPath(plane.path(plan.tray.ring))
    box = plan.tray.box
    for _, lines in contour_lines(plan.tree.hill, *box):
        for line in lines:
            path = QPainterPath()
            path.addPolygon(plane.polygon(line))
            path.closeSubpath()
            p.fillPath(path, t.color("moss", 0.10))
            p.setPen(QPen(t.color("moss", 0.9 if strong else 0.5), 1.1 if strong else 0.8))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPolyline(plane.polygon(line))
    way = plan.tree.way
    if way is not None:
        band = shapely.LineString(way.points_mm).buffer(way.width_mm / 2, cap_style="flat")
        for part in shapely.get_parts(band):
            path = plane.path(np.asarray(part.exterior.coords)[:-1])
            p.fillPath(path, tone(t, "ochre_fill", "sheet", 0.5))
            p.setPen(QPen(t.color("ochre", 0.7), 0.8, Qt.PenStyle.DotLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPath(path)
    p.restore()
    _, _, y0, y1 = box
    p.setPen(dash_dot(t.color("quiet", 0.55), 0.8))
    for share in (1 / 3, 2 / 3):
        x = box[0] + share * (box[1] - box[0])
        p.drawLine(QLineF(plane.px(x, y1) + QPointF(0, -8), plane.px(x, y0) + QPointF(0, 8)))


def write_ground(plan: GroupPlan, plane: Plane, labels: Labels) -> None:
    """How high each contour lies, in mm, and what the band of the way is; a height that finds no place is left out."""
    way = plan.tree.way
    if way is not None:
        x, y = way.points_mm[0]
        at = plane.px(x, max(y, plan.tray.box[2]) + 14 / plane.px_mm)
        labels.put("path", [(at, "center"), (at - QPointF(0, 16), "center")], "ochre", font=fonts.book(12, italic=True))
    for level, lines in contour_lines(plan.tree.hill, *plan.tray.box):
        for line in lines:
            spots = [plane.px(*line[int(share * (len(line) - 1))]) + QPointF(0, 4) for share in (0.62, 0.85, 0.1, 0.35)]
            labels.put(f"{level:g}", [(at, "center") for at in spots], "moss", font=fonts.text(10), must=False)


def draw_roots(p: QPainter, plan: GroupPlan, t: Theme, plane: Plane) -> None:
    """Root discs dashed, and who belongs together dotted."""
    k = plane.px_mm
    short = {row for a, b, _ in (plan.check.overlaps_mm if plan.check else ()) for row in (a, b)} | {
        r for r, _ in (plan.check.outside_mm if plan.check else ())
    }
    for n in range(len(plan.rows)):
        at, r = plane.px(plan.x[n], plan.y[n]), float(plan.disc[n]) * k
        pen = QPen(t.color("oxide" if n in short else "quiet"), 1.0)
        pen.setDashPattern([4, 3])
        p.setPen(pen)
        p.setBrush(t.color("bark", 0.10))
        p.drawEllipse(at, r, r)
    if plan.check is None:
        return
    pen = QPen(t.color("ink", 0.55), 1.1)
    pen.setDashPattern([1, 2.4])
    p.setBrush(Qt.BrushStyle.NoBrush)
    for group in plan.check.groups:
        if len(group) < 2:
            continue
        spots = [shapely.Point(plan.x[r], plan.y[r]).buffer(float(plan.d[r]) / 2 + 9) for r in group]
        hull = shapely.union_all(spots).convex_hull
        p.setPen(pen)
        p.drawPath(plane.path(np.asarray(hull.exterior.coords)[:-1]))


def draw_void(p: QPainter, plan: GroupPlan, t: Theme, plane: Plane) -> None:
    """The largest open ground."""
    if plan.check is None or plan.check.void_mm[2] <= 0:
        return
    x, y, r = plan.check.void_mm
    p.setPen(QPen(t.color("moss", 0.6), 0.9, Qt.PenStyle.DashDotLine))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawEllipse(plane.px(x, y), r * plane.px_mm, r * plane.px_mm)


def draw_trunks(p: QPainter, plan: GroupPlan, t: Theme, plane: Plane, held: str, hover: str, labels: Labels) -> None:
    """Trunks as cut, with their names, pins and leans; those nearly in one line in oxide."""
    k = plane.px_mm
    flat = {r for one in (plan.check.in_line[:LINE_MOST] if plan.check else ()) for r in one.rows}
    radius = [max(float(d) / 2 * k, 3.2) for d in plan.d]
    for n in range(len(plan.rows)):
        at, r = plane.px(plan.x[n], plan.y[n]), radius[n]
        labels.keep(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r))
    for n, row in enumerate(plan.rows):
        at, r = plane.px(plan.x[n], plan.y[n]), radius[n]
        p.setPen(QPen(t.color("oxide" if n in flat else "ink"), 1.4))
        p.setBrush(tone(t, "oxide_fill" if n in flat else "bark", "sheet", 0.6))
        p.drawEllipse(at, r, r)
        if row.lean_deg:
            turn = np.radians(row.azimuth_deg)
            way = QPointF(-np.sin(turn), np.cos(turn)) * (r + 3 + 0.7 * row.lean_deg)
            p.setPen(QPen(t.color("ink", 0.8), 1.1))
            p.drawLine(QLineF(at + way * (r / (r + 3 + 0.7 * row.lean_deg)), at + way))
        if row.fixed:
            p.setPen(QPen(t.color("indigo"), 1.5))
            p.drawLine(QLineF(at.x() - r - 3, at.y(), at.x() + r + 3, at.y()))
            p.drawLine(QLineF(at.x(), at.y() - r - 3, at.x(), at.y() + r + 3))
        if row.id in (held, hover):
            p.setPen(QPen(t.color("indigo" if row.id == held else "moss"), 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(at, r + 4, r + 4)
    # the names last: no trunk and no line lies over one
    font = fonts.text(12, bold=True)
    for n, row in enumerate(plan.rows):
        at, r, role = plane.px(plan.x[n], plan.y[n]), radius[n], "oxide" if n in flat else "ink"
        if r >= BIG_PX:
            words(p, t, row.id, at.x(), at.y() + 4.5, role, font=font, align="center")
            continue
        x, y = r + 4, r + 2
        spots = [
            (at + QPointF(x, -r), "left"), (at + QPointF(-x, -r), "right"), (at + QPointF(x, y + 6), "left"),
            (at + QPointF(-x, y + 6), "right"), (at + QPointF(0, -y - 2), "center"), (at + QPointF(0, y + 11), "center"),
        ]  # fmt: skip
        labels.put(row.id, spots, role, font=font)


def draw_lines(p: QPainter, plan: GroupPlan, t: Theme, plane: Plane) -> None:
    """The flattest threes as lines through them."""
    if plan.check is None:
        return
    for one in plan.check.in_line[:LINE_MOST]:
        spots = sorted((float(plan.x[r]), float(plan.y[r])) for r in one.rows)
        a, b = np.array(spots[0]), np.array(spots[-1])
        along = (b - a) / max(float(np.hypot(*(b - a))), 1e-9)
        a, b = a - 18 * along, b + 18 * along
        p.setPen(QPen(t.color("oxide"), 1.4))
        p.drawLine(QLineF(plane.px(*a), plane.px(*b)))


def draw_mend(p: QPainter, plan: GroupPlan, t: Theme, plane: Plane) -> None:
    """The one move that mends most: an arrow to where the trunk would stand."""
    move = plan.__dict__.get("mend")
    if move is None:
        return
    n = next((i for i, g in enumerate(plan.rows) if g.id == move.id), None)
    if n is None:
        return
    a = plane.px(plan.x[n], plan.y[n])
    b = plane.px(plan.x[n] + move.dx_mm, plan.y[n] + move.dy_mm)
    r = max(float(plan.d[n]) / 2 * plane.px_mm, 3.2)
    pen = QPen(t.color("moss"), 1.5)
    p.setPen(pen)
    p.setBrush(t.color("moss_fill", 0.8))
    p.drawEllipse(b, r, r)
    p.drawLine(QLineF(a, b))
    line = QLineF(a, b)
    if line.length() > 6:
        tip = QLineF.fromPolar(7, line.angle() + 180 - 24), QLineF.fromPolar(7, line.angle() + 180 + 24)
        p.setBrush(t.color("moss"))
        p.drawPolygon(QPolygonF([b, b + tip[0].p2(), b + tip[1].p2()]))


def draw_sight(p: QPainter, plan: GroupPlan, t: Theme, plane: Plane) -> None:
    """Eyes at the front and thirty degrees on either side, with a line through each pair that hides."""
    y0 = plan.tray.box[2]
    for angle in FROM_DEG:
        a = np.radians(angle)
        mine = [one for one in plan.hidden if one.from_deg == angle]
        for one in mine:
            middle = np.array([(plan.x[one.near] + plan.x[one.far]) / 2, (plan.y[one.near] + plan.y[one.far]) / 2])
            away = np.array([-np.sin(a), np.cos(a)])
            start = middle - away * ((middle[1] - y0 + 22 / plane.px_mm) / max(np.cos(a), 0.3))
            p.setPen(dash_dot(t.color("indigo"), 1.2))
            p.drawLine(QLineF(plane.px(*start), plane.px(*(middle + away * 40))))
            _eye(p, t, plane.px(*start), angle)


def _eye(p: QPainter, t: Theme, at: QPointF, angle: float) -> None:
    """An eye where the viewer's line begins, with from where it looks."""
    path = QPainterPath(at + QPointF(-8, 4))
    path.quadTo(at + QPointF(0, -4), at + QPointF(8, 4))
    path.quadTo(at + QPointF(0, 11), at + QPointF(-8, 4))
    p.setPen(QPen(t.color("indigo"), 1.3))
    p.setBrush(t.color("sheet"))
    p.drawPath(path)
    p.setBrush(t.color("indigo"))
    p.drawEllipse(at + QPointF(0, 3.6), 2.2, 2.2)
    told = "front" if angle == 0 else "30° left" if angle < 0 else "30° right"
    side = -1 if angle > 0 else 1
    words(
        p, t, told, at.x() + 12 * side, at.y() + 8, "indigo", font=fonts.text(12), align="left" if side > 0 else "right"
    )


def draw_plan(
    p: QPainter, plan: GroupPlan, t: Theme, plane: Plane, *, held: str = "", hover: str = "", ground: bool = False
) -> None:
    """The whole plan."""
    draw_tray(p, plan, t, plane)
    draw_ground(p, plan, t, plane, strong=ground)
    if ground:
        p.setOpacity(0.6)
    draw_roots(p, plan, t, plane)
    draw_void(p, plan, t, plane)
    draw_sight(p, plan, t, plane)
    draw_lines(p, plan, t, plane)
    draw_mend(p, plan, t, plane)
    labels = Labels(p, t)
    draw_trunks(p, plan, t, plane, held, hover, labels)
    write_ground(plan, plane, labels)
    p.setOpacity(1.0)
    front = plane.px(0, -plan.pot.width_mm / 2) + QPointF(0, 14)
    tip = QPolygonF([front + QPointF(0, -7), front + QPointF(5, 2), front + QPointF(-5, 2)])
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(t.color("ink"))
    p.drawPolygon(tip)
