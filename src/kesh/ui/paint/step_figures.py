"""What stands beside a step's drawing: its dimension, the roots by their numbers, the heaps of soil."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.roots.base import RootBase
from kesh.advice.roots.work import steps_now
from kesh.geometry.outline import Floats
from kesh.science.roots.lines import along_mm, root_line, trunk_at_soil_mm, turned_line, until_mm
from kesh.ui.paint.grains import grain_colour
from kesh.ui.paint.marks import dimension, words
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.planting_plan_painter import draw_mass, draw_trunk
from kesh.ui.paint.pot_painter import figure_for
from kesh.ui.paint.root_painter import band, draw_number, drawn_line
from kesh.ui.paint.section_painter import ball_section, mass_ends
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE, Theme, mixed


def roots_from_above(p: QPainter, plan: PlantingPlan, box: QRectF, t: Theme, *, small: bool) -> float:
    """The map from above: roots that are cut in oxide with their numbers, the cut as a stroke."""
    a = plan.a
    base = a.figures.root_base
    if base is None:
        return 0.0
    span = np.ptp(base.ring, axis=0)
    k = min(box.width() / (float(span[0]) + 30), box.height() / (float(span[1]) + 30))
    middle = base.ring.mean(axis=0)
    plane = Plane(QPointF(box.center().x() - middle[0] * k, box.center().y() + middle[1] * k), k)
    draw_mass(p, plan, t, plane, base)
    steps = {s.root: s for s in steps_now(a.figures)}
    trunk, turn = trunk_at_soil_mm(a.case.tree), a.case.planting.turn_deg if a.case.planting is not None else 0.0
    for n, root in enumerate(a.case.tree.root_map):
        if root.id not in steps:
            continue
        line = drawn_line(root_line(root, trunk), trunk, n)
        far, step = along_mm(line), steps[root.id]

        def laid(part: Floats, whole: float = float(far[-1]), thick: float = root.diameter_mm) -> Floats:
            return np.asarray(turned_line(band(part, thick, whole), turn) + np.array(base.trunk_mm))

        p.setPen(QPen(t.color("oxide"), 1.2))
        p.setBrush(mixed(t.color("oxide_fill"), t.color("sheet"), 0.2))
        p.drawPolygon(plane.polygon(laid(line)))
        stays = line[:3]
        if step.action == "shorten" and step.at_mm is not None:
            stays = until_mm(line, float(far[1]) + step.at_mm)
            p.setPen(QPen(t.color("bark_dark") if not t.is_dark else t.color("ink", 0.8), 0.9))
            p.setBrush(mixed(t.color("bark"), t.color("bark_dark"), 0.25))
            p.drawPolygon(plane.polygon(laid(stays)))
        if step.action != "move":
            way = stays[-1] - stays[-2]
            normal = np.array([-way[1], way[0]]) / max(float(np.hypot(*way)), 1e-9) * (0.5 * root.diameter_mm + 5)
            cut = turned_line(np.array([stays[-1] - normal, stays[-1] + normal]), turn) + np.array(base.trunk_mm)
            p.setPen(QPen(t.color("oxide"), 2.2))
            p.drawLine(QLineF(plane.px(*cut[0].tolist()), plane.px(*cut[1].tolist())))
        end = turned_line(line, turn)[-1] + np.array(base.trunk_mm)
        if not small:
            draw_number(p, t, str(n + 1), plane.px(*end.tolist()), "oxide", in_hand=True)
    draw_trunk(p, plan, t, plane, base.trunk_mm, held=False)
    if not small:
        words(
            p,
            t,
            "front",
            box.center().x(),
            box.bottom() + fonts.scaled(14),
            "quiet",
            font=fonts.text(14),
            align="center",
        )
    return k


def scoops(p: QPainter, plan: PlantingPlan, box: QRectF, t: Theme) -> None:
    """Heaps of each component side by side, as large as their share, with litres and scoops."""
    batch = plan.batch
    if batch is None:
        return
    top = max(line.litres for line in batch.lines)
    each = box.width() / len(batch.lines)
    for n, line in enumerate(batch.lines):
        r = min(0.46 * each, box.height() * 0.5) * (line.litres / top) ** (1 / 3)
        at = QPointF(box.left() + (n + 0.5) * each, box.bottom() - fonts.scaled(64))
        heap = QPainterPath(at - QPointF(r, 0))
        heap.quadTo(at - QPointF(0, 1.5 * r), at + QPointF(r, 0))
        heap.closeSubpath()
        p.fillPath(heap, mixed(grain_colour(line.key), t.color("sheet"), 0.2))
        p.setPen(QPen(t.color("ink"), 1.3))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(heap)
        short = line.status != "fits"
        words(
            p,
            t,
            f"{line.scoops:.1f}",
            at.x(),
            at.y() + fonts.scaled(26),
            STATUS_ROLE[line.status] if short else "ink",
            font=fonts.text(24, bold=True),
            align="center",
        )
        words(
            p,
            t,
            line.name.split(",")[0].split(" (")[0],
            at.x(),
            at.y() + fonts.scaled(44),
            font=fonts.text(15),
            align="center",
        )
        words(
            p,
            t,
            f"{line.grains}, {plan.u.litres(line.litres)}"
            + (f"; {plan.u.litres(line.missing_l)} short" if short else ""),
            at.x(),
            at.y() + fonts.scaled(61),
            STATUS_ROLE[line.status] if short else "quiet",
            font=fonts.text(14),
            align="center",
        )


def step_figures(
    p: QPainter, plan: PlantingPlan, step: WorkStep, t: Theme, plane: Plane, base: RootBase | None
) -> None:
    """The dimension that the step is about."""
    a, u, pot = plan.a, plan.u, plan.a.pot
    roots, fit = a.case.roots, a.figures.roots
    kind = step.drawing
    if kind == "saw" and roots is not None and fit is not None:
        off, kept = float(fit.off_bottom_mm[0]), float(fit.kept_depth_mm[0])
        left, right = mass_ends(a, roots)
        x = plane.px(left, 0).x() - 40
        dimension(p, t, QPointF(x, plane.px(0, 0).y()), QPointF(x, plane.px(0, off).y()), u.figure(off), "oxide")
        x = plane.px(right, 0).x() + 40
        dimension(
            p, t, QPointF(x, plane.px(0, off).y()), QPointF(x, plane.px(0, off + kept).y()), u.figure(kept), side=1
        )
    elif kind == "comb" and roots is not None and fit is not None:
        y = plane.px(0, roots.depth_mm * 0.45).y()
        whole = ball_section(roots, a.seat.x_mm, 0.0)
        for mm, edge, s in (
            (float(fit.off_left_mm[0]), float(whole[:, 0].min()), 1),
            (float(fit.off_right_mm[0]), float(whole[:, 0].max()), -1),
        ):
            if mm > 0.5:
                dimension(
                    p,
                    t,
                    plane.px(edge, 0) + QPointF(0, y - plane.px(0, 0).y()),
                    plane.px(edge + s * mm, 0) + QPointF(0, y - plane.px(0, 0).y()),
                    u.figure(mm),
                    "oxide",
                )
    elif kind == "heap" and plan.batch is not None and plan.batch.heap_dry is not None:
        layer = a.case.layer[1] if a.case.layer is not None else 0.0
        low = figure_for(pot).floor_mm + layer
        x = plane.px(a.seat.x_mm, 0).x()
        dimension(
            p,
            t,
            QPointF(x, plane.px(0, low).y()),
            QPointF(x, plane.px(0, low + plan.batch.heap_dry.height_mm).y()),
            u.figure(plan.batch.heap_dry.height_mm),
            side=1,
        )
    elif kind == "coarse" and a.case.layer is not None:
        low = figure_for(pot).floor_mm
        x = plane.px(pot.length_mm / 2, 0).x() + 16
        dimension(
            p,
            t,
            QPointF(x, plane.px(0, low).y()),
            QPointF(x, plane.px(0, low + a.case.layer[1]).y()),
            u.figure(a.case.layer[1]),
            side=1,
        )
    elif kind in ("try", "set", "tie"):
        x = plane.px(pot.length_mm / 2, 0).x() + 16
        rim, top = plane.px(0, pot.height_mm).y(), plane.px(0, pot.height_mm + a.seat.raise_mm).y()
        if abs(a.seat.raise_mm) >= 0.5:
            dimension(p, t, QPointF(x, rim), QPointF(x, top), u.figure(abs(a.seat.raise_mm)), side=1)
        if kind == "set":
            y = plane.px(0, 0).y() + 16
            left, right = -pot.length_mm / 2, pot.length_mm / 2
            at = a.seat.x_mm
            dimension(p, t, QPointF(plane.px(left, 0).x(), y), QPointF(plane.px(at, 0).x(), y), u.figure(at - left))
            dimension(p, t, QPointF(plane.px(at, 0).x(), y), QPointF(plane.px(right, 0).x(), y), u.figure(right - at))
    elif kind in ("fill", "water"):
        x = plane.px(pot.length_mm / 2, 0).x() + 16
        dimension(
            p,
            t,
            QPointF(x, plane.px(0, pot.height_mm - a.case.headspace_mm).y()),
            QPointF(x, plane.px(0, pot.height_mm).y()),
            u.figure(a.case.headspace_mm),
            side=1,
        )
