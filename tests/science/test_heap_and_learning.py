"""The heap under a tree, what own cases teach, and when bare roots want mist."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.reference.tables import tables
from kesh.science.roots.clock import prompts
from kesh.science.roots.filling import filling_rate, first_filling, years_until
from kesh.science.roots.heap import DRY_SLOPE_DEG, WET_SLOPE_DEG, cone_volume_l, heap
from kesh.science.season.learning import learned

SPECIES = tables((), ()).species


def test_a_cone_of_45_degrees_is_as_high_as_its_radius() -> None:
    assert cone_volume_l(60, 45) == pytest.approx(np.pi * 60**3 / 3 / 1e6)
    made = heap(cone_volume_l(60, 45), 45, 1000)
    assert made.height_mm == pytest.approx(60)
    assert made.width_mm == pytest.approx(120)


@given(st.floats(0.01, 30), st.floats(10, 70), st.floats(60, 800))
def test_a_heap_holds_its_volume_also_where_its_foot_meets_the_wall(volume: float, slope: float, wide: float) -> None:
    made = heap(volume, slope, wide)
    r, tan = made.width_mm / 2, np.tan(np.radians(slope))
    cone = min(r * tan, made.height_mm)
    drum = made.height_mm - cone
    assert np.pi * r**2 * (drum + cone / 3) / 1e6 == pytest.approx(volume, rel=1e-6)
    assert made.width_mm <= wide + 1e-6


@given(st.floats(0.01, 5))
def test_wetted_fines_stand_steeper_and_higher(volume: float) -> None:
    assert heap(volume, WET_SLOPE_DEG, 2000).height_mm > heap(volume, DRY_SLOPE_DEG, 2000).height_mm


def test_no_heap_of_less_than_nothing() -> None:
    with pytest.raises(FieldError):
        heap(-1, 35, 200)
    with pytest.raises(FieldError):
        cone_volume_l(10, 90)


def test_three_own_cases_weigh_as_much_as_the_default() -> None:
    assert learned(0.10, ()).value == pytest.approx(0.10)
    found = learned(0.10, (0.16, 0.18, 0.20))
    assert found.value == pytest.approx((3 * 0.10 + 3 * 0.18) / 6)
    assert found.n == 3
    assert "3 own cases" in found.words()


@given(st.lists(st.floats(0, 0.5), min_size=1, max_size=30))
def test_what_is_learnt_lies_between_the_default_and_the_cases(cases: list[float]) -> None:
    value, mean = learned(0.1, cases).value, float(np.mean(cases))
    assert min(0.1, mean) - 1e-9 <= value <= max(0.1, mean) + 1e-9


def test_ten_minutes_halved_by_heat_or_wind() -> None:
    maple = SPECIES["trident_maple"]
    assert prompts(maple, 15).mist_min == 10
    assert prompts(maple, 26).mist_min == 5
    assert prompts(maple, 15, windy=True).mist_min == 5
    assert prompts(maple, 30, windy=True, warm=True).mist_min == 5
    assert prompts(maple, None, warm=True).cover_min == 10


def test_felts_sooner_and_water_stores_never() -> None:
    assert (prompts(SPECIES["satsuki_azalea"], 15).mist_min or 0) < 10
    store = next(s for s in SPECIES.values() if s.group == "succulent")
    assert prompts(store, 30).mist_min is None


def test_roots_fill_by_the_logistic_backwards_and_forwards() -> None:
    first, rate = first_filling(1.2, 0.85, 3.0), filling_rate(0.9, 0.24, 4.0)
    assert first == pytest.approx(0.34)
    assert rate == pytest.approx(0.9), "0.06 m2 a litre"
    years = years_until(0.6, first, rate)
    assert 1 / (1 + (1 / first - 1) * np.exp(-rate * years)) == pytest.approx(0.6)
    assert years_until(0.6, 0.7, rate) == 0
    assert filling_rate(0.9, 100, 1) == pytest.approx(1.8)
    assert first_filling(0, 0.85, 3) == 0.05
