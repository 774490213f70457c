"""A drawing for every step of the work, to scale in the very pot: what is there by then, and the one figure that decides."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.roots.base import RootBase
from kesh.figure.line import Chance
from kesh.geometry.holes import draining
from kesh.science.roots.heap import Heap
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.pot_painter import figure_for, hatch
from kesh.ui.paint.section_painter import ball_section, draw_clay, mass_ends, saw_line
from kesh.ui.paint.step_figures import roots_from_above, scoops, step_figures
from kesh.ui.paint.stub_painter import draw_trunk_foot
from kesh.ui.paint.tree_painter import closed_path
from kesh.ui.theme.tokens import Theme, mixed

STUB_MM = 110.0
ON_BENCH = ("lift", "comb", "saw")
# what has happened in the pot by a step's drawing
LAYER = ("coarse", "heap", "try", "set", "tie", "fill", "water", "test", "carry")
MASS = ("try", "set", "tie", "fill", "water", "test", "carry")
SOIL = ("fill", "water", "test", "carry")
WIRES = ("wires", "coarse", "heap", "try", "set", "tie", "fill", "water", "test", "carry")


def draw_step(p: QPainter, plan: PlantingPlan, step: WorkStep, box: QRectF, t: Theme, *, small: bool = False) -> float:
    """Paint one step into a box of the sheet; returns px for a mm. Small pictures carry no figures."""
    a = plan.a
    if step.drawing == "soil" and plan.batch is not None and not small:
        scoops(p, plan, box, t)
        return 0.0
    if step.drawing == "roots" and a.case.roots is not None:
        return roots_from_above(p, plan, box, t, small=small)
    on_bench = step.drawing in ON_BENCH
    pot, roots = a.pot, a.case.roots
    base = a.figures.root_base
    stub = 46.0 if small else STUB_MM
    if on_bench and roots is not None:
        wide, tall = roots.length_mm + (60 if small else 170), roots.depth_mm + stub + 26
    else:
        over = max(a.seat.raise_mm, 0.0) + (stub if step.drawing in MASS else 46.0)
        wide, tall = pot.length_mm + (60 if small else 130), pot.height_mm + over
    k = min(box.width() / wide, box.height() / tall)
    foot = QPointF(box.center().x(), box.bottom() - 4)
    # a small picture has finer strokes
    ink = k * (2.4 if small else 1.0)
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.translate(foot)
    p.scale(k, k)
    if on_bench:
        _on_bench(p, plan, step, t, ink)
    else:
        _in_pot(p, plan, step, t, ink, base)
    p.restore()
    p.setPen(QPen(t.color("ink"), 1.0 if small else 1.6))
    p.drawLine(QLineF(foot.x() - wide / 2 * k, foot.y(), foot.x() + wide / 2 * k, foot.y()))
    if not small:
        step_figures(p, plan, step, t, Plane(foot, k), base)
    return k


def _mass_path(plan: PlantingPlan, top_mm: float) -> tuple[QPainterPath, QPainterPath]:
    """(all of the mass, what stays of it) in section with its top so high; y down."""
    a = plan.a
    roots, fit = a.case.roots, a.figures.roots
    assert roots is not None
    whole = closed_path(ball_section(roots, a.seat.x_mm, top_mm))
    if fit is None:
        return whole, whole
    left, right = mass_ends(a, roots)
    there = QPainterPath()
    there.addRect(QRectF(left, -top_mm - 1, max(right - left, 0.0), float(fit.kept_depth_mm[0]) + 1))
    return whole, whole.intersected(there)


def _fill_mass(p: QPainter, plan: PlantingPlan, path: QPainterPath, t: Theme, k: float) -> None:
    p.fillPath(path, mixed(t.color("bark"), t.color("sheet"), 0.5))
    box = path.boundingRect()
    chance = Chance(plan.a.case.tree.seed, "step")
    n = int(min(500, box.width() * box.height() / 40 * min(k, 1.0)))
    x, y = chance.many(n, box.left(), box.right()), chance.many(n, box.top(), box.bottom())
    p.save()
    p.setClipPath(path)
    p.setPen(QPen(t.color("bark_dark") if not t.is_dark else t.color("ink", 0.7), 1.5 / k, cap=Qt.PenCapStyle.RoundCap))
    p.drawPoints(QPolygonF([QPointF(a, b) for a, b in zip(x.tolist(), y.tolist(), strict=True)]))
    middle, top = plan.a.seat.x_mm, box.top()
    p.setBrush(Qt.BrushStyle.NoBrush)
    for n_root in range(7):
        share = (n_root + 0.5) / 7
        end = QPointF(
            box.left() + share * box.width(),
            box.bottom() - (0.2 + 0.5 * chance.many(1)[0]) * box.height() * abs(2 * share - 1) ** 0.5,
        )
        line = QPainterPath(QPointF(middle, top + 2))
        line.quadTo(QPointF((middle + end.x()) / 2, top + 0.22 * box.height()), end)
        p.setPen(
            QPen(
                mixed(t.color("bark_dark"), t.color("bark"), 0.4),
                3.4 * (1 - 0.5 * abs(2 * share - 1)),
                cap=Qt.PenCapStyle.RoundCap,
            )
        )
        p.drawPath(line)
    p.restore()
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(t.color("ink"), 1.3 / k))
    p.drawPath(path)


def _stub(p: QPainter, plan: PlantingPlan, top_mm: float, t: Theme, k: float) -> None:
    planting = plan.a.case.planting
    tilt = planting.tilt_deg if planting is not None else 0.0
    x = plan.a.seat.x_mm
    p.save()
    p.translate(x, -top_mm)
    p.rotate(tilt)
    p.translate(-x, top_mm)
    scale = float(np.hypot(p.deviceTransform().m11(), p.deviceTransform().m12()))
    draw_trunk_foot(p, plan.a.case.tree, plan.a.case.species, x, top_mm - 2, STUB_MM, t, scale)
    p.restore()


def _on_bench(p: QPainter, plan: PlantingPlan, step: WorkStep, t: Theme, k: float) -> None:
    """The mass on its battens: whole when lifted, combed at the sides, or with the saw through it."""
    roots, fit = plan.a.case.roots, plan.a.figures.roots
    if roots is None or fit is None:
        return
    off = plan.this_year.bottom_mm if plan.this_year is not None else 0.0
    top = roots.depth_mm
    whole, kept = _mass_path(plan, top)
    if step.drawing == "lift":
        _fill_mass(p, plan, whole, t, k)
        _stub(p, plan, top, t, k)
        return
    left, right = mass_ends(plan.a, roots)
    there = QPainterPath()
    there.addRect(QRectF(left, -top - 1, max(right - left, 0.0), roots.depth_mm + 2))
    combed = whole.intersected(there)
    show = combed if step.drawing == "saw" else whole
    _fill_mass(p, plan, kept if step.drawing == "saw" else combed, t, k)
    lost = show.subtracted(kept if step.drawing == "saw" else combed)
    p.fillPath(lost, t.color("oxide_tint", 0.85))
    hatch(p, lost, t.color("oxide"), k, angle_deg=-52, gap_px=6)
    p.setPen(QPen(t.color("oxide"), 1.1 / k))
    p.drawPath(lost)
    _stub(p, plan, top, t, k)
    if step.drawing == "saw" and off > 0:
        box = show.boundingRect()
        high = off
        for x in (box.left() - 6, box.right() + 6):
            p.setPen(QPen(t.color("ink"), 1.1 / k))
            p.setBrush(mixed(t.color("ochre_tint"), t.color("sheet"), 0.3))
            p.drawRect(QRectF(x - 11, -high, 22, high))
        saw_line(p, box.left() - 20, box.right() + 20, -off, t.color("oxide"), k)


def _in_pot(p: QPainter, plan: PlantingPlan, step: WorkStep, t: Theme, k: float, base: RootBase | None) -> None:
    """The pot cut through with what is in it by now."""
    a, kind = plan.a, step.drawing
    pot = a.pot
    figure = figure_for(pot)
    inside = closed_path(figure.inside)
    floor = figure.floor_mm
    soil = t.color("soil")
    if kind in LAYER and a.case.layer is not None:
        _band(p, inside, pot.length_mm, floor, floor + a.case.layer[1], mixed(soil, t.color("sheet"), 0.35))
    layer = a.case.layer[1] if a.case.layer is not None else 0.0
    heap = plan.batch.heap_dry if plan.batch is not None else None
    if kind in ("heap", "set") and heap is not None:
        _heap(p, plan, inside, heap, floor + layer, t, k, pressed=kind == "set", base=base)
    if kind in SOIL:
        p.fillPath(_soil_path(plan, inside, floor), mixed(soil, t.color("sheet"), 0.66))
        _grains(p, _soil_path(plan, inside, floor), plan, t, k)
    elif kind in ("try", "tie") and base is not None and base.foot_mm > 0:
        _band(p, inside, pot.length_mm, floor + layer, floor + base.foot_mm, mixed(soil, t.color("sheet"), 0.66))
    if kind in MASS and a.case.roots is not None and base is not None:
        top = pot.height_mm + a.seat.raise_mm
        _, kept = _mass_path(plan, top)
        _fill_mass(p, plan, kept, t, k)
        if kind in SOIL:
            # what is covered is seen through
            p.setOpacity(0.5)
            p.fillPath(_soil_path(plan, inside, floor), mixed(soil, t.color("sheet"), 0.5))
            p.setOpacity(1.0)
        _stub(p, plan, top, t, k)
    draw_clay(p, pot, t, k)
    _screens(p, plan, floor, t, k)
    if kind in WIRES:
        _wires(p, plan, kind, floor, t, k, base)
    if kind == "water":
        _drops(p, plan, t, k)


def _band(p: QPainter, inside: QPainterPath, wide: float, low: float, high: float, color: object) -> None:
    box = QPainterPath()
    box.addRect(QRectF(-wide, -high, 2 * wide, high - low))
    p.fillPath(inside.intersected(box), color)  # type: ignore[arg-type]


def _soil_path(plan: PlantingPlan, inside: QPainterPath, floor: float) -> QPainterPath:
    """Soil to its line, with the mound over it."""
    a = plan.a
    half, line = a.pot.length_mm / 2 - a.pot.wall_mm, a.pot.height_mm - a.case.headspace_mm
    box = QPainterPath()
    box.addRect(QRectF(-2 * half, -line, 4 * half, line))
    soil = inside.intersected(box)
    mound = a.case.mound_mm
    if mound > 0:
        x = np.linspace(-half, half, 40)
        y = line + mound * np.cos(x / half * np.pi / 2)
        top = QPainterPath()
        top.addPolygon(QPolygonF([QPointF(u, -v) for u, v in zip(x.tolist(), y.tolist(), strict=True)]))
        top.closeSubpath()
        soil = soil.united(top)
    return soil


def _grains(p: QPainter, soil: QPainterPath, plan: PlantingPlan, t: Theme, k: float) -> None:
    box = soil.boundingRect()
    chance = Chance(plan.a.case.tree.seed, "fill")
    n = int(min(700, box.width() * box.height() / 45))
    x, y = chance.many(n, box.left(), box.right()), chance.many(n, box.top(), box.bottom())
    p.save()
    p.setClipPath(soil)
    p.setPen(QPen(mixed(t.color("soil"), t.color("sheet"), 0.15), 2.6 / k, cap=Qt.PenCapStyle.RoundCap))
    p.drawPoints(QPolygonF([QPointF(a, b) for a, b in zip(x.tolist(), y.tolist(), strict=True)]))
    p.restore()
    p.setPen(QPen(t.color("ink"), 1.1 / k))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(soil)


def _heap(
    p: QPainter, plan: PlantingPlan, inside: QPainterPath, heap: Heap, on: float, t: Theme, k: float, *, pressed: bool, base: RootBase | None
) -> None:  # fmt: skip
    """The cone under the trunk; pressed down when the tree stands on it."""
    x = plan.a.seat.x_mm
    high = heap.height_mm
    if pressed and base is not None:
        high = min(high, max(figure_for(plan.a.pot).floor_mm + base.foot_mm - on, 4.0))
    cone = QPainterPath()
    cone.addPolygon(
        QPolygonF([QPointF(x - heap.width_mm / 2, -on), QPointF(x, -(on + high)), QPointF(x + heap.width_mm / 2, -on)])
    )
    cone.closeSubpath()
    over = QPainterPath()
    over.addRect(QRectF(-5000, -on - 5000, 10000, 5000))
    p.fillPath(cone.intersected(inside.united(over)), mixed(t.color("soil"), t.color("sheet"), 0.5))
    p.setPen(QPen(t.color("ink"), 1.2 / k))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(cone.intersected(inside.united(over)))


def _screens(p: QPainter, plan: PlantingPlan, floor: float, t: Theme, k: float) -> None:
    cuts = plan.cuts
    if cuts is None:
        return
    pen = QPen(t.color("ink"), 1.8 / k)
    pen.setDashPattern([1.5, 1.5])
    p.setPen(pen)
    for hole, screen in zip(draining(plan.a.pot), cuts.screens, strict=False):
        half = screen.length_mm / 2
        p.drawLine(QLineF(hole.x_mm - half, -floor - 0.8, hole.x_mm + half, -floor - 0.8))


def _wires(p: QPainter, plan: PlantingPlan, kind: str, floor: float, t: Theme, k: float, base: RootBase | None) -> None:
    """Standing up over the rim until the tree is in; over the roots when it is tied."""
    ties, pot = plan.ties, plan.a.pot
    if ties is None or not ties.wires:
        return
    tied = kind in ("tie", "fill", "water", "test", "carry")
    p.setBrush(Qt.BrushStyle.NoBrush)
    for wire in ties.wires:
        p.setPen(QPen(t.color("indigo"), max(2.0, 1.2 * wire.gauge_mm) / k * (1 if tied else 0.8)))
        low, high = min(wire.holes), max(wire.holes)
        z = floor + wire.hole_z_mm
        if not tied:
            for side, hole in ((-1, low), (1, high)):
                up = QPainterPath(QPointF(hole[0], -z + pot.floor_mm * 0.8))
                up.lineTo(hole[0], -(floor + 0.5 * pot.inner_depth_mm))
                up.quadTo(
                    QPointF(side * (pot.length_mm / 2 - 30), -(pot.height_mm + 16)),
                    QPointF(side * (pot.length_mm / 2 + 10), -(pot.height_mm - 6)),
                )
                p.drawPath(up)
            continue
        over = sorted(wire.over)
        way = QPainterPath(QPointF(low[0], -z))
        for spot in over:
            way.lineTo(spot[0], -(floor + spot[2] + 1.5))
        if len(wire.holes) > 1:
            way.lineTo(high[0], -z)
        p.drawPath(way)
    for stone in ties.stones if tied else ():
        r = 20 * stone.mass_kg ** (1 / 3)
        top = pot.height_mm + plan.a.seat.raise_mm
        p.setPen(QPen(t.color("ink"), 1.2 / k))
        p.setBrush(mixed(t.color("edge"), t.color("sheet"), 0.35))
        p.drawEllipse(QRectF(stone.x_mm - r, -top - 1.1 * r, 2 * r, 1.2 * r))


def _drops(p: QPainter, plan: PlantingPlan, t: Theme, k: float) -> None:
    chance = Chance(3, "drops")
    half, line = plan.a.pot.length_mm / 2, plan.a.pot.height_mm
    p.setPen(QPen(t.color("indigo"), 1.6 / k, cap=Qt.PenCapStyle.RoundCap))
    for x, up in zip(
        chance.many(26, -0.85 * half, 0.85 * half).tolist(), chance.many(26, 10, 70).tolist(), strict=True
    ):
        p.drawLine(QLineF(x, -(line + up), x - 1.5, -(line + up - 9)))
    for hole in draining(plan.a.pot)[:6]:
        for n in range(3):
            p.drawLine(QLineF(hole.x_mm, -1 - 4.0 * n, hole.x_mm, -3 - 4.0 * n))
