"""What holds a tree, laid out by rule in many pots: a second way of computing, and what more and thicker wire must do."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import case_for
from kesh.advice.planting.cut_list import cuts_for
from kesh.advice.planting.tie_plan import ANCHORS, by_rule, options, standing_of, tie_plan, wind_nm
from kesh.demo.lanternfield import demo_collection
from kesh.model import Brief, Hole, Planting, PlantingViews, Site, Stock, Stone, Tie
from tests.advice.test_rank import bench
from tests.builders import pot, tree

DEMO = demo_collection()
FOUR = tuple(Hole(x_mm=x, y_mm=y, diameter_mm=5, use="tie") for x in (-90, 90) for y in (-50, 50))


def stood(
    pots_fields: dict[str, object] | None = None, tree_fields: dict[str, object] | None = None, **fields: object
) -> Assessment:
    made = pot(**({"holes": (*pot().holes, *FOUR)} | (pots_fields or {})))
    planting = Planting(id="p", tree="maple", pot="tray", mix="house", **fields)  # type: ignore[arg-type]
    c = bench(trees={"maple": tree(**(tree_fields or {}))}, pots={"tray": made}, plantings=(planting,))
    return assess(case_for(c, "maple", pot_id="tray", today=date(2026, 3, 10)), made)


def by_hand(a: Assessment) -> np.ndarray:
    """The moments of the plan, N m, written out from the text of the method, one direction at a time."""
    plan, base = tie_plan(a), a.figures.root_base
    assert plan is not None and base is not None  # noqa: PT018
    standing = standing_of(a, base)
    assert standing is not None
    found = []
    for deg in range(0, 360, 10):
        e = -np.array([-np.sin(np.radians(deg)), -np.cos(np.radians(deg))])
        p = max(float(v @ e) for v in base.low_ring)
        total = standing.mass_kg * 9.81 * (p - np.dot(standing.middle_mm, e))
        for wire in plan.wires:
            for over, hole in ((wire.over[0], wire.holes[0]), (wire.over[-1], wire.holes[-1])):
                c, h = np.array(over[:2]), np.array(hole)
                long = float(np.sqrt(((c - h) ** 2).sum() + over[2] ** 2))
                pull = 0.5 * {"aluminium": 34, "copper": 60, "steel": 150}[wire.metal] * np.pi * wire.gauge_mm**2 / 4
                total += max(0.0, pull * (over[2] / long * (p - c @ e) + (c - h) @ e / long * (over[2] - base.foot_mm)))
        found.append(total / 1000)
    return np.array(found)


@pytest.mark.parametrize(
    "fields", [{}, {"offset_x_mm": -40.0, "offset_y_mm": 12.0}, {"raise_mm": 10.0, "turn_deg": 30.0}]
)
def test_the_rose_by_hand(fields: dict[str, float]) -> None:
    a = stood(**fields)
    plan = tie_plan(a)
    assert plan is not None and plan.hold is not None  # noqa: PT018
    assert plan.hold.moment_nm == pytest.approx(by_hand(a), rel=1e-9)


def test_a_mass_that_tapers_tips_about_its_smaller_foot() -> None:
    straight, tapered = stood(anchors="none"), stood(tree_fields={"roots": {"taper": 0.4}}, anchors="none")
    wide, narrow = straight.figures.root_base, tapered.figures.root_base
    assert wide is not None and narrow is not None  # noqa: PT018
    assert np.ptp(narrow.low_ring, axis=0) == pytest.approx(np.ptp(narrow.ring, axis=0) * (1 - 0.4), rel=0.02)
    held, less = tie_plan(straight), tie_plan(tapered)
    assert held is not None and held.hold is not None and less is not None and less.hold is not None  # noqa: PT018
    assert less.hold.rose_n.min() < held.hold.rose_n.min()


def test_the_wind_blows_on_crown_and_bare_trunk() -> None:
    a = stood()
    base, body, m = a.figures.root_base, a.figures.tree_body, a.case.tree.measure
    assert base is not None and body is not None and m.crown_base_mm is not None and m.trunk_diameter_mm is not None  # noqa: PT018
    kept = base.kept_mm
    crown = body.canopy_area_m2 * body.drag * (body.canopy_height_mm + kept)
    trunk = m.trunk_diameter_mm * m.crown_base_mm / 1e6 * (kept + m.crown_base_mm / 2)
    wind = wind_nm(a, base)
    assert wind is not None
    assert wind[0] == pytest.approx(0.5 * 1.2 * 12**2 * (crown + trunk) / 1000)
    # from the side the crown is as wide as it is deep
    assert m.canopy_depth_mm is not None and m.spread_mm is not None  # noqa: PT018
    assert wind[9] / wind[0] == pytest.approx(m.canopy_depth_mm / m.spread_mm)


@pytest.mark.parametrize("count", [0, 1, 2, 4])
def test_by_rule_the_pulls_never_leave_half_the_round_open_and_are_called_fit(count: int) -> None:
    holes = (*pot().holes[:1], *FOUR[:count]) if count else pot().holes[:1]
    a = stood({"holes": holes})
    for anchors in ANCHORS:
        plan = by_rule(a, anchors)
        assert plan is not None and plan.hold is not None  # noqa: PT018
        if plan.hold.widest_gap_deg > 150 and anchors != "none":
            assert plan.hold.status != "fits", anchors


def test_two_side_by_side_are_never_fit_however_thick() -> None:
    over = [((-140.0, y, 80.0), (140.0, y, 80.0)) for y in (-40.0, 40.0)]
    ties = tuple(
        Tie(id=str(n), holes=((-90.0, o[0][1]), (90.0, o[0][1])), over=o, gauge_mm=6.0) for n, o in enumerate(over)
    )
    plan = tie_plan(stood(ties=ties))
    assert plan is not None and plan.hold is not None and plan.hold.margin is not None  # noqa: PT018
    assert plan.hold.margin.min() > 1.5
    assert plan.hold.status == "watch"


spot = st.tuples(st.floats(-120, 120), st.floats(-80, 80))


@given(st.lists(st.tuples(spot, spot, st.floats(40, 120), st.floats(1, 4)), min_size=1, max_size=4), st.floats(1.05, 2))
def test_more_or_thicker_wires_never_hold_less(rows, factor: float) -> None:  # type: ignore[no-untyped-def]
    ties = tuple(
        Tie(id=str(n), holes=(one, other), over=((one[0] * 1.1, one[1], z), (other[0], other[1] * 1.1, z)), gauge_mm=g)
        for n, (one, other, z, g) in enumerate(rows)
    )
    whole = tie_plan(stood(ties=ties))
    fewer = tie_plan(stood(ties=ties[:-1])) if len(ties) > 1 else tie_plan(stood(anchors="none"))
    thick = tie_plan(stood(ties=tuple(t.changed(gauge_mm=t.gauge_mm * factor) for t in ties)))
    assert whole is not None and fewer is not None and thick is not None  # noqa: PT018
    assert whole.hold is not None and fewer.hold is not None and thick.hold is not None  # noqa: PT018
    assert np.all(whole.hold.rose_n >= fewer.hold.rose_n - 1e-9)
    assert np.all(thick.hold.rose_n >= whole.hold.rose_n - 1e-9)


def test_the_stock_and_the_grower_decide_the_gauge() -> None:
    a = stood()
    assert {w.gauge_mm for w in by_rule(a, "ties").wires} == {2.0}  # type: ignore[union-attr]
    shed = replace(a, case=replace(a.case, stock={"wire-aluminium-3.5": Stock(id="wire-aluminium-3.5", have=4)}))
    assert {w.gauge_mm for w in by_rule(shed, "ties").wires} == {3.5}  # type: ignore[union-attr]
    copper = {"wire-copper-2": Stock(id="wire-copper-2", have=4), "wire-copper-x": Stock(id="wire-copper-x", have=4)}
    shed = replace(a, case=replace(a.case, stock=copper))
    assert {(w.metal, w.gauge_mm) for w in by_rule(shed, "ties").wires} == {("copper", 2.0)}  # type: ignore[union-attr]
    # soft wire that does not hold gives way to the hard one beside it
    windy = Site(id="hill", gust_m_s=60.0)
    thin = {**copper, "wire-aluminium-1": Stock(id="wire-aluminium-1", have=9)}
    shed = replace(a, case=replace(a.case, stock=thin, site=windy))
    assert {w.metal for w in by_rule(shed, "ties").wires} == {"copper"}  # type: ignore[union-attr]
    heavy = stood({"height_mm": 200.0})
    assert heavy.figures.stand is not None
    assert float(heavy.figures.stand.mass_wet_kg[0]) > 12
    view = replace(heavy, case=replace(heavy.case, brief=Brief(id="maple", planting_views=PlantingViews(wire="three"))))
    assert {w.gauge_mm for w in by_rule(view, "ties").wires} == {3.0}  # type: ignore[union-attr]


def test_stones_guys_rods_and_raft_each_hold_more_than_nothing() -> None:
    found = options(stood())
    assert set(found) == set(ANCHORS)
    bare = found["none"].hold
    assert bare is not None
    for key in ("ties", "rods", "stones", "guys", "raft"):
        held = found[key].hold
        assert held is not None
        assert held.rose_n.min() > bare.rose_n.min(), key
    assert len(found["guys"].wires) == 3
    assert found["guys"].hold.widest_gap_deg == pytest.approx(120, abs=1e-6)  # type: ignore[union-attr]
    own = tie_plan(stood(anchors="stones", stones=(Stone(x_mm=0, y_mm=0, mass_kg=9),)))
    assert own is not None and own.hold is not None  # noqa: PT018
    assert own.hold.rose_n.min() > bare.rose_n.min()


def test_the_cut_list_counts_what_is_cut() -> None:
    a = stood()
    cuts = cuts_for(a)
    assert cuts is not None
    totals = cuts.totals_m()
    assert totals["aluminium", 2.0] == pytest.approx(sum(w.length_mm for w in cuts.ties) / 1000)
    assert totals["aluminium", 1.5] == pytest.approx(sum(c.count * c.way.cut_mm for c in cuts.clips) / 1000)
    for clip in cuts.clips:
        assert sum(p.mm for p in clip.way.pieces) == pytest.approx(clip.way.cut_mm)
    assert cuts.mesh_mm <= 1.5, "half of the smallest grain, 3 mm"
    assert cuts.sheet is not None
    assert (cuts.sheet.length_mm, cuts.sheet.width_mm) == (120 + 24 + 24, 24 + 24)
    assert cuts_for(stood(anchors="none")).ties == ()  # type: ignore[union-attr]


def test_no_hole_at_all_is_planned_and_said() -> None:
    cuts = cuts_for(stood({"holes": ()}))
    assert cuts is not None
    assert cuts.planned_drains
    assert cuts.planned_ties
    assert cuts.ties
