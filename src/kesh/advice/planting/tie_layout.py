"""Wires laid out by rule for each way to hold a tree: over the roots, over rods, on a raft, from the trunk to the rim."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.roots.base import RootBase, inner_ring_mm
from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns
from kesh.geometry.outline import Floats
from kesh.model import Hole, Pot, Stone, Tie
from kesh.science.roots.fit import ring_radius
from kesh.science.roots.side_room import toward
from kesh.science.stand.hardware import tie_holes, tie_pairs
from kesh.science.stand.tie_hold import Leg
from kesh.science.stand.wire_path import WireWay, wire_way

# a rod or a raft reaches so far past the roots; guys leave the trunk at a third of the tree's height, three of them [J]
ROD_OUT_MM, RAFT_OUT_MM, RAFT_MM, GUY_SHARE, GUYS = 15.0, 20.0, 12.0, 1 / 3, 3
# a wire takes hold at least this share of the roots' width in from their edge [J]
GRAZE = 0.15


@dataclass(frozen=True)
class TieWire:
    """One wire as it is cut and laid; `hole_z_mm` is how high its holes lie, nought but on a rim or a raft."""

    holes: tuple[tuple[float, float], ...]
    over: tuple[tuple[float, float, float], ...]
    way: WireWay
    gauge_mm: float
    metal: str
    hole_z_mm: float = 0.0
    id: str = ""
    behind: str | None = None
    pad: bool = False

    @property
    def length_mm(self) -> float:
        """What it is cut to."""
        return self.way.cut_mm

    def legs(self) -> tuple[Leg, ...]:
        """From the first hole to the first place it takes hold, and from the last such place to the last hole."""
        first = Leg(self.over[0], self.holes[0], self.gauge_mm, self.metal, self.hole_z_mm)
        if len(self.holes) < 2:
            return (first,)
        return (first, Leg(self.over[-1], self.holes[-1], self.gauge_mm, self.metal, self.hole_z_mm))

    def record(self, key: str) -> Tie:
        """As it is kept with the planting. Raises FieldError for what cannot be."""
        return Tie.made(
            id=key, gauge_mm=self.gauge_mm, metal=self.metal, behind=self.behind, pad=self.pad,
            holes=tuple((round(x, 1), round(y, 1)) for x, y in self.holes),
            over=tuple((round(x, 1), round(y, 1), round(max(z, 0.0), 1)) for x, y, z in self.over),
        )  # fmt: skip


def own_wire(tie: Tie, pot: Pot, pots: PotColumns, base: RootBase, anchors: str) -> TieWire:
    """A wire of the planting. A guy whose hole lies outside the floor is made fast to the rim."""
    high = 0.0
    if anchors == "guys":
        floor = inner_ring_mm(pots, 0.0)
        far = ring_radius(floor, np.arctan2(*np.array(tie.holes).T[::-1]))
        if np.all(np.hypot(*np.array(tie.holes).T) > far + 1):
            high = float(pots.inner_depth[0])
    way = wire_way(tie.holes, tie.over, pot.floor_mm, base.ring, high)
    return TieWire(tie.holes, tie.over, way, tie.gauge_mm, tie.metal, high, tie.id, tie.behind, tie.pad)


def layouts(anchors: str, pots: PotColumns) -> tuple[str, ...]:
    """The layouts to try, the one with fewer wires first: beside one another, over front and back, round all four sides."""
    if anchors not in ("ties", "rods", "raft"):
        return (anchors,)
    return ("round", "halves") if len(tie_holes(pots)) >= 4 else ("halves",)


def laid_by_rule(
    anchors: str, pot: Pot, pots: PotColumns, base: RootBase, gauge_mm: float, metal: str, height_mm: float,
    layout: str = "halves",
) -> tuple[TieWire, ...]:  # fmt: skip
    """The wires of one way to hold a tree. Raises FieldError when the pot has no place for a hole."""
    if anchors == "guys":
        return _guys(pot, pots, base, gauge_mm, metal, height_mm)
    if anchors in ("stones", "none"):
        return ()
    found: list[TieWire] = []
    for one, other, level in _runs(tie_holes(pots), base, layout):
        hole_z, under = 0.0, pot.floor_mm
        ends = np.array([one, other])
        low, high = _chord(base.ring, *level)
        along = (high - low) / max(float(np.hypot(*(high - low))), 1e-9)
        if anchors == "rods":
            low, high = low - along * ROD_OUT_MM, high + along * ROD_OUT_MM
        over = tuple((float(p[0]), float(p[1]), base.top_mm) for p in (low, high))
        if anchors == "raft":
            # a raft has its own holes, past the roots, and the wire turns under its boards
            ends = np.array([low - along * RAFT_OUT_MM / 2, high + along * RAFT_OUT_MM / 2])
            hole_z, under = base.foot_mm, RAFT_MM
        holes = tuple((float(x), float(y)) for x, y in ends)
        way = wire_way(holes, over, under, base.ring, hole_z)
        found.append(TieWire(holes, over, way, gauge_mm, metal, hole_z, str(len(found) + 1)))
    return tuple(found)


Run = tuple[tuple[float, float], tuple[float, float], tuple[Floats, Floats]]


def _runs(holes: tuple[Hole, ...], base: RootBase, layout: str) -> list[Run]:
    """(hole, hole, line over the roots as a place and a direction) of each wire.

    Round all sides each wire joins two neighbouring holes; with fewer holes two wires share them, one over the front
    half of the roots and one over the back. A single hole serves both with a stick across it below.
    """
    spots = [(h.x_mm, h.y_mm) for h in holes]
    if layout == "round":
        four = _corners(spots)
        names = (2, 3), (3, 1), (1, 0), (0, 2)
        return [(four[a], four[b], _line(four[a], four[b])) for a, b in names]
    pairs = [((a.x_mm, a.y_mm), (b.x_mm, b.y_mm)) for a, b in tie_pairs(holes)]
    if len(holes) >= 4:
        return [(a, b, _line(a, b)) for a, b in pairs]
    if not spots:
        return []
    one, other = pairs[0] if pairs else (spots[0], spots[0])
    way = np.array(other) - np.array(one)
    away = float(np.hypot(*way))
    along = way / away if away > 1e-6 else np.array([1.0, 0.0])
    across = np.array([-along[1], along[0]])
    at = np.array(base.trunk_mm)
    reach = (base.ring - at) @ across
    return [(one, other, (at + across * 0.6 * far, along)) for far in (float(reach.max()), float(reach.min()))]


def _corners(spots: list[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
    """One hole toward each corner: front left, front right, back left, back right."""
    left, found = list(spots), []
    for sx, sy in ((-1, -1), (1, -1), (-1, 1), (1, 1)):
        best = max(left, key=lambda p: (sx * p[0] + sy * p[1], p))
        left.remove(best)
        found.append(best)
    return tuple(found)


def _line(one: tuple[float, float], other: tuple[float, float]) -> tuple[Floats, Floats]:
    way = np.array(other) - np.array(one)
    return np.array(one), way / max(float(np.hypot(*way)), 1e-9)


def _chord(ring: Floats, at: Floats, along: Floats) -> tuple[Floats, Floats]:
    """Where a line enters and leaves the roots; one that passes beside them, or only grazes them, is taken in until it lies on them."""
    across = np.array([-along[1], along[0]])
    side, run = ring @ across, ring @ along
    low, high = float(side.min()), float(side.max())
    keep = GRAZE * (high - low)
    level = min(max(float(at @ across), low + keep), high - keep)
    after_side, after_run = np.roll(side, -1), np.roll(run, -1)
    cuts = (side - level) * (after_side - level) <= 0
    share = (level - side[cuts]) / np.where(
        np.abs(after_side[cuts] - side[cuts]) > 1e-9, after_side[cuts] - side[cuts], 1.0
    )
    spots = run[cuts] + share * (after_run[cuts] - run[cuts])
    return across * level + along * float(spots.min()), across * level + along * float(spots.max())


def _guys(
    pot: Pot, pots: PotColumns, base: RootBase, gauge_mm: float, metal: str, height_mm: float
) -> tuple[TieWire, ...]:
    """Three from a sleeve round the trunk to the rim, a third of the round apart, the first to the back."""
    if height_mm <= 0:
        raise FieldError("height_mm", "the height of the tree is not known")
    deep = float(pots.inner_depth[0])
    rim = np.asarray(inner_ring_mm(pots, deep, -pot.wall_mm / 2))
    at = np.array(base.trunk_mm)
    z = base.top_mm + GUY_SHARE * height_mm
    found = []
    for n in range(GUYS):
        way = toward(180.0 + 120.0 * n)
        far = float(ring_radius(rim - at, np.array([np.arctan2(way[1], way[0])]))[0])
        spot = at + way * far
        hole, over = ((float(spot[0]), float(spot[1])),), ((float(at[0]), float(at[1]), z),)
        found.append(
            TieWire(hole, over, wire_way(hole, over, pot.wall_mm, None, deep), gauge_mm, metal, deep, str(n + 1))
        )
    return tuple(found)


def stones_by_rule(base: RootBase, mass_kg: float) -> tuple[Stone, ...]:
    """Three stones on the roots, a third of the round apart, well in from the edge, the first to the back."""
    at = np.array(base.trunk_mm)
    found = []
    for n in range(3):
        way = toward(180.0 + 120.0 * n)
        far = 0.75 * float(ring_radius(base.ring - at, np.array([np.arctan2(way[1], way[0])]))[0])
        spot = at + way * far
        found.append(Stone(x_mm=round(float(spot[0]), 1), y_mm=round(float(spot[1]), 1), mass_kg=round(mass_kg, 2)))
    return tuple(found)
