"""A tree before a wall: light falls off smoothly over it, and all that differs from that stands before it."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Image
from kesh.photo.features import against_border, features_of, like_stem, stem_seed
from kesh.photo.view import Hints, Real, View

PLAIN_LAB = 9.0
FLAT_SHARE = 0.10


def differs_from_ground(image: Image, not_tree: NDArray[np.float64] | None = None) -> NDArray[np.bool_] | None:
    """All that stands before a plain background, pot and table too; None where the background is not plain."""
    high, wide = image.shape[:2]
    view = View.of(image, Hints((wide / 2, high * 0.6), None, not_tree), 1.0)
    ground = smooth_ground(view)
    return before_plain(view, ground) if ground.plain else None


@dataclass(frozen=True)
class Ground:
    """A smooth background: what it would look like everywhere, its spread by channel, and whether that explains it."""

    lab: Real
    spread: Real
    plain: bool


def _terms(x: Real, y: Real) -> Real:
    return np.stack([np.ones_like(x), x, y, x * x, x * y, y * y], axis=-1)


def smooth_ground(view: View) -> Ground:
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
    return Ground((terms @ found).astype(np.float32), spread, plain)


def before_plain(view: View, ground: Ground) -> NDArray[np.bool_]:
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


def flat_share(tree: NDArray[np.bool_], view: View) -> float:
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
