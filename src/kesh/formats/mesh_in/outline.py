"""Which outline a measured rim is: the plainest kind that agrees with it, else its own points."""

from collections.abc import Callable, Iterator
from functools import partial
from typing import Literal

import numpy as np
import shapely
from shapely import affinity

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats, outline_points
from kesh.model import Outline

# an outline agrees when what is in one and not in the other is less than this share of the rim
AGREES, EACH_KIND_COSTS = 0.006, 0.0006
ROUND_SHARE = 0.01
MOST_SIDES, MOST_LOBES, MOST_POINTS = 12, 12, 400
FINE_SHARE = 0.0008
OWN_ROUNDS = 4
# the best size of a kind is looked for in so many rounds, each at so many places round the best of the last
ROUNDS, PLACES = 4, 11
# a kind that is so far from the rim at the best of its first places comes no nearer than half a step allows
FAR = 0.06
TURNS = np.linspace(0, 2 * np.pi, 720, endpoint=False)


def outline_of(rim: shapely.Polygon, length: float, width: float) -> tuple[Outline, float]:
    """(outline, share of the rim by which it differs) for a rim seen from above, standing round its own middle."""
    best: tuple[float, Outline, float] | None = None
    for cost, made in _kinds(rim, length, width):
        off = _differs(made, rim, length, width)
        if off < AGREES and (best is None or off + cost < best[0]):
            best = off + cost, made, off
    if best is not None:
        return best[1], best[2]
    made = free(rim, length)
    return made, _differs(made, rim, length, width)


def free(rim: shapely.Polygon, length: float) -> Outline:
    """The rim's own points, as few as tell it."""
    step = FINE_SHARE * length
    points = np.asarray(rim.simplify(step).exterior.coords)[:-1]
    while len(points) > MOST_POINTS:
        step *= 1.4
        points = np.asarray(rim.simplify(step).exterior.coords)[:-1]
    return Outline(kind="free", points_mm=tuple((round(float(x), 2), round(float(y), 2)) for x, y in points))


def _ring(made: Outline, length: float, width: float) -> shapely.Polygon | None:
    """An outline at its size, its box brought round the middle as the rim's is."""
    try:
        long, wide, (x, y) = own_size(made, length, width)
        ring = shapely.Polygon(outline_points(made, long, wide, 0.0, 240))
    except FieldError:
        return None
    return affinity.translate(ring, -x, -y)


def own_size(made: Outline, length: float, width: float) -> tuple[float, float, tuple[float, float]]:
    """(length, width, middle of the box) that an outline goes by for its box to be so long and wide.

    Raises FieldError for an outline that cannot be so small.
    """
    if made.kind == "free" or (made.kind != "lobed" and not (made.kind == "polygon" and made.corner_mm > 0)):
        return length, width, (0.0, 0.0)
    long, wide = length, width
    for _ in range(OWN_ROUNDS):
        ring = outline_points(made, long, wide, 0.0, 720)
        (x0, y0), (x1, y1) = ring.min(axis=0), ring.max(axis=0)
        long, wide = long * length / float(x1 - x0), wide * width / float(y1 - y0)
    return long, wide, (float(x0 + x1) / 2, float(y0 + y1) / 2)


def _differs(made: Outline, rim: shapely.Polygon, length: float, width: float) -> float:
    ring = _ring(made, length, width)
    if ring is None or not ring.is_valid:
        return np.inf
    return float(ring.symmetric_difference(rim).area / rim.area)


class _Near:
    """How far an outline is from a rim, by their radii: quick, and near enough to look for the best size of a kind.

    A rim that is not seen whole from its middle has no radii; it is compared by its area.
    """

    def __init__(self, rim: shapely.Polygon, length: float, width: float) -> None:
        self._rim, self._size = rim, (length, width)
        self._radii = _radii(np.asarray(shapely.segmentize(rim, rim.length / len(TURNS)).exterior.coords)[:-1])

    def __call__(self, made: Outline) -> float:
        """The share of the rim that is in one of the two alone."""
        if self._radii is None:
            return _differs(made, self._rim, *self._size)
        try:
            long, wide, middle = own_size(made, *self._size)
            radii = _radii(outline_points(made, long, wide, 0.0, 240) - np.array(middle))
        except FieldError:
            return np.inf
        if radii is None:
            return _differs(made, self._rim, *self._size)
        return float(np.abs(radii**2 - self._radii**2).sum() / (self._radii**2).sum())


def _radii(points: Floats) -> Floats | None:
    """Distances from the middle at even angles; None where a ray would meet the ring more than once."""
    angles = np.unwrap(np.arctan2(points[:, 1], points[:, 0]))
    steps = np.diff(angles)
    if not ((steps > -1e-9).all() or (steps < 1e-9).all()):
        return None
    return np.interp(TURNS, angles, np.hypot(points[:, 0], points[:, 1]), period=2 * np.pi)


def _fitted(near: _Near, low: float, high: float, make: Callable[[float], Outline], far: float = FAR) -> Outline:
    """The outline of one kind whose own size agrees best with the rim."""
    best = low
    for _ in range(ROUNDS):
        values = np.linspace(low, high, PLACES)
        off = [near(make(float(v))) for v in values]
        best = float(values[int(np.argmin(off))])
        if min(off) > far:
            break
        step = (high - low) / (PLACES - 1)
        low, high = max(low, best - step), min(high, best + step)
    return make(best)


def _cornered(kind: Literal["rectangle", "polygon"], sides: int, radius: float) -> Outline:
    return Outline(kind=kind, sides=sides, corner_mm=round(radius, 1))


def _lobes(lobes: int, style: Literal["cusp", "smooth"], depth: float) -> Outline:
    return Outline(kind="lobed", lobes=lobes, lobe_style=style, lobe_depth=round(depth, 3))


def _full(exponent: float) -> Outline:
    return Outline(kind="oval", exponent=round(exponent, 2))


def _kinds(rim: shapely.Polygon, length: float, width: float) -> Iterator[tuple[float, Outline]]:
    """Kinds of outline, plain ones first, each with the size of its own that agrees best, and what it costs to be so."""
    if abs(length - width) < ROUND_SHARE * length:
        yield 0.0, Outline(kind="round")
    yield 0.0, Outline(kind="oval")
    near, most, one = _Near(rim, length, width), min(length, width) / 2, EACH_KIND_COSTS
    yield one, Outline(kind="rectangle")
    yield one, _fitted(near, 0.0, 0.999 * most, partial(_cornered, "rectangle", 6))
    for sides in range(3, MOST_SIDES + 1):
        if sides != 4:
            yield one, Outline(kind="polygon", sides=sides)
            yield 2 * one, _fitted(near, 0.0, 0.6 * most, partial(_cornered, "polygon", sides))
    yield 2 * one, _fitted(near, 1.0, 12.0, _full, far=np.inf)
    styles: tuple[Literal["cusp", "smooth"], ...] = ("cusp", "smooth")
    for lobes in range(2, MOST_LOBES + 1):
        for style in styles:
            yield 3 * one, _fitted(near, 0.0, 0.45, partial(_lobes, lobes, style))
