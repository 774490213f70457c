"""Holes, screens, clips and tie wires of one pot (docs/methods.md, "screens, clips and ties"). Rules are craft custom."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely

from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns
from kesh.geometry.holes import draining, on_floor
from kesh.geometry.outline import outline_points
from kesh.geometry.profile import inset_mm
from kesh.geometry.volume import inner_area_mm2
from kesh.model.pot import Hole
from kesh.science.stand.stability import AIR_KG_M3, G, TreeBody

DRAIN_SHARE = 0.025
CLIP_WIRE_MM = 1.5
# how far a screen lies over the edge of its hole, mm [J]
LAP_MM = 12.0
TIES_THROUGH = 4
WIRE_SIZES_MM = (1.0, 1.5, 2.0, 2.5, 3.0, 3.5, 4.0)
STRENGTH_MPA = {"aluminium": 34.0, "copper": 60.0}


@dataclass(frozen=True)
class HolePlan:
    """Drain and wire holes that the rule would make, and the share of the wanted drain area they reach."""

    drains: tuple[Hole, ...]
    wires: tuple[Hole, ...]
    wanted_area_mm2: float
    reached_share: float


def floor_box_mm(pots: PotColumns) -> tuple[float, float]:
    """Length and width of one pot's inner floor."""
    q = float(inset_mm(pots, (pots.floor / pots.body_height)[:, None])[0, 0]) + pots.pots[0].wall_mm
    return float(pots.length[0]) - 2 * q, float(pots.width[0]) - 2 * q


def plan_holes(pots: PotColumns) -> HolePlan:
    """The hole layout of methods 8 for one pot's floor. Raises FieldError when no hole fits."""
    area = float(inner_area_mm2(pots, np.zeros((1, 1)))[0, 0])
    lf, wf = floor_box_mm(pots)
    if area <= 0 or lf <= 0 or wf <= 0:
        raise FieldError("floor", "the pot has no inner floor to drill")
    n0 = max(1, int(np.ceil(area / 22500)))
    if n0 == 1 and lf / wf > 1.3 and lf > 120:
        n0 = 2
    nx = max(1, int(np.floor(np.sqrt(n0 * lf / wf) + 0.5)))
    ny = max(1, int(np.ceil(n0 / nx)))

    def size() -> float:
        return float(max(8, np.ceil(np.sqrt(4 * DRAIN_SHARE * area / (np.pi * nx * ny)))))

    while size() > 40:
        nx, ny = (nx + 1, ny) if lf / nx >= wf / ny else (nx, ny + 1)
    d = size()
    pot = pots.pots[0]
    q = (pot.length_mm - lf) / 2
    ring = outline_points(pot.outline, pot.length_mm, pot.width_mm, q, 180)
    placed: list[tuple[float, float]] = []
    for j in range(ny):
        for i in range(nx):
            x, y = (i + 0.5) / nx * lf - lf / 2, (j + 0.5) / ny * wf - wf / 2
            spot = _pull_in(x, y, d, ring)
            if spot and all(np.hypot(spot[0] - a, spot[1] - b) - d >= max(10, 0.8 * d) for a, b in placed):
                placed.append(spot)
    drains = tuple(Hole(x_mm=x, y_mm=y, diameter_mm=d) for x, y in placed)
    corners = [(sx * lf / 4, sy * wf / 4) for sx in (-1, 1) for sy in (-1, 1)]
    wires = tuple(
        Hole(x_mm=x, y_mm=y, diameter_mm=5)
        for x, y in corners
        if all(np.hypot(x - h.x_mm, y - h.y_mm) >= 60 for h in drains)
    )
    wanted = DRAIN_SHARE * area
    return HolePlan(drains, wires, wanted, len(drains) * np.pi * d**2 / 4 / wanted)


def _pull_in(x: float, y: float, d: float, ring: np.ndarray) -> tuple[float, float] | None:
    """Move a hole straight toward the centre in steps of 1 % until its rim keeps the edge distance."""
    need = max(12.0, 0.75 * d) + d / 2
    for step in range(101):
        px, py = x * (1 - step / 100), y * (1 - step / 100)
        if _edge_mm(px, py, ring) >= need:
            return px, py
    return None


def _edge_mm(x: float, y: float, ring: np.ndarray) -> float:
    point = shapely.Point(x, y)
    away = float(shapely.distance(point, shapely.LinearRing(ring)))
    return away if shapely.Polygon(ring).contains(point) else -away


@dataclass(frozen=True)
class Hardware:
    """What to cut: sides of square screens, clip wires, tie wires (mm), tie gauge, mesh opening."""

    screens_mm: tuple[float, ...]
    clip_wire_mm: tuple[float, ...]
    tie_wire_mm: tuple[float, ...]
    tie_gauge_mm: float | None
    mesh_opening_mm: float
    planned_ties: bool
    planned_drains: bool = False


def clip_length_mm(hole_mm: float, floor_mm: float) -> float:
    """Length of wire for a butterfly clip over one hole."""
    bend = max(12.0, 0.6 * hole_mm)
    return 2 * np.pi * 0.6 * hole_mm + hole_mm + 2 * (floor_mm + 1.5 + bend)


def tie_length_mm(
    spacing_mm: float, floor_mm: float, ball_width_mm: float, ball_height_mm: float, below_mm: float
) -> float:
    """Cut length of one tie wire under the floor and over the ball, rounded up to 10 mm.

    Raises FieldError for a spacing of zero.
    """
    if spacing_mm <= 0:
        raise FieldError("holes", "two holes at one place cannot hold a tie wire")
    rise = ball_height_mm + below_mm
    if spacing_mm <= ball_width_mm:
        side = 2 * ((ball_width_mm - spacing_mm) / 2 + rise)
    else:
        side = 2 * float(np.hypot((spacing_mm - ball_width_mm) / 2, rise))
    raw = spacing_mm + 2 * floor_mm + side + ball_width_mm
    return float(np.ceil((raw * 1.05 + 120) / 10 - 1e-9) * 10)


def tie_pairs(holes: tuple[Hole, ...]) -> tuple[tuple[Hole, Hole], ...]:
    """Pairs of holes for wires that run left to right: front row first."""
    rows = sorted(holes, key=lambda h: (h.y_mm, h.x_mm))
    pairs = []
    while len(rows) >= 2:
        first = rows.pop(0)
        other = max(rows, key=lambda h: (abs(h.x_mm - first.x_mm) - 2 * abs(h.y_mm - first.y_mm), h.x_mm))
        rows.remove(other)
        pairs.append((first, other))
    return tuple(pairs)


def tie_gauge_mm(
    tree: TreeBody, ball_width_mm: float, wires: int, gust_m_s: float, metal: str = "aluminium"
) -> float | None:
    """Thinnest usual wire that holds a tree tilted 15 degrees in a gust; None when no single size does."""
    if wires < 1 or ball_width_mm <= 0:
        return None
    lean = tree.mass_kg * G * max(tree.cog_height_mm, 0) / 1000 * np.sin(np.radians(15))
    wind = 0.5 * AIR_KG_M3 * gust_m_s**2 * tree.canopy_area_m2 * tree.drag * max(tree.canopy_height_mm, 0) / 1000
    tension = (lean + wind) / (ball_width_mm / 1000 * wires)
    thin = float(np.sqrt(4 * 2 * tension / (np.pi * STRENGTH_MPA[metal])))
    return next((size for size in WIRE_SIZES_MM if size >= thin), None)


def _outermost(holes: tuple[Hole, ...]) -> tuple[Hole, ...]:
    """At most four holes, one toward each corner of the floor."""
    if len(holes) <= TIES_THROUGH:
        return holes
    kept: list[Hole] = []
    for sx, sy in ((-1, -1), (1, -1), (-1, 1), (1, 1)):
        left = [h for h in holes if h not in kept]
        kept.append(max(left, key=lambda h: (sx * h.x_mm + sy * h.y_mm, h.x_mm, h.y_mm)))
    return tuple(kept)


def _across_mm(ball_mm: tuple[float, float], a: Hole, b: Hole) -> float:
    """Width of the root mass along the line between two holes; it is taken for an ellipse between its two measures."""
    away = float(np.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm))
    if away <= 0:
        return ball_mm[0]
    return float(np.hypot(ball_mm[0] * (a.x_mm - b.x_mm) / away, ball_mm[1] * (a.y_mm - b.y_mm) / away))


@lru_cache(maxsize=64)
def _chosen_holes(pots: PotColumns) -> tuple[tuple[Hole, ...], tuple[Hole, ...], bool, bool]:
    """(drain holes, holes for wires, whether those for wires are only planned, whether the drains are)."""
    pot = pots.pots[0]
    drains, planned_drains = draining(pot), False
    ties, planned = on_floor(pot, pot.tie_holes), False
    if len(ties) < 2 or not drains:
        plan = plan_holes(pots)
        if not drains:
            drains, planned_drains = plan.drains, True
        if len(ties) < 2:
            through = drains if len(drains) >= 2 and not planned_drains else ()
            ties, planned = (_outermost(through), False) if through else (plan.wires or _outermost(drains), True)
    return drains, ties, planned, planned_drains


def tie_holes(pots: PotColumns) -> tuple[Hole, ...]:
    """The holes wires come up through by rule. Raises FieldError when no hole fits."""
    return _chosen_holes(pots)[1]


def hardware(
    pots: PotColumns,
    tree: TreeBody | None,
    ball_mm: tuple[float, float],
    ball_height_mm: float,
    below_mm: float,
    gust_m_s: float,
    finest_grain_mm: float,
) -> Hardware:
    """The cut list of one pot; `ball_mm` is the kept root mass along x and y as it stands in the pot.

    Holes that do not exist are taken from the plan, and that is said. Two wires hold a tree; more drain holes than four
    are not all tied through, the outermost serve.
    """
    pot = pots.pots[0]
    drains, ties, planned, planned_drains = _chosen_holes(pots)
    pairs = tie_pairs(ties)
    lengths = tuple(
        tie_length_mm(
            float(np.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm)),
            pot.floor_mm,
            _across_mm(ball_mm, a, b),
            ball_height_mm,
            below_mm,
        )
        for a, b in pairs
    )
    gauge = tie_gauge_mm(tree, ball_mm[0], len(lengths), gust_m_s) if tree else None
    return Hardware(
        screens_mm=tuple(h.diameter_mm + 2 * LAP_MM for h in drains),
        clip_wire_mm=tuple(clip_length_mm(h.diameter_mm, pot.floor_mm) for h in drains),
        tie_wire_mm=lengths,
        tie_gauge_mm=gauge,
        mesh_opening_mm=finest_grain_mm / 2,
        planned_ties=planned,
        planned_drains=planned_drains,
    )
