"""Roots over a rock: how long each way is, what moss bridges, how the binding runs, what the rock weighs (docs/methods.md, "root over rock")."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import ceil, sqrt
from typing import Literal

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats, ring_area_mm2

# starting points of judgement; a rock is taken as an ellipsoid slice wherever it is cut
IN_SOIL_MM = 40.0
PIN_EVERY_MM, PIN_LEG_MM, PIN_WIRE_MM = 40.0, 40.0, 2.0
LOOP_ENDS_MM = 60.0
TIE_BELOW_TIMES = 3.0
SHOOT_MM = 125.0
MOSS_WIDE_MM, MOSS_LONG_MM = 50.0, 60.0
Points = Sequence[tuple[float, float]]


def way_mm(points_mm: Points) -> float:
    """Length of a way along the rock, mm: the polyline through its points. Raises FieldError for fewer than two."""
    if len(points_mm) < 2:
        raise FieldError("points_mm", "a way wants at least its two ends")
    p = np.array(points_mm, dtype=float)
    return float(np.hypot(*np.diff(p, axis=0).T).sum())


@dataclass(frozen=True)
class Reach:
    """Whether a root reaches the soil: its way, what is asked (40 mm of it in the soil), what is short, and the pins of the bridge."""

    way_mm: float
    asked_mm: float
    short_mm: float
    pins: int

    @property
    def covered(self) -> bool:
        """Long enough."""
        return self.short_mm <= 1e-9


def reach(points_mm: Points, length_mm: float) -> Reach:
    """A root of a length on its way. Raises FieldError for a length that is none."""
    if not length_mm > 0:
        raise FieldError("length_mm", "a root wants a length above 0")
    way = way_mm(points_mm)
    short = max(way + IN_SOIL_MM - length_mm, 0.0)
    return Reach(way, way + IN_SOIL_MM, short, ceil(short / PIN_EVERY_MM - 1e-9))


def pin_wire_mm() -> float:
    """Wire of one pin: two legs and a bend over 6 mm, taken as half a circle."""
    return 2 * PIN_LEG_MM + np.pi / 2 * 2 * PIN_WIRE_MM


def half_widths_mm(points_mm: Points, z_mm: Floats | float) -> tuple[Floats, Floats]:
    """(left, right) edge of a rock at heights over its foot, of any shape; nan below its foot and above its top."""
    p = np.array([*points_mm, points_mm[0]], dtype=float)
    (x0, z0), (x1, z1) = p[:-1].T, p[1:].T
    z = np.asarray(z_mm, dtype=float)[..., None]
    rise = np.where(np.abs(z1 - z0) > 1e-12, z1 - z0, np.nan)
    x = x0 + (x1 - x0) * (z - z0) / rise
    on = (z >= np.minimum(z0, z1)) & (z <= np.maximum(z0, z1)) & ~np.isnan(x)
    some = on.any(axis=-1)
    left, right = np.where(on, x, np.inf).min(axis=-1), np.where(on, x, -np.inf).max(axis=-1)
    return np.where(some, left, np.nan), np.where(some, right, np.nan)


def depth_at_mm(points_mm: Points, depth_mm: float, z_mm: Floats | float) -> Floats:
    """How deep a rock is at heights: its stated depth where it is widest, else less in proportion to its width."""
    return np.asarray(depth_mm * _width_mm(points_mm, z_mm) / max(_widest_mm(tuple(points_mm)), 1e-9))


@lru_cache(maxsize=4)
def _gauss(count: int) -> tuple[Floats, Floats]:
    nodes, weights = np.polynomial.legendre.leggauss(count)
    return nodes, weights


def ellipse_perimeter_mm(a_mm: Floats | float, b_mm: Floats | float) -> Floats:
    """Perimeter of ellipses of half axes a and b by Gauss-Legendre over a quarter: exact to a part in a million."""
    nodes, weights = _gauss(60)
    t = (nodes + 1) * np.pi / 4
    a, b = np.asarray(a_mm, dtype=float)[..., None], np.asarray(b_mm, dtype=float)[..., None]
    return np.asarray(np.pi * np.sum(weights * np.sqrt((a * np.sin(t)) ** 2 + (b * np.cos(t)) ** 2), axis=-1))


def girth_mm(points_mm: Points, depth_mm: float, z_mm: Floats | float) -> Floats:
    """Perimeter of the rock at heights, its cut taken as an ellipse of its width and depth there; nan above its top."""
    left, right = half_widths_mm(points_mm, z_mm)
    return np.where(
        np.isnan(left), np.nan, ellipse_perimeter_mm((right - left) / 2, depth_at_mm(points_mm, depth_mm, z_mm) / 2)
    )


def loop_mm(points_mm: Points, depth_mm: float, z_mm: float, turns: int) -> float:
    """Wire of a binding: turns x girth + 60 mm. Raises FieldError above or below the rock."""
    girth = float(girth_mm(points_mm, depth_mm, z_mm))
    if girth != girth:
        raise FieldError("z_mm", f"a binding at {z_mm:g} mm misses the rock")
    return turns * girth + LOOP_ENDS_MM


def volume_l(points_mm: Points, depth_mm: float) -> float:
    """Litres of a rock whose level cuts are ellipses: pi/4 of width x depth over its height, depth in proportion to width.

    Raises FieldError for an outline that encloses nothing.
    """
    ring = np.array(points_mm, dtype=float)
    if len(ring) < 3 or abs(ring_area_mm2(ring)) < 1.0:
        raise FieldError("points_mm", "the rock's outline encloses nothing")
    z = np.unique(ring[:, 1])
    nodes, weights = _gauss(8)
    low, high = z[:-1, None], z[1:, None]
    wide = _width_mm(points_mm, (low + high) / 2 + (high - low) / 2 * nodes)
    area = np.pi / 4 * wide * wide * depth_mm / _widest_mm(tuple(points_mm))
    return float(np.sum(weights * area * (high - low) / 2)) / 1e6


def _width_mm(points_mm: Points, z_mm: Floats | float) -> Floats:
    left, right = half_widths_mm(points_mm, z_mm)
    return np.where(np.isnan(left), 0.0, right - left)


@lru_cache(maxsize=64)
def _widest_mm(points_mm: tuple[tuple[float, float], ...]) -> float:
    # the width is linear between the outline's corners: it is widest at one of them, from within
    z = np.array([q[1] for q in points_mm])
    return float(_width_mm(points_mm, np.concatenate([z - 1e-6, z + 1e-6])).max())


def mass_kg(points_mm: Points, depth_mm: float, density_kg_l: float) -> float:
    """Volume x density."""
    return volume_l(points_mm, depth_mm) * density_kg_l


def wants_tie(rock_kg: float, tree_kg: float) -> bool:
    """A rock lighter than three times the tree is tied."""
    return rock_kg < TIE_BELOW_TIMES * tree_kg


@dataclass(frozen=True)
class RockStand:
    """How a rock with its tree tips: centre over the foot, half width of the foot, angle."""

    mass_kg: float
    centre_mm: float
    tip_deg: float


def rock_stand(
    points_mm: Points,
    depth_mm: float,
    density_kg_l: float,
    tree_kg: float,
    tree_centre_mm: float,
    sunk_mm: float,
    held: Literal["free", "wires", "pin"] = "free",
) -> RockStand:
    """The rock alone in its soil: it tips about the edge of its foot, with the tree on top; soil round a sunk foot is left out.

    Wires to the floor add a third of the sunk depth and a hand's breadth to the arm, a pin as much again.
    """
    volume = volume_l(points_mm, depth_mm)
    rock = volume * density_kg_l
    z = np.array([q[1] for q in points_mm], dtype=float)
    levels = np.linspace(float(z.min()), float(z.max()), 201)
    wide = _width_mm(points_mm, levels) ** 2
    centre = float((levels * wide).sum() / max(wide.sum(), 1e-9))
    foot = float(_width_mm(points_mm, float(z.min()) + max(sunk_mm, 1.0))) / 2
    arm = {"free": 0.0, "wires": 30.0 + sunk_mm / 3, "pin": 60.0 + sunk_mm / 3}[held]
    total = rock + tree_kg
    high = (rock * centre + tree_kg * (float(z.max()) + tree_centre_mm)) / total
    return RockStand(total, high, float(np.degrees(np.arctan2(foot + arm, max(high - sunk_mm, 1.0)))))


def moss_pieces(points_mm: Points, depth_mm: float, from_z_mm: float, to_z_mm: float) -> int:
    """Pieces of 50 x 60 mm that cover the rock between two heights: girth by the sloping height, a tenth for laps."""
    levels = np.linspace(from_z_mm, to_z_mm, 41)
    girth, width = girth_mm(points_mm, depth_mm, levels), _width_mm(points_mm, levels) / 2
    keep = ~np.isnan(girth)
    if keep.sum() < 2:
        return 0
    slant = np.hypot(np.diff(levels[keep]), np.diff(width[keep]))
    area = float(((girth[keep][1:] + girth[keep][:-1]) / 2 * slant).sum())
    return ceil(1.1 * area / (MOSS_WIDE_MM * MOSS_LONG_MM))


def room_to_wall_mm(points_mm: Points, depth_mm: float, x_mm: float, y_mm: float, z_mm: float, ring: Floats) -> float:
    """Least distance between the rock's cut at a height over its foot and the pot's inner ring (k, 2), mm; below 0 it does not go in."""
    import shapely

    left, right = (float(v) for v in half_widths_mm(points_mm, z_mm))
    if right != right:
        return float("nan")
    s = np.linspace(0, 2 * np.pi, 72, endpoint=False)
    a, b = (right - left) / 2, float(depth_at_mm(points_mm, depth_mm, z_mm)) / 2
    cut = shapely.Polygon(np.column_stack([x_mm + (left + right) / 2 + a * np.cos(s), y_mm + b * np.sin(s)]))
    inside = shapely.Polygon(ring)
    near = float(inside.exterior.distance(cut))
    if inside.contains(cut):
        return near
    out = cut.difference(inside)
    return -float(sqrt(out.area)) if not out.is_empty else 0.0
