"""Visual mass of tree and pot from silhouette regions with visible weights (docs/methods.md, "visual mass"; Arnheim 1954)."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats

# Twigs of a tree out of leaf; wood, dense and airy leaf and pot are the artist's, see MassWeights.
HAZE = 0.2


@dataclass(frozen=True)
class Region:
    """Area (mm2), centre (mm from the trunk), opacity 0..1 and darkness 0..1 of one part of the silhouette."""

    kind: str
    area_mm2: float
    centre_x_mm: float
    opacity: float
    darkness: float

    @property
    def weight(self) -> float:
        """w = a o (0.5 + 0.5 k)."""
        return self.area_mm2 * self.opacity * (0.5 + 0.5 * self.darkness)


@lru_cache(maxsize=4096)
def darkness_of(colour: str) -> float:
    """0 for white, 1 for black: one less the lightness L* / 100 of an sRGB colour such as #7A6A58."""
    channels = np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)]) / 255
    linear = np.where(channels <= 0.04045, channels / 12.92, ((channels + 0.055) / 1.055) ** 2.4)
    y = float(linear @ np.array([0.2126, 0.7152, 0.0722]))
    lightness = 116 * y ** (1 / 3) - 16 if y > 0.008856 else 903.3 * y
    return 1 - lightness / 100


def tree_weight(regions: tuple[Region, ...]) -> tuple[float, float]:
    """(weight, centroid x in mm) of a tree. Raises FieldError when it has no weight."""
    total = sum(r.weight for r in regions)
    if total <= 0:
        raise FieldError("silhouette", "the tree has no visible area; the ratio is undefined")
    return total, sum(r.weight * r.centre_x_mm for r in regions) / total


def shares(regions: tuple[Region, ...]) -> dict[str, float]:
    """What each kind of region adds to the weight, 0..1, heaviest first; empty when nothing weighs."""
    found: dict[str, float] = {}
    for r in regions:
        found[r.kind] = found.get(r.kind, 0.0) + r.weight
    total = sum(found.values())
    return {k: w / total for k, w in sorted(found.items(), key=lambda kw: -kw[1])} if total > 0 else {}


def pot_weight(elevation_mm2: Floats, darkness: Floats, opacity: float = 1.0) -> Floats:
    """Weight of N pots seen from the front."""
    return elevation_mm2 * opacity * (0.5 + 0.5 * darkness)
