"""A tree in its pot, small, on its own piece of the bench line: the same drawing in every list."""

from math import ceil

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from kesh.model import Planting, Pot, Tree
from kesh.reference.tables import Species
from kesh.ui.paint.gallery import Gallery, view_of
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import draw_pot
from kesh.ui.paint.scene import pixel_ratio
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

PX_MM, BELOW_PX = 0.072, 9.0
PARTS = {2: "½", 3: "⅓", 4: "¼", 5: "⅕", 6: "⅙"}


def drawn_part(tree: Tree, pot: Pot | None, room_px: float, px_mm: float = PX_MM) -> int:
    """By how many a tree is drawn smaller than the others of its list because it would not fit its row; 1 for most."""
    high = (tree.measure.height_mm or 0.0) + (pot.height_mm if pot is not None else 0.0)
    return max(ceil(high * px_mm / max(room_px, 1.0)), 1)


def draw_small_tree(
    painter: QPainter, theme: Theme, gallery: Gallery, tree: Tree, species: Species | None, pot: Pot | None, planting: Planting | None,
    box: QRectF, *, px_mm: float = PX_MM, line_px: float = 60.0, below_px: float = BELOW_PX,
) -> None:  # fmt: skip
    """The tree over the ground line at the box's foot; without a pot it stands on the line. It is painted when it is ready.

    One that is too tall for its row is drawn at a half or a third of the others' scale, and that stands beside it.
    """
    part = drawn_part(tree, pot, box.height() - below_px, px_mm)
    px_mm /= part
    ground, middle = box.bottom() - below_px, box.left() + 10 + line_px / 2
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(theme.color("edge"), 1))
    painter.drawLine(QLineF(middle - line_px / 2, ground, middle + line_px / 2, ground))
    view = view_of(tree, species, theme, px_mm, pixel_ratio(painter))
    lift = pot.height_mm * px_mm if pot else 0.0
    hang = 0.0
    if view is not None:
        m = tree.measure
        sway = ((m.canopy_right_mm or 0) - (m.canopy_left_mm or 0)) / 2 * px_mm * 0.5
        x = middle - sway
        hang = max(0.0, (m.drop_mm or 0.0) * px_mm - lift)
        gallery.draw(painter, view, QPointF(x, ground - lift - hang))
        middle = x - (planting.offset_x_mm if planting else 0.0) * px_mm
    if pot is not None:
        painter.save()
        painter.translate(middle, ground - hang)
        painter.scale(px_mm, px_mm)
        draw_pot(painter, pot, theme, px_mm, shadow=False)
        painter.restore()
    if part > 1:
        left = box.left() + 10
        words(painter, theme, PARTS.get(part, f"1:{part}"), left, ground - 3, "quiet", font=fonts.text(12))
