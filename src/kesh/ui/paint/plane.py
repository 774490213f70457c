"""A drawing in mm laid on a sheet."""

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainterPath, QPolygonF

from kesh.geometry.outline import Floats
from kesh.ui.paint.tree_painter import polygon


@dataclass(frozen=True)
class Plane:
    """A drawing in mm laid on the sheet: where its origin lies, px, and px for a mm; y grows upward in mm."""

    origin: QPointF
    px_mm: float

    def px(self, x_mm: float, y_mm: float) -> QPointF:
        """A place in px."""
        return QPointF(self.origin.x() + x_mm * self.px_mm, self.origin.y() - y_mm * self.px_mm)

    def mm(self, point: QPointF) -> tuple[float, float]:
        """A point in mm."""
        return (point.x() - self.origin.x()) / self.px_mm, (self.origin.y() - point.y()) / self.px_mm

    def polygon(self, ring: Floats) -> QPolygonF:
        """A ring (n, 2) on the sheet."""
        spots = np.asarray(ring, float) * self.px_mm
        return polygon(spots + np.array([self.origin.x(), -self.origin.y()]))

    def path(self, ring: Floats) -> QPainterPath:
        """The same as a closed path."""
        path = QPainterPath()
        path.addPolygon(self.polygon(ring))
        path.closeSubpath()
        return path
