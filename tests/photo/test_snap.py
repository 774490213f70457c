"""An outline drawn to the edges of colour: it finds them from both sides, and leaves alone what has none."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.photo.bridge import lost_stem, stem_seen
from kesh.photo.silhouette import cut_out
from kesh.photo.snap import snapped
from kesh.photo.strokes import Stroke, painted
from kesh.photo.view import Hints, View
from tests.photo.test_measuring import mask_of, sample

HIGH, WIDE = 160, 220


def scene(noise: float = 0.0, seed: int = 1) -> tuple[np.ndarray, np.ndarray]:
    """A green ellipse before grey, as picture and truth."""
    y, x = np.mgrid[0:HIGH, 0:WIDE]
    true = ((x - 110) / 60.0) ** 2 + ((y - 80) / 40.0) ** 2 < 1
    image = np.where(true[..., None], (40, 130, 60), (190, 185, 180)).astype(float)
    image += np.random.default_rng(seed).normal(0, noise, image.shape)
    return np.clip(image, 0, 255).astype(np.uint8), true


def overlap(a: np.ndarray, b: np.ndarray) -> float:
    return float((a & b).sum() / (a | b).sum())


@pytest.mark.parametrize("grown", [-3, -1, 2, 4])
@pytest.mark.parametrize("noise", [0.0, 6.0])
def test_a_line_drawn_too_far_in_or_out_finds_the_edge(grown: int, noise: float) -> None:
    import cv2

    image, true = scene(noise)
    kernel = np.ones((2 * abs(grown) + 1,) * 2, np.uint8)
    off = (cv2.dilate if grown > 0 else cv2.erode)(true.astype(np.uint8), kernel).astype(bool)
    found = snapped(image, off, window_px=10)
    assert overlap(found, true) > 0.985
    assert overlap(found, true) > overlap(off, true)


@given(st.integers(0, 1000))
@settings(max_examples=8, deadline=None)
def test_what_is_right_stays_right(seed: int) -> None:
    image, true = scene(8.0, seed)
    assert overlap(snapped(image, true, window_px=10), true) > 0.98


def test_where_there_is_no_edge_the_outline_stays_within_its_window() -> None:
    image = np.full((HIGH, WIDE, 3), 128, np.uint8)
    _, true = scene()
    assert overlap(snapped(image, true, window_px=6), true) > 0.93
    nothing = np.zeros_like(true)
    assert not snapped(image, nothing).any()
    assert snapped(image, ~nothing).all()


@pytest.mark.parametrize("tree", ["tollgate", "long-rain"])
def test_a_trunk_of_the_boards_colour_is_found_by_its_lines(tree: str, monkeypatch: pytest.MonkeyPatch) -> None:
    s = sample(tree, "boards")
    found = mask_of(tree, "boards")
    assert overlap(found > 0, s.mask > 0) > 0.9
    monkeypatch.setattr("kesh.photo.silhouette.lost_stem", lambda tree, view: np.zeros(tree.shape, bool))
    without = cut_out(s.image, Hints(s.soil_px))
    assert overlap(without > 0, s.mask > 0) < overlap(found > 0, s.mask > 0) - 0.1


def test_a_stem_that_is_there_is_left_alone() -> None:
    image, true = scene()
    for y in range(110, 150):
        # leaning and tapered: an upright line as long would be taken for a seam
        left, right = 100 + (150 - y) // 4, 122 - (150 - y) // 5
        true[y, left:right] = True
        image[y, left:right] = (40, 70, 90)
    view = View.of(image, Hints((110.0, 150.0)), 1.0)
    assert stem_seen(true, (110.0, 150.0), 110) == 1.0
    assert not lost_stem(true, view).any()
    assert not lost_stem(np.zeros_like(true), view).any()
    crown = true.copy()
    crown[118:] = False
    stem = lost_stem(crown, view)
    assert stem[121:148, 108:113].mean() > 0.9
    assert not stem[:, :95].any()


def test_a_stroke_over_the_edge_is_drawn_back_to_it_and_its_middle_stays() -> None:
    image, true = scene(3.0)
    mask = np.where(true, 128, 0).astype(np.uint8)
    mask[60:100, 150:175] = 0
    stroke = Stroke(128, ((158.0, 65.0), (164.0, 80.0), (158.0, 95.0)), 12, follow=True)
    plain, followed = painted(mask, stroke), painted(mask, stroke, image)
    spill = int(((plain > 0) & ~true).sum())
    assert spill > 200
    assert ((followed > 0) & ~true).sum() < spill / 4
    assert overlap(followed > 0, true) > 0.97
    assert followed[80, 164] == 128
    out = Stroke(0, ((164.0, 80.0),), 6, follow=True)
    assert painted(followed, out, image)[80, 164] == 0
