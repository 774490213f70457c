"""The mixes a new collection starts with: whole recipes, and which of them a tree is given."""

import pytest

from kesh.reference.starters import starter_key, starter_mix_for, starter_mixes
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
