"""What the hands on every sheet have in common: keys, the pointer, a pull, and a disk that is full when the pull ends."""

import pytest
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtTest import QTest

from kesh.base.errors import KeshError
from kesh.ui.hand.hands import arrow, over, put, step_of, walked
from kesh.ui.hand.view import SheetView
from kesh.ui.window import MainWindow
from tests.ui.conftest import drag

KEY, MOD = Qt.Key, Qt.KeyboardModifier


def pressed(key: Qt.Key, mods: Qt.KeyboardModifier = MOD.NoModifier) -> QKeyEvent:
    return QKeyEvent(QEvent.Type.KeyPress, key, mods)


@pytest.fixture
def sheet(window: MainWindow) -> SheetView:
    window.session.choose_tree("saddlestone")
    window.go("planting")
    window.show_view("special")
    window.settle()
    found: SheetView = window.face("planting").special_sheet
    return found


@pytest.mark.parametrize(
    ("mods", "step"), [(MOD.NoModifier, 1.0), (MOD.ShiftModifier, 0.1), (MOD.ControlModifier, 10.0)]
)
def test_arrows_go_right_and_up_by_their_step(mods: Qt.KeyboardModifier, step: float) -> None:
    assert step_of(pressed(KEY.Key_A, mods)) == step
    ways = {KEY.Key_Left: (-1, 0), KEY.Key_Right: (1, 0), KEY.Key_Up: (0, 1), KEY.Key_Down: (0, -1)}
    for key, (x, y) in ways.items():
        assert arrow(pressed(key, mods)) == pytest.approx((x * step, y * step))
    assert arrow(pressed(KEY.Key_G, mods)) is None


def test_g_and_h_walk_round_and_begin_at_either_end() -> None:
    keys = ["a", "b", "c"]
    assert [walked(pressed(KEY.Key_G), keys, now) for now in ("a", "b", "c", "gone")] == ["b", "c", "a", "a"]
    assert [walked(pressed(KEY.Key_H), keys, now) for now in ("a", "b", "c")] == ["c", "a", "b"]
    assert walked(pressed(KEY.Key_G), [], "a") is None
    assert walked(pressed(KEY.Key_X), keys, "a") is None


def test_the_pointer_tells_once_what_lies_under_it(sheet: SheetView) -> None:
    told: list[str] = []
    sheet.pointed.connect(told.append)
    assert over(sheet, "", "a", "Stone") == "a"
    assert sheet.cursor().shape() == Qt.CursorShape.SizeAllCursor
    assert over(sheet, "a", "a", "Stone") == "a"
    assert told == ["Stone: drag it, or press it and use the arrows"]
    assert over(sheet, "a", "", "") == ""
    assert sheet.cursor().shape() == Qt.CursorShape.ArrowCursor
    assert len(told) == 1


def test_a_pull_is_shown_while_it_lasts_and_one_step_at_its_end(sheet: SheetView) -> None:
    s = sheet.session
    before = s.collection.planting_of("saddlestone")
    assert before is not None
    moved = before.changed(offset_x_mm=3.0)
    assert put(sheet, "planting", lambda: moved, "Trunk moved", final=False)
    assert s.collection.planting_of("saddlestone") == moved
    assert s.file.collection.planting_of("saddlestone") == before, "nothing is written yet"
    s.drop_draft()
    assert s.collection.planting_of("saddlestone") == before
    assert put(sheet, "planting", lambda: moved, "Trunk moved", final=True)
    assert s.file.collection.planting_of("saddlestone") == moved

    said: list[tuple[str, str]] = []
    s.said.connect(lambda status, text: said.append((status, text)))

    def wrong() -> None:
        raise KeshError("it can't stand there")

    assert not put(sheet, "planting", wrong, "Trunk moved", final=True)  # type: ignore[arg-type]
    assert said == [("no", "it can't stand there")]
    assert s.collection.planting_of("saddlestone") == moved


@pytest.mark.parametrize(
    ("tree", "room", "view"), [("saddlestone", "planting", "special"), ("seven-neighbours", "group", "now")]
)
def test_a_disk_that_is_full_when_a_pull_ends_leaves_all_as_it_was(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, tree: str, room: str, view: str
) -> None:
    s = window.session
    s.choose_tree(tree)
    window.go(room)
    window.show_view(view)
    window.settle()
    face = window.face(room)
    sheet = face.special_sheet if room == "planting" else face.drawing_sheet
    before = s.file.collection
    said: list[tuple[str, str]] = []
    s.said.connect(lambda status, text: said.append((status, text)))

    def full(*_: object) -> None:
        raise KeshError("the disk is full; free some room")

    monkeypatch.setattr(s.file, "edit", full)
    if room == "planting":
        drag(sheet, sheet.at(sheet.shown()[0]), (0.0, 12.0))
    else:
        sheet.take("1")
        QTest.keyClick(sheet, KEY.Key_Right, MOD.ControlModifier)
    assert any(status == "no" and "disk is full" in text for status, text in said)
    assert s.file.collection is before
    assert s.collection.trees[tree] == before.trees[tree]
    assert s.collection.planting_of(tree) == before.planting_of(tree)
    window.grab()
    monkeypatch.undo()
    # room again: the same hand writes it
    sheet.setFocus()
    QTest.keyClick(sheet, KEY.Key_Right, MOD.ControlModifier)
    assert s.file.collection is not before
