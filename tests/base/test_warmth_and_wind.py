"""Degrees and winds: read and written in the reader's units, and in finished sentences."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.desk.quantities import read, shown, unit_of

AMERICAN = Units("inch", "gallon", "lb", "F", "mph")


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("A night of −5 °C kills its roots.", "A night of 23 °F kills its roots."),
        ("8 to 12 °C are best", "46 to 54 °F are best"),
        ("−17.8 °C", "0 °F"),
        ("roots come over 40 °C; a gust of 11 m/s", "roots come over 104 °F; a gust of 25 mph"),
        ("45° steep, 6 mm", "45° steep, 6 mm"),
    ],
)
def test_a_sentence_is_told_in_fahrenheit_and_miles(text: str, told: str) -> None:
    assert AMERICAN.told(text) == told
    assert Units().told(text) == text


@given(st.floats(-60, 60))
def test_a_temperature_comes_back_as_it_was_typed(celsius: float) -> None:
    typed = AMERICAN.celsius(celsius, 3)
    assert AMERICAN.parse_celsius(typed) == pytest.approx(celsius, abs=1e-3)
    assert Units().parse_celsius(typed) == pytest.approx(celsius, abs=1e-3)


@pytest.mark.parametrize("u", [Units(), Units(wind_in="km/h"), AMERICAN])
@pytest.mark.parametrize(
    ("name", "value"), [("gust_m_s", 14.0), ("tmin_c", -12.0), ("elevation_m", 420.0), ("latitude_deg", -34.5)]
)
def test_a_field_shows_what_it_reads(u: Units, name: str, value: float) -> None:
    text = shown(name, value, u)
    back = read(name, text, u)
    assert back is not None
    assert back == pytest.approx(value, abs=0.06)
    assert read(name, f"{text} {unit_of(name, u)}".strip(), u) == pytest.approx(back)
    assert read(name, "  ", u) is None
    with pytest.raises(FieldError):
        read(name, "warm", u)


def test_other_units_are_read_where_they_are_written() -> None:
    assert Units().parse_wind("25 mph") == pytest.approx(11.176)
    assert AMERICAN.parse_wind("36 km/h") == pytest.approx(10)
    assert read("elevation_m", "1000 ft", Units()) == pytest.approx(304.8)
    assert read("elevation_m", "300 m", AMERICAN) == 300
    assert AMERICAN.litres(3.785412) == "1.00 gal"
