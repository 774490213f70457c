"""From a raw cut-out to one tree: rims, threads and strangers go, hanging growth comes in, edges find their place."""

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.features import feature_ratio, features_of, like_stem
from kesh.photo.parts import runs_of
from kesh.photo.view import View


def one_tree(tree: NDArray[np.bool_], view: View) -> NDArray[np.bool_]:
    """The part that stands on the soil mark, with leaves near it that seem to float; nothing below the soil line."""
    found = tree.copy()
    found[view.above :] = False
    found &= ~view.barred
    found = _without_rim(found, view.soil)
    found = _without_threads(found)
    return belonging(found, view)


def belonging(found: NDArray[np.bool_], view: View) -> NDArray[np.bool_]:
    """The part that stands on the soil mark, with what lies near it that seems to float; strays and specks go."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(found.astype(np.uint8), connectivity=8)
    if count <= 1:
        return found
    x = view.soil[0]
    reach = max(6, int(0.06 * view.lab.shape[1]))
    areas = stats[:, cv2.CC_STAT_AREA].astype(float)
    box = labels[max(0, view.above - reach) : view.above + 1, max(0, int(x) - reach) : int(x) + reach + 1]
    axis = labels[:, max(0, int(x) - 3 * reach) : int(x) + 3 * reach + 1]
    rank = areas.copy()
    rank[np.setdiff1d(np.arange(count), np.unique(axis))] *= 0.3
    rank[np.unique(box)] *= 4
    rank[0] = 0
    main = int(np.argmax(rank))
    core = labels == main
    # a distance map costs the same at any reach, a dilation by a disc of this size a quarter of a second
    near = np.asarray(cv2.distanceTransform((~core).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)) <= reach
    touching = np.zeros(count, bool)
    touching[np.unique(labels[near])] = True
    keep = touching & (areas >= max(12, 0.0004 * areas[main]))
    keep[0] = False
    return np.asarray(keep[labels])


def _without_rim(tree: NDArray[np.bool_], soil: tuple[float, float]) -> NDArray[np.bool_]:
    """The front rim of the pot rises a little above the trunk's foot: what is only a low strip beside the stem goes."""
    bottom = round(soil[1])
    rows = np.flatnonzero(tree[:bottom].any(axis=1))
    if not len(rows):
        return tree
    tall = bottom - int(rows[0])
    low, high = bottom - int(0.05 * tall), bottom - int(0.09 * tall)
    if high < 1 or low >= bottom:
        return tree
    runs = [r for y in range(high, low) for r in [_run_at(tree[y], soil[0], 0.12 * tall)] if r]
    if not runs:
        return tree
    left, right = (float(np.median([r[k] for r in runs])) for k in (0, 1))
    found = tree.copy()
    standing = tree[high:low].all(axis=0)
    for y in range(low, bottom):
        spread = 1.3 * (y - (low + high) / 2) + 0.01 * tall
        keep = np.zeros(tree.shape[1], bool)
        keep[max(0, int(left - spread)) : int(right + spread) + 1] = True
        found[y] &= keep | standing
    return found


def _run_at(row: NDArray[np.bool_], x: float, reach: float) -> tuple[int, int] | None:
    """The run of set pixels nearest to x, None when none lies within reach."""
    runs = runs_of(row)
    if not runs:
        return None
    best = min(runs, key=lambda r: 0 if r[0] <= x <= r[1] else min(abs(r[0] - x), abs(r[1] - x)))
    return best if best[0] - reach <= x <= best[1] + reach else None


def _without_threads(tree: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Long thin lines that belong to no body, such as the gaps between boards, go; twigs near a body stay."""
    thick = max(3, int(0.006 * max(tree.shape)))
    body = cv2.morphologyEx(
        tree.astype(np.uint8), cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (thick, thick))
    )
    near = cv2.dilate(body, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (3 * thick + 1, 3 * thick + 1)))
    kept = tree & near.astype(bool)
    core = cv2.morphologyEx(
        kept.astype(np.uint8),
        cv2.MORPH_OPEN,
        cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * thick + 3, 2 * thick + 3)),
    )
    tails = (kept & ~cv2.dilate(core, np.ones((3, 3), np.uint8)).astype(bool)).astype(np.uint8)
    # a twig is never dead upright or level for so long
    long = int(5 * thick)
    for shape in ((long, 1), (1, long)):
        ruled = cv2.morphologyEx(tails, cv2.MORPH_OPEN, np.ones(shape, np.uint8))
        beside = cv2.dilate(ruled, np.ones((1, 5) if shape[1] == 1 else (5, 1), np.uint8)).astype(bool)
        kept &= ~(beside & tails.astype(bool))
    return np.asarray(kept)


def hanging_growth(tree: NDArray[np.bool_], view: View) -> NDArray[np.bool_]:
    """What hangs below the soil line: the tree's own colours and texture, joined to it beside the pot.

    Learnt from the tree above the line against the pot under the mark, the table at the edges and what lay round the
    tree. Less than a fortieth of the tree is moss, a reflection or a mistake, and is left out.
    """
    high, wide = tree.shape
    nothing = np.zeros(tree.shape, bool)
    if view.above > high - 8 or tree.sum() < 200:
        return nothing
    tall = view.above - int(np.flatnonzero(tree.any(axis=1))[0])
    x = int(view.soil[0])
    ground = ~cv2.dilate(tree.astype(np.uint8), np.ones((15, 15), np.uint8)).astype(bool)
    ground[view.above :] = False
    ground[view.above :, : int(0.05 * wide)] = ground[view.above :, int(0.95 * wide) :] = True
    pot = nothing.copy()
    pot[
        view.above + int(0.02 * tall) : view.above + int(0.16 * tall),
        max(0, x - int(0.10 * tall)) : x + int(0.10 * tall),
    ] = True
    features = features_of(view.lab)
    ratio = cv2.GaussianBlur(feature_ratio(features, tree & ~view.barred, ground | pot), (0, 0), 1.5)
    clay = cv2.dilate(like_stem(features, pot).astype(np.uint8), np.ones((9, 9), np.uint8)).astype(bool)
    lively = features[..., 3] > np.percentile(features[..., 3][tree], 25) - 0.15
    lively = cv2.blur(lively.astype(np.float32), (15, 15)) > 0.3
    below = (ratio > 1.2) & lively & ~view.barred & ~pot & ~clay
    below[: view.above] = False
    joined = cv2.morphologyEx(
        (below | tree).astype(np.uint8), cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (9, 9))
    )
    joined[view.above : view.above + int(0.3 * tall)][pot[view.above : view.above + int(0.3 * tall)]] = 0
    _, labels = cv2.connectedComponents(joined)
    own = np.unique(labels[tree])
    found = below & np.isin(labels, own[own > 0])
    found = _without_threads(found)
    rows = np.flatnonzero(found.any(axis=1))
    if found.sum() < 0.025 * tree.sum() or rows[-1] - view.above < 0.06 * tall:
        return nothing
    return found


def half_way(tree: NDArray[np.bool_], view: View) -> NDArray[np.bool_]:
    """The outline put where a pixel is half tree and half ground, by the colours just inside and outside of it."""
    inside = cv2.erode(tree.astype(np.uint8), np.ones((5, 5), np.uint8))
    around = cv2.dilate(tree.astype(np.uint8), np.ones((7, 7), np.uint8))
    rim = (cv2.dilate(tree.astype(np.uint8), np.ones((5, 5), np.uint8)) - inside).astype(bool)
    rim[view.above :] &= tree[view.above :]
    reach = (23, 23)
    means = []
    for part in (inside, 1 - around):
        weight = part.astype(np.float32)
        share = cv2.blur(weight, reach)
        means.append((cv2.blur(view.lab * weight[..., None], reach) / np.maximum(share, 1e-4)[..., None], share > 0.02))
    (own, own_known), (ground, ground_known) = means
    across = own - ground
    size = np.sum(across**2, axis=-1)
    along = np.sum((view.lab - ground) * across, axis=-1) / np.maximum(size, 1e-6)
    decided = rim & own_known & ground_known & (size > 49)
    return np.asarray(np.where(decided, along > 0.5, tree))
