"""The root mass in the pot, cut through the middle and from above: what stays, what must come off, what stays wet."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.assess import Assessment
from kesh.figure.line import Chance
from kesh.figure.pot_figure import plan_rings
from kesh.geometry.outline import Floats
from kesh.model.roots import RootMass
from kesh.science.root_fit import ball_ring, kept_ring
from kesh.ui.sheet.marks import ON_PICTURE
from kesh.ui.sheet.pot_painter import figure_for, hatch
from kesh.ui.sheet.tree_painter import polygon
from kesh.ui.theme.tokens import Theme, mixed


def _path(points: Floats) -> QPainterPath:
    path = QPainterPath()
    path.addPolygon(polygon(points))
    path.closeSubpath()
    return path


def ball_section(roots: RootMass, trunk_x: float, top_mm: float) -> Floats:
    """The root mass cut through the trunk, mm from the pot's middle and the bench."""
    ring = ball_ring(roots)
    left, right = float(ring[:, 0].min()), float(ring[:, 0].max())
    depth = np.linspace(0, roots.depth_mm, 12)
    shrink = 1 - roots.taper * depth / roots.depth_mm
    round_off = np.minimum(1.0, 1 - 0.10 * (np.maximum(depth / roots.depth_mm - 0.8, 0) / 0.2) ** 2)
    middle = (left + right) / 2
    half = (right - left) / 2 * shrink * round_off
    y = top_mm - depth
    return np.vstack(
        [np.column_stack([trunk_x + middle + half, y]), np.column_stack([trunk_x + middle - half[::-1], y[::-1]])]
    )


def draw_section(
    painter: QPainter, a: Assessment, theme: Theme, px_mm: float, *, done_mm: float | None = None
) -> None:  # fmt: skip
    """Pot, soil, wet zone and roots in section; the painter at the pot's foot, in mm, y down.

    `done_mm`: the sides are combed and the mass has come down to this depth.
    """
    pot, f, case = a.pot, a.figures, a.case
    figure = figure_for(pot)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink = theme.color("ink")
    soil_top = figure.floor_mm + float(f.soil_depth_mm[0])
    if pot.profile.kind != "slab":
        inside = _path(figure.inside)
        filled = QPainterPath()
        filled.addRect(QRectF(-pot.length_mm, -soil_top, 2 * pot.length_mm, soil_top))
        soil = inside.intersected(filled)
        painter.fillPath(soil, mixed(theme.color("soil"), theme.color("sheet"), 0.68))
        _grains(painter, soil, theme, px_mm, seed=len(pot.id))
        if case.layer is not None:
            layer = QPainterPath()
            layer.addRect(QRectF(-pot.length_mm, -(figure.floor_mm + case.layer[1]), 2 * pot.length_mm, case.layer[1]))
            painter.fillPath(inside.intersected(layer), mixed(theme.color("soil"), theme.color("sheet"), 0.35))
        if f.water is not None and f.plantable[0]:
            base = figure.floor_mm + (case.layer[1] if case.layer else 0.0)
            wet = QPainterPath()
            wet_mm = float(f.water.wet_height_mm[0])
            wet.addRect(QRectF(-pot.length_mm, -(base + wet_mm), 2 * pot.length_mm, wet_mm))
            blue = theme.color("indigo_fill", 0.42)
            painter.fillPath(soil.intersected(wet), blue)
    if f.roots is not None and case.roots is not None:
        _roots(painter, a, case.roots, theme, px_mm, done_mm=done_mm)
    if pot.profile.kind != "slab" and f.water is not None and f.plantable[0]:
        base = figure.floor_mm + (case.layer[1] if case.layer else 0.0) + float(f.water.wet_height_mm[0])
        right = figure.inside[: len(figure.inside) // 2]
        reach = float(np.interp(base, right[:, 1], right[:, 0]))
        painter.setPen(QPen(theme.color("indigo"), 1.5 / px_mm, cap=Qt.PenCapStyle.RoundCap))
        painter.drawLine(QLineF(-reach, -base, reach, -base))
    for ring in (*figure.clay, *figure.feet):
        cut = _path(ring)
        painter.fillPath(cut, theme.color("oxide_tint"))
        hatch(painter, cut, theme.color("oxide"), px_mm, gap_px=4.5)
        painter.setPen(QPen(ink, 1.25 / px_mm))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(cut)
    painter.restore()


def _grains(painter: QPainter, soil: QPainterPath, theme: Theme, px_mm: float, seed: int) -> None:
    box = soil.boundingRect()
    count = int(min(1500, box.width() * box.height() / 26))
    chance = Chance(seed, "grains")
    x, y = chance.many(count, box.left(), box.right()), chance.many(count, box.top(), box.bottom())
    size, tone = chance.many(count, 1.2, 2.6), chance.many(count)
    colors = [mixed(theme.color("soil"), theme.color("sheet"), s) for s in (0.15, 0.45)] + [
        mixed(theme.color("ochre_fill"), theme.color("sheet"), 0.35)
    ]
    painter.save()
    painter.setClipPath(soil)
    painter.setPen(Qt.PenStyle.NoPen)
    for k, color in enumerate(colors):
        painter.setBrush(color)
        for a, b, r in zip(
            x[np.floor(tone * 3) == k], y[np.floor(tone * 3) == k], size[np.floor(tone * 3) == k], strict=True
        ):
            painter.drawEllipse(QRectF(a - r, b - r * 0.8, 2 * r, 1.6 * r))
    painter.restore()


def _roots(
    painter: QPainter, a: Assessment, roots: RootMass, theme: Theme, px_mm: float, *, done_mm: float | None
) -> None:  # fmt: skip
    f, seat = a.figures, a.seat
    fit = f.roots
    assert fit is not None
    top = a.pot.height_mm + seat.raise_mm
    ball = ball_section(roots, seat.x_mm, top)
    whole = _path(ball)
    left = float(ball[:, 0].min()) + float(fit.off_left_mm[0])
    right = float(ball[:, 0].max()) - float(fit.off_right_mm[0])
    bottom = top - float(fit.kept_depth_mm[0])
    keep_box = QPainterPath()
    keep_box.addRect(QRectF(left, -top - 1, max(right - left, 0), top - bottom + 1))
    if done_mm is not None:
        there = QPainterPath()
        there.addRect(QRectF(left, -top - 1, max(right - left, 0), done_mm + 1))
        whole = whole.intersected(there)
    kept, lost = whole.intersected(keep_box), whole.subtracted(keep_box)
    ground = mixed(theme.color("bark"), theme.color("sheet"), 0.55)
    painter.fillPath(kept, ground)
    chance = Chance(a.case.tree.seed, "feeders")
    box = whole.boundingRect()
    count = int(min(2200, box.width() * box.height() / 14))
    x, y = chance.many(count, box.left(), box.right()), chance.many(count, box.top(), box.bottom())
    depth, away = (y - box.top()) / box.height(), np.abs(x - seat.x_mm) / (box.width() / 2)
    density = {
        "near_trunk": (1.2 - away) * (1.1 - 0.8 * depth),
        "even": np.full(count, 0.55),
        "outside_bottom": 0.2 + 0.5 * away + 0.4 * depth,
    }[roots.feeders]
    keep = chance.many(count) < density
    painter.save()
    painter.setClipPath(whole)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.color("bark_dark") if not theme.is_dark else theme.color("ink", 0.75))
    r = max(0.55, 0.55 / px_mm)
    for px, py in zip(x[keep], y[keep], strict=True):
        painter.drawEllipse(QPointF(px, py), r, r)
    _thick_roots(painter, a, box, theme, px_mm, chance)
    painter.restore()
    if not lost.isEmpty():
        painter.fillPath(lost, theme.color("oxide_tint", 0.72))
        hatch(painter, lost, theme.color("oxide"), px_mm, angle_deg=-52, gap_px=5)
        painter.setPen(QPen(theme.color("oxide"), 0.9 / px_mm))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(lost)
        if (
            float(fit.off_bottom_mm[0]) > 0.5
            and right > left
            and (done_mm is None or done_mm > float(fit.kept_depth_mm[0]) + 0.5)
        ):
            saw_line(painter, left, right, -bottom, theme.color("oxide"), px_mm)
    pen = QPen(theme.color("bark_dark") if not theme.is_dark else theme.color("ink"), 1.0 / px_mm)
    pen.setDashPattern([9, 4])
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(whole)


def _thick_roots(painter: QPainter, a: Assessment, box: QRectF, theme: Theme, px_mm: float, chance: Chance) -> None:
    trunk = a.case.tree.measure.trunk_diameter_mm or 40.0
    x0 = a.seat.x_mm
    color = mixed(theme.color("bark"), theme.color("bark_dark"), 0.35)
    for side in (-1.0, -0.72, -0.4, 0.38, 0.7, 1.0):
        reach = box.width() / 2 * abs(side) * chance.uniform(0.62, 0.95)
        t = np.linspace(0, 1, 12)
        x = x0 + np.sign(side) * (0.16 * trunk + reach * t)
        y = box.top() + 4 + box.height() * (0.10 + (1.05 - abs(side)) * 0.55) * t**1.3 + chance.uniform(-2, 2) * t
        width = trunk * 0.11 * (1 - t) ** 0.8 + 0.8
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(color)
        ring = [QPointF(p, q - w / 2) for p, q, w in zip(x, y, width, strict=True)] + [
            QPointF(p, q + w / 2) for p, q, w in zip(x[::-1], y[::-1], width[::-1], strict=True)
        ]
        painter.drawPolygon(QPolygonF(ring))


def saw_line(painter: QPainter, left: float, right: float, y: float, color: QColor, px_mm: float) -> None:
    """A toothed line: here the saw goes through."""
    tooth = 5.0 / px_mm
    path = QPainterPath(QPointF(left, y))
    x, up = left, True
    while x < right:
        x = min(x + tooth / 2, right)
        path.lineTo(x, y + (-tooth * 0.30 if up else tooth * 0.30))
        up = not up
    painter.setPen(QPen(color, 1.3 / px_mm))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def draw_plan(
    painter: QPainter, a: Assessment, theme: Theme, px_mm: float, below: Callable[[QPainter], None] | None = None, *,
    done: bool = False,
) -> None:  # fmt: skip
    """Pot and root mass from above, front below; the painter at the pot's centre, in mm, y down.

    `below` paints what lies under the roots, about the trunk; outlines and hatching only are then laid over it.
    """
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    outer, inner = plan_rings(a.pot)
    rim, hollow = _path(outer), _path(inner)
    painter.fillPath(rim.subtracted(hollow), theme.color("oxide_tint"))
    painter.fillPath(hollow, mixed(theme.color("soil"), theme.color("sheet"), 0.72))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for ring in (rim, hollow):
        painter.setPen(QPen(theme.color("ink"), 1.1 / px_mm))
        painter.drawPath(ring)
    for hole in a.pot.holes:
        painter.setPen(QPen(theme.color("edge"), 0.8 / px_mm))
        painter.drawEllipse(QPointF(hole.x_mm, -hole.y_mm), hole.diameter_mm / 2, hole.diameter_mm / 2)
    roots, fit, seat = a.case.roots, a.figures.roots, a.seat
    shift = np.array([seat.x_mm, seat.y_mm])
    if below is not None:
        painter.save()
        painter.translate(seat.x_mm, -seat.y_mm)
        below(painter)
        painter.setClipping(True)
        painter.translate(-seat.x_mm, seat.y_mm)
        around = QPainterPath()
        around.addRect(painter.clipBoundingRect())
        painter.fillPath(around.subtracted(rim), theme.color("sheet", 0.5))
        painter.restore()
        for ring in (rim, hollow):
            painter.setPen(QPen(theme.color("sheet"), 2.6 / px_mm))
            painter.drawPath(ring)
            painter.setPen(QPen(theme.color("ink"), 1.1 / px_mm))
            painter.drawPath(ring)
    if roots is not None and fit is not None:
        whole = _path(ball_ring(roots, seat.turn_deg) + shift)
        stays = kept_ring(roots, a.figures.pots, seat, float(fit.allowed_offset_mm[0]))
        kept = _path(stays + shift) if len(stays) else QPainterPath()
        lost = whole.subtracted(kept)
        if below is None:
            painter.fillPath(kept, mixed(theme.color("bark"), theme.color("sheet"), 0.5))
            feeders_in_plan(painter, a, roots, kept if done else whole, theme, px_mm)
        if float(fit.removed_volume_share[0]) > 1e-4 and not done:
            painter.fillPath(lost, theme.color("oxide_tint", 0.8 if below is None else 0.35))
            hatch(painter, lost, theme.color("oxide"), px_mm, angle_deg=-52, gap_px=5)
        dark = theme.color("bark_dark") if not theme.is_dark else theme.color("ink")
        _dashed(
            painter,
            kept if done else whole,
            dark if below is None else ON_PICTURE["paper_on_picture"],
            px_mm,
            cased=below is not None,
        )
    _trunk_in_plan(painter, QPointF(seat.x_mm, -seat.y_mm), a, theme, px_mm, rings=below is None)
    painter.restore()


def feeders_in_plan(
    painter: QPainter, a: Assessment, roots: RootMass, inside: QPainterPath, theme: Theme, px_mm: float
) -> None:  # fmt: skip
    """Feeder roots from above as dots, as dense as they are thought to be; fewer while something is dragged."""
    chance, seat = Chance(a.case.tree.seed, "feeders from above"), a.seat
    box = inside.boundingRect()
    count = int(min(400 if a.case.hurry else 1500, box.width() * box.height() / 30))
    x, y = chance.many(count, box.left(), box.right()), chance.many(count, box.top(), box.bottom())
    away = np.hypot((x - seat.x_mm) / (box.width() / 2), (y + seat.y_mm) / (box.height() / 2))
    density = {"near_trunk": 1.15 - away, "even": np.full(count, 0.6), "outside_bottom": 0.1 + 0.75 * away}[
        roots.feeders
    ]
    keep = chance.many(count) < density
    painter.save()
    painter.setClipPath(inside)
    painter.setPen(
        QPen(
            theme.color("bark_dark") if not theme.is_dark else theme.color("ink", 0.75),
            1.5 / px_mm,
            cap=Qt.PenCapStyle.RoundCap,
        )
    )
    painter.drawPoints(QPolygonF([QPointF(p, q) for p, q in zip(x[keep].tolist(), y[keep].tolist(), strict=True)]))
    painter.restore()


def _dashed(painter: QPainter, path: QPainterPath, color: QColor, px_mm: float, *, cased: bool) -> None:
    """The outline of what is there; over a photograph it is light with dark sides."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if cased:
        painter.setPen(QPen(ON_PICTURE["ink_on_picture"], 3.4 / px_mm))
        painter.drawPath(path)
    pen = QPen(color, (1.8 if cased else 1.0) / px_mm)
    pen.setDashPattern([6, 4] if cased else [9, 4])
    painter.setPen(pen)
    painter.drawPath(path)


def _trunk_in_plan(painter: QPainter, at: QPointF, a: Assessment, theme: Theme, px_mm: float, *, rings: bool) -> None:
    """The trunk cut across with its rings, or over a photograph its outline alone."""
    trunk = a.case.tree.measure.trunk_diameter_mm or 40.0
    painter.setPen(
        QPen(theme.color("ink") if rings else ON_PICTURE["paper_on_picture"], (1.0 if rings else 1.6) / px_mm)
    )
    painter.setBrush(mixed(theme.color("bark"), theme.color("sheet"), 0.1) if rings else Qt.BrushStyle.NoBrush)
    painter.drawEllipse(at, trunk / 2, trunk / 2)
    painter.setPen(QPen(theme.color("bark_dark"), 0.6 / px_mm))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for k in (0.32, 0.2, 0.1) if rings else ():
        painter.drawEllipse(at, trunk * k, trunk * k * 0.94)
