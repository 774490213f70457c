"""One planting thought through: soil by place, the order of the work by view, findings, aftercare."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.rehearsal import stops, wire_key
from kesh.advice.planting.soil_batch import SCOOP_KEY, WASTE, places_l, soil_batch
from kesh.advice.season.aftercare import Done, care_rows, care_tasks, severity, steps_after
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.model import Brief, DrainageLayer, Event, Feature, Planting, PlantingViews, RootViews, Sector, Stock
from kesh.reference.tables import tables
from tests.advice.test_rank import bench
from tests.builders import MIX, SITE, pot, tree

DEMO = demo_collection()
SPECIES = tables((), ()).species


def plan(*, views: dict[str, str] | None = None, brief: dict[str, object] | None = None, pot_fields: dict[str, object] | None = None,
         tree_fields: dict[str, object] | None = None, more: dict[str, object] | None = None, **fields: object) -> PlantingPlan:  # fmt: skip
    made = pot(**(pot_fields or {}))
    planting = Planting(id="p", tree="maple", pot="tray", **({"mix": "house"} | fields))  # type: ignore[arg-type]
    own = Brief(id="maple", planting_views=PlantingViews(**(views or {})), **(brief or {}))  # type: ignore[arg-type]
    c = bench(
        trees={"maple": tree(**(tree_fields or {}))},
        pots={"tray": made},
        plantings=(planting,),
        briefs={"maple": own},
        **(more or {}),
    )
    return PlantingPlan(assess(case_for(c, "maple", pot_id="tray", on=date(2026, 3, 10)), made), Units())


# --- soil


@given(st.floats(0, 40), st.floats(0, 60), st.floats(0, 30), st.floats(-10, 30))
def test_soil_by_place_adds_up_to_the_room_there_is(mound: float, under: float, head: float, over: float) -> None:
    a = plan(mound_mm=mound, base_layer_mm=under, headspace_mm=head, raise_mm=over).a
    found = places_l(a)
    room = float(a.figures.fresh_soil_l[0]) + float(a.figures.layer_l[0])
    assert sum(found.values()) == pytest.approx(room, rel=1e-3, abs=1e-9)
    assert all(v > 0 for v in found.values())


def test_a_box_of_soil_by_hand() -> None:
    """A straight box: what lies under the roots is its floor times the layer."""
    a = plan(base_layer_mm=20.0).a
    kept = float(a.figures.roots.kept_depth_mm[0])  # type: ignore[union-attr]
    foot = 90 - kept
    assert places_l(a)["under"] == pytest.approx((400 - 16) * (300 - 16) * foot / 1e6, rel=1e-3)


def test_components_settling_scoops_and_what_is_missing() -> None:
    p = plan()
    batch = soil_batch(p.a)
    assert batch is not None
    loose = p.a.figures.components_l(0)
    for line in batch.lines:
        assert line.litres == pytest.approx(loose[line.key] * (1.10 + WASTE), rel=1e-9)
        assert line.scoops == pytest.approx(line.litres / 0.5)
        assert line.have_l is None
    key = batch.lines[0].key
    stock = {key: Stock(id=key, have=0.2), SCOOP_KEY: Stock(id=SCOOP_KEY, have=0.28)}
    less = soil_batch(plan(more={"stock": stock}).a)
    assert less is not None
    assert less.lines[0].missing_l == pytest.approx(less.lines[0].litres - 0.2)
    assert less.lines[0].scoops == pytest.approx(less.lines[0].litres / 0.28)


def test_settling_is_learnt_from_own_cases() -> None:
    events = tuple(
        Event(id=f"e{i}", tree="maple", date=date(2025, 3, 1), kind="repotted", figures=(("settling", 0.22),))
        for i in range(3)
    )
    batch = soil_batch(plan(more={"events": events}).a)
    assert batch is not None
    assert batch.settling.n == 3
    assert batch.settling.value == pytest.approx(0.16)


def test_a_layer_is_measured_apart() -> None:
    layered = MIX.changed(drainage_layer=DrainageLayer(substrate="lava_6_12", thickness_mm=10))
    found = places_l(plan(more={"mixes": {"house": layered}}, base_layer_mm=25.0).a)
    assert found["layer"] == pytest.approx(384 * 284 * 10 / 1e6, rel=1e-3)


# --- the order of the work


def words(p: PlantingPlan) -> list[str]:
    return [s.key for s in p.steps]


def test_the_order_follows_the_school() -> None:
    sawn: dict[str, object] = {"root_views": RootViews(amount="saw")}
    first = words(plan(pot_fields={"height_mm": 60.0}, brief=sawn))
    assert first.index("tie") < first.index("fill")
    assert first.index("lift") < first.index("saw") < first.index("try") < first.index("set")
    assert "saw" not in words(plan(pot_fields={"height_mm": 60.0})), "what a hook takes off is combed"
    late = words(plan(views={"order": "fill_first"}))
    assert late.index("tie") < late.index("fill") < late.index("tighten")
    none = words(plan(anchors="none", views={"order": "fill_first"}))
    assert "tie" not in none
    assert "tighten" not in none


def test_each_view_has_its_step() -> None:
    under, plain = (
        next(s for s in plan(views=views).steps if s.key == "mix").lines
        for views in ({"feed": "under"}, {"feed": "later"})
    )
    assert set(under) - set(plain) == {"A few feed pellets go on the base, never against a cut root."}
    soak, tub, little = (
        next(s for s in plan(views={"watering": v}).steps if s.key == "water").title for v in ("soak", "tub", "little")
    )
    assert len({soak, tub, little}) == 3
    assert "dress" in words(plan(views={"feed": "over"}))


def test_the_clock_starts_when_roots_lie_bare_and_ends_when_roots_are_covered() -> None:
    steps = plan().steps
    assert [s.key for s in steps if s.clock == "start"] == ["surface"]
    assert [s.key for s in steps if s.clock == "end"] == ["fill"]


def test_cautions_stand_only_where_the_work_needs_them() -> None:
    light = plan(
        pot_fields={"height_mm": 140.0, "length_mm": 520.0, "width_mm": 400.0},
        tree_fields={"roots": {"length_mm": 200, "width_mm": 150}},
    )
    assert all(c.key != "root_saw" for s in light.steps for c in s.cautions)
    heavy = plan(brief={"limits": {"lift_kg": 3.0}})
    lift = next(s for s in heavy.steps if s.key == "lift")
    assert any(c.key == "heavy_lift" for c in lift.cautions)
    assert any("two people" in line and "Alone" in line for line in lift.lines)
    thorny = plan(tree_fields={"species": "hawthorn"})
    assert any(c.key == "thorns" for s in thorny.steps for c in s.cautions)


def test_what_stops_the_work_is_told_before_it_begins() -> None:
    weak = plan(tree_fields={"roots": {"health": "sick", "depth_mm": 130}})
    assert any(f.code == "root_removal" for f in stops(weak.a))
    assert stops(plan(brief={"season": "best"}).a) == () or all(f.status == "no" for f in stops(plan().a))


# --- findings


def finding(p: PlantingPlan, code: str):  # type: ignore[no-untyped-def]
    return next((f for f in p.findings if f.code == code), None)


def test_a_wire_over_a_side_left_alone_is_told_and_a_pad_mends_it() -> None:
    roots = {"untouched": (Sector(from_deg=200, to_deg=340, why="feeds the lowest limb"),)}
    p = plan(tree_fields={"roots": roots})
    assert finding(p, "tie_sector").status == "watch"
    assert p.ties is not None
    padded = tuple(w.record(w.id).changed(pad=True) for w in p.ties.wires)
    assert finding(plan(tree_fields={"roots": roots}, ties=padded), "tie_sector").status == "fits"


def test_heights_against_the_soil_line() -> None:
    def graft(**fields: float) -> str:
        found = finding(plan(tree_fields={"m": {"graft_height_mm": 20}}, headspace_mm=6.0, **fields), "named_heights")
        return f"{found.status}: {found.text}"

    level = graft(mound_mm=10.0)
    assert level.startswith("fits: Graft 20 mm"), "the trunk stands on its mound"
    assert graft(mound_mm=30.0) == level
    assert graft(mound_mm=10.0, dressing_mm=5.0).startswith("fits: Graft 15 mm"), "the dressing counts"
    assert graft(mound_mm=10.0, dressing_mm=7.0).startswith("watch: Graft 13 mm")
    assert graft(mound_mm=10.0, raise_mm=-20.0).startswith("no: Graft 4 mm under"), (
        "20 low: 6 of headspace, 10 of mound"
    )
    bare = finding(plan(tree_fields={"features": (Feature(kind="top_roots", height_mm=12),)}), "named_heights")
    assert bare.status == "watch"


def test_the_mound_tells_its_price_to_water() -> None:
    found = finding(plan(mound_mm=25.0), "mound_level")
    assert "Levelled" in found.text
    assert "stays wet instead of" in found.text
    assert finding(plan(), "mound_level") is None


def test_untied_is_fair_where_its_weight_holds_it() -> None:
    heavy = finding(plan(anchors="none", tree_fields={"m": {"mass_kg": 60.0}}), "tie_hold")
    assert heavy.status == "fits"
    gale = {"site": SITE.changed(gust_m_s=25.0)}
    light = finding(plan(anchors="none", tree_fields={"m": {"mass_kg": 0.3}}, more=gale), "tie_hold")
    assert light.status == "no"
    assert "lift from" in light.text


def test_missing_things_are_told_before_the_tree_is_lifted() -> None:
    key = wire_key("aluminium", 2.0)
    short = plan(more={"stock": {key: Stock(id=key, have=0.5)}})
    assert finding(short, "stock").status == "no"
    assert "short" in finding(short, "stock").text
    rich = plan(more={"stock": {key: Stock(id=key, have=50)}})
    assert finding(rich, "stock").status == "fits"
    assert finding(plan(), "stock") is None, "nobody said what there is"


@pytest.mark.parametrize(("share", "status"), [(1.0, "fits"), (0.98, "watch"), (0.9, "no")])
def test_a_hair_less_soil_than_reckoned_is_no_reason_to_wait(share: float, status: str) -> None:
    batch = plan().batch
    assert batch is not None
    stock = {line.key: Stock(id=line.key, have=share * line.litres + 1e-6) for line in batch.lines}
    assert finding(plan(more={"stock": stock}), "stock").status == status


def test_dressing_budget_in_years() -> None:
    found = finding(plan(headspace_mm=26.0, dressing_mm_year=4.0), "dressing")
    assert found.value == pytest.approx(5)
    assert finding(plan(headspace_mm=8.0, dressing_mm_year=4.0), "dressing").status == "watch"


@pytest.mark.parametrize("tree_id", list(DEMO.trees))
def test_every_demo_tree_has_a_plan_in_its_pot(tree_id: str) -> None:
    standing = DEMO.planting_of(tree_id)
    assert standing is not None
    made = PlantingPlan(
        assess(case_for(DEMO, tree_id, pot_id=standing.pot, on=date(2026, 3, 10)), DEMO.pots[standing.pot]), Units()
    )
    assert made.steps
    assert made.findings
    keys = [s.key for s in made.steps]
    assert len(keys) == len(set(keys))


# --- aftercare


def test_severity_by_share_and_one_up_when_bare_rooted() -> None:
    assert [severity(s) for s in (0.0, 0.149, 0.15, 0.349, 0.35, 0.9)] == [
        "light",
        "light",
        "moderate",
        "moderate",
        "heavy",
        "heavy",
    ]
    assert severity(0.1, bare_rooted=True) == "moderate"
    assert severity(0.9, bare_rooted=True) == "heavy"


def test_days_by_hand_for_a_maple_and_a_pine() -> None:
    day = date(2028, 2, 28)
    pine = {
        t.kind: t
        for t in care_tasks("t", "e", day, steps_after(SPECIES["japanese_white_pine"], Done(0.2, False, True)))
    }
    assert pine["shade"].to == day + timedelta(days=21)
    assert pine["shade"].from_ == day
    assert "firm" in pine["shade"].sign
    maple = {
        t.kind: t for t in care_tasks("t", "e", day, steps_after(SPECIES["trident_maple"], Done(0.2, False, True)))
    }
    assert maple["shade"].from_ is None, "counts from the opening leaves, which nobody has seen yet"
    assert "opening leaves" in maple["shade"].sign


def test_untied_trees_have_no_ties_to_check_and_each_step_once() -> None:
    tied = {r.step for r in steps_after(SPECIES["trident_maple"], Done(0.2, False, True))}
    free = {r.step for r in steps_after(SPECIES["trident_maple"], Done(0.2, False, False))}
    assert "remove_ties" in tied
    assert not free & {"remove_ties", "check_ties"}
    for species in SPECIES.values():
        rows = steps_after(species, Done(0.4, True, True))
        assert len({r.step for r in rows}) == len(rows)
        assert all(r.group in (species.group, "all") for r in rows)


def test_the_table_is_whole() -> None:
    assert len(care_rows()) == 252
    assert all(r.end_day >= r.start_day for r in care_rows())


def test_what_washes_roots_counts_one_harder() -> None:
    assert plan(brief={"root_views": RootViews(old_soil="wash")}).a.case.brief.root_views.old_soil == "wash"
    mild = {r.severity for r in steps_after(SPECIES["trident_maple"], Done(0.1, False, True))}
    hard = {r.severity for r in steps_after(SPECIES["trident_maple"], Done(0.1, True, True))}
    assert "moderate" in hard
    assert "moderate" not in mild


def test_a_case_knows_nothing_of_stock_unless_told() -> None:
    a = plan().a
    assert a.case.stock == {}
    assert replace(a.case, stock={"x": Stock(id="x")}).stock
