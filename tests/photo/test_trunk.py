"""The trunk read at any height against drawn trunks whose width is known, straight on and in perspective."""

from functools import lru_cache

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.model import Measure
from kesh.photo.classes import FOLIAGE, WOOD
from kesh.photo.ghost import grown_outline, outline_px
from kesh.photo.light import lit_from
from kesh.photo.measure import PhotoMeasures, measure
from kesh.photo.scale import Scale, from_known
from kesh.science.season.growth import grown
from tests.photo.test_measuring import measured, sample

PX_MM, TALL_MM, FOOT = 2.0, 300.0, (400.0, 700.0)


def tree_mask(width_mm=lambda h: 60 - 0.12 * h, lean=0.0, crown_mm=180.0) -> np.ndarray:  # type: ignore[no-untyped-def]
    """A trunk of known width at each height under a round crown."""
    mask = np.zeros((800, 800), np.uint8)
    top = FOOT[1] - TALL_MM * PX_MM
    cv2.ellipse(mask, (round(FOOT[0] + lean * 500), round(top + 120)), (200, 120), 0, 0, 360, FOLIAGE, -1)
    for y in range(round(FOOT[1] - crown_mm * PX_MM), round(FOOT[1])):
        h = (FOOT[1] - y - 0.5) / PX_MM
        middle, half = FOOT[0] + lean * (FOOT[1] - y), width_mm(h) * PX_MM / 2
        mask[y, round(middle - half) : round(middle + half)] = WOOD
    return mask


def read(mask: np.ndarray, scale: Scale | None = None) -> PhotoMeasures:
    image = np.full((*mask.shape, 3), 120, np.uint8)
    return measure(image, mask, scale or from_known(100, 50, 500, 50, 400 / PX_MM), FOOT)


@pytest.mark.parametrize("height_mm", [20, 45, 70, 110, 150])
@pytest.mark.parametrize("lean", [0.0, 0.25, -0.4])
def test_width_at_any_height_is_that_of_the_drawn_trunk(height_mm: float, lean: float) -> None:
    cross = read(tree_mask(lean=lean)).profile.at(height_mm)
    assert cross is not None
    assert isinstance(cross.width.value, float)
    # drawn along the row; across the trunk's own line it is narrower by the cosine of its lean
    assert cross.width.value == pytest.approx((60 - 0.12 * height_mm) * np.cos(np.arctan(lean)), abs=1.2)
    assert cross.right_mm - cross.left_mm == pytest.approx(60 - 0.12 * height_mm, abs=1.2)
    assert (cross.left_mm + cross.right_mm) / 2 == pytest.approx(lean * height_mm, abs=1.0)
    assert cross.width.plus_minus is not None
    assert cross.width.plus_minus < 4


def test_a_hidden_height_says_nothing() -> None:
    found = read(tree_mask())
    assert found.profile.at(260) is None
    assert found.profile.at(5000) is None
    low, high = found.profile.reach_mm
    assert low < 4
    assert high == pytest.approx(180, abs=4)


def test_a_trunk_that_thickens_again_is_told_with_its_waist_and_bulge() -> None:
    assert read(tree_mask()).profile.reverse_taper() is None
    bulged = read(tree_mask(lambda h: 50 - 0.1 * h + 14 * np.exp(-(((h - 120) / 22) ** 2)))).profile.reverse_taper()
    assert bulged is not None
    waist, bulge, share = bulged
    assert 60 < waist < 100
    assert bulge == pytest.approx(118, abs=8)
    assert 0.1 < share < 0.3


def test_the_first_branch_ends_the_clear_trunk() -> None:
    mask = tree_mask()
    y = round(FOOT[1] - 110 * PX_MM)
    mask[y - 16 : y + 16, 400:640] = WOOD
    places = read(mask).trunk_at_mm
    assert places["below_first_branch"] == pytest.approx(102 - 0.02 * TALL_MM, abs=4)
    assert read(mask).trunk["below_first_branch"].value == pytest.approx(60 - 0.12 * 96, abs=2)


@lru_cache
def both_ways() -> tuple[PhotoMeasures, PhotoMeasures]:
    """Straight on and in perspective, measured once: asked is the way to the picture and back, not the measuring."""
    return read(tree_mask()), measured("mossback", "hedge", 0.12)


@given(st.floats(-200, 200), st.floats(-50, 300))
def test_mm_and_picture_are_each_other_s_way_back(x_mm: float, height_mm: float) -> None:
    for found in both_ways():
        there = found.in_picture(np.array([[x_mm, height_mm]]))
        assert found.from_picture(there)[0] == pytest.approx([x_mm, height_mm], abs=1e-6)


def test_straight_on_a_height_lies_so_many_px_above_the_foot() -> None:
    found = read(tree_mask())
    assert found.in_picture(np.array([[10.0, 50.0]]))[0] == pytest.approx([FOOT[0] + 20, FOOT[1] - 100])


def test_in_perspective_the_reader_s_edges_lie_on_the_picture_s_trunk() -> None:
    s, found = sample("mossback", "wall", 0.12), measured("mossback", "wall", 0.12)
    height = found.trunk_at_mm["above_flare"]
    assert height is not None
    cross = found.profile.at(height)
    assert cross is not None
    for x_mm, inward in ((cross.left_mm, 1), (cross.right_mm, -1)):
        x, y = found.in_picture(np.array([[x_mm, height]]))[0]
        row = s.mask[round(y)]
        assert row[round(x) + 6 * inward] == WOOD
        assert row[round(x) - 9 * inward] != WOOD


NOW = Measure(height_mm=300, trunk_diameter_mm=55, canopy_left_mm=100, canopy_right_mm=100)


def test_the_ghost_grows_each_side_by_its_own_reach_and_not_at_all_without_growth() -> None:
    mask = tree_mask()
    found, rings = read(mask), outline_px(mask)
    still = grown_outline(rings, found, NOW, NOW)
    assert still[-1] == pytest.approx(rings[-1], abs=1e-6)
    then = NOW.changed(canopy_left_mm=150, canopy_right_mm=110, height_mm=330, trunk_diameter_mm=66)
    trunk, crown = grown_outline(rings, found, NOW, then)
    before = found.from_picture(rings[0])
    after = found.from_picture(crown)
    assert after[:, 0].min() == pytest.approx(1.5 * before[:, 0].min())
    assert after[:, 0].max() == pytest.approx(1.1 * before[:, 0].max())
    assert after[:, 1].max() == pytest.approx(1.1 * before[:, 1].max())
    wide = found.from_picture(trunk)
    assert np.ptp(wide[:, 0]) == pytest.approx(1.2 * 60, rel=0.05)


def test_a_ghost_leaves_alone_what_was_not_measured() -> None:
    mask = tree_mask()
    found, bare = read(mask), Measure(height_mm=300)
    crown = grown_outline(outline_px(mask), found, bare, grown(bare, "developing", 10))[-1]
    assert found.from_picture(crown)[:, 0].max() == pytest.approx(found.from_picture(outline_px(mask)[0])[:, 0].max())


@pytest.mark.parametrize("tree", ["old-ferryman", "tollgate", "mossback"])
def test_light_is_read_from_its_side_and_turns_with_the_picture(tree: str) -> None:
    s = sample(tree, "wall")
    left = lit_from(s.image, s.mask)
    right = lit_from(s.image[:, ::-1], s.mask[:, ::-1])
    assert left is not None
    assert right is not None
    assert left < -0.4
    assert right == pytest.approx(-left, abs=0.05)


def test_flat_light_and_no_wood_are_told_apart() -> None:
    mask = tree_mask()
    assert lit_from(np.full((*mask.shape, 3), 120, np.uint8), mask) == pytest.approx(0, abs=0.01)
    assert lit_from(np.full((*mask.shape, 3), 120, np.uint8), np.where(mask == WOOD, 0, mask)) is None
