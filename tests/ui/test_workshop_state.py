"""The Workshop's rules without a window: grips lie where they move things, sizes come back, nothing broken is made."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.advice.case import case_for
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.desk.bench import moved_by
from kesh.desk.shelf import facts
from kesh.desk.workshop import (
    FAMILIES,
    LEAST_COLUMN_MM,
    chart_span,
    designs,
    freed,
    live_facts,
    new_design,
    plan_grips,
    profile_grips,
    rule_holes,
    settled,
    with_family,
    with_feet_style,
    with_hole,
    with_one_more_hole,
    with_outline,
    with_point,
    with_value,
)
from kesh.figure.drawing import Words
from kesh.figure.pot_drawing import plan, wall_curves
from kesh.geometry.feet import foot_plans, with_feet
from kesh.geometry.solid import check_shape
from kesh.model import Collection, Hole, Outline, Pot
from tests.kept import examples

DEMO = demo_collection()
BASE = new_design("d", None, None)
U = Units()


def made(family: str) -> Pot:
    return with_family(BASE, family)


@pytest.mark.parametrize("family", [f for f in FAMILIES if f != "slab"])
def test_every_grip_of_the_section_lies_on_what_it_moves_and_moves_it(family: str) -> None:
    pot = made(family)
    outer, inner = wall_curves(pot, pot.length_mm / 2)
    for grip in profile_grips(pot):
        on_outer = np.min(np.hypot(outer[:, 0] - grip.x, outer[:, 1] - grip.y))
        on_inner = np.min(np.hypot(inner[:, 0] - grip.x, inner[:, 1] - grip.y))
        if grip.key in ("base_inset_mm", "belly_mm", "lip_offset_mm"):
            assert on_outer < 0.06 * pot.height_mm + 2, grip.key
        if grip.key == "wall_mm":
            assert on_inner < 1
        # a small pull along its axis changes its own value, and the grip follows the hand
        dx, dy = (0.0, 2.0) if grip.axis.startswith("y") else (2.0, 0.0)
        try:
            after = with_value(pot, grip.key, moved_by(grip, dx, dy))
        except FieldError:
            continue
        again = next(g for g in profile_grips(after) if g.key == grip.key)
        if grip.key not in ("belly_mm", "lip_at_mm", "floor_mm"):
            moved = (again.x - grip.x) if dx else (again.y - grip.y)
            assert moved == pytest.approx(2.0, abs=0.35), grip.key


@settings(max_examples=examples(40))
@given(
    st.sampled_from([f for f in FAMILIES if f != "slab"]),
    st.sampled_from(["length_mm", "width_mm", "height_mm", "wall_mm", "floor_mm", "feet_mm", "base_inset_mm"]),
    st.floats(-400, 900),
)
def test_a_size_is_taken_whole_or_refused_with_a_sentence(family: str, key: str, value: float) -> None:
    pot = made(family)
    refused = ""
    try:
        after = with_value(pot, key, value)
    except FieldError as err:
        refused = str(err)
    if refused:
        assert "\n" not in refused
        assert len(refused) > 12
        return
    check_shape(after)
    held = after.profile.base_inset_mm if key == "base_inset_mm" else getattr(after, key)
    assert held == pytest.approx(max(value, 0.0) if key == "feet_mm" else value, abs=0.06)
    assert after.foot_count == len(foot_plans(after))
    assert after.inner_depth_mm > 0


@given(st.floats(240, 480), st.sampled_from(["rectangle", "oval", "round", "polygon", "lobed"]))
def test_another_outline_keeps_the_size_and_can_be_made(length: float, kind: str) -> None:
    pot = with_value(BASE, "length_mm", round(length, 1))
    after = settled(with_outline(pot, kind), holes_follow=True)
    assert after.length_mm == pot.length_mm
    assert after.outline.kind == kind
    assert (after.width_mm == after.length_mm) == (kind == "round")
    back = settled(with_outline(after, "rectangle"), holes_follow=True)
    assert back.outline.corner_mm > 0
    assert back.width_mm <= back.length_mm


def test_a_freed_outline_stays_about_as_large_and_its_corners_can_be_moved() -> None:
    pot = with_outline(BASE, "oval")
    free = freed(pot)
    assert free.length_mm == pytest.approx(pot.length_mm, rel=0.04)
    assert free.width_mm == pytest.approx(pot.width_mm, rel=0.06)
    grips = [g for g in plan_grips(free) if g.key.startswith("point:")]
    assert len(grips) == len(free.outline.points_mm)
    x, y = free.outline.points_mm[0]
    wider = with_point(free, 0, x + 20, y)
    assert wider.length_mm == pytest.approx(free.length_mm + 20, abs=0.2)
    # the outline stays about the pot's middle
    points = np.array(wider.outline.points_mm)
    assert points.min(axis=0) + points.max(axis=0) == pytest.approx([0, 0], abs=0.2)
    with pytest.raises(FieldError):
        with_point(free, 0, -x, y + 4)


def test_columns_lift_the_body_and_none_sets_it_down() -> None:
    tall = with_feet_style(BASE, "columns")
    assert tall.feet_mm >= LEAST_COLUMN_MM
    assert tall.body_height_mm == BASE.body_height_mm
    assert len(foot_plans(tall)) == 4
    low = with_feet_style(tall, "none")
    assert low.feet_mm == 0
    assert low.foot_count == 0
    assert low.body_height_mm == BASE.body_height_mm


def test_holes_by_hand_and_by_the_rule() -> None:
    assert rule_holes(BASE)
    moved = with_hole(BASE, 0, BASE.holes[0].x_mm + 7, BASE.holes[0].y_mm)
    assert not rule_holes(moved)
    assert with_value(moved, "height_mm", 100).holes == moved.holes
    assert with_value(BASE, "length_mm", 420).holes != BASE.holes
    with pytest.raises(FieldError, match="does not lie inside"):
        with_hole(BASE, 0, 900, 0)
    more = BASE
    for _ in range(5):
        more = with_one_more_hole(more, 12.0)
    assert len(more.holes) == len(BASE.holes) + 5
    crowded = BASE.changed(length_mm=90, width_mm=60, outline=Outline(), holes=(Hole(diameter_mm=30),))
    with pytest.raises(FieldError, match="no room for one more"):
        with_one_more_hole(crowded, 40.0)


@pytest.mark.parametrize("tree", list(DEMO.trees))
def test_a_first_design_is_what_the_school_asks_for_any_tree(tree: str) -> None:
    case = case_for(DEMO, tree)
    pot = new_design("x", tree, case)
    check_shape(pot)
    assert pot.made_for == tree
    assert pot.drain_holes
    band = case.bands.length
    if band.low is not None and band.high is not None:
        assert band.low - 1 <= pot.length_mm <= band.high + 1


@pytest.mark.parametrize("times", [0.002, 0.1, 10.0, 40.0])
@pytest.mark.parametrize("style", ["formal_upright", "cascade", "raft"])
def test_a_first_design_is_a_pot_for_measures_with_a_slip_too(times: float, style: str) -> None:
    tree = DEMO.trees["wicket"]
    m = tree.measure
    fields = {k: v * times for k, v in m.model_dump().items() if k.endswith("_mm") and isinstance(v, float | int)}
    wrong = tree.changed(style=style, measures=(m.changed(**fields),))
    collection = replace(DEMO, trees={**DEMO.trees, wrong.id: wrong})
    pot = new_design("x", wrong.id, case_for(collection, wrong.id))
    check_shape(pot)
    assert pot.inner_depth_mm >= 8
    assert 80 <= pot.length_mm <= 2000


def test_figures_tell_what_is_wrong_with_the_floor() -> None:
    shut = {f.words: f for f in live_facts(BASE.changed(holes=()), U)}
    assert shut["Farthest corner"].value == "no drain"
    assert shut["Holes"].status == "watch"
    good = {f.words: f for f in live_facts(BASE, U)}
    assert good["Holes"].status == "fits"
    assert good["Inside"].value.endswith(f"{BASE.inner_depth_mm:.0f} mm")
    slab = {f.words for f in live_facts(made("slab"), U)}
    assert slab == {"Outside", "Empty"}


def test_lists_of_designs_and_of_pots_to_drill() -> None:
    assert {p.id for p in designs(DEMO)} == {p.id for p in DEMO.pots.values() if p.state in ("design", "ordered")}
    assert [p.id for p in designs(DEMO, "ferryman")] == ["ferry-tray"]
    drill = designs(DEMO, drill=True)
    assert "uncut-oval" in {p.id for p in drill}
    assert all(p.profile.kind != "slab" and p.state not in ("design", "ordered") for p in drill)


@given(st.lists(st.tuples(st.floats(0, 5), st.floats(-1, 1)), max_size=20))
def test_the_chart_holds_every_point(values: list[tuple[float, float]]) -> None:
    right, low, high = chart_span(values)
    assert right >= 1.0
    assert low < 0 < high
    assert all(low <= y <= high for _, y in values)
    # the last one too, with air to its right
    assert all(x < right for x, _ in values)


def test_feet_of_the_bench_are_reckoned_the_same_twice() -> None:
    for pot in DEMO.pots.values():
        once = with_feet(pot)
        assert with_feet(once.changed(foot_count=pot.foot_count)) == once


def test_both_sizes_are_named_wherever_a_pot_is_told(demo: Collection) -> None:
    lobed, tray = demo.pots["honey-lobed"], demo.pots["ferry-tray"]
    told = [item.text for item in plan(lobed) if isinstance(item, Words)]
    assert "340 × 270 stated at the rim, 340 × 253.3 over all" in told
    assert not any("over all" in item.text for item in plan(tray) if isinstance(item, Words))
    for one, named in ((lobed, True), (tray, False)):
        assert ("Over all" in [f.words for f in live_facts(one, Units())]) is named
        assert ("Over all" in [f.words for f in facts(one, Units())]) is named
