"""A tree that comes in for the cold: which days it stands in a room, and what weather it has there."""

from dataclasses import fields

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.reference.starters import climates
from kesh.science.climate.weather import many_years, usual_year, with_indoors
from kesh.science.season.windows import ROOM_LEAST_C, ROOM_MOST_C, indoor_days, room_c
from tests.kept import examples

DAYS = 365
# a year by hand: 15 degrees, coldest in mid January
CALM = np.tile(15.0 - 10.0 * np.cos(2 * np.pi * (np.arange(DAYS) - 15) / DAYS), (1, 1))


def test_three_cold_nights_bring_it_in_and_two_do_not() -> None:
    for nights, days in ((2, 0), (3, 3)):
        night = np.full((1, DAYS), 12.0)
        night[0, 200:230] = 20.0
        night[0, 20 : 20 + nights] = 4.0
        inside = indoor_days(night, 5.0)
        assert inside.sum() == days
        assert not days or inside[0, 20:23].all()


def test_it_stays_in_from_the_first_cold_run_to_the_last_and_warm_spells_between_do_not_bring_it_out() -> None:
    night = np.full((1, DAYS), 12.0)
    night[0, 190:230] = 20.0
    night[0, 330:334] = 3.0
    night[0, 60:63] = 3.0
    inside = indoor_days(night, 5.0)[0]
    assert inside[330:].all()
    assert inside[:63].all()
    assert not inside[63:330].any()


@given(low=st.floats(-15, 24), more=st.floats(0, 10), turn=st.integers(0, DAYS - 1))
@settings(max_examples=examples(60))
def test_a_tender_tree_stands_in_as_long_or_longer_and_the_calendar_does_not_matter(
    low: float, more: float, turn: int
) -> None:
    year = CALM
    less, longer = indoor_days(year, low), indoor_days(year, low + more)
    assert not (less & ~longer).any()
    # south of the equator the same year begins half a year away, and everywhere else it is only turned
    assert np.roll(less, turn, axis=1).sum() == indoor_days(np.roll(year, turn, axis=1), low).sum()
    edges = int(np.abs(np.diff(np.r_[less[0], less[0][:1]].astype(int))).sum())
    assert edges in (0, 2), "one winter, one stay"


@given(st.floats(-40, 45))
def test_a_room_is_warm_and_never_hot(outside: float) -> None:
    assert ROOM_LEAST_C <= float(room_c(np.array(outside))) <= ROOM_MOST_C


@pytest.mark.parametrize("key", climates())
def test_inside_it_has_no_rain_and_outside_the_weather_is_untouched(key: str) -> None:
    site = climates()[key].site
    for weather in (usual_year(site), many_years(site, 3, 1)):
        assert with_indoors(weather, None) is weather
        inside = indoor_days(weather.tmin_c, 8.0)
        found = with_indoors(weather, 8.0)
        assert not found.rain_mm[inside].any()
        assert (found.et0_mm <= weather.et0_mm + 1e-12).all()
        assert (found.tmin_c[inside] >= ROOM_LEAST_C).all()
        for field in fields(weather):
            before, after = getattr(weather, field.name), getattr(found, field.name)
            if before is not None:
                assert np.array_equal(np.asarray(before)[~inside], np.asarray(after)[~inside]), field.name
