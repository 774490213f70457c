"""The tree cut out of its photograph: what is background, foliage and wood, found from colours, texture and place."""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.errors import FieldError
from kesh.photo.bridge import lost_stem
from kesh.photo.busy import before_busy
from kesh.photo.classes import BACKGROUND, FOLIAGE, WOOD, Image, Mask
from kesh.photo.features import against_border, features_of, like_stem, stem_seed
from kesh.photo.outline import half_way, hanging_growth, one_tree
from kesh.photo.parts import told_apart
from kesh.photo.snap import snapped
from kesh.photo.view import Hints, Real, View
from kesh.progress import Progress

FINE_PX = 1500
PLAIN_LAB = 9.0
FLAT_SHARE = 0.10


def cut_out(image: Image, hints: Hints, progress: Progress | None = None) -> Mask:
    """Classes (H, W) of a BGR picture: 0 background, 128 foliage, 255 wood.

    Raises FieldError when the foot lies outside the picture or nothing but background is found, StoppedError when
    the progress was stopped.
    """
    tell = (progress or Progress()).at
    high, wide = image.shape[:2]
    x, y = hints.soil
    if not (0 <= x < wide and 0.04 * high < y <= high):
        raise FieldError("soil", f"the soil mark ({x:g}, {y:g}) lies outside the picture of {wide} × {high} px")
    scale = min(1.0, FINE_PX / max(high, wide))
    small = cv2.resize(image, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1 else image
    view = View.of(np.asarray(small, np.uint8), hints, scale)
    tell(0.15, "Reading the background")
    ground = _smooth_ground(view)
    tell(0.3, "Reading the background")
    tree = _before_plain(view, ground) if ground.plain else None
    if tree is None or _flat_share(tree, view) > FLAT_SHARE:
        tree = before_busy(view, tell)
    tell(0.75, "Cleaning the outline")
    tree = one_tree(tree, view)
    if np.count_nonzero(tree) < 30:
        raise FieldError(
            "photo", "no tree was found above the soil mark; set the mark on the trunk's foot, or paint it in"
        )
    tree |= lost_stem(tree, view)
    tree |= hanging_growth(tree, view)
    tree = _at_edges(half_way(tree, view), view, lambda: tell(0.8, "Cleaning the outline"))
    tell(0.85, "Telling leaves from wood")
    classes = told_apart(view.lab, tree, view.soil)
    tell(0.97)
    if scale < 1:
        classes = _grown(classes, (wide, high))
    tell(1.0)
    return classes


def _at_edges(tree: NDArray[np.bool_], view: View, tell: Callable[[], None]) -> NDArray[np.bool_]:
    """The outline drawn to the edges of colour above the soil line; what hangs below it stays as it was found."""
    found = tree.copy()
    found[: view.above] = (snapped(view.bgr, tree, tell=tell) & ~view.barred)[: view.above]
    return found


def differs_from_ground(image: Image, not_tree: NDArray[np.float64] | None = None) -> NDArray[np.bool_] | None:
    """All that stands before a plain background, pot and table too; None where the background is not plain."""
    high, wide = image.shape[:2]
    view = View.of(image, Hints((wide / 2, high * 0.6), None, not_tree), 1.0)
    ground = _smooth_ground(view)
    return _before_plain(view, ground) if ground.plain else None


def _grown(classes: Mask, size: tuple[int, int]) -> Mask:
    """Classes at the picture's own size, edges smoothed and not stepped."""
    wood = cv2.resize((classes == WOOD).astype(np.float32), size, interpolation=cv2.INTER_LINEAR)
    leaf = cv2.resize((classes == FOLIAGE).astype(np.float32), size, interpolation=cv2.INTER_LINEAR)
    tree = wood + leaf > 0.5
    return np.where(tree, np.where(wood >= leaf, WOOD, FOLIAGE), BACKGROUND).astype(np.uint8)


@dataclass(frozen=True)
class _Ground:
    """A smooth background: what it would look like everywhere, its spread by channel, and whether that explains it."""

    lab: Real
    spread: Real
    plain: bool


def _terms(x: Real, y: Real) -> Real:
    return np.stack([np.ones_like(x), x, y, x * x, x * y, y * y], axis=-1)


def _smooth_ground(view: View) -> _Ground:
    """Light falls off smoothly over a wall: a quadratic in place for each channel, refitted to what agrees with it."""
    high, wide = view.lab.shape[:2]
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    terms = _terms(x / wide - 0.5, y / high - 0.5)
    border = view.border()
    # a fifth of the rows and columns says as much about a smooth wall as all of them
    few = (slice(None, None, 5), slice(None, None, 5))
    at, seen, edge, barred = terms[few], view.lab[few], border[few], view.barred[few]
    above = np.arange(0, high, 5)[:, None] < view.above
    use, plain = edge, False
    for turn in range(4):
        a, b = at[use], seen[use]
        weights = np.ones(len(a), np.float32)
        for _ in range(4):
            found, *_ = np.linalg.lstsq(a * weights[:, None], b * weights[:, None], rcond=None)
            off = np.linalg.norm(b - a @ found, axis=1)
            weights = 1 / np.sqrt(1 + (off / max(2.0, float(np.median(off)) * 2)) ** 2)
        rest = np.abs(seen - at @ found)
        spread = np.maximum(1.48 * np.median(rest[edge], axis=0), 0.6).astype(np.float32)
        if turn == 0:
            plain = float(np.percentile(np.linalg.norm(rest[edge], axis=1), 97)) < PLAIN_LAB
            if not plain:
                break
        agree = np.all(rest < 4 * spread + 1.5, axis=-1) & above
        use = (agree & ~barred) | edge
    return _Ground((terms @ found).astype(np.float32), spread, plain)


def _before_plain(view: View, ground: _Ground) -> NDArray[np.bool_]:
    """Against a wall the tree is all that differs from it; strong differences carry weak ones beside them."""
    scale = np.array([4.5, 3.2, 3.2], np.float32) * np.maximum(ground.spread, [0.9, 0.7, 0.7]) + np.array(
        [4.0, 1.5, 1.5]
    )
    off = np.linalg.norm((view.lab - ground.lab) / scale, axis=-1)
    weak, strong = off > 0.95, off > 1.7
    count, labels = cv2.connectedComponents(weak.astype(np.uint8), connectivity=8)
    keep = np.zeros(count, bool)
    keep[np.unique(labels[strong])] = True
    keep[0] = False
    return np.asarray(keep[labels] & ~view.barred)


def _flat_share(tree: NDArray[np.bool_], view: View) -> float:
    """How much of a found tree has neither a leaf's texture nor the stem's colour: things on a shelf are flat."""
    step = 2
    lab, part = view.lab[::step, ::step], tree[::step, ::step].copy()
    part[view.above // step :] = False
    if part.sum() < 30:
        return 0.0
    features = features_of(lab)
    border = view.border()[::step, ::step]
    flat = against_border(features[..., 3], border) < 0.8
    stem = stem_seed(part.shape, (view.soil[0] / step, view.soil[1] / step))
    return float(np.mean((flat & ~like_stem(features, stem))[part]))
