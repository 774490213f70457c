"""Scale by two points and by a card: closed forms of a camera that is known."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.photo.scale import depth_error, from_card, from_known

CARD = np.array([[0, 0], [148, 0], [148, 105], [0, 105]], float)


def camera(pitch_deg: float, roll_deg: float, far_mm: float = 1500, focal_px: float = 2400):
    """A pinhole camera before the plane of the trunk: mm (x right, y down) to px."""
    p, r = np.radians(pitch_deg), np.radians(roll_deg)
    rx = np.array([[1, 0, 0], [0, np.cos(p), -np.sin(p)], [0, np.sin(p), np.cos(p)]])
    rz = np.array([[np.cos(r), -np.sin(r), 0], [np.sin(r), np.cos(r), 0], [0, 0, 1]])

    def shoot(mm: np.ndarray) -> np.ndarray:
        world = np.column_stack([mm, np.zeros(len(mm))])
        seen = world @ (rz @ rx).T + [0, 0, far_mm]
        return 1000 + focal_px * seen[:, :2] / seen[:, 2:]

    return shoot


def test_two_points_by_hand() -> None:
    found = from_known(100, 200, 400, 600, 250)
    assert found.px_mm == 2.0
    assert found.straight
    assert found.relative == pytest.approx(1.2 * np.sqrt(2) / 500)


@given(st.floats(-180, 180), st.floats(0.4, 6), st.floats(-500, 500))
def test_a_card_seen_straight_on_gives_its_size_however_it_is_turned(turn: float, size: float, shift: float) -> None:
    a = np.radians(turn)
    spin = np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]])
    found = from_card(CARD @ spin.T * size + shift, 148, 105, (0, 0))
    assert found.straight
    assert found.px_mm == pytest.approx(size, rel=1e-6)


@pytest.mark.parametrize("pitch", [-14.0, 9.0, 20.0])
@pytest.mark.parametrize("roll", [0.0, 3.0])
def test_perspective_is_taken_out_all_over_the_plane(pitch: float, roll: float) -> None:
    shoot = camera(pitch, roll)
    foot = np.array([200.0, 40.0])
    at = shoot(foot[None])[0]
    found = from_card(shoot(CARD - np.array([40, 60])), 148, 105, (float(at[0]), float(at[1])))
    assert not found.straight
    plumb = shoot(foot + np.array([[0, 0], [0, -300], [120, -300]]))
    level = found.levelled(plumb)
    lengths = np.linalg.norm(np.diff(level, axis=0), axis=1) / found.px_mm
    assert lengths == pytest.approx([300, 120], rel=0.004)
    assert level[0] == pytest.approx(at, abs=0.01)


def test_noise_of_half_a_pixel_is_not_taken_for_perspective() -> None:
    jitter = np.array([[0.4, -0.3], [-0.4, 0.2], [0.3, 0.4], [-0.2, -0.4]])
    assert from_card(CARD * 2 + jitter, 148, 105, (0, 0)).straight


def test_a_reference_before_the_trunk_makes_the_tree_too_small() -> None:
    assert depth_error(60, 1500) == pytest.approx(-0.04)
    assert depth_error(-60, 1500) == pytest.approx(0.04)
    with pytest.raises(FieldError, match="camera stands farther"):
        depth_error(1600, 1500)


@pytest.mark.parametrize(
    "known",
    [(0, 0, 5, 5, 100), (0, 0, 100, 0, 0), (0, 0, 100, 0, -4), (0, 0, float("nan"), 0, 50), (0, 0, 100, 0, 1e6)],
)
def test_known_points_that_cannot_be(known: tuple[float, ...]) -> None:
    with pytest.raises(FieldError, match="known"):
        from_known(*known)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("corners", "size"),
    [
        (CARD[[0, 2, 1, 3]], (148, 105)), (CARD * 0, (148, 105)), (CARD, (0, 105)), (CARD, (148, float("inf"))),
        (np.array([[0, 0], [148, 0], [70, 10], [0, 105]], float), (148, 105)),
    ],
)  # fmt: skip
def test_corners_that_form_no_card(corners: np.ndarray, size: tuple[float, float]) -> None:
    with pytest.raises(FieldError, match="card"):
        from_card(corners, *size, (0, 0))
