"""The planting from above: pot, fresh mix, kept roots, screens, wires over and under, and where the school would stand the trunk."""

from dataclasses import dataclass
from functools import partial
from itertools import pairwise

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.planting_plan import PlantingPlan
from kesh.advice.root_base import RootBase, root_base
from kesh.advice.tie_layout import TieWire
from kesh.figure.pot_figure import plan_rings
from kesh.geometry.holes import draining
from kesh.geometry.outline import Floats
from kesh.model import MapRoot, Planting, Sector
from kesh.science.placement import Custom
from kesh.science.root_fit import ring_radius
from kesh.science.root_lines import along_mm, root_line, trunk_at_soil_mm, turned_line
from kesh.science.side_room import toward
from kesh.ui.sheet.grains import draw_grains
from kesh.ui.sheet.layers import Keep
from kesh.ui.sheet.marks import dash_dot, dimension, extension, words
from kesh.ui.sheet.pot_painter import hatch
from kesh.ui.sheet.root_painter import band, drawn_line
from kesh.ui.sheet.tree_painter import closed_path, draw_lines
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme, mixed


@dataclass(frozen=True)
class Plane:
    """A drawing in mm laid on the sheet: where its origin lies, px, and px for a mm; y grows upward in mm."""

    origin: QPointF
    px_mm: float

    def px(self, x_mm: float, y_mm: float) -> QPointF:
        """A place in px."""
        return QPointF(self.origin.x() + x_mm * self.px_mm, self.origin.y() - y_mm * self.px_mm)

    def mm(self, point: QPointF) -> tuple[float, float]:
        """A point in mm."""
        return (point.x() - self.origin.x()) / self.px_mm, (self.origin.y() - point.y()) / self.px_mm

    def polygon(self, ring: Floats) -> QPolygonF:
        """A ring (n, 2) on the sheet."""
        return QPolygonF([self.px(x, y) for x, y in np.asarray(ring).tolist()])

    def path(self, ring: Floats) -> QPainterPath:
        """The same as a closed path."""
        path = QPainterPath()
        path.addPolygon(self.polygon(ring))
        path.closeSubpath()
        return path


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


def _root(
    p: QPainter, t: Theme, plane: Plane, base: RootBase, root: MapRoot, n: int, trunk: float, turn: float
) -> None:
    line = drawn_line(root_line(root, trunk), trunk, n)
    ring = band(line, root.diameter_mm, float(along_mm(line)[-1]))
    at = turned_line(ring, turn) + np.array(base.trunk_mm)
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


def tie_mark(p: QPainter, t: Theme, at: QPointF, *, planned: bool) -> None:
    """A hole that wires come up through."""
    pen = QPen(t.color("indigo"), 1.4)
    if planned:
        pen.setDashPattern([2, 2])
    p.setPen(pen)
    p.setBrush(t.color("field"))
    p.drawRect(QRectF(at.x() - 3.5, at.y() - 3.5, 7, 7))


def draw_wires(p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, base: RootBase | None, in_hand: str) -> None:
    """Wires: solid over the roots, dashed under the floor, a twist where the ends meet, a number beside it."""
    ties = plan.ties
    if ties is None:
        return
    for wire in ties.wires:
        hand = bool(wire.id) and wire.id == in_hand
        color = t.color("moss" if hand else "indigo")
        holes = [plane.px(*h) for h in wire.holes]
        if len(holes) > 1 and not wire.hole_z_mm:
            pen = QPen(color, 1.3)
            pen.setDashPattern([4, 4])
            p.setPen(pen)
            p.drawLine(QLineF(holes[0], holes[-1]))
        path, twist, way = _over(wire, plane, base, plan)
        _legs(p, wire, plane, base, color)
        wide = max(2.0, wire.gauge_mm * plane.px_mm)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(t.color("sheet"), wide + 3, cap=Qt.PenCapStyle.RoundCap))
        p.drawPath(path)
        p.setPen(QPen(color, wide, cap=Qt.PenCapStyle.RoundCap))
        p.drawPath(path)
        if len(wire.over) > 1:
            _twist(p, t, twist, way, color)
        for hole in holes:
            tie_mark(p, t, hole, planned=plan.cuts is not None and plan.cuts.planned_ties and not wire.hole_z_mm)
        _wire_number(p, t, wire, twist, plane, base, hand=hand)
    for n, stone in enumerate(ties.stones):
        at = plane.px(stone.x_mm, stone.y_mm)
        r = max(9.0, 22 * stone.mass_kg ** (1 / 3) * plane.px_mm)
        p.setPen(QPen(t.color("moss" if in_hand == f"stone{n}" else "ink"), 1.2))
        p.setBrush(mixed(t.color("edge"), t.color("sheet"), 0.35))
        blob = QPolygonF(
            [
                at + QPointF(r * (0.8 + 0.22 * np.sin(3 * s + n)) * np.cos(s), 0.8 * r * np.sin(s))
                for s in np.linspace(0, 2 * np.pi, 18)[:-1]
            ]
        )
        p.drawPolygon(blob)
        words(p, t, plan.u.kg(stone.mass_kg), at.x(), at.y() + 4, font=fonts.text(12, bold=True), align="center")


def _over(
    wire: TieWire, plane: Plane, base: RootBase | None, plan: PlantingPlan
) -> tuple[QPainterPath, QPointF, QPointF]:
    """(its way over the roots, where the ends meet, which way it runs there); it is bowed past the trunk where it would cross it."""
    spots = np.array(wire.over)[:, :2]
    first, last = plane.px(*wire.holes[0]), plane.px(*wire.holes[-1])
    start = plane.px(*spots[0].tolist())
    # a leg that comes up under the roots is not seen from above
    path = QPainterPath(start if _covered(wire.holes[0], base) else first)
    path.lineTo(start)
    middle, way = start, QPointF(1, 0)
    trunk = np.array(base.trunk_mm) if base is not None else np.zeros(2)
    clear = 0.62 * (plan.a.case.tree.measure.flare_width_mm or plan.a.case.tree.measure.trunk_diameter_mm or 40.0)
    for one, two in pairwise(spots):
        a, b = plane.px(*one.tolist()), plane.px(*two.tolist())
        line = two - one
        length = max(float(np.hypot(*line)), 1e-9)
        normal = np.array([-line[1], line[0]]) / length
        off = float((one - trunk) @ normal)
        bow = (
            (np.copysign(clear, off if abs(off) > 1e-6 else -1.0) - off)
            if abs(off) < clear
            else -0.04 * length * np.copysign(1.0, off)
        )
        centre = (one + two) / 2 + normal * bow
        control = 2 * centre - (one + two) / 2
        path.quadTo(plane.px(*control.tolist()), b)
        middle = plane.px(*centre.tolist())
        way = (b - a) / max(np.hypot(b.x() - a.x(), b.y() - a.y()), 1e-9)
    if len(wire.holes) > 1 and not _covered(wire.holes[-1], base):
        path.lineTo(last)
    return path, middle, way


def _covered(hole: tuple[float, float], base: RootBase | None) -> bool:
    """Whether a hole lies under the roots."""
    if base is None:
        return False
    away = np.array(hole) - base.ring.mean(axis=0)
    far = ring_radius(base.ring - base.ring.mean(axis=0), np.array([np.arctan2(away[1], away[0])]))
    return bool(np.hypot(*away) < float(far[0]))


def _legs(p: QPainter, wire: TieWire, plane: Plane, base: RootBase | None, color: QColor) -> None:
    """Legs under the roots, dashed as what runs under the floor."""
    pen = QPen(color, 1.3)
    pen.setDashPattern([4, 4])
    p.setPen(pen)
    for hole, spot in ((wire.holes[0], wire.over[0]), (wire.holes[-1], wire.over[-1])):
        if _covered(hole, base):
            p.drawLine(QLineF(plane.px(*hole), plane.px(spot[0], spot[1])))


def _twist(p: QPainter, t: Theme, at: QPointF, way: QPointF, color: object) -> None:
    p.save()
    p.translate(at)
    p.rotate(float(np.degrees(np.arctan2(way.y(), way.x()))))
    p.setPen(QPen(t.color("sheet"), 5.0))
    p.drawLine(QLineF(-9, 0, 9, 0))
    p.setPen(QPen(color, 1.6))  # type: ignore[call-overload]
    for x in (-7.5, -3.75, 0.0, 3.75, 7.5):
        p.drawLine(QLineF(x - 2.2, 3.2, x + 2.2, -3.2))
    p.restore()


def _wire_number(
    p: QPainter, t: Theme, wire: TieWire, at: QPointF, plane: Plane, base: RootBase | None, *, hand: bool
) -> None:
    trunk = plane.px(*(base.trunk_mm if base is not None else (0.0, 0.0)))
    away = at - trunk
    long = max(float(np.hypot(away.x(), away.y())), 1e-9)
    spot = at + away * (fonts.scaled(15) / long) if len(wire.over) > 1 else plane.px(*wire.holes[0]) - QPointF(0, 10)
    words(
        p,
        t,
        wire.id,
        spot.x(),
        spot.y() + fonts.scaled(5),
        "moss" if hand else "indigo",
        font=fonts.text(14, bold=True),
        align="center",
        ground=None,
    )


def draw_sizes(p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, planting: Planting, *, all_round: bool) -> None:
    """Offsets against the middle, the pot's width, axes; and from the trunk to each rim where that is asked for."""
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
    if all_round:
        r = (plan.a.case.tree.measure.trunk_diameter_mm or 40.0) / 2
        for end, start in (
            (plane.px(-half_l, y), plane.px(x - r, y)), (plane.px(half_l, y), plane.px(x + r, y)),
            (plane.px(x, -half_w), plane.px(x, y - r)), (plane.px(x, half_w), plane.px(x, y + r)),
        ):  # fmt: skip
            _to_rim(p, t, u.figure(float(np.hypot(end.x() - start.x(), end.y() - start.y())) / plane.px_mm), start, end)


def _to_rim(p: QPainter, t: Theme, text: str, start: QPointF, end: QPointF) -> None:
    p.setPen(QPen(t.color("edge"), 0.8))
    p.drawLine(QLineF(start, end))
    middle = (start + end) / 2
    words(p, t, text, middle.x(), middle.y() + 4, font=fonts.text(12, bold=True), align="center", ground="sheet")


def draw_custom(p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, custom: Custom) -> None:
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
    words(p, t, "the school's range", x, y, "moss", font=fonts.text(12), ground="sheet")


def draw_room(
    p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, base: RootBase | None, room_mm: Floats | None
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
    words(p, t, f"room {plan.u.figure(least)}", x, y, role, font=fonts.text(12, bold=True), align=align, ground="sheet")


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
    return root_base(plan.a)


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
    "draw_wires",
]
