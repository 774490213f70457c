"""Room for fresh mix all round, and what tilting and turning a tree does (docs/methods.md, "room all round")."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns
from kesh.geometry.outline import Floats, outline_points, ring_area_mm2
from kesh.geometry.profile import inset_mm
from kesh.model.roots import RootMass
from kesh.science.roots.fit import (
    RAYS,
    RootFit,
    Seat,
    allowed_rays,
    ball_radius,
    ball_ring,
    depth_weight,
    goes_round,
    ring_radius,
)

STEP_DEG = 10
LEVELS = 13
RING = 720
CELLS = 90


def directions_deg(step_deg: int = STEP_DEG) -> Floats:
    """Azimuths clockwise from the front, seen from above."""
    return np.arange(0.0, 360.0, step_deg)


def toward(azimuth_deg: Floats | float) -> Floats:
    """Unit vectors (..., 2), x to the viewer's right and y to the back."""
    a = np.radians(azimuth_deg)
    return np.stack([-np.sin(a), -np.cos(a)], axis=-1)


def side_room_mm(
    roots: RootMass, pots: PotColumns, seat: Seat, found: RootFit, azimuths_deg: Floats | None = None, *,
    coarse: bool = False,
) -> Floats | None:  # fmt: skip
    """From the kept roots to the inner wall along each azimuth from the trunk, least over the kept depth, mm (k,).

    One pot; every 10 degrees where no azimuths are given. `coarse` looks at fewer depths, for a drag. None when no roots stay, or the trunk stands outside the pot.
    """
    if float(found.kept_depth_mm[0]) <= 0 or float(found.removed_volume_share[0]) >= 1:
        return None
    way = toward(directions_deg() if azimuths_deg is None else azimuths_deg)
    rooms = _rooms(
        roots, pots, seat, found, way, seat.shift[:1], RING // 4 if coarse else RING, 3 if coarse else LEVELS
    )
    return None if rooms is None else rooms[0]


def least_side_rooms_mm(roots: RootMass, pots: PotColumns, seat: Seat, found: RootFit, x_mm: Floats) -> Floats:
    """The least room of one pot with the trunk at each of some places along its length (k,), as coarse as for a drag.

    nan where no roots stay, or the trunk would stand outside the room that is left for roots. `found` may be the fit at any of them: depth and
    side cut are one for all.
    """
    nothing = np.full(len(x_mm), np.nan)
    if float(found.kept_depth_mm[0]) <= 0:
        return nothing
    shift = np.column_stack([x_mm, np.full(len(x_mm), seat.y_mm)])
    rooms = _rooms(roots, pots, seat, found, toward(directions_deg()), shift, RING // 4, 3)
    if rooms is None:
        return nothing
    rays = allowed_rays(pots, found.allowed_offset_mm, RAYS)[0]
    return np.where(goes_round(rays[None] - shift[:, None]), rooms.min(axis=1), np.nan)


def _rooms(
    roots: RootMass, pots: PotColumns, seat: Seat, found: RootFit, way: Floats, shift: Floats, ring: int, levels: int
) -> Floats | None:
    """Room along each way (k, n) with the trunk at each place (k, 2); None where the wall leaves none."""
    pot, angle = pots.pots[0], np.arctan2(way[:, 1], way[:, 0])
    down = np.linspace(0, float(found.kept_depth_mm[0]), levels)
    z = np.clip(pots.inner_depth[0] + seat.raise_mm - down, 0, pots.inner_depth[0])
    wall = inset_mm(pots, ((z + pot.floor_mm) / pot.body_height_mm)[None, :])[0] + pot.wall_mm

    def out_to(offset_mm: float) -> Floats:
        line = outline_points(pot.outline, pot.length_mm, pot.width_mm, offset_mm, ring)
        return np.stack([ring_radius(line - at, angle) for at in shift])

    try:
        allowed = out_to(float(found.allowed_offset_mm[0]))
        rooms = [
            out_to(float(q)) - np.minimum(ball_radius(roots, seat.turn_deg, 1 - roots.taper * s / roots.depth_mm, angle), allowed)
            for s, q in zip(down, wall, strict=True)
        ]  # fmt: skip
    except FieldError:
        return None
    return np.asarray(np.min(rooms, axis=0))


@dataclass(frozen=True)
class Tilted:
    """What a tilt of the tree brings: how far the apex moves toward where it is tilted and sinks, and the wedge below.

    `lift_mm` is how far the far side of the root base is raised, or taken off the low side instead; that cut takes
    `cut_share` of the feeders.
    """

    apex_shift_mm: float | None
    apex_drop_mm: float | None
    wedge_l: float | None
    lift_mm: float | None
    cut_share: float | None = None


@lru_cache(maxsize=256)
def tilted_tree(
    height_mm: float | None, roots: RootMass | None, tilt_deg: float, azimuth_deg: float, turn_deg: float = 0.0
) -> Tilted:
    """A tree tilted about the middle of its root base toward an azimuth, after its turn in the pot.

    The wedge is tan t times the integral of (u - u_min) over the outline of the base, u away from the tilt; a mass that
    tapers has a smaller base than top.
    """
    t = np.radians(abs(tilt_deg))
    shift = None if height_mm is None else float(height_mm * np.sin(t))
    drop = None if height_mm is None else float(height_mm * (1 - np.cos(t)))
    if roots is None:
        return Tilted(shift, drop, None, None)
    ring = ball_ring(roots, turn_deg)
    middle = _centroid(ring)
    ring = middle + (1 - roots.taper) * (ring - middle)
    # the side it is tilted to stays down, the other is raised
    way = -toward(azimuth_deg if tilt_deg >= 0 else azimuth_deg + 180)
    u = ring @ way
    volume = float(np.tan(t) * abs(ring_area_mm2(ring)) * (_centroid(ring) @ way - u.min()))
    return Tilted(
        shift, drop, volume / 1e6, float(np.ptp(u) * np.sin(t)), _cut_share(roots, ring, way, float(np.tan(t)))
    )


def _cut_share(roots: RootMass, ring: Floats, way: Floats, slope: float) -> float:
    """The feeders in a wedge cut off the low side of the base instead, by a raster over the plan of the base."""
    x, y = (np.linspace(ring[:, k].min(), ring[:, k].max(), CELLS) for k in (0, 1))
    spots = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    far = np.maximum(ring_radius(ring, np.arctan2(spots[:, 1], spots[:, 0])), 1e-9)
    rho = np.hypot(*spots.T) / far
    spots, rho = spots[rho <= 1], rho[rho <= 1]
    # how dense feeders lie at a share of the reach: what `radial_weight` sums up
    dense = {"near_trunk": 2 - 2 * rho**2, "even": np.ones_like(rho), "outside_bottom": 2 * rho**2}[roots.feeders]
    u = spots @ way
    high = np.clip(slope * ((ring @ way).max() - u), 0, roots.depth_mm) / roots.depth_mm
    return float((dense * depth_weight(1 - high, np.ones_like(high), roots.feeders)).sum() / dense.sum())


def _centroid(ring: Floats) -> Floats:
    x, y = ring[:, 0], ring[:, 1]
    nx, ny = np.roll(x, -1), np.roll(y, -1)
    cross = x * ny - nx * y
    return np.asarray(np.array([((x + nx) * cross).sum(), ((y + ny) * cross).sum()]) / (3 * cross.sum()))
