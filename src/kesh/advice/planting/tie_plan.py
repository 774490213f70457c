"""What holds a tree in its pot: the wires of the planting, else laid out by rule, with their lengths and how firmly they hold."""

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from itertools import product

import numpy as np

from kesh.advice.assess import Assessment
from kesh.advice.planting.tie_layout import RAFT_OUT_MM, TieWire, laid_by_rule, layouts, own_wire, stones_by_rule
from kesh.advice.roots.base import RootBase, centre_mm, inner_ring_mm
from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats, ring_area_mm2
from kesh.model import Measure, Stock, Stone
from kesh.model.tree import HANGING
from kesh.science.roots.fit import ring_radius
from kesh.science.roots.side_room import directions_deg, toward
from kesh.science.stand.hardware import WIRE_SIZES_MM
from kesh.science.stand.stability import AIR_KG_M3
from kesh.science.stand.tie_hold import FITS_MARGIN, WATCH_MARGIN, Hold, Leg, Standing, hold, stone_leg

DEFAULT_GUST_M_S, USUAL_GAUGE_MM, THICKEST_MM = 10.0, 2.0, 10.0
# planted and wet, from this on a tree is heavy to those who tie such in 3 mm [J]
HEAVY_KG = 12.0
METALS = ("aluminium", "copper", "steel")
ANCHORS = ("ties", "rods", "raft", "stones", "guys", "none")
# stones to try, kg each: the lightest three that hold
STONES_KG = (0.3, 0.5, 0.8, 1.2, 1.8, 2.5, 3.5, 5.0)


@dataclass(frozen=True)
class TiePlan:
    """Wires and stones, whether they were laid out by rule, and how they hold; None where the tree's mass is not known."""

    anchors: str
    wires: tuple[TieWire, ...]
    stones: tuple[Stone, ...]
    by_rule: bool
    hold: Hold | None
    gust_m_s: float
    gust_known: bool

    @property
    def gale_n(self) -> float | None:
        """The push at the apex that the gust comes to where it asks most of the hold."""
        if self.hold is None or self.hold.margin is None:
            return None
        at = int(np.argmin(self.hold.margin))
        return float(self.hold.rose_n[at] / self.hold.margin[at])

    @property
    def untied_margin(self) -> float | None:
        """How many times the gust its own weight bears from the weakest side."""
        loose = None if self.hold is None else self.hold.margin_untied
        return None if loose is None else float(loose.min())

    @property
    def stands_untied(self) -> bool:
        """Whether its own weight holds it with the margin asked for."""
        return (self.untied_margin or 0.0) >= FITS_MARGIN

    @property
    def status(self) -> str:
        """fits, watch, no or unknown. Where nothing holds it, that its weight does is a fair answer: no pulls are asked for then."""
        if self.hold is None:
            return "unknown"
        loose = self.untied_margin
        if self.anchors != "none" or loose is None:
            return self.hold.status
        return "fits" if loose >= FITS_MARGIN else "watch" if loose >= WATCH_MARGIN else "no"

    @property
    def gone_at_m_s(self) -> float | None:
        """The wind that lifts the roots of the untied tree."""
        loose = self.untied_margin
        return None if loose is None else float(self.gust_m_s * np.sqrt(max(loose, 0.0)))


def tie_plan(a: Assessment) -> TiePlan | None:
    """How a planting is held. None without a root mass in a pot."""
    base, planting = a.figures.root_base, a.case.planting
    if base is None:
        return None
    anchors = planting.anchors if planting is not None else "ties"
    try:
        ground = ground_of(a, base)
        if planting is not None and (planting.ties or (anchors == "stones" and planting.stones)):
            wires = tuple(own_wire(tie, a.pot, a.figures.pots, base, anchors) for tie in planting.ties)
            stones = planting.stones if anchors == "stones" else ()
            return _plan(a, anchors, wires, stones, False, _hold(a, base, ground, anchors, wires, stones))
        return by_rule(a, anchors, base, ground=ground)
    except FieldError:
        # a wire that lies on the floor holds nothing that could be reckoned
        return None


@dataclass(frozen=True)
class Ground:
    """What every way of holding the tree starts from: what stands there, and what the gust asks; None while the tree's mass is not known."""

    standing: Standing | None
    wind_nm: Floats | None


def ground_of(a: Assessment, base: RootBase) -> Ground:
    """Reckoned once for all layouts, wires and stones that are tried."""
    return Ground(standing_of(a, base), wind_nm(a, base))


def by_rule(
    a: Assessment, anchors: str, base: RootBase | None = None, metal: str | None = None, *, ground: Ground | None = None
) -> TiePlan | None:
    """One way to hold the tree as the rule lays it out, in the thinnest wire, or the lightest stones, that hold with the margin asked for.

    In the thickest where none does. Without a metal, in the softest of those in the shed that holds. Raises FieldError
    where the pot has no place for it.
    """
    base = a.figures.root_base if base is None else base
    if base is None:
        return None
    ground = ground or ground_of(a, base)
    if anchors == "stones":
        return _lightest(a, base, ground)
    tall = a.case.tree.measure.height_mm or 0.0
    best: TiePlan | None = None
    for kind, layout in product((metal,) if metal else metals_of(a.case.stock), layouts(anchors, a.figures.pots)):
        plan = _thinnest(a, base, ground, anchors, layout, kind, tall)
        if plan.hold is None or plan.hold.status == "fits" or not plan.wires:
            return plan
        best = plan if best is None or _better(plan, best) else best
    return best


def _better(one: TiePlan, other: TiePlan) -> bool:
    """By the least margin as far as it is asked, then by the narrower gap between pulls."""

    def rank(plan: TiePlan) -> tuple[float, float]:
        assert plan.hold is not None
        margin = FITS_MARGIN if plan.hold.margin is None else float(plan.hold.margin.min())
        return min(margin, FITS_MARGIN), -plan.hold.widest_gap_deg

    return rank(one) > rank(other)


def _thinnest(
    a: Assessment, base: RootBase, ground: Ground, anchors: str, layout: str, metal: str, tall_mm: float
) -> TiePlan:
    """A layout in the thinnest wire that reaches the margin, or in the thickest where none does."""
    wires: tuple[TieWire, ...] = ()
    found = None
    for gauge in sizes_of(a.case.stock, metal, least_gauge_mm(a)):
        wires = laid_by_rule(anchors, a.pot, a.figures.pots, base, gauge, metal, tall_mm, layout)
        found = _hold(a, base, ground, anchors, wires, ())
        if found is None:
            wires = laid_by_rule(anchors, a.pot, a.figures.pots, base, USUAL_GAUGE_MM, metal, tall_mm, layout)
            break
        if found.margin is None or not wires or found.margin.min() >= FITS_MARGIN:
            break
    return _plan(a, anchors, wires, (), True, found)


def options(a: Assessment) -> Mapping[str, TiePlan]:
    """Every way to hold the tree by rule that this pot has a place for; the planting's own where it has one."""
    base, found = a.figures.root_base, {}
    own = tie_plan(a)
    ground = None if base is None else ground_of(a, base)
    for anchors in ANCHORS:
        try:
            plan = own if own is not None and own.anchors == anchors else by_rule(a, anchors, base, ground=ground)
        except FieldError:
            continue
        if plan is not None:
            found[anchors] = plan
    return found


def least_gauge_mm(a: Assessment) -> float:
    """The thinnest wire the grower's view lets a tree be tied in: 2 mm, or 3 for what is heavy planted and wet."""
    stand = a.figures.stand
    heavy = stand is not None and float(stand.mass_wet_kg[0]) > HEAVY_KG
    return 3.0 if heavy and a.case.brief.planting_views.wire == "three" else 2.0


def metals_of(stock: Mapping[str, Stock]) -> tuple[str, ...]:
    """Metals of tie wire to choose from, the softest first: those that lie in the shed, else aluminium."""
    return tuple(metal for metal in METALS if _held_mm(stock, metal)) or METALS[:1]


def sizes_of(stock: Mapping[str, Stock], metal: str, least_mm: float) -> tuple[float, ...]:
    """Wire sizes to choose from, mm: those that lie in the shed in this metal, else all usual ones; no thinner than asked if there are thicker."""
    sizes = _held_mm(stock, metal) or WIRE_SIZES_MM
    return tuple(mm for mm in sizes if mm >= least_mm) or sizes[-1:]


def _held_mm(stock: Mapping[str, Stock], metal: str) -> tuple[float, ...]:
    """Gauges of wire in the shed in one metal, rising; a name that is no gauge is passed over."""
    held = []
    for one in stock.values():
        words = one.id.split("-")
        if len(words) == 3 and words[:2] == ["wire", metal] and one.have > 0:
            with suppress(ValueError):
                held.append(float(words[2]))
    return tuple(sorted(mm for mm in held if 0 < mm <= THICKEST_MM))


def _plan(
    a: Assessment, anchors: str, wires: tuple[TieWire, ...], stones: tuple[Stone, ...], rule: bool, found: Hold | None
) -> TiePlan:
    site = a.case.site
    known = site is not None and site.gust_m_s is not None
    return TiePlan(anchors, wires, stones, rule, found, _gust(a), known)


def _lightest(a: Assessment, base: RootBase, ground: Ground) -> TiePlan:
    stones: tuple[Stone, ...] = ()
    found = None
    for kg in STONES_KG:
        stones = stones_by_rule(base, kg)
        found = _hold(a, base, ground, "stones", (), stones)
        if found is None or found.margin is None or found.margin.min() >= FITS_MARGIN:
            break
    return _plan(a, "stones", (), stones, True, found)


def _gust(a: Assessment) -> float:
    site = a.case.site
    return site.gust_m_s if site is not None and site.gust_m_s is not None else DEFAULT_GUST_M_S


def _hold(
    a: Assessment, base: RootBase, ground: Ground, anchors: str, wires: tuple[TieWire, ...], stones: tuple[Stone, ...]
) -> Hold | None:
    standing, wind = ground.standing, ground.wind_nm
    if standing is None or wind is None:
        return None
    if anchors == "none":
        return hold(standing, [], wind)
    legs: list[Leg] = [leg for wire in wires for leg in wire.legs()]
    if anchors == "raft":
        return _on_raft(a, base, standing, legs, wind)
    legs += [stone_leg(s.x_mm, s.y_mm, base.top_mm, s.mass_kg) for s in stones]
    return hold(standing, legs, wind)


def _on_raft(a: Assessment, base: RootBase, standing: Standing, legs: list[Leg], wind: Floats) -> Hold:
    """Tied to a raft the tree tips about its boards, with the soil that lies on them; its wires must hold it to them as well."""
    tied = hold(standing, legs, wind)
    middle = np.array(centre_mm(base.low_ring))
    out = np.hypot(*(base.low_ring - middle).T)
    boards = middle + (base.low_ring - middle) * ((out + RAFT_OUT_MM) / np.maximum(out, 1e-9))[:, None]
    wall = inner_ring_mm(a.figures.pots, base.foot_mm, 2.0)
    angle = np.arctan2(*(boards - middle).T[::-1])
    far = np.minimum(np.hypot(*(boards - middle).T), ring_radius(wall - middle, angle))
    boards = middle + np.column_stack([far * np.cos(angle), far * np.sin(angle)])
    dry = a.case.blend.dry_density_kg_l if a.case.blend is not None else 0.6
    on_it = max(abs(ring_area_mm2(boards)) - abs(ring_area_mm2(base.low_ring)), 0.0) * base.kept_mm / 1e6 * dry
    mass = standing.mass_kg + on_it
    at = (np.array(standing.middle_mm) * standing.mass_kg + centre_mm(boards) * on_it) / mass
    whole = hold(Standing(boards, base.foot_mm, mass, (float(at[0]), float(at[1])), standing.apex_mm), [], wind)
    assert tied.margin is not None
    assert whole.margin is not None
    return Hold(
        np.minimum(tied.rose_n, whole.rose_n), np.minimum(tied.moment_nm, whole.moment_nm),
        np.minimum(tied.margin, whole.margin), tied.margin_untied, tied.widest_gap_deg,
    )  # fmt: skip


def standing_of(a: Assessment, base: RootBase) -> Standing | None:
    """What stands there: the tree over its foot plus half its apex offset, the kept roots over their middle; None without its mass."""
    f, measure, tree = a.figures, a.case.tree.measure, a.figures.tree_body
    if tree is None or f.roots is None or measure.height_mm is None:
        return None
    roots_kg = float(f.roots.kept_volume_l[0])
    foot = np.array(base.trunk_mm) + np.array([(measure.apex_offset_mm or 0.0) / 2, 0.0])
    mass = tree.mass_kg + roots_kg
    middle = (tree.mass_kg * foot + roots_kg * centre_mm(base.ring)) / mass
    at = (float(middle[0]), float(middle[1]))
    return Standing(base.low_ring, base.foot_mm, mass, at, base.kept_mm + measure.height_mm)


def wind_nm(a: Assessment, base: RootBase) -> Floats | None:
    """What the gust asks about the base of the roots, by where it comes from (36,): crown by its opacity, bare trunk below it."""
    tree, m = a.figures.tree_body, a.case.tree.measure
    if tree is None or m.height_mm is None:
        return None
    kept = base.kept_mm
    crown = tree.canopy_area_m2 * tree.drag * (tree.canopy_height_mm + kept)
    bare = 0.0
    if a.case.tree.style not in HANGING:
        high = min(m.crown_base_mm if m.crown_base_mm is not None else 0.3 * m.height_mm, 0.9 * m.height_mm)
        thick = m.trunk_diameter_mm or m.trunk_at_soil_mm or m.trunk_mid_mm or 0.0
        bare = thick * high / 1e6 * (kept + high / 2)
    push = 0.5 * AIR_KG_M3 * _gust(a) ** 2 / 1000
    return np.asarray(push * (crown + bare) * _width_by_side(m))


def _width_by_side(measure: Measure) -> Floats:
    """The crown's width across a push from every side, by that from the front (36,): an ellipse through the four reaches."""
    wide = measure.spread_mm or 1.0
    deep = measure.canopy_depth_mm if measure.canopy_depth_mm is not None else wide
    e = toward(directions_deg())
    return np.asarray(np.hypot(wide * e[:, 1], deep * e[:, 0]) / wide)
