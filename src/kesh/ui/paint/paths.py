"""Rings of points as paths to paint."""

from typing import Any

from PyQt6.QtGui import QPainterPath

from kesh.ui.paint.tree_painter import polygon


def path_of(ring: Any) -> QPainterPath:
    """A ring in mm, y up, as a closed path, y down."""
    path = QPainterPath()
    path.addPolygon(polygon(ring))
    path.closeSubpath()
    return path
