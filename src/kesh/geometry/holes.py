"""Where holes lie: on the inner floor, where they serve, or beside it, where somebody mistyped a place."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns, columns
from kesh.geometry.outline import Floats, outline_points
from kesh.geometry.profile import inset_at_mm
from kesh.model.pot import Hole, Outline, Pot

# rounding of a rim that just touches the wall
TOUCH_MM = 0.05


@dataclass(frozen=True, eq=False)
class Drilled:
    """What the holes of N pots take of the floor and what of it drains, mm2, which pots drain at all, and which have a hole
    beside the floor, all (N,)."""

    area_mm2: Floats
    drain_mm2: Floats
    drains: NDArray[np.bool_]
    beside: NDArray[np.bool_]


def drilled(pots: PotColumns) -> Drilled:
    """Holes through the floor of N pots. A hole beside the floor counts for nothing; a slab drains over its edge."""
    if pots.which is not None:
        return Drilled(pots.hole_area, pots.hole_area, pots.hole_area > 0, np.zeros(len(pots), bool))
    return _kept(pots)


@lru_cache(maxsize=64)
def _kept(pots: PotColumns) -> Drilled:
    insets = floor_insets_mm(pots)
    area, drain, beside = np.zeros(len(pots)), np.zeros(len(pots)), np.zeros(len(pots), bool)
    for i, pot in enumerate(pots.pots):
        for hole in pot.holes:
            if _lies_inside(pot, hole, float(insets[i])):
                size = hole.diameter_mm**2 * np.pi / 4
                area[i] += size
                drain[i] += size if hole.drains else 0.0
            else:
                beside[i] = True
    return Drilled(area, drain, (drain > 0) | pots.slab, beside)


def floor_insets_mm(pots: PotColumns) -> Floats:
    """From the rim outline inward to the wall's inside at the floor, mm, (N,); 0 for a slab."""
    inside = inset_at_mm(pots, np.zeros((len(pots), 1)))[:, 0] + pots.wall
    return np.where(pots.slab, 0.0, inside)


def floor_ring(pot: Pot) -> shapely.Polygon:
    """The inner floor from above. Raises FieldError where the walls leave none."""
    return _floor(pot.outline, pot.length_mm, pot.width_mm, float(floor_insets_mm(columns([pot]))[0]))


@lru_cache(maxsize=2048)
def _floor(outline: Outline, length_mm: float, width_mm: float, q: float) -> shapely.Polygon:
    ring = shapely.Polygon(outline_points(outline, length_mm, width_mm, q, 240))
    shapely.prepare(ring)
    return ring


def _lies_inside(pot: Pot, hole: Hole, q: float) -> bool:
    """A quick yes for the usual hole, inside the ellipse that lies in every outline of that kind; else to the point."""
    outline = pot.outline
    fill = {"lobed": 1 - 2 * outline.lobe_depth, "polygon": float(np.cos(np.pi / outline.sides)), "free": 0.0}.get(outline.kind, 1.0)  # fmt: skip
    if outline.kind == "oval" and outline.exponent < 2:
        fill = 0.7
    a, b, r = fill * pot.length_mm / 2 - q, fill * pot.width_mm / 2 - q, hole.diameter_mm / 2
    if a > 0 and b > 0 and ((abs(hole.x_mm) + r) / a) ** 2 + ((abs(hole.y_mm) + r) / b) ** 2 <= 1:
        return True
    try:
        floor = _floor(outline, pot.length_mm, pot.width_mm, q)
    except FieldError:
        return False
    return bool(floor.buffer(TOUCH_MM).contains(shapely.Point(hole.x_mm, hole.y_mm).buffer(r)))


def on_floor(pot: Pot, holes: tuple[Hole, ...]) -> tuple[Hole, ...]:
    """Those of some holes that go through the inner floor with their whole rim."""
    if not holes:
        return ()
    q = float(floor_insets_mm(columns([pot]))[0])
    return tuple(hole for hole in holes if _lies_inside(pot, hole, q))


def misplaced(pot: Pot) -> tuple[Hole, ...]:
    """Holes that do not lie on the floor: nothing is reckoned with them."""
    good = set(on_floor(pot, pot.holes))
    return tuple(hole for hole in pot.holes if hole not in good)


def draining(pot: Pot) -> tuple[Hole, ...]:
    """Drain holes through the floor."""
    return on_floor(pot, pot.drain_holes)


@lru_cache(maxsize=64)
def farthest_mm(pots: PotColumns) -> Floats:
    """From the farthest point of each inner floor to the nearest drain hole on it, mm (N,); infinite where none drains.

    Floors that are no rectangles are taken as the ellipse in their rim.
    """
    q = floor_insets_mm(pots)
    a, b = np.maximum(pots.length / 2 - q, 1.0), np.maximum(pots.width / 2 - q, 1.0)
    turn = np.linspace(0, 2 * np.pi, 24, endpoint=False)
    x, y = np.cos(turn), np.sin(turn)
    square = np.where(pots.box[:, None], 1 / np.maximum(np.abs(x), np.abs(y)), 1.0)
    # the corners themselves lie on the diagonals of the unit square
    edge = np.stack([a[:, None] * x * square, b[:, None] * y * square], axis=-1)
    found = np.full(len(pots), np.inf)
    for i, pot in enumerate(pots.pots):
        holes = np.array([(h.x_mm, h.y_mm) for h in pot.drain_holes])
        if len(holes):
            away = np.hypot(*np.moveaxis(edge[i][:, None, :] - holes[None], -1, 0))
            found[i] = float(away.min(axis=1).max())
    return found
