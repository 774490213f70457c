"""Weather files as people have them: units in the head, semicolons, gaps, doubles, wrong units, and what is no such file."""

import contextlib
from datetime import date, timedelta
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.base.errors import BundleError
from kesh.formats.weather_csv import read_weather, weather_of_text
from tests.kept import examples

PLAIN = "date,tmin_c,tmax_c,rain_mm,wind_m_s,rh_pct,sun_h\n2025-01-01,-3,4,1.2,2,80,1\n2025-01-02,-1,5,,2.5,75,2\n"


def test_the_plain_file_and_its_gaps() -> None:
    found = weather_of_text(PLAIN)
    assert [d.date for d in found.days] == [date(2025, 1, 1), date(2025, 1, 2)]
    assert found.days[0].rain_mm == 1.2
    assert found.days[1].rain_mm is None
    assert found.problems == ()


def test_other_units_are_told_in_the_head() -> None:
    text = "Date;Min temp (F);Max temp (F);Rain (in);Wind km/h;Humidity share;Sun minutes\n2025/07/01;50;86;0,5;36;0,6;480\n"
    day = weather_of_text(text).days[0]
    assert (day.tmin_c, day.tmax_c) == pytest.approx((10, 30))
    assert day.rain_mm == pytest.approx(12.7)
    assert day.wind_m_s == pytest.approx(10)
    assert day.rh_pct == pytest.approx(60)
    assert day.sun_h == pytest.approx(8)


def test_twelve_months_by_number_or_name_and_what_is_missing() -> None:
    rows = "".join(
        f"{name},{i},{i + 9},{10 * i},{i / 2}\n"
        for i, name in enumerate(("Jan", "Feb", "March", "apr", "May", "June", "Jul", "Aug", "Sept", "Oct", "11", "12"))
    )
    found = weather_of_text("month,tmin_c,tmax_c,rain_mm,sun_h\n" + rows)
    assert [m.tmin_c for m in found.months] == list(range(12))
    assert found.months[3].sun_h_day == 1.5
    with pytest.raises(BundleError, match="12 missing"):
        weather_of_text("month,tmin_c,tmax_c\n" + "".join(f"{i},1,2\n" for i in range(1, 12)))


def test_a_bad_row_is_one_sentence_and_the_rest_comes_in() -> None:
    text = (
        PLAIN
        + "2025-01-03,9,2,0,2,80,1\nyesterday,1,2,0,1,1,1\n2025-01-05,x,5,,,,\n2025-01-06,1\n2025-01-07,-2,3,-9999,,,\n"
    )
    found = weather_of_text(text)
    assert len(found.days) == 3
    assert len(found.problems) == 4
    assert "below tmin_c" in found.problems[0]
    assert "is no day" in found.problems[1]
    assert found.days[-1].rain_mm is None


def test_units_that_were_not_told_are_suspected() -> None:
    first = date(2024, 1, 1)
    rows = "".join(f"{first + timedelta(n)},50,{70 if n % 2 else 80},0.{1 + n % 3}\n" for n in range(200))
    with pytest.raises(BundleError):
        weather_of_text("date,tmin_c,tmax_c,rain_mm\n" + rows)
    rows = "".join(f"{first + timedelta(n)},40,{44 + n % 3},0.{1 + n % 3}\n" for n in range(200))
    found = weather_of_text("date,tmin_c,tmax_c,rain_mm\n" + rows)
    assert "degrees F" in found.problems[0]
    assert "inches" in found.problems[1]


def test_forecast_days_are_marked_and_order_does_not_matter() -> None:
    text = "date,tmin_c,tmax_c,forecast\n2026-03-02,1,5,yes\n2026-03-01,1,5,\n"
    assert [(d.date.day, d.forecast) for d in weather_of_text(text).days] == [(1, False), (2, True)]
    assert all(d.forecast for d in weather_of_text(text, forecast=True).days)


@pytest.mark.parametrize("text", ["", "\0\1", "a,b\n1,2\n", "date,tmin_c\n2025-01-01,2\n", "date,tmin_c,tmax_c\n"])
def test_what_is_no_weather_file_is_a_sentence(text: str, tmp_path: Path) -> None:
    path = tmp_path / "w.csv"
    path.write_text(text)
    with pytest.raises(BundleError):
        read_weather(path)


@settings(max_examples=examples(60), deadline=None)
@given(st.text(max_size=200))
def test_no_text_brings_it_down(text: str) -> None:
    with contextlib.suppress(BundleError):
        found = weather_of_text("date,tmin_c,tmax_c,rain_mm\n2025-01-01,1,2,3\n" + text)
        # what could be read is not lost to what could not
        assert found.days


@pytest.mark.parametrize("month", ["\N{SUPERSCRIPT TWO}", "13", "-1", "spring"])
def test_what_is_no_month_is_a_sentence(month: str) -> None:
    rows = "".join(f"{month if n == 2 else n},1,5,20\n" for n in range(1, 13))
    with pytest.raises(BundleError, match="is no month; write 1 to 12"):
        weather_of_text("month,tmin_c,tmax_c,rain_mm\n" + rows)
