"""Photographs from above under the root plan: places against the renderer's truth, turns, and marks that cannot be."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.demo.lanternfield import demo_collection
from kesh.demo.photographs.above import AboveSample, render_above
from kesh.demo.photographs.tree import Shot, mapped
from kesh.photo.above import MOST_REACH_MM, to_plan, underlay
from kesh.photo.scale import from_card, from_known

SHOT = Shot(size_px=(900, 700), px_mm=1.4, seed=3, foot=(0.4, 0.5), noise=0, blur_px=0)


def taken(marker_deg: float = 0.0, turn_deg: float = 0.0, keystone: float = 0.0) -> AboveSample:
    tree = demo_collection().trees["mossback"].changed(marker_deg=marker_deg)
    assert tree.roots is not None
    shot = Shot(**(SHOT.__dict__ | {"keystone": keystone}))
    return render_above(tree, tree.roots, shot, turn_deg=turn_deg)


@pytest.mark.parametrize(
    ("marker_deg", "turn_deg", "keystone"), [(0, 0, 0), (0, -31, 0), (140, 75, 0), (300, 20, 0.12)]
)
def test_places_of_the_plan_come_back(marker_deg: float, turn_deg: float, keystone: float) -> None:
    seen = taken(marker_deg, turn_deg, keystone)
    scale = from_card(seen.card_px, *seen.card_mm, seen.trunk_px)
    plan = to_plan(scale, seen.trunk_px, seen.marker_px, marker_deg)
    spots = np.array([[0.0, 0.0], [90, 40], [-80, 60], [20, -70]])
    found = mapped(plan, mapped(seen.to_px, spots))
    assert np.abs(found - spots).max() < 2.0


def test_the_underlay_shows_the_marker_at_the_foot_and_the_card_where_it_lies() -> None:
    seen = taken(turn_deg=50)
    scale = from_card(seen.card_px, *seen.card_mm, seen.trunk_px)
    laid = underlay(seen.image, scale, seen.trunk_px, seen.marker_px)
    assert laid.px_mm == pytest.approx(scale.px_mm)
    rows = np.argwhere((laid.bgra[..., 2] > 170) & (laid.bgra[..., 1] < 110) & (laid.bgra[..., 3] > 0))
    back = laid.back_mm - rows[:, 0] / laid.px_mm
    right = laid.left_mm + rows[:, 1] / laid.px_mm
    # the stick leans right and back of its foot, which stands straight before the trunk
    assert abs(float(right.mean())) < 10
    assert -110 < float(back.mean()) < -60
    card_mm = mapped(np.linalg.inv(seen.to_px), seen.card_px).mean(axis=0)
    assert int(laid.at(*card_mm)[:3].min()) > 200
    # outside the turned picture nothing was seen
    assert laid.at(laid.left_mm + 1, laid.back_mm - 1)[3] == 0
    assert laid.at(5000, 0)[3] == 0


@given(
    st.floats(0, 359), st.floats(-180, 180), st.floats(40, 300), st.floats(0.2, 12),
    st.tuples(st.floats(100, 900), st.floats(100, 900)),
)  # fmt: skip
def test_the_marker_always_lies_at_its_azimuth_and_lengths_keep(
    marker_deg: float, way_deg: float, arm_px: float, px_mm: float, trunk: tuple[float, float]
) -> None:
    scale = from_known(0, 0, 100 * px_mm, 0, 100.0)
    way = np.radians(way_deg)
    marker = (trunk[0] + arm_px * np.cos(way), trunk[1] + arm_px * np.sin(way))
    plan = to_plan(scale, trunk, marker, marker_deg)
    at = mapped(plan, np.array([trunk, marker]))
    a = np.radians(marker_deg)
    assert np.allclose(at[0], 0, atol=1e-6)
    assert np.allclose(at[1], arm_px / px_mm * np.array([-np.sin(a), -np.cos(a)]), atol=1e-4)
    # seen from above, never from below: right and behind turn the way they do in the picture
    assert np.linalg.det(plan[:2, :2]) < 0


def test_marks_that_cannot_be_are_one_sentence_each() -> None:
    image = np.zeros((100, 120, 3), np.uint8)
    scale = from_known(0, 0, 100, 0, 100.0)
    for trunk, marker, word in (
        ((50, 50), (52, 50), "lies on the trunk"),
        ((float("nan"), 50), (80, 50), "must be numbers"),
        ((5000, 50), (5050, 50), "far outside"),
    ):
        with pytest.raises(FieldError, match=word):
            underlay(image, scale, trunk, marker)


def test_a_picture_of_a_whole_garden_is_cut_to_what_a_root_plan_can_be() -> None:
    image = np.full((400, 400, 3), 90, np.uint8)
    laid = underlay(image, from_known(0, 0, 20, 0, 1000.0), (200, 200), (200, 260))
    left, top, wide, high = laid.box_mm
    assert max(-left, -top, left + wide, top + high) <= MOST_REACH_MM + 100
    assert max(laid.bgra.shape) <= 1500
