"""A tree in a pot on its ground line, drawn to scale: what several sheets share."""

from functools import lru_cache

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPen, QPixmap, QRegion

from kesh.model import Planting, Pot, Tree
from kesh.model.tree import HANGING
from kesh.photo.cutout import CutOut
from kesh.reference.tables import Species
from kesh.ui.paint.gallery import Gallery, view_of
from kesh.ui.paint.pot_painter import FROM_LEFT, draw_pot, draw_soil_line, draw_stand
from kesh.ui.theme.tokens import Theme

SEATED_MM = 5.0
# a foot is drawn as hidden from this far below the rim on
LEAST_SUNK_MM = 8.0


def pixel_ratio(painter: QPainter) -> float:
    """Device pixels for a pixel of what is painted on."""
    device = painter.device()
    return device.devicePixelRatioF() if device is not None else 1.0


@lru_cache(maxsize=4)
def _pixmap(real: CutOut) -> QPixmap:
    high, wide = real.bgra.shape[:2]
    return QPixmap.fromImage(QImage(real.bgra.tobytes(), wide, high, 4 * wide, QImage.Format.Format_ARGB32))


def draw_cutout(painter: QPainter, real: CutOut, at: QPointF, px_mm: float) -> None:
    """The tree of a photograph with its foot at a point, at the drawing's scale."""
    left, top, wide, high = (v * px_mm for v in real.box_mm)
    picture = _pixmap(real)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    ratio = pixel_ratio(painter)
    target = QRectF(at.x() + left, at.y() + top, wide, high)
    # brought down in one step a large picture would flicker; by its own smooth scaling it does not
    fitted = picture.scaled(
        max(1, round(wide * ratio)), max(1, round(high * ratio)), Qt.AspectRatioMode.IgnoreAspectRatio,
        Qt.TransformationMode.SmoothTransformation,
    )  # fmt: skip
    painter.drawPixmap(target, fitted, QRectF(fitted.rect()))


def _side(real: CutOut | None) -> float:
    """The light on the pot: as on the photographed trunk, in steps so that few pictures are kept; else from the left."""
    return FROM_LEFT if real is None or real.lit_from is None else round(real.lit_from * 4) / 4


def draw_planted(
    painter: QPainter, gallery: Gallery, theme: Theme, tree: Tree, species: Species | None, pot: Pot | None,
    planting: Planting | None, foot: QPointF, px_mm: float, *,
    stand_mm: float = 0.0, hurry: bool = False, real: CutOut | None = None, tilt_deg: float = 0.0,
) -> None:  # fmt: skip
    """Tree, soil line and pot; `foot` is the pot's middle on the bench, or on its stand, in px. Hanging growth comes before the pot.

    `tilt_deg` leans the tree about its foot to the viewer's right.
    """
    ratio = pixel_ratio(painter)
    view = view_of(tree, species, theme, px_mm, ratio)
    # a group's places are counted from the tray's middle, not from a trunk
    offset = planting.offset_x_mm if planting and not (view is not None and view.sitter.stems) else 0.0
    seat = (pot.height_mm + (planting.raise_mm if planting else 0.0) - SEATED_MM) if pot else 0.0
    at = QPointF(foot.x() + offset * px_mm, foot.y() - seat * px_mm)
    hanging = tree.style in HANGING

    def standing() -> None:
        painter.save()
        if tilt_deg:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.translate(at)
            painter.rotate(tilt_deg)
            painter.translate(-at)
        if real is not None:
            draw_cutout(painter, real, at, px_mm)
        elif view is not None:
            gallery.draw(painter, view, at, hurry=hurry)
        painter.restore()

    flare = tree.measure.flare_width_mm or 1.5 * (tree.measure.trunk_diameter_mm or 40.0)
    sunk_mm = pot.height_mm - seat - SEATED_MM if pot else 0.0
    # a foot that stands below the rim is behind the wall, also where the rest of the tree hangs before it
    behind = QRectF(at.x() - 0.8 * flare * px_mm, foot.y() - pot.height_mm * px_mm, 1.6 * flare * px_mm, pot.height_mm * px_mm) \
        if pot is not None and sunk_mm > LEAST_SUNK_MM else None  # fmt: skip

    if not hanging:
        standing()
    if pot is not None:
        painter.save()
        painter.translate(foot)
        painter.scale(px_mm, px_mm)
        if stand_mm > 0:
            draw_stand(painter, pot, theme, px_mm, stand_mm)
        mound = planting.mound_mm if planting else 0.0

        def soil() -> None:
            draw_soil_line(painter, pot, theme, px_mm, mound_mm=mound, seed=tree.seed, foot_mm=flare, trunk_x_mm=offset)

        if not hanging:
            soil()
        draw_pot(painter, pot, theme, px_mm, shadow=stand_mm == 0, hurry=hurry, side=_side(real))
        if hanging:
            soil()
        painter.restore()
    if hanging and behind is not None:
        painter.save()
        whole = QRegion(painter.window())
        painter.setClipRegion(whole.subtracted(QRegion(behind.toAlignedRect())))
        standing()
        painter.restore()
    elif hanging:
        standing()
    if behind is not None and pot is not None:
        _hidden_foot(painter, theme, at, flare, sunk_mm, px_mm)


def _hidden_foot(painter: QPainter, theme: Theme, at: QPointF, flare_mm: float, sunk_mm: float, px_mm: float) -> None:
    """What the wall hides of the trunk's foot, dashed: how deep it stands in the soil."""
    half, low = flare_mm / 2 * px_mm, at.y() - SEATED_MM * px_mm
    top = low - sunk_mm * px_mm
    pen = QPen(theme.color("ink", 0.75), 1.0)
    pen.setDashPattern([5, 4])
    painter.save()
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for side in (-1, 1):
        painter.drawLine(QPointF(at.x() + side * 0.78 * half, top), QPointF(at.x() + side * half, low))
    painter.drawLine(QPointF(at.x() - half, low), QPointF(at.x() + half, low))
    painter.restore()
