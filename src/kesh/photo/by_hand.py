"""What a hand puts right in a cut-out: strokes of the brush, and edges of the trunk that were dragged."""

from collections.abc import Sequence
from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import BACKGROUND, WOOD, Image, Mask
from kesh.photo.settle import settled_by
from kesh.photo.strokes import Stroke, painted
from kesh.photo.tree_cut import TreeCut, resized, share_differing

Floats = NDArray[np.float64]
# a dragged edge moves its neighbours along within this share of the trunk's followed height
REACH = 0.10
SIDES = {"left": 1, "right": 2}


def with_strokes(cut: TreeCut, strokes: Sequence[Stroke], image: Image) -> TreeCut:
    """The cut-out after strokes; where they changed it, or bore it out, there is no doubt any more."""
    for stroke in strokes:
        mask, settled = settled_by(cut, stroke, painted(cut.mask, stroke, image))
        cut = changed(cut, mask, settled)
    return cut


def with_edges(cut: TreeCut, grips: Sequence[tuple[str, tuple[float, float]]]) -> TreeCut:
    """The cut-out with the trunk's edges where a hand has put them: (side, (x, y) px). Without edges nothing changes."""
    if cut.edges is None or not grips:
        return cut
    edges = cut.edges.copy()
    tall = max(float(np.ptp(edges[:, 0])), 1.0)
    held: dict[str, list[tuple[float, float]]] = {"left": [], "right": []}
    for side, at in grips:
        held[side].append(at)
    for side, spots in held.items():
        column, before = SIDES[side], cut.edges[:, SIDES[side]]
        # each grip bends the edge about itself, and two beside each other share between them
        shift, weight = np.zeros(len(edges)), np.zeros(len(edges))
        for x, y in spots:
            near = np.exp(-(((edges[:, 0] - y) / (REACH * tall)) ** 2))
            shift += near**2 * (x - float(np.interp(y, edges[::-1, 0], before[::-1])))
            weight += near
        edges[:, column] = before + shift / np.maximum(weight, 1e-3) * (weight > 1e-3)
    old, new = _between(cut.edges, cut.mask.shape), _between(edges, cut.mask.shape)
    mask = cut.mask.copy()
    mask[new & ~old] = WOOD
    mask[old & ~new] = BACKGROUND
    return replace(changed(cut, mask), edges=edges)


def changed(cut: TreeCut, mask: Mask, settled: NDArray[np.bool_] | None = None) -> TreeCut:
    """The cut-out with another mask; the other cut-outs follow wherever a hand has changed it, or settled it (h, w)."""
    if mask is cut.mask or not len(cut.others):
        return replace(cut, mask=mask)
    high, wide = cut.others.shape[1:]
    part = cv2.resize((mask != cut.mask).astype(np.float32), (wide, high), interpolation=cv2.INTER_AREA) > 0.25
    part = part if settled is None else part | settled
    small = resized(mask, (wide, high))
    others = np.where(part[None], small[None], cut.others).astype(np.uint8)
    before, after = share_differing(cut.mask, cut.others), share_differing(mask, others)
    # what was in doubt beside the trials' differences, as between two ways, is settled in the same measure
    left = after / before if before > 0 else 1.0
    return replace(cut, mask=mask, others=others, doubt=cut.doubt * min(left, 1.0))


def _between(edges: Floats, shape: tuple[int, ...]) -> NDArray[np.bool_]:
    found: Image = np.zeros(shape, np.uint8)
    ring = np.vstack([edges[:, [1, 0]], edges[::-1][:, [2, 0]]])
    cv2.fillPoly(found, [np.round(ring * 16).astype(np.int32)], 1, cv2.LINE_8, 4)
    return found.astype(bool)
