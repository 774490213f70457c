"""Own days as years: leap days, gaps, doubles, forecasts, and normals that come back."""

from datetime import date, timedelta

import numpy as np
import pytest

from kesh.base.errors import FieldError
from kesh.model.site import Day, Month, Site
from kesh.science.climate.own_weather import normals_of, own_years
from kesh.science.climate.weather import many_years

MONTHS = tuple(Month(tmin_c=m, tmax_c=m + 8, rain_mm=50, wind_m_s=2, rh_pct=70, sun_h_day=5) for m in range(12))


def days(first: date, count: int, **more: float) -> list[Day]:
    return [
        Day(date=d, tmin_c=d.month, tmax_c=d.month + 9, rain_mm=1.0 * (d.day % 3 == 0), **more)
        for d in (first + timedelta(n) for n in range(count))
    ]


def test_whole_years_take_the_stead_of_those_that_could_have_been() -> None:
    site = Site(latitude_deg=48, months=MONTHS, daily=tuple(days(date(2019, 1, 1), 365 * 3 + 1)))
    weather = many_years(site, 60, 1)
    assert weather.years == 3
    # 1 March lies on the same place in a leap year
    assert weather.tmin_c[:, 59].tolist() == [3, 3, 3]
    assert weather.tmin_c[:, 364].tolist() == [12, 12, 12]
    # what nobody wrote down is the usual day
    assert np.allclose(weather.wind_m_s, 2.0)
    assert np.array_equal(many_years(site, 5, 9).tmin_c, weather.tmin_c)


def test_gaps_doubles_short_years_and_forecasts_are_told() -> None:
    rows = days(date(2020, 1, 1), 366)
    del rows[100:120]
    again = rows[5].changed(tmin_c=-9.0)
    site = Site(latitude_deg=48, months=MONTHS, daily=(*rows, again, *days(date(2021, 1, 1), 40), *days(date(2022, 1, 1), 365, forecast=True)))  # fmt: skip
    own = own_years(site)
    assert own.names == (2020,)
    assert (own.missing, own.doubled, own.short) == (20, 1, (2021,))
    assert own.days["tmin_c"][0, 5] == -9.0
    assert "20 days missing" in own.words()
    assert "2021 too short" in own.words()
    weather = many_years(site)
    assert np.isfinite(weather.et0_mm).all()
    assert weather.years == 1


def test_forty_years_are_read_and_few_days_change_nothing() -> None:
    long = Site(latitude_deg=48, months=MONTHS, daily=tuple(days(date(1980, 1, 1), 14610)))
    assert many_years(long).years == 40
    few = Site(latitude_deg=48, months=MONTHS, daily=tuple(days(date(2020, 5, 1), 30)))
    assert many_years(few, 7, 1).years == 7


def test_normals_come_back_and_thin_months_are_named() -> None:
    found = normals_of(tuple(days(date(2018, 1, 1), 730, wind_m_s=3.0)))
    assert [m.tmin_c for m in found] == list(range(1, 13))
    assert found[0].wind_m_s == pytest.approx(3.0)
    assert found[0].rh_pct is None
    assert found[2].rain_mm == pytest.approx(10.0)
    with pytest.raises(FieldError, match="months 7"):
        normals_of(tuple(d for d in days(date(2018, 1, 1), 365) if d.date.month != 7))


def test_two_places_that_differ_in_one_day_are_two_places() -> None:
    rows = days(date(2019, 1, 1), 365)
    one = Site(latitude_deg=48, months=MONTHS, daily=tuple(rows))
    other = Site(latitude_deg=48, months=MONTHS, daily=(*rows[:9], rows[9].changed(tmin_c=-5.0), *rows[10:]))
    same = Site(latitude_deg=48, months=MONTHS, daily=tuple(days(date(2019, 1, 1), 365)))
    assert hash(one) == hash(same)
    assert one == same
    assert one != other
    assert many_years(other).tmin_c[0, 9] == -5.0
    assert many_years(one).tmin_c[0, 9] == 1.0
