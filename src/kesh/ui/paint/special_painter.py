"""A special planting from the front with its pot cut open, from above, and small in its stages: one drawing for sheet and paper."""

from typing import Protocol

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from kesh.advice.kinds.plan import Setting, SpecialPlan
from kesh.base.units import Units
from kesh.figure.overlay import Overlay
from kesh.figure.tree_figure import grow
from kesh.geometry.outline import outline_points
from kesh.model.tree import HANGING
from kesh.ui.paint.cuts_painter import wave
from kesh.ui.paint.gallery import TreeView, view_of
from kesh.ui.paint.marks import words
from kesh.ui.paint.overlay_painter import draw_marks, draw_overlay
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.pot_painter import figure_for
from kesh.ui.paint.scene import pixel_ratio
from kesh.ui.paint.section_painter import draw_clay, scatter_grains
from kesh.ui.paint.tree_painter import closed_path, draw_tree, paint_for
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme, mixed


class Trees(Protocol):
    """Who draws a tree with its foot at a point: the gallery on the screen, plain ink on paper."""

    def draw(self, painter: QPainter, view: TreeView, foot: QPointF, *, hurry: bool = False) -> None: ...


class Ink:
    """Trees straight onto paper, with lines that can be enlarged."""

    def draw(self, painter: QPainter, view: TreeView, foot: QPointF, *, hurry: bool = False) -> None:
        """One tree at the view's own scale."""
        painter.save()
        painter.translate(foot)
        painter.scale(view.px_mm, view.px_mm)
        draw_tree(
            painter,
            grow(view.sitter),
            paint_for(view.theme, view.bark, view.leaf, view.bloom, fruit=view.fruit),
            view.px_mm,
        )
        painter.restore()


# a stage drawn smaller than this has no grains
GRAINS_PX_MM = 0.25


def bounds_mm(s: Setting, overlay: Overlay) -> tuple[float, float, float, float]:
    """(left, bottom, right, top) of tree, pot and what is added, from the pot's middle and the bench."""
    pot, m = s.a.pot, s.a.case.tree.measure
    x, foot = s.foot
    half = pot.length_mm / 2
    tall = m.height_mm or 200.0
    left = min(-half, x - (m.canopy_left_mm or 0.35 * tall))
    right = max(half, x + (m.canopy_right_mm or 0.35 * tall))
    low = min(0.0, foot - (m.drop_mm or 0.0)) if s.a.case.tree.style in HANGING else 0.0
    top = foot + tall
    extra = overlay.bounds()
    if extra is not None:
        left, low, right, top = min(left, extra[0]), min(low, extra[1]), max(right, extra[2]), max(top, extra[3])
    return left, low, right, top


def _soil(p: QPainter, t: Theme, s: Setting, plane: Plane) -> None:
    """The mix in the pot up to its line."""
    pot = s.a.pot
    if pot.profile.kind == "slab":
        return
    figure = figure_for(pot)
    p.save()
    p.translate(plane.origin)
    p.scale(plane.px_mm, plane.px_mm)
    filled = QPainterPath()
    filled.addRect(QRectF(-pot.length_mm, -s.soil_mm, 2 * pot.length_mm, s.soil_mm))
    soil = closed_path(figure.inside).intersected(filled)
    p.fillPath(soil, mixed(t.color("soil"), t.color("sheet"), 0.68))
    if plane.px_mm > GRAINS_PX_MM:
        scatter_grains(p, soil, t, plane.px_mm, seed=len(pot.id))
    p.restore()


def draw_open(p: QPainter, t: Theme, s: Setting, overlay: Overlay, gallery: Trees, plane: Plane, *, marks: bool = True, right_px: float = 1e9, hurry: bool = False) -> None:  # fmt: skip
    """The pot cut open with soil, tree and what is special. `plane` has the pot's middle on the bench as its origin."""
    pot, tree, k = s.a.pot, s.a.case.tree, plane.px_mm
    hanging = tree.style in HANGING
    _soil(p, t, s, plane)
    draw_overlay(p, t, overlay, plane, "behind")

    def clay() -> None:
        p.save()
        p.translate(plane.origin)
        p.scale(k, k)
        draw_clay(p, pot, t, k)
        p.restore()

    rock_first = s.planting.rock is not None
    if rock_first:
        draw_overlay(
            p, t, Overlay(tuple(a for a in overlay.shapes if getattr(a, "stuff", "") == "rock")), plane, "before"
        )
    if hanging:
        clay()
    view = view_of(tree, s.a.case.species, t, k, pixel_ratio(p))
    if view is not None:
        foot = plane.px(*s.foot)
        p.save()
        if s.planting.tilt_deg:
            p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            p.translate(foot)
            p.rotate(s.planting.tilt_deg)
            p.translate(-foot)
        gallery.draw(p, view, foot, hurry=hurry)
        p.restore()
    if not hanging:
        clay()
    rest = Overlay(tuple(a for a in overlay.shapes if not (rock_first and getattr(a, "stuff", "") == "rock")))
    draw_overlay(p, t, rest, plane, "before")
    p.setPen(QPen(t.color("ink"), 1.4))
    half = pot.length_mm / 2
    p.drawLine(QLineF(plane.px(-half - 22 / k, 0), plane.px(half + 22 / k, 0)))
    if marks:
        draw_marks(p, t, overlay.shapes, plane, right_px=right_px)


def draw_above(p: QPainter, t: Theme, s: Setting, overlay: Overlay, plane: Plane) -> None:
    """Pot from above with what is special, the trunk, and the front marked."""
    pot = s.a.pot
    outer = outline_points(pot.outline, pot.length_mm, pot.width_mm)
    p.setPen(QPen(t.color("ink"), 1.1))
    p.setBrush(t.color("oxide_tint") if pot.profile.kind != "slab" else mixed(t.color("edge"), t.color("sheet"), 0.5))
    p.drawPath(plane.path(outer))
    if pot.profile.kind != "slab":
        p.setBrush(mixed(t.color("soil"), t.color("sheet"), 0.72))
        p.drawPath(plane.path(outline_points(pot.outline, pot.length_mm, pot.width_mm, pot.wall_mm)))
    draw_overlay(p, t, overlay, plane, "behind")
    draw_overlay(p, t, overlay, plane, "before")
    at = plane.px(s.planting.offset_x_mm, s.planting.offset_y_mm)
    r = max(
        (s.a.case.tree.measure.trunk_at_soil_mm or s.a.case.tree.measure.trunk_diameter_mm or 30.0) / 2 * plane.px_mm,
        3.0,
    )
    p.setPen(QPen(t.color("ink"), 1.2))
    p.setBrush(mixed(t.color("bark"), t.color("sheet"), 0.35))
    p.drawEllipse(at, r, r)
    draw_marks(p, t, overlay.shapes, plane)
    front = plane.px(0, -pot.width_mm / 2) + QPointF(0, 13)
    words(p, t, "front ▲", front.x(), front.y() + 2, "quiet", font=fonts.text(11), align="center")


def draw_cuts(p: QPainter, t: Theme, plan: SpecialPlan, box: QRectF, u: Units) -> None:
    """Everything that is cut, laid out at one scale with its pieces and totals."""
    rows = plan.cuts
    if not rows:
        return
    step = min(fonts.scaled(22), box.height() / len(rows))
    longest = max(c.total_mm for c in rows)
    name_px, tail_px = fonts.scaled(46), fonts.scaled(230)
    k = max(box.width() - name_px - tail_px, 60.0) / longest
    for n, cut in enumerate(rows):
        y = box.top() + (n + 0.6) * step
        words(p, t, cut.name, box.left(), y + 4, font=fonts.text(13, bold=True))
        x = box.left() + name_px
        role = "indigo" if cut.gauge_mm and cut.metal else "bark"
        p.setPen(QPen(t.color(role), 1.8))
        end = x + cut.total_mm * k
        if cut.pieces_mm and sum(cut.pieces_mm) < cut.total_mm - 1:
            loose = (cut.total_mm - sum(cut.pieces_mm)) / 2 * k
            p.drawPath(wave(x, y, loose))
            at = x + loose
            for piece in cut.pieces_mm:
                p.drawLine(QLineF(at, y, at + piece * k, y))
                p.drawLine(QLineF(at, y - 4, at, y + 4))
                if piece * k > fonts.scaled(34):
                    words(
                        p, t, u.figure(piece), at + piece * k / 2, y - 4, "quiet", font=fonts.text(11), align="center"
                    )
                p.setPen(QPen(t.color(role), 1.8))
                at += piece * k
            p.drawLine(QLineF(at, y - 4, at, y + 4))
            p.drawPath(wave(at, y, loose))
        else:
            p.drawLine(QLineF(x, y, end, y))
            for q in (x, end):
                p.drawLine(QLineF(q, y - 4, q, y + 4))
        many = f"{cut.count} × " if cut.count > 1 else ""
        total = f"{many}{u.figure(cut.total_mm)}"
        wide = words(p, t, total, end + 8, y + 4, font=fonts.text(13, bold=True))
        told = f"{cut.gauge_mm:g} mm {cut.metal} {cut.what}" if cut.gauge_mm and cut.metal else cut.what
        room = box.right() - end - 16 - wide
        words(p, t, fonts.elided(fonts.text(12), told, room), end + 16 + wide, y + 4, "quiet", font=fonts.text(12))
