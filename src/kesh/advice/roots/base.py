"""The kept root mass as it stands in the pot, for everything that ties, heaps or lays soil round it."""

from dataclasses import dataclass

import numpy as np

from kesh.geometry.columns import PotColumns
from kesh.geometry.outline import Floats, following, outline_points
from kesh.geometry.profile import inset_mm
from kesh.model.roots import RootMass
from kesh.science.roots.fit import RootFit, Seat, kept_rings


@dataclass(frozen=True)
class RootBase:
    """From the pot's middle, mm: the widest outline, the lowest one it tips about, its foot and its top over the inner floor."""

    ring: Floats
    low_ring: Floats
    foot_mm: float
    top_mm: float
    trunk_mm: tuple[float, float]

    @property
    def kept_mm(self) -> float:
        """How deep it is."""
        return self.top_mm - self.foot_mm


def base_of(roots: RootMass | None, pots: PotColumns, seat: Seat, found: RootFit | None) -> RootBase | None:
    """The kept roots of one fit, one pot. None without a root mass in a pot with walls, or where nothing of it would stay."""
    if roots is None or found is None or pots.pots[0].profile.kind == "slab":
        return None
    offset, kept = float(found.allowed_offset_mm[0]), float(found.kept_depth_mm[0])
    if kept <= 0:
        return None
    shrinks = (1.0, 1 - roots.taper * min(kept / roots.depth_mm, 1.0))
    ring, low = kept_rings(roots, pots, seat, offset, shrinks)
    top = float(pots.inner_depth[0]) + seat.raise_mm
    if min(len(ring), len(low)) < 3 or top <= 0:
        return None
    at = np.array([seat.x_mm, seat.y_mm])
    return RootBase(ring + at, low + at, max(top - kept, 0.0), top, (seat.x_mm, seat.y_mm))


def inner_ring_mm(pots: PotColumns, over_floor_mm: float, away_mm: float = 0.0, count: int = 180) -> Floats:
    """The inner wall of one pot at a height over its floor, or so far inside it, from above (count, 2)."""
    pot = pots.pots[0]
    z = min(max(over_floor_mm, 0.0), float(pots.inner_depth[0]))
    q = float(inset_mm(pots, np.array([[(z + pot.floor_mm) / pot.body_height_mm]]))[0, 0]) + pot.wall_mm + away_mm
    return np.asarray(outline_points(pot.outline, pot.length_mm, pot.width_mm, q, count))


def centre_mm(ring: Floats) -> Floats:
    """Centroid of an outline."""
    x, y = ring.T
    right, back = following(x), following(y)
    cross = x * back - right * y
    twice = cross.sum()
    if abs(twice) < 2e-9:
        return np.asarray(ring.mean(axis=0))
    return np.asarray(np.array([((x + right) * cross).sum(), ((y + back) * cross).sum()]) / (3 * twice))
