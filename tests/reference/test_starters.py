"""The mixes a new collection starts with: whole recipes, and which of them a tree is given."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.reference.starters import (
    climate_of,
    climates,
    facing,
    starter_key,
    starter_mix_for,
    starter_mixes,
    turned,
    typical,
)
from kesh.reference.tables import tables

ROWS = tables()


def test_every_starter_is_made_of_what_the_table_has_and_says_that_it_is_a_start() -> None:
    assert len(starter_mixes()) == 7
    for key, mix in starter_mixes().items():
        assert mix.id == key
        assert mix.parts
        assert all(part.substrate in ROWS.substrates and part.parts > 0 for part in mix.parts)
        assert "starting point" in mix.notes.lower()


@pytest.mark.parametrize(
    ("species", "purpose", "key"),
    [
        ("japanese_black_pine", "", "open"), ("trident_maple", "", "even"), ("satsuki_azalea", "", "moist"), ("desert_rose", "", "lean"),
        ("bald_cypress", "", "wet"), ("trident_maple", "crop", "tub"), ("trident_maple", "desert", "lean"),
    ],
)  # fmt: skip
def test_a_tree_is_given_the_mix_of_its_kind(species: str, purpose: str, key: str) -> None:
    assert starter_key(ROWS.species[species], purpose) == key
    mix = starter_mix_for(ROWS.species[species], starter_mixes(), purpose)
    assert mix is not None
    assert mix.id == key


def test_every_species_has_a_starter_and_a_lost_one_is_not_guessed() -> None:
    assert {starter_key(row) for row in ROWS.species.values()} <= set(starter_mixes())
    assert starter_key(None) == "even"
    assert starter_mix_for(None, {}) is None


@given(st.sampled_from(sorted(climates())))
def test_a_typical_year_turns_with_the_side_of_the_equator_and_back(key: str) -> None:
    north, south = typical(key, False), typical(key, True)
    assert climate_of(north) == climate_of(south) == key
    assert north.latitude_deg is not None
    assert south.latitude_deg == -north.latitude_deg
    assert south.months[0] == north.months[6]
    assert turned(south) == north
    assert facing(north, True) == south
    assert facing(south, True) == south
    assert facing(facing(north, True), False) == north


def test_months_that_somebody_typed_are_never_turned() -> None:
    own = climates()["cool_wet_summers"].site
    typed = own.changed(months=(own.months[0].changed(tmin_c=-4.5), *own.months[1:]))
    assert climate_of(typed) == ""
    after = facing(typed, True)
    assert after.months == typed.months
    assert typed.latitude_deg is not None
    assert after.latitude_deg == -typed.latitude_deg
