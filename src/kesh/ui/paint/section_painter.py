"""The root mass in the pot, cut through the middle: what stays, what must come off, what stays wet."""

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.assess import Assessment
from kesh.advice.roots.work import plan_for
from kesh.figure.line import Chance
from kesh.geometry.outline import Floats
from kesh.model import MapRoot, Pot, RootMass
from kesh.science.roots.fit import ball_ring
from kesh.science.roots.lines import along_mm, root_line, trunk_at_soil_mm, turned_line
from kesh.science.roots.plan import RootStep
from kesh.ui.paint.layers import Keep, plainly
from kesh.ui.paint.pot_painter import figure_for, hatch
from kesh.ui.paint.root_painter import band
from kesh.ui.paint.tree_painter import closed_path, polygon
from kesh.ui.theme.tokens import Theme, mixed

# how far a drawn root sags over its reach
SAG = 0.16
# a root that spans less of its length from the left to the right is seen end on
END_ON = 0.55


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
    painter: QPainter, a: Assessment, theme: Theme, px_mm: float, *, done_mm: float | None = None, hand: str = "",
    keep: Keep = plainly,
) -> None:  # fmt: skip
    """Pot, soil, wet zone and roots in section; the painter at the pot's foot, in mm, y down.

    `done_mm`: the sides are combed and the mass has come down to this depth. `keep` may hold parts that do not change while
    something is dragged; `hand` is the root that is pulled.
    """
    pot, f, case = a.pot, a.figures, a.case
    figure = figure_for(pot)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    soil_top = figure.floor_mm + float(f.soil_depth_mm[0])
    layer = case.layer[1] if case.layer else 0.0
    wet = float(f.water.wet_height_mm[0]) if f.water is not None and f.plantable[0] else 0.0
    if pot.profile.kind != "slab":
        key = (pot, theme.name, round(soil_top, 2), layer, round(wet, 2))
        keep(painter, "soil", key, lambda p: _soil(p, a, theme, px_mm, (soil_top, layer, wet)))
    if f.roots is not None and case.roots is not None:
        _roots(painter, a, case.roots, theme, px_mm, done_mm=done_mm, hand=hand, keep=keep)
    if pot.profile.kind != "slab" and wet > 0:
        base = figure.floor_mm + layer + wet
        right = figure.inside[: len(figure.inside) // 2]
        reach = float(np.interp(base, right[:, 1], right[:, 0]))
        painter.setPen(QPen(theme.color("indigo"), 1.4 / px_mm))
        painter.drawLine(QLineF(-reach, -base, reach, -base))
    keep(painter, "pot in section", (pot, theme.name), lambda p: draw_clay(p, a.pot, theme, px_mm))
    painter.restore()


def draw_clay(painter: QPainter, pot: Pot, theme: Theme, px_mm: float) -> None:
    """Wall, floor and feet, hatched as cut."""
    figure = figure_for(pot)
    for ring in (*figure.clay, *figure.feet):
        cut = closed_path(ring)
        painter.fillPath(cut, theme.color("oxide_tint"))
        hatch(painter, cut, theme.color("oxide"), px_mm, gap_px=4.5)
        painter.setPen(QPen(theme.color("ink"), 1.25 / px_mm))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(cut)


def _soil(painter: QPainter, a: Assessment, theme: Theme, px_mm: float, heights: tuple[float, float, float]) -> None:
    """Mix, layer and what stays wet; heights: the soil line over the bench, the layer, the wet zone, mm."""
    pot, figure = a.pot, figure_for(a.pot)
    soil_top, layer_mm, wet_mm = heights
    inside = closed_path(figure.inside)
    filled = QPainterPath()
    filled.addRect(QRectF(-pot.length_mm, -soil_top, 2 * pot.length_mm, soil_top))
    soil = inside.intersected(filled)
    painter.fillPath(soil, mixed(theme.color("soil"), theme.color("sheet"), 0.68))
    scatter_grains(painter, soil, theme, px_mm, seed=len(pot.id))
    if layer_mm > 0:
        layer = QPainterPath()
        layer.addRect(QRectF(-pot.length_mm, -(figure.floor_mm + layer_mm), 2 * pot.length_mm, layer_mm))
        painter.fillPath(inside.intersected(layer), mixed(theme.color("soil"), theme.color("sheet"), 0.35))
    if wet_mm > 0:
        wet = QPainterPath()
        wet.addRect(QRectF(-pot.length_mm, -(figure.floor_mm + layer_mm + wet_mm), 2 * pot.length_mm, wet_mm))
        painter.fillPath(soil.intersected(wet), theme.color("indigo_fill", 0.42))


def scatter_grains(painter: QPainter, soil: QPainterPath, theme: Theme, px_mm: float, seed: int) -> None:
    """Grains of a mix scattered in a shape; the painter in mm, y down."""
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
    painter: QPainter, a: Assessment, roots: RootMass, theme: Theme, px_mm: float, *, done_mm: float | None, hand: str, keep: Keep
) -> None:  # fmt: skip
    """The root mass: its ground, feeders, roots, and the line where the saw goes through."""
    f, seat, tree = a.figures, a.seat, a.case.tree
    fit = f.roots
    assert fit is not None
    kept, top = float(fit.kept_depth_mm[0]), a.pot.height_mm + seat.raise_mm
    ends = (float(fit.off_left_mm[0]), float(fit.off_right_mm[0]), kept)
    place = (roots, seat.x_mm, top, theme.name, done_mm)
    keep(painter, "mass in section", (*place, ends), lambda p: _mass(p, a, roots, theme, px_mm, done_mm))
    keep(
        painter,
        "feeders",
        (*place, tree.seed, bool(tree.root_map)),
        lambda p: _feeders(p, a, roots, theme, px_mm, done_mm),
    )
    plan = plan_for(f) if tree.root_map else None
    still = tuple((r, plan.step(r.id) if plan is not None else None) for r in tree.root_map if r.id != hand)
    live = tuple((r, plan.step(r.id) if plan is not None else None) for r in tree.root_map if r.id == hand)
    cuts = tuple((r, s and (s.action, s.at_mm, s.year)) for r, s in still)
    keep(
        painter, "roots in section", (*place, cuts, seat.turn_deg),
        lambda p: _mapped_roots(p, a, still, theme, px_mm, done_mm),
    )  # fmt: skip
    if live:
        _mapped_roots(painter, a, live, theme, px_mm, done_mm)
    left, right = mass_ends(a, roots)
    if float(fit.off_bottom_mm[0]) > 0.5 and right > left and (done_mm is None or done_mm > kept + 0.5):
        saw_line(painter, left, right, -(top - kept), theme.color("oxide"), px_mm)


def mass_ends(a: Assessment, roots: RootMass) -> tuple[float, float]:
    """Left and right end of what stays of the mass in section, mm from the pot's middle."""
    fit, ball = a.figures.roots, ball_section(roots, a.seat.x_mm, 0.0)
    left, right = float(ball[:, 0].min()), float(ball[:, 0].max())
    return (left, right) if fit is None else (left + float(fit.off_left_mm[0]), right - float(fit.off_right_mm[0]))


def _whole(a: Assessment, roots: RootMass, done_mm: float | None) -> QPainterPath:
    """The mass that is there in section: all of it, or what the cuts so far have left."""
    top = a.pot.height_mm + a.seat.raise_mm
    whole = closed_path(ball_section(roots, a.seat.x_mm, top))
    if done_mm is None:
        return whole
    left, right = mass_ends(a, roots)
    there = QPainterPath()
    there.addRect(QRectF(left, -top - 1, max(right - left, 0), done_mm + 1))
    return whole.intersected(there)


def _mass(painter: QPainter, a: Assessment, roots: RootMass, theme: Theme, px_mm: float, done_mm: float | None) -> None:
    """What stays as ground, what comes off hatched, and the outline of what is there."""
    fit = a.figures.roots
    assert fit is not None
    top, (left, right), whole = a.pot.height_mm + a.seat.raise_mm, mass_ends(a, roots), _whole(a, roots, done_mm)
    keep_box = QPainterPath()
    keep_box.addRect(QRectF(left, -top - 1, max(right - left, 0), float(fit.kept_depth_mm[0]) + 1))
    kept, lost = whole.intersected(keep_box), whole.subtracted(keep_box)
    painter.fillPath(kept, mixed(theme.color("bark"), theme.color("sheet"), 0.55))
    # lines smoothed by the pixel cost most of a frame; under the hand they need not be
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, not a.case.hurry)
    if not lost.isEmpty():
        painter.fillPath(lost, theme.color("oxide_tint", 0.72))
        hatch(painter, lost, theme.color("oxide"), px_mm, angle_deg=-52, gap_px=5)
        painter.setPen(QPen(theme.color("oxide"), 0.9 / px_mm))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(lost)
    pen = QPen(theme.color("bark_dark") if not theme.is_dark else theme.color("ink"), 1.0 / px_mm)
    pen.setDashPattern([9, 4])
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(whole)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)


def _feeders(
    painter: QPainter, a: Assessment, roots: RootMass, theme: Theme, px_mm: float, done_mm: float | None
) -> None:
    """Feeders as dots, as dense as they are thought to be, and some roots where there is no map."""
    chance, whole = Chance(a.case.tree.seed, "feeders"), _whole(a, roots, done_mm)
    seat, box = a.seat, whole.boundingRect()
    count = int(min(2200, box.width() * box.height() / 14))
    x, y = chance.many(count, box.left(), box.right()), chance.many(count, box.top(), box.bottom())
    depth, away = (y - box.top()) / max(box.height(), 1e-9), np.abs(x - seat.x_mm) / max(box.width() / 2, 1e-9)
    density = {
        "near_trunk": (1.2 - away) * (1.1 - 0.8 * depth),
        "even": np.full(count, 0.55),
        "outside_bottom": 0.2 + 0.5 * away + 0.4 * depth,
    }[roots.feeders]
    there = chance.many(count) < density
    painter.save()
    painter.setClipPath(whole)
    dots = theme.color("bark_dark") if not theme.is_dark else theme.color("ink", 0.75)
    painter.setPen(QPen(dots, max(1.1, 1.1 / px_mm), cap=Qt.PenCapStyle.RoundCap))
    painter.drawPoints(polygon(np.column_stack([x[there], -y[there]])))
    if not a.case.tree.root_map:
        _thick_roots(painter, a, box, theme, px_mm, chance)
    painter.restore()


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


def _mapped_roots(
    painter: QPainter, a: Assessment, some: Sequence[tuple[MapRoot, RootStep | None]], theme: Theme, px_mm: float, done_mm: float | None
) -> None:  # fmt: skip
    """Roots of the map as they are seen from the front: those behind first, what goes now in red."""
    tree, seat, roots = a.case.tree, a.seat, a.case.roots
    assert roots is not None
    top_mm, done = a.pot.height_mm + seat.raise_mm, done_mm is not None
    trunk = trunk_at_soil_mm(tree)
    bark = mixed(theme.color("bark"), theme.color("bark_dark"), 0.35)
    drawn = []
    for root, step in some:
        line = turned_line(root_line(root, trunk), seat.turn_deg)
        # begun within the trunk; places along it count from the bark
        line = np.vstack([0.3 * line[:1], line])
        along = along_mm(line)
        along = along - along[1]
        # by its own fall, and a little bent as roots are: only the drawing is
        t = np.maximum(along, 0) / max(along[-1], 1e-9)
        down = 0.45 * root.diameter_mm - root.height_mm + along * np.tan(np.radians(root.drop_deg))
        down = np.maximum(down, -4.0) + SAG * along[-1] * t**1.6
        drawn.append(
            (float(line[:, 1].mean()), root, step, np.column_stack([seat.x_mm + line[:, 0], down - top_mm]), along)
        )
    painter.save()
    painter.setClipPath(_whole(a, roots, done_mm))
    for behind, root, step, spots, along in sorted(drawn, key=lambda d: -d[0]):
        until = float(along[-1])
        if step is not None and step.year == 0 and step.action in ("remove", "shorten"):
            until = step.at_mm or 0.0
        veil = 0.4 if behind > 12 else 0.0
        painter.setPen(QPen(mixed(theme.color("bark_dark"), theme.color("sheet"), veil), 0.7 / px_mm))
        if root.kind == "circling" or np.ptp(spots[1:, 0]) < END_ON * along[-1]:
            # it runs to the viewer or away, or round the trunk: seen end on, where it is farthest to the side
            if done and step is not None and step.action == "remove":
                continue
            gone = step is not None and step.year == 0 and step.action in ("remove", "shorten") and not done
            painter.setBrush(mixed(theme.color("oxide_fill") if gone else bark, theme.color("sheet"), veil))
            side = int(np.argmax(np.abs(spots[:, 0] - seat.x_mm)))
            painter.drawEllipse(QPointF(*spots[side]), 0.42 * root.diameter_mm, 0.38 * root.diameter_mm)
            continue
        for goes in (True, False):
            part = along >= until if goes else along <= until
            if part.sum() < 2 or (goes and (done or until >= along[-1])):
                continue
            thick = root.diameter_mm * (1 - 0.72 * max(float(along[part][0]), 0.0) / max(float(along[-1]), 1e-9))
            color = theme.color("oxide_fill") if goes else bark
            painter.setBrush(mixed(color, theme.color("sheet"), veil))
            painter.drawPolygon(polygon(band(spots[part], 0.9 * thick, float(along[-1]), flare=0.12) * [1, -1]))
    painter.restore()


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
