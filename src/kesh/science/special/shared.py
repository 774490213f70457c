"""Two in one pot, grafts, aerial roots and slabs: shares by sector, protected sectors, guides, mounds without walls (docs/methods.md, "two from one pot", "approach graft", "aerial root", "slab or raft")."""

from dataclasses import dataclass
from datetime import date
from math import hypot, pi

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.science.season.days import later
from kesh.science.special.rock import ellipse_perimeter_mm

# a mound on a slab keeps this far from its edge where nobody says otherwise
EDGE_MM = 20.0
GRAFT_SEASON_DAYS = 365
GUIDE_OVER_MM = 30.0


def sector_width_deg(from_deg: float, to_deg: float) -> float:
    """Width of a sector clockwise from one azimuth to the other; the whole round where both are one."""
    return (to_deg - from_deg) % 360 or 360.0


def in_sector(azimuth_deg: Floats | float, from_deg: float, to_deg: float) -> Floats:
    """Whether azimuths lie in a sector."""
    return np.asarray((np.asarray(azimuth_deg) - from_deg) % 360 <= sector_width_deg(from_deg, to_deg))


@dataclass(frozen=True)
class Share:
    """What is the second plant's: share of the root mass, of the feeders, and litres."""

    mass: float
    feeders: float
    volume_l: float


def sector_share(
    ring: Floats, depth_mm: float, from_deg: float, to_deg: float, reach_share: float, feeders: str = "even"
) -> Share:  # fmt: skip
    """Share of a root mass (outline about the trunk (k, 2), straight walls) within a sector, from `1 - reach_share` of the reach outward.

    Of feeders near the trunk the weight falls as (1 - u)^2 over the reach, outside it rises as u. Raises FieldError for a share outside 0..1.
    """
    if not 0 <= reach_share <= 1:
        raise FieldError("reach_share", f"{reach_share:g} is outside 0 to 1")
    import shapely

    x0, y0, x1, y1 = shapely.Polygon(ring).bounds
    gx, gy = np.meshgrid(np.linspace(x0, x1, 241), np.linspace(y0, y1, 241))
    x, y = gx.ravel(), gy.ravel()
    inside = shapely.contains_xy(shapely.Polygon(ring), x, y)
    x, y = x[inside], y[inside]
    azimuth = np.degrees(np.arctan2(-x, -y)) % 360
    away = np.hypot(x, y)
    edge = np.interp(azimuth, *_edge_by_azimuth(ring), period=360)
    u = np.clip(away / np.maximum(edge, 1e-9), 0, 1)
    mine = in_sector(azimuth, from_deg, to_deg) & (u >= 1 - reach_share)
    weight = {"near_trunk": (1 - u) ** 2, "outside_bottom": u}.get(feeders, np.ones_like(u))
    area = abs(float(shapely.Polygon(ring).area))
    return Share(
        float(mine.mean()),
        float(weight[mine].sum() / max(weight.sum(), 1e-12)),
        float(mine.mean()) * area * depth_mm / 1e6,
    )


def _edge_by_azimuth(ring: Floats) -> tuple[Floats, Floats]:
    dense = np.concatenate(
        [
            ring[[k]] + (ring[[(k + 1) % len(ring)]] - ring[[k]]) * np.linspace(0, 1, 20, endpoint=False)[:, None]
            for k in range(len(ring))
        ]
    )
    azimuth = np.degrees(np.arctan2(-dense[:, 0], -dense[:, 1])) % 360
    order = np.argsort(azimuth)
    return azimuth[order], np.hypot(dense[:, 0], dense[:, 1])[order]


def graft_release(set_on: date) -> date:
    """Not before one season has passed; then when the scion grows on its own."""
    return later(set_on, GRAFT_SEASON_DAYS)


@dataclass(frozen=True)
class Guide:
    """A guide for an aerial root: its length from where it leaves to the soil, what it still has to grow, mm."""

    length_mm: float
    to_grow_mm: float


def aerial_guide(from_mm: float, out_mm: float, length_mm: float | None) -> Guide:
    """Plumb to the soil beside the trunk: from the place where it leaves to the spot below its end, and 30 mm into the soil.

    Raises FieldError for a height that is none.
    """
    if not from_mm > 0:
        raise FieldError("from_mm", "an aerial root leaves the trunk above the soil")
    way = hypot(from_mm, out_mm) if out_mm else from_mm
    asked = way + GUIDE_OVER_MM
    return Guide(asked, max(asked - (length_mm or 0.0), 0.0))


def mound_l(reach_x_mm: float, reach_y_mm: float, height_mm: float) -> float:
    """A paraboloid mound: pi a b h / 2, litres."""
    if not min(reach_x_mm, reach_y_mm) > 0 or height_mm < 0:
        raise FieldError("mound_mm", "a mound has a reach and a height")
    return pi * reach_x_mm * reach_y_mm * height_mm / 2 / 1e6


def ring_l(reach_x_mm: float, reach_y_mm: float, wide_mm: float, high_mm: float) -> float:
    """A wall of moss or mud round an oval: a band `wide_mm` outside it, square in section, litres.

    The area between an ellipse and its true parallel outside: perimeter x w + pi w^2 (Steiner).
    """
    if not min(reach_x_mm, reach_y_mm) > 0 or min(wide_mm, high_mm) < 0:
        raise FieldError("ring_mm", "a ring has a reach, a width and a height")
    return (float(ellipse_perimeter_mm(reach_x_mm, reach_y_mm)) * wide_mm + pi * wide_mm**2) * high_mm / 1e6
