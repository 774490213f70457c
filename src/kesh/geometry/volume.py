"""Section areas, volumes and masses of pots (docs/methods.md, "volume to any height"), for N pots at once."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns, by_outline, densities_kg_l
from kesh.geometry.feet import feet_volumes_mm3
from kesh.geometry.holes import drilled
from kesh.geometry.outline import Floats, offset_polygon, outline_points, ring_area_mm2, tabled_areas
from kesh.geometry.profile import inset_at_mm, inset_mm
from kesh.geometry.relief import band_areas_mm2, band_nodes

GAUSS: dict[int, tuple[Floats, Floats]] = {n: np.polynomial.legendre.leggauss(n) for n in (4, 8, 16)}


def area_at_offset_mm2(pots: PotColumns, q: Floats) -> Floats:
    """Area inside the rim outline offset by q (+ inward), mm2. q: (N, M); returns (N, M), 0 where nothing is left."""
    s0, s1, s2, k, r, low, high = (column[:, None] for column in pots.form.T)
    area = s0 - s1 * q + s2 * q**2 - k * np.maximum(r - q, 0) ** 2
    outside = (q >= high) | (q < low)
    if np.any(outside):
        area = np.where(q >= np.minimum(pots.length, pots.width)[:, None] / 2, 0.0, area)
        if pots.many:
            return _from_tables(pots, q, area, np.any(outside, axis=1))
        for i in np.flatnonzero(np.any(outside, axis=1)):
            pot = pots.pots[i]
            if pot.outline.kind == "rectangle":
                continue
            dense = outline_points(pot.outline, pot.length_mm, pot.width_mm, 0.0, 1440)
            scale = pots.form[i, 0] - k[i, 0] * r[i, 0] ** 2
            scale /= abs(ring_area_mm2(dense))
            for j in np.flatnonzero(outside[i]):
                try:
                    area[i, j] = abs(ring_area_mm2(offset_polygon(dense, float(q[i, j])))) * scale
                except FieldError:
                    area[i, j] = 0.0
    return np.asarray(np.maximum(area, 0.0))


def inner_area_mm2(pots: PotColumns, z: Floats) -> Floats:
    """Inner section area at heights z above the inner floor, mm2. z: (N, M)."""
    return area_at_offset_mm2(pots, inset_at_mm(pots, z) + pots.wall[:, None])


@dataclass(frozen=True)
class Slices:
    """Gauss nodes through the inside of N pots: heights, weights and inner areas, each (N, K)."""

    z_mm: Floats
    weight_mm: Floats
    area_mm2: Floats

    def volume_l(self) -> Floats:
        """The volume through which the slices run, litres, (N,)."""
        return np.asarray((self.weight_mm * self.area_mm2).sum(axis=1) / 1e6)


def _from_tables(pots: PotColumns, q: Floats, area: Floats, rows: NDArray[np.bool_]) -> Floats:
    """Areas of a long list's unusual outlines, one outline at a time."""
    for outline, members in by_outline(pots, np.flatnonzero(rows)).items():
        if outline.kind != "rectangle":
            area[members] = tabled_areas(outline, pots.length[members], pots.width[members], q[members])
    return np.asarray(np.maximum(area, 0.0))


def slices(pots: PotColumns, low_mm: Floats, high_mm: Floats, marks_mm: Floats | None = None, nodes: int = 4) -> Slices:
    """Slices from low to high (N,), split at every kink of the profile and at the given marks (N, M).

    Between kinks the area is a polynomial of degree four at most, so four Gauss nodes a piece give its integral exactly.
    """
    kinks = pots.kinks * pots.body_height[:, None] - pots.floor[:, None]
    parts = [low_mm[:, None], high_mm[:, None], kinks]
    if marks_mm is not None:
        parts.append(marks_mm)
    edges = np.sort(np.clip(np.concatenate(parts, axis=1), low_mm[:, None], high_mm[:, None]), axis=1)
    x, w = GAUSS[nodes]
    middle = (edges[:, 1:] + edges[:, :-1])[:, :, None] / 2
    half = (edges[:, 1:] - edges[:, :-1])[:, :, None] / 2
    z = (middle + half * x).reshape(len(pots), -1)
    weight = (half * w).reshape(len(pots), -1)
    return Slices(z, weight, inner_area_mm2(pots, z))


def inner_volume_l(pots: PotColumns, height_mm: Floats) -> Floats:
    """Inner volume from the floor to a height (N,), litres."""
    return slices(pots, np.zeros(len(pots)), np.clip(height_mm, 0, pots.inner_depth)).volume_l()


def outer_area_mm2(pots: PotColumns, u: Floats) -> Floats:
    """Outer section area at shares u of the body height, mm2. u: (N, M)."""
    return area_at_offset_mm2(pots, inset_mm(pots, u))


def body_volume_cm3(pots: PotColumns, inner_l: Floats) -> Floats:
    """Volume of the body, cm3: outer hull with its bands less inside and holes, with the feet as they are drawn."""
    ends = np.tile([0.0, 1.0], (len(pots), 1))
    edges = np.sort(np.concatenate([ends, pots.kinks], axis=1), axis=1)
    nodes, weights = GAUSS[4]
    middle, half = (edges[:, 1:] + edges[:, :-1])[:, :, None] / 2, (edges[:, 1:] - edges[:, :-1])[:, :, None] / 2
    u = (middle + half * nodes).reshape(len(pots), -1)
    w = (half * weights).reshape(len(pots), -1)
    hull = (outer_area_mm2(pots, u) * w).sum(axis=1) * pots.body_height
    feet = feet_volumes_mm3(pots)
    holes = drilled(pots).area_mm2 * np.where(pots.slab, pots.body_height, pots.floor)
    return np.asarray((hull + feet - holes + band_volume_mm3(pots)) / 1e3 - inner_l * 1e3)


def band_volume_mm3(pots: PotColumns) -> Floats:
    """Clay of the raised bands, mm3, (N,): what the outside gains by them, integrated over their height."""
    found = np.zeros(len(pots))
    if not pots.each(lambda p: bool(p.bands)).any():
        return found
    for i, pot in enumerate(pots.pots):
        for band in pot.bands:
            u, weight, out = band_nodes(pot, band)
            one = pots.only(np.arange(len(pots)) == i)
            inset = inset_mm(one, u[None, :])
            gain = area_at_offset_mm2(one, inset - out) - area_at_offset_mm2(one, inset)
            found[i] += float((gain[0] * weight).sum())
    return found


@dataclass(frozen=True)
class Body:
    """What a pot measures and weighs, all (N,). Measured volume and mass override the computed ones.

    `hole_area_cm2` is what drains: holes for wires do not count.
    """

    inner_volume_l: Floats
    computed_volume_l: Floats
    body_volume_cm3: Floats
    mass_kg: Floats
    computed_mass_kg: Floats
    hole_area_cm2: Floats
    floor_area_mm2: Floats
    base_area_mm2: Floats
    elevation_area_mm2: Floats

    @property
    def volume_factor(self) -> Floats:
        """Measured by computed volume; 1 where nothing was measured."""
        computed = np.where(self.computed_volume_l > 0, self.computed_volume_l, 1.0)
        return np.where(self.computed_volume_l > 0, self.inner_volume_l / computed, 1.0)


def body(pots: PotColumns) -> Body:
    """Volumes and masses of N pots; kept, so that another tree or another place of the trunk costs nothing.

    The solver's candidates are asked once and would fill the memory; they are not kept.
    """
    return _kept_body(pots) if pots.which is None else _body(pots)


@lru_cache(maxsize=64)
def _kept_body(pots: PotColumns) -> Body:
    return _body(pots)


def _body(pots: PotColumns) -> Body:
    computed = inner_volume_l(pots, pots.inner_depth)
    clay = body_volume_cm3(pots, computed)
    mass = clay / 1e3 * densities_kg_l(pots)
    measured_l = pots.each(lambda p: p.measured_volume_l or np.nan)
    measured_kg = pots.each(lambda p: p.measured_mass_kg or np.nan)
    zero = np.zeros((len(pots), 1))
    u = np.linspace(0, 1, 13)[None, :].repeat(len(pots), axis=0)
    widths = pots.length[:, None] - 2 * inset_mm(pots, u)
    return Body(
        inner_volume_l=np.where(np.isnan(measured_l), computed, measured_l),
        computed_volume_l=computed,
        body_volume_cm3=clay,
        mass_kg=np.where(np.isnan(measured_kg), mass, measured_kg),
        computed_mass_kg=mass,
        hole_area_cm2=drilled(pots).drain_mm2 / 100,
        floor_area_mm2=inner_area_mm2(pots, zero)[:, 0],
        base_area_mm2=outer_area_mm2(pots, zero)[:, 0],
        elevation_area_mm2=np.trapezoid(widths, u, axis=1) * pots.body_height
        + 0.6 * widths[:, 0] * pots.feet
        + 2 * band_areas_mm2(pots),
    )
