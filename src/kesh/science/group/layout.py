"""The layout check of a group in a tray (docs/methods.md, "forest layout score").

Eight parts between 0 and 1 and their weighted product. It finds rows, grids, crowding and bad fit; it does not tell a composed
plan from a lucky one, so it is a check and no praise. All functions take plans of the shape (..., n): many at once.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations
from types import MappingProxyType
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.science.group.tray import RoughTray, Tray

PARTS = ("spacing", "collinear", "front", "main", "depth", "groups", "void", "fit")
# starting points of judgement, as all bands below
WEIGHTS: Mapping[str, float] = MappingProxyType(
    {"spacing": 0.18, "collinear": 0.14, "front": 0.16, "main": 0.12, "depth": 0.12, "groups": 0.08, "void": 0.08, "fit": 0.12}
)  # fmt: skip
LEAST = 0.05
FLAT = 0.05
SPACING_BAND = (0.0, 0.2, 0.6, 1.2)
GAPS_BAND = (0.0, 0.2, 0.8, 1.6)
VOID_BAND = (0.10, 0.25, 0.50, 0.75)
GRID_SHARE = 0.01
ROOT_DISC_LEAST_MM, ROOT_DISC_PER_TRUNK = 18.0, 1.5
# figures this near to each other are one: distances of mirrored plans differ in the last places
SAME = 1e-9


@dataclass(frozen=True, eq=False)
class Trunks:
    """The trunks of a group in their order: diameters and heights, mm, shape (n,); `fixed` ones keep their place."""

    ids: tuple[str, ...]
    diameter_mm: Floats
    height_mm: Floats
    fixed: NDArray[np.bool_]

    def __post_init__(self) -> None:
        """Raises FieldError for fewer than three trees, and for a thickness that is none."""
        if len(self.ids) < 3:
            raise FieldError("group", f"{len(self.ids)} placed; the layout check wants at least three trees")
        if not np.all(self.diameter_mm > 0):
            raise FieldError("diameter_mm", "every trunk of a group wants a thickness above 0")

    @property
    def disc_mm(self) -> Floats:
        """Radius of the root disc of each tree, mm."""
        return np.maximum(ROOT_DISC_LEAST_MM, ROOT_DISC_PER_TRUNK * self.diameter_mm)

    @property
    def main(self) -> int:
        """The main tree: the thickest, of two the taller, then the first."""
        height = np.nan_to_num(self.height_mm, nan=0.0)
        return int(np.lexsort((np.arange(len(self.ids)), -height, -self.diameter_mm))[0])


def trap(x: Floats, band: tuple[float, float, float, float]) -> Floats:
    """0 below a, rising to 1 at b, 1 to c, falling to 0 at d."""
    a, b, c, d = band
    return np.asarray(np.clip(np.minimum((x - a) / (b - a), (d - x) / (d - c)), 0.0, 1.0))


def _spread(values: Floats) -> Floats:
    """Population deviation over the mean along the last axis; 0 where the mean is 0."""
    mean = values.mean(axis=-1)
    return np.asarray(np.where(mean > SAME, values.std(axis=-1) / np.maximum(mean, SAME), 0.0))


@lru_cache(maxsize=64)
def _triples(n: int) -> tuple[NDArray[np.intp], NDArray[np.intp], NDArray[np.intp]]:
    rows = np.array(list(combinations(range(n), 3)), dtype=np.intp)
    return rows[:, 0], rows[:, 1], rows[:, 2]


@lru_cache(maxsize=64)
def _pairs(n: int) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    i, j = np.triu_indices(n, 1)
    return i, j


def flatness(x: Floats, y: Floats) -> Floats:
    """Height over longest side of every triple, shape (..., triples), in the order of `itertools.combinations`; 0 for three on one spot."""
    i, j, k = _triples(x.shape[-1])
    # the triples of a plan share their sides: each distance is reckoned once
    n = x.shape[-1]
    a, b = _pairs(n)
    side2 = (x[..., a] - x[..., b]) ** 2 + (y[..., a] - y[..., b]) ** 2
    row = np.zeros((n, n), dtype=np.intp)
    row[a, b] = row[b, a] = np.arange(len(a))
    longest2 = np.maximum(np.maximum(side2[..., row[i, j]], side2[..., row[i, k]]), side2[..., row[j, k]])
    twice = np.abs(
        (x[..., j] - x[..., i]) * (y[..., k] - y[..., i]) - (x[..., k] - x[..., i]) * (y[..., j] - y[..., i])
    )
    return np.asarray(np.where(longest2 > SAME, twice / np.maximum(longest2, SAME), 0.0))


def _rho(d: Floats, y: Floats) -> Floats:
    """Spearman's rank correlation of d (n,) and y (..., n) with mean ranks; 0 where either is constant."""

    def ranks(v: Floats) -> Floats:
        less = (v[..., None, :] < v[..., :, None] - SAME).sum(axis=-1)
        same = (np.abs(v[..., None, :] - v[..., :, None]) <= SAME).sum(axis=-1)
        return np.asarray(less + (same + 1) / 2)

    rd, ry = ranks(d), ranks(y)
    rd, ry = rd - rd.mean(axis=-1, keepdims=True), ry - ry.mean(axis=-1, keepdims=True)
    both = np.sqrt((rd**2).sum(axis=-1) * (ry**2).sum(axis=-1))
    return np.asarray(np.where(both > SAME, (rd * ry).sum(axis=-1) / np.maximum(both, SAME), 0.0))


def linked(distance: Floats, nearest: Floats) -> NDArray[np.bool_]:
    """Which trees belong together, shape (..., n, n): single linkage at 1.5 times the median nearest distance."""
    near = distance <= (1.5 * np.median(nearest, axis=-1))[..., None, None] + SAME
    reach = near.astype(np.float32)
    for _ in range(int(np.ceil(np.log2(max(distance.shape[-1], 2))))):
        reach = np.minimum(reach @ reach, 1.0)
    return np.asarray(reach > 0.5)


def _groups(distance: Floats, nearest: Floats) -> Floats:
    n = distance.shape[-1]
    reach = linked(distance, nearest)
    first = reach.argmax(axis=-1) == np.arange(n)
    count = first.sum(axis=-1)
    sizes = np.sort(np.where(first, reach.sum(axis=-1), 0), axis=-1)
    one = 0.5 if n >= 5 else 0.8
    s = np.where(count == 1, one, np.where(count <= 3, 1.0, 0.6))
    s = np.where((count >= 2) & (sizes[..., -1] == sizes[..., -2]), s * 0.6, s)
    return np.asarray(s * (0.85 if n % 2 == 0 and n <= 10 else 1.0))


@dataclass(frozen=True, eq=False)
class Open:
    """The spots at which open ground is looked for: a grid of 1 % of the tray's length, or a coarser one while searching."""

    x_mm: Floats
    y_mm: Floats
    edge_mm: Floats

    @classmethod
    def of(cls, tray: Tray, share: float = GRID_SHARE) -> "Open":
        """The grid of a tray."""
        x0, x1, _, _ = tray.box
        return cls(*tray.grid((x1 - x0) * share))

    def single(self) -> "Open":
        """The same spots in single precision, for searching."""
        return Open(*(v.astype(np.float32) for v in (self.x_mm, self.y_mm, self.edge_mm)))  # type: ignore[arg-type]

    def largest(self, x: Floats, y: Floats, disc: Floats) -> tuple[Floats, NDArray[np.intp]]:
        """(radius of the largest circle free of root discs, row of the grid where it stands) for plans (..., n)."""
        if not len(self.x_mm):
            return np.zeros(x.shape[:-1]), np.zeros(x.shape[:-1], dtype=np.intp)
        free = np.broadcast_to(self.edge_mm, (*x.shape[:-1], len(self.edge_mm))).copy()
        px, py = x.astype(self.x_mm.dtype), y.astype(self.x_mm.dtype)
        for t in range(x.shape[-1]):
            away, dy = self.x_mm - px[..., t, None], self.y_mm - py[..., t, None]
            away *= away
            dy *= dy
            away += dy
            np.sqrt(away, out=away)
            away -= away.dtype.type(disc[t])
            np.minimum(free, away, out=free)
        best = free.argmax(axis=-1)
        return np.asarray(np.maximum(np.take_along_axis(free, best[..., None], -1)[..., 0], 0.0)), best


class Edge(Protocol):
    """Something that has a middle, a box, an area, and knows how far a spot lies inside."""

    @property
    def box(self) -> tuple[float, float, float, float]: ...
    @property
    def area_mm2(self) -> float: ...
    def inside_mm(self, x_mm: Floats, y_mm: Floats) -> Floats: ...


def layout_parts(x: Floats, y: Floats, trunks: Trunks, tray: Edge, open_ground: Open) -> dict[str, Floats]:
    """The eight parts, each (...) in 0..1, of plans x, y (..., n) in mm from the tray's middle."""
    d, disc, n = trunks.diameter_mm, trunks.disc_mm, x.shape[-1]
    i, j = _pairs(n)
    apart = np.sqrt((x[..., i] - x[..., j]) ** 2 + (y[..., i] - y[..., j]) ** 2)
    distance = np.zeros((*x.shape, n))
    distance[..., i, j] = distance[..., j, i] = apart
    nearest = np.where(np.eye(n, dtype=bool), np.inf, distance).min(axis=-1)
    flat = (flatness(x, y) < FLAT).mean(axis=-1)
    hidden = (np.abs(x[..., i] - x[..., j]) < (d[i] + d[j]) / 2).sum(axis=-1)
    gaps = np.diff(np.sort(x, axis=-1), axis=-1)
    x0, x1, _, _ = tray.box
    f = (x[..., trunks.main] - x0) / (x1 - x0)
    radius, _ = open_ground.largest(x, y, disc)
    over = np.maximum(0.0, disc[i] + disc[j] - apart).sum(axis=-1)
    out = np.maximum(0.0, disc - tray.inside_mm(x, y)).sum(axis=-1)
    return {
        "spacing": trap(_spread(nearest), SPACING_BAND),
        "collinear": np.clip(1 - np.maximum(0.0, flat - 0.10) / 0.30, 0.0, 1.0),
        "front": 0.5 * np.clip(1 - 2 * hidden / n, 0.0, 1.0) + 0.5 * trap(_spread(gaps), GAPS_BAND),
        "main": np.clip(1 - 6 * np.minimum(np.abs(f - 1 / 3), np.abs(f - 2 / 3)), 0.0, 1.0),
        "depth": np.clip((1 - _rho(d, y)) / 2, 0.0, 1.0),
        "groups": _groups(distance, nearest),
        "void": trap(radius / np.sqrt(tray.area_mm2 / np.pi), VOID_BAND),
        "fit": np.clip(1 - 2 * (over + out) / disc.sum(), 0.0, 1.0),
    }


def total(parts: Mapping[str, Floats]) -> Floats:
    """The layout check out of 100: the product of the parts, each at least 0.05, to the power of its weight."""
    logs = [WEIGHTS[key] * np.log(np.maximum(parts[key], LEAST)) for key in PARTS]
    return np.asarray(100.0 * np.exp(np.sum(logs, axis=0)))


def fits(x: Floats, y: Floats, trunks: Trunks, tray: Tray) -> NDArray[np.bool_]:
    """Whether no root disc overlaps another or lies outside, for plans (..., n)."""
    disc = trunks.disc_mm
    i, j = _pairs(x.shape[-1])
    apart = np.hypot(x[..., i] - x[..., j], y[..., i] - y[..., j])
    clear = np.all(apart >= disc[i] + disc[j] - SAME, axis=-1)
    return np.asarray(clear & np.all(tray.inside_mm(x, y) >= disc - SAME, axis=-1))


def crowding_mm(x: Floats, y: Floats, trunks: Trunks, tray: Tray | RoughTray) -> Floats:
    """How far trunks reach into each other and over the edge together, mm, for plans (..., n); fixed ones among themselves do not count."""
    r, free = trunks.diameter_mm / 2, ~trunks.fixed
    i, j = _pairs(x.shape[-1])
    into = np.maximum(0.0, r[i] + r[j] - np.hypot(x[..., i] - x[..., j], y[..., i] - y[..., j]))
    over = np.maximum(0.0, r - tray.inside_mm(x, y))
    return np.asarray(into[..., free[i] | free[j]].sum(axis=-1) + over[..., free].sum(axis=-1))


def can_stand(x: Floats, y: Floats, trunks: Trunks, tray: Tray) -> NDArray[np.bool_]:
    """Whether no free trunk reaches into another or over the edge, for plans (..., n); roots may still want more room."""
    return np.asarray(crowding_mm(x, y, trunks, tray) <= 1e-6)


def worst_part(parts: Mapping[str, float]) -> str:
    """The part with the largest weight x (1 - s); the first of equals."""
    return max(PARTS, key=lambda key: WEIGHTS[key] * (1 - parts[key]))
