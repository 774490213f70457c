"""What people type and what they read."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.base.units import Units

MM, CM, INCH = Units(), Units(length="cm"), Units(length="inch", volume="quart", mass="lb")


@pytest.mark.parametrize(
    ("units", "text", "mm"),
    [
        (MM, "62", 62), (MM, " 62 mm ", 62), (MM, "6.2 cm", 62), (MM, "6,2cm", 62), (MM, "-12", -12), (MM, "\N{MINUS SIGN}12", -12),
        (CM, "6.2", 62), (CM, "62 mm", 62), (INCH, "2", 50.8), (INCH, "2 1/2", 63.5), (INCH, "1/4 in", 6.35), (INCH, '3"', 76.2),
        (MM, "1 m", 1000), (MM, "1 ft", 304.8), (MM, "30-35 cm", 325), (CM, "30–35", 325), (CM, "30 to 35", 325), (MM, "about 30 cm", 300), (MM, "ca. 30 cm", 300),
        (INCH, "12 1/4", 311.15), (INCH, "2-1/2", 63.5), (INCH, "12½", 317.5), (MM, "3 inches", 76.2), (INCH, "2 1/2 - 3", 69.85), (MM, "28 cm to 12 in", 292.4),
    ],
)  # fmt: skip
def test_lengths_as_they_are_typed(units: Units, text: str, mm: float) -> None:
    assert units.parse_mm(text) == pytest.approx(mm)


@pytest.mark.parametrize(
    "text", ["", "tall", "12 furlong", "1/0", "12 13", "--3", "1e999", "nan", "inf", "35-30 cm", "about", "3-"]
)
def test_what_is_no_measure_is_refused_with_an_example(text: str) -> None:
    with pytest.raises(FieldError) as err:
        MM.parse_mm(text, "height")
    assert err.value.field == "height"


@given(st.floats(1, 5000), st.sampled_from([MM, CM, INCH]))
def test_what_is_shown_reads_back_within_its_rounding(mm: float, units: Units) -> None:
    step = {"mm": 0.5, "cm": 0.5, "inch": 0.127}[units.length]
    assert units.parse_mm(units.mm(mm)) == pytest.approx(mm, abs=step + 1e-9)


def test_figures_are_as_precise_as_they_are_shown() -> None:
    assert MM.mm(62.4) == "62 mm"
    assert CM.mm(62.4) == "6.2 cm"
    assert INCH.mm(63.5) == "2.50 in"
    assert MM.band(62, 94) == "62–94 mm"
    assert MM.litres(4.567) == "4.57 l"
    assert MM.litres(14.567) == "14.6 l"
    assert INCH.litres(1.892706) == "2.00 qt"
    assert MM.kg(3.14) == "3.1 kg"
    assert INCH.kg(1.0) == "2.2 lb"
    assert INCH.parse_litres("2 qt") == pytest.approx(1.892706)
