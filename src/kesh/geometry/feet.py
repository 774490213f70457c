"""Feet under a pot as plan polygons by height: corner blocks, cloud feet that draw in, a ring with openings."""

from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns, columns
from kesh.geometry.outline import Floats, outline_points
from kesh.geometry.profile import inset_mm
from kesh.model.pot import Hole, Outline, Pot

# feet stand a little inside the foot of the wall, and reach this share of the half width inward
INSIDE_SHARE, REACH_SHARE, CURVED_REACH = 0.03, 0.34, 0.22
RING_SHARE, OPENING_SHARE, MIDDLE_SHARE = 0.14, 0.22, 0.4
CLOUD_STEPS = 6
LONG_FROM = 1.15
# a hole's rim stays this far from a foot, two holes' rims this far from each other
FOOT_ROOM_MM, BETWEEN_MM = 2.0, 10.0
COLUMN_SHARE = 0.13


def base_ring(pot: Pot, offset_mm: float = 0.0) -> np.ndarray:
    """The outline of the floor's underside, (k, 2); offset + inward. The rim's where the wall leaves no floor."""
    cols = columns([pot])
    q = float(inset_mm(cols, np.zeros((1, 1)))[0, 0])
    try:
        return outline_points(pot.outline, pot.length_mm, pot.width_mm, q + offset_mm, 240)
    except FieldError:
        return outline_points(pot.outline, pot.length_mm, pot.width_mm, 0.0, 240)


def _corner_rad(length: Floats | float, width: Floats | float) -> Floats:
    """The way to a curved pot's corner, where its feet stand, by its rim; negative for a rounder one, whose feet stand evenly."""
    turn = np.arctan2(width, length)
    return np.asarray(np.where(np.asarray(length) / np.asarray(width) > LONG_FROM, turn, -1.0))


def foot_plans(pot: Pot) -> tuple[shapely.Polygon, ...]:
    """Each foot from above where it meets the floor; none without feet."""
    return _plans(*_key(pot))


def _key(pot: Pot) -> tuple[Outline, float, float, float, str, int | None]:
    """What the plans and slices of a pot's feet hang on; style "none" for a pot that stands flat."""
    if pot.feet_mm <= 0 or pot.feet_style == "none":
        return pot.outline, pot.length_mm, pot.width_mm, 0.0, "none", 0
    q = float(inset_mm(columns([pot]), np.zeros((1, 1)))[0, 0])
    return pot.outline, pot.length_mm, pot.width_mm, q, pot.feet_style, pot.foot_count


@lru_cache(maxsize=256)
def _plans(
    outline: Outline,
    length: float,
    width: float,
    q: float,
    style: str,
    feet: int | None,
    corner_rad: float | None = None,
) -> tuple[shapely.Polygon, ...]:
    """Kept by what they hang on: a drag of the height leaves them as they are. `corner_rad` is the way to the rim's corner where a floor stands in for the pot; negative where the rim is none too long."""
    if style == "none":
        return ()
    try:
        base = shapely.Polygon(outline_points(outline, length, width, q, 240))
    except FieldError:
        return ()
    x0, y0, x1, y1 = base.bounds
    half = min(x1 - x0, y1 - y0) / 2
    outer = base.buffer(-INSIDE_SHARE * half)
    if style == "ring":
        band = outer.difference(outer.buffer(-RING_SHARE * half))
        x0, y0, x1, y1 = outer.bounds
        gap = OPENING_SHARE * half
        cross = shapely.union_all(
            [shapely.box(x0 - 1, -gap / 2, x1 + 1, gap / 2), shapely.box(-gap / 2, y0 - 1, gap / 2, y1 + 1)]
        )
        return _parts(band.difference(cross))
    if style == "columns":
        return _columns(outer, outline, length, width, half, feet)
    reach = (REACH_SHARE if outline.kind == "rectangle" else CURVED_REACH) * half
    band = outer.difference(outer.buffer(-reach))
    if outline.kind == "rectangle":
        x0, y0, x1, y1 = outer.bounds
        wide, deep = max(0.32 * (x1 - x0) / 2, reach), max(0.36 * (y1 - y0) / 2, reach)
        return tuple(p for c in _boxes(x0, y0, x1, y1, wide, deep) for p in _parts(outer.intersection(c)))
    if corner_rad is None:
        corner_rad = float(_corner_rad(length, width))
    long = corner_rad > 0
    count = 4 if long else (feet or 3)
    if long:
        corner = np.degrees(corner_rad)
        turns = [corner, 180 - corner, 180 + corner, 360 - corner]
    else:
        turns = [90 + k * 360 / count for k in range(count)]
    spread = 0.30 if long else 0.62
    # an outline with a bay may have its edge near the middle: no foot stands there, where all would meet in a point
    near = MIDDLE_SHARE * half
    wedge = shapely.Polygon([(near, near * spread / 2), (4 * half, 4 * half * spread / 2), (4 * half, -4 * half * spread / 2),
                             (near, -near * spread / 2)])  # fmt: skip
    return tuple(p for turn in turns for p in _parts(band.intersection(affinity.rotate(wedge, turn, origin=(0, 0)))))


def _columns(
    outer: shapely.Polygon, outline: Outline, length: float, width: float, half: float, feet: int | None
) -> tuple[shapely.Polygon, ...]:
    """Round legs set in from the edge: at the corners of a rectangle, else on the diagonals or evenly round."""
    r = COLUMN_SHARE * half
    x0, y0, x1, y1 = outer.bounds
    room = 1.15 * r + (0.3 * outline.corner_mm if outline.kind == "rectangle" else 0.0)
    if outline.kind == "rectangle":
        spots = [(x, y) for x in (x0 + room, x1 - room) for y in (y0 + room, y1 - room)]
    else:
        long = length / width > 1.15
        turns = np.radians([45, 135, 225, 315] if long else [90 + k * 360 / (feet or 3) for k in range(feet or 3)])
        inner = outer.buffer(-1.3 * r)
        reach = [
            shapely.LineString([(0, 0), (3 * half * np.cos(a) * length / width, 3 * half * np.sin(a))]) for a in turns
        ]
        spots = [tuple(np.asarray(line.intersection(inner).bounds)[[0 if c < 0 else 2, 1 if s < 0 else 3]])
                 for line, c, s in zip(reach, np.cos(turns), np.sin(turns), strict=True)]  # fmt: skip
    return tuple(shapely.Point(*spot).buffer(r, quad_segs=12) for spot in spots)


def _boxes(x0: float, y0: float, x1: float, y1: float, wide: float, deep: float) -> list[shapely.Polygon]:
    return [
        shapely.box(x0, y0, x0 + wide, y0 + deep), shapely.box(x1 - wide, y0, x1, y0 + deep),
        shapely.box(x1 - wide, y1 - deep, x1, y1), shapely.box(x0, y1 - deep, x0 + wide, y1),
    ]  # fmt: skip


def _parts(shape: BaseGeometry) -> tuple[shapely.Polygon, ...]:
    found = getattr(shape, "geoms", [shape])
    return tuple(p for p in found if p.geom_type == "Polygon" and p.area > 4.0)


def over_foot(pot: Pot, hole: Hole) -> bool:
    """Whether a foot would shut a hole from below, wholly or in part."""
    ring = shapely.Point(hole.x_mm, hole.y_mm).buffer(hole.diameter_mm / 2 + FOOT_ROOM_MM)
    return any(plan.intersects(ring) for plan in foot_plans(pot))


def clear_of_feet(pot: Pot, hole: Hole) -> Hole:
    """The hole moved straight toward the middle until no foot shuts it; where it was when no place on the way is free."""
    if not over_foot(pot, hole):
        return hole
    for share in np.arange(0.98, 0.3, -0.02):
        moved = hole.changed(x_mm=round(hole.x_mm * share, 1), y_mm=round(hole.y_mm * share, 1))
        if not over_foot(pot, moved):
            return moved
    return hole


def apart_mm(one: Hole, other: Hole) -> float:
    """Clay between the rims of two holes; negative when they run into each other."""
    return float(np.hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm)) - (one.diameter_mm + other.diameter_mm) / 2


def off_feet(pot: Pot, holes: tuple[Hole, ...], fixed: tuple[Hole, ...] = ()) -> tuple[Hole, ...]:
    """Holes of which none lies over a foot where that can be had without two of them, or a fixed one, coming too near."""
    placed: list[Hole] = []
    for k, hole in enumerate(holes):
        moved = clear_of_feet(pot, hole)
        others = [*fixed, *placed, *holes[k + 1 :]]
        placed.append(moved if all(apart_mm(moved, o) >= BETWEEN_MM for o in others) else hole)
    return tuple(placed)


def foot_slices(pot: Pot) -> tuple[tuple[shapely.Polygon, float, float], ...]:
    """Every foot as prisms (plan, from, to) in mm above the bench; a cloud foot draws in toward the bench."""
    return tuple((plan, low * pot.feet_mm, high * pot.feet_mm) for plan, low, high in _slices(*_key(pot)))


Slices = tuple[tuple[shapely.Polygon, float, float], ...]


@lru_cache(maxsize=256)
def _slices(outline: Outline, length: float, width: float, q: float, style: str, feet: int | None) -> Slices:
    """Of feet of height 1, kept by what they hang on like the plans."""
    return _sliced(_plans(outline, length, width, q, style, feet), style)


def _sliced(plans: tuple[shapely.Polygon, ...], style: str) -> Slices:
    found: list[tuple[shapely.Polygon, float, float]] = []
    for plan in plans:
        if style != "cloud":
            found.append((plan, 0.0, 1.0))
            continue
        inward = 0.28 * 2 * plan.area / plan.length
        for k in range(CLOUD_STEPS):
            low, high = k / CLOUD_STEPS, (k + 1) / CLOUD_STEPS
            step = _parts(plan.buffer(-inward * (1 - high) ** 1.4, quad_segs=4))
            found += [(p, low, high) for p in step]
    return tuple(found)


def feet_volume_mm3(pot: Pot) -> float:
    """What the feet as drawn take, mm3."""
    return _unit_volume_mm3(*_key(pot)) * pot.feet_mm


@lru_cache(maxsize=1024)
def _unit_volume_mm3(outline: Outline, length: float, width: float, q: float, style: str, feet: int | None) -> float:
    return _volume_mm3(_slices(outline, length, width, q, style, feet))


def _volume_mm3(slices: Slices) -> float:
    return float(sum(p.area * (high - low) for p, low, high in slices))


def with_feet(pot: Pot) -> Pot:
    """The pot with the number of its feet and their mean area as drawn, for who counts and measures them."""
    plans = foot_plans(pot)
    if not plans:
        return pot.changed(foot_count=0, foot_area_mm2=0.0)
    return pot.changed(foot_count=len(plans), foot_area_mm2=round(feet_volume_mm3(pot) / pot.feet_mm / len(plans), 2))


# feet of a long list come from tables over the shape of the floor: within 3 % of a foot, which is 0.2 % of the clay
SHAPE_STEP, TURN_STEP = 0.05, 0.02


def feet_volumes_mm3(pots: PotColumns) -> Floats:
    """What the feet of N pots take, mm3, (N,): each as drawn, those of a long list by the shape and size of the floor."""
    if not pots.many:
        return np.array([feet_volume_mm3(pot) for pot in pots.pots])
    found = np.zeros(len(pots))
    base = inset_mm(pots, np.zeros((len(pots), 1)))[:, 0]
    long, wide = pots.length - 2 * base, pots.width - 2 * base
    turn = _corner_rad(pots.length, pots.width)
    turn = np.where(turn > 0, np.maximum(np.rint(turn / TURN_STEP), 1), -1).astype(int)
    wanted = (pots.feet > 0) & (long > 1) & (wide > 1)
    aspect = np.rint(np.log(np.where(wanted, wide / np.maximum(long, 1e-9), 1.0)) / SHAPE_STEP).astype(int)
    # the floor's own corners: an inset takes as much off their radius
    place = np.maximum(pots.corner - np.maximum(base, 0), 0) / np.maximum(np.minimum(long, wide), 1e-9) / SHAPE_STEP
    low = np.floor(place).astype(int)
    cornered = place > 0
    kinds, kind = _foot_kinds(pots, cornered)
    rows = np.flatnonzero(wanted)
    # as many questions to the tables as there are different feet, not as there are pots; one number each, which sorts fast
    keys = np.stack([kind, aspect, np.minimum(low, 4095), turn, cornered]).astype(np.int64)[:, rows]
    number = (((keys[0] * 1024 + keys[1] + 512) * 4096 + keys[2]) * 256 + keys[3] + 1) * 2 + keys[4]
    _, first, which = np.unique(number, return_index=True, return_inverse=True)
    shares = np.array([
        [_foot_share(*kinds[k], a, corner + more, t) if more == 0 or sharp else 0.0 for more in (0, 1)]
        for k, a, corner, t, sharp in keys[:, first].T.tolist()
    ]).reshape(-1, 2)  # fmt: skip
    near, far = shares[which.reshape(-1)].T
    share = near + (far - near) * (place - low)[rows]
    found[rows] = share * (long * wide * pots.feet)[rows]
    return found


FootKind = tuple[Outline, str, int | None]


def _foot_kinds(pots: PotColumns, cornered: NDArray[np.bool_]) -> tuple[list[FootKind], NDArray[np.intp]]:
    """The different outlines, styles and numbers of feet of N pots, and which of them each pot has, (N,)."""
    made: dict[FootKind, int] = {}

    def code(pot: Pot, plain: bool) -> int:
        outline = pot.outline.model_copy(update={"corner_mm": 0.0}) if plain and pot.outline.corner_mm else pot.outline
        return made.setdefault((outline, pot.feet_style, pot.foot_count), len(made))

    if pots.which is None:
        codes = np.array([code(p, bool(c)) for p, c in zip(pots.pots, cornered, strict=True)], np.intp)
    else:
        both = np.array([[code(p, plain) for p in pots.templates] for plain in (False, True)], np.intp)
        codes = both[cornered.astype(int), pots.which]
    return list(made), codes


@lru_cache(maxsize=4096)
def _foot_share(outline: Outline, style: str, feet: int | None, aspect: int, corner: int, turn: int) -> float:
    """Volume of the feet by length, width and height of the floor's box, for one shape of it."""
    length = 300.0
    width = length * float(np.exp(aspect * SHAPE_STEP))
    if outline.kind == "round":
        width = length
    shape = outline
    if outline.kind in ("rectangle", "polygon"):
        most = min(length, width) / 2 * (1.0 if outline.kind == "rectangle" else 0.8)
        shape = outline.model_copy(update={"corner_mm": min(corner * SHAPE_STEP * min(length, width), most)})
    plans = _plans(shape, length, width, 0.0, style, feet, turn * TURN_STEP if turn > 0 else -1.0)
    if shape.kind == "free":
        points = np.array(shape.points_mm)
        length, width = (float(v) for v in np.ptp(points, axis=0))
    return _volume_mm3(_sliced(plans, style)) / (length * width)
