"""Colours: published pairs of the CIEDE2000 difference, and a pull that behaves."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.rules.colour import SWATCHES, colour_advice
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.model import Collection
from kesh.science.looks.colour import chroma, compared, difference, lab_of, pull
from tests.builders import MIX, SITE, planting, pot, tree

colours = st.tuples(*[st.integers(0, 255)] * 3).map(lambda c: "#{:02X}{:02X}{:02X}".format(*c))


@pytest.mark.parametrize(
    ("one", "other", "published"),
    [
        # Sharma, Wu & Dalal 2005, table 1, pairs 1, 7, 17 and 25
        ((50.0, 2.6772, -79.7751), (50.0, 0.0, -82.7485), 2.0425),
        ((50.0, 0.0, 0.0), (50.0, -1.0, 2.0), 2.3669),
        ((50.0, 2.5, 0.0), (73.0, 25.0, -18.0), 27.1492),
        ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
    ],
)
def test_the_difference_is_the_published_one(
    one: tuple[float, ...], other: tuple[float, ...], published: float
) -> None:
    from coloraide import Color

    found = Color("lab-d65", list(one)).delta_e(Color("lab-d65", list(other)), method="2000")
    assert found == pytest.approx(published, abs=5e-4)


def test_black_white_and_grey() -> None:
    assert lab_of("#000000")[0] == pytest.approx(0, abs=1e-6)
    assert lab_of("#FFFFFF")[0] == pytest.approx(100, abs=1e-3)
    assert chroma("#808080") == pytest.approx(0, abs=0.05)
    assert difference("#000000", "#FFFFFF") == pytest.approx(100, abs=0.1)


@given(colours, colours)
def test_a_difference_has_no_side(one: str, other: str) -> None:
    assert difference(one, other) == pytest.approx(difference(other, one), abs=1e-6)
    assert difference(one, one) == pytest.approx(0, abs=1e-6)
    assert pull(one, {other: 0.7}) >= 0


@given(colours)
def test_a_pot_of_the_tree_s_own_colour_draws_no_eye(colour: str) -> None:
    assert pull(colour, {colour: 1.0}) == pytest.approx(0, abs=1e-9)


def test_bright_blue_under_a_dark_pine_draws_more_than_brown_clay() -> None:
    pine = {"#3F6139": 0.75, "#4B4541": 0.25}
    assert pull("#2A6FE0", pine) > pull("#7B5A48", pine)
    with pytest.raises(FieldError, match="shows no colour"):
        pull("#7B5A48", {"#3F6139": 0.0})
    with pytest.raises(FieldError, match="#rrggbb"):
        lab_of("brownish")


def test_lines_stand_nearest_first_and_leave_out_what_is_not_known() -> None:
    lines = compared("#7B5A48", {"leaf": "#6B8248", "bark": "#7A6A58", "autumn": None})
    assert [x.part for x in lines] == ["bark", "leaf"]
    assert lines[0].words == "echoes it"
    assert compared("#FFFFFF", {"bark": "#201810"})[0].words == "sets it off"


def assessed(species: str | None):  # type: ignore[no-untyped-def]
    held = Collection(
        name="x",
        site=SITE,
        trees={"maple": tree(species=species)},
        pots={"tray": pot()},
        mixes={"house": MIX},
        plantings=(planting(),),
    )
    return assess(case_for(held, "maple", pot_id="tray"), pot(), Units())


def test_the_seasons_are_those_of_the_species() -> None:
    maple = colour_advice(assessed("trident_maple"))
    assert [season for season, _ in maple.pulls] == ["in leaf", "in autumn", "bare"]
    assert "glaze" in maple.tradition
    pine = colour_advice(assessed("japanese_black_pine"))
    assert [season for season, _ in pine.pulls] == ["in leaf"]
    assert "unglazed" in pine.tradition
    nobody = colour_advice(assessed(None))
    assert nobody.status == "unknown"
    assert nobody.lines == ()


def test_colours_of_a_photograph_win_over_the_table() -> None:
    a = assessed("trident_maple")
    seen = colour_advice(a, "#102030", {"bark": "#102030"})
    assert seen.lines[0].part == "bark"
    assert seen.lines[0].difference == pytest.approx(0, abs=1e-6)
    assert {colour_advice(a, colour).status for colour in SWATCHES.values()} == {"fits", "watch"}
