"""The planting from above: pot, fresh mix, kept roots, screens, wires over and under, and where the school would stand the trunk."""

from functools import lru_cache, partial

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.roots.base import RootBase
from kesh.figure.pot_figure import plan_rings
from kesh.geometry.holes import draining
from kesh.geometry.outline import Floats
from kesh.model import MapRoot, Planting, Sector
from kesh.science.roots.fit import ring_radius
from kesh.science.roots.lines import along_mm, root_line, trunk_at_soil_mm, turned_line
from kesh.science.roots.side_room import toward
from kesh.science.stand.placement import Custom
from kesh.ui.paint.grains import draw_grains
from kesh.ui.paint.labels import Labels
from kesh.ui.paint.layers import Keep
from kesh.ui.paint.marks import dash_dot, dimension, extension, words
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.paint.root_painter import band, drawn_line
from kesh.ui.paint.tree_painter import closed_path, draw_lines
from kesh.ui.paint.wires_painter import tie_mark
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme, mixed


def draw_ground(p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, keep: Keep) -> None:
    """Pot with its rim and the fresh mix; what does not change while the trunk is moved."""
    a = plan.a
    key = (a.pot, a.case.mix, t.name, plane.px_mm, plane.origin.x(), plane.origin.y())
    keep(p, "planting ground", key, partial(_ground, plan=plan, t=t, plane=plane))


def _ground(p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane) -> None:
    a = plan.a
    p.save()
    p.translate(plane.origin)
    p.scale(plane.px_mm, plane.px_mm)
    outer, inner = plan_rings(a.pot)
    rim, hollow = closed_path(outer), closed_path(inner)
    p.fillPath(rim.subtracted(hollow), t.color("oxide_tint"))
    p.fillPath(hollow, mixed(t.color("soil"), t.color("sheet"), 0.8))
    if a.case.mix is not None:
        p.save()
        p.setClipPath(hollow)
        p.setOpacity(0.55)
        draw_grains(p, a.case.mix, hollow.boundingRect(), 4.2)
        p.restore()
    p.setBrush(Qt.BrushStyle.NoBrush)
    for ring, wide in ((rim, 1.2), (hollow, 1.0)):
        p.setPen(QPen(t.color("ink"), wide / plane.px_mm))
        p.drawPath(ring)
    p.restore()


def draw_mass(p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, base: RootBase | None) -> None:
    """The kept root mass, sides left alone, and the roots of the map as they stand."""
    a = plan.a
    if base is None:
        return
    p.setRenderHint(QPainter.RenderHint.Antialiasing, not a.case.hurry)
    kept = plane.path(base.ring)
    p.fillPath(kept, mixed(t.color("bark"), t.color("sheet"), 0.62))
    roots, turn = a.case.roots, a.case.planting.turn_deg if a.case.planting is not None else 0.0
    if roots is not None:
        for sector in roots.untouched:
            _sector(p, t, plane, base, sector, turn, kept)
    pen = QPen(t.color("bark_dark") if not t.is_dark else t.color("ink"), 1.1)
    pen.setDashPattern([8, 4])
    p.setPen(pen)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(kept)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    trunk = trunk_at_soil_mm(a.case.tree)
    p.save()
    p.setClipPath(kept)
    for n, root in enumerate(a.case.tree.root_map):
        _root(p, t, plane, base, root, n, trunk, turn)
    p.restore()


def _sector(
    p: QPainter, t: Theme, plane: Plane, base: RootBase, sector: Sector, turn: float, kept: QPainterPath
) -> None:
    span = (sector.to_deg - sector.from_deg) % 360
    angles = np.radians(sector.from_deg - turn + np.linspace(0, span, 24))
    x, y = base.trunk_mm
    rim = np.column_stack([x - 900 * np.sin(angles), y - 900 * np.cos(angles)])
    wedge = plane.path(np.vstack([[x, y], rim])).intersected(kept)
    p.fillPath(wedge, t.color("moss_tint", 0.8))
    hatch(p, wedge, t.color("moss"), 1.0, angle_deg=45, gap_px=7)


@lru_cache(maxsize=256)
def _ring_of(root: MapRoot, n: int, trunk: float, turn: float) -> Floats:
    """A root's outline about the trunk's middle; it does not change while the trunk is moved."""
    line = drawn_line(root_line(root, trunk), trunk, n)
    return np.asarray(turned_line(band(line, root.diameter_mm, float(along_mm(line)[-1])), turn))


def _root(
    p: QPainter, t: Theme, plane: Plane, base: RootBase, root: MapRoot, n: int, trunk: float, turn: float
) -> None:
    at = _ring_of(root, n, trunk, turn) + np.array(base.trunk_mm)
    p.setPen(QPen(t.color("bark_dark") if not t.is_dark else t.color("ink", 0.8), 0.9))
    p.setBrush(mixed(t.color("bark"), t.color("bark_dark"), 0.25))
    p.drawPolygon(plane.polygon(at))


def draw_trunk(
    p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, at_mm: tuple[float, float], *, held: bool
) -> None:
    """The trunk cut across, with its middle marked."""
    r = (plan.a.case.tree.measure.trunk_diameter_mm or 40.0) / 2 * plane.px_mm
    at = plane.px(*at_mm)
    p.setPen(QPen(t.color("moss" if held else "ink"), 2.4 if held else 1.6))
    p.setBrush(mixed(t.color("bark"), t.color("sheet"), 0.12))
    p.drawEllipse(at, r, r)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(t.color("bark_dark"), 0.7))
    for k in (0.78, 0.58, 0.4, 0.22):
        p.drawEllipse(at, r * k, r * k * 0.96)
    p.setPen(QPen(t.color("ink"), 0.8))
    p.drawLine(QLineF(at - QPointF(r * 0.5, 0), at + QPointF(r * 0.5, 0)))
    p.drawLine(QLineF(at - QPointF(0, r * 0.5), at + QPointF(0, r * 0.5)))


def draw_holes(p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, *, screens: bool) -> None:
    """Drain holes with their screens, tie holes as squares; planned ones dashed."""
    pot, cuts = plan.a.pot, plan.cuts
    drains = draining(pot)
    for n, hole in enumerate(drains):
        at, r = plane.px(hole.x_mm, hole.y_mm), hole.diameter_mm / 2 * plane.px_mm
        if screens and cuts is not None and n < len(cuts.screens) and not cuts.planned_drains:
            half = cuts.screens[n].length_mm / 2 * plane.px_mm
            _mesh(p, t, QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half))
        p.setPen(QPen(t.color("edge"), 1.1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(at, r, r)
    for hole in pot.tie_holes:
        tie_mark(p, t, plane.px(hole.x_mm, hole.y_mm), planned=False)


def _mesh(p: QPainter, t: Theme, box: QRectF) -> None:
    p.setPen(QPen(t.color("ink", 0.45), 0.6))
    step = 5.0
    lines = [QLineF(x, box.top(), x, box.bottom()) for x in np.arange(box.left(), box.right() + 0.1, step)]
    lines += [QLineF(box.left(), y, box.right(), y) for y in np.arange(box.top(), box.bottom() + 0.1, step)]
    draw_lines(p, lines)
    p.setPen(QPen(t.color("ink"), 0.9))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(box)


def draw_sizes(
    p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, planting: Planting, labels: Labels | None = None
) -> None:
    """Offsets against the middle, the pot's width, axes; with `labels` from the trunk to each rim too, clear of them."""
    u, pot = plan.u, plan.a.pot
    x, y = planting.offset_x_mm, planting.offset_y_mm
    half_l, half_w = pot.length_mm / 2, pot.width_mm / 2
    p.setPen(dash_dot(t.color("edge"), 0.9))
    p.drawLine(QLineF(plane.px(-half_l - 6, 0), plane.px(half_l + 6, 0)))
    p.drawLine(QLineF(plane.px(0, -half_w - 6), plane.px(0, half_w + 6)))
    trunk = plane.px(x, y)
    top = plane.px(0, half_w).y() - 14
    left = plane.px(-half_l, 0).x() - 18
    if abs(x) >= 0.5:
        extension(p, t, QPointF(trunk.x(), top - 5), trunk)
        extension(p, t, QPointF(plane.px(0, 0).x(), top - 5), plane.px(0, half_w))
        dimension(
            p,
            t,
            QPointF(min(trunk.x(), plane.px(0, 0).x()), top),
            QPointF(max(trunk.x(), plane.px(0, 0).x()), top),
            u.figure(abs(x)),
        )
    if abs(y) >= 0.5:
        extension(p, t, QPointF(left - 5, trunk.y()), trunk)
        dimension(p, t, QPointF(left, plane.px(0, 0).y()), QPointF(left, trunk.y()), u.figure(abs(y)))
    side = plane.px(half_l, 0).x() + 16
    dimension(
        p,
        t,
        QPointF(side, plane.px(0, -half_w).y()),
        QPointF(side, plane.px(0, half_w).y()),
        u.figure(pot.width_mm),
        side=-1,
        bold=False,
    )
    if labels is not None:
        r = (plan.a.case.tree.measure.trunk_diameter_mm or 40.0) / 2
        for end, start in (
            (plane.px(-half_l, y), plane.px(x - r, y)), (plane.px(half_l, y), plane.px(x + r, y)),
            (plane.px(x, -half_w), plane.px(x, y - r)), (plane.px(x, half_w), plane.px(x, y + r)),
        ):  # fmt: skip
            _to_rim(
                p,
                t,
                u.figure(float(np.hypot(end.x() - start.x(), end.y() - start.y())) / plane.px_mm),
                start,
                end,
                labels,
            )


def _to_rim(p: QPainter, t: Theme, text: str, start: QPointF, end: QPointF, labels: Labels) -> None:
    p.setPen(QPen(t.color("edge"), 0.8))
    p.drawLine(QLineF(start, end))
    spots = [start + (end - start) * share + QPointF(0, 4) for share in (0.5, 0.3, 0.7, 0.15, 0.85)]
    labels.put(text, [(at, "center") for at in spots], font=fonts.text(12, bold=True), ground="sheet")


def draw_custom(p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, custom: Custom, labels: Labels) -> None:
    """Thirds of length and width as hairlines, and the school's range for the trunk as a block."""
    pot = plan.a.pot
    pen = QPen(t.color("rule"), 1)
    pen.setDashPattern([3, 3])
    p.setPen(pen)
    for s in (-1, 1):
        p.drawLine(
            QLineF(
                plane.px(s * pot.length_mm / 6, -pot.width_mm / 2), plane.px(s * pot.length_mm / 6, pot.width_mm / 2)
            )
        )
        p.drawLine(
            QLineF(
                plane.px(-pot.length_mm / 2, s * pot.width_mm / 6), plane.px(pot.length_mm / 2, s * pot.width_mm / 6)
            )
        )
    box = QRectF(plane.px(custom.x_low, custom.y_high), plane.px(custom.x_high, custom.y_low))
    for pen in (QPen(t.color("sheet"), 3.4), QPen(t.color("moss"), 1.6)):
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(box)
    r = (plan.a.case.tree.measure.trunk_diameter_mm or 40.0) / 2 * plane.px_mm
    x, y = box.right() + r + 6, box.top() - r * 0.9
    p.setPen(QPen(t.color("moss"), 0.9))
    p.drawLine(QLineF(box.right(), box.top(), x - 2, y - 3))
    labels.put("the school's range", [(QPointF(x, y), "left")], "moss", ground="sheet")


def draw_room(
    p: QPainter,
    plan: PlantingPlan,
    t: Theme,
    plane: Plane,
    base: RootBase | None,
    room_mm: Floats | None,
    labels: Labels,
) -> None:
    """The tightest place between roots and wall, with its room."""
    if base is None or room_mm is None:
        return
    at = int(np.argmin(room_mm))
    least = float(room_mm[at])
    way = toward(10.0 * at)
    trunk = np.array(base.trunk_mm)
    far = float(ring_radius(base.ring - trunk, np.array([np.arctan2(way[1], way[0])]))[0])
    one, two = trunk + way * far, trunk + way * (far + max(least, 0.0))
    role = "moss" if least >= plan.a.seat.clearance_mm - 0.5 else "ochre"
    p.setPen(QPen(t.color(role), 3.0, cap=Qt.PenCapStyle.RoundCap))
    p.drawLine(QLineF(plane.px(*one.tolist()), plane.px(*two.tolist())))
    spot = plane.px(*(trunk + way * (far - 4 / plane.px_mm)).tolist())
    # inside, where no dimension stands
    x = spot.x() + (4 if way[0] < -0.4 else -4 if way[0] > 0.4 else 0)
    y = spot.y() + (4 if abs(way[1]) < 0.7 else 16 if way[1] > 0 else -8)
    align = "left" if way[0] < -0.4 else "right" if way[0] > 0.4 else "center"
    told, font = f"room {plan.u.figure(least)}", fonts.text(12, bold=True)
    # where the mass is narrow there is no room inside: then over the gap, aside of its line
    gap, aside = plane.px(*((one + two) / 2).tolist()), QPointF(float(way[1]), float(way[0])) * 18
    over = [(gap + aside * side + QPointF(0, 4), "center") for side in (1, -1)]
    trunk_px, r = plane.px(*base.trunk_mm), (plan.a.case.tree.measure.trunk_diameter_mm or 40.0) / 2 * plane.px_mm
    labels.keep(QRectF(trunk_px.x() - r, trunk_px.y() - r, 2 * r, 2 * r))
    spots = [(QPointF(x, y + step), align) for step in (0, 16, -16)]
    labels.put(told, [*spots, *over], role, font=font, ground="sheet")


def draw_flow(p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane) -> None:
    """Which side is the front, and where the tree moves."""
    pot, flow = plan.a.pot, plan.a.case.tree.flow
    at = plane.px(0, -pot.width_mm / 2) + QPointF(0, fonts.scaled(17))
    words(p, t, "front", at.x() - 10, at.y() + 4, "quiet", font=fonts.text(13), align="right")
    p.setBrush(t.color("ink"))
    p.setPen(Qt.PenStyle.NoPen)
    p.drawPolygon(QPolygonF([at + QPointF(-5, 4), at + QPointF(5, 4), at + QPointF(0, -5)]))
    if flow == "none":
        return
    s = 1 if flow == "right" else -1
    far = plane.px(s * pot.length_mm / 2, 0).x() + (8 if s > 0 else -8)
    y = at.y()
    tail = far - s * fonts.scaled(46)
    p.setPen(QPen(t.color("ink"), 1.2))
    p.drawLine(QLineF(tail, y, far, y))
    p.setPen(Qt.PenStyle.NoPen)
    p.drawPolygon(QPolygonF([QPointF(far + s * 2, y), QPointF(far - s * 7, y - 4), QPointF(far - s * 7, y + 4)]))
    words(p, t, "flow", tail - s * 6, y + 4, "quiet", font=fonts.text(13), align="right" if s > 0 else "left")


def base_of(plan: PlantingPlan) -> RootBase | None:
    """The kept roots in their pot."""
    return plan.a.figures.root_base


__all__ = [
    "Plane",
    "base_of",
    "draw_custom",
    "draw_flow",
    "draw_ground",
    "draw_holes",
    "draw_mass",
    "draw_room",
    "draw_sizes",
    "draw_trunk",
]
