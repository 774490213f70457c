"""Files dropped on the window: a list comes in, a collection opens, anything else is told what could."""

from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication

from kesh.store.collection_file import CollectionFile
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers

BUTTON, KEYS = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


def drop(window: MainWindow, *urls: QUrl) -> bool:
    """Drag files over the window and let go; whether they were welcome."""
    data = QMimeData()
    data.setUrls(list(urls))
    enter = QDragEnterEvent(window.rect().center(), Qt.DropAction.CopyAction, data, BUTTON, KEYS)
    enter.ignore()
    QApplication.sendEvent(window, enter)
    if enter.isAccepted():
        QApplication.sendEvent(window, QDropEvent(QPointF(200, 200), Qt.DropAction.CopyAction, data, BUTTON, KEYS))
        for _ in range(3):
            QApplication.processEvents()
    return enter.isAccepted()


def test_a_list_that_is_dropped_comes_in(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    path = tmp_path / "pots.csv"
    path.write_text("Name;Größe\nDropped;30x22x8 cm\n", encoding="utf-8")
    assert drop(window, QUrl.fromLocalFile(str(path)))
    assert any(p.name == "Dropped" for p in window.session.collection.pots.values())


def test_a_collection_that_is_dropped_opens(window: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "other.kesh"
    CollectionFile.create(path).close()
    assert drop(window, QUrl.fromLocalFile(str(path)))
    assert window.session.path == path


@pytest.mark.parametrize("name", ["song.mp3", "noend"])
def test_anything_else_is_told_what_could_be_dropped(window: MainWindow, tmp_path: Path, name: str) -> None:
    path = tmp_path / name
    path.write_bytes(b"x")
    before = window.session.collection
    assert drop(window, QUrl.fromLocalFile(str(path)))
    assert "no list (.csv)" in window.status.message
    assert window.session.collection == before


def test_what_lies_elsewhere_is_not_welcome(window: MainWindow) -> None:
    assert not drop(window, QUrl("https://example.org/pots.csv"))


def test_several_files_at_once_are_asked_for_one_by_one(window: MainWindow, tmp_path: Path) -> None:
    before = window.session.collection
    assert drop(window, *(QUrl.fromLocalFile(str(tmp_path / f"{n}.csv")) for n in range(3)))
    assert "one by one" in window.status.message
    assert window.session.collection == before


def test_a_list_that_is_gone_when_it_is_dropped_is_a_sentence(window: MainWindow, tmp_path: Path) -> None:
    assert drop(window, QUrl.fromLocalFile(str(tmp_path / "gone.csv")))
    window.settle()
    assert "no such file" in window.status.message
