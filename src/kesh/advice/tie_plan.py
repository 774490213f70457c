"""The wires that hold a tree in its pot: those of the planting, else laid out by rule, with their lengths and how firmly they hold."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.assess import Assessment
from kesh.errors import FieldError
from kesh.geometry.outline import Floats, ring_area_mm2
from kesh.model import Measure, Tie
from kesh.science.hardware import WIRE_SIZES_MM, path_length_mm, tie_holes, tie_length_mm, tie_pairs
from kesh.science.root_fit import kept_ring
from kesh.science.side_room import directions_deg, toward
from kesh.science.stability import AIR_KG_M3
from kesh.science.tie_hold import FITS_MARGIN, Hold, Leg, Standing, hold

DEFAULT_GUST_M_S, USUAL_GAUGE_MM = 10.0, 2.0


@dataclass(frozen=True)
class TieWire:
    """One wire as it is cut and laid."""

    holes: tuple[tuple[float, float], ...]
    over: tuple[tuple[float, float, float], ...]
    length_mm: float
    gauge_mm: float
    metal: str

    def legs(self) -> tuple[Leg, ...]:
        """From the first hole to the first place it takes hold, and from the last such place to the last hole."""
        first = Leg(self.over[0], self.holes[0], self.gauge_mm, self.metal)
        if len(self.holes) < 2:
            return (first,)
        return (first, Leg(self.over[-1], self.holes[-1], self.gauge_mm, self.metal))


@dataclass(frozen=True)
class TiePlan:
    """All wires, whether they were laid out by rule, and how they hold; None where the tree's mass is not known."""

    wires: tuple[TieWire, ...]
    by_rule: bool
    hold: Hold | None


@dataclass(frozen=True)
class _Base:
    """The kept root mass in the pot: its outline from the pot's middle, its foot and its top over the inner floor, mm."""

    ring: Floats
    foot_mm: float
    top_mm: float


def _base(a: Assessment) -> _Base | None:
    f, roots = a.figures, a.case.roots
    if roots is None or f.roots is None or a.pot.profile.kind == "slab":
        return None
    ring = kept_ring(roots, f.pots, f.seat, float(f.roots.allowed_offset_mm[0]))
    kept = float(f.roots.kept_depth_mm[0])
    if len(ring) < 3 or kept <= 0:
        return None
    top = float(f.pots.inner_depth[0]) + a.seat.raise_mm
    return _Base(ring + np.array([a.seat.x_mm, a.seat.y_mm]), max(top - kept, 0.0), top)


def tie_plan(a: Assessment) -> TiePlan | None:
    """The wires of a planting. None without a root mass in a pot."""
    base = _base(a)
    if base is None or base.top_mm <= 0:
        return None
    planting = a.case.planting
    own = planting.ties if planting is not None else ()
    try:
        if own:
            wires = tuple(_own(tie, a.pot.floor_mm, base) for tie in own)
            return TiePlan(wires, False, _hold(a, base, wires))
        return _thinnest(a, base)
    except FieldError:
        # a wire that lies on the floor holds nothing that could be reckoned
        return None


def _own(tie: Tie, floor_mm: float, base: _Base) -> TieWire:
    length = path_length_mm(tie.holes, tie.over, floor_mm, base.ring)
    return TieWire(tie.holes, tie.over, length, tie.gauge_mm, tie.metal)


def _thinnest(a: Assessment, base: _Base) -> TiePlan:
    """By rule in the thinnest usual wire that holds with the margin asked for, or in the thickest where none does."""
    wires: tuple[TieWire, ...] = ()
    found = None
    for gauge in WIRE_SIZES_MM:
        wires = _by_rule(a, base, gauge)
        found = _hold(a, base, wires)
        if found is None:
            return TiePlan(_by_rule(a, base, USUAL_GAUGE_MM), True, None)
        if found.margin is None or not wires or found.margin.min() >= FITS_MARGIN:
            break
    return TiePlan(wires, True, found)


def _by_rule(a: Assessment, base: _Base, gauge: float) -> tuple[TieWire, ...]:
    """A wire for each pair of holes, over the root mass where it is widest along them."""
    found = []
    for one, other in tie_pairs(tie_holes(a.figures.pots)):
        ends = np.array([[one.x_mm, one.y_mm], [other.x_mm, other.y_mm]])
        away = float(np.hypot(*(ends[1] - ends[0])))
        if away <= 0:
            continue
        along = (ends[1] - ends[0]) / away
        reach = (base.ring - ends[0]) @ along
        spots = [ends[0] + along * float(r) for r in (reach.min(), reach.max())]
        over = tuple((float(p[0]), float(p[1]), base.top_mm) for p in spots)
        length = tie_length_mm(away, a.pot.floor_mm, float(np.ptp(reach)), base.top_mm - base.foot_mm, base.foot_mm)
        found.append(TieWire(((one.x_mm, one.y_mm), (other.x_mm, other.y_mm)), over, length, gauge, "aluminium"))
    return tuple(found)


def _hold(a: Assessment, base: _Base, wires: tuple[TieWire, ...]) -> Hold | None:
    f, measure, tree = a.figures, a.case.tree.measure, a.figures.tree_body
    if tree is None or f.roots is None or measure.height_mm is None:
        return None
    kept, roots_kg = base.top_mm - base.foot_mm, float(f.roots.kept_volume_l[0])
    foot = np.array([a.seat.x_mm + (measure.apex_offset_mm or 0.0) / 2, a.seat.y_mm])
    mass = tree.mass_kg + roots_kg
    middle = (tree.mass_kg * foot + roots_kg * _centre(base.ring)) / mass
    standing = Standing(base.ring, base.foot_mm, mass, (float(middle[0]), float(middle[1])), kept + measure.height_mm)
    gust = a.case.site.gust_m_s if a.case.site and a.case.site.gust_m_s is not None else DEFAULT_GUST_M_S
    push = 0.5 * AIR_KG_M3 * gust**2 * tree.canopy_area_m2 * tree.drag * (tree.canopy_height_mm + kept) / 1000
    anchored = a.case.planting is None or a.case.planting.anchors != "none"
    legs = [leg for wire in wires for leg in wire.legs()] if anchored else []
    return hold(standing, legs, push * _width_by_side(measure))


def _centre(ring: Floats) -> Floats:
    """Centroid of an outline."""
    x, y = ring.T
    cross = x * np.roll(y, -1) - np.roll(x, -1) * y
    area = ring_area_mm2(ring)
    if abs(area) < 1e-9:
        return np.asarray(ring.mean(axis=0))
    sums = np.array([((x + np.roll(x, -1)) * cross).sum(), ((y + np.roll(y, -1)) * cross).sum()])
    return np.asarray(sums / (3 * cross.sum()))


def _width_by_side(measure: Measure) -> Floats:
    """The crown's width across a push from every side, by that from the front (36,): an ellipse through the four reaches."""
    wide = measure.spread_mm or 1.0
    deep = measure.canopy_depth_mm if measure.canopy_depth_mm is not None else wide
    e = toward(directions_deg())
    return np.asarray(np.hypot(wide * e[:, 1], deep * e[:, 0]) / wide)
