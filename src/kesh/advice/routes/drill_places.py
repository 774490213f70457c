"""Where holes may be drilled into a floor that is there: clear of wall, feet and holes, as near the rule's places as can be."""

from collections.abc import Sequence

import numpy as np
import shapely
from shapely.ops import nearest_points

from kesh.geometry.columns import columns
from kesh.geometry.feet import BETWEEN_MM, FOOT_ROOM_MM, apart_mm, foot_plans
from kesh.geometry.holes import floor_ring, on_floor
from kesh.model import Hole, Pot
from kesh.science.stand.hardware import plan_holes

# distance from a hole's rim to the wall inside, by wall thicknesses, and at least; brittle bodies want more [J]
EDGE_WALLS = {"porcelain": 2.0, "earthenware": 2.0, "terracotta": 2.0, "raku": 2.5, "stone_": 2.5, "concrete": 2.0}
LEAST_EDGE_MM = 12.0
# holes give way in size before they are given up, down to what still drains
SMALLER, LEAST_DRAIN_MM, MOST_DRAIN_MM, MOST_NEW = (1.0, 0.75, 0.55), 8.0, 24.0, 12
TIE_APART_MM, GRID_MM, HAIR_MM, ENOUGH_SHARE = 12.0, 4.0, 0.1, 0.8


def edge_needed_mm(pot: Pot, hole: Hole) -> float:
    """How far the rim of a hole stays from the wall inside."""
    walls = next((v for k, v in EDGE_WALLS.items() if pot.material.startswith(k)), 1.5)
    return (
        max(LEAST_EDGE_MM, 0.75 * hole.diameter_mm, walls * pot.wall_mm)
        if hole.drains
        else max(8.0, walls * pot.wall_mm)
    )


def edge_mm(pot: Pot, hole: Hole) -> float:
    """How far the rim of a hole is from the wall inside; negative when it runs into it."""
    floor, centre = floor_ring(pot), shapely.Point(hole.x_mm, hole.y_mm)
    away, radius = float(floor.exterior.distance(centre)), hole.diameter_mm / 2
    return (away if floor.contains(centre) else -away) - radius


def free_for(pot: Pot, hole: Hole, kept: Sequence[Hole]) -> shapely.Geometry:
    """Where the middle of such a hole may lie: clear of the wall, of feet, and of the holes that are there."""
    r = hole.diameter_mm / 2
    room = floor_ring(pot).buffer(-(edge_needed_mm(pot, hole) + r + HAIR_MM))
    taken = [foot.buffer(FOOT_ROOM_MM + r + HAIR_MM) for foot in foot_plans(pot)]
    apart = BETWEEN_MM if hole.drains else TIE_APART_MM
    taken += [shapely.Point(o.x_mm, o.y_mm).buffer(o.diameter_mm / 2 + r + apart + HAIR_MM) for o in kept]
    return room.difference(shapely.union_all(taken)) if taken else room


def _moved(hole: Hole, room: shapely.Geometry) -> Hole | None:
    """The hole at the nearest free place; None when no place is free."""
    if room.is_empty:
        return None
    spot = shapely.Point(hole.x_mm, hole.y_mm)
    near = spot if room.contains(spot) else nearest_points(room, spot)[0]
    return hole.changed(x_mm=round(near.x, 1), y_mm=round(near.y, 1))


def _farthest(hole: Hole, room: shapely.Geometry, kept: Sequence[Hole]) -> Hole | None:
    """The hole at the free place that lies farthest from those that are there; the middlemost for the first."""
    if room.is_empty:
        return None
    x0, y0, x1, y1 = room.bounds
    grid = np.stack(np.meshgrid(np.arange(x0, x1 + 0.1, GRID_MM), np.arange(y0, y1 + 0.1, GRID_MM)), -1).reshape(-1, 2)
    points = shapely.points(grid)
    grid = grid[shapely.contains(room, points)]
    if not len(grid):
        middle = room.representative_point()
        return hole.changed(x_mm=round(middle.x, 1), y_mm=round(middle.y, 1))
    away = (
        np.min([np.hypot(grid[:, 0] - o.x_mm, grid[:, 1] - o.y_mm) for o in kept], axis=0)
        if kept
        else -np.hypot(grid[:, 0], grid[:, 1])
    )
    x, y = grid[int(np.argmax(np.round(away, 3)))]
    return hole.changed(x_mm=round(float(x), 1), y_mm=round(float(y), 1))


def wanted_holes(pot: Pot) -> tuple[Hole, ...]:
    """Holes of the rule that the pot does not have yet, each on the floor with its distance from wall, feet and other holes.

    Where the rule's place is not free the nearest free one serves, then those farthest from all holes, then smaller ones.
    None may fit at all.
    """
    plan = plan_holes(columns([pot]))
    # a hole entered beside the floor drains nothing; it is kept clear of all the same, for it may only be mistyped a little
    present = on_floor(pot, pot.holes)
    kept: list[Hole] = list(pot.holes)
    found: list[Hole] = []

    def put(hole: Hole | None) -> bool:
        if hole is not None:
            found.append(hole)
            kept.append(hole)
        return hole is not None

    size = plan.drains[0].diameter_mm if plan.drains else min(MOST_DRAIN_MM, 0.1 * min(pot.length_mm, pot.width_mm))
    by_rule = sum(h.diameter_mm**2 for h in plan.drains) or plan.wanted_area_mm2 * 4 / np.pi
    there = sum(h.diameter_mm**2 for h in present if h.drains)
    # 2 to 3 in a hundred of the floor are custom, the rule aims at 2.5: from 2 on nothing is missing
    short = 0.0 if there >= ENOUGH_SHARE * plan.wanted_area_mm2 * 4 / np.pi else by_rule - there
    for hole in plan.drains:
        # where a hole is already, there is no need of a second one beside it
        if short > 0.1 * size**2 and all(apart_mm(hole, o) >= BETWEEN_MM for o in pot.holes):
            short -= size**2 if put(_moved(hole, free_for(pot, hole, kept))) else 0.0
    for share in SMALLER:
        across = max(LEAST_DRAIN_MM, float(np.ceil(share * size)))
        hole = Hole(diameter_mm=across)
        while (
            short > 0.1 * across**2 and len(found) < MOST_NEW and put(_farthest(hole, free_for(pot, hole, kept), kept))
        ):
            short -= across**2
    # wires are tied into a pot that drains; into none other
    if sum(not h.drains for h in present) < 2 and any(h.drains for h in (*present, *found)):
        for hole in plan.wires:
            put(_moved(hole, free_for(pot, hole, kept)))
    return tuple(found)
