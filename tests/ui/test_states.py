"""What the screens say, worked out without a screen: line-up, shelf, reference, and the session between them."""

import itertools
import math
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.case import case_for
from kesh.advice.rank import rank
from kesh.base.errors import BundleError, FieldError
from kesh.base.units import Units
from kesh.desk import lineup as lineups
from kesh.desk.reference import EDITABLE, FIELD_WORDS, field_words, overridden, table_of
from kesh.desk.shelf import SORTS, colour_typed, hole_words, holes_typed, matching, parse_holes, suits
from kesh.model import Collection, Hole, Lineup
from kesh.store.collection_file import CollectionFile
from kesh.ui.session import LONG_SHELF, Session, with_measure
from tests.builders import pot, tree

FERRY = "old-ferryman"


@pytest.fixture
def session(qapp: object, tmp_path: Path, demo: Collection) -> Session:
    found = Session(CollectionFile.create(tmp_path / "s.kesh", demo))
    found.tree_id = FERRY
    return found


# line-up ---------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("number", "words"),
    [
        (1, "1st"),
        (2, "2nd"),
        (3, "3rd"),
        (4, "4th"),
        (11, "11th"),
        (12, "12th"),
        (13, "13th"),
        (21, "21st"),
        (112, "112th"),
    ],
)
def test_places_are_counted_in_words(number: int, words: str) -> None:
    assert lineups.ordinal(number) == words


def test_sizes_follow_the_units_and_rounds_have_one_diameter() -> None:
    inch = Units(length="inch")
    oval, drum = pot(), pot(outline={"kind": "round"}, width_mm=400)
    assert lineups.size_words(oval, Units()) == "400 × 300 × 100"
    assert lineups.size_words(drum, Units()) == "Ø 400 × 100"
    assert lineups.size_words(oval, inch).startswith(inch.figure(400))
    assert lineups.size_words(oval, inch) != lineups.size_words(oval, Units())


def test_a_seventh_pot_takes_the_place_of_the_oldest_that_is_not_chosen(demo: Collection) -> None:
    case = case_for(demo, FERRY)
    keys = list(demo.pots)[:7]
    line = Lineup(id=FERRY)
    for key in keys[:6]:
        line = lineups.with_pot(line, case, demo.pots[key])
    line = line.changed(chosen=keys[0])
    full = lineups.with_pot(line, case, demo.pots[keys[6]])
    assert full.pots == (keys[0], *keys[2:7])
    assert full.chosen == keys[0]
    assert lineups.with_pot(full, case, demo.pots[keys[3]]) == full


def test_a_pot_put_back_takes_its_trial_and_the_choice_with_it(demo: Collection) -> None:
    case, keys = case_for(demo, FERRY), list(demo.pots)[:3]
    line = Lineup(id=FERRY)
    for key in keys:
        line = lineups.with_pot(line, case, demo.pots[key])
    line = lineups.with_offset(line.changed(chosen=keys[1]), keys[1], 17.26)
    assert next(t for t in line.trials if t.pot == keys[1]).offset_x_mm == 17.3
    less = lineups.without_pot(line, keys[1])
    assert less.pots == (keys[0], keys[2])
    assert {t.pot for t in less.trials} == {keys[0], keys[2]}
    assert less.chosen is None
    assert lineups.without_pot(line, keys[2]).chosen == keys[1]


def test_a_first_line_up_asks_no_other_tree_to_move(demo: Collection) -> None:
    for key, sitter in demo.trees.items():
        case = case_for(demo, key)
        ranking = rank(case, tuple(demo.pots.values()))
        line = lineups.first_lineup(sitter, case, ranking)
        free = [p for p in demo.pots if p not in case.taken and p not in case.rejected]
        assert len(line.pots) == lineups.FIRST
        assert set(line.pots) <= set(free)
        best_free = next(e.pot.id for e in ranking.entries() if e.pot.id in free)
        assert line.pots[0] == best_free
    short = rank(case, tuple(demo.pots[p] for p in list(case.taken)[:2]))
    assert len(lineups.first_lineup(sitter, case, short).pots) == len(short)


def test_bars_of_one_measure_share_a_scale_that_holds_them_all(session: Session) -> None:
    state = session.lineup_state()
    assert state is not None
    for index in range(3):
        low, high = lineups.span_of(state.columns, index)
        for column in state.columns:
            bar = column.bars()[index]
            assert all(low < v < high for v in (bar.value, bar.low, bar.high) if v is not None)
    assert lineups.span_of((), 0) == (0.0, 1.0)


def test_what_is_held_back_is_everything_else_in_order(session: Session) -> None:
    state = session.lineup_state()
    assert state is not None
    rest = [e.pot.id for e in state.held_back(most=1000)]
    assert set(rest) | {c.pot.id for c in state.columns} == set(session.collection.pots)
    assert [state.places[p] for p in rest] == sorted(state.places[p] for p in rest)
    mine = state.held_back(frozenset({"shelf"}), most=1000)
    assert {e.pot.state for e in mine} == {"shelf"}
    assert len(mine) + sum(c.pot.state == "shelf" for c in state.columns) == state.count("shelf")


# session ---------------------------------------------------------------------------------------------------------


def test_a_draft_is_shown_but_never_written(session: Session, tmp_path: Path) -> None:
    before, name = session.file.collection, session.tree
    assert name is not None
    taller = with_measure(name, height_mm=900)
    session.draft([("tree", FERRY, taller)])
    assert session.dragging
    assert session.tree == taller
    assert session.file.collection is before
    assert CollectionFile.open(session.path).collection.trees[FERRY] == name
    session.drop_draft()
    assert session.tree == name
    session.edit("Taller", [("tree", FERRY, taller)])
    assert CollectionFile.open(session.path).collection.trees[FERRY] == taller
    session.undo()
    assert session.tree == name
    session.redo()
    assert session.tree == taller


def test_an_entry_alone_is_the_entry_of_the_ranking(session: Session) -> None:
    ranking = session.ranking()
    assert ranking is not None
    for place in range(len(ranking)):
        entry = ranking.entry(place)
        assert session.entry(entry.pot) == entry


def test_a_long_shelf_keeps_its_order_while_something_is_dragged(
    qapp: object, tmp_path: Path, demo: Collection
) -> None:
    base = list(demo.pots.values())
    wider = [base[i % 40].length_mm + i * 0.1 for i in range(LONG_SHELF + 20)]
    many = {
        f"p{i}": base[i % 40].changed(
            id=f"p{i}",
            length_mm=length,
            width_mm=length if base[i % 40].outline.kind == "round" else base[i % 40].width_mm,
        )
        for i, length in enumerate(wider)
    }
    big = replace(demo, pots=many, plantings=(), lineups={}, rejections=())
    session = Session(CollectionFile.create(tmp_path / "big.kesh", big))
    session.tree_id = FERRY
    line = lineups.with_pot(Lineup(id=FERRY), session.lineup_case(), many["p3"])
    session.edit("One pot", [("lineup", FERRY, line)])
    before = session.ranking()
    assert session.tree is not None
    session.draft([("tree", FERRY, with_measure(session.tree, trunk_diameter_mm=140))])
    assert session.ranking() is before
    state = session.lineup_state()
    assert state is not None
    # the column that is looked at is judged as it stands now, though the order waits
    assert state.columns[0].entry == rank(session.lineup_case(), (many["p3"],), session.units).entry(0)
    session.drop_draft()
    assert session.tree is not None
    session.edit("Thicker", [("tree", FERRY, with_measure(session.tree, trunk_diameter_mm=140))])
    after = session.ranking()
    assert after is not None
    assert before is not None
    assert [e.pot.id for e in after.entries(0, 5)] != [e.pot.id for e in before.entries(0, 5)]


# shelf -----------------------------------------------------------------------------------------------------------

whole = st.integers(-4000, 4000)
holes = st.lists(
    st.builds(
        lambda x, y, d: Hole(x_mm=x / 8, y_mm=y / 8, diameter_mm=d / 8), whole, whole, st.integers(8, 800)
    ),
    max_size=6,
)  # fmt: skip


@given(holes)
def test_holes_are_read_as_they_are_written(made: list[Hole]) -> None:
    assert parse_holes(hole_words(made)) == tuple(made)


@pytest.mark.parametrize("text", ["60 0", "60 0 22 4", "left 0 22", "60;0;22"])
def test_holes_that_cannot_be_read_say_how_to_write_them(text: str) -> None:
    with pytest.raises(FieldError, match="such as 60 0 22"):
        parse_holes(text)


@pytest.mark.parametrize("text", ["60 0", "60 0 22 4", "left 0 22", "60;0;22", "lots"])
def test_holes_typed_in_neither_way_say_how_to_write_them(text: str) -> None:
    with pytest.raises(FieldError, match="2 x 20, 4 wire"):
        holes_typed(text, pot())


@given(st.integers(0, 8), st.integers(0, 8), st.floats(120, 700), st.floats(0.5, 1))
def test_holes_by_their_count_lie_on_the_floor_apart_and_evenly(
    drain: int, ties: int, length: float, share: float
) -> None:
    tray = pot(length_mm=length, width_mm=length * share)
    made, known = holes_typed(f"{drain} drain, {ties} wire", tray)
    assert known
    assert [h.use for h in made] == ["drain"] * drain + ["tie"] * ties
    assert sum(h.x_mm for h in made if h.use == "drain") == pytest.approx(0, abs=0.5 * drain + 1e-6) or drain % 2
    for h in made:
        assert abs(h.x_mm) + h.diameter_mm / 2 < length / 2 - 8
        assert abs(h.y_mm) + h.diameter_mm / 2 < length * share / 2 - 8
    for one, other in itertools.combinations(made, 2):
        assert math.dist((one.x_mm, one.y_mm), (other.x_mm, other.y_mm)) > (one.diameter_mm + other.diameter_mm) / 2


@pytest.mark.parametrize(
    ("text", "colour"), [("blue", "#2F5C8A"), ("#112233", "#112233"), ("112233", "#112233"), ("dunkelgrün", "#314C33"), ("broun", "#6B4A38")]
)  # fmt: skip
def test_colours_are_typed_in_words_or_as_figures(text: str, colour: str) -> None:
    assert colour_typed(text) == colour
    with pytest.raises(FieldError, match="dark green"):
        colour_typed("loud")


def test_the_shelf_is_searched_by_every_word_and_sorted(demo: Collection) -> None:
    assert set(matching(demo, "", None, "name")) == set(demo.pots)
    found = matching(demo, "OVAL unglazed", None, "length")
    assert found
    assert all(demo.pots[p].outline.kind == "oval" or "oval" in demo.pots[p].name.lower() for p in found)
    assert matching(demo, "no-such-word", None, "name") == []
    by_tree = matching(demo, "tollgate", None, "name")
    assert [p.pot for p in demo.plantings if p.tree == "tollgate" and p.ended is None] == by_tree
    for sort, measure in (("length", "length_mm"), ("depth", "inner_depth_mm")):
        assert sort in SORTS
        values = [getattr(demo.pots[p], measure) for p in matching(demo, "", None, sort)]
        assert values == sorted(values)


def test_a_pot_is_offered_to_the_tree_it_serves_best(demo: Collection) -> None:
    from datetime import date

    found = suits(demo, demo.pots["ferry-tray"], date(2026, 3, 10), Units(), most=40)
    assert found[0].tree == FERRY
    assert found[0].verdict == "fits"
    assert len(found) == len(demo.trees)
    for one in found:
        entry = rank(case_for(demo, one.tree, today=date(2026, 3, 10)), (demo.pots["ferry-tray"],)).entry(0)
        assert (one.verdict, one.score) == (entry.verdict, entry.score)


# reference -------------------------------------------------------------------------------------------------------


def test_an_own_figure_lies_over_the_shipped_one_and_goes_again(demo: Collection) -> None:
    row = overridden("species", "trident_maple", "max_root_removal_healthy", "0,2", demo)
    assert row["max_root_removal_healthy"] == "0.2"
    with_own = replace(demo, species_rows=(row,))
    shown = next(r for r in table_of("species", with_own).rows if r.key == "trident_maple")
    plain = next(r for r in table_of("species", demo).rows if r.key == "trident_maple")
    assert shown.own
    assert not plain.own
    assert shown.fields != plain.fields
    bare = overridden("species", "trident_maple", "max_root_removal_healthy", " ", with_own)
    assert "max_root_removal_healthy" not in bare


@pytest.mark.parametrize(("field", "text"), [("max_root_removal_healthy", "plenty"), ("max_root_removal_healthy", "7")])
def test_an_own_figure_that_cannot_be_is_refused(demo: Collection, field: str, text: str) -> None:
    with pytest.raises((FieldError, BundleError)):
        overridden("species", "trident_maple", field, text, demo)


@pytest.mark.parametrize(
    "topic", ["species", "substrates", "materials", "tradition", "schools", "disagreements", "cautions"]
)
def test_every_row_of_a_topic_can_be_found_by_its_own_words(demo: Collection, topic: str) -> None:
    table = table_of(topic, demo)
    assert table.rows
    assert table.note
    for entry in table.rows:
        assert len(entry.cells) == len(table.heads)
        assert entry in table.matching(entry.cells[0])
    assert table.matching("") == table.rows
    assert table.matching("qqq zzz") == ()


def test_every_field_that_can_be_typed_over_has_its_own_words(demo: Collection) -> None:
    fields = {name for topic in EDITABLE for row in table_of(topic, demo).rows for name, _ in row.fields}
    assert set(FIELD_WORDS) <= fields
    for topic in EDITABLE:
        names = {name for row in table_of(topic, demo).rows for name, _ in row.fields}
        assert len({field_words(name) for name in names}) == len(names)


def test_trees_without_roots_or_measures_still_line_up(session: Session) -> None:
    bare = tree(id="bare", roots=None, m={"trunk_diameter_mm": None, "height_mm": None})
    session.edit("New", [("tree", "bare", bare)])
    session.tree_id = "bare"
    state = session.lineup_state()
    assert state is not None
    assert state.columns
    assert all(c.verdict == "unknown" or c.entry.blockers for c in state.columns)
