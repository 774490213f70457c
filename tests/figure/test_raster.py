"""Filled faces: the same pixels as by the edges, whole colours inside, no hair line between neighbours, light that turns."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.demo.lanternfield import demo_collection
from kesh.figure.pot_mesh import INSIDE, OUTSIDE, RIM, pot_mesh, seen
from kesh.figure.raster import filled, shades
from kesh.geometry.feet import with_feet
from tests.kept import examples

RED = np.array([[200.0, 40.0, 30.0]])


def square(x: float, y: float, side: float) -> np.ndarray:
    return np.array([[x, y], [x + side, y], [x + side, y + side], [x, y + side]])


@given(st.floats(2, 30), st.floats(2, 30), st.floats(4, 25))
@settings(max_examples=examples(40), deadline=None)
def test_the_covered_area_is_that_of_the_face(x: float, y: float, side: float) -> None:
    """Alpha summed up is the face's area in pixels: a grown edge of half a pixel is all that may be added."""
    alpha = filled(square(x, y, side)[None], RED, 64, 64, 4)[..., 3].astype(float).sum() / 255
    assert side**2 - side <= alpha <= (side + 1.0) ** 2


def test_a_face_later_in_the_row_hides_an_earlier_one_and_outside_stays_clear() -> None:
    faces = np.stack([square(10, 10, 30), square(20, 20, 10)])
    picture = filled(faces, np.array([[255.0, 0, 0], [0, 0, 255.0]]), 60, 50)
    assert picture.shape == (50, 60, 4)
    assert picture[25, 25].tolist() == [0, 0, 255, 255]
    assert picture[14, 14].tolist() == [255, 0, 0, 255]
    assert picture[5, 5].tolist() == [0, 0, 0, 0]


def test_neighbours_leave_no_hair_line() -> None:
    """Two faces that share a slanting edge at fractions of a pixel cover it whole."""
    left = np.array([[5.2, 5.0], [30.3, 5.0], [22.7, 45.0], [5.2, 45.0]])
    right = np.array([[30.3, 5.0], [55.1, 5.0], [55.1, 45.0], [22.7, 45.0]])
    alpha = filled(np.stack([left, right]), np.repeat(RED, 2, axis=0), 60, 50)[..., 3]
    assert (alpha[8:42, 8:52] == 255).all()


def test_edges_are_smooth_and_premultiplied() -> None:
    diagonal = np.array([[[10.0, 10.0], [50.0, 23.0], [50.0, 45.0], [10.0, 45.0]]])
    picture = filled(diagonal, RED, 60, 50).astype(int)
    half = (picture[..., 3] > 20) & (picture[..., 3] < 235)
    assert half.sum() > 20
    assert (np.abs(picture[half][:, 0] - 200 * picture[half][:, 3] / 255) <= 2).all()
    assert (picture[..., :3].max(axis=-1) <= picture[..., 3] + 1).all()


@pytest.mark.parametrize("key", ["celandine-round", "chalk-oval"])
def test_glaze_shines_on_the_outside_and_the_rim_alone(key: str) -> None:
    view = seen(pot_mesh(with_feet(demo_collection().pots[key]), 60), -27, 27, 1.0)
    base = np.full((7, 3), 90.0)
    dull, bright = shades(view, base, 0.0), shades(view, base, 0.55)
    gained = (bright - dull).max(axis=1)
    assert gained[(view.part == OUTSIDE) | (view.part == RIM)].max() > 5
    assert gained[view.part == INSIDE].max(initial=0) == 0
    assert dull.min() >= 0
    assert bright.max() <= 255


def test_the_light_stays_when_the_pot_turns() -> None:
    """The side toward the lamp, at the left, is brighter than the one away from it, whichever side of the pot it is."""
    mesh = pot_mesh(with_feet(demo_collection().pots["celandine-round"]), 72)
    for yaw in (-60, 0, 45, 150):
        view = seen(mesh, yaw, 20, 1.0)
        outside = view.part == OUTSIDE
        x = view.points[outside].mean(axis=1)[:, 0]
        light = view.light[outside]
        assert light[x < np.quantile(x, 0.2)].mean() > light[x > np.quantile(x, 0.8)].mean() + 0.1
