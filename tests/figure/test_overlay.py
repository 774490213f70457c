"""Shapes laid over a drawing: rings with the area of what they stand for, boxes that hold them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.figure.overlay import Area, Note, Overlay, Point, Size, Stroke, box, oval, wedge

MM = st.floats(-500, 500)
REACH = st.floats(5, 300)


def area(points: tuple[Point, ...]) -> float:
    """By the shoelace."""
    x, y = np.array(points).T
    return abs(float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum())) / 2


@given(MM, MM, REACH, REACH)
def test_an_oval_has_the_area_of_its_ellipse(x: float, y: float, a: float, b: float) -> None:
    points = oval(x, y, a, b)
    # a polygon of 48 corners within the ellipse
    assert area(points) == pytest.approx(np.pi * a * b * np.sin(2 * np.pi / 48) / (2 * np.pi / 48), rel=1e-6)
    assert np.mean(points, axis=0) == pytest.approx((x, y), abs=1e-6)


@given(st.floats(0, 359), st.floats(8, 350), REACH)
def test_a_wedge_has_its_share_of_the_circle(start: float, wide: float, reach: float) -> None:
    points = wedge(10, -20, start, (start + wide) % 360, reach)
    assert points[0] == (10, -20)
    assert area(points) == pytest.approx(np.pi * reach**2 * wide / 360, rel=0.01)
    assert {round(float(np.hypot(px - 10, py + 20)), 6) for px, py in points[1:]} == {round(reach, 6)}


@pytest.mark.parametrize(
    ("azimuth", "way"),
    [(0, (0, -1)), (90, (-1, 0)), (180, (0, 1)), (270, (1, 0))],
    ids=["front", "left", "back", "right"],
)
def test_azimuths_run_clockwise_from_the_front(azimuth: float, way: Point) -> None:
    """Seen from above with the front below: a quarter on from the front lies to the left."""
    points = wedge(0, 0, azimuth - 10, azimuth + 10, 100)
    middle = points[1 + (len(points) - 1) // 2]
    assert middle == pytest.approx((100 * way[0], 100 * way[1]), abs=4)


def test_the_whole_round_is_a_circle() -> None:
    assert area(wedge(0, 0, 30, 30, 50)) == pytest.approx(np.pi * 2500, rel=0.01)


def test_bounds_hold_areas_and_strokes_and_leave_words_out() -> None:
    shapes = (
        Area(box(-10, 0, 30, 20), "rock"), Stroke(((5, -8), (6, 44)), "wire", 2.0), Note((900, 900), "far"),
        Size((0, 0), (0, 700), "700"),
    )  # fmt: skip
    assert Overlay(shapes).bounds() == (-10, -8, 30, 44)
    assert Overlay(shapes, box=(0, 0, 1, 1)).bounds() == (0, 0, 1, 1)
    assert Overlay().bounds() is None
    assert Overlay((Note((1, 2), "only words"),)).bounds() is None
    assert area(box(-10, 0, 30, 20)) == 800
