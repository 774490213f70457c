"""Days in the forms that people write them in."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.days import MONTHS, day_of
from kesh.base.errors import FieldError

TODAY = date(2026, 12, 2)


@pytest.mark.parametrize(
    ("text", "day"),
    [
        ("2025-03-17", date(2025, 3, 17)), ("17.3.25", date(2025, 3, 17)), ("3/17/2025", date(2025, 3, 17)), ("17. März 2025", date(2025, 3, 17)),
        ("17 de marzo de 2025", date(2025, 3, 17)), ("March 17th, 2025", date(2025, 3, 17)), ("20250317", date(2025, 3, 17)), ("17th March", date(2026, 3, 17)),
        ("yesterday", date(2026, 12, 1)), ("gestern", date(2026, 12, 1)), ("tomorrow", date(2026, 12, 3)), ("3 weeks ago", date(2026, 11, 11)),
        ("vor 2 Wochen", date(2026, 11, 18)), ("il y a 3 jours", date(2026, 11, 29)), ("last spring", date(2026, 4, 15)), ("Frühjahr 2024", date(2024, 4, 15)),
        ("March 2025", date(2025, 3, 15)), ("1/1/2024", date(2024, 1, 1)),
    ],
)  # fmt: skip
def test_days_as_people_write_them(text: str, day: date) -> None:
    assert day_of(text, TODAY) == day


@given(st.dates(date(1950, 1, 1), date(2069, 12, 31)), st.sampled_from([0, 1, 2, 3, 4]))
def test_every_day_is_read_in_every_form_that_can_only_be_that_day(day: date, form: int) -> None:
    month = MONTHS[day.month - 1][0]
    text = (
        day.isoformat(), f"{day.day}.{day.month}.{day.year}", f"{day.day} {month} {day.year}", f"{month[:3].upper()} {day.day}, {day.year}", f"{day:%Y%m%d}",
    )[form]  # fmt: skip
    assert day_of(text, TODAY) == day


@given(st.dates(date(2000, 1, 1), date(2060, 12, 31)))
def test_two_figures_that_can_be_two_days_are_asked_and_never_guessed(day: date) -> None:
    text = f"{day.day}/{day.month}/{day.year}"
    if day.day <= 12 and day.day != day.month:
        with pytest.raises(FieldError, match="can be two days"):
            day_of(text, TODAY)
    else:
        assert day_of(text, TODAY) == day


def _said(text: str) -> str:
    try:
        found = day_of(text, TODAY, "date")
    except FieldError as err:
        return str(err)
    return found.isoformat()


@given(st.text(max_size=40))
def test_what_is_no_day_is_a_sentence_that_says_how_to_write_one(text: str) -> None:
    said = _said(text)
    assert (
        "write it as" in said
        or "write the year" in said
        or date(1900, 1, 1) <= date.fromisoformat(said) <= date(2200, 12, 31)
    )


def test_days_to_come_are_meant_where_one_plans_ahead() -> None:
    assert day_of("14 July", TODAY, ahead=True) == date(2027, 7, 14)
    assert day_of("14 July", TODAY) == date(2026, 7, 14)
    assert day_of("14 January", TODAY, ahead=True) == date(2027, 1, 14)
    assert day_of("17 March", TODAY) == date(2026, 3, 17)


@pytest.mark.parametrize("text", ["yesterday", "spring", "17 March", "last week"])
def test_a_list_that_may_be_old_has_no_yesterday(text: str) -> None:
    with pytest.raises(FieldError):
        day_of(text, None)
    assert day_of(text, TODAY) <= TODAY + timedelta(days=183)
