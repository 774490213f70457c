"""Where a pot is cut so that each piece fits the bed: no hole and no band is cut, feet only where nothing else serves."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.geometry.feet import base_ring, foot_plans
from kesh.geometry.holes import floor_ring
from kesh.geometry.outline import Floats, outline_points
from kesh.geometry.relief import band_spans, over_bands_mm
from kesh.model.pot import Pot

MARGIN_MM = 4.0
MOST_PIECES = 48
# what a joint keeps between itself and walls, holes, feet, bands and other joints, by walls
LAND_WALLS = 1.5
STEP_MM, NUDGE_MM = 1.0, 0.013
# a piece narrower than this over such a length is a lath; an edge counts as along the cut below this sine
LATH_MM, LATH_LONG_MM, LATH_TURN = 24.0, 30.0, 0.3
# a cut through a foot or along a wall is as bad as one so many times the slack away from the even place
FOOT_COST, ALONG_COST = 3.0, 6.0

Three = tuple[float, float, float]


@dataclass(frozen=True)
class Grid:
    """Places of the cuts along x, y and z, mm, in the pot's frame."""

    planes: tuple[tuple[float, ...], tuple[float, ...], tuple[float, ...]]

    def edges(self, low: Floats, high: Floats) -> tuple[tuple[float, ...], ...]:
        """From one end over the cuts to the other, a little beyond the solid, along each axis."""
        return tuple((float(low[a]) - 1.0, *self.planes[a], float(high[a]) + 1.0) for a in range(3))


def land_mm(pot: Pot) -> float:
    """What stays between a joint and everything it must keep clear of."""
    return LAND_WALLS * pot.wall_mm


def counts(size_mm: Three, bed_mm: Three) -> tuple[int, int, int]:
    """How many pieces along each axis so that each fits the bed with a margin. Raises FieldError for a bed of nothing."""
    return rooms(size_mm, bed_mm)[0]


def rooms(size_mm: Three, bed_mm: Three) -> tuple[tuple[int, int, int], Three]:
    """(pieces along each axis, the most a piece may measure along each): a piece may lie turned on the bed."""
    room = np.array(bed_mm) - 2 * MARGIN_MM
    if not np.isfinite(room).all() or (room <= 5).any():
        raise FieldError("bed", f"a bed of {' × '.join(f'{b:g}' for b in bed_mm)} mm leaves no room to print on")
    nx, ny, nz = (int(n) for n in np.ceil(np.array(size_mm) / room - 1e-9))
    most = (float(room[0]), float(room[1]), float(room[2]))
    if room[0] != room[1]:
        turned = [int(np.ceil(size_mm[i] / room[1 - i] - 1e-9)) for i in (0, 1)]
        if turned[0] * turned[1] < nx * ny:
            nx, ny = turned
            most = (most[1], most[0], most[2])
    if nx * ny * nz > MOST_PIECES:
        raise FieldError("bed", f"that would be {nx * ny * nz} pieces; take a larger bed or a smaller pot")
    return (nx, ny, nz), most


def grid(pot: Pot, low: Floats, high: Floats, count: tuple[int, int, int], most: Three) -> Grid | None:
    """The cuts for so many pieces; None when every place for one of them would cut a hole or a band."""
    planes = []
    for axis in range(3):
        found = _along(pot, axis, float(low[axis]), float(high[axis]), count[axis], most[axis])
        if found is None:
            return None
        planes.append(found)
    return Grid((planes[0], planes[1], planes[2]))


def nudged(cut: Grid, points: Floats) -> Grid:
    """The cuts a few hundredths aside, so that none runs through a corner of the solid (n, 3): such a cut leaves splinters."""
    return Grid(tuple(tuple(_beside(p, points[:, axis]) for p in cut.planes[axis]) for axis in range(3)))  # type: ignore[arg-type]


def _beside(at: float, taken: Floats) -> float:
    for step in range(400):
        place = at + NUDGE_MM * (step // 2 + 1) * (1 if step % 2 == 0 else -1)
        if np.abs(taken - place).min() > NUDGE_MM / 2:
            return float(place)
    return at


def _along(pot: Pot, axis: int, low: float, high: float, count: int, most: float) -> tuple[float, ...] | None:
    even = (high - low) / count
    # every cut may wander by half of what a piece could be longer, so that no piece grows beyond the bed
    slack = max((most - even) / 2, 0.0)
    found: list[float] = []
    for k in range(1, count):
        at = low + even * k
        places = at + np.arange(-slack, slack + 1e-9, STEP_MM) if slack > STEP_MM else np.array([at])
        places = np.append(places, at)
        cost = np.abs(places - at) / max(slack, STEP_MM) + _cost(pot, axis, places)
        best = int(np.argmin(cost))
        if not np.isfinite(cost[best]):
            return None
        found.append(round(float(places[best]), 3))
    return tuple(found)


def _cost(pot: Pot, axis: int, places: Floats) -> Floats:
    """What speaks against cutting at places: infinite through a hole or a band."""
    land = land_mm(pot)
    cost = np.zeros(len(places))
    if axis == 2:
        floor = pot.feet_mm + (pot.body_height_mm if pot.profile.kind == "slab" else pot.floor_mm)
        cost[(places < floor + land) | (places > pot.height_mm - land)] = np.inf
        for one, other, _ in band_spans(pot):
            cost[(places > pot.feet_mm + one - land) & (places < pot.feet_mm + other + land)] = np.inf
        return cost
    for hole in pot.holes:
        middle, reach = (hole.x_mm, hole.y_mm)[axis], hole.diameter_mm / 2 + land
        cost[np.abs(places - middle) < reach] = np.inf
    lines = _lines(axis, places)
    for foot in foot_plans(pot):
        cost[shapely.intersects(lines, foot.buffer(land))] += FOOT_COST
    cost[_beside_an_edge(pot, axis, places)] += ALONG_COST
    if pot.profile.kind != "slab":
        in_wall = shapely.length(shapely.intersection(lines, wall_plan(pot)))
        cost[in_wall > 6 * pot.wall_mm + 2 * over_bands_mm(pot)] += ALONG_COST
    return cost


def _beside_an_edge(pot: Pot, axis: int, places: Floats) -> NDArray[np.bool_]:
    """Where a stretch of the outline runs along the cut and so near it that a lath would come off."""
    ring = outline_points(pot.outline, pot.length_mm, pot.width_mm, 0.0, 240)
    step = np.roll(ring, -1, axis=0) - ring
    long = np.hypot(step[:, 0], step[:, 1])
    along = np.abs(step[:, axis]) < LATH_TURN * long
    near = np.abs((ring + step / 2)[None, along, axis] - places[:, None]) < LATH_MM
    return np.asarray((near * long[along]).sum(axis=1) > LATH_LONG_MM)


def _lines(axis: int, places: Floats) -> "np.ndarray":
    far = 1e4
    ends = [[(p, -far), (p, far)] if axis == 0 else [(-far, p), (far, p)] for p in places]
    return np.asarray(shapely.linestrings(ends))


def wall_plan(pot: Pot) -> shapely.Polygon:
    """All that the wall covers seen from above, from the outline of rim and foot to the inner floor."""
    rim = shapely.Polygon(outline_points(pot.outline, pot.length_mm, pot.width_mm, -over_bands_mm(pot), 240))
    return shapely.union_all([rim, shapely.Polygon(base_ring(pot))]).difference(floor_ring(pot))
