"""Pot and root mass from above: what stays, what must come off, and the feeders as dots."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.assess import Assessment
from kesh.figure.line import Chance
from kesh.figure.pot_figure import plan_rings
from kesh.model.roots import RootMass
from kesh.science.roots.fit import ball_ring, kept_ring
from kesh.ui.paint.layers import Keep, plainly
from kesh.ui.paint.marks import ON_PICTURE
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.paint.tree_painter import closed_path
from kesh.ui.theme.tokens import Theme, mixed


def draw_plan(
    painter: QPainter, a: Assessment, theme: Theme, px_mm: float, below: Callable[[QPainter], None] | None = None, *,
    below_key: object = None, done: bool = False, keep: Keep = plainly,
) -> None:  # fmt: skip
    """Pot and root mass from above, front below; the painter at the pot's centre, in mm, y down.

    `below` paints what lies under the roots, about the trunk, and `below_key` tells it from another; outlines and hatching
    only are then laid over it. `keep` may hold parts that do not change while something is dragged.
    """
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    roots, fit, seat = a.case.roots, a.figures.roots, a.seat
    ground = (
        a.pot,
        theme.name,
        below_key if below is not None else None,
        (seat.x_mm, seat.y_mm) if below is not None else None,
    )
    keep(painter, "pot from above", ground, lambda p: _pot_from_above(p, a, theme, px_mm, below))
    if roots is not None and fit is not None:
        offset, lost = float(fit.allowed_offset_mm[0]), float(fit.removed_volume_share[0]) > 1e-4
        place = (seat.x_mm, seat.y_mm, seat.turn_deg)
        key = (roots, a.pot, place, offset, lost, done, below is None, theme.name, a.case.tree.seed)
        keep(
            painter,
            "mass from above",
            key,
            lambda p: _mass_from_above(p, a, theme, px_mm, over=below is not None, done=done),
        )
    _trunk_in_plan(painter, QPointF(seat.x_mm, -seat.y_mm), a, theme, px_mm, rings=below is None)
    painter.restore()


def _mass_from_above(painter: QPainter, a: Assessment, theme: Theme, px_mm: float, *, over: bool, done: bool) -> None:
    """What stays and what comes off; over a photograph without a ground of its own."""
    roots, fit, seat = a.case.roots, a.figures.roots, a.seat
    assert roots is not None
    assert fit is not None
    shift = np.array([seat.x_mm, seat.y_mm])
    # lines smoothed by the pixel cost most of a frame; under the hand they need not be
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, not a.case.hurry)
    whole = closed_path(ball_ring(roots, seat.turn_deg) + shift)
    stays = kept_ring(roots, a.figures.pots, seat, float(fit.allowed_offset_mm[0]))
    kept = closed_path(stays + shift) if len(stays) else QPainterPath()
    lost = whole.subtracted(kept)
    if not over:
        painter.fillPath(kept, mixed(theme.color("bark"), theme.color("sheet"), 0.5))
        feeders_in_plan(painter, a, roots, kept if done else whole, theme, px_mm)
    if float(fit.removed_volume_share[0]) > 1e-4 and not done:
        painter.fillPath(lost, theme.color("oxide_tint", 0.35 if over else 0.8))
        hatch(painter, lost, theme.color("oxide"), px_mm, angle_deg=-52, gap_px=5)
    dark = theme.color("bark_dark") if not theme.is_dark else theme.color("ink")
    line = ON_PICTURE["paper_on_picture"] if over else dark
    _dashed(painter, kept if done else whole, line, px_mm, cased=over)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)


def _pot_from_above(
    painter: QPainter, a: Assessment, theme: Theme, px_mm: float, below: Callable[[QPainter], None] | None
) -> None:  # fmt: skip
    """Rim, inside, holes, and what lies below."""
    outer, inner = plan_rings(a.pot)
    rim, hollow = closed_path(outer), closed_path(inner)
    painter.fillPath(rim.subtracted(hollow), theme.color("oxide_tint"))
    painter.fillPath(hollow, mixed(theme.color("soil"), theme.color("sheet"), 0.72))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for ring in (rim, hollow):
        painter.setPen(QPen(theme.color("ink"), 1.1 / px_mm))
        painter.drawPath(ring)
    for hole in a.pot.holes:
        painter.setPen(QPen(theme.color("edge"), 0.8 / px_mm))
        painter.drawEllipse(QPointF(hole.x_mm, -hole.y_mm), hole.diameter_mm / 2, hole.diameter_mm / 2)
    seat = a.seat
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


def feeders_in_plan(
    painter: QPainter, a: Assessment, roots: RootMass, inside: QPainterPath, theme: Theme, px_mm: float
) -> None:  # fmt: skip
    """Feeder roots from above as dots, as dense as they are thought to be."""
    chance, seat = Chance(a.case.tree.seed, "feeders from above"), a.seat
    box = inside.boundingRect()
    count = int(min(1500, box.width() * box.height() / 30))
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
