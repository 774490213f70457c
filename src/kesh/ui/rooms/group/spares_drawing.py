"""The trees that wait beside the tray, each in its own small pot at one scale, with thickness and height."""

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from kesh.advice.group.plan import GroupPlan
from kesh.base.units import Units
from kesh.figure.grove import stem_sitter, whole_of
from kesh.reference.tables import Species
from kesh.ui.paint.gallery import Gallery, view_of_sitter
from kesh.ui.paint.labels import Labels
from kesh.ui.paint.marks import words
from kesh.ui.paint.scene import pixel_ratio
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

MOST = 6


def _boxes(plan: GroupPlan, box: QRectF) -> list[tuple[str, QRectF]]:
    shown = plan.spares[:MOST]
    wide = box.width() / max(len(shown), 3)
    top = box.top() + fonts.scaled(18)
    return [(g.id, QRectF(box.left() + n * wide, top, wide, box.bottom() - top)) for n, g in enumerate(shown)]


def spare_at(plan: GroupPlan, box: QRectF, point: QPointF) -> str:
    """The spare under a point; empty where there is none."""
    return next((key for key, own in _boxes(plan, box) if own.contains(point)), "")


def draw_spares(
    p: QPainter, plan: GroupPlan, species: Species | None, gallery: Gallery, t: Theme, box: QRectF, u: Units, held: str
) -> None:  # fmt: skip
    """Heading, then one after the other on their own ground line."""
    words(p, t, "Spare", box.left(), box.top() + fonts.scaled(10), font=fonts.section())
    more = len(plan.spares) - MOST
    told = "drag one into the plan" + (f"; {more} more" if more > 0 else "")
    words(p, t, told, box.right(), box.top() + fonts.scaled(10), "quiet", font=fonts.text(12), align="right")
    whole = whole_of(plan.tree, species)
    tall = max((g.height_mm or 200.0 for g in plan.spares), default=200.0)
    # the second row of sizes lies under the ground too
    ground = box.bottom() - fonts.scaled(28)
    k = min((ground - box.top() - fonts.scaled(26)) / (tall + 45.0), 0.3)
    p.setPen(QPen(t.color("edge"), 1))
    p.drawLine(QLineF(box.left(), ground, box.right(), ground))
    labels = Labels(p, t)
    for key, own in _boxes(plan, box):
        row = next(g for g in plan.spares if g.id == key)
        number = next(i for i, g in enumerate(plan.tree.group) if g.id == key)
        middle = own.center().x()
        thick = row.diameter_mm or 12.0
        half = max(1.6 * thick, 16.0) * k
        if held == f"spare:{key}":
            p.fillRect(own.adjusted(2, 0, -2, 0), t.color("indigo_tint"))
        made = stem_sitter(whole, row, number) if whole is not None else None
        if made is not None:
            gallery.draw(p, view_of_sitter(made, species, t, k, pixel_ratio(p)), QPointF(middle, ground - 40 * k))
        p.setPen(QPen(t.color("ink", 0.8), 0.9))
        p.setBrush(t.color("bark", 0.75))
        p.drawRect(QRectF(middle - half, ground - 42 * k, 2 * half, 42 * k))
        size = f"{u.figure(thick)} × {u.figure(row.height_mm)}" if row.height_mm is not None else u.figure(thick)
        words(p, t, key, middle - half - 4, ground - 4, "ink", font=fonts.text(12, bold=True), align="right")
        # sizes that do not fit side by side stand in two rows
        rows = [(QPointF(middle, box.bottom() - 2 - step), "center") for step in (0, fonts.scaled(12))]
        labels.put(size, rows, font=fonts.text(11))
