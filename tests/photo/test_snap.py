"""An outline drawn to the edges of colour: it finds them from both sides, and leaves alone what has none."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.photo.snap import snapped
from kesh.photo.strokes import Stroke, painted

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
