"""The foot of a trunk over its soil or roots, fading upwards."""

from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QImage, QLinearGradient, QPainter, QPainterPath, QPen

from kesh.figure.tree_figure import figure_of
from kesh.model import Tree
from kesh.reference.tables import USUAL_BARK, USUAL_LEAF, Species
from kesh.science.roots.lines import trunk_at_soil_mm
from kesh.ui.paint.tree_painter import closed_path, draw_trunk_alone, paint_for
from kesh.ui.theme.tokens import Theme


def draw_stub(
    painter: QPainter, tree: Tree, x_mm: float, soil_mm: float, tall_mm: float, theme: Theme, px_mm: float
) -> None:
    """The foot of the trunk, fading upwards: enough to see which way is up and how large the pot is."""
    foot = trunk_at_soil_mm(tree)
    flare = (tree.measure.flare_width_mm or 1.5 * foot) / 2
    t = np.linspace(0, 1, 24)
    half = foot / 2 * (0.86 + 0.14 * (1 - t)) + (flare - foot / 2) * (1 - t) ** 5
    lean = 0.05 * tall_mm * t**2
    ring = np.vstack(
        [
            np.column_stack([x_mm + lean - half, soil_mm + tall_mm * t]),
            np.column_stack([x_mm + lean + half, soil_mm + tall_mm * t])[::-1],
        ]
    )
    path = closed_path(ring)
    wash = QLinearGradient(0, -soil_mm, 0, -(soil_mm + tall_mm))
    bark, dark = theme.color("bark"), theme.color("bark_dark") if not theme.is_dark else theme.color("ink")
    for at, alpha in ((0.0, 1.0), (0.45, 0.9), (1.0, 0.0)):
        color = QColor(bark)
        color.setAlphaF(alpha)
        wash.setColorAt(at, color)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.fillPath(path, QBrush(wash))
    painter.setClipPath(path)
    for k in range(1, 10):
        side = -1 + 0.2 * k
        line = QPainterPath()
        for n, (up, wide, shift) in enumerate(zip(t, half, lean, strict=True)):
            spot = QPointF(x_mm + shift + side * wide + 0.5 * np.sin(9 * up + k * 2.1), -(soil_mm + tall_mm * up))
            line.moveTo(spot) if n == 0 else line.lineTo(spot)
        ink = QLinearGradient(0, -soil_mm, 0, -(soil_mm + tall_mm))
        for at, alpha in ((0.0, 0.75), (1.0, 0.0)):
            color = QColor(dark)
            color.setAlphaF(alpha)
            ink.setColorAt(at, color)
        painter.setPen(QPen(QBrush(ink), (0.9 + 0.5 * (k % 3)) / px_mm))
        painter.drawPath(line)
    painter.restore()


MOST_PX_MM = 6.0


@lru_cache(maxsize=24)
def _foot(
    tree: Tree, species: Species | None, theme: Theme, tall_mm: float, px_mm: float
) -> tuple[QImage, float] | None:
    """(the trunk's foot as a picture that fades upward, how far it reaches to each side, mm); None while it cannot be drawn."""
    figure = figure_of(tree, species)
    if figure is None:
        return None
    half = max(1.6 * (tree.measure.flare_width_mm or 1.6 * trunk_at_soil_mm(tree)), 0.7 * tall_mm)
    bark, leaf = (species.bark_colour_hex, species.leaf_colour_hex) if species else (USUAL_BARK, USUAL_LEAF)
    image = QImage(
        max(1, int(2 * half * px_mm)), max(1, int((tall_mm + 4) * px_mm)), QImage.Format.Format_ARGB32_Premultiplied
    )
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    painter.scale(px_mm, px_mm)
    painter.translate(half, tall_mm)
    draw_trunk_alone(painter, figure, paint_for(theme, bark, leaf, None, fruit=False), px_mm)
    painter.resetTransform()
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_DestinationIn)
    fade = QLinearGradient(0, 0, 0, image.height())
    for at, alpha in ((0.0, 0), (0.3, 190), (0.5, 255), (1.0, 255)):
        fade.setColorAt(at, QColor(0, 0, 0, alpha))
    painter.fillRect(image.rect(), QBrush(fade))
    painter.end()
    return image, half


def draw_trunk_foot(
    painter: QPainter, tree: Tree, species: Species | None, x_mm: float, soil_mm: float, tall_mm: float, theme: Theme, px_mm: float
) -> None:  # fmt: skip
    """The foot of the very tree over its roots, in mm, y down; where it cannot be drawn a plain one."""
    made = _foot(tree, species, theme, round(tall_mm, 1), round(min(max(px_mm, 0.2), MOST_PX_MM), 2))
    if made is None:
        draw_stub(painter, tree, x_mm, soil_mm, tall_mm, theme, px_mm)
        return
    image, half = made
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(QRectF(x_mm - half, -(soil_mm + tall_mm), 2 * half, tall_mm + 4), image, QRectF(image.rect()))
    painter.restore()
