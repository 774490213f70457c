"""Pots as drawn: plain mm polygons, x right, y up from the bench, origin at the pot's middle."""

from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.columns import columns
from kesh.geometry.feet import foot_plans
from kesh.geometry.outline import Floats, outline_points
from kesh.geometry.relief import outer_inset_mm, relief_mm, relief_shares
from kesh.model.pot import Pot

LEVELS = 40


@dataclass(frozen=True)
class PotFigure:
    """Elevation ring, section ring(s) of cut clay, the inside, feet, and lines of lip and belt."""

    pot: Pot
    elevation: Floats
    inside: Floats
    clay: tuple[Floats, ...]
    feet: tuple[Floats, ...]
    half_width_u: tuple[Floats, Floats]
    rim_mm: float
    floor_mm: float

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, right, bottom, top, mm."""
        return float(self.elevation[:, 0].min()), float(self.elevation[:, 0].max()), 0.0, self.rim_mm


def wall_lines(pot: Pot, levels: int = LEVELS) -> tuple[Floats, Floats]:
    """(heights above the bench, outer half length) from the underside of the floor to the rim, bands included."""
    u = np.array(
        sorted({*np.linspace(0, 1, levels).tolist(), *columns([pot]).kinks[0].tolist(), *relief_shares(pot).tolist()})
    )
    return pot.feet_mm + u * pot.body_height_mm, pot.length_mm / 2 - outer_inset_mm(pot, u)


def _hole_gaps(pot: Pot, half_floor: float) -> list[tuple[float, float]]:
    """Where the cut through the middle meets drain holes, as (from, to) along x."""
    gaps = []
    for hole in pot.holes:
        radius = hole.diameter_mm / 2
        if abs(hole.y_mm) < radius:
            half = float(np.sqrt(radius**2 - hole.y_mm**2))
            low, high = max(hole.x_mm - half, -half_floor), min(hole.x_mm + half, half_floor)
            if high > low:
                gaps.append((low, high))
    return sorted(gaps)


def _feet(pot: Pot, base_half: float) -> tuple[Floats, ...]:
    if pot.feet_mm <= 0 or pot.feet_style == "none":
        return ()
    if pot.feet_style == "columns":
        return tuple(
            np.array([[x0, pot.feet_mm], [x0, 0.0], [x1, 0.0], [x1, pot.feet_mm]])
            for x0, x1 in sorted({(round(p.bounds[0], 2), round(p.bounds[2], 2)) for p in foot_plans(pot)})
        )
    wide = 0.34 * base_half
    found = []
    for side in (-1, 1):
        outer, inner = side * base_half * 0.97, side * (base_half * 0.97 - wide)
        h = pot.feet_mm
        if pot.feet_style == "cloud":
            # flat on the bench, then an ogee up to the body
            t = np.linspace(0, 1, 16)
            reach = 0.46 * wide * (1 - t) ** 1.4 * (1 - 0.25 * np.sin(2 * np.pi * t))
            curve = np.column_stack([inner + side * reach, h * t])
            ring = np.vstack([[outer, h], [outer, 0.0], curve])
        elif pot.feet_style == "ring":
            ring = np.array([[outer, h], [outer * 0.985, 0.0], [inner + side * 0.12 * wide, 0.0], [inner, h]])
        else:
            ring = np.array([[outer, h], [outer, 0.0], [inner + side * 0.18 * wide, 0.0], [inner, h]])
        found.append(ring)
    return tuple(found)


def pot_figure(pot: Pot) -> PotFigure:
    """The drawn pot. Raises FieldError for a shape that cannot be."""
    y, half = wall_lines(pot)
    elevation = np.vstack([np.column_stack([half, y]), np.column_stack([-half[::-1], y[::-1]])])
    feet = _feet(pot, float(half[0]))
    rim, floor = pot.height_mm, pot.feet_mm + pot.floor_mm
    if pot.profile.kind == "slab":
        return PotFigure(pot, elevation, np.zeros((0, 2)), (elevation,), feet, (y, half), rim, rim)
    up = y >= floor - 1e-9
    y_in = np.concatenate([[floor], y[up]])
    # the inside follows the wall and knows nothing of its bands
    wall = half - relief_mm(pot, y - pot.feet_mm)
    half_in = np.concatenate([[float(np.interp(floor, y, wall))], wall[up]]) - pot.wall_mm
    inside = np.vstack([np.column_stack([half_in, y_in]), np.column_stack([-half_in[::-1], y_in[::-1]])])
    # the cut clay in pieces: floor between the holes, and with the walls at both ends
    gaps = _hole_gaps(pot, float(half_in[0]) - 0.5)
    edges = [-float(half_in[0])] + [x for gap in gaps for x in gap] + [float(half_in[0])]
    under = pot.feet_mm
    clay = []
    for k in range(0, len(edges), 2):
        left, right = edges[k], edges[k + 1]
        if k == 0:
            piece = [*np.column_stack([-half, y]).tolist(), *np.column_stack([-half_in[::-1], y_in[::-1]]).tolist()]
        else:
            piece = [[left, under], [left, floor]]
        if k + 2 >= len(edges):
            piece += [*np.column_stack([half_in, y_in]).tolist(), *np.column_stack([half[::-1], y[::-1]]).tolist()]
        else:
            piece += [[right, floor], [right, under]]
        clay.append(np.array(piece))
    return PotFigure(pot, elevation, inside, tuple(clay), feet, (y, half), rim, floor)


def plan_rings(pot: Pot) -> tuple[Floats, Floats]:
    """(outer rim, inner rim) from above; a slab, and a pot whose walls meet, has no inner rim of its own."""
    outer = outline_points(pot.outline, pot.length_mm, pot.width_mm)
    if pot.profile.kind == "slab":
        return outer, outer
    try:
        return outer, outline_points(pot.outline, pot.length_mm, pot.width_mm, pot.wall_mm)
    except FieldError:
        return outer, outer
