"""A mix as its grains."""

from collections.abc import Iterator

import numpy as np
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from kesh.figure.line import Chance
from kesh.model import Mix
from kesh.ui.paint.tree_painter import polygon
from kesh.ui.theme.tokens import mixed

GRAIN = {
    "akadama": "#B58A4E", "kanuma": "#D9B776", "kiryu": "#9C8B73", "hard_pumice": "#E2DCCB", "fine_pumice": "#E6E0D0", "lava": "#7C3B2C",
    "pine_bark": "#5B4230", "granite": "#9A9A97", "peat": "#4A3A2C", "compost": "#4A3A2C", "garden": "#5E4B38", "zeolite": "#B8B7A4",
}  # fmt: skip


LINE = QColor(40, 34, 28)


def grain_colour(substrate: str) -> QColor:
    """The usual colour of a material's grains."""
    return QColor(next((c for k, c in GRAIN.items() if substrate.startswith(k)), "#8E7E69"))


def line_of(colour: QColor) -> QPen:
    """A grain's edge: one that can be seen through would go to paper as a shape of its own."""
    return QPen(mixed(colour, LINE, 0.6), 0.6)


def grains(mix: Mix, box: QRectF, size: float) -> Iterator[tuple[QPolygonF, QColor]]:
    """Stones of each component, as many as its share, row by row over a box."""
    total = sum(p.parts or 0.0 for p in mix.parts)
    if total <= 0:
        return
    edges = np.cumsum([(p.parts or 0.0) / total for p in mix.parts])
    rows, columns = int(box.height() / (0.86 * size * 1.7)) + 2, int(box.width() / (0.86 * size * 2)) + 2
    u = Chance(7, mix.id).many(12 * rows * columns).reshape(rows, columns, 12)
    row, column = np.mgrid[:rows, :columns]
    x = box.left() + (column + 0.5 * (row % 2) + 0.4 * (u[..., 1] - 0.5)) * size * 1.8
    y = box.top() + (row + 0.4 * (u[..., 2] - 0.5)) * size * 1.5
    angles = np.linspace(0, 2 * np.pi, 7, endpoint=False) + u[..., 3:4]
    r = size * (0.7 + 0.35 * u[..., 4:11])
    rings = np.stack([x[..., None] + r * np.cos(angles), -(y[..., None] + 0.8 * r * np.sin(angles))], axis=-1)
    kinds = np.searchsorted(edges, np.minimum(u[..., 0], 0.999)).ravel().tolist()
    colours = [grain_colour(p.substrate) for p in mix.parts]
    for ring, kind in zip(rings.reshape(-1, 7, 2), kinds, strict=True):
        yield polygon(ring), colours[kind]


def draw_grains(painter: QPainter, mix: Mix, box: QRectF, size: float = 5.2) -> None:
    """A mix as its grains."""
    for ring, colour in grains(mix, box, size):
        painter.setPen(line_of(colour))
        painter.setBrush(colour)
        painter.drawPolygon(ring)


def draw_patch(painter: QPainter, mix: Mix, side: float, size: float) -> None:
    """A square patch that meets itself: what leaves it at one edge comes in at the other."""
    box = QRectF(0, 0, side, side)
    for ring, colour in grains(mix, box, size):
        lies = ring.boundingRect()
        if lies.left() > side or lies.top() > side:
            continue
        painter.setPen(line_of(colour))
        painter.setBrush(colour)
        for dx in (0.0, -side) if lies.right() > side else (0.0, side) if lies.left() < 0 else (0.0,):
            for dy in (0.0, -side) if lies.bottom() > side else (0.0, side) if lies.top() < 0 else (0.0,):
                painter.drawPolygon(ring.translated(dx, dy))
