"""The wet foot by time: a second way of computing it, what every tray of a forest must not read, and what is not judged."""

import math
from dataclasses import replace
from datetime import date

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.advice.assess import assess
from kesh.advice.case import Case, case_for
from kesh.advice.figures import Figures, figures_for
from kesh.advice.report.whole import report
from kesh.demo.lanternfield import demo_collection
from kesh.model import Override, Pot
from kesh.science.stand.stability import crown_area_m2
from kesh.science.water.drying import bare_mm_day, crown_coefficient, days_to_use, leaf_share, surface_store_mm
from tests.kept import examples

DEMO = demo_collection()
DAY = date(2026, 3, 10)


def stood(tree: str, **fields: object) -> tuple[Case, Pot]:
    planting = DEMO.planting_of(tree)
    assert planting is not None
    held = replace(DEMO, trees={**DEMO.trees, tree: DEMO.trees[tree].changed(**fields)}) if fields else DEMO
    return case_for(held, tree, pot_id=planting.pot, today=DAY), held.pots[planting.pot]


def by_small_steps(f: Figures) -> float:
    """Hours in the slowest month of growth, minute by minute."""
    case, water = f.case, f.water
    assert case.species is not None and water is not None and case.blend is not None and case.site is not None  # noqa: PT018
    area, surface = crown_area_m2(case.tree.measure), float(f.soil_surface_mm2[0]) / 1e6
    assert area is not None
    store = float(surface_store_mm(water, case.blend, f.soil_depth_mm)[0])
    ready = min(5.0, store / 2)
    slowest = 0.0
    for month in f.growing:
        # 2.2 times the breath for ten kelvin, its power 3/4 in air; what is said of a species is said of 20 degrees
        need = (case.air_need or 0.0) * min(1.0, math.exp(0.075 * math.log(2.2) * (month.mean_c - 20.0)))
        short = float(water.soil_l[0]) * max(
            0.0, need - float(water.air_mean[0]), need / 2 - float(water.air_bottom_third[0])
        )
        leaf = leaf_share(case.species, month.day, month.mean_c, case.site.latitude_deg or 0.0)
        tree = month.et0_mm_day * crown_coefficient(case.species) * area * leaf
        e0 = float(bare_mm_day(case.species, area, np.array([surface]), month.et0_mm_day)[0])
        used = spent = hours = 0.0
        while used < short and hours < 1000:
            bare = e0 * (1.0 if spent < ready else max(0.0, (store - spent) / (store - ready)))
            used += (tree + bare * surface) / 1440
            spent += bare / 1440
            hours += 1 / 60
        slowest = max(slowest, hours)
    return slowest


@pytest.mark.parametrize("tree", ["mossback", "seven-neighbours", "tollgate", "evening-bell"])
def test_minute_by_minute_it_takes_as_long(tree: str) -> None:
    case, pot = stood(tree)
    f = figures_for(case, [pot])
    assert f.wet_foot_h is not None
    assert float(f.wet_foot_h[0]) == pytest.approx(by_small_steps(f), rel=0.02)


def test_a_forest_in_a_shallow_tray_of_the_usual_mix_is_not_refused() -> None:
    case, pot = stood("seven-neighbours")
    a = assess(case, pot)
    foot = a.finding("wet_foot")
    assert foot is not None
    assert a.figures.water is not None
    # the lowest third is all but full just after watering, and that stands as a figure
    assert float(a.figures.water.air_bottom_third[0]) < 0.02
    assert foot.status in ("fits", "watch")
    assert "lowest third 1%" in foot.text
    assert report(a)["water"]["air_porosity_bottom_third"] < 0.02
    assert a.finding("air_lower_third") is None


def test_wetland_trees_are_not_judged_and_what_is_missing_is_named() -> None:
    case, pot = stood("mossback", species="bald_cypress")
    foot = assess(case, pot).finding("wet_foot")
    assert foot is not None
    assert foot.status == "fits"
    assert "bears standing water" in foot.text
    case, pot = stood("mossback")
    foot = assess(replace(case, site=None), pot).finding("wet_foot")
    assert foot is not None
    assert foot.status == "watch"
    assert "not known" in foot.text
    assert "climate" in foot.remedy


def test_an_older_override_of_the_air_still_softens_it() -> None:
    held = replace(DEMO, overrides=(Override(id="o", tree="rope-ladder", code="air", reason="it hangs in the wind"),))
    planting = held.planting_of("rope-ladder")
    assert planting is not None
    a = assess(case_for(held, "rope-ladder", pot_id=planting.pot, today=DAY), held.pots[planting.pot])
    foot = a.finding("wet_foot")
    assert foot is not None
    assert foot.status == "watch"
    assert "it hangs in the wind" in foot.text


@given(st.floats(0.01, 2), st.floats(0, 2), st.floats(0, 8), st.floats(0.01, 0.3), st.floats(6, 25))
@settings(max_examples=examples(60))
def test_more_to_use_takes_longer_and_more_use_is_quicker(
    wanted: float, tree: float, e0: float, area: float, store: float
) -> None:
    def days(w: float = wanted, t: float = tree) -> float:
        return float(days_to_use(np.array([w]), t, np.array([e0]), np.array([area]), np.array([store]))[0])

    assert days(w=wanted * 1.2) >= days()
    assert days(t=tree + 0.1) <= days() or not np.isfinite(days())
