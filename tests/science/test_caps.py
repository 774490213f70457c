"""When a growing tree reaches a limit: closed forms, the tree's own record, and the sentence about it."""

from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.case import case_for
from kesh.advice.rules.caps import caps
from kesh.base.units import Units
from kesh.model import Brief, Collection, Limits, Measure
from kesh.science.looks.caps import trend, year_reached, years_by_trend
from tests.builders import MIX, SITE, planting, pot, tree


def record(rate: float, jitter: tuple[float, ...] = (0, 0, 0, 0)) -> list[Measure]:
    return [Measure(taken=date(2020 + k, 3, 1), height_mm=500 * np.exp(rate * k + j)) for k, j in enumerate(jitter)]


@given(st.floats(0.001, 0.2))
def test_a_clean_record_gives_its_own_rate_back(rate: float) -> None:
    found = trend(record(rate), "height_mm")
    assert found is not None
    assert found.rate == pytest.approx(rate, rel=0.01)
    assert found.high - found.low < 0.01 * rate + 1e-6


def test_scatter_widens_the_range() -> None:
    found = trend(record(0.05, (0.0, 0.03, -0.03, 0.01)), "height_mm")
    assert found is not None
    assert found.low < 0.05 < found.high
    assert found.high - found.low > 0.01
    assert found.count == 4


def test_two_figures_or_one_summer_are_no_record() -> None:
    assert trend(record(0.05)[:2], "height_mm") is None
    summer = [Measure(taken=date(2025, m, 1), height_mm=500 + m) for m in (4, 6, 8)]
    assert trend(summer, "height_mm") is None
    assert trend([Measure(height_mm=500)] * 4, "height_mm") is None


@given(st.floats(0.5, 28))
def test_the_year_of_a_straight_line(years: float) -> None:
    assert year_reached(100 + 3 * years, lambda t: 100 + 3 * t) == pytest.approx(years, abs=0.11)


def test_now_never_and_by_trend() -> None:
    assert year_reached(90, lambda t: 100 + t) == 0
    assert year_reached(900, lambda t: 100 + t) is None
    assert years_by_trend(700, 100, 500, 0.05) == pytest.approx(np.log(1.2) / 0.05, abs=0.06)
    assert years_by_trend(700, 100, 600, 0.05) == 0
    assert years_by_trend(700, 100, 500, 0.0) is None
    assert years_by_trend(7000, 100, 500, 0.01) is None


def made(limits: Limits, stand_mm: float = 0.0, measures: tuple[Measure, ...] = ()) -> Collection:
    one = tree(stage="developing")
    if measures:
        one = one.changed(measures=measures)
    return Collection(
        name="x", site=SITE, trees={"maple": one}, pots={"tray": pot()}, mixes={"house": MIX}, plantings=(planting(),),
        briefs={"maple": Brief(id="maple", limits=limits, stand_mm=stand_mm)},
    )  # fmt: skip


def test_a_stand_brings_the_year_nearer() -> None:
    low = caps(case_for(made(Limits(show_height_mm=760)), "maple", pot_id="tray"), pot())[0]
    high = caps(case_for(made(Limits(show_height_mm=760), 80), "maple", pot_id="tray"), pot())[0]
    assert low.years is not None
    assert high.years is not None
    assert 0 < high.years < low.years
    assert low.record is None
    assert low.sentence(Units()).startswith("The height allowed with its stand of 760 mm: reached in about")


def test_the_record_speaks_beside_the_usual_rate() -> None:
    measures = tuple(record(0.05, (0.0, 0.02, -0.02, 0.0)))
    found = caps(case_for(made(Limits(doorway_mm=800), measures=measures), "maple", pot_id="tray"), pot())[0]
    assert found.record is not None
    early, late = found.record
    assert early is not None
    assert late is not None
    assert early < late
    assert "by its own record" in found.sentence(Units())


def test_no_limit_no_cap_and_what_is_over_is_said() -> None:
    assert caps(case_for(made(Limits()), "maple", pot_id="tray"), pot()) == ()
    over = caps(case_for(made(Limits(doorway_mm=400)), "maple", pot_id="tray"), pot())[0]
    assert over.sentence(Units()) == "The doorway of 400 mm: it is over that now."
