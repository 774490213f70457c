"""A pot from its photograph by hand: the frame dragged, a width or a card told, plus and minus shown, then on the shelf."""

from dataclasses import replace
from datetime import date
from pathlib import Path

import cv2
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication, QImage
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.desk.pot_photo import PotPhoto
from kesh.desk.shelf import SWATCHES, colour_typed
from kesh.ui.rooms.shelf.face import ShelfFace
from kesh.ui.rooms.shelf.pot_photo_sheet import PotPhotoSheet
from kesh.ui.window import MainWindow
from tests.photo.test_pot_shot import PX_MM, frame, picture
from tests.ui.conftest import Answers, drag


@pytest.fixture
def photo(tmp_path: Path) -> Path:
    path = tmp_path / "pot.png"
    cv2.imwrite(str(path), picture(300, 260, 70, 8))
    return path


def shelf(window: MainWindow) -> ShelfFace:
    window.go("shelf")
    face = window.face("shelf")
    assert isinstance(face, ShelfFace)
    return face


def test_nothing_is_told_before_something_of_known_size_is_there() -> None:
    shot = PotPhoto.of(picture(300, 260, 70, 8)).framed(*_corners())
    assert shot.seen is not None
    assert shot.rows(Units()) == []
    with pytest.raises(FieldError, match="known"):
        shot.pot("a", date(2026, 3, 10), Units())


def test_by_its_own_width_or_by_a_card_the_same_pot_is_told_each_with_its_own_doubt() -> None:
    shot = PotPhoto.of(picture(300, 260, 70, 8)).framed(*_corners())
    own = replace(shot, known_mm=300.0)
    card = replace(shot.told_by("card"), line=((200.0, 700.0), (200.0 + 85.6 * PX_MM, 700.0)))
    span = replace(shot.told_by("span"), line=((200.0, 700.0), (200.0 + 200 * PX_MM, 700.0)))
    for one in (own, card, span):
        assert one.measured is not None
        assert abs(one.measured.height.value - 70) <= one.measured.height.doubt
    doubts = [one.measured.length.doubt for one in (own, card, span) if one.measured is not None]
    assert doubts == sorted(doubts)
    assert own.depth is not None
    assert own.depth.doubt > 15
    assert replace(own, outline="round").depth == own.measured.length  # type: ignore[union-attr]


def test_a_pot_comes_to_the_shelf_from_a_file(window: MainWindow, answers: Answers, photo: Path) -> None:
    face, s = shelf(window), window.session
    answers.path, answers.yes = photo, False
    before = set(s.collection.pots)
    face.pot_from_photo()
    sheet = answers.dialog
    assert isinstance(sheet, PotPhotoSheet)
    assert set(s.collection.pots) == before
    sheet.resize(1040, 640)
    sheet.show()
    assert not sheet.take.isEnabled()
    canvas = sheet.canvas
    left, top, right, bottom = frame(300, 70)
    start, end = canvas.at((left, top)), canvas.at((right, bottom))
    drag(canvas, start, (end.x() - start.x(), end.y() - start.y()))
    assert sheet.shot.frame == pytest.approx((left, top, right, bottom), abs=4)
    QTest.keyClicks(sheet.length, "30 cm")
    QTest.keyClick(sheet.length, Qt.Key.Key_Return)
    assert sheet.take.isEnabled()
    assert "±" in sheet.figures.text()
    QTest.keyClicks(sheet.name, "From the market")
    answers.yes = True
    answers.dialog = None
    shot = sheet.shot
    sheet.close()
    made = shot.pot("x", s.today, s.units)
    assert made.length_mm == 300
    assert abs(made.height_mm - 70) <= 4
    assert made.name == "From the market"
    assert not made.holes_known
    assert "From a photograph" in made.notes


def test_a_card_is_marked_by_its_two_ends(window: MainWindow, answers: Answers, photo: Path) -> None:
    face = shelf(window)
    answers.path, answers.yes = photo, False
    face.pot_from_photo()
    sheet = answers.dialog
    assert isinstance(sheet, PotPhotoSheet)
    sheet.resize(1040, 640)
    sheet.show()
    sheet.known.setCurrentIndex(sheet.known.findData("card"))
    sheet.known.activated.emit(sheet.known.currentIndex())
    assert sheet.length.mm == 85.6
    canvas = sheet.canvas
    grip = canvas.at(sheet.shot.line[0])
    wanted = canvas.at((300.0, 700.0))
    drag(canvas, grip, (wanted.x() - grip.x(), wanted.y() - grip.y()))
    assert sheet.shot.line[0] == pytest.approx((300, 700), abs=3)
    before = sheet.shot.frame
    canvas.setFocus()
    ends = sheet.shot.line
    QTest.keyClick(canvas, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(canvas, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert sheet.shot.line[0][0] > ends[0][0]
    assert sheet.shot.line[1][1] > ends[1][1]
    assert sheet.shot.frame == before
    QTest.keyClick(canvas, Qt.Key.Key_Left)
    assert sheet.shot.frame[0] > before[0]
    sheet.close()


def test_a_copied_picture_is_taken_and_put_on_the_shelf_by_one_button(window: MainWindow, answers: Answers) -> None:
    rows = picture(240, 200, 120)
    board = QGuiApplication.clipboard()
    assert board is not None
    board.setImage(QImage(rows.tobytes(), rows.shape[1], rows.shape[0], 3 * rows.shape[1], QImage.Format.Format_BGR888))
    face, s = shelf(window), window.session

    def agree(dialog: object) -> bool:
        assert isinstance(dialog, PotPhotoSheet)
        dialog.length.entered.emit(240.0)
        return dialog.take.isEnabled()

    answers.agree = agree  # type: ignore[method-assign]
    before = set(s.collection.pots)
    face.pot_from_clipboard()
    (fresh,) = set(s.collection.pots) - before
    assert s.collection.pots[fresh].length_mm == 240
    window.do("undo")
    assert set(s.collection.pots) == before


def _corners() -> tuple[tuple[float, float], tuple[float, float]]:
    left, top, right, bottom = frame(300, 70)
    return (left, top), (right, bottom)


def test_the_colour_of_a_pot_is_a_swatch_or_comes_from_its_photograph(
    window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    s = window.session
    pot = next(iter(s.collection.pots.values()))
    window.go("shelf", pot=pot.id)
    face = shelf(window)
    face.choose(pot.id)
    menu = face.card.swatches.menu
    named = {a.text(): a for a in menu.actions() if a.text()}
    assert set(SWATCHES) < set(named)
    named["dark green"].trigger()
    assert s.collection.pots[pot.id].colour == colour_typed("dark green")
    path = tmp_path / "blue.png"
    cv2.imwrite(str(path), picture(300, 260, 70, 8, colour=(50, 80, 140)))
    answers.path = path
    named["From a photograph of it …"].trigger()
    found = s.collection.pots[pot.id].colour
    red, green, blue = (int(found[i : i + 2], 16) for i in (1, 3, 5))
    assert blue > green > red
    assert s.collection.pots[pot.id].changed(colour=pot.colour) == pot
    window.do("undo")
    assert s.collection.pots[pot.id].colour == colour_typed("dark green")


def test_a_pot_seen_from_above_is_no_pot_before_its_height_is_typed() -> None:
    image = picture(300, 260, 70, from_above_deg=16, deep=220)
    shot = replace(PotPhoto.of(image), known_mm=300.0)
    assert shot.measured is not None
    assert shot.height is None
    told = dict(shot.rows(Units()))["Height with feet"]
    assert told.startswith("not told")
    assert "level" in told
    with pytest.raises(FieldError, match="type its height"):
        shot.pot("a", date(2026, 3, 10), Units())
    typed = replace(shot, height_mm=70.0).pot("a", date(2026, 3, 10), Units())
    assert typed.height_mm == 70


def test_the_field_for_the_height_lets_it_be_taken(
    window: MainWindow, answers: Answers, tmp_path: Path, qtbot: QtBot
) -> None:
    path = tmp_path / "above.png"
    cv2.imwrite(str(path), picture(300, 260, 70, from_above_deg=16, deep=220))
    face = shelf(window)
    answers.path, answers.yes = path, False
    face.pot_from_photo()
    sheet = answers.dialog
    assert isinstance(sheet, PotPhotoSheet)
    sheet.show()
    QTest.keyClicks(sheet.length, "300")
    QTest.keyClick(sheet.length, Qt.Key.Key_Return)
    assert not sheet.take.isEnabled()
    # Enter finishes the field and leaves the sheet where it is
    assert sheet.isVisible()
    # the longest of all answers: none of its lines is cut
    assert "Colour" in sheet.figures.text()
    qtbot.waitUntil(lambda: sheet.figures.height() >= sheet.figures.heightForWidth(sheet.figures.width()))
    QTest.keyClicks(sheet.height_, "7 cm")
    QTest.keyClick(sheet.height_, Qt.Key.Key_Return)
    assert sheet.take.isEnabled()
    sheet.close()
