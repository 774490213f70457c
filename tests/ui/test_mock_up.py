"""The real tree in the pots of the line-up, colours tried on them, and the page with all candidates."""

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtTest import QTest

from kesh.advice.rules.colour import SWATCHES
from kesh.store.reading import read_collection
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers


@pytest.fixture
def held(window: MainWindow) -> MainWindow:
    """Old Ferryman over four pots, one of them in hand."""
    window.go("line-up")
    window.face("line-up").columns.choose("riverstone-oval")
    return window


def test_the_photograph_stands_in_every_pot_at_the_drawing_s_scale(held: MainWindow) -> None:
    sheet, box = held.face("line-up").columns, held.face("line-up").hand.real
    drawn = sheet.grab().toImage()
    assert box.isVisible()
    box.setChecked(True)
    real = sheet.real()
    assert real is not None
    shown = sheet.grab().toImage()
    assert shown != drawn
    _, top, _, high = real.box_mm
    assert -top == pytest.approx(560, rel=0.05)
    assert top + high == pytest.approx(0, abs=8)
    sheet.overlay = True
    sheet.fit()
    sheet.grab()
    box.setChecked(False)
    assert sheet.real() is None


def test_a_tree_without_a_photograph_is_not_asked_for_one(held: MainWindow) -> None:
    held.session.choose_tree("wicket")
    assert not held.face("line-up").hand.real.isVisible()


def test_a_swatch_is_tried_on_the_drawing_and_kept_only_when_asked(held: MainWindow) -> None:
    box, pots = held.face("line-up").hand.colours, held.session.file.collection.pots
    own = pots["riverstone-oval"].colour
    swatches = box.swatches
    wanted = list(SWATCHES.values())[8]
    QTest.mouseClick(swatches, Qt.MouseButton.LeftButton, pos=swatches._box(8).center().toPoint())
    assert held.session.collection.pots["riverstone-oval"].colour == wanted
    assert held.session.file.collection.pots["riverstone-oval"].colour == own
    assert box.keep.isVisible()
    box.back.click()
    assert held.session.collection.pots["riverstone-oval"].colour == own
    assert not box.keep.isVisible()
    swatches.setFocus()
    swatches.at = 0
    QTest.keyClick(swatches, Qt.Key.Key_Right)
    QTest.keyClick(swatches, Qt.Key.Key_Down)
    QTest.keyClick(swatches, Qt.Key.Key_Return)
    box.keep.click()
    kept = list(SWATCHES.values())[7]
    assert read_collection(held.session.path).pots["riverstone-oval"].colour == kept
    held.do("undo")
    assert held.session.collection.pots["riverstone-oval"].colour == own
    QTest.mouseMove(swatches, QPoint(5, 5))
    box.grab()


def test_another_pot_in_hand_drops_a_colour_that_was_only_tried(held: MainWindow) -> None:
    held.face("line-up").hand.colours.try_colour("#33507F")
    other = next(p for p in held.session.lineup().pots if p != "riverstone-oval")
    held.face("line-up").columns.choose(other)
    assert not held.session.dragging


def test_all_candidates_on_one_page(held: MainWindow, answers: Answers, tmp_path: Path) -> None:
    held.face("line-up").hand.real.setChecked(True)
    for name in ("mock-up.pdf", "mock-up.png"):
        answers.path = tmp_path / name
        held.do("picture")
        assert answers.path.stat().st_size > 20_000
    document = QPdfDocument(None)
    document.load(str(tmp_path / "mock-up.pdf"))
    assert document.pageCount() == 1
    size = document.pagePointSize(0)
    assert size.width() > size.height()


def test_colours_of_the_photograph_win_over_the_species_once_it_is_cut_out(held: MainWindow) -> None:
    lines = held.face("line-up").hand.colours.lines

    def shown() -> dict[str, str]:
        assert lines.advice is not None
        return {line.part: line.colour for line in lines.advice.lines}

    usual = shown()
    held.face("line-up").hand.real.setChecked(True)
    held.face("line-up").hand.refresh()
    seen = held.face("line-up")._colours_seen()
    assert set(seen) == {"bark", "leaf"}
    assert shown() == usual | seen
    assert shown()["bark"] != usual["bark"]
