"""Bare twigs at the picture's full size: what lies between them and along them is told by colour alone, pixel by pixel."""

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

from kesh.photo.classes import WOOD, Image, Mask
from kesh.photo.view import Real

Bools = NDArray[np.bool_]
# a tree is twiggy when its outline is so many times as long as its area over its height, and mostly wood
LONG_OUTLINE, MOSTLY_WOOD = 76.0, 0.43
# how far from what was found a twig may lie, and how far off ground tells what lies between twigs, px
BESIDE_PX, GROUND_PX = 5, 15
# bins of CIELAB, units a side, and by how many bins they are smoothed
BIN, SOFT = 4.0, 0.7
ROUNDS, SURE, LEAST_SHARE = 6, 0.65, 0.1
# ground that lies between twigs counts so much, a rim of what was found so little
BETWEEN, RIM = 6.0, 0.4


def is_twiggy(classes: Mask) -> bool:
    """Whether a cut-out (classes, H, W) is mostly bare twigs."""
    tree = classes > 0
    area, wood = np.count_nonzero(tree), np.count_nonzero(classes == WOOD)
    if not area:
        return False
    rim = np.count_nonzero(tree & ~_grown(tree, -3))
    tall = float(np.ptp(np.flatnonzero(tree.any(axis=1)))) + 1
    return bool(rim * tall / area > LONG_OUTLINE and wood > MOSTLY_WOOD * area)


def twigs_alone(picture: Image, tree: Bools, free: Bools) -> Bools:
    """The tree (H, W) of a BGR picture without the ground between its twigs; nothing changes where `free` is not set.

    Shares of colour of tree and ground are learnt by expectation and maximisation in a narrow band about what was
    found, starting from it; each pixel's prior is what its neighbours have come to.
    """
    zone = _grown(tree, 2 * BESIDE_PX + 1) & free
    if not zone.any():
        return tree
    bins, shape = _bins(picture)
    outside = _grown(tree, 2 * GROUND_PX + 1) & ~_grown(tree, 5)
    ground = np.bincount(bins[outside], minlength=int(np.prod(shape))).astype(np.float64)
    here, share = bins[zone], np.where(_grown(tree, -3), 1.0, RIM * tree).astype(np.float32)
    for _ in range(ROUNDS):
        own = _shares(np.bincount(here, weights=share[zone], minlength=len(ground)).astype(np.float64), shape)
        between = np.bincount(here, weights=1 - share[zone], minlength=len(ground))
        other = _shares(ground + BETWEEN * between, shape)
        near = np.clip(cv2.GaussianBlur(share, (0, 0), 1.0), LEAST_SHARE, 1 - LEAST_SHARE)
        odds = np.log(own + 1e-6) - np.log(other + 1e-6)
        found = odds[here] + np.log(near[zone]) - np.log(1 - near[zone])
        share = np.where(free, 0.0, share).astype(np.float32)
        share[zone] = 1 / (1 + np.exp(-np.clip(found, -20, 20)))
    return np.asarray(np.where(zone, share > SURE, tree))


def _bins(picture: Image) -> tuple[NDArray[np.intp], tuple[int, int, int]]:
    """The number of each pixel's colour bin (H, W), and how many bins there are of each kind."""
    lab: Real = np.asarray(cv2.cvtColor(picture.astype(np.float32) / 255, cv2.COLOR_BGR2Lab), np.float32)
    shape = (int(100 / BIN) + 1, int(200 / BIN) + 1, int(200 / BIN) + 1)
    at = np.clip(((lab + np.array([0, 100, 100], np.float32)) / BIN).astype(int), 0, np.array(shape) - 1)
    return np.asarray(np.ravel_multi_index((at[..., 0], at[..., 1], at[..., 2]), shape)), shape


def _shares(count: NDArray[np.float64], shape: tuple[int, int, int]) -> NDArray[np.float64]:
    soft = gaussian_filter(count.reshape(shape), SOFT).ravel()
    return np.asarray(soft / max(float(soft.sum()), 1.0))


def _grown(part: Bools, size: int) -> Bools:
    """A part grown by a square, or made smaller by one below nought."""
    way = cv2.dilate if size > 0 else cv2.erode
    return np.asarray(way(part.astype(np.uint8), np.ones((abs(size), abs(size)), np.uint8)), bool)
