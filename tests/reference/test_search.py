"""One search for everything, in the words that people bring."""

import csv
from importlib.resources import files

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.model import Collection
from kesh.reference.rows import raw_table
from kesh.reference.search import COMMANDS, EXACT, PLACES, explained, find, plain
from kesh.reference.tables import tables
from kesh.ui.commands import COMMANDS as IN_WINDOW
from kesh.ui.commands import command_of
from kesh.ui.rooms import ROOMS


def keys(words: str, kind: str, most: int = 3) -> list[str]:
    return [hit.key for hit in find(words) if hit.kind == kind][:most]


@pytest.mark.parametrize(
    ("words", "kind", "key"),
    [
        ("Rotbuche", "species", "european_beech"), ("érable du Japon", "species", "japanese_maple"), ("erable du japon", "species", "japanese_maple"),
        ("abeto de Douglas", "species", "douglas_fir"), ("melograno", "species", "pomegranate"), ("oliveira", "species", "olive"),
        ("zakuro", "species", "pomegranate"), ("hornbeams", "species", "european_hornbeam"), ("chineese elm", "species", "chinese_elm"),
        ("BIMS", "material", "hard_pumice_3_6"), ("coco peat", "material", "coir_fibre_0_3"), ("Katzenstreu", "material", "calcined_clay_1_4"),
        ("how to tie the tree in", "place", "planting"), ("it stays too wet", "place", "water"), ("when do I repot", "place", "season"),
        ("which of my pots", "place", "line-up"), ("umtopfen", "place", "planting"), ("Sicherung", "command", "back-up"),
        ("dark mode", "command", "settings"), ("perched water table", "word", "perched_water"), ("wet winter", "finding", "wet_winter"),
    ],
)  # fmt: skip
def test_words_of_growers_find_what_they_mean(words: str, kind: str, key: str) -> None:
    assert key in keys(words, kind)


@pytest.mark.parametrize("words", ["monkey puzzle", "thuja plicata", "joshua tree", "abies lasiocarpa", "qwxyz"])
def test_what_is_not_in_the_table_is_never_taken_for_another_in_silence(words: str) -> None:
    assert not any(hit.why == EXACT for hit in find(words) if hit.kind == "species")


def test_a_genus_alone_offers_its_species_the_commonest_first() -> None:
    assert set(keys("ulmus", "species", 9)) >= {"chinese_elm", "field_elm", "american_elm"}
    assert keys("pine", "species")[0] == "scots_pine"


@given(st.sampled_from(sorted(tables().species)))
def test_every_species_is_found_by_each_of_its_own_names(key: str) -> None:
    row = tables().species[key]
    for name in (row.common_name.split(",")[0], row.botanical_name.split(",")[0], key):
        assert key in keys(name, "species", 12)
        assert key in keys(name.upper() + " ", "species", 12)


@given(st.text(max_size=60))
def test_nothing_typed_breaks_it(text: str) -> None:
    found = find(text)
    assert bool(plain(text)) or not found
    assert len({(hit.kind, hit.key) for hit in found}) == len(found)


def test_own_trees_and_pots_and_added_species_are_found(demo: Collection) -> None:
    name = demo.trees["old-ferryman"].name
    assert find(name, demo)[0].key == "old-ferryman"
    assert find(name)[:1] == [] or find(name)[0].kind != "tree"
    pot = next(iter(demo.pots.values()))
    assert any(hit.kind == "pot" and hit.key == pot.id for hit in find(pot.name, demo))


def test_every_row_of_the_table_of_words_leads_to_something_that_is_there() -> None:
    rows = tables()
    known = {"species": rows.species, "material": rows.substrates, "place": PLACES, "command": COMMANDS}
    with files("kesh.reference").joinpath("tables", "words.csv").open(encoding="utf-8") as file:
        told = list(csv.DictReader(file))
    assert not [r for r in told if r["key"] not in known[r["kind"]]]
    assert len({(r["words"].lower(), r["kind"], r["key"]) for r in told}) == len(told)


def test_places_are_the_rooms_of_the_window_and_commands_are_its_commands() -> None:
    assert set(PLACES) == {room.key for room in ROOMS if room.key != "bench"}
    window = {command_of(key) for key in (*COMMANDS, *PLACES)}
    assert window <= set(IN_WINDOW), window - set(IN_WINDOW)
    assert len(window) == len(COMMANDS) + len(PLACES)


def test_words_of_the_trade_are_explained_in_whole_sentences() -> None:
    for row in raw_table("glossary"):
        assert row["means"].endswith("."), row
        assert explained(row["word"].upper()).endswith(".")
    assert "widens" in explained("Nebari")
    assert explained("not a word") == ""
