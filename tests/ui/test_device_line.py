"""A reading lands in the field in focus; faults are said and nothing typed is lost."""

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers


@pytest.fixture
def line(window: MainWindow, answers: Answers) -> Iterator[tuple[MainWindow, int]]:
    """A window with a device on its line, and the device's end of it."""
    own, other = os.openpty()
    answers.path = Path(os.ttyname(other))
    window.activateWindow()
    window.do("device")
    assert window.line.connected
    yield window, own
    window.line.let_go()
    for end in (own, other):
        os.close(end)


def send(window: MainWindow, own: int, text: bytes, qtbot: QtBot) -> None:
    window.status.say("fits", "")
    os.write(own, text)
    qtbot.waitUntil(lambda: bool(window.status.message))


def test_a_length_lands_in_the_field_in_focus(line: tuple[MainWindow, int], qtbot: QtBot) -> None:
    window, own = line
    field = window.face("tree").measures.fields["trunk_diameter_mm"]
    field.setFocus()
    send(window, own, b"L 81.46 mm 0.02\r\n", qtbot)
    assert window.session.tree.measure.trunk_diameter_mm == pytest.approx(81.46)  # type: ignore[union-attr]
    assert "by calliper, ± 0.02 mm" in window.status.message
    window.do("undo")
    assert window.session.tree.measure.trunk_diameter_mm == 78  # type: ignore[union-attr]


def test_a_mass_lands_in_the_mass_field_and_nowhere_else(line: tuple[MainWindow, int], qtbot: QtBot) -> None:
    window, own = line
    window.face("tree").measures.fields["height_mm"].setFocus()
    send(window, own, b"M 4.310 kg 0.005\n", qtbot)
    assert "wants another" in window.status.message
    assert window.session.tree.measure.height_mm == 560  # type: ignore[union-attr]
    window.face("tree").measures.mass.setFocus()
    send(window, own, b"M 4.310 kg 0.005\n", qtbot)
    assert window.session.tree.measure.mass_kg == pytest.approx(4.31)  # type: ignore[union-attr]
    assert window.face("tree").measures.mass.text() == "4.3 kg"


def test_garbage_leaves_what_is_being_typed(line: tuple[MainWindow, int], qtbot: QtBot) -> None:
    window, own = line
    field = window.face("tree").measures.fields["height_mm"]
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "61")
    for text, said in (
        (b"\x00\xff??!\n", "no reading"),
        (b"L 84.2 kg 0.1\n", "does not belong"),
        (b"? battery low\n", "battery low"),
    ):
        send(window, own, text, qtbot)
        assert said in window.status.message
        assert field.text() == "61"
    assert window.line.connected


def test_without_a_field_the_reading_is_only_told(line: tuple[MainWindow, int], qtbot: QtBot) -> None:
    window, own = line
    window.face("tree").front.setFocus()
    send(window, own, b"L 84.2 mm 0.02\n", qtbot)
    assert "put the cursor into a field" in window.status.message


def test_an_unplugged_device_is_told_once_and_let_go(window: MainWindow, answers: Answers, qtbot: QtBot) -> None:
    own, other = os.openpty()
    answers.path = Path(os.ttyname(other))
    window.do("device")
    os.close(other)
    field = window.face("tree").measures.fields["height_mm"]
    field.setFocus()
    field.setText("61")
    window.status.say("fits", "")
    os.close(own)
    qtbot.waitUntil(lambda: "unplugged" in window.status.message)
    assert not window.line.connected
    assert field.text() == "61"


def test_the_same_command_lets_a_device_go(line: tuple[MainWindow, int]) -> None:
    window, _ = line
    window.do("device")
    assert not window.line.connected


def test_a_path_that_is_no_device_is_said(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    answers.path = tmp_path / "nothing"
    window.do("device")
    assert "is not there" in window.status.message


def test_a_typed_mass_is_read_in_any_unit(window: MainWindow) -> None:
    field = window.face("tree").measures.mass
    for text, kg in (("3 lb", 1.36077711), ("2500 g", 2.5), ("4,2", 4.2)):
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        field.editingFinished.emit()
        assert window.session.tree.measure.mass_kg == pytest.approx(kg)  # type: ignore[union-attr]
    field.selectAll()
    QTest.keyClicks(field, "heavy")
    field.editingFinished.emit()
    assert "not a measure" in window.status.message
    assert window.session.tree.measure.mass_kg == pytest.approx(4.2)  # type: ignore[union-attr]
