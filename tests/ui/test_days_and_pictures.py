"""A day from the small calendar, and photographs from the clipboard, for the tree and for an entry of the log."""

import gc
from datetime import date
from pathlib import Path

import pytest
from PyQt6.QtCore import QDate, Qt
from PyQt6.QtGui import QGuiApplication, QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QCalendarWidget

from kesh.base.errors import CollectionFileError, FieldError
from kesh.ui.drops import take_dropped
from kesh.ui.rooms.log.face import LogFace
from kesh.ui.rooms.water.panel import WaterPanel
from kesh.ui.window import MainWindow


def log(window: MainWindow) -> LogFace:
    window.session.choose_tree("tollgate")
    window.go("log")
    face = window.face("log")
    assert isinstance(face, LogFace)
    return face


def copied(window: MainWindow) -> QImage:
    """A photograph of the demo on the clipboard."""
    s = window.session
    photo = next(p for p in s.collection.photos.values() if p.view == "side")
    image = QImage.fromData(s.file.picture(photo.picture))
    board = QGuiApplication.clipboard()
    assert board is not None
    board.setImage(image)
    return image


def test_a_day_is_taken_from_the_calendar(window: MainWindow) -> None:
    box = log(window).beside.box
    window.session.week_begins = "sunday"
    box.day.setText("17 Feb 2026")
    calendar = box.calendar.open()
    assert calendar.selectedDate() == QDate(2026, 2, 17)
    assert calendar.firstDayOfWeek() == Qt.DayOfWeek.Sunday
    calendar.clicked.emit(QDate(2026, 2, 20))
    assert box.day.text() == "2026-02-20"
    box.day.setText("no day at all")
    opened = box.calendar.open()
    today = window.session.today
    assert opened.selectedDate() == QDate(today.year, today.month, today.day)
    opened.activated.emit(opened.selectedDate())


def test_a_calendar_day_is_written_at_once_where_fields_write_at_once(window: MainWindow) -> None:
    face = log(window)
    field = face.beside.views.until
    assert field.isEnabled()
    QTest.keyClick(field, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    face.beside.views.calendar.open().clicked.emit(QDate(2027, 5, 1))
    planting = window.session.planting
    assert planting is not None
    assert planting.interim_until == date(2027, 5, 1)


def test_an_entry_takes_its_photograph_from_the_clipboard(window: MainWindow) -> None:
    face, s = log(window), window.session
    copied(window)
    before = set(s.collection.photos)
    box = face.beside.box
    box.photo.setCurrentIndex(box.photo.findData("clipboard"))
    box.photo.activated.emit(box.photo.currentIndex())
    (fresh,) = set(s.collection.photos) - before
    assert s.collection.photos[fresh].tree == "tollgate"
    assert box.photo.currentData() == fresh
    box.text.setText("Buds move")
    face.beside.write.click()
    assert any(e.photo == fresh and e.text == "Buds move" for e in s.collection.events_of("tollgate"))


def test_a_picture_is_pasted_to_the_tree_and_an_empty_clipboard_is_told(window: MainWindow) -> None:
    s = window.session
    s.choose_tree("mossback")
    image = copied(window)
    before = set(s.collection.photos)
    window.do("paste_photo")
    (fresh,) = set(s.collection.photos) - before
    photo = s.collection.photos[fresh]
    assert photo.tree == "mossback"
    kept = QImage.fromData(s.file.picture(photo.picture))
    assert (kept.width(), kept.height()) == (image.width(), image.height())
    board = QGuiApplication.clipboard()
    assert board is not None
    board.setText("no picture")
    with pytest.raises(FieldError, match="holds no picture"):
        window.face("tree").paste_photo()  # type: ignore[attr-defined]


def test_a_photograph_dropped_on_the_window_goes_to_the_tree_in_hand(window: MainWindow, tmp_path: Path) -> None:
    s = window.session
    s.choose_tree("wicket")
    photo = next(p for p in s.collection.photos.values() if p.view == "side")
    path = tmp_path / "bench.JPG"
    path.write_bytes(s.file.picture(photo.picture))
    before = len(s.collection.photos_of("wicket"))
    take_dropped(window.context, [path])
    assert len(s.collection.photos_of("wicket")) == before + 1


@pytest.mark.parametrize("name", ["away_from", "away_to"])
def test_the_days_away_have_a_calendar_that_opens_and_writes(window: MainWindow, name: str) -> None:
    """By its sign in the field, long after the panel was made."""
    window.session.choose_tree("old-ferryman")
    window.go("water")
    gc.collect()
    field = getattr(window.face("water").panel.findChild(WaterPanel), name)
    (sign,) = field.actions()
    sign.trigger()
    calendar = field.findChild(QCalendarWidget)
    assert calendar is not None
    calendar.clicked.emit(QDate(2026, 7, 12))
    assert getattr(window.session.brief.keeping, name) == date(2026, 7, 12)


def test_a_picture_that_cannot_be_kept_is_a_sentence_and_the_window_goes_on(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    s = window.session
    s.choose_tree("mossback")
    copied(window)

    def full(body: bytes) -> str:
        raise CollectionFileError("the picture was not saved: disk full; free some room, then try again")

    monkeypatch.setattr(s.file, "put_picture", full)
    before = s.collection
    window.do("paste_photo")
    assert "free some room" in window.status.message
    assert s.collection is before
    window.go("water")
    assert window.room == "water"
