"""A trunk that the cut-out lost because it has the colour of what stands behind it: found again by the lines round it."""

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.parts import runs_of
from kesh.photo.view import View

# shares of the tree's height: where a stem must be seen above the soil, how near to the mark, how wide it may be
LOW, HIGH, NEAR, WIDEST = 0.04, 0.10, 0.08, 0.45
SEEN_SHARE, ZONE = 0.35, 1.0
# edges of lightness and of colour that count as a line; a seam is upright and this long
LIGHT_EDGE, COLOUR_EDGE, SEAM = (18, 45), (11, 27), 0.16


def stem_seen(tree: NDArray[np.bool_], soil: tuple[float, float], tall: int) -> float:
    """Share of the rows just above the soil in which something stands near the mark."""
    x, y = soil
    rows = range(int(y - HIGH * tall), int(y - LOW * tall))
    near = [any(r[1] > x - NEAR * tall and r[0] < x + NEAR * tall for r in runs_of(tree[row])) for row in rows]
    return float(np.mean(near)) if near else 1.0


def lost_stem(tree: NDArray[np.bool_], view: View) -> NDArray[np.bool_]:
    """The trunk between soil mark and crown when next to nothing of it was found; else nothing.

    Lines of lightness and colour close faces; what a flood from outside does not reach, below the crown and joined to
    the soil mark, is trunk. Long upright lines are seams of boards and hold no flood back.
    """
    nothing = np.zeros(tree.shape, bool)
    bottom, x = view.above, int(view.soil[0])
    rows = np.flatnonzero(tree[:bottom].any(axis=1))
    if not len(rows):
        return nothing
    tall = bottom - int(rows[0])
    if tall < 40 or stem_seen(tree, view.soil, tall) > SEEN_SHARE:
        return nothing
    gap = max(3, int(0.010 * tall) | 1)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (gap, gap))
    wall = cv2.morphologyEx(_lines(view, tall), cv2.MORPH_CLOSE, disc).astype(bool)
    zone = nothing.copy()
    zone[bottom - int(ZONE * tall) : bottom, max(0, x - int(WIDEST * tall)) : x + int(WIDEST * tall)] = True
    free = ~wall & ~tree
    free[bottom:] = False
    _, labels = cv2.connectedComponents(free.astype(np.uint8), connectivity=4)
    outside = np.unique(labels[free & ~zone])
    flood = np.isin(labels, outside[outside > 0])
    faces = cv2.morphologyEx((zone & free & ~flood).astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    lines = wall & cv2.dilate(faces, np.ones((gap, gap), np.uint8)).astype(bool)
    found = cv2.morphologyEx(
        (faces.astype(bool) | lines).astype(np.uint8), cv2.MORPH_CLOSE, np.ones((gap, gap), np.uint8)
    )
    stem = found.astype(bool) & zone & ~flood & ~view.barred
    # joined to the foot by itself: pockets of the crown are not
    _, labels = cv2.connectedComponents(stem.astype(np.uint8))
    reach = int(NEAR * tall)
    own = np.unique(labels[bottom - reach : bottom, max(0, x - reach) : x + reach])
    stem &= np.isin(labels, own[own > 0])
    columns = np.flatnonzero(stem.any(axis=0))
    if not len(columns) or columns[-1] - columns[0] > WIDEST * tall:
        return nothing
    return stem


def _lines(view: View, tall: int) -> NDArray[np.uint8]:
    """Edges of lightness and of both colours, without long upright ones."""
    lab = cv2.cvtColor(cv2.bilateralFilter(view.bgr, 7, 18, 5), cv2.COLOR_BGR2Lab)
    found: NDArray[np.uint8] = np.zeros(lab.shape[:2], np.uint8)
    for k, (low, high) in enumerate((LIGHT_EDGE, COLOUR_EDGE, COLOUR_EDGE)):
        found |= np.asarray(cv2.Canny(np.ascontiguousarray(lab[..., k]), low, high), np.uint8)
    long = max(int(SEAM * tall), 25)
    upright = cv2.morphologyEx(
        cv2.dilate(found, np.ones((1, 3), np.uint8)), cv2.MORPH_OPEN, np.ones((long, 1), np.uint8)
    )
    found[cv2.dilate(upright, np.ones((3, 3), np.uint8)) > 0] = 0
    return found
