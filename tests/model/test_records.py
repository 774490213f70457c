"""Records check themselves and never change."""

import math
from datetime import date

import pytest
from pydantic import ValidationError

from kesh.base.errors import FieldError
from kesh.model import Brief, Collection, Hole, Measure, Outline, Profile
from tests.builders import measure, planting, pot, tree


def test_records_are_frozen() -> None:
    with pytest.raises(ValidationError):
        pot().length_mm = 5  # type: ignore[misc]


def test_changing_makes_a_new_record_and_checks_again() -> None:
    old = pot()
    new = old.changed(height_mm=120)
    assert (old.height_mm, new.height_mm) == (100, 120)
    with pytest.raises(FieldError) as err:
        old.changed(height_mm=-4)
    assert err.value.field == "height_mm"
    assert "-4" in str(err.value)


@pytest.mark.parametrize("value", [math.nan, math.inf, -math.inf, -1, 0, 1e9])
def test_absurd_lengths_are_refused(value: float) -> None:
    with pytest.raises(ValidationError):
        pot(length_mm=value)
    with pytest.raises(ValidationError):
        Measure(height_mm=value)


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"floor_mm": 100}, "floor_mm"), ({"feet_mm": 100}, "no body"), ({"wall_mm": 160}, "walls meet"),
        ({"outline": {"kind": "rectangle", "corner_mm": 200}}, "half the smaller side"), ({"outline": {"kind": "round"}}, "one diameter"),
    ],
)  # fmt: skip
def test_pots_that_cannot_be_say_why(fields: dict, words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        pot(**fields)


def test_outlines_and_profiles_that_cannot_be() -> None:
    with pytest.raises(ValidationError, match="three points"):
        Outline(kind="free", points_mm=((0, 0), (1, 1)))
    with pytest.raises(ValidationError, match="rising"):
        Profile(kind="table", table=((0.5, 1), (0.5, 2)))


def test_narrow_holes_serve_wires() -> None:
    p = pot(holes=(Hole(diameter_mm=24), Hole(x_mm=40, diameter_mm=5)))
    assert len(p.drain_holes) == len(p.tie_holes) == 1


def test_the_latest_measure_and_root_mass_count() -> None:
    t = tree(measures=(measure(height_mm=400), measure(height_mm=450)))
    assert t.measure.height_mm == 450
    assert tree(roots=None).roots is None
    assert measure().spread_mm == 420
    assert measure(canopy_left_mm=None).spread_mm is None


def test_the_present_planting_is_the_latest_that_has_not_ended() -> None:
    old = planting(id="a", date=date(2020, 3, 1), ended=date(2024, 3, 1))
    mid, new = planting(id="b", pot="mid", date=date(2024, 3, 1)), planting(id="c", pot="new", date=date(2025, 3, 1))
    c = Collection(plantings=(new, old, mid))
    assert c.planting_of("maple") is new
    assert c.planting_of("maple", "tray") is None
    assert [p.pot for p in c.others_in("new", "larch")] == [], "a tree that is not here stands nowhere"


def test_a_brief_knows_its_schools_only_by_key() -> None:
    assert Brief(id="x").school == "classical"
    with pytest.raises(ValidationError):
        Brief(id="x", horizon_years=99)


@pytest.mark.parametrize(
    ("fields", "told"),
    [
        ({"length_mm": -3}, "length_mm: has to be above 0 (got -3)"), ({"length_mm": "x"}, "length_mm: is no number (got 'x')"),
        ({"colour": "red"}, "colour: is no colour, as #7B5A48 (got 'red')"), ({"acquired": "soon"}, "acquired: is no day, as 2026-03-10 (got 'soon')"),
        ({"holes": 3}, "holes: is no list (got 3)"), ({"wrong": 1}, "wrong: is not known here (got 1)"), ({"name": ""}, "name: is empty (got '')"),
        ({"price": float("nan")}, "price: is no finite number (got nan)"),
    ],
)  # fmt: skip
def test_what_is_wrong_with_a_value_is_said_in_plain_words(fields: dict[str, object], told: str) -> None:
    with pytest.raises(FieldError) as found:
        pot().changed(**fields)
    assert str(found.value) == told


def test_a_value_of_two_million_letters_is_not_echoed() -> None:
    with pytest.raises(FieldError) as found:
        pot().changed(material="a" * 2_000_000)
    assert len(str(found.value)) < 200
    assert "2\u202f000\u202f000 letters" in str(found.value)
