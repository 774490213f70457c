"""A photograph through a wide lens: told of beside it, straightened by one click with every mark, undone by one key."""

from pathlib import Path

import cv2
import numpy as np
import pytest

from kesh.model import TreePhoto
from kesh.ui.window import MainWindow
from tests.photo.test_lens import before_wall, bowed, through
from tests.ui.conftest import Answers

K = -0.07


@pytest.fixture
def wide(window: MainWindow, answers: Answers, tmp_path: Path) -> MainWindow:
    """A tree with a card beside it, through a wide lens; scale by the card, not yet straightened."""
    s = before_wall()
    image, _ = bowed(s.image, K)
    size = (image.shape[1], image.shape[0])
    path = tmp_path / "wide.png"
    cv2.imwrite(str(path), image)
    answers.path = path
    window.session.choose_tree("wicket")
    window.do("add_photo")
    corners = through(s.card_px, K, size)
    marked = photo(window).changed(
        how="card", card=tuple((float(x), float(y)) for x, y in corners), card_mm=s.card_mm,
        soil=tuple(float(v) for v in through(np.array([s.soil_px]), K, size)[0]),
    )  # fmt: skip
    window.session.edit("Marks", [("photo", marked.id, marked)])
    return window


def photo(window: MainWindow) -> TreePhoto:
    found = window.face("tree").photo.photo
    assert found is not None
    return found


def test_a_bow_left_in_is_told_and_makes_figures_less_sure(wide: MainWindow) -> None:
    window = wide
    box, before = window.face("tree").photo_panel.scale, photo(window)
    assert "wide lens" in box.lens.text()
    assert "px" in box.lens.text()
    assert box.straighten.isVisible()
    bow = window.darkroom.bow_of(before)
    assert bow is not None
    left_in = window.darkroom.figures(before)
    assert left_in is not None
    tall = left_in.figures["height_mm"]
    assert tall.plus_minus is None or tall.plus_minus > 0.8 * abs(bow.value) * float(tall.value or 0)
    as_taken = window.face("tree").photo.grab().toImage()

    box.straighten.click()
    after = photo(window)
    assert after.bow == pytest.approx(bow.value)
    assert after.soil != before.soil
    assert "Straightened" in box.lens.text()
    assert window.face("tree").photo.grab().toImage() != as_taken
    found = window.darkroom.figures(after)
    assert found is not None
    now = found.figures["height_mm"]
    assert now.plus_minus is not None
    assert tall.plus_minus is None or now.plus_minus < tall.plus_minus

    window.do("undo")
    assert photo(window) == before
    assert window.face("tree").photo.grab().toImage() == as_taken


def test_straightened_and_back_leaves_the_marks_where_they_were(wide: MainWindow) -> None:
    window = wide
    box, before = window.face("tree").photo_panel.scale, photo(window)
    box.straighten.click()
    box.straighten.click()
    again = photo(window)
    assert again.bow == 0
    assert again.soil == pytest.approx(before.soil, abs=0.2)
    assert "wide lens" in box.lens.text()


def test_nothing_is_said_of_a_straight_picture(window: MainWindow) -> None:
    window.session.choose_tree("cartographer")
    window.go("tree", view="photo")
    box = window.face("tree").photo_panel.scale
    assert not box.lens.isVisible()
    assert not box.straighten.isVisible()
