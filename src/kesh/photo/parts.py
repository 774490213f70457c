"""Leaves and wood told apart within the tree."""

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import BACKGROUND, FOLIAGE, WOOD, Mask

Real = NDArray[np.float32]


def told_apart(lab: Real, tree: NDArray[np.bool_], soil: tuple[float, float]) -> Mask:
    """Classes of the tree's pixels by colour.

    Seeds: the stem just above the soil is wood; green, and whatever lies far from the stem and differs from it, is
    leaf. Two mixtures of colours are fitted to the seeds and refined, then smoothed over a few pixels.
    """
    pixels = lab[tree]
    high = tree.shape[0]
    ys = np.nonzero(tree)[0]
    top = int(ys.min())
    tall = max(soil[1] - top, 1.0)
    stem = _stem_rows(tree, soil, int(0.10 * tall))
    wood_seed = stem[tree]
    green = pixels[:, 1] < -6
    if wood_seed.sum() < 12:
        wood_seed = ~green
    centre = np.median(pixels[wood_seed], axis=0)
    spread = np.maximum(1.48 * np.median(np.abs(pixels[wood_seed] - centre), axis=0), [6.0, 2.5, 2.5])
    away = np.linalg.norm((pixels - centre)[:, 1:] / (3.2 * spread[1:]), axis=1)
    leaf_seed = (away > 1.2) & ~wood_seed & (ys < soil[1] - 0.10 * tall)
    if leaf_seed.sum() < 0.02 * len(pixels):
        leaf_seed = green & ~wood_seed
    if leaf_seed.sum() < 12:
        found = np.full(tree.shape, BACKGROUND, np.uint8)
        found[tree] = WOOD
        return found
    score = np.zeros(len(pixels), np.float32)
    wood_like = wood_seed
    for _ in range(3):
        score = _ratio(pixels, leaf_seed, wood_like)
        leaf_seed = (score > 1.0) & ~stem[tree]
        wood_like = (score < -1.0) | stem[tree]
        if leaf_seed.sum() < 12 or wood_like.sum() < 12:
            break
    field = np.zeros(tree.shape, np.float32)
    field[tree] = np.clip(score, -6, 6)
    weight = tree.astype(np.float32)
    sigma = max(1.2, 0.0022 * high)
    even = cv2.GaussianBlur(field, (0, 0), sigma) / np.maximum(cv2.GaussianBlur(weight, (0, 0), sigma), 1e-3)
    leaf = np.asarray((even > 0) & tree)
    leaf = _without_specks(leaf, tree, max(20, int(0.0006 * len(pixels))))
    wood = tree & ~leaf
    if leaf.any() and wood.any():
        leaf_a, wood_a = float(np.median(lab[leaf][:, 1])), float(np.median(lab[wood][:, 1]))
        if wood_a < -11 and leaf_a > wood_a + 7:
            # the seed on the stem missed it: green wood under leaves that are not green does not grow
            leaf = wood
    return np.where(tree, np.where(leaf, FOLIAGE, WOOD), BACKGROUND).astype(np.uint8)


def _stem_rows(tree: NDArray[np.bool_], soil: tuple[float, float], rows: int) -> NDArray[np.bool_]:
    """The run of tree pixels through the foot, followed upward for some rows while it stays one stem."""
    found = np.zeros(tree.shape, bool)
    x, bottom = soil[0], round(soil[1] - 0.08 * rows) - 1
    widths: list[int] = []
    for y in range(bottom, max(bottom - max(rows, 6), 0), -1):
        runs = runs_of(tree[y])
        if not runs:
            continue
        left, right = min(runs, key=lambda r: 0 if r[0] <= x <= r[1] else min(abs(r[0] - x), abs(r[1] - x)))
        usual = float(np.median(widths[-15:])) if widths else float(right - left)
        if len(widths) > 4 and right - left > 1.35 * usual + 4:
            break
        widths.append(right - left)
        inset = 0.12 * (right - left)
        found[y, int(left + inset) : max(int(right - inset), int(left + inset) + 1)] = True
        x = (left + right) / 2
    return found


def runs_of(row: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """(first, one past the last) of each run of set pixels in a row."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], row, [False]]).astype(np.int8)))
    return list(zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True))


def _ratio(pixels: Real, leaf: NDArray[np.bool_], wood: NDArray[np.bool_]) -> Real:
    """Log of how much likelier each colour is for leaf than for wood, from smoothed histograms in Lab."""
    bins = np.array([14, 32, 32])
    low, size = np.array([0.0, -64.0, -64.0]), np.array([100.0, 128.0, 128.0])
    at = np.clip(((pixels - low) / size * bins).astype(int), 0, bins - 1)
    flat = (at[:, 0] * bins[1] + at[:, 1]) * bins[2] + at[:, 2]
    tables = []
    for chosen in (leaf, wood):
        count = np.bincount(flat[chosen], minlength=int(bins.prod())).astype(np.float32).reshape(bins)
        for axis in range(3):
            count = smoothed(count, axis)
        tables.append(count.ravel() / max(count.sum(), 1e-9) + 2e-7)
    return np.asarray(np.log(tables[0][flat]) - np.log(tables[1][flat]), np.float32)


def smoothed(table: Real, axis: int) -> Real:
    """A histogram spread a little along one axis; nothing wraps round."""
    before, after = np.roll(table, 1, axis), np.roll(table, -1, axis)
    edge: list[slice | int] = [slice(None)] * table.ndim
    edge[axis] = 0
    before[tuple(edge)] = 0
    edge[axis] = -1
    after[tuple(edge)] = 0
    return np.asarray(0.25 * before + 0.5 * table + 0.25 * after)


def _without_specks(leaf: NDArray[np.bool_], tree: NDArray[np.bool_], least: int) -> NDArray[np.bool_]:
    """Small islands of one class inside the other take the other's class."""
    for own in (True, False):
        part = (leaf if own else tree & ~leaf).astype(np.uint8)
        _, labels, stats, _ = cv2.connectedComponentsWithStats(part, connectivity=8)
        small = stats[:, cv2.CC_STAT_AREA] < least
        small[0] = False
        flip = small[labels]
        leaf = leaf & ~flip if own else leaf | flip
    return np.asarray(leaf)
