"""Does the root mass go into the pot, and what must come off? (docs/methods.md, "what comes off the roots")

Limits and density shapes are horticultural custom, not measurements. x right, y back, from the trunk; depth from the
top of the root mass down. One root mass against N pots.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.geometry.columns import MANY, PotColumns, by_outline
from kesh.geometry.outline import Floats, outline_fault, outline_points, rough_offset
from kesh.geometry.profile import extreme_heights_mm, inset_at_mm, inset_mm
from kesh.model.roots import RootMass

# mix under the roots where nobody set it: a share of the inner depth, within these [J]
BASE_SHARE, BASE_LEAST_MM, BASE_MOST_MM = 0.12, 3.0, 12.0
CLEARANCE_MM = 15.0
SEASON_FACTOR = {"best": 1.0, "edge": 0.7, "wrong": 0.3}
HEALTH_FACTOR = {"strong": 1.0, "normal": 0.85, "weak": 0.5, "sick": 0.0}
CELLS = 2048
# rays from a pot's middle: of one pot, and of each of many
RAYS, FEW_RAYS = 240, 48


@dataclass(frozen=True)
class Seat:
    """How the tree stands: trunk from the pot's centre, top of the roots above the rim, layer and clearance, mm.

    Offsets and layer may be arrays (N,), one for each pot.
    """

    offset_x_mm: Floats | float = 0.0
    offset_y_mm: Floats | float = 0.0
    turn_deg: float = 0.0
    raise_mm: float = 0.0
    floor_layer_mm: Floats | float = BASE_MOST_MM
    clearance_mm: float = CLEARANCE_MM

    @property
    def base_mm(self) -> float:
        """Mix under the roots of one pot."""
        return float(np.asarray(self.floor_layer_mm).reshape(-1)[0])

    @property
    def x_mm(self) -> float:
        """The trunk's offset to the viewer's right in one pot."""
        return float(self.shift[0, 0])

    @property
    def y_mm(self) -> float:
        """The trunk's offset to the back in one pot."""
        return float(self.shift[0, 1])

    @property
    def shift(self) -> Floats:
        """The offsets as rows (N, 2), one row when they are the same for all pots."""
        x, y = np.broadcast_arrays(np.atleast_1d(self.offset_x_mm), np.atleast_1d(self.offset_y_mm))
        return np.stack([x, y], axis=-1).astype(float)


@dataclass(frozen=True)
class RootFit:
    """Per pot (N,): mm off each side, shares removed, room below. no_room marks pots that take no roots at all."""

    kept_depth_mm: Floats
    off_bottom_mm: Floats
    spare_depth_mm: Floats
    off_left_mm: Floats
    off_right_mm: Floats
    off_front_mm: Floats
    off_back_mm: Floats
    removed_volume_share: Floats
    removed_feeder_share: Floats
    ball_volume_l: float
    allowed_offset_mm: Floats

    @property
    def kept_volume_l(self) -> Floats:
        """Root mass that stays, litres."""
        return self.ball_volume_l * (1 - self.removed_volume_share)


@lru_cache(maxsize=512)
def ball_ring(roots: RootMass, turn_deg: float = 0.0, count: int = 360) -> Floats:
    """The root mass from above, in trunk coordinates, counter-clockwise (k, 2).

    Raises FieldError if the trunk is outside.
    """
    ring = outline_points(roots.outline, roots.length_mm, roots.width_mm, 0.0, count)
    ring = ring + np.array([roots.offset_x_mm, roots.offset_y_mm])
    if not shapely.Polygon(ring).contains(shapely.Point(0, 0)):
        raise FieldError("roots.offset_x_mm", "the trunk stands outside the root mass; check its offset")
    turn = np.radians(turn_deg)
    spin = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    return np.asarray(ring @ spin.T)


def _ball_centre(roots: RootMass, turn_deg: float) -> Floats:
    turn = np.radians(turn_deg)
    x, y = roots.offset_x_mm, roots.offset_y_mm
    return np.array([x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)])


def _polar_table(ring: Floats, cells: int = CELLS) -> Floats:
    """Radius over evenly spaced angles -pi..pi of a ring that is star-shaped from the origin."""
    dense = np.concatenate([ring + (np.roll(ring, -1, axis=0) - ring) * t for t in (0.0, 0.25, 0.5, 0.75)])
    angle, radius = np.arctan2(dense[:, 1], dense[:, 0]), np.hypot(dense[:, 0], dense[:, 1])
    order = np.argsort(angle)
    return np.asarray(np.interp(np.linspace(-np.pi, np.pi, cells + 1), angle[order], radius[order], period=2 * np.pi))


@lru_cache(maxsize=1024)
def _ball_table(roots: RootMass, turn_deg: float, shrink: float) -> Floats:
    centre = _ball_centre(roots, turn_deg)
    return _polar_table(centre + shrink * (ball_ring(roots, turn_deg) - centre))


def ring_radius(ring: Floats, angle: Floats) -> Floats:
    """How far a ring that is star-shaped from the origin reaches along angles from the x axis, radians; mm (k,)."""
    at, radius = np.arctan2(ring[:, 1], ring[:, 0]), np.hypot(ring[:, 0], ring[:, 1])
    order = np.argsort(at)
    return np.asarray(np.interp(angle, at[order], radius[order], period=2 * np.pi))


def ball_radius(roots: RootMass, turn_deg: float, shrink: float, angle: Floats) -> Floats:
    """How far the root mass reaches from the trunk along angles, scaled about its own centre, mm (k,)."""
    return np.asarray(np.interp(angle, np.linspace(-np.pi, np.pi, CELLS + 1), _ball_table(roots, turn_deg, shrink)))


def allowed_rays(pots: PotColumns, q: Floats, count: int) -> Floats:
    """Rim outline offset inward by q (N,), as points (N, count, 2) around the pot's centre; nan: nothing is left."""
    theta = (np.arange(count) + 0.5) * 2 * np.pi / count
    u, v = np.cos(theta), np.sin(theta)
    box, ellipse = pots.box, pots.ellipse & (q < pots.form[:, 6])
    a, b = pots.length / 2, pots.width / 2
    points = np.full((len(pots), count, 2), np.nan)
    if np.any(box):
        r = np.maximum(pots.corner[box] - q[box], 0.0)[:, None]
        ha, hb = (a - q)[box, None], (b - q)[box, None]
        with np.errstate(divide="ignore", invalid="ignore"):
            t = np.minimum(ha / np.abs(u), hb / np.abs(v))
            ca, cb = ha - r, hb - r
            corner = (t * np.abs(u) > ca) & (t * np.abs(v) > cb) & (r > 0)
            along = ca * np.abs(u) + cb * np.abs(v)
            arc = along + np.sqrt(np.maximum(along**2 - ca**2 - cb**2 + r**2, 0.0))
        t = np.where(corner, arc, t)
        t = np.where((ha <= 0) | (hb <= 0), np.nan, t)
        points[box] = np.stack([t * u, t * v], axis=-1)
    if np.any(ellipse):
        ea, eb, eq = a[ellipse, None], b[ellipse, None], q[ellipse, None]
        length = np.hypot(eb * u, ea * v)
        points[ellipse] = np.stack([ea * u - eq * eb * u / length, eb * v - eq * ea * v / length], axis=-1)
    rest = np.flatnonzero(~box & ~ellipse)
    if pots.many:
        for outline, rows in by_outline(pots, rest).items():
            points[rows] = rough_offset(outline, pots.length[rows], pots.width[rows], q[rows], count)
        return points
    for i in rest:
        pot = pots.pots[i]
        try:
            ring = outline_points(pot.outline, pot.length_mm, pot.width_mm, float(q[i]), count)
        except FieldError:
            continue
        table = _polar_table(ring)
        angle = np.mod(theta + np.pi, 2 * np.pi) - np.pi
        radius = np.interp(angle, np.linspace(-np.pi, np.pi, len(table)), table)
        points[i] = np.stack([radius * u, radius * v], axis=-1)
    return points


def _reach(pots: PotColumns, q: Floats, points: Floats, seat: Seat) -> tuple[Floats, Floats, Floats, Floats]:
    """How far the allowed room reaches left, right, front and back of the trunk, (N,) each.

    A corner that looks to the side lies between two rays, so the ring itself is asked where there is one.
    """
    with np.errstate(invalid="ignore"):
        low, high = points.min(axis=1), points.max(axis=1)
    if not pots.many:
        for i in np.flatnonzero(~pots.box & ~pots.ellipse).tolist():
            pot = pots.pots[i]
            try:
                ring = outline_points(pot.outline, pot.length_mm, pot.width_mm, float(q[i]), 240)
            except FieldError:
                continue
            shift = seat.shift[i if len(seat.shift) > 1 else 0]
            low[i], high[i] = ring.min(axis=0) - shift, ring.max(axis=0) - shift
    return low[:, 0], high[:, 0], low[:, 1], high[:, 1]


@lru_cache(maxsize=1024)
def roots_fault(roots: RootMass) -> str:
    """Why a root mass cannot be reckoned, as the end of a sentence; empty when it can."""
    fault = outline_fault(roots.outline, roots.length_mm, roots.width_mm)
    if fault:
        return fault
    try:
        ball_ring(roots)
    except FieldError as err:
        return err.reason
    return ""


def usual_base_mm(inner_depth_mm: Floats | float) -> Floats:
    """Mix under the roots where nobody set it, mm: clamp(0.12 of the inner depth, 3, 12)."""
    return np.asarray(np.clip(BASE_SHARE * np.asarray(inner_depth_mm, float), BASE_LEAST_MM, BASE_MOST_MM))


def radial_weight(rho: Floats, feeders: str) -> Floats:
    """Feeders within a share of the reach: twice the integral of f(x) x dx from 0 to rho; 1 at rho = 1."""
    if feeders == "near_trunk":
        return 2 * rho**2 - rho**4
    return rho**4 if feeders == "outside_bottom" else rho**2


def depth_weight(low: Floats, high: Floats, feeders: str) -> Floats:
    """Integral of the depth factor of the feeder density between two relative depths."""
    if feeders == "near_trunk":
        return 1.5 * (high - low) - (high**2 - low**2) / 2
    if feeders == "outside_bottom":
        return 0.5 * (high - low) + (high**2 - low**2) / 2
    return high - low


def _steps(points: Floats) -> tuple[Floats, Floats]:
    """The angle of each point of rings (k, n, 2) about nought, and the angle between its two neighbours."""
    angle = np.arctan2(points[:, :, 1], points[:, :, 0])
    step = np.roll(angle, -1, axis=1) - np.roll(angle, 1, axis=1)
    return angle, step - 2 * np.pi * np.rint(step / (2 * np.pi))


def goes_round(points: Floats) -> NDArray[np.bool_]:
    """Whether each of some rings (k, n, 2) goes round the point nought."""
    return np.asarray(np.isclose(_steps(points)[1].sum(axis=1), 4 * np.pi))


def fit(roots: RootMass, pots: PotColumns, seat: Seat) -> RootFit:
    """Fit a root mass into N pots. Raises FieldError when the trunk stands outside the root mass."""
    count, levels = (RAYS, 4) if len(pots) < MANY else (FEW_RAYS, 2)
    ring = ball_ring(roots, seat.turn_deg)
    depth = roots.depth_mm
    room = pots.inner_depth + seat.raise_mm - seat.floor_layer_mm
    kept = np.clip(np.minimum(depth, room), 0.0, None)
    low = np.clip(pots.inner_depth + seat.raise_mm - kept, 0, pots.inner_depth)
    q = np.max(inset_at_mm(pots, extreme_heights_mm(pots, low)), axis=1) + pots.wall + seat.clearance_mm
    points = allowed_rays(pots, q, count) - seat.shift[:, None, :]

    far = np.hypot(points[:, :, 0], points[:, :, 1])
    angle, step = _steps(points)
    inside = np.isclose(step.sum(axis=1), 4 * np.pi) & (kept > 0)
    lo_x, hi_x, lo_y, hi_y = _reach(pots, q, points, seat)
    bounds = (lo_x - ring[:, 0].min(), ring[:, 0].max() - hi_x, lo_y - ring[:, 1].min(), ring[:, 1].max() - hi_y)
    spans = np.ptp(ring[:, 0]), np.ptp(ring[:, 0]), np.ptp(ring[:, 1]), np.ptp(ring[:, 1])
    trims = [np.where(inside, np.maximum(0, d), s) for d, s in zip(bounds, spans, strict=True)]

    levels = levels if roots.taper > 0 else 1
    full_v = full_f = 0.0
    kept_v, kept_f = np.zeros(len(pots)), np.zeros(len(pots))
    whole = kept >= depth - 1e-9
    share = kept / depth
    weight = step / 2
    # where each ray falls between the cells of the ball's table; nan rays, where nothing is left, fall in the first
    with np.errstate(invalid="ignore"):
        cell = np.nan_to_num((angle + np.pi) * (CELLS / (2 * np.pi)))
    left = np.minimum(cell.astype(np.intp), CELLS - 1)
    past = cell - left
    for j in range(levels):
        top, bottom = j / levels, (j + 1) / levels
        shrink = 1 - roots.taper * (top + bottom) / 2
        table = _ball_table(roots, seat.turn_deg, shrink)
        total = float(np.sum(table[:-1] ** 2)) * np.pi / CELLS
        full_v += total * (bottom - top)
        full_f += total * float(depth_weight(np.array(top), np.array(bottom), roots.feeders))
        end = np.clip(share, top, bottom)
        # a slice that the saw cuts has its middle higher up, where the taper has taken less
        own = (1 - roots.taper * (top + end) / 2) / shrink
        ball = (table[left] + past * np.diff(table)[left]) * own[:, None]
        rho = np.minimum(1.0, far / ball)
        whole &= np.all(far >= ball, axis=1)
        base = ball**2 * weight / 2
        kept_v += (base * rho**2).sum(axis=1) * (end - top)
        kept_f += (base * radial_weight(rho, roots.feeders)).sum(axis=1) * depth_weight(
            np.full_like(end, top), end, roots.feeders
        )
    return RootFit(
        kept_depth_mm=kept,
        off_bottom_mm=depth - kept,
        spare_depth_mm=np.maximum(room - depth, 0.0),
        off_left_mm=trims[0],
        off_right_mm=trims[1],
        off_front_mm=trims[2],
        off_back_mm=trims[3],
        removed_volume_share=np.where(inside, np.where(whole, 0.0, np.clip(1 - kept_v / full_v, 0, 1)), 1.0),
        removed_feeder_share=np.where(inside, np.where(whole, 0.0, np.clip(1 - kept_f / full_f, 0, 1)), 1.0),
        ball_volume_l=full_v * depth / 1e6,
        allowed_offset_mm=q,
    )


def kept_ring(roots: RootMass, pots: PotColumns, seat: Seat, allowed_offset_mm: float, shrink: float = 1.0) -> Floats:
    """The root mass after the side cuts, from above, in trunk coordinates (k, 2). One pot."""
    return kept_rings(roots, pots, seat, allowed_offset_mm, (shrink,))[0]


def kept_rings(
    roots: RootMass, pots: PotColumns, seat: Seat, allowed_offset_mm: float, shrinks: Sequence[float]
) -> list[Floats]:
    """The same at several heights of a root mass that tapers, each scaled about its own centre; the cut is one for all."""
    rays = allowed_rays(pots, np.array([allowed_offset_mm]), 180)[0] - seat.shift[0]
    if np.any(np.isnan(rays)):
        return [np.zeros((0, 2)) for _ in shrinks]
    grid = np.linspace(-np.pi, np.pi, CELLS + 1)
    angle = np.linspace(-np.pi, np.pi, 181)[:-1]
    cut, way = np.interp(angle, grid, _polar_table(rays)), np.column_stack([np.cos(angle), np.sin(angle)])
    near = [np.minimum(np.interp(angle, grid, _ball_table(roots, seat.turn_deg, s)), cut) for s in shrinks]
    return [r[:, None] * way for r in near]


def min_clearance_mm(roots: RootMass, pots: PotColumns, seat: Seat, found: RootFit) -> float | None:
    """Smallest distance from the kept roots to the inner wall of one pot, mm; None when no roots stay."""
    kept = float(found.kept_depth_mm[0])
    if kept <= 0 or float(found.removed_volume_share[0]) >= 1:
        return None
    pot = pots.pots[0]
    rim = shapely.LinearRing(outline_points(pot.outline, pot.length_mm, pot.width_mm, 0.0, 180))
    levels = np.linspace(0, kept, 5 if roots.taper > 0 else 33)
    z = np.clip(pots.inner_depth[0] + seat.raise_mm - levels, 0, pots.inner_depth[0])
    wall = inset_mm(pots, ((z + pot.floor_mm) / pot.body_height_mm)[None, :])[0] + pot.wall_mm
    shift = seat.shift[0]
    q = float(found.allowed_offset_mm[0])
    if roots.taper <= 0:
        return _ring_gap_mm(kept_ring(roots, pots, seat, q) + shift, rim) - float(wall.max())
    rings = kept_rings(roots, pots, seat, q, (1 - roots.taper * levels / roots.depth_mm).tolist())
    gaps = [_ring_gap_mm(ring + shift, rim) - inset for ring, inset in zip(rings, wall.tolist(), strict=True)]
    return float(min(gaps))


def _ring_gap_mm(ring: Floats, rim: shapely.LinearRing) -> float:
    return float(shapely.distance(shapely.LinearRing(ring), rim))


def limit_share(row_limit: float, season: str, health: str) -> float:
    """Largest share of feeders to take in one repotting."""
    return row_limit * SEASON_FACTOR[season] * HEALTH_FACTOR[health]


@dataclass(frozen=True)
class Stage:
    """One repotting of a staged plan; the share is of what is then present."""

    year: float
    removed_feeder_share: float


def stages(removed_share: float, limit: float, interval_years: float) -> tuple[Stage, ...]:
    """Repottings needed to take a share of the feeders; empty when nothing comes off or nothing may."""
    if removed_share <= 1e-9 or limit <= 0 or removed_share >= 1:
        return ()
    count = (
        1 if removed_share <= limit else int(np.ceil(np.log(1 - removed_share) / np.log(1 - min(limit, 0.999)) - 1e-9))
    )
    each = 1 - (1 - removed_share) ** (1 / count)
    return tuple(Stage(i * interval_years, float(each)) for i in range(count))
