"""The inside of a tray seen from above: its edge, its room, and how far a spot lies from the edge."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely

from kesh.base.errors import FieldError
from kesh.base.once import once
from kesh.geometry.outline import Floats, outline_points, ring_area_mm2
from kesh.model.pot import Outline, Pot

RING_POINTS = 120


@dataclass(frozen=True, eq=False)
class Tray:
    """The interior polygon of a tray, middle at 0, x right, y back, mm; `ring` has the shape (k, 2)."""

    ring: Floats

    def __post_init__(self) -> None:
        """Raises FieldError for a ring that encloses nothing."""
        if self.ring.ndim != 2 or len(self.ring) < 3 or abs(ring_area_mm2(self.ring)) < 1.0:
            raise FieldError("tray", "its inside encloses no area")

    @property
    def area_mm2(self) -> float:
        """Area of the inside, mm2."""
        return abs(ring_area_mm2(self.ring))

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Least x, greatest x, least y, greatest y, mm."""
        (x0, y0), (x1, y1) = self.ring.min(axis=0), self.ring.max(axis=0)
        return float(x0), float(x1), float(y0), float(y1)

    def inside_mm(self, x_mm: Floats, y_mm: Floats) -> Floats:
        """Signed distance to the edge, + inside, for spots of any shape."""
        edge, ground = self._edge
        away = shapely.distance(edge, shapely.points(x_mm, y_mm))
        return np.asarray(np.where(shapely.contains_xy(ground, x_mm, y_mm), away, -away))

    @once
    def _edge(self) -> tuple[shapely.LinearRing, shapely.Polygon]:
        edge, ground = shapely.LinearRing(self.ring), shapely.Polygon(self.ring)
        for one in (edge, ground):
            shapely.prepare(one)
        return edge, ground

    def grid(self, step_mm: float) -> tuple[Floats, Floats, Floats]:
        """(x, y, distance to the edge) of the spots of a square grid that lie inside, counted from the box's corner; read-only."""
        return _grid(self, step_mm)

    @once
    def rough(self) -> "RoughTray":
        """The same tray with distances from a table."""
        return RoughTray(self)


@lru_cache(maxsize=48)
def _grid(tray: Tray, step_mm: float) -> tuple[Floats, Floats, Floats]:
    """Kept by the tray itself: a group that is dragged asks for the same spots at every frame."""
    x0, x1, y0, y1 = tray.box
    gx, gy = np.meshgrid(np.arange(x0, x1 + step_mm / 2, step_mm), np.arange(y0, y1 + step_mm / 2, step_mm))
    x, y = gx.ravel(), gy.ravel()
    edge = tray.inside_mm(x, y)
    keep = edge > 0
    found = x[keep], y[keep], edge[keep]
    for values in found:
        values.setflags(write=False)
    return found


class RoughTray:
    """The same tray with distances read off a table of 3 mm squares, for searching: within a millimetre and many times as fast."""

    STEP_MM = 3.0

    def __init__(self, tray: Tray) -> None:
        """Tables reach one square beyond the box."""
        self.box, self.area_mm2 = tray.box, tray.area_mm2
        x0, x1, y0, y1 = tray.box
        step = max(self.STEP_MM, (x1 - x0) / 400)
        gx, gy = np.arange(x0 - step, x1 + 2 * step, step), np.arange(y0 - step, y1 + 2 * step, step)
        self._corner, self._step = (float(gx[0]), float(gy[0])), step
        self._table = tray.inside_mm(*np.meshgrid(gx, gy))

    def inside_mm(self, x_mm: Floats, y_mm: Floats) -> Floats:
        """Signed distance to the edge, + inside, for spots in the box."""
        u, v = (x_mm - self._corner[0]) / self._step, (y_mm - self._corner[1]) / self._step
        i = np.clip(u.astype(np.intp), 0, self._table.shape[1] - 2)
        j = np.clip(v.astype(np.intp), 0, self._table.shape[0] - 2)
        a, b, t = u - i, v - j, self._table
        return np.asarray(
            (t[j, i] * (1 - a) + t[j, i + 1] * a) * (1 - b) + (t[j + 1, i] * (1 - a) + t[j + 1, i + 1] * a) * b
        )


@lru_cache(maxsize=64)
def _inside(outline: Outline, length_mm: float, width_mm: float, wall_mm: float) -> Tray:
    return Tray(outline_points(outline, length_mm, width_mm, wall_mm, RING_POINTS))


def tray_of(pot: Pot) -> Tray:
    """The inside of a pot at its rim; a slab has no walls. Raises FieldError where the walls leave nothing."""
    wall = 0.0 if pot.profile.kind == "slab" else pot.wall_mm
    return _inside(pot.outline, pot.length_mm, pot.width_mm, wall)
