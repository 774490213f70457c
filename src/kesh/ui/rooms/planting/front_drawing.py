"""The planting from the front: the tree as it will stand, eye level and plumb, the lever of its weight, the soil line at the rim."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.planting.placing import NamedHeight, soil_line
from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.report.roots import tilt_of
from kesh.base.units import Units
from kesh.figure.line import Chance
from kesh.model import Planting
from kesh.photo.cutout import CutOut
from kesh.science.stand.placement import Lever
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import dash_dot, dimension, extension, ruler, words
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.paint.scene import draw_planted
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme, mixed

EYE_SHARE = 0.62


def draw_front(
    p: QPainter, plan: PlantingPlan, planting: Planting, gallery: Gallery, t: Theme, plane: Plane, *, real: CutOut | None, eye: bool, left_px: float,
) -> None:  # fmt: skip
    """Tree and pot on the ground line with a ruler; the eye level, the plumb over the foot, and where the apex stood before a tilt."""
    a, u = plan.a, plan.u
    tree, pot, k = a.case.tree, a.pot, plane.px_mm
    tall = tree.measure.height_mm or 300.0
    foot_y = pot.height_mm + planting.raise_mm
    top = foot_y + tall
    draw_planted(
        p, gallery, t, tree, a.case.species, pot, planting, plane.origin, k, hurry=a.case.hurry, real=real, tilt_deg=planting.tilt_deg,
    )  # fmt: skip
    p.setPen(QPen(t.color("ink"), 1.5))
    half = pot.length_mm / 2
    p.drawLine(QLineF(plane.px(-half - 40 / k, 0), plane.px(half + 40 / k, 0)))
    ruler(p, t, left_px, plane.origin.y(), k, top, unit=u.length)
    x = planting.offset_x_mm
    if planting.tilt_deg:
        _tilt_mark(p, plan, planting, t, plane, tall, foot_y)
    if eye:
        level = foot_y + EYE_SHARE * tall
        y = plane.px(0, level).y()
        p.setPen(dash_dot(t.color("indigo"), 1.1))
        reach = max(tree.measure.canopy_right_mm or 100, tree.measure.canopy_left_mm or 100, half) + 14 / k
        p.drawLine(QLineF(left_px, y, plane.px(x + reach, 0).x(), y))
        words(
            p,
            t,
            u.figure(level),
            left_px - 4,
            y + 4,
            "indigo",
            font=fonts.text(12, bold=True),
            align="right",
            ground="sheet",
        )
        p.setPen(QPen(t.color("ink"), 0.9))
        p.drawLine(QLineF(plane.px(x, foot_y), plane.px(x, top + 8 / k)))
        at = plane.px(x, foot_y)
        p.setBrush(t.color("ink"))
        p.setPen(Qt.PenStyle.NoPen)
        p.drawPolygon(QPolygonF([at + QPointF(-4, -9), at + QPointF(4, -9), at]))
    weight = a.figures.tree_weight
    if weight is not None:
        c = plane.px(x + weight[1], foot_y + 0.5 * tall)
        _mass_mark(p, t, c)


def _tilt_mark(
    p: QPainter, plan: PlantingPlan, planting: Planting, t: Theme, plane: Plane, tall: float, foot_y: float
) -> None:
    """How far the apex goes: from where it stood, dashed, to where it stands."""
    shift = tilt_of(plan.a).apex_shift_mm or 0.0
    sign = 1 if planting.tilt_deg > 0 else -1
    apex = planting.offset_x_mm + (plan.a.case.tree.measure.apex_offset_mm or 0.0)
    was, now = (
        plane.px(apex, foot_y + tall),
        plane.px(apex + sign * shift, foot_y + tall * float(np.cos(np.radians(planting.tilt_deg)))),
    )
    pen = QPen(t.color("edge"), 1.1)
    pen.setDashPattern([4, 3])
    p.setPen(pen)
    p.drawLine(QLineF(plane.px(planting.offset_x_mm, foot_y), was))
    p.setPen(QPen(t.color("moss"), 1.3))
    p.drawLine(QLineF(was, now))
    words(
        p,
        t,
        f"apex {plan.u.figure(shift)} {'right' if sign > 0 else 'left'}",
        now.x() + 6 * sign,
        now.y() - 4,
        "moss",
        font=fonts.text(12),
        align="left" if sign > 0 else "right",
        ground="sheet",
    )


def _mass_mark(p: QPainter, t: Theme, at: QPointF) -> None:
    """The middle of the visual weight: a disc in quarters."""
    r = 5.0
    box = QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r)
    p.setPen(QPen(t.color("ink"), 1.2))
    p.setBrush(t.color("sheet"))
    p.drawEllipse(box)
    p.setBrush(t.color("ink"))
    p.drawPie(box, 0, 90 * 16)
    p.drawPie(box, 180 * 16, 90 * 16)


def draw_beam(p: QPainter, plan: PlantingPlan, t: Theme, plane: Plane, y: float) -> None:
    """The lever in a line: a plank over the pot's middle, the wish as a block on it, the weight where it lies now."""
    f, pot = plan.a.figures, plan.a.pot
    lever = plan.lever
    if f.balance is None or lever is None:
        return
    value = float(f.balance[0])
    half = pot.length_mm / 2
    left, right = plane.px(-half, 0).x(), plane.px(half, 0).x()
    middle = plane.px(0, 0).x()
    good = lever.wish[0] - 0.02 <= value <= lever.wish[1] + 0.02
    p.setPen(QPen(t.color("ink"), 1.1))
    p.setBrush(mixed(t.color("ochre_tint"), t.color("sheet"), 0.3))
    p.drawRect(QRectF(left, y, right - left, 5))
    low, high = (plane.px(w * half, 0).x() for w in lever.wish)
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(t.color("moss_fill"))
    p.drawRect(QRectF(low, y + 0.5, high - low, 4))
    p.setPen(QPen(t.color("ink"), 1.1))
    p.setBrush(t.color("sheet"))
    p.drawPolygon(QPolygonF([QPointF(middle, y + 5), QPointF(middle - 6, y + 15), QPointF(middle + 6, y + 15)]))
    at = plane.px(value * half, 0).x()
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(t.color("ink" if good else "oxide"))
    p.drawPolygon(QPolygonF([QPointF(at - 5, y - 9), QPointF(at + 5, y - 9), QPointF(at, y)]))
    near, far = sorted((abs(lever.wish[0]) * half, abs(lever.wish[1]) * half))
    wish = (
        f"within {plan.u.figure(far)} wished"
        if lever.wish[0] < 0 < lever.wish[1]
        else f"{plan.u.figure(near)} to {plan.u.figure(far)} wished"
    )
    told = f"weight {plan.u.figure(abs(value) * half)} {'right' if value > 0 else 'left'}; {wish}"
    words(p, t, told, middle, y + fonts.scaled(29), "quiet" if good else "oxide", font=fonts.text(12), align="center")


def draw_rim(p: QPainter, plan: PlantingPlan, planting: Planting, t: Theme, box: QRectF) -> float:
    """The soil line at the wall, cut through; returns px for a mm. Named heights stand at the trunk with their mm over the soil."""
    a, u = plan.a, plan.u
    named = list(soil_line(a))
    pot, head, mound = a.pot, a.case.headspace_mm, a.case.mound_mm
    lowest = -max(head, 0.0) - 16
    highest = max(planting.raise_mm, mound - head, 4.0) + 10
    wide_mm = 72.0
    k = min(box.height() / max(highest - lowest, 30.0), (box.width() - fonts.scaled(176)) / wide_mm, 3.0)
    left = box.left() + fonts.scaled(96)
    plane = Plane(QPointF(left, box.bottom() + lowest * k), k)
    wall = QPainterPath()
    lip = 4.0 if pot.profile.kind == "lip" else 1.5
    wall.addPolygon(
        QPolygonF(
            [
                plane.px(-lip, 0),
                plane.px(pot.wall_mm, 0),
                plane.px(pot.wall_mm, lowest),
                plane.px(0, lowest),
                plane.px(0, -6),
                plane.px(-lip, -4),
            ]
        )
    )
    wall.closeSubpath()
    p.fillPath(wall, t.color("oxide_tint"))
    hatch(p, wall, t.color("oxide"), 1.0, gap_px=5)
    p.setPen(QPen(t.color("ink"), 1.3))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(wall)
    s = np.linspace(0, 1, 30)
    x = pot.wall_mm + s * (wide_mm - pot.wall_mm)
    surface = -head + mound * np.sin(s * np.pi / 2) ** 1.2
    soil = QPainterPath()
    soil.addPolygon(
        plane.polygon(np.column_stack([np.concatenate([x, x[::-1]]), np.concatenate([surface, np.full(30, lowest)])]))
    )
    soil.closeSubpath()
    p.fillPath(soil, mixed(t.color("soil"), t.color("sheet"), 0.72))
    _dots(p, t, soil, a.case.tree.seed)
    p.setPen(QPen(t.color("ink"), 1.2))
    p.drawPolyline(plane.polygon(np.column_stack([x, surface])))
    # the foot of the trunk comes in from the right
    foot = planting.raise_mm
    trunk = QPainterPath(plane.px(wide_mm * 0.62, min(foot, float(surface[-1]) + 30) - 3))
    trunk.quadTo(plane.px(wide_mm * 0.9, foot + 2), plane.px(wide_mm * 0.97, foot + 26))
    trunk.lineTo(plane.px(wide_mm, foot + 26))
    trunk.lineTo(plane.px(wide_mm, min(foot, float(surface[-1])) - 3))
    trunk.closeSubpath()
    p.save()
    p.setClipRect(box)
    p.fillPath(trunk, mixed(t.color("bark"), t.color("sheet"), 0.3))
    p.setPen(QPen(t.color("ink"), 1.0))
    p.drawPath(trunk)
    p.restore()
    _rim_sizes(p, plan, planting, t, plane, u, named, wide_mm, float(surface[-1]))
    return k


def _dots(p: QPainter, t: Theme, soil: QPainterPath, seed: int) -> None:
    chance = Chance(seed, "rim")
    box = soil.boundingRect()
    n = int(min(260, box.width() * box.height() / 70))
    x, y = chance.many(n, box.left(), box.right()), chance.many(n, box.top(), box.bottom())
    p.save()
    p.setClipPath(soil)
    p.setPen(
        QPen(t.color("bark_dark", 0.6) if not t.is_dark else t.color("ink", 0.5), 1.3, cap=Qt.PenCapStyle.RoundCap)
    )
    p.drawPoints(QPolygonF([QPointF(a, b) for a, b in zip(x.tolist(), y.tolist(), strict=True)]))
    p.restore()


def _rim_sizes(
    p: QPainter, plan: PlantingPlan, planting: Planting, t: Theme, plane: Plane, u: Units, named: list[NamedHeight], wide_mm: float, crest: float
) -> None:  # fmt: skip
    """Over rim, headspace, mound, and each named height against the soil."""
    a = plan.a
    bold = fonts.text(12)
    x = plane.px(0, 0).x() - 12
    level = plane.px(0, 0).y()
    extension(p, t, QPointF(x - 6, level), plane.px(wide_mm * 0.5, 0))
    head = plane.px(0, -a.case.headspace_mm).y()
    told = [
        (
            level - 4,
            f"over rim {u.figure(planting.raise_mm)}"
            if planting.raise_mm >= 0
            else f"under rim {u.figure(-planting.raise_mm)}",
        ),
        (max(head, level + fonts.scaled(14)), f"headspace {u.figure(a.case.headspace_mm)}"),
    ]
    for y, text in told:
        words(p, t, text, x - 8, y, font=bold, align="right")
    p.setPen(QPen(t.color("ink"), 1.0))
    p.drawLine(QLineF(x, level, x, head))
    if a.case.mound_mm >= 1:
        at = plane.px(wide_mm * 0.55, 0).x()
        top = plane.px(0, crest).y()
        dimension(p, t, QPointF(at, head), QPointF(at, top), "", bold=False)
        # in the open air over the soil, where neither the crest nor a height crosses it
        words(p, t, f"mound {u.figure(a.case.mound_mm)}", at - 6, top - 5, font=bold, align="right")
    right = plane.px(wide_mm, 0).x() + 8
    last = -1e9
    for h in sorted(named, key=lambda h: -h.over_mm):
        y = plane.px(0, crest + h.over_mm).y()
        role = {"fits": "ink", "watch": "ochre", "no": "oxide"}[h.status]
        text_y = max(y + 4, last + fonts.scaled(14))
        last = text_y
        extension(p, t, QPointF(plane.px(wide_mm * 0.85, 0).x(), y), QPointF(right - 2, text_y - 4), role)
        words(
            p,
            t,
            f"{h.name} {u.figure(abs(h.over_mm))}{'' if h.over_mm >= 0 else ' under'}",
            right,
            text_y,
            role,
            font=bold,
        )


def draw_lever(p: QPainter, plan: PlantingPlan, t: Theme, lever: Lever, x_mm: float, box: QRectF) -> None:
    """Balance as the trunk is moved along the pot: the custom as a band across, the wish as a band along, side room as its end."""
    u = plan.u
    low, high = float(lever.x_mm.min()), float(lever.x_mm.max())
    top = max(0.6, float(np.abs(lever.balance).max()))

    def at(x: float, b: float) -> QPointF:
        return QPointF(
            box.left() + (x - low) / (high - low) * box.width(), box.center().y() - b / top * box.height() / 2
        )

    room = lever.room_limits()
    if room is not None:
        p.setPen(Qt.PenStyle.NoPen)
        for one, two in ((low, room[0]), (room[1], high)):
            shut = QPainterPath()
            shut.addRect(QRectF(at(one, top), at(two, -top)))
            hatch(p, shut, t.color("oxide", 0.6), 1.0, angle_deg=45, gap_px=8)
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(t.color("moss_tint", 0.75))
    p.drawRect(QRectF(at(lever.custom.x_low, top), at(lever.custom.x_high, -top)))
    p.setBrush(t.color("moss_fill", 0.35))
    p.drawRect(QRectF(at(low, lever.wish[1]), at(high, lever.wish[0])))
    p.setPen(QPen(t.color("rule"), 1))
    p.drawLine(QLineF(at(low, 0), at(high, 0)))
    p.drawLine(QLineF(at(0, top), at(0, -top)))
    p.setPen(QPen(t.color("ink"), 1.6))
    p.drawPolyline(QPolygonF([at(x, b) for x, b in zip(lever.x_mm.tolist(), lever.balance.tolist(), strict=True)]))
    small = fonts.text(11)
    for b in (-0.5, 0.0, 0.5):
        if abs(b) <= top:
            words(
                p, t, f"{b:+.0%}" if b else "0", box.left() - 6, at(low, b).y() + 4, "quiet", font=small, align="right"
            )
    for x in (lever.custom.x_low, lever.custom.x_high):
        words(p, t, u.figure(x), at(x, -top).x(), box.bottom() + fonts.scaled(13), "moss", font=small, align="center")
    now = float(np.interp(x_mm, lever.x_mm, lever.balance))
    spot = at(x_mm, now)
    p.setBrush(t.color("ink"))
    p.setPen(QPen(t.color("sheet"), 1.5))
    p.drawEllipse(spot, 5, 5)
    words(
        p,
        t,
        f"{u.figure(x_mm)}: {now:+.0%}",
        spot.x() + 9,
        spot.y() - 6,
        font=fonts.text(13, bold=True),
        ground="sheet",
    )
    if lever.best_mm is not None:
        best = at(lever.best_mm, float(np.interp(lever.best_mm, lever.x_mm, lever.balance)))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(t.color("moss"), 2))
        p.drawEllipse(best, 8, 8)


def draw_two_mounds(
    p: QPainter, plan: PlantingPlan, planting: Planting, gallery: Gallery, t: Theme, box: QRectF, told: tuple[str, str]
) -> None:
    """The pot now and after the mound is taken off, side by side at one scale: what the eye then has of the pot."""
    tree, pot = plan.a.case.tree, plan.a.pot
    tall = min(tree.measure.height_mm or 300.0, 0.6 * pot.length_mm)
    k = min(
        (box.width() / 2 - 16) / pot.length_mm, (box.height() - fonts.scaled(30)) / (pot.height_mm + tall * 0.55 + 10)
    )
    y = box.bottom() - fonts.scaled(30)
    for n, mound in enumerate((planting.mound_mm, 0.0)):
        foot = QPointF(box.left() + box.width() * (0.25 + 0.5 * n), y)
        p.save()
        p.setClipRect(QRectF(box.left() + n * box.width() / 2, box.top(), box.width() / 2, box.height()))
        draw_planted(
            p,
            gallery,
            t,
            tree,
            plan.a.case.species,
            pot,
            planting.changed(mound_mm=mound),
            foot,
            k,
            hurry=plan.a.case.hurry,
            tilt_deg=planting.tilt_deg,
        )
        p.restore()
        p.setPen(QPen(t.color("ink"), 1.2))
        p.drawLine(QLineF(foot.x() - pot.length_mm / 2 * k - 10, y, foot.x() + pot.length_mm / 2 * k + 10, y))
        words(
            p,
            t,
            told[n],
            foot.x(),
            y + fonts.scaled(17),
            "ink" if n == 0 else "quiet",
            font=fonts.text(12),
            align="center",
        )
