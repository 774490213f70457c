"""How fast a pot dries and how often it wants water (docs/methods.md, "days between waterings"). Pots (N,) at once."""

from dataclasses import dataclass

import numpy as np

from kesh.geometry.outline import Floats
from kesh.reference.tables import Species
from kesh.science.water.drainage import Drained
from kesh.science.water.substrate import Blend

LEAF_FACTOR_PER_LAI = 0.27
DEFAULT_LAI = 4.0
LONGEST_DAYS = 400.0
# less than this dries nothing
LEAST_MM_DAY = 1e-9


def leaf_share(species: Species, day: float, mean_c: float, latitude_deg: float) -> float:
    """Share of full leaf on a day: a trapezoid for trees that shed, warmth for evergreens."""
    if not species.sheds_leaves:
        return float(np.clip(mean_c / 10, 0.2, 1))
    local = (day + (182 if latitude_deg < 0 else 0)) % 365
    rise = np.clip((local - 90) / 40, 0, 1)
    fall = np.clip((325 - local) / 40, 0, 1)
    return float(max(0.05, min(rise, fall)))


def crown_coefficient(species: Species) -> float:
    """Water use of the crown by ET0 on its plan area: the species' own kc, or 0.27 x leaf area index."""
    if species.kc is not None:
        return species.kc
    return LEAF_FACTOR_PER_LAI * (species.leaf_area_index or DEFAULT_LAI)


def surface_store_mm(drained: Drained, mix: Blend, soil_depth_mm: Floats) -> Floats:
    """TEW: what the surface can lose of the upper 50 mm, mm (N,)."""
    held = np.divide(drained.held_l, drained.soil_l, out=np.zeros_like(drained.soil_l), where=drained.soil_l > 0)
    return np.maximum(6.0, (held - 0.5 * mix.dry_water) * np.minimum(50.0, soil_depth_mm))


@dataclass(frozen=True)
class WaterUse:
    """Litres a day at the peak and days between waterings, (N,)."""

    tree_l_day: float
    soil_mm_day: Floats
    demand_l_day: Floats
    days_between: Floats


def water_use(
    species: Species,
    crown_area_m2: float,
    et0_mm_day: float,
    leaf: float,
    drained: Drained,
    mix: Blend,
    soil_depth_mm: Floats,
    surface_m2: Floats,
    depletion: float,
    *,
    exposure: float = 1.0,
    mulch: float = 1.0,
) -> WaterUse:
    """Tree and soil surface at one ET0. surface_m2, soil_depth_mm: (N,); depletion: share of the store used first."""
    tree = et0_mm_day * crown_coefficient(species) * crown_area_m2 * exposure * leaf
    e0 = bare_mm_day(species, crown_area_m2, surface_m2, et0_mm_day * exposure * mulch)
    store = surface_store_mm(drained, mix, soil_depth_mm)
    days = days_to_use(depletion * drained.available_l, tree, e0, surface_m2, store)
    return WaterUse(tree, e0, tree + surface_m2 * e0, days)


def bare_mm_day(species: Species, crown_area_m2: float, surface_m2: Floats, et0_mm_day: Floats | float) -> Floats:
    """Evaporation of a wet bare surface under the crown, mm/day."""
    lai = species.leaf_area_index or DEFAULT_LAI
    cover = np.minimum(1.0, crown_area_m2 / np.maximum(surface_m2, 1e-9))
    return np.asarray(et0_mm_day * 1.05 * (1 - cover * (1 - np.exp(-0.5 * lai))))


def days_to_use(
    wanted_l: Floats, tree_l_day: Floats | float, e0_mm_day: Floats, surface_m2: Floats, store_mm: Floats
) -> Floats:
    """Days after a watering until tree and surface have used so much, infinite where they never do. Arrays broadcast together.

    The surface gives its first 5 mm, or half its store, as fast as the air takes them, the rest ever slower.
    """
    wanted_l, tree, e0, surface_m2, store = np.broadcast_arrays(wanted_l, tree_l_day, e0_mm_day, surface_m2, store_mm)
    ready = np.minimum(5.0, store / 2)
    late = store - ready

    def used(t: Floats) -> Floats:
        surface = np.where(t <= first, e0 * t, store - late * np.exp(-e0 * np.maximum(t - first, 0) / late))
        return np.asarray(tree * t + surface_m2 * surface)

    first = np.divide(ready, e0, out=np.full_like(ready, LONGEST_DAYS), where=e0 > LEAST_MM_DAY)
    never = used(np.full_like(wanted_l, LONGEST_DAYS, dtype=float)) < wanted_l
    early = wanted_l / np.maximum(tree + surface_m2 * e0, 1e-12)
    # after the first stage the use is concave in time, so Newton's steps from its start approach from below
    days = np.minimum(early, first)
    for _ in range(12):
        slope = tree + surface_m2 * e0 * np.exp(-e0 * np.maximum(days - first, 0) / late)
        days = np.minimum(days + (wanted_l - used(days)) / np.maximum(slope, 1e-12), LONGEST_DAYS)
    days = np.where(early <= first, early, days)
    return np.asarray(np.where(never, np.inf, days))
