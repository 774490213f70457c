"""Heights on the trunk against the soil line, character in shape and finish, and how long the tree fits its passages."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import case_for
from kesh.advice.planting.worksheet import front_lines
from kesh.advice.rules.caps import caps
from kesh.advice.rules.size import wanted_finishes
from kesh.base.units import Units
from kesh.desk.brief import character_words, shape_advice
from kesh.formats.bundle import bundle_of, read_bundle
from kesh.model import Collection, Feature, FeatureKind, Limits, Measure, Trait


def judged(demo: Collection, *features: Feature, raise_mm: float = 0.0, headspace_mm: float = 6.0) -> Assessment:
    tree = demo.trees["old-ferryman"].changed(features=features)
    planting = demo.planting_of(tree.id)
    assert planting is not None
    seat = planting.changed(raise_mm=raise_mm, headspace_mm=headspace_mm, mound_mm=0.0)
    held = replace(demo, trees={**demo.trees, tree.id: tree})
    return assess(case_for(held, tree.id, planting=seat), demo.pots[planting.pot])


def status(a: Assessment, code: str) -> str:
    finding = a.finding(code)
    assert finding is not None
    return finding.status


def test_nothing_is_said_of_heights_that_were_not_marked(demo: Collection) -> None:
    a = judged(demo)
    assert all(a.finding(code) is None for code in ("top_roots", "aerial_root", "wound", "reverse_taper", "tap_root"))


def one(kind: FeatureKind, height_mm: float) -> Feature:
    return Feature(kind=kind, height_mm=height_mm)


@given(st.floats(-40, 40), st.floats(-30, 30))
def test_roots_dry_above_the_soil_and_wounds_rot_below_it(height_mm: float, raise_mm: float) -> None:
    from kesh.demo.lanternfield import demo_collection

    soil = -6.0 - raise_mm
    a = judged(demo_collection(), one("top_roots", height_mm), one("wound", height_mm), raise_mm=raise_mm)
    assert status(a, "top_roots") == ("watch" if height_mm > soil + 0.5 else "fits")
    assert status(a, "wound") == ("watch" if height_mm < soil else "fits")


def test_remedies_carry_the_millimetres(demo: Collection) -> None:
    a = judged(demo, one("top_roots", 20), one("aerial_root", 44))
    high, aerial = a.finding("top_roots"), a.finding("aerial_root")
    assert high is not None
    assert aerial is not None
    # the soil lies 6 mm below the rim, where the top of the root mass is
    assert "26 mm above the soil line" in high.text
    assert "50 mm above the soil" in aerial.text
    assert "tube of about 60 mm" in aerial.remedy


def test_a_taproot_is_held_against_the_room_below(demo: Collection) -> None:
    planting = demo.planting_of("old-ferryman")
    assert planting is not None
    room = demo.pots[planting.pot].inner_depth_mm
    assert status(judged(demo, one("tap_root", -room + 1)), "tap_root") == "fits"
    long = judged(demo, one("tap_root", -room - 25)).finding("tap_root")
    assert long is not None
    assert long.status == "watch"
    assert "Shorten it by 25 mm" in long.remedy


def test_a_trunk_taken_on_its_bulge_is_said(demo: Collection) -> None:
    assert status(judged(demo, one("reverse_taper", 60)), "reverse_taper") == "watch"
    assert status(judged(demo, one("reverse_taper", 200)), "reverse_taper") == "fits"


def with_traits(demo: Collection, tree: str, *traits: Trait) -> Collection:
    changed = demo.trees[tree].changed(traits=traits)
    return replace(demo, trees={**demo.trees, tree: changed})


def test_character_moves_the_outline_asked_for(demo: Collection) -> None:
    plain = case_for(demo, "tollgate")
    gentle = case_for(with_traits(demo, "tollgate", Trait(kind="delicate", strength=3)), "tollgate")
    strong = case_for(with_traits(demo, "tollgate", Trait(kind="powerful", strength=3)), "tollgate")
    asked = [shape_advice(case, None)[0].asked for case in (gentle, plain, strong)]
    assert asked[0] != asked[2]
    row = plain.bands.tradition
    assert asked[0] == " or ".join(row.outline_delicate.split(";")[:2]).replace("_", " ")
    assert asked[2] == " or ".join(row.outline_powerful.split(";")[:2]).replace("_", " ")
    assert character_words(gentle).startswith("Delicate, −1.0 on")


def test_blossom_brings_the_glaze_of_flowering_trees(demo: Collection) -> None:
    plain = case_for(demo, "mossback")
    blooming = case_for(with_traits(demo, "mossback", Trait(kind="blooms", strength=2)), "mossback")
    slight = case_for(with_traits(demo, "mossback", Trait(kind="blooms", strength=1)), "mossback")
    flowering = tuple(plain.bands.tradition.glaze_flowering_fruiting.split(";"))
    assert wanted_finishes(blooming) == flowering
    assert wanted_finishes(slight) == wanted_finishes(plain)
    assert "flower" in shape_advice(blooming, None)[3].why


def test_car_and_bench_are_reached_by_growth(demo: Collection) -> None:
    tree = demo.trees["grey-heron"].changed(stage="developing")
    m = tree.measure
    assert m.height_mm is not None
    assert m.spread_mm is not None
    brief = case_for(demo, tree.id).brief.changed(
        limits=Limits(car_height_mm=m.height_mm + 10, bench_length_mm=m.spread_mm * 1.15)
    )
    held = replace(demo, trees={**demo.trees, tree.id: tree}, briefs={**demo.briefs, tree.id: brief})
    case = case_for(held, tree.id)
    found = {cap.words.split(",")[0]: cap for cap in caps(case, None)}
    assert set(found) == {"The car", "The bench"}
    assert 0 < (found["The car"].years or 0) < 30
    assert 0 < (found["The bench"].years or 0) < 30
    assert "reached in about" in found["The bench"].sentence(Units())
    pot = demo.pots[demo.planting_of(tree.id).pot]  # type: ignore[union-attr]
    tall = assess(case, pot).finding("car_height")
    assert tall is not None
    assert tall.status == "no"
    assert tall.value == pytest.approx(m.height_mm + pot.height_mm, abs=0.5)


def test_a_measure_that_is_missing_leaves_its_cap_out(demo: Collection) -> None:
    tree = demo.trees["grey-heron"].changed(measures=(Measure(height_mm=300),))
    brief = case_for(demo, tree.id).brief.changed(limits=Limits(car_height_mm=900, bench_length_mm=900))
    held = replace(demo, trees={**demo.trees, tree.id: tree}, briefs={**demo.briefs, tree.id: brief})
    assert [c.words for c in caps(case_for(held, tree.id), None)] == ["The car"]


def test_marker_and_front_stand_on_the_work_sheet(demo: Collection) -> None:
    tree = demo.trees["old-ferryman"].changed(front="towards the long branch", marker_deg=40)
    planting = demo.planting_of(tree.id)
    assert planting is not None
    held = replace(demo, trees={**demo.trees, tree.id: tree})
    a = assess(case_for(held, tree.id, pot_id=planting.pot), demo.pots[planting.pot])
    front, marker = front_lines(a)
    assert front == "Front: towards the long branch."
    assert "40° clockwise" in marker


def test_traits_features_and_marker_survive_the_bundle(demo: Collection) -> None:
    tree = demo.trees["wicket"].changed(
        traits=(Trait(kind="deadwood", strength=3),), features=(one("tap_root", -80),), marker_deg=20.0
    )
    again = read_bundle(bundle_of(replace(demo, trees={**demo.trees, "wicket": tree}))).trees["wicket"]
    assert (again.traits, again.features, again.marker_deg) == (tree.traits, tree.features, 20.0)
