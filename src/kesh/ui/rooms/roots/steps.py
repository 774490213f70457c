"""The repottings of a plan as small drawings in a row: how deep the mass is after each, and what comes off."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.assess import Assessment
from kesh.base.units import Units
from kesh.base.words import counted
from kesh.desk.root_keeping import PlanView
from kesh.geometry.outline import Floats
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import figure_for
from kesh.ui.paint.section_painter import ball_section, mass_ends
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme, mixed

STRIP_PX, MOST_PX = 62, 84


def draw_steps(
    painter: QPainter, theme: Theme, a: Assessment, views: tuple[PlanView, ...], box: QRectF, u: Units
) -> None:
    """The row in a box, px, each drawing at the same small scale."""
    pot, roots = a.pot, a.case.roots
    if roots is None:
        return
    each = box.width() / len(views)
    k = min(MOST_PX / pot.length_mm, 0.46 * each / pot.length_mm, (box.height() - 22) / (pot.height_mm + 26))
    top = pot.height_mm + a.seat.raise_mm
    for n, view in enumerate(views):
        foot = QPointF(box.left() + n * each + pot.length_mm * k / 2, box.bottom() - 4)
        _thumb(painter, theme, a, view, foot, k, top)
        left = foot.x() + pot.length_mm * k / 2 + 8
        words(
            painter,
            theme,
            f"{view.when}: {u.mm(view.depth_mm)}",
            left,
            foot.y() - fonts.scaled(28),
            "ink",
            font=fonts.text(12, bold=True),
        )
        told = [f"{u.mm(view.off_mm)} off"] if view.off_mm > 0.5 else []
        told += [f"{counted(view.roots, 'root')} cut"] if view.roots else []
        lines = ["of root"] if n == 0 else told or [f"{view.share:.0%} combed off"]
        for row, text in enumerate(lines):
            words(painter, theme, text, left, foot.y() - fonts.scaled(13 - 14 * row), "quiet", font=fonts.text(12))


def _thumb(
    painter: QPainter, theme: Theme, a: Assessment, view: PlanView, foot: QPointF, k: float, top_mm: float
) -> None:
    roots, seat, figure = a.case.roots, a.seat, figure_for(a.pot)
    assert roots is not None

    def path(points: Floats) -> QPainterPath:
        found = QPainterPath()
        found.addPolygon(QPolygonF([QPointF(foot.x() + x * k, foot.y() - y * k) for x, y in points.tolist()]))
        found.closeSubpath()
        return found

    painter.setPen(QPen(theme.color("ink"), 0.8))
    for ring in (*figure.clay, *figure.feet):
        painter.setBrush(theme.color("oxide_tint"))
        painter.drawPath(path(np.asarray(ring)))
    whole = ball_section(roots, seat.x_mm, top_mm)[:, 0]
    combed = view.off_mm or view.roots or view.share
    left, right = mass_ends(a, roots) if combed else (float(whole.min()), float(whole.max()))
    low = top_mm - view.depth_mm
    ball = np.array([[left, top_mm], [right, top_mm], [right, low], [left, low]])
    painter.setBrush(mixed(theme.color("bark"), theme.color("sheet"), 0.45))
    painter.drawPath(path(ball))
    painter.setPen(
        QPen(theme.color("bark_dark") if not theme.is_dark else theme.color("ink"), 2.2, cap=Qt.PenCapStyle.RoundCap)
    )
    at = QPointF(foot.x() + seat.x_mm * k, foot.y() - top_mm * k)
    painter.drawLine(at, at - QPointF(-1.5, 12))
