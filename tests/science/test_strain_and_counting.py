"""Strain that fades, n of N, growth by a line through logarithms, roots that fill a pot: closed forms and SciPy."""

from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import binomtest, linregress
from scipy.stats import t as student

from kesh.base.errors import FieldError
from kesh.science.roots.filling import BOUND, Filling, filling
from kesh.science.season.counting import count, spread, wilson
from kesh.science.season.growth_fit import growth_seen, since_cut
from kesh.science.season.learning import learned
from kesh.science.season.strain import Grows, Load, fits_on, left_of, limit_of, strain_on
from kesh.science.season.windows import year_of

ALWAYS = Grows(year_of((15.0,) * 12, (25.0,) * 12))
NEVER = Grows(year_of((-5.0,) * 12, (5.0,) * 12))
DAY = date(2027, 3, 1)


def test_half_is_left_after_sixty_growing_or_two_hundred_and_forty_resting_days() -> None:
    load = Load(DAY, 0.4)
    assert left_of(load, DAY, ALWAYS) == pytest.approx(0.4)
    assert left_of(load, DAY + timedelta(days=60), ALWAYS) == pytest.approx(0.2, rel=1e-3)
    assert left_of(load, DAY + timedelta(days=240), NEVER) == pytest.approx(0.2)
    assert left_of(load, DAY - timedelta(days=1), ALWAYS) == 0


@given(st.lists(st.tuples(st.integers(0, 400), st.floats(0, 1)), max_size=8), st.integers(0, 500))
def test_strain_is_the_sum_of_what_is_left_and_the_largest_of_a_day_is_never_more(
    rows: list[tuple[int, float]], at: int
) -> None:
    loads, day = [Load(DAY + timedelta(days=n), s) for n, s in rows], DAY + timedelta(days=at)
    plain = strain_on(loads, day, ALWAYS)
    assert plain == pytest.approx(sum(left_of(load, day, ALWAYS) for load in loads))
    assert strain_on(loads, day, ALWAYS, same_day=True) <= plain + 1e-12


def test_a_work_waits_until_there_is_room_for_it() -> None:
    loads = [Load(DAY, 0.4)]
    first = fits_on(loads, 0.3, DAY, 0.5, ALWAYS)
    # 0.4 has to fall to 0.2: one half-life
    assert first is not None
    assert (first - DAY).days == pytest.approx(60, abs=1)
    assert fits_on(loads, 0.6, DAY, 0.5, ALWAYS) is None
    assert fits_on([], 0.0, DAY, limit_of("sick"), ALWAYS) == DAY
    # all on one day: the larger of the two counts alone
    assert fits_on(loads, 0.3, DAY, 0.5, ALWAYS, same_day=True) == DAY
    with pytest.raises(FieldError):
        limit_of("splendid")


def test_without_a_climate_months_tell_when_a_tree_grows_and_the_south_is_turned_round() -> None:
    assert Grows(None, 48).growing(date(2027, 7, 1))
    assert not Grows(None, 48).growing(date(2027, 1, 1))
    assert Grows(None, -35).growing(date(2027, 1, 1))
    assert not Grows(None, -35).growing(date(2027, 7, 1))
    assert Grows(None, 48).days(date(2026, 4, 1), date(2027, 4, 1)) == 214


@given(st.integers(1, 400), st.data())
def test_wilson_is_scipys(of: int, data: st.DataObject) -> None:
    n = data.draw(st.integers(0, of))
    told = binomtest(n, of).proportion_ci(0.8, method="wilson")
    assert wilson(n, of) == pytest.approx((told.low, told.high), abs=1e-9)


def test_counts_need_their_whole() -> None:
    assert count(9, 9, 12).words().startswith("9 of 12 (")
    # "about 15 or 20" of 24 stays a range
    rough = count(15, 20, 24)
    assert rough.words().startswith("15 to 20 of 24")
    assert (rough.share_low, rough.share_high) == (wilson(15, 24)[0], wilson(20, 24)[1])
    for n, of in ((1, 0), (5, 4), (-1, 4)):
        with pytest.raises(FieldError):
            wilson(n, of)


def test_spread_is_told_from_four_cases_on() -> None:
    cases = [0.08, 0.12, 0.10, 0.14]
    assert spread(cases[:3]) is None
    told = student.interval(0.8, 3, np.mean(cases), np.std(cases, ddof=1) / 2)
    assert spread(cases) == pytest.approx(told)
    found = learned(0.12, cases)
    assert found.value == pytest.approx((3 * 0.12 + 4 * np.mean(cases)) / 7)


def test_growth_is_the_line_through_the_logarithms() -> None:
    years, sizes = [0.0, 1.0, 2.5, 4.0, 5.0], [300.0, 318, 352, 380, 410]
    found = growth_seen(years, sizes, ["hand"] * 5)
    told = linregress(np.array(years) - 5, np.log(sizes))
    assert found is not None
    assert found.seen_rate == pytest.approx(told.slope)
    assert found.at_last == pytest.approx(np.exp(told.intercept))
    # the band of one more measure, by the textbook formula
    t, n = np.array(years) - 5, 5
    left = np.log(sizes) - (told.intercept + told.slope * t)
    s = np.sqrt((left**2).sum() / (n - 2))
    half = student.ppf(0.9, n - 2) * s * np.sqrt(1 + 1 / n + (2 - t.mean()) ** 2 / ((t - t.mean()) ** 2).sum())
    low, high = found.band(2.0) or (0, 0)
    assert np.log(high / low) / 2 == pytest.approx(half)
    assert found.reaches(found.at(3.0)) == pytest.approx(3.0)


def test_a_tree_that_was_cut_back_grows_anew_and_few_measures_lean_on_the_usual_rate() -> None:
    assert since_cut([300, 330, 200, 220]) == 2
    found = growth_seen([0, 1, 2, 3], [300, 330, 200, 220], ["hand"] * 4, usual_rate=0.02)
    assert found is not None
    assert found.n == 2
    assert found.band(1.0) is None
    assert found.rate == pytest.approx((5 * 0.02 + np.log(1.1)) / 6)
    assert growth_seen([0], [300], ["hand"]) is None
    assert growth_seen([0, 0], [300, 300], ["hand", "hand"]) is None


def test_roots_fill_by_the_logistic_and_signs_reset_the_curve() -> None:
    plain = filling(DAY, 0.4, 0.8)
    t = np.log(0.85 * 0.6 / (0.4 * 0.15)) / 0.8
    due = plain.reaches(BOUND)
    assert due is not None
    assert (due - DAY).days == pytest.approx(t * 365.25, abs=1)
    assert plain.at(due) == pytest.approx(0.85, abs=2e-3)
    year = DAY + timedelta(days=365)
    loose = filling(DAY, 0.4, 0.8, [(year, "loose_at_wall")])
    assert loose.at(year) == pytest.approx(0.45)
    assert loose.rate < 0.8
    # one rate seen against three usual ones
    seen = np.log(0.45 * 0.6 / (0.4 * 0.55)) / (365 / 365.25)
    assert loose.rate == pytest.approx((3 * 0.8 + seen) / 4)
    lifted = filling(DAY, 0.4, 0.8, [(year, "lifted")])
    assert lifted.at(year) == pytest.approx(0.85)
    assert lifted.reaches() == year
    # a sign from before the repotting says nothing of this pot
    assert filling(DAY, 0.4, 0.8, [(DAY - timedelta(days=9), "lifted")]) == plain


def test_a_pot_in_the_far_past_is_empty_and_in_the_far_future_full() -> None:
    full = Filling(date(2026, 3, 1), 0.4, 0.7)
    assert full.at(date.min) == pytest.approx(0.0)
    assert full.at(date.max) == pytest.approx(1.0)
    assert full.at(date(2026, 3, 1)) == pytest.approx(0.4)
