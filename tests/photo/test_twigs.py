"""Bare trees: what lies between twigs is ground, told on a drawn comb and on pictures of the garden renderer."""

import cv2
import numpy as np
import pytest

from kesh.photo.classes import FOLIAGE, WOOD
from kesh.photo.garden.twigs import is_twiggy, twigs_alone
from kesh.photo.silhouette import cut_tree
from kesh.photo.tree_cut import TreeCut
from kesh.photo.view import Hints
from tests.kept import kept_cut
from tests.photo.garden import rough_loop
from tests.photo.test_garden import overlap, shown

BARE = [(45, "bare", "meadow"), (76, "bare", "hedge"), (14, "bare", "boards")]


def comb(wide: int = 360, high: int = 400) -> np.ndarray:
    """A trunk with twigs of three px, five px apart."""
    mask = np.zeros((high, wide), np.uint8)
    mask[200:390, 172:188] = WOOD
    for k in range(20):
        cv2.line(mask, (180, 210), (100 + 8 * k, 40), WOOD, 3)
    return mask


def picture_of(mask: np.ndarray, ground: tuple[int, int, int], wood: tuple[int, int, int], noise: float) -> np.ndarray:
    chance = np.random.default_rng(5)
    share = cv2.GaussianBlur((mask > 0).astype(np.float32), (0, 0), 0.7)[..., None]
    clean = share * np.array(wood, np.float32) + (1 - share) * np.array(ground, np.float32)
    return np.clip(clean + chance.normal(0, noise, clean.shape), 0, 255).astype(np.uint8)


@pytest.mark.parametrize(("ground", "wood"), [((200, 205, 210), (70, 82, 96)), ((40, 60, 44), (150, 160, 170))])
def test_a_comb_that_was_taken_too_fat_gets_its_teeth_back(
    ground: tuple[int, int, int], wood: tuple[int, int, int]
) -> None:
    true = comb() > 0
    fat = cv2.dilate(true.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    free = np.ones(true.shape, bool)
    found = twigs_alone(picture_of(comb(), ground, wood, 5.0), fat, free)
    assert overlap(fat, true) < 0.82
    assert overlap(found, true) > max(0.87, overlap(fat, true) + 0.07)


def test_nothing_changes_where_it_may_not() -> None:
    true = comb() > 0
    fat = cv2.dilate(true.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    free = np.zeros(true.shape, bool)
    free[:, :180] = True
    found = twigs_alone(picture_of(comb(), (200, 205, 210), (70, 82, 96), 5.0), fat, free)
    assert (found[:, 180:] == fat[:, 180:]).all()
    assert (found[:, :180] != fat[:, :180]).any()
    assert (twigs_alone(picture_of(comb(), (9, 9, 9), (7, 7, 7), 1.0), fat, ~(free | True)) == fat).all()


def test_only_what_is_mostly_bare_wood_is_twiggy() -> None:
    bare = comb()
    assert is_twiggy(bare)
    assert not is_twiggy(np.where(bare > 0, FOLIAGE, 0).astype(np.uint8))
    crown = np.zeros((400, 360), np.uint8)
    cv2.circle(crown, (180, 120), 90, FOLIAGE, -1)
    crown[200:390, 172:188] = WOOD
    assert not is_twiggy(crown)
    assert not is_twiggy(np.zeros((40, 40), np.uint8))
    # the same comb at twice the size is as twiggy
    assert is_twiggy(cv2.resize(bare, None, fx=2, fy=2, interpolation=cv2.INTER_NEAREST))


def cut_of(seed: int, kind: str, ground: str) -> TreeCut:
    p = shown(seed, kind, ground)
    image = np.ascontiguousarray(p.rgb[:, :, ::-1])
    hints = Hints(p.foot, loop=np.array(rough_loop(p.mask, seed)))
    return kept_cut(image, hints, lambda: cut_tree(image, hints))  # type: ignore[no-any-return]


@pytest.mark.parametrize(("seed", "kind", "ground"), BARE)
def test_a_winter_tree_is_cut_out_twig_by_twig(seed: int, kind: str, ground: str) -> None:
    found, true = cut_of(seed, kind, ground), shown(seed, kind, ground).mask > 0
    assert overlap(found.mask > 0, true) >= 0.85
    # in the crown ground is seen between the twigs
    rows = np.flatnonzero(true.any(axis=1))
    crown = slice(rows[0], rows[0] + (rows[-1] - rows[0]) // 2)
    hull = cv2.morphologyEx(true[crown].astype(np.uint8), cv2.MORPH_CLOSE, np.ones((25, 25), np.uint8)) > 0
    between = hull & ~true[crown]
    assert (found.mask[crown] > 0)[between].mean() < 0.35
