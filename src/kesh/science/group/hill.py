"""The ground under a group: a base and mounds shaped like paraboloids (docs/methods.md, "groups").

A mound rises as h (1 - rho^2), rho the distance from its middle by its reach in that direction; its volume is pi a b h / 2.
Mounds that meet add up. Slopes at which mix stands: 35 degrees dry grains, 50 wetted fines [T].
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.model.group import HillMound
from kesh.science.group.tray import Tray
from kesh.science.roots.heap import DRY_SLOPE_DEG, WET_SLOPE_DEG

RASTER_SHARE = 1 / 400


@dataclass(frozen=True)
class Mound:
    """One mound: its middle, its height over the base, and its reach along x and y, all mm."""

    x_mm: float
    y_mm: float
    height_mm: float
    reach_x_mm: float
    reach_y_mm: float

    def __post_init__(self) -> None:
        """Raises FieldError for a reach that is none or a height below nought."""
        if not (self.reach_x_mm > 0 and self.reach_y_mm > 0):
            raise FieldError("reach_mm", "a mound wants a reach above 0")
        if not self.height_mm >= 0:
            raise FieldError("height_mm", "a mound rises, its height is not below 0")

    @property
    def volume_l(self) -> float:
        """pi a b h / 2 in litres, as if no wall cut it off."""
        return float(np.pi * self.reach_x_mm * self.reach_y_mm * self.height_mm / 2 / 1e6)

    @property
    def steepest_deg(self) -> float:
        """Slope at its foot along the shorter reach: 2 h / reach."""
        return float(np.degrees(np.arctan(2 * self.height_mm / min(self.reach_x_mm, self.reach_y_mm))))


def mounds_of(hill: Sequence[HillMound]) -> tuple[Mound, ...]:
    """The mounds of a record as they are reckoned with. Raises FieldError for a reach that is none."""
    return tuple(Mound(m.x_mm, m.y_mm, m.height_mm, m.reach_x_mm, m.reach_y_mm) for m in hill)


def rise_mm(mounds: Sequence[Mound], x: Floats | float, y: Floats | float) -> Floats:
    """Height of the ground over the base at spots of any shape, mm."""
    x, y = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    found = np.zeros(np.broadcast(x, y).shape)
    for m in mounds:
        rho2 = ((x - m.x_mm) / m.reach_x_mm) ** 2 + ((y - m.y_mm) / m.reach_y_mm) ** 2
        found = found + m.height_mm * np.maximum(0.0, 1.0 - rho2)
    return found


def hill_volume_l(mounds: Sequence[Mound], tray: Tray) -> float:
    """Volume of all mounds within the tray, litres, by a raster of 1/400 of the tray's length."""
    if not mounds:
        return 0.0
    x0, x1, _, _ = tray.box
    step = (x1 - x0) * RASTER_SHARE
    x, y, _ = tray.grid(step)
    return float(rise_mm(mounds, x, y).mean() * tray.area_mm2 / 1e6) if len(x) else 0.0


def steepest_deg(mounds: Sequence[Mound], tray: Tray) -> float:
    """The steepest slope of the ground within the tray, where mounds meet as well, degrees."""
    if not mounds:
        return 0.0
    x0, x1, _, _ = tray.box
    x, y, _ = tray.grid((x1 - x0) / 200)
    sx, sy = np.zeros_like(x), np.zeros_like(x)
    for m in mounds:
        u, v = (x - m.x_mm) / m.reach_x_mm, (y - m.y_mm) / m.reach_y_mm
        on = u**2 + v**2 < 1.0
        sx -= np.where(on, 2 * m.height_mm * u / m.reach_x_mm, 0.0)
        sy -= np.where(on, 2 * m.height_mm * v / m.reach_y_mm, 0.0)
    return float(np.degrees(np.arctan(np.sqrt(sx**2 + sy**2).max()))) if len(x) else 0.0


def stands(slope_deg: float) -> str:
    """fits (dry grains stand), watch (only wetted fines stand), no (nothing stands without a wall of moss or clay mud)."""
    return "fits" if slope_deg <= DRY_SLOPE_DEG + 1e-9 else "watch" if slope_deg <= WET_SLOPE_DEG + 1e-9 else "no"
