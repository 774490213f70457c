"""A group from the front, or from aside, drawn from the very plan: each trunk with its height and thickness, far ones paler."""

from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from kesh.advice.group.plan import GroupPlan
from kesh.base.units import Units
from kesh.figure.grove import Stem, stems_of, whole_of
from kesh.geometry.outline import outline_points
from kesh.reference.tables import Species
from kesh.science.group.hill import rise_mm
from kesh.science.group.sight import hidden_pairs, seen_from
from kesh.ui.paint.gallery import Gallery, view_of_sitter
from kesh.ui.paint.group_plan_painter import tone
from kesh.ui.paint.labels import Labels, in_a_row
from kesh.ui.paint.marks import dimension, extension, ruler, words
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.pot_painter import draw_pot
from kesh.ui.paint.scene import pixel_ratio
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

# how pale the farthest tree is, and how far behind it is so pale by the tallest one's height
PALE, FAR_SHARE = 0.42, 0.30
SEATED_MM = 4.0
# more names than this do not stand side by side
MANY_NAMES = 9


@lru_cache(maxsize=64)
def _veiled(key: int, share: float, ground: str) -> QPixmap:
    pixmap = _PIXMAPS[key]
    made = QPixmap(pixmap)
    painter = QPainter(made)
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceAtop)
    veil = QColor(ground)
    veil.setAlphaF(share)
    painter.fillRect(made.rect(), veil)
    painter.end()
    return made


_PIXMAPS: dict[int, QPixmap] = {}


def pale(pixmap: QPixmap, share: float, ground: QColor) -> QPixmap:
    """A picture moved towards its ground by a share, in twelve steps; kept while the picture is."""
    step = round(share * 12) / 12
    if step <= 0:
        return pixmap
    key = int(pixmap.cacheKey())
    _PIXMAPS[key] = pixmap
    if len(_PIXMAPS) > 64:
        _PIXMAPS.pop(next(iter(_PIXMAPS)))
    return _veiled(key, step, ground.name())


def stems(plan: GroupPlan, species: Species | None, from_deg: float) -> tuple[Stem, ...]:
    """The trees as they stand in a view, the farthest first."""
    whole = whole_of(plan.tree, species)
    return () if whole is None else stems_of(whole, plan.tree, from_deg)


def _ridge(plan: GroupPlan, from_deg: float, low: float, high: float, half: float) -> tuple[np.ndarray, np.ndarray]:
    """(across, height) of the ground's outline between two depths of a view; level ground is nought."""
    across = np.linspace(-half, half, 81)
    away = np.linspace(low, high, 9)
    a = np.radians(from_deg)
    u, v = across[:, None], away[None, :]
    # back from the view to the plan
    x, y = u * np.cos(a) - v * np.sin(a), u * np.sin(a) + v * np.cos(a)
    rise = rise_mm(plan.mounds, x, y)
    inside = plan.tray.rough.inside_mm(x, y) > 0
    return across, np.where(inside, rise, 0.0).max(axis=1)


def draw_front(
    p: QPainter, plan: GroupPlan, species: Species | None, gallery: Gallery, t: Theme, plane: Plane, *, from_deg: float = 0.0, hurry: bool = False,
    names: bool = True,
) -> None:  # fmt: skip
    """Trees and ground from the farthest forward, the tray last. `plane` has the tray's middle on the bench as its origin."""
    k, pot = plane.px_mm, plan.pot
    found = stems(plan, species, from_deg)
    half = _half_mm(plan, from_deg)
    level = pot.height_mm - plan.headspace_mm if pot.profile.kind != "slab" else pot.height_mm
    deep = max((s.behind for s in found), default=0.0)
    tall = max((s.sitter.height for s in found), default=1.0)
    back = max((s.y for s in found), default=0.0) + 1.0
    edge = back
    rows = {g.id: g for g in plan.rows}
    for s in found:
        _ground(
            p, plan, t, plane, from_deg, s.y, edge, half, level, share=min(s.behind / max(FAR_SHARE * tall, 1.0), 1.0)
        )
        edge = s.y
        row = rows.get(s.id)
        rise = float(rise_mm(plan.mounds, row.x_mm or 0.0, row.y_mm or 0.0)) if row is not None else 0.0
        foot = plane.px(s.x, level + rise - SEATED_MM)
        view = view_of_sitter(s.sitter, species, t, k, pixel_ratio(p))
        picture = None if hurry else gallery.picture(view)
        share = PALE * min(s.behind / max(FAR_SHARE * tall, 1.0), 1.0)
        if picture is None:
            p.save()
            p.setOpacity(1 - share)
            gallery.draw(p, view, foot, hurry=hurry)
            p.restore()
        else:
            p.drawPixmap(foot + picture[1], pale(picture[0], share, t.color("sheet")))
    _ground(p, plan, t, plane, from_deg, min(-half, edge - deep - 1.0), edge, half, level, share=0.0)
    p.save()
    p.translate(plane.origin)
    p.scale(k, k)
    # from aside the tray is as wide as its outline is from there
    p.scale(half / (pot.length_mm / 2), 1.0)
    draw_pot(p, pot, t, k, shadow=True, hurry=hurry)
    p.restore()
    p.setPen(QPen(t.color("ink"), 1.5))
    p.drawLine(QLineF(plane.px(-half - 26 / k, 0), plane.px(half + 26 / k, 0)))
    if names:
        _names(p, found, t, plane, pot.height_mm)


def _half_mm(plan: GroupPlan, from_deg: float) -> float:
    ring = outline_points(plan.pot.outline, plan.pot.length_mm, plan.pot.width_mm)
    across, _ = seen_from(ring[:, 0], ring[:, 1], from_deg)
    return float(np.abs(across).max())


def _ground(p: QPainter, plan: GroupPlan, t: Theme, plane: Plane, from_deg: float, low: float, high: float, half: float, level: float, *, share: float) -> None:  # fmt: skip
    """A slice of the ground between two depths, as its outline from the view; level ground hides nothing."""
    if not plan.mounds or high <= low:
        return
    across, rise = _ridge(plan, from_deg, low, high, half)
    if rise.max() <= 0.5:
        return
    top = [plane.px(float(a), level + float(h)) for a, h in zip(across, rise, strict=True)]
    base = [plane.px(half, level - 2), plane.px(-half, level - 2)]
    path = QPainterPath()
    path.addPolygon(QPolygonF([*top, *base]))
    path.closeSubpath()
    ground = tone(t, "leaf_dark", "soil", 0.35)
    veil = QColor(ground)
    p.fillPath(path, tone_of(veil, t.color("sheet"), 0.30 + 0.40 * share))
    p.setPen(QPen(t.color("leaf_dark", 0.7 - 0.4 * share), 0.9))
    p.drawPolyline(QPolygonF([q for q, h in zip(top, rise, strict=True) if h > 0.3]))


def tone_of(color: QColor, ground: QColor, share: float) -> QColor:
    """A colour moved towards another."""
    from kesh.ui.theme.tokens import mixed

    return mixed(color, ground, share)


def _names(p: QPainter, found: tuple[Stem, ...], t: Theme, plane: Plane, rim_mm: float) -> None:
    """Each trunk's name on the tray's wall below it, moved aside where two would touch; many stand in two rows."""
    font, role = fonts.text(12, bold=True), "sheet" if not t.is_dark else "ink"
    along = sorted(found, key=lambda s: s.x)
    rows = 2 if len(along) > MANY_NAMES else 1
    for row in range(rows):
        mine = along[row::rows]
        gap = max((fonts.width(font, s.id) for s in mine), default=0.0) + 3
        places = in_a_row([plane.px(s.x, 0).x() for s in mine], gap)
        for s, x in zip(mine, places, strict=True):
            words(p, t, s.id, x, plane.px(0, 0.62 * rim_mm).y() + 12 * row, role, font=font, align="center")


def draw_hidden(p: QPainter, plan: GroupPlan, t: Theme, plane: Plane, from_deg: float) -> None:
    """A bracket under the tray for each pair of which one hides the other, with who hides whom."""
    pairs = hidden_pairs(plan.x, plan.y, plan.d, from_deg)
    across, _ = seen_from(plan.x, plan.y, from_deg)
    k, labels = plane.px_mm, Labels(p, t)
    for one in pairs[:3]:
        x0 = min(across[one.near] - plan.d[one.near] / 2, across[one.far] - plan.d[one.far] / 2)
        x1 = max(across[one.near] + plan.d[one.near] / 2, across[one.far] + plan.d[one.far] / 2)
        y = plane.origin.y() + 5
        p.setPen(QPen(t.color("indigo"), 1.3))
        p.setBrush(Qt.BrushStyle.NoBrush)
        a, b = plane.origin.x() + x0 * k, plane.origin.x() + x1 * k
        p.drawPolyline(QPolygonF([QPointF(a, y), QPointF(a, y + 5), QPointF(b, y + 5), QPointF(b, y)]))
        told = f"{plan.rows[one.near].id} hides {plan.rows[one.far].id}"
        spots = [(QPointF((a + b) / 2, y + 17 + 13 * row), "center") for row in range(3)]
        labels.put(told, spots, "indigo", font=fonts.text(12, bold=True))


def draw_front_sizes(
    p: QPainter, plan: GroupPlan, species: Species | None, t: Theme, plane: Plane, left_px: float, u: Units
) -> None:
    """A ruler on the left, the tallest tree's height on the right."""
    found = stems(plan, species, 0.0)
    rim = plan.pot.height_mm
    tall = max((s.sitter.height for s in found), default=0.0)
    ruler(p, t, left_px, plane.origin.y(), plane.px_mm, rim + max(tall, 100.0), unit=u.length)
    if not found:
        return
    top = max(found, key=lambda s: s.sitter.height)
    edge = max(s.x + s.sitter.right for s in found)
    level = (
        rim
        - plan.headspace_mm
        + float(rise_mm(plan.mounds, *next((g.x_mm or 0.0, g.y_mm or 0.0) for g in plan.rows if g.id == top.id)))
    )
    at = plane.px(edge, 0).x() + 14
    a, b = plane.px(top.x, level), plane.px(top.x, level + tall)
    extension(p, t, QPointF(b.x() + 10, b.y()), QPointF(at + 4, b.y()))
    extension(p, t, QPointF(plane.px(edge, 0).x(), a.y()), QPointF(at + 4, a.y()))
    dimension(p, t, QPointF(at, a.y()), QPointF(at, b.y()), u.figure(tall), side=1)
