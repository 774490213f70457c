"""What photographs of gardens are like: white pots before white walls, shadows, glare, either way up."""

from functools import lru_cache

import cv2
import numpy as np
import pytest

from kesh.demo.lanternfield import demo_collection
from kesh.demo.photographs.tree import Sample, Shot, render
from kesh.photo.classes import Image
from kesh.photo.doubt import measured_with_doubt
from kesh.photo.scale import from_known
from kesh.photo.silhouette import cut_tree
from kesh.photo.tree_cut import TreeCut
from kesh.photo.view import Hints
from kesh.reference.tables import tables
from tests.kept import kept_cut
from tests.photo.garden import Shown, picture, rough_loop
from tests.photo.test_garden import overlap


@lru_cache(maxsize=4)
def before_white(key: str) -> Sample:
    """A tree in a white pot before a wall that is nearly white."""
    held = demo_collection()
    tree, planting = held.trees[key], held.planting_of(key)
    assert planting is not None
    pot = held.pots[planting.pot].changed(colour="#F2F1EC", finish="bright_glaze")
    shot = Shot(size_px=(1100, 1300), px_mm=1.5, ground="wall", seed=21, light=1.13)
    return render(tree, tables((), ()).species.get(tree.species or ""), pot, shot)


def cut(image: Image, foot: tuple[float, float], loop: np.ndarray | None = None) -> TreeCut:
    hints = Hints(foot, loop=loop)
    return kept_cut(image, hints, lambda: cut_tree(image, hints))  # type: ignore[no-any-return]


@pytest.mark.parametrize("key", ["mossback", "tollgate"])
def test_a_white_pot_before_a_white_wall_is_not_the_tree_and_the_height_holds(key: str) -> None:
    s = before_white(key)
    found = cut(s.image, s.soil_px)
    true = s.mask > 0
    assert overlap(found.mask > 0, true) >= 0.9
    below = round(s.soil_px[1]) + 4
    assert not (found.mask[below:] > 0).any()
    (x1, y1), (x2, y2) = s.pot_px
    held = demo_collection()
    planting = held.planting_of(key)
    assert planting is not None
    long_mm = held.pots[planting.pot].length_mm
    tall = measured_with_doubt(s.image, found, from_known(x1, y1, x2, y2, long_mm), s.soil_px).figures["height_mm"]
    true_mm = (s.soil_px[1] - np.flatnonzero(true.any(axis=1))[0]) / 1.5
    assert isinstance(tall.value, float)
    assert tall.plus_minus is not None
    assert tall.value == pytest.approx(true_mm, rel=0.02)
    assert abs(tall.value - true_mm) <= tall.plus_minus


@pytest.mark.parametrize("dark", [0.82, 0.68])
def test_the_tree_s_shadow_on_the_wall_is_wall(dark: float) -> None:
    s = before_white("mossback")
    cast = cv2.GaussianBlur(np.roll((s.mask > 0).astype(np.float32), (46, 70), (0, 1)), (0, 0), 9)
    cast[round(s.soil_px[1]) - 10 :] = 0
    alone = (cast * (s.mask == 0))[..., None]
    image = np.clip(s.image * (1 - (1 - dark) * alone), 0, 255).astype(np.uint8)
    found = cut(image, s.soil_px)
    assert overlap(found.mask > 0, s.mask > 0) >= 0.88
    # of the shadow itself next to nothing is taken for tree
    only = (cast > 0.9) & (s.mask == 0)
    assert (found.mask > 0)[only].mean() < 0.08


def in_garden(size: tuple[int, int], seed: int = 6, kind: str = "round", ground: str = "meadow") -> Shown:
    return picture(seed, kind, ground, size)


@pytest.mark.parametrize("size", [(820, 1180), (1280, 860)])
def test_either_way_up_one_loop_is_enough(size: tuple[int, int]) -> None:
    p = in_garden(size)
    image = np.ascontiguousarray(p.rgb[:, :, ::-1])
    assert image.shape[:2] == size[::-1]
    found = cut(image, p.foot, np.array(rough_loop(p.mask, 6)))
    assert overlap(found.mask > 0, p.mask > 0) >= 0.85


def test_glare_on_the_crown_is_borne_or_said() -> None:
    p = in_garden((960, 1180), 1, "pads", "brick")
    high, wide = p.mask.shape
    ys, xs = np.nonzero(p.mask)
    y, x = np.mgrid[0:high, 0:wide]
    spot = np.exp(-(((x - np.quantile(xs, 0.3)) / 120) ** 2) - ((y - np.quantile(ys, 0.2)) / 90) ** 2)[..., None]
    glaring = np.clip(p.rgb.astype(np.float32) * (1 - 0.35 * spot) + 120 * spot, 0, 255).astype(np.uint8)
    found = cut(np.ascontiguousarray(glaring[:, :, ::-1]), p.foot, np.array(rough_loop(p.mask, 1)))
    good = overlap(found.mask > 0, p.mask > 0)
    assert good >= 0.85 or found.doubtful
    assert good >= 0.75
