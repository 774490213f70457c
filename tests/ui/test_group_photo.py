"""Trunks of a group read off its photograph: edges, height, lean, taken over."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from kesh.advice.group.plan import GroupPlan
from kesh.base.errors import FieldError
from kesh.desk.group import lean_words
from kesh.photo.scale import from_known
from kesh.photo.stems import StemMarks, edges, read_stem
from kesh.ui.rooms.group.face import GroupFace
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers, drag
from tests.ui.group_hands import at_group, grove

KEY = Qt.Key


@pytest.fixture
def face(window: MainWindow) -> GroupFace:
    return at_group(window)


def picture(trunks: tuple[tuple[float, float, float, float], ...]) -> np.ndarray:
    """A plain wall with leaning trunks: foot x, tip x, height, thickness in px, feet on row 700."""
    image = np.full((800, 1000, 3), (205, 215, 220), np.uint8)
    for foot, tip, tall, thick in trunks:
        ring = np.array(
            [[foot - thick / 2, 700], [foot + thick / 2, 700], [tip + 2, 700 - tall], [tip - 2, 700 - tall]], np.int32
        )
        cv2.fillPoly(image, [ring], (60, 75, 90))
    return cv2.GaussianBlur(image, (3, 3), 0)


def test_edges_height_and_lean_of_a_drawn_trunk() -> None:
    image = picture(((400, 470, 500, 40), (640, 600, 380, 26)))
    scale = from_known(100, 750, 900, 750, 800.0)
    left, right = edges(image, (400, 700), (470, 200))
    # a tenth of the way up it is a tenth thinner
    assert right[0] - left[0] == pytest.approx(40 * 0.9 + 0.4, abs=2.5)
    found = read_stem(StemMarks((400, 700), (470, 200), left, right), scale, (500, 700))
    assert found.height.value == pytest.approx(500, abs=2)
    assert found.thickness.value == pytest.approx(36, abs=2.5)
    assert found.lean_deg == pytest.approx(np.degrees(np.arctan2(70, 500)), abs=0.3)
    assert found.x_mm == pytest.approx(-100, abs=1)
    assert (found.height.plus_minus or 0) >= 0.05 * 500
    with pytest.raises(FieldError, match="short"):
        edges(image, (400, 700), (402, 695))
    with pytest.raises(FieldError, match="upward"):
        read_stem(StemMarks((400, 200), (470, 700), left, right), scale, (500, 700))


def photographed(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    """One trunk on a white ground becomes the grove's photograph, and is opened in Group."""
    path = tmp_path / "grove.png"
    cv2.imwrite(str(path), picture(((400, 470, 500, 40),)))
    answers.path = path
    window.do("add_photo")
    window.go("group")
    window.do("group_photo")


def test_a_trunk_is_drawn_in_the_photograph_and_taken_over(
    window: MainWindow, face: GroupFace, answers: Answers, tmp_path: Path
) -> None:
    window.do("group_photo")
    assert face.view == "now"
    photographed(window, answers, tmp_path)
    assert face.view == "photo"
    assert "no scale" in face.stems.fault()
    window.do("group_stem")
    photo = window.session.collection.sides_of("seven-neighbours")[0]
    window.session.edit(
        "Scale",
        [("photo", photo.id, photo.changed(known=((100, 750), (900, 750)), known_mm=400.0, soil=(500.0, 700.0)))],
    )
    p = face.stems.print_()
    assert p is not None
    start = face.stems._on_sheet((400 / p.factor, 700 / p.factor), p)
    end = face.stems._on_sheet((470 / p.factor, 200 / p.factor), p)
    drag(face.stems, start, ((end - start).x(), (end - start).y()))
    window.grab()
    before = len(grove(window).group)
    QTest.keyClick(face.stems, KEY.Key_Return)
    assert len(grove(window).group) == before + 1
    read = grove(window).group[-1]
    assert read.height_mm == pytest.approx(250, abs=4)
    assert read.diameter_mm == pytest.approx(18, abs=2)
    assert lean_words(read).endswith("right")
    assert not read.placed
    assert isinstance(face.plan(), GroupPlan)


def test_a_slip_in_the_photograph_keeps_the_trunk_drawn_before(
    window: MainWindow, face: GroupFace, answers: Answers, tmp_path: Path
) -> None:
    photographed(window, answers, tmp_path)
    stems = face.stems
    p = stems.print_()
    assert p is not None
    start = stems._on_sheet((400 / p.factor, 700 / p.factor), p)
    end = stems._on_sheet((470 / p.factor, 200 / p.factor), p)
    drag(stems, start, ((end - start).x(), (end - start).y()))
    drawn = stems.marks
    assert drawn is not None
    # a click beside it, and a stroke too short to be a trunk
    beside = stems._on_sheet((800 / p.factor, 300 / p.factor), p)
    QTest.mouseClick(stems, Qt.MouseButton.LeftButton, pos=beside.toPoint())
    assert stems.marks == drawn
    drag(stems, beside, (1.0, -3.0))
    assert stems.marks == drawn
    # keys walk its marks and move the one in hand, a tenth of a pixel with Shift
    stems.in_hand = "foot"
    QTest.keyClick(stems, KEY.Key_G)
    assert stems.in_hand == "tip"
    QTest.keyClick(stems, KEY.Key_H)
    QTest.keyClick(stems, KEY.Key_H)
    assert stems.in_hand == "right"
    for mods, step in (
        (Qt.KeyboardModifier.NoModifier, 1.0),
        (Qt.KeyboardModifier.ControlModifier, 10.0),
        (Qt.KeyboardModifier.ShiftModifier, 0.1),
    ):
        x, y = stems.marks.right
        QTest.keyClick(stems, KEY.Key_Right, mods)
        QTest.keyClick(stems, KEY.Key_Up, mods)
        assert stems.marks.right == pytest.approx((x + step / p.factor, y - step / p.factor))
    QTest.keyClick(stems, KEY.Key_Escape)
    assert stems.marks is None
