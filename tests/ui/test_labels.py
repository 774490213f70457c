"""Texts of a drawing keep clear of each other; names in a row stand as near as can be to where they belong."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QImage, QPainter
from scipy.optimize import minimize

from kesh.base.words import plain_field
from kesh.ui.app import application
from kesh.ui.paint.labels import Labels, in_a_row
from kesh.ui.theme.tokens import LIGHT


@given(st.lists(st.floats(-200, 200), min_size=1, max_size=8).map(sorted), st.floats(0, 40))
def test_places_in_a_row_keep_their_gap_and_are_the_nearest_that_do(wanted: list[float], gap: float) -> None:
    found = in_a_row(wanted, gap)
    assert all(b - a >= gap - 1e-6 for a, b in pairwise(found))
    # a second way: least squares with the gaps as bounds
    x = np.array(wanted)
    bounds = [{"type": "ineq", "fun": lambda p, k=k: p[k + 1] - p[k] - gap} for k in range(len(x) - 1)]
    other = minimize(
        lambda p: float(((p - x) ** 2).sum()), x + gap * np.arange(len(x)), constraints=bounds, method="SLSQP"
    )
    assert float(((np.array(found) - x) ** 2).sum()) <= other.fun + 1e-3 * (1 + other.fun)


def test_a_text_takes_the_first_free_place_and_one_that_need_not_be_stays_away() -> None:
    application(without_display=True)
    image = QImage(300, 120, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    labels = Labels(painter, LIGHT, QRectF(0, 0, 300, 120))
    first, second = (QPointF(40, 40), "left"), (QPointF(40, 90), "left")
    one = labels.put("115", [first, second])
    two = labels.put("room 23", [first, second])
    assert one is not None
    assert two is not None
    assert not one.intersects(two)
    assert two.top() > 60
    assert labels.put("5", [first], must=False) is None
    # one that has to stand does so where it covers least, and never off the drawing
    three = labels.put("192", [first, (QPointF(400, 40), "left"), (QPointF(150, 40), "left")])
    assert three is not None
    assert three.left() == pytest.approx(150)
    painter.end()


@pytest.mark.parametrize(
    ("said", "told"),
    [
        ("canopy_left_mm: has to be above 0", "Canopy left: has to be above 0"),
        ("holes.0.diameter_mm: is no number", "Diameter: is no number"),
        ("there is no tree: add one", "there is no tree: add one"),
        ("group: every tree is pinned", "Group: every tree is pinned"),
        ("Written: 3 files", "Written: 3 files"),
    ],
)
def test_a_field_is_told_in_words(said: str, told: str) -> None:
    assert plain_field(said) == told
