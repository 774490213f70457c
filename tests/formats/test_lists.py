"""Lists as people have them: nothing comes in quietly wrong, nothing good is lost beside a bad row."""

import contextlib
import csv
import io
from datetime import date
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import BundleError, KeshError
from kesh.formats.lists.pots import pots_of, read_pots
from kesh.formats.lists.table import decoded, read_table, table_of
from kesh.formats.lists.trees import trees_csv, trees_of
from kesh.geometry.usual import usual_body
from kesh.model import Measure
from kesh.reference.find import species_like
from kesh.reference.tables import tables

SPECIES = tables().species
HEAD = "name,length_mm,width_mm,height_mm\n"


@pytest.mark.parametrize(
    ("text", "encoding", "sizes"),
    [
        ("sep=;\nName;Length (cm);Width (cm);Height (cm)\nBarge;47,0;31;7,6\n", "utf-8", (470, 310, 76)),
        ("Name; Length; WIDTH ;height_mm\nBarge; 30 cm; 12 in; 80\n", "latin-1", (300, 304.8, 80)),
        ("name,length,width,height\nBarge, 12\", 8 1/2 in, 3\"\n", "utf-16", (304.8, 215.9, 76.2)),
        ("Pot\tL\tW\tH\nBarge\t30 cm\t0.2 m\t80 mm\n", "utf-8-sig", (300, 200, 80)),
        ("name,length in cm,width in cm,height in cm\nBarge,\"1.000,0\",20,8\n", "utf-8", (10000, 200, 80)),
        ("NAME,LENGTH_MM,WIDTH_MM,HEIGHT_MM\r\nBarge,300,200,80\r\n", "utf-16-le", (300, 200, 80)),
    ],
)  # fmt: skip
def test_figures_and_heads_in_other_people_s_words(
    tmp_path: Path, text: str, encoding: str, sizes: tuple[float, ...]
) -> None:
    path = tmp_path / "mine.csv"
    path.write_bytes(text.encode(encoding))
    found = read_pots(path)
    assert not found.problems
    (one,) = found.pots
    assert (one.length_mm, one.width_mm, one.height_mm) == pytest.approx(sizes)
    assert one.name == "Barge"


def test_no_column_and_no_word_about_holes_is_not_no_holes(tmp_path: Path) -> None:
    path = tmp_path / "a.csv"
    path.write_text(HEAD + "A,300,200,80\n")
    assert not read_pots(path).pots[0].holes_known
    path.write_text("name,length,width,height,holes\nA,300,200,80,\nB,300,200,80,none\nC,300,200,80,0 0 20 tie\n")
    a, b, c = read_pots(path).pots
    assert not a.holes_known
    assert b.holes_known
    assert b.holes == ()
    assert not c.holes[0].drains


@pytest.mark.parametrize("at", range(4))
def test_an_unclosed_quote_loses_one_row_only(at: int) -> None:
    rows = [f"Pot {i},{300 + i},200,80" for i in range(4)]
    rows[at] = f'"Pot {at},{300 + at},200,80'
    found = pots_of(table_of(HEAD + "\n".join(rows), "a.csv"), "a.csv")
    assert len(found.pots) == 3
    assert [p.split(":")[0] for p in found.problems] == [f"line {at + 2}"]
    assert "quote" in found.problems[0]


def test_a_cell_may_run_over_lines() -> None:
    text = 'name,length,width,height,notes\n"A",300,200,80,"two\nlines, one cell"\nB,310,210,90,\n'
    found = pots_of(table_of(text, "a.csv"), "a.csv")
    usual = "Wall, floor and feet: usual ones, not measured."
    assert [p.notes for p in found.pots] == [f"two\nlines, one cell {usual}", usual]


def test_what_is_odd_is_said_beside_the_row() -> None:
    text = (
        HEAD.strip()
        + ",material,holes\nA,300,200,80,ceramic,0 0 20\nB,300,200,80,stoneware,900 0 20\nC,300,200,80,stoneware,0 0 20\n"
    )
    found = pots_of(table_of(text, "a.csv"), "a.csv")
    assert len(found.pots) == 3
    assert "ceramic" in found.rows[0].told
    assert "does not lie on the floor" in found.rows[1].told
    assert found.rows[2].told == ""
    assert ("material", "material") in found.understood.lines()


def test_a_diameter_makes_a_round_pot_and_words_make_shapes() -> None:
    text = "name,Ø cm,dia (cm),height (cm),shape\nA,,22,8,drum\nB,,26,12,hexagon\n"
    a, b = pots_of(table_of(text, "a.csv"), "a.csv").pots
    assert (a.outline.kind, a.length_mm, a.width_mm) == ("round", 220, 220)
    assert (b.outline.kind, b.outline.sides) == ("polygon", 6)


def test_trees_come_in_by_any_part_of_a_name() -> None:
    text = "Tree;Species;Style;Height (cm);Trunk;Spread\nGate;hornb europ;informal;43,0;52 mm;40 cm\nOdd;moon tree;spiral;50;5 cm;\n;;;;;\n"
    found = trees_of(table_of(text, "trees.csv"), "trees.csv", SPECIES, date(2026, 3, 1))
    gate, odd = found.trees
    assert gate.species == "european_hornbeam"
    assert gate.style == "informal_upright"
    assert gate.measure.height_mm == 430
    assert gate.measure.canopy_left_mm == gate.measure.canopy_right_mm == 200
    assert odd.species is None
    assert "moon tree" in odd.notes
    assert "'spiral' is not known" in found.odd[1]
    with pytest.raises(BundleError, match="no table of trees"):
        trees_of(table_of("from,to\na,b\n", "m.csv"), "m.csv", SPECIES, date(2026, 3, 1))


@pytest.mark.parametrize(
    ("typed", "first"),
    [("hornbeam", "european_hornbeam"), ("Carpinus betulus", "european_hornbeam"), ("white pine", "japanese_white_pine"), ("trident mapel", "trident_maple")],
)  # fmt: skip
def test_species_are_found_by_part_of_any_name(typed: str, first: str) -> None:
    assert first in [hit.key for hit in species_like(typed, SPECIES)]


def test_nothing_like_it_finds_nothing() -> None:
    assert species_like("zzzz qqqq", SPECIES) == []
    assert species_like("  ", SPECIES) == []


def test_what_is_no_text_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "sheet.csv"
    path.write_bytes(b"PK\x03\x04\x00\x00\x00binary\x00\x01")
    with pytest.raises(BundleError, match="another kind"):
        read_table(path)
    path.write_bytes(b"")
    with pytest.raises(BundleError, match="is empty"):
        read_table(path)


@given(st.binary(max_size=400))
def test_any_bytes_are_a_table_or_a_sentence(body: bytes) -> None:
    with contextlib.suppress(KeshError):
        found = pots_of(table_of(decoded(body, "x.csv"), "x.csv"), "x.csv")
        assert all(r.record is not None or r.told for r in found.rows)


cell = st.one_of(
    st.text(max_size=12),
    st.sampled_from(["30 cm", "12 in", '"', "3,5", "1e999", "9" * 400, "-", "nan", "0 0 20", "oval"]),
)


@given(st.lists(st.lists(cell, min_size=4, max_size=9), max_size=6), st.sampled_from([",", ";", "\t"]))
def test_any_cells_are_rows_or_sentences(rows: list[list[str]], parting: str) -> None:
    head = parting.join(["name", "length", "width", "height", "outline", "holes", "material", "price", "volume"])
    text = "\n".join([head, *(parting.join(r) for r in rows)])
    found = pots_of(table_of(text, "x.csv"), "x.csv")
    assert all(r.record is not None or r.told for r in found.rows)


def test_rows_without_ids_get_their_own_and_a_second_list_comes_in_beside_the_first() -> None:
    first = pots_of(
        table_of("name,length_mm,width_mm,height_mm\nReed oval,300,220,70\nReed oval,310,220,70\n", "a.csv"), "a.csv"
    )
    assert [p.id for p in first.pots] == ["reed-oval", "reed-oval-2"]
    there = {p.id: p for p in first.pots}
    other = pots_of(
        table_of("name,length_mm,width_mm,height_mm\nReed oval,400,300,90\nBarley round,200,200,100\n", "b.csv"),
        "b.csv",
        there,
    )
    assert not other.problems
    assert [p.id for p in other.pots] == ["reed-oval-3", "barley-round"]
    again = pots_of(
        table_of("name,length_mm,width_mm,height_mm\nReed oval,300,220,70\nReed oval,305,220,70\n", "a.csv"),
        "a.csv",
        there,
    )
    assert again.problems == ("line 2: Reed oval is there already, the same in all that is said; left out",)
    assert [p.length_mm for p in again.pots] == [305]


def test_what_a_list_says_nothing_of_is_usual_and_told_and_never_nought() -> None:
    (pot, flat, told) = pots_of(
        table_of(
            "name,length_mm,width_mm,height_mm,feet_mm,feet_style,wall_mm,floor_mm\n"
            "Plain,360,260,80,,,,\nOn the bench,360,260,80,,none,,\nSaid,360,260,80,5,block,9,11\n",
            "a.csv",
        ),
        "a.csv",
    ).pots
    assert (pot.wall_mm, pot.floor_mm, pot.feet_mm) == usual_body(360, 260, 80)
    assert pot.notes == "Wall, floor and feet: usual ones, not measured."
    assert flat.feet_mm == 0
    assert "feet" not in flat.notes
    assert (told.feet_mm, told.wall_mm, told.floor_mm, told.notes) == (5, 9, 11, "")


def test_a_list_of_trees_brought_in_twice_brings_nothing_the_second_time() -> None:
    text = "name,species,height_mm\nHedge end,european_hornbeam,400\nHedge end,european_hornbeam,420\n"
    day = date(2026, 3, 1)
    first = trees_of(table_of(text, "t.csv"), "t.csv", SPECIES, day)
    assert [t.id for t in first.trees] == ["hedge-end", "hedge-end-2"]
    there = {t.id: t for t in first.trees}
    again = trees_of(table_of(text, "t.csv"), "t.csv", SPECIES, date(2026, 5, 1), there)
    assert not again.trees
    assert again.problems[0] == "line 2: Hedge end is there already, with these figures; left out"
    other = trees_of(
        table_of("name,species,height_mm\nHedge end,european_hornbeam,500\n", "u.csv"), "u.csv", SPECIES, day, there
    )
    assert [t.id for t in other.trees] == ["hedge-end-3"]


def test_a_long_note_of_the_list_is_kept_whole() -> None:
    note = "n" * 3990
    (pot,) = pots_of(table_of(f"name,length_mm,width_mm,height_mm,notes\nA,300,200,80,{note}\n", "a.csv"), "a.csv").pots
    assert pot.notes == note


def test_trees_go_out_as_a_list_and_come_back_the_same() -> None:
    from kesh.demo.lanternfield import demo_collection

    demo = demo_collection()
    text = trees_csv(demo.trees.values(), SPECIES)
    # a program that is not ours reads the same
    assert [r["id"] for r in csv.DictReader(io.StringIO(text))] == list(demo.trees)
    back = trees_of(table_of(text, "trees.csv"), "trees.csv", SPECIES, date(2026, 3, 1))
    assert not back.problems
    for tree in back.trees:
        told = demo.trees[tree.id]
        assert (tree.name, tree.species, tree.style, tree.stage) == (told.name, told.species, told.style, told.stage)
        for name in (*(n for n in Measure.model_fields if n.endswith("_mm")), "mass_kg", "taken"):
            assert getattr(tree.measure, name) == getattr(told.measure, name), (tree.id, name)


@pytest.mark.parametrize(
    ("head", "row", "height", "trunk"),
    [
        ("Baum;Art;Höhe;Stamm;Breite", "Fritz;Mädchenkiefer;65;8;55", 650, 80), ("name;species;height;trunk;spread", "A;shimpaku;45;52;40", 450, 52),
        ("name;species;height_mm;trunk;spread", "A;shimpaku;450;52;400", 450, 52), ("name;species;Height (cm);trunk;spread", "A;shimpaku;45;5,2;40", 450, 52),
        ("name;species;height;trunk;spread", "A;shimpaku;450;52;400", 450, 52), ("name;species;height;trunk;spread", "A;shimpaku;about 45 cm;2 in;30-35 cm", 450, 50.8),
    ],
)  # fmt: skip
def test_beside_heights_in_cm_bare_figures_are_cm_and_a_trunk_thicker_than_the_tree_is_not(
    head: str, row: str, height: float, trunk: float
) -> None:
    tree = trees_of(table_of(f"{head}\n{row}\n", "t.csv"), "t.csv", SPECIES, date(2026, 3, 1)).trees[0]
    assert tree.measure.height_mm == pytest.approx(height)
    assert tree.measure.trunk_diameter_mm == pytest.approx(trunk)
    assert tree.species is not None
    assert "as written" in tree.notes
