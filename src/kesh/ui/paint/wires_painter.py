"""Wires and stones from above: over the roots, under roots and floor, where the ends meet, and the holes they come up through."""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.tie_layout import TieWire
from kesh.advice.roots.base import RootBase
from kesh.science.roots.fit import ring_radius
from kesh.ui.paint.marks import words
from kesh.ui.paint.plane import Plane
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme, mixed


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
    spots = [hole for wire in ties.wires for hole in wire.holes]
    covered = iter(_covered(spots, base))
    for wire in ties.wires:
        hand = bool(wire.id) and wire.id == in_hand
        color = t.color("moss" if hand else "indigo")
        holes = [plane.px(*h) for h in wire.holes]
        if len(holes) > 1 and not wire.hole_z_mm:
            pen = QPen(color, 1.3)
            pen.setDashPattern([4, 4])
            p.setPen(pen)
            p.drawLine(QLineF(holes[0], holes[-1]))
        under = [next(covered) for _ in wire.holes]
        path, twist, way = _over(wire, plane, base, plan, under)
        _legs(p, wire, plane, under, color)
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
    wire: TieWire, plane: Plane, base: RootBase | None, plan: PlantingPlan, under: list[bool]
) -> tuple[QPainterPath, QPointF, QPointF]:
    """(its way over the roots, where the ends meet, which way it runs there); it is bowed past the trunk where it would cross it."""
    spots = np.array(wire.over)[:, :2]
    first, last = plane.px(*wire.holes[0]), plane.px(*wire.holes[-1])
    start = plane.px(*spots[0].tolist())
    # a leg that comes up under the roots is not seen from above
    path = QPainterPath(start if under[0] else first)
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
    if len(wire.holes) > 1 and not under[-1]:
        path.lineTo(last)
    return path, middle, way


def _covered(holes: Sequence[tuple[float, float]], base: RootBase | None) -> list[bool]:
    """Which holes lie under the roots."""
    if base is None or not holes:
        return [False] * len(holes)
    middle = base.ring.mean(axis=0)
    away = np.array(holes) - middle
    far = ring_radius(base.ring - middle, np.arctan2(away[:, 1], away[:, 0]))
    return [bool(v) for v in np.hypot(away[:, 0], away[:, 1]) < far]


def _legs(p: QPainter, wire: TieWire, plane: Plane, under: list[bool], color: QColor) -> None:
    """Legs under the roots, dashed as what runs under the floor."""
    pen = QPen(color, 1.3)
    pen.setDashPattern([4, 4])
    p.setPen(pen)
    for k, spot in ((0, wire.over[0]), (-1, wire.over[-1])):
        if under[k]:
            p.drawLine(QLineF(plane.px(*wire.holes[k]), plane.px(spot[0], spot[1])))


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
