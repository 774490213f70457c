"""What lies ready before the tree is lifted, and which cautions apply."""

import pytest

from kesh.advice.assess import assess
from kesh.advice.planting.cautions import cautions_for
from kesh.advice.planting.soil_batch import SETTLING, WASTE, soil_batch
from kesh.advice.planting.worksheet import cut_lines, hardware_lines, season_line
from kesh.base.units import Units
from tests.advice.test_rank import bench, maple
from tests.builders import ball, pot, tree

U = Units()


def test_soil_is_the_report_with_settling() -> None:
    a = assess(maple(), pot())
    found = soil_batch(a)
    assert found is not None
    assert found.total_l == pytest.approx(sum(a.figures.components_l(0).values()) * (1 + SETTLING + WASTE))
    assert found.lines[0].scoops == pytest.approx(found.lines[0].litres / 0.5)
    assert found.lines[0].grains == "3–6 mm"
    assert 0.3 * found.total_l < found.dry_kg < 1.2 * found.total_l


def test_no_mix_no_batch() -> None:
    assert soil_batch(assess(maple(mixes={}), pot())) is None


def test_cuts_in_words() -> None:
    low = cut_lines(assess(maple(), pot(height_mm=80)), U)
    assert low[0].startswith("Lower by 8 mm")
    deep = cut_lines(assess(maple(), pot(height_mm=140)), U)
    assert deep[0].startswith("Raise by 48 mm")
    even = cut_lines(assess(maple(), pot(height_mm=90)), U)
    assert "balances" in even[0]
    assert "fits all round" in even[1]


def test_staged_when_one_season_is_not_enough() -> None:
    from kesh.advice.case import case_for

    weak = tree(root_masses=(ball(depth_mm=130, health="weak"),))
    lines = cut_lines(assess(case_for(bench(trees={"maple": weak}), "maple", season="best"), pot()), U)
    assert any("repottings" in line for line in lines)


def test_unmeasured_roots_ask_for_a_look() -> None:
    from kesh.advice.case import case_for

    case = case_for(bench(trees={"maple": tree(roots=None)}), "maple", season="best")
    assert "not measured" in cut_lines(assess(case, pot()), U)[0]
    assert "measured" in hardware_lines(assess(case, pot()), U)[0]


def test_the_sign_comes_before_the_month() -> None:
    line = season_line(assess(maple(), pot()))
    assert line.index("sign") < line.index("Window")


def test_hardware_counts_alike_pieces_once() -> None:
    lines = hardware_lines(assess(maple(), pot()), U)
    assert any(line.startswith("2 × screen 48 × 48 mm") for line in lines)
    assert any(line.startswith("2 × tie wire 2 mm aluminium") for line in lines)


def test_cautions_follow_the_plan() -> None:
    plain = {c.key for c in cautions_for(assess(maple(), pot(height_mm=90)))}
    assert "root_saw" not in plain
    assert {"dry_dust", "wire_ends"} <= plain
    cut = {c.key for c in cautions_for(assess(maple(), pot(height_mm=70)))}
    assert "root_saw" in cut
    assert "drill_pot" in {c.key for c in cautions_for(assess(maple(), pot(holes=())))}
    heavy = pot(length_mm=900, width_mm=700, height_mm=300)
    assert "heavy_lift" in {c.key for c in cautions_for(assess(maple(), heavy))}
    assert "slab_weight" in {c.key for c in cautions_for(assess(maple(), pot(profile={"kind": "slab"}, height_mm=30)))}


def test_the_gravest_caution_comes_first() -> None:
    order = [c.severity for c in cautions_for(assess(maple(), pot(height_mm=70, holes=())))]
    assert order == sorted(order, key=["high", "medium", "low"].index)
