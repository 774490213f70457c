"""Masses, centre of gravity, tipping and wind, lifting (docs/methods.md, "tipping and wind"). Pots (N,) at once.

Sources: Mayhead 1973 (drag), Waters, Putz-Anderson, Garg and Fine 1993 (lifting).
"""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns, by_outline
from kesh.geometry.outline import Floats, outline_points, stretched_hulls
from kesh.geometry.profile import inset_mm
from kesh.geometry.volume import Body
from kesh.model.pot import Outline
from kesh.model.tree import HANGING, Measure, Tree
from kesh.science.water.drainage import Drained
from kesh.science.water.substrate import Blend

GREEN_WOOD_KG_L = 0.9
AIR_KG_M3 = 1.20
G = 9.81
FRICTION = 0.5


# what one person and two lift at widths up to this, and two at most; less the wider it is. Local rules stand above it [J]
ONE_PERSON_KG, TWO_PEOPLE_KG, TWO_AT_MOST_KG, LIFT_WIDTH_MM = 20.0, 45.0, 60.0, 500.0


@dataclass(frozen=True)
class TreeBody:
    """Mass and wind figures of the tree above the soil; assumed names what was not measured."""

    mass_kg: float
    cog_x_mm: float
    # one for all pots, or (N,) where something stands with the tree at a height that hangs on the pot
    cog_height_mm: Floats | float
    canopy_area_m2: float
    canopy_height_mm: float
    drag: float
    assumed: tuple[str, ...]


def green_mass_kg(height_mm: float, trunk_mm: float) -> float:
    """Mass of an unweighed tree: a trunk of green wood that tapers to a third, and half as much again for limbs and leaves [J]."""
    return float(1.5 * np.pi / 4 * trunk_mm**2 * height_mm * 0.40 / 1e6 * GREEN_WOOD_KG_L)


def tree_body(tree: Tree) -> TreeBody:
    """Mass, centre and wind area of a tree from its measures. Raises FieldError without height, trunk or spread.

    An unweighed tree is green wood: a trunk tapering to a third (paraboloid and cone between), and half as much again
    for limbs and leaves [J].
    """
    m = tree.measure
    height = m.height_mm
    trunk = m.trunk_diameter_mm or m.trunk_at_soil_mm or m.trunk_mid_mm
    if height is None or trunk is None or m.spread_mm is None:
        raise FieldError("measure", "height, trunk diameter and left and right reach are needed for mass and wind")
    assumed = []
    mass = m.mass_kg
    if mass is None:
        mass = green_mass_kg(height, trunk)
        assumed.append("mass_kg")
    hanging = tree.style in HANGING
    crown_base = m.crown_base_mm if m.crown_base_mm is not None else 0.3 * height
    drop = m.drop_mm or 0.0
    top, bottom = height, (-drop if hanging else min(crown_base, 0.9 * height))
    middle = (top + bottom) / 2
    opacity = m.canopy_opacity
    if opacity is None:
        opacity = 0.7
        assumed.append("canopy_opacity")
    area = np.pi / 4 * m.spread_mm * max(top - bottom, 1.0) / 1e6
    lean = ((m.canopy_right_mm or 0) - (m.canopy_left_mm or 0)) / 2
    return TreeBody(
        mass_kg=float(mass),
        cog_x_mm=float(0.5 * lean),
        cog_height_mm=float(0.42 * height if not hanging else 0.5 * middle),
        canopy_area_m2=float(area),
        canopy_height_mm=float(middle),
        drag=float(0.9 * (1 - (1 - opacity) ** 2)),
        assumed=tuple(assumed),
    )


def with_load(tree: TreeBody, mass_kg: float, height_mm: Floats | float, x_mm: float = 0.0) -> TreeBody:
    """The tree with a mass that stands or lies with it: its height over the trunk's foot (below it with a minus), its place beside it."""
    total = tree.mass_kg + mass_kg
    return replace(
        tree, mass_kg=total, cog_x_mm=(tree.mass_kg * tree.cog_x_mm + mass_kg * x_mm) / total,
        cog_height_mm=(tree.mass_kg * tree.cog_height_mm + mass_kg * height_mm) / total,
    )  # fmt: skip


@lru_cache(maxsize=4096)
def _hull_support(outline: Outline, length_mm: float, width_mm: float, base_mm: float, count: int) -> Floats:
    """Support function of the base's convex hull in `count` directions, mm."""
    theta = np.linspace(0, 2 * np.pi, count, endpoint=False)
    try:
        ring = outline_points(outline, length_mm, width_mm, base_mm, 360)
    except FieldError:
        # a foot that tapers away to nothing carries nothing
        return np.zeros(count)
    return np.asarray((ring @ np.stack([np.cos(theta), np.sin(theta)])).max(axis=0))


def base_support(pots: PotColumns, count: int) -> Floats:
    """How far the base of N pots reaches in `count` directions, counter-clockwise from the right, mm; (N, count).

    The base is the rim outline offset by the wall's inset at the foot; the support function of a parallel offset is
    the outline's own less the offset.
    """
    theta = np.linspace(0, 2 * np.pi, count, endpoint=False)[None, :]
    c, s = np.abs(np.cos(theta)), np.abs(np.sin(theta))
    base = inset_mm(pots, np.zeros((len(pots), 1)))
    a, b = pots.length[:, None] / 2, pots.width[:, None] / 2
    support = np.hypot(a * c, b * s) - base
    r = np.where(pots.corner > 0, np.maximum(pots.corner - base[:, 0], 0.0), 0.0)[:, None]
    support = np.where(pots.box[:, None], (a - base - r) * c + (b - base - r) * s + r, support)
    rows = np.flatnonzero(~pots.box & ~pots.ellipse)
    if pots.many:
        rays = np.stack([np.cos(theta[0]), np.sin(theta[0])])
        for outline, members in by_outline(pots, rows).items():
            rings = stretched_hulls(outline, pots.length[members], pots.width[members])
            support[members] = (rings @ rays).max(axis=1) - base[members]
        return np.asarray(support)
    for i in rows.tolist():
        pot = pots.pots[i]
        support[i] = _hull_support(pot.outline, pot.length_mm, pot.width_mm, float(base[i, 0]), count)
    return np.asarray(support)


def edge_distance_mm(pots: PotColumns, x_mm: Floats, y_mm: Floats) -> Floats:
    """Distance from projected centres of gravity to the nearest edge of the base, mm; negative: it falls over.

    x_mm, y_mm: (N,) or (N, S) for S states; returns the same shape.
    """
    flat = np.ndim(x_mm) == 1
    x, y = (v[:, None] if flat else v for v in (x_mm, y_mm))
    if not pots.many:
        found = _nearest(base_support(pots, 360), x, y)
    else:
        base = inset_mm(pots, np.zeros((len(pots), 1)))
        a, b = pots.length[:, None] / 2 - base, pots.width[:, None] / 2 - base
        found = np.minimum(a - np.abs(x), b - np.abs(y))
        other = ~pots.box
        found[other] = _nearest(_kept_support(pots, 36), x[other], y[other])
    return np.asarray(found[:, 0] if flat else found)


@lru_cache(maxsize=4)
def _kept_support(pots: PotColumns, count: int) -> Floats:
    """Support of the bases that are no rectangles, kept for shelves that were just asked about."""
    return base_support(pots.only(~pots.box), count)


def _nearest(support: Floats, x: Floats, y: Floats) -> Floats:
    """Least distance to the tangents of N bases, given their support (N, directions), for S states; (N, S)."""
    theta = np.linspace(0, 2 * np.pi, support.shape[1], endpoint=False)[None, :]
    c, s = np.cos(theta), np.sin(theta)
    return np.stack([(support - x[:, [j]] * c - y[:, [j]] * s).min(axis=1) for j in range(x.shape[1])], axis=1)


@dataclass(frozen=True)
class Standing:
    """Masses (kg), centre of gravity above the table (mm), angles (deg), wind (m/s), all (N,)."""

    mass_dry_kg: Floats
    mass_wet_kg: Floats
    cog_height_mm: Floats
    edge_mm: Floats
    tip_angle_deg: Floats
    tip_wind_m_s: Floats
    slide_wind_m_s: Floats
    one_person_kg: Floats
    two_person_kg: Floats
    two_person_most_kg: Floats


def standing(
    tree: TreeBody,
    pots: PotColumns,
    body: Body,
    soil: Drained,
    mix: Blend,
    soil_depth_mm: Floats,
    *,
    offset_x_mm: Floats | float = 0.0,
    offset_y_mm: Floats | float = 0.0,
    raise_mm: float = 0.0,
) -> Standing:
    """Stand N planted pots on a table and push them."""
    usable = soil.available_l
    soil_dry = soil.soil_l * mix.dry_density_kg_l + np.maximum(soil.held_l - usable, 0.0)
    soil_wet = soil.soil_l * mix.dry_density_kg_l + soil.held_l + soil.layer_held_l
    pot_top = pots.body_height + pots.feet
    soil_middle = pots.feet + pots.floor + soil_depth_mm / 2
    trunk_foot = pot_top + raise_mm
    dry = body.mass_kg + soil_dry + tree.mass_kg
    wet = body.mass_kg + soil_wet + tree.mass_kg
    if np.any(wet <= 0):
        raise FieldError("mass_kg", "the planted pot weighs nothing; check volumes and density")
    heights = body.mass_kg * (pots.feet + 0.45 * pots.body_height) + tree.mass_kg * (trunk_foot + tree.cog_height_mm)

    def centre(soil_kg: Floats, total: Floats) -> tuple[Floats, Floats, Floats]:
        x = tree.mass_kg * (offset_x_mm + tree.cog_x_mm) / total
        y = tree.mass_kg * offset_y_mm / total
        return x, y, (heights + soil_kg * soil_middle) / total

    x_dry, y_dry, h_dry = centre(soil_dry, dry)
    x_wet, y_wet, h_wet = centre(soil_wet, wet)
    edges = edge_distance_mm(pots, np.stack([x_dry, x_wet], axis=1), np.stack([y_dry, y_wet], axis=1))
    edge_dry, edge_wet = edges[:, 0], edges[:, 1]
    pot_area = body.elevation_area_mm2 / 1e6
    canopy_at = np.maximum((trunk_foot + tree.canopy_height_mm) / 1000, 0.01)
    push = tree.canopy_area_m2 * tree.drag + pot_area
    moment = tree.canopy_area_m2 * tree.drag * canopy_at + pot_area * (pots.feet + pots.body_height / 2) / 1000
    hold = np.maximum(edge_dry, 0.0) / 1000
    wide = np.minimum(1.0, LIFT_WIDTH_MM / np.maximum(pots.width, 1.0))
    return Standing(
        mass_dry_kg=dry,
        mass_wet_kg=wet,
        cog_height_mm=h_wet,
        edge_mm=edge_dry,
        tip_angle_deg=np.degrees(np.arctan2(np.minimum(edge_dry, edge_wet), np.maximum(h_dry, h_wet))),
        tip_wind_m_s=np.sqrt(2 * dry * G * hold / (AIR_KG_M3 * moment)),
        slide_wind_m_s=np.sqrt(2 * dry * G * FRICTION / (AIR_KG_M3 * push)),
        one_person_kg=ONE_PERSON_KG * wide,
        two_person_kg=TWO_PEOPLE_KG * wide,
        two_person_most_kg=TWO_AT_MOST_KG * wide,
    )


def crown_area_m2(measure: Measure) -> float | None:
    """Plan area of the crown as an ellipse; front and back default to the side reaches; None without a spread."""
    if measure.spread_mm is None:
        return None
    deep = measure.canopy_depth_mm if measure.canopy_depth_mm is not None else measure.spread_mm
    return float(np.pi / 4 * measure.spread_mm * deep / 1e6)
