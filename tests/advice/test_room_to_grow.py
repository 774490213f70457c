"""Sizes asked for: now or with room, to the horizon, and for a canopy that was just thinned."""

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.assess import Finding, assess
from kesh.advice.case import Case, case_for
from kesh.model import Brief, Collection
from kesh.model.season_views import SeasonViews
from kesh.science.looks.proportion import FILLS_IN
from tests.builders import pot, tree


def case(brief: dict[str, Any] | None = None, **fields: Any) -> Case:
    """A maple of 420 mm spread; the classical school asks 0.6 to 0.75 of its 500 mm height for the length."""
    grower = tree(**fields)
    held = replace(Collection(), trees={grower.id: grower}, briefs={grower.id: Brief(id=grower.id, **(brief or {}))})
    return case_for(held, grower.id)


def length_of(found: Case, length_mm: float) -> Finding:
    finding = assess(found, pot(length_mm=length_mm, width_mm=0.7 * length_mm)).finding("length_band")
    assert finding is not None
    return finding


@pytest.fixture(scope="module")
def high() -> float:
    """The longest pot asked for today."""
    found = case().bands.length.high
    assert found is not None
    return found


def test_a_little_longer_is_room_to_grow_and_far_longer_is_not(high: float) -> None:
    ahead = case().bands_ahead.length.high
    assert ahead is not None
    assert high < ahead
    roomy = length_of(case(), (high + ahead) / 2)
    assert roomy.status == "fits"
    assert "within 5 years" in roomy.text
    assert length_of(case(), ahead + 5).status == "watch"


@pytest.mark.parametrize(
    "brief", [{"season_views": SeasonViews(size="exact")}, {"purpose": "show"}, {"horizon_years": 0}]
)
def test_exact_for_a_show_or_for_today_slightly_too_long_is_a_fault(high: float, brief: dict[str, Any]) -> None:
    assert length_of(case(brief), high + 8).status == "watch"
    assert length_of(case(), high + 8).status == "fits"


def test_a_longer_horizon_never_asks_for_a_shorter_pot() -> None:
    ends = [case({"horizon_years": years}).bands_ahead.length.high or 0.0 for years in (0, 1, 3, 8, 20)]
    assert ends == sorted(ends)
    assert ends[0] < ends[-1]


@given(st.floats(60, 400), st.floats(60, 400))
def test_a_thinned_canopy_widens_the_band_upward_by_a_third_at_most(left: float, right: float) -> None:
    reach = {"canopy_left_mm": left, "canopy_right_mm": right}
    full, thin = case(m=reach).bands.length, case(m=reach | {"thinned": True}).bands.length
    assert thin.low == full.low
    assert full.high is not None
    assert thin.high is not None
    assert full.high - 1e-9 <= thin.high <= full.high * FILLS_IN + 1e-9
    # the height of 500 mm is the basis until the filled-in spread passes it
    if (left + right) * FILLS_IN <= 500:
        assert thin.high == pytest.approx(full.high)


def test_a_band_of_a_thinned_canopy_says_so() -> None:
    wide = {"canopy_left_mm": 300, "canopy_right_mm": 300, "thinned": True}
    assert "filled in" in case(m=wide).bands.length.rule
    assert "filled in" not in case(m=wide | {"thinned": False}).bands.length.rule


def test_growing_on_likes_room_unless_the_grower_says_exact(high: float) -> None:
    grows = {"purpose": "grow_on"}
    assert length_of(case(grows), 2 * high).status == "fits"
    assert length_of(case(grows | {"season_views": SeasonViews(size="exact")}), 2 * high).status == "watch"
