"""Shelf and Reference; files in and out; the printed sheet."""

import json
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtTest import QTest

from kesh.desk.reference import TOPICS, table_of
from kesh.desk.shelf import facts, matching, parse_holes, suits
from kesh.formats.bundle import load_bundle
from kesh.formats.lists.pots import read_pots
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers, Opener


@pytest.fixture
def shelf(window: MainWindow) -> MainWindow:
    window.do("shelf")
    return window


def test_all_pots_stand_on_the_shelf_and_search_narrows_them(shelf: MainWindow) -> None:
    sheet = shelf.face("shelf").pots
    assert sheet.title.text() == "48 pots, 20 free"
    sheet.search.setText("honeyjar")
    assert sheet.model.rows == ["honey-crock"]
    sheet.search.setText("glaze oval")
    assert len(sheet.model.rows) > 3
    sheet.search.clear()
    sheet.filters["wish"].click()
    assert len(sheet.model.rows) == 4
    assert "4 shown" in sheet.title.text()
    shelf.grab()


def test_sorting(shelf: MainWindow) -> None:
    c = shelf.session.collection
    lengths = [c.pots[k].length_mm for k in matching(c, "", None, "length")]
    assert lengths == sorted(lengths)
    depths = [c.pots[k].inner_depth_mm for k in matching(c, "", None, "depth")]
    assert depths == sorted(depths)


def test_the_card_of_a_pot_edits_it(shelf: MainWindow) -> None:
    panel = shelf.face("shelf").card
    shelf.face("shelf").choose("barge")
    assert panel.head.text() == "Barge"
    panel.fields["height_mm"].entered.emit(90.0)
    assert shelf.session.collection.pots["barge"].height_mm == 90
    panel.fields["wall_mm"].entered.emit(400.0)
    assert shelf.session.collection.pots["barge"].wall_mm == 9
    assert "walls meet" in shelf.status.message
    panel.outline.chosen.emit("oval")
    assert shelf.session.collection.pots["barge"].outline.kind == "oval"
    panel.outline.chosen.emit("free")
    assert shelf.session.collection.pots["barge"].outline.kind == "oval"
    panel.outline.chosen.emit("round")
    assert shelf.session.collection.pots["barge"].width_mm == 470
    panel.fields["length_mm"].entered.emit(300.0)
    assert shelf.session.collection.pots["barge"].width_mm == 300
    panel.state.chosen.emit("wish")
    panel.profile.chosen.emit("lip")
    panel.fields["lip_offset_mm"].entered.emit(-9.0)
    pot = shelf.session.collection.pots["barge"]
    assert (pot.state, pot.profile.kind, pot.profile.lip_offset_mm) == ("wish", "lip", -9)
    shelf.grab()


def test_holes_numbers_and_words_are_typed(shelf: MainWindow) -> None:
    panel = shelf.face("shelf").card
    shelf.face("shelf").choose("uncut-oval")
    for field, text in (
        (panel.holes, "-60 0 22; 60 0 22"),
        (panel.volume, "4,6"),
        (panel.mass, "3.1"),
        (panel.price, "55"),
        (panel.defects, "chip"),
        (panel.name, "Cut oval"),
    ):
        field.setText(text)
        field.editingFinished.emit()
    pot = shelf.session.collection.pots["uncut-oval"]
    assert len(pot.holes) == 2
    assert (pot.measured_volume_l, pot.measured_mass_kg, pot.price, pot.defects, pot.name) == (
        4.6,
        3.1,
        55,
        "chip",
        "Cut oval",
    )
    panel.holes.setText("?")
    panel.holes.editingFinished.emit()
    assert not shelf.session.collection.pots["uncut-oval"].holes_known
    panel.holes.setText("some big ones")
    panel.holes.editingFinished.emit()
    assert "x, y and diameter" in shelf.status.message
    panel.mass.setText("heavy")
    panel.mass.editingFinished.emit()
    assert "no number" in shelf.status.message


def test_facts_and_suits(shelf: MainWindow) -> None:
    session = shelf.session
    found = {f.words: f for f in facts(session.collection.pots["riverstone-oval"], session.units)}
    assert "Measured by water" in found
    assert found["Lift-out"].value == "straight out"
    assert facts(session.collection.pots["honey-crock"], session.units)[-2].status == "watch"
    best = suits(session.collection, session.collection.pots["ferry-tray"], session.today, session.units)
    assert best[0].verdict == "fits"
    order = [{"fits": 0, "watch": 1, "unknown": 2, "no": 3}[s.verdict] for s in best]
    assert order == sorted(order)
    assert parse_holes(" 10 -5 22 ;") == parse_holes("10 -5 22")


def test_a_pot_goes_from_the_shelf_under_the_tree(shelf: MainWindow) -> None:
    shelf.face("shelf").choose("map-case")
    shelf.face("shelf").card.main.click()
    assert shelf.room == "line-up"
    assert shelf.step == "line-up"
    assert "map-case" in shelf.session.lineup().pots


def test_a_new_pot_is_ready_to_be_changed(shelf: MainWindow) -> None:
    shelf.do("new_pot")
    first = shelf.face("shelf").first
    for field, mm in ((first.length, 300.0), (first.width_, 220.0), (first.height_, 60.0)):
        field.entered.emit(mm)
    shelf.face("shelf").first.main.click()
    assert shelf.face("shelf").card.pot is not None
    assert shelf.face("shelf").card.pot.length_mm == 300
    assert not shelf.face("shelf").card.pot.holes_known
    shelf.do("undo")
    assert len(shelf.session.collection.pots) == 48


@pytest.mark.parametrize("topic", list(TOPICS))
def test_every_topic_of_the_reference_opens_and_is_searched(window: MainWindow, topic: str) -> None:
    window.do("reference")
    window.face("reference").open(topic)
    rows = window.face("reference").tables.model.rowCount()
    assert rows >= 4
    assert window.face("reference").entry.head.text()
    window.face("reference").search.setText("zzzz")
    assert window.face("reference").tables.model.rowCount() == 0
    assert window.face("reference").entry.head.text() == "Nothing found"
    window.face("reference").search.clear()
    assert window.face("reference").tables.model.rowCount() == rows
    window.grab()


def test_own_values_are_laid_over_the_table_and_taken_back(window: MainWindow) -> None:
    window.do("reference")
    window.face("reference").search.setText("japanese white")
    panel = window.face("reference").entry
    field = panel.fields["max_root_removal_healthy"]
    field.setText("0,35")
    field.editingFinished.emit()
    assert window.session.case().cut_limit == 0.35
    table = table_of("species", window.session.collection)
    assert next(r for r in table.rows if r.key == "japanese_white_pine").own
    field = panel.fields["max_root_removal_healthy"]
    field.setText("seven")
    field.editingFinished.emit()
    assert "max_root_removal_healthy" in window.status.message
    field = panel.fields["max_root_removal_healthy"]
    field.setText("")
    field.editingFinished.emit()
    assert window.session.case().cut_limit == 0.25


def test_bringing_in_a_list_with_bad_rows(shelf: MainWindow, answers: Answers, tmp_path: Path) -> None:
    path = tmp_path / "list.csv"
    path.write_text(
        "id,name,length_mm,width_mm,height_mm\nn1,New one,300,200,80\nbarge,Double,300,200,80\nn2,Bad,300,-2,80\n"
    )
    answers.path = path
    shelf.do("import")
    assert "1 pot came in, 2 rows left out" in shelf.status.message
    assert "line 3" in shelf.face("shelf").card.problems.text()
    assert shelf.session.collection.pots["barge"].name == "Barge"
    shelf.do("undo")
    assert "n1" not in shelf.session.collection.pots


def test_bundles_go_out_and_come_in_without_overwriting(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    answers.path = tmp_path / "all.json"
    window.do("export")
    assert len(load_bundle(answers.path).pots) == 48
    window.session.change_tree("x", name="Renamed")
    window.do("import")
    assert window.session.tree.name == "Renamed"  # type: ignore[union-attr]
    assert "left out" in window.status.message
    answers.path = tmp_path / "pots.csv"
    window.do("export")
    assert len(read_pots(answers.path).pots) == 48
    answers.path = tmp_path / "nowhere" / "x.json"
    window.do("export")
    assert "cannot be written" in window.status.message


def test_opening_other_files(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    answers.path = tmp_path / "other.kesh"
    window.do("new_file")
    assert window.session.tree is None
    assert window.windowTitle() == "other – Kesh"
    bundle = tmp_path / "theirs.json"
    bundle.write_text(
        json.dumps(
            {
                "format": "kesh-bundle",
                "version": 1,
                "name": "Theirs",
                "trees": [{"id": "t", "name": "Theirs", "height_mm": 300}],
            }
        )
    )
    answers.path = bundle
    window.do("open")
    assert window.session.tree.name == "Theirs"  # type: ignore[union-attr]
    assert window.session.path == tmp_path / "theirs.kesh"
    bad = tmp_path / "bad.kesh"
    bad.write_text("no")
    answers.path = bad
    window.do("open")
    assert "no Kesh collection" in window.status.message
    assert window.session.tree.name == "Theirs"  # type: ignore[union-attr]


def test_cancelling_a_question_does_nothing(window: MainWindow, answers: Answers) -> None:
    before = window.session.collection
    for act in ("open", "new_file", "import", "export", "print", "picture"):
        window.do(act)
    assert window.session.collection is before


def pdf_text(path: Path) -> tuple[int, str]:
    document = QPdfDocument(None)
    document.load(str(path))
    text = document.getAllText(0).text()
    size = document.pagePointSize(0)
    assert size.width() == pytest.approx(595, abs=1)
    assert size.height() == pytest.approx(842, abs=1)
    pages = document.pageCount()
    document.close()
    return pages, text


@pytest.mark.parametrize(
    ("tree", "pot"),
    [
        ("old-ferryman", "riverstone-oval"),
        ("rope-ladder", "rope-tower"),
        ("tidewater", "tide-slab"),
        ("seven-neighbours", "long-meadow"),
    ],
)
def test_the_sheet_is_one_page_that_says_what_the_window_says(
    window: MainWindow, answers: Answers, tmp_path: Path, tree: str, pot: str
) -> None:

    window.session.choose_tree(tree)
    window.go("line-up")
    window.session.hold_under(pot)
    window.face("line-up").columns.choose(pot)
    answers.path = tmp_path / "sheet.pdf"
    window.do("print")
    assert window.status.message == "Printed: sheet.pdf"
    pages, text = pdf_text(answers.path)
    name = window.session.collection.pots[pot].name
    assert pages == 1
    flat = " ".join(text.split())
    assert f"{window.session.tree.name} in {name}" in flat  # type: ignore[union-attr]
    for words in ("Seat and cuts", "Soil to measure out", "Screens and wires", "Take care", "scale 1 :"):
        assert words.lower() in flat.lower(), words
    a = window.session.tried(window.session.collection.pots[pot])
    worst = next(f for f in a.findings if f.status != "fits")
    assert worst.text.split(";")[0][:24] in flat


def test_pictures_of_the_drawing(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    for name in ("d.png", "d.svg"):
        answers.path = tmp_path / name
        window.do("picture")
        assert answers.path.stat().st_size > 4000
    assert b"<svg" in (tmp_path / "d.svg").read_bytes()[:400]


def test_a_read_only_file_shows_everything_and_refuses_edits(open_window: Opener) -> None:
    window = open_window()
    window.session.file.read_only = "made by a newer Kesh"
    window.session.change_measure("x", height_mm=600)
    assert window.session.tree.measure.height_mm == 560  # type: ignore[union-attr]
    assert "read-only" in window.status.message

    window.say_state()
    assert "Read-only" in window.status.message


def test_find_puts_the_cursor_where_one_searches(window: MainWindow) -> None:
    for place, field in (
        ("bench", window.trees.search),
        ("shelf", window.face("shelf").search),
        ("reference", window.face("reference").search),
    ):
        window.do(place)
        window.do("find")
        assert window.focusWidget() is field
        QTest.keyClick(field, Qt.Key.Key_Escape)


def test_the_highest_pot_stands_whole_on_its_shelf(shelf: MainWindow) -> None:
    sheet = shelf.face("shelf").pots
    pots = shelf.session.collection.pots
    row = sheet.model.rows.index("cellar-tub")
    assert pots["cellar-tub"].height_mm == max(p.height_mm for p in pots.values())
    viewport = sheet.view.viewport()
    assert viewport is not None
    picture = viewport.grab(sheet.view.visualRect(sheet.model.index(row))).toImage()
    middle = picture.width() // 2
    air = {picture.pixel(middle, y) for y in range(3)}
    assert len(air) == 1, "air over its rim"
    assert picture.pixel(middle, 40) not in air


def test_a_collection_named_on_the_line_is_made_where_it_is_not_there(tmp_path: Path) -> None:
    from kesh.base.errors import CollectionFileError
    from kesh.ui.commands.files import file_for

    file = file_for(tmp_path / "mine.kesh")
    assert file.collection.name == "mine"
    assert not file.collection.trees
    file.close()
    again = file_for(tmp_path / "mine.kesh")
    assert again.collection.name == "mine"
    again.close()
    with pytest.raises(CollectionFileError, match="no such file"):
        file_for(tmp_path / "nowhere" / "mine.kesh")
