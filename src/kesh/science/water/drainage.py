"""Water and air in the pot once it has drained (docs/methods.md, "water and air after draining").

Static equilibrium above the drain level: suction = height (mm). Two states matter: what the mix holds, and how much
of it stays wet. All pots (N,) at once; one mix at a time.
"""

from dataclasses import dataclass

import numpy as np
import shapely

from kesh.base.errors import FieldError
from kesh.base.once import once
from kesh.geometry.columns import PotColumns
from kesh.geometry.holes import draining
from kesh.geometry.outline import Floats, outline_points
from kesh.geometry.profile import inset_mm
from kesh.geometry.volume import inner_area_mm2, inner_volume_l, slices
from kesh.science.water.substrate import RESIDUAL, Blend

BREAKTHROUGH = 1.5
BREAKTHROUGH_BAND = (1.0, 3.0)


@dataclass(frozen=True)
class Drained:
    """The drained mix, all (N,): litres, shares of its volume, mm. A drainage layer's own water is apart."""

    soil_l: Floats
    held_l: Floats
    available_l: Floats
    air_mean: Floats
    air_bottom_third: Floats
    air_upper_half: Floats
    wet_height_mm: Floats
    wet_share: Floats
    layer_l: Floats
    layer_held_l: Floats
    layer_suction_mm: Floats


def layer_lift_mm(layer: tuple[Blend, float] | None, breakthrough: float = BREAKTHROUGH) -> float:
    """Suction at the seam over a layer of (grains, thickness in mm), mm; nought without one."""
    return min(layer[1], breakthrough * layer[0].rise_mm) if layer is not None else 0.0


def wet_over_mm(
    mix: Blend, layer: tuple[Blend, float] | None, breakthrough: float = BREAKTHROUGH, bed_suction_mm: float = 0.0
) -> float:
    """Height of the wet zone over the layer, or over the floor without one, mm."""
    return max(0.0, max(0.0, mix.wet_zone_mm - bed_suction_mm) - layer_lift_mm(layer, breakthrough))


def _mound(area: Floats, mound_mm: Floats) -> tuple[Floats, Floats, Floats]:
    """(height above the fill level, weight, area) of a paraboloid mound, (N, 12)."""
    nodes, weights = np.polynomial.legendre.leggauss(12)
    q = mound_mm[:, None] * (nodes + 1) / 2
    share = np.divide(q, mound_mm[:, None], out=np.zeros_like(q), where=mound_mm[:, None] > 0)
    return q, mound_mm[:, None] * weights / 2, area[:, None] * (1 - share)


def _share(part: Floats, whole: Floats) -> Floats:
    """Part by whole; not a number where there is nothing, as in a floor that tapers away."""
    return np.divide(part, whole, out=np.full_like(whole, np.nan), where=whole > 0)


def drained(
    pots: PotColumns,
    mix: Blend,
    soil_depth_mm: Floats,
    *,
    mound_mm: Floats | float = 0.0,
    layer: tuple[Blend, float] | None = None,
    breakthrough: float = BREAKTHROUGH,
    bed_suction_mm: float = 0.0,
) -> Drained:
    """Water and air of a mix after draining. soil_depth_mm: (N,) from the inner floor to the soil line.

    Raises FieldError when the soil is deeper than the pot, or the layer leaves no room for the mix.
    """
    depth = np.broadcast_to(np.asarray(soil_depth_mm, dtype=float), (len(pots),))
    mound = np.broadcast_to(np.asarray(mound_mm, dtype=float), (len(pots),))
    if np.any(depth > pots.inner_depth + 1e-6) or np.any(depth <= 0):
        raise FieldError("headspace_mm", "the soil line must lie between the inner floor and the rim")
    floor = np.zeros(len(pots))
    coarse = np.full(len(pots), layer[1] if layer else 0.0)
    if np.any(coarse >= depth):
        raise FieldError("drainage_layer.thickness_mm", "the layer leaves no room for the mix above it")
    rise = np.full(len(pots), layer_lift_mm(layer, breakthrough))
    third = coarse + (depth - coarse) / 3
    # the retention curve is steepest below, so the lower third has its own nodes
    marks = np.stack([third, coarse + (depth - coarse) * 0.1], axis=1)
    cut = slices(pots, coarse, depth, marks, 16 if len(pots) <= 50 else 8)
    lower = cut.z_mm <= third[:, None]
    suction = cut.z_mm - coarse[:, None] + rise[:, None] + bed_suction_mm
    dv = cut.weight_mm * cut.area_mm2 / 1e6
    theta = mix.water_drained(suction)
    use = theta - mix.phi_e * RESIDUAL - (mix.phi_int - mix.phi_int_use)
    soil, held, available = dv.sum(axis=1), (dv * theta).sum(axis=1), (dv * use).sum(axis=1)
    upper = cut.z_mm >= (coarse + (depth - coarse) / 2)[:, None]
    upper_v, upper_w = (dv * upper).sum(axis=1), (dv * upper * theta).sum(axis=1)
    third_v, third_w = (dv * lower).sum(axis=1), (dv * lower * theta).sum(axis=1)

    wet_to = np.full(len(pots), wet_over_mm(mix, layer, breakthrough, bed_suction_mm))
    top = np.minimum(coarse + wet_to, depth)
    wet_l = inner_volume_l(pots, top) - (inner_volume_l(pots, coarse) if layer else 0.0)
    if np.any(mound > 0):
        q, weight, area = _mound(inner_area_mm2(pots, depth[:, None])[:, 0], mound)
        dm = weight * area / 1e6
        high = (depth - coarse + rise + bed_suction_mm)[:, None] + q
        raised_v, raised_w = dm.sum(axis=1), (dm * mix.water_drained(high)).sum(axis=1)
        soil, held = soil + raised_v, held + raised_w
        upper_v, upper_w = upper_v + raised_v, upper_w + raised_w
        available = available + (dm * mix.water_available(high)).sum(axis=1)
        over = np.clip(coarse + wet_to - depth, 0, mound)
        safe = np.where(mound > 0, mound, 1.0)
        wet_l = wet_l + inner_area_mm2(pots, depth[:, None])[:, 0] * (over - over**2 / (2 * safe)) / 1e6
    if layer:
        below = slices(pots, floor, coarse)
        water = (below.weight_mm * below.area_mm2 / 1e6 * layer[0].water_drained(below.z_mm + bed_suction_mm)).sum(
            axis=1
        )
        layer_l = below.volume_l()
    else:
        water = layer_l = floor
    return Drained(
        soil_l=soil,
        held_l=held,
        available_l=available,
        air_mean=mix.phi_t - _share(held, soil),
        air_bottom_third=mix.phi_t - _share(third_w, third_v),
        air_upper_half=mix.phi_t - _share(upper_w, upper_v),
        wet_height_mm=wet_to,
        wet_share=np.clip(_share(wet_l, soil), 0, 1),
        layer_l=layer_l,
        layer_held_l=water,
        layer_suction_mm=rise,
    )


@dataclass(frozen=True)
class Tilted:
    """One pot stood on a slope after draining flat."""

    held_flat_l: float
    held_tilted_l: float
    water_left_l: float
    drained_l: float
    below_drain_share: float
    wet_share: float


@dataclass(frozen=True, eq=False)
class TiltGrid:
    """The soil of one pot as points (n,) in mm with their litres, and its drain holes (x, y, diameter): asked for every tilt anew."""

    x_mm: Floats
    y_mm: Floats
    z_mm: Floats
    litres: Floats
    holes: tuple[tuple[float, float, float], ...]

    @once
    def flat(self) -> tuple[Floats, Floats]:
        """Heights over the floor and the litres at each."""
        levels, which = np.unique(self.z_mm, return_inverse=True)
        return levels, np.asarray(np.bincount(which, self.litres), float)

    def tilted(self, mix: Blend, tilt_deg: float, direction_deg: float = 270.0) -> Tilted:
        """Water left when the side at direction_deg (270 = front, 0 = right) goes down by tilt_deg. Raises FieldError outside 0..45."""
        if not 0 <= tilt_deg <= 45:
            raise FieldError("tilt", f"{tilt_deg:g} is outside 0..45 degrees")
        tau, away = np.radians(tilt_deg), np.radians(direction_deg)
        ex, ey = np.cos(away), np.sin(away)
        over = (
            self.z_mm * np.cos(tau)
            - (self.x_mm * ex + self.y_mm * ey) * np.sin(tau)
            - self.drain_level_mm(tilt_deg, direction_deg)
        )
        # by steps of a fraction of a millimetre: the curve is asked a few hundred times, not once a point
        step = max(float(np.ptp(over)) / 600, 1e-6)
        low = float(over.min())
        rows = ((over - low) / step).astype(np.intp)
        litres = np.bincount(rows, self.litres)
        middle = np.bincount(rows, self.litres * over) / np.maximum(litres, 1e-30)
        held = float(litres @ mix.water_drained(np.maximum(middle, 0.0)))
        levels, by_level = self.flat
        held_flat = float(by_level @ mix.water_drained(levels))
        left = min(held_flat, held)
        below = float(self.litres[over < 0].sum() / self.litres.sum())
        wet = float(self.litres[over < mix.wet_zone_mm].sum() / self.litres.sum())
        return Tilted(held_flat, held, left, held_flat - left, below, wet)

    def drain_level_mm(self, tilt_deg: float, direction_deg: float = 270.0) -> float:
        """Level of the lowest hole, in the axes of the bench with the pot's middle at nought."""
        tau, away = np.radians(tilt_deg), np.radians(direction_deg)
        ex, ey = np.cos(away), np.sin(away)
        return float(min(-(x * ex + y * ey + d / 2) * np.sin(tau) for x, y, d in self.holes))


def tilt_grid(pots: PotColumns, soil_depth_mm: float, *, across: int = 120, layers: int = 60) -> TiltGrid:
    """One pot's soil as a raster. Raises FieldError for more than one pot, or a pot without a hole."""
    if len(pots) != 1:
        raise FieldError("pot", "one pot at a time can be tilted")
    pot = pots.pots[0]
    drains = draining(pot)
    if not drains:
        raise FieldError("holes", "no drainage: a pot without a drain hole cannot drain, flat or tilted")
    cell = max(pot.length_mm, pot.width_mm) / across
    xs = np.arange(-pot.length_mm / 2 + cell / 2, pot.length_mm / 2, cell)
    ys = np.arange(-pot.width_mm / 2 + cell / 2, pot.width_mm / 2, cell)
    x, y = (grid.ravel() for grid in np.meshgrid(xs, ys))
    edge = wall_distance_mm(np.column_stack([x, y]), outline_points(pot.outline, pot.length_mm, pot.width_mm, 0.0, 360))
    z = (np.arange(layers) + 0.5) * soil_depth_mm / layers
    inset = inset_mm(pots, ((z + pot.floor_mm) / pot.body_height_mm)[None, :])[0] + pot.wall_mm
    inside = edge[:, None] >= inset[None, :]
    exact = inner_area_mm2(pots, z[None, :])[0]
    weight = inside * (exact / np.maximum(inside.sum(axis=0), 1))[None, :] * soil_depth_mm / layers / 1e6
    rows, columns = np.nonzero(inside)
    return TiltGrid(
        x[rows], y[rows], z[columns], weight[rows, columns], tuple((h.x_mm, h.y_mm, h.diameter_mm) for h in drains)
    )


def tilted(pots: PotColumns, mix: Blend, soil_depth_mm: float, tilt_deg: float, direction_deg: float = 270.0) -> Tilted:
    """Water left when one pot is tilted by tilt_deg with the side at direction_deg (270 = front) going down.

    Integrated on a raster of at most L/120 in plan and D/60 in height. Raises FieldError for a tilt outside 0..45,
    more than one pot, or a pot without a hole.
    """
    if not 0 <= tilt_deg <= 45:
        raise FieldError("tilt", f"{tilt_deg:g} is outside 0..45 degrees")
    return tilt_grid(pots, soil_depth_mm).tilted(mix, tilt_deg, direction_deg)


def wall_distance_mm(points: Floats, ring: Floats) -> Floats:
    """Distance (n,) of points (n, 2) to a ring (k, 2), negative outside."""
    shape = shapely.Polygon(ring)
    shapely.prepare(shape)
    away = shapely.distance(shapely.points(points), shape.exterior)
    return np.asarray(np.where(shapely.contains_xy(shape, points[:, 0], points[:, 1]), away, -away))
