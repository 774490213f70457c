"""What holds two pieces of a print: dovetailed tongues across a cut floor, half laps in a wall (docs/methods.md, "joints of a print").

Every joint is a prism that stands upright, so that pieces go together straight from above; a piece that is laid over
another one has nothing of the other above it. A tongue lies in the floor and keeps a land of one and a half walls from
walls, holes, feet, other cuts and other tongues. A wall is too thin for a peg with any land round it: there one half of
the wall laps over the other, on the inside, where it is not seen.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from kesh.base.errors import FieldError
from kesh.geometry.columns import columns
from kesh.geometry.feet import base_ring, foot_plans
from kesh.geometry.holes import floor_ring
from kesh.geometry.outline import Floats, outline_points
from kesh.geometry.pieces.cuts import Grid, Three, land_mm
from kesh.geometry.profile import inset_mm
from kesh.geometry.relief import band_spans
from kesh.model.pot import Pot

Cell = tuple[int, int, int]
# length, width of head and of neck of a tongue, mm; the largest that finds room serves
TONGUES = ((8.0, 15.0, 10.0), (6.0, 11.0, 7.5), (4.5, 8.0, 5.5))
APART_MM, MOST_TONGUES, MOST_LAPS, STEP_MM = 75.0, 3, 4, 1.5
# how tall and how wide a lap is, mm; small pots take the smaller one, whose gaps are less of them
LAPS = ((6.0, 12.0), (4.0, 8.0))
LEAST_LAP_MM, LAP_EVERY_MM = 2.5, 90.0
# half a wall less the gap is at least one printed line; over a lap a leaning wall may wander by this share of itself
LEAST_HALF_MM, WANDER_SHARE = 0.8, 0.25
# a joint takes hold so far behind its cut; it begins to widen a little before it; the floor is sound so far behind it
ROOT_MM, BEND_MM, SOUND_MM = 0.6, 0.3, 2.0
# a wall that runs along the cut rather than across it takes no lap
ACROSS = 0.7


@dataclass(frozen=True, eq=False)
class Joint:
    """One joint: what stands out of piece `of` into piece `into`, as a plan with its root behind the cut, and its heights."""

    kind: Literal["tongue", "lap"]
    of: Cell
    into: Cell
    plan: shapely.Polygon
    low_mm: float
    high_mm: float
    # the socket is wider than the plan by the gap, and reaches so far below and above
    below: bool
    above: bool

    @property
    def middle(self) -> tuple[float, float, float]:
        """Where it sits."""
        c = self.plan.centroid
        return float(c.x), float(c.y), (self.low_mm + self.high_mm) / 2


def joints(pot: Pot, cut: Grid, low: Floats, high: Floats, gap_mm: float, *, small: bool = False) -> tuple[Joint, ...]:
    """All joints of a pot that is cut so, by rule. A joint that finds no room is not there: the pieces are butted.

    With `small` there are fewer and smaller ones, for a pot of which the gaps would be too much.
    """
    edges = cut.edges(low, high)
    found = _tongues(pot, cut, edges, 1 if small else MOST_TONGUES, TONGUES[-1:] if small else TONGUES)
    if pot.profile.kind != "slab" and pot.wall_mm / 2 - gap_mm >= LEAST_HALF_MM:
        lap = LAPS[1 if small else 0]
        found += _rim_laps(pot, cut, edges, lap)
        found += _tier_laps(pot, cut, edges, lap, 1 if small else MOST_LAPS)
    return tuple(found)


# tongues in the floor ---------------------------------------------------------------------------------------------


def free_floor(pot: Pot) -> shapely.Polygon | shapely.MultiPolygon:
    """Where the floor is clear of walls, holes and feet by the land."""
    land = land_mm(pot)
    base = shapely.Polygon(base_ring(pot))
    if pot.profile.kind == "slab":
        whole = base.intersection(shapely.Polygon(outline_points(pot.outline, pot.length_mm, pot.width_mm, 0.0, 240)))
    else:
        whole = base.intersection(floor_ring(pot))
    room = whole.buffer(-land)
    taken = [shapely.Point(h.x_mm, h.y_mm).buffer(h.diameter_mm / 2 + land) for h in pot.holes]
    taken += [foot.buffer(land) for foot in foot_plans(pot)]
    return room.difference(shapely.union_all(taken)) if taken else room


def _tongue(axis: int, at: float, along: float, size: Three, side: int, root_mm: float = ROOT_MM) -> shapely.Polygon:
    """A dovetail across a plane, its head on the upper side (+1) or the lower, its root behind the plane as wide as its neck.

    No corner of it lies on the plane: faces that only nearly meet would leave splinters.
    """
    long, head, neck = size
    ring = [(-side * root_mm, -neck / 2), (side * BEND_MM, -neck / 2), (side * long, -head / 2),
            (side * long, head / 2), (side * BEND_MM, neck / 2), (-side * root_mm, neck / 2)]  # fmt: skip
    return shapely.Polygon([(at + a, along + b) if axis == 0 else (along + b, at + a) for a, b in ring])


def _tongues(
    pot: Pot, cut: Grid, edges: tuple[tuple[float, ...], ...], most: int, sizes: tuple[Three, ...]
) -> list[Joint]:
    room, land = free_floor(pot), land_mm(pot)
    low = pot.feet_mm
    top = pot.height_mm if pot.profile.kind == "slab" else low + pot.floor_mm
    found: list[Joint] = []
    for axis in (0, 1):
        other = 1 - axis
        # other cuts are kept clear of as well
        lines = [shapely.LineString([(p, -1e4), (p, 1e4)] if other == 0 else [(-1e4, p), (1e4, p)]).buffer(land)
                 for p in cut.planes[other]]  # fmt: skip
        clear = room.difference(shapely.union_all(lines)) if lines else room
        for i, at in enumerate(cut.planes[axis]):
            for j in range(len(edges[other]) - 1):
                under, over = ((i, j, 0), (i + 1, j, 0)) if axis == 0 else ((j, i, 0), (j, i + 1, 0))
                span = edges[other][j], edges[other][j + 1]
                for plan, side in _best(clear, axis, at, span, land, most, sizes):
                    a, b = (under, over) if side > 0 else (over, under)
                    found.append(Joint("tongue", a, b, plan, low, top, True, True))
    return found


def _best(
    clear: shapely.Geometry,
    axis: int,
    at: float,
    span: tuple[float, float],
    land: float,
    most: int,
    sizes: tuple[Three, ...],
) -> list[tuple[shapely.Polygon, int]]:
    """The tongues of one stretch of one cut: the largest size of which one finds room, as many as their spacing allows."""
    x0, y0, x1, y1 = clear.bounds if not clear.is_empty else (0.0, 0.0, 0.0, 0.0)
    low, high = max(span[0], (y0, x0)[axis]), min(span[1], (y1, x1)[axis])
    shapely.prepare(clear)
    for size in sizes:
        places = np.arange(low + size[1] / 2, high - size[1] / 2 + 1e-9, STEP_MM)
        for side in (1, -1):
            if not len(places):
                continue
            # behind its neck the floor must be sound as well
            sound = np.array([_tongue(axis, at, float(p), size, side, SOUND_MM) for p in places], dtype=object)
            fits = np.asarray(shapely.contains(clear, sound))
            if fits.any():
                good = places[fits]
                chosen = spread(good, size[1] + land, most)
                return [(_tongue(axis, at, p, size, side), side) for p in chosen]
    return []


def spread(places: Floats, apart: float, most: int) -> list[float]:
    """Some of the places, as far apart as they can be: as many as the span asks for, never nearer than `apart`."""
    low, high = float(places[0]), float(places[-1])
    wanted = min(most, max(1, int((high - low) / APART_MM) + 1))
    if wanted == 1:
        return [float(places[np.argmin(np.abs(places - (low + high) / 2))])]
    found: list[float] = []
    inset = (high - low) / (2 * wanted)
    for aim in np.linspace(low + inset, high - inset, wanted):
        place = float(places[np.argmin(np.abs(places - aim))])
        if all(abs(place - p) >= apart for p in found):
            found.append(place)
    return found


# laps in the wall -------------------------------------------------------------------------------------------------


def _wall_at(pot: Pot, z_mm: float) -> tuple[float, float]:
    """(how far the wall's middle stands inside the rim outline, how fast it moves outward with height) at a height."""
    cols = columns([pot])
    u = np.clip((z_mm - pot.feet_mm + np.array([-1.0, 0.0, 1.0])) / pot.body_height_mm, 0, 1)
    inset = inset_mm(cols, u[None, :])[0]
    run = float(u[2] - u[0]) * pot.body_height_mm
    return float(inset[1]) + pot.wall_mm / 2, float(inset[0] - inset[2]) / run if run else 0.0


def _tall(pot: Pot, z_mm: float, most: float) -> float:
    """How tall a lap may be so that a leaning wall does not wander out of it."""
    lean = abs(_wall_at(pot, z_mm)[1])
    return min(most, WANDER_SHARE * pot.wall_mm / lean) if lean > 1e-6 else most


def _middle_ring(pot: Pot, z_mm: float) -> shapely.Polygon | None:
    try:
        return shapely.Polygon(outline_points(pot.outline, pot.length_mm, pot.width_mm, _wall_at(pot, z_mm)[0], 360))
    except FieldError:
        return None


def _clear_of_bands(pot: Pot, low_mm: float, high_mm: float) -> bool:
    land = land_mm(pot)
    return all(pot.feet_mm + b < low_mm - land or pot.feet_mm + a > high_mm + land for a, b, _ in band_spans(pot))


def _inner_half(pot: Pot, middle: shapely.Polygon, box: shapely.Polygon) -> shapely.Polygon | None:
    """The part of a box on the inner side of the wall's middle, if it is one part and as large as a straight wall's."""
    found = box.intersection(middle)
    return found if found.geom_type == "Polygon" and found.area > 0.3 * box.area else None


def _rim_laps(pot: Pot, cut: Grid, edges: tuple[tuple[float, ...], ...], lap: tuple[float, float]) -> list[Joint]:
    """At the rim the second of two neighbours laps over the first, so that their walls stand in one line."""
    top, tier = pot.height_mm, len(edges[2]) - 2
    tall = _tall(pot, top - lap[0] / 2, lap[0])
    middle = _middle_ring(pot, top)
    floor = max(pot.feet_mm + pot.floor_mm, *(p + lap[0] for p in cut.planes[2]), 0.0) + land_mm(pot)
    if tall < LEAST_LAP_MM or middle is None or top - tall < floor or not _clear_of_bands(pot, top - tall, top):
        return []
    found: list[Joint] = []
    for axis in (0, 1):
        other = 1 - axis
        for i, at in enumerate(cut.planes[axis]):
            for along, outward in _crossings(middle, axis, at):
                j = int(np.searchsorted(edges[other], along)) - 1
                room = min((abs(along - p) for p in cut.planes[other]), default=np.inf)
                if room < 2 * land_mm(pot) + pot.wall_mm:
                    continue
                cells = ((i, j, tier), (i + 1, j, tier)) if axis == 0 else ((j, i, tier), (j, i + 1, tier))
                upper, lower = sorted(cells, key=sum_odd, reverse=True)
                # it reaches from the plane into the piece that was set down first
                side = -1.0 if lower[axis] == i else 1.0
                a0, a1 = sorted((at - side * ROOT_MM, at + side * 0.7 * lap[1]))
                b0, b1 = sorted((along + outward * pot.wall_mm, along - outward * 2 * pot.wall_mm))
                box = shapely.box(a0, b0, a1, b1) if axis == 0 else shapely.box(b0, a0, b1, a1)
                plan = _inner_half(pot, middle, box)
                if plan is not None:
                    found.append(Joint("lap", upper, lower, plan, top - tall, top, False, True))
    return found


def sum_odd(cell: Cell) -> bool:
    """Whether a piece goes in second: neighbours take turns as the fields of a chess board."""
    return sum(cell) % 2 == 1


def _crossings(ring: shapely.Polygon, axis: int, at: float) -> list[tuple[float, float]]:
    """Where a cut crosses the wall: (place along the cut, +1 or -1 for which way is outward); none where it runs along it."""
    points = np.asarray(ring.exterior.coords)
    a, b = points[:, axis] - at, points[:, 1 - axis]
    found = []
    for k in np.flatnonzero(a[:-1] * a[1:] < 0):
        edge = points[k + 1] - points[k]
        if abs(edge[axis]) < ACROSS * np.hypot(*edge):
            continue
        along = float(b[k] + (b[k + 1] - b[k]) * a[k] / (a[k] - a[k + 1]))
        spot = (at, along - 0.5) if axis == 0 else (along - 0.5, at)
        found.append((along, 1.0 if ring.contains(shapely.Point(*spot)) else -1.0))
    return found


def _tier_laps(
    pot: Pot, cut: Grid, edges: tuple[tuple[float, ...], ...], lap: tuple[float, float], most: int
) -> list[Joint]:
    """Across a level cut the lower piece's inner half rises into the upper one, a hand's breadth apart."""
    found: list[Joint] = []
    land = land_mm(pot)
    for k, at in enumerate(cut.planes[2]):
        tall = _tall(pot, at + lap[0] / 2, lap[0])
        middle = _middle_ring(pot, at)
        if tall < LEAST_LAP_MM or middle is None or not _clear_of_bands(pot, at, at + tall):
            continue
        for i in range(len(edges[0]) - 1):
            for j in range(len(edges[1]) - 1):
                window = shapely.box(edges[0][i], edges[1][j], edges[0][i + 1], edges[1][j + 1])
                for plan in _lap_plans(pot, middle, window.buffer(-land, join_style="mitre"), lap[1], most):
                    found.append(Joint("lap", (i, j, k), (i, j, k + 1), plan, at, at + tall, False, False))
    return found


def _lap_plans(
    pot: Pot, middle: shapely.Polygon, window: shapely.Polygon, wide_mm: float, most: int
) -> list[shapely.Polygon]:
    """Evenly along the wall's middle inside a window; a place in a corner gives way to the next straight one."""
    ring = middle.exterior
    places = np.arange(0, ring.length, 3.0)
    at = shapely.get_coordinates(shapely.line_interpolate_point(ring, places))
    ahead = shapely.get_coordinates(shapely.line_interpolate_point(ring, (places + 0.5) % ring.length))
    along = ahead - at
    along /= np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-12)[:, None]
    # the ring runs counter-clockwise: inward is to the left
    inward = np.column_stack([-along[:, 1], along[:, 0]])
    corners = np.array([(-0.5, -1), (0.5, -1), (0.5, 2), (-0.5, 2)], float) * [wide_mm, pot.wall_mm]
    boxes = shapely.polygons(at[:, None] + corners[:, :1] * along[:, None] + corners[:, 1:] * inward[:, None])
    straight = shapely.intersection(boxes, middle)
    whole = wide_mm * 2 * pot.wall_mm
    good = (
        shapely.contains(window, boxes)
        & (shapely.get_type_id(straight) == shapely.GeometryType.POLYGON)
        & (np.abs(shapely.area(straight) / whole - 1) < 0.12)
    )
    plans = [plan if ok else None for plan, ok in zip(straight, good, strict=True)]
    rows = np.array([k for k, plan in enumerate(plans) if plan is not None])
    if not len(rows):
        return []
    wanted = int(np.clip(round(3.0 * len(rows) / LAP_EVERY_MM), min(2, most), most))
    chosen: list[shapely.Polygon] = []
    for at in (np.arange(wanted) + 0.5) / wanted * len(rows):
        plan = plans[rows[min(int(at), len(rows) - 1)]]
        if plan is not None and all(plan.distance(c) >= land_mm(pot) for c in chosen):
            chosen.append(plan)
    return chosen
