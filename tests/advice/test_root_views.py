"""Where growers disagree on root work: what each side changes, and that neither hides the other."""

from dataclasses import replace
from datetime import date

import pytest

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import case_for
from kesh.advice.report.whole import report
from kesh.advice.roots.this_year import this_year
from kesh.advice.roots.views import bears, roots_like_cuttings
from kesh.advice.roots.work import bounds_for, foliage_with_it, plan_for, pockets_for, sawn, tools, work
from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of, read_bundle
from kesh.model import MapRoot, Pocket, RootViews, Sector
from kesh.reference.tables import tables

DAY = date(2026, 3, 20)


def tried(pot: str, tree: str = "mossback", roots: dict[str, object] | None = None, **views: object) -> Assessment:
    """A tree of the demo in a pot, seen by a grower of these views."""
    held = demo_collection()
    one, brief = held.trees[tree], held.briefs[tree]
    assert one.roots is not None
    mass = one.roots.changed(health="normal", **(roots or {}))
    trees = {**held.trees, tree: one.changed(root_masses=(*one.root_masses[:-1], mass))}
    briefs = {**held.briefs, tree: brief.changed(root_views=RootViews(**views))}  # type: ignore[arg-type]
    found = replace(held, trees=trees, briefs=briefs)
    return assess(case_for(found, tree, pot_id=pot, season="best", today=DAY), found.pots[pot])


def limit(a: Assessment) -> float:
    assert a.case.limit_share is not None
    return a.case.limit_share


def test_how_much_at_once() -> None:
    """A hornbeam bears bare roots and the saw, a pine does not: its own row stays."""
    usual = tried("broom-oval")
    row = usual.case.species
    assert row is not None
    assert limit(tried("broom-oval", amount="half")) == pytest.approx(max(0.5, limit(usual) / 0.85) * 0.85)
    assert limit(tried("broom-oval", amount="nothing")) == 0
    pine = tried("training-box", "old-ferryman")
    for amount in ("half", "saw", "all"):
        assert limit(tried("training-box", "old-ferryman", amount=amount)) == limit(pine)
        assert pine.case.species is not None
        assert not bears(pine.case.species, RootViews(amount=amount))  # type: ignore[arg-type]


def test_nothing_this_time_says_so_and_offers_what_is_left() -> None:
    a = tried("broom-oval", roots={"length_mm": 320.0, "depth_mm": 90.0}, amount="nothing")
    finding = a.finding("root_removal")
    assert finding is not None
    assert "You chose to cut nothing" in finding.text
    assert "Keep the present pot" in finding.remedy
    plan = plan_for(a.figures)
    assert plan is not None
    # dead wood is taken out by every view
    kinds = {r.id: r.kind for r in a.case.tree.root_map}
    assert {kinds[s.root] for s in plan.steps if s.action != "keep"} <= {"dead"}


def test_plants_that_root_like_cuttings() -> None:
    rows = tables().species
    assert roots_like_cuttings(rows["jade"])
    assert roots_like_cuttings(rows["desert_rose"])
    assert roots_like_cuttings(rows["fig_microcarpa"])
    assert not roots_like_cuttings(rows["bougainvillea"])
    assert not roots_like_cuttings(rows["japanese_white_pine"])


def test_a_saw_takes_the_combing_below_away() -> None:
    deep = {"taper": 0.0, "depth_mm": 90.0, "length_mm": 260.0, "width_mm": 190.0}
    comb, saw = (tried("broom-oval", roots=deep, amount=amount) for amount in ("stages", "saw"))
    assert sawn(comb.figures) == (0.0, 0.0)
    cut_cm2, below_l = sawn(saw.figures)
    roots = saw.case.roots
    assert roots is not None
    assert saw.figures.roots is not None
    now = this_year(saw.figures)
    assert now is not None
    off = now.bottom_mm
    # the base and the litres below it by hand: an oval of the map's outline
    assert below_l == pytest.approx(cut_cm2 * 100 * off / 1e6, rel=2e-3)
    slow, quick = work(comb.figures), work(saw.figures)
    assert slow is not None
    assert quick is not None
    assert quick.comb < slow.comb
    assert slow.saw == 0
    assert quick.saw == pytest.approx(1.5 * cut_cm2 / 100)
    assert "saw" in tools(saw.figures)


def test_tool_wash_and_paste_change_minutes_and_what_lies_at_hand() -> None:
    usual, rake, wash, paste = (
        tried("broom-oval", **v) for v in ({}, {"tool": "rake"}, {"old_soil": "wash"}, {"seal": True})
    )
    minutes = [work(a.figures) for a in (usual, rake, wash, paste)]
    assert all(m is not None for m in minutes)
    plain, by_rake, washed, sealed = (m for m in minutes if m is not None)
    assert by_rake.comb == pytest.approx(0.55 * plain.comb)
    assert washed.bare > plain.bare
    assert sealed.roots > plain.roots
    assert "rake and hook" in tools(rake.figures)
    assert "hose" in tools(wash.figures)
    assert "cut paste" in tools(paste.figures)
    assert not {"hose", "cut paste"} & set(tools(usual.figures))


def test_sides_in_turn_leave_two_opposite_quarters_alone() -> None:
    a = tried("broom-oval", old_soil="sides")
    bounds, plan = bounds_for(a.figures), plan_for(a.figures)
    assert bounds is not None
    assert plan is not None
    now, next_time = bounds.untouched_in(0), bounds.untouched_in(1)
    assert now != next_time
    at = {r.id: r.azimuth_deg for r in a.case.tree.root_map}
    for step in plan.steps:
        if step.action != "keep":
            free = bounds.untouched_in(round(step.year / bounds.interval_years))
            assert not any(s.holds(at[step.root]) for s in free)
    assert bounds.untouched_in(2) == now


def test_surface_roots_by_view_and_by_school() -> None:
    risen = (
        MapRoot(id="up", azimuth_deg=100, diameter_mm=12, reach_mm=90, kind="rising", side_root_at_mm=40),
        *(MapRoot(id=f"r{n}", azimuth_deg=40 + 80.0 * n, diameter_mm=10, reach_mm=90) for n in range(4)),
    )
    found = {}
    for plate in ("school", "radial", "irregular"):
        a = tried("broom-oval", plate=plate)
        held = replace(a.figures, case=replace(a.case, tree=a.case.tree.changed(root_map=risen)))
        plan = plan_for(held)
        assert plan is not None
        step = plan.step("up")
        assert step is not None
        found[plate] = step.action
    assert found == {"school": "shorten", "radial": "shorten", "irregular": "keep"}


def test_leaf_and_root_on_one_day_or_apart() -> None:
    assert foliage_with_it(tried("broom-oval").figures) is None
    same = tried("broom-oval", top_work="same_day")
    plan = plan_for(same.figures)
    assert plan is not None
    assert foliage_with_it(same.figures) == plan.share


def test_pockets_and_views_survive_a_bundle_and_stand_in_the_report() -> None:
    clay = Pocket(kind="clay", to_deg=360, to_share=0.4, depth_to_mm=30)
    a = tried("broom-oval", roots={"pockets": (clay,), "untouched": (Sector(from_deg=80, to_deg=120, why="graft"),)})
    rows = report(a)["roots"]["pockets"]
    assert [r["kind"] for r in rows] == ["clay"]
    assert rows[0]["volume_l"] > 0
    assert rows[0]["feeder_share"] == pytest.approx(pockets_for(a.figures)[0].part.feeder_share)
    held = demo_collection()
    brief = held.briefs["mossback"].changed(root_views=RootViews(amount="half", seal=True))
    root = held.trees["mossback"].root_map[0].changed(decided="remove", decided_why="in the way")
    tree = held.trees["mossback"].changed(root_map=(root, *held.trees["mossback"].root_map[1:]))
    sent = replace(held, briefs={**held.briefs, "mossback": brief}, trees={**held.trees, "mossback": tree})
    again = read_bundle(bundle_of(sent))
    assert again.briefs["mossback"].root_views == brief.root_views
    assert again.trees["mossback"].root_map[0] == root
