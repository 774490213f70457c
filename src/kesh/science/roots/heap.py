"""The heap under a tree: a cone of mix that is pressed down until the roots stand as high as they should (docs/methods.md, "heap and batch").

Slopes at which mix stands: 35 degrees dry grains, 50 wetted fines [T].
"""

from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError

DRY_SLOPE_DEG, WET_SLOPE_DEG = 35.0, 50.0


@dataclass(frozen=True)
class Heap:
    """A cone, or a cone whose foot meets the wall: height and width across its foot, mm; its volume in litres."""

    height_mm: float
    width_mm: float
    volume_l: float
    slope_deg: float


def cone_volume_l(height_mm: float, slope_deg: float) -> float:
    """Volume of a cone as high as given whose sides stand at a slope: pi h^3 / (3 tan^2)."""
    if not 0 < slope_deg < 90:
        raise FieldError("slope_deg", f"{slope_deg:g} is no slope of a heap")
    return float(np.pi * height_mm**3 / (3 * np.tan(np.radians(slope_deg)) ** 2) / 1e6)


def heap(volume_l: float, slope_deg: float, widest_mm: float) -> Heap:
    """The cone that a volume makes; where its foot would be wider than the floor it stands on a drum of that width.

    Raises FieldError for a volume below nought or a slope that is none.
    """
    if volume_l < 0:
        raise FieldError("volume_l", f"{volume_l:g} is below nought")
    tan = float(np.tan(np.radians(slope_deg)))
    cone_volume_l(1.0, slope_deg)
    high = float((3 * volume_l * 1e6 * tan**2 / np.pi) ** (1 / 3))
    wide = 2 * high / tan
    if wide <= widest_mm or widest_mm <= 0:
        return Heap(high, wide, volume_l, slope_deg)
    top = widest_mm / 2 * tan
    drum = (volume_l - cone_volume_l(top, slope_deg)) * 1e6 / (np.pi * widest_mm**2 / 4)
    return Heap(top + drum, widest_mm, volume_l, slope_deg)
