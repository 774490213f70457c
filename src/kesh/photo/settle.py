"""What a stroke settles beside its own pixels: where cut-outs differ near it, those that agree with it have their way."""

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import BACKGROUND, FOLIAGE, Mask
from kesh.photo.strokes import Stroke, trace_of
from kesh.photo.tree_cut import TreeCut

Bools = NDArray[np.bool_]
# a cut-out agrees with a stroke when it sees so much of it alike; it has its way no farther off than so many radii
AGREES, FAR = 0.8, 5.0


def settled_by(cut: TreeCut, stroke: Stroke, mask: Mask) -> tuple[Mask, Bools]:
    """(mask, what is settled (h, w)) when a stroke has made `mask` of the cut-out.

    The patches in doubt that the stroke touches become what most of the cut-outs that agree with it see there.
    """
    if not len(cut.others):
        return mask, np.zeros(mask.shape, bool)
    high, wide = cut.others.shape[1:]
    trace = (
        cv2.resize(trace_of(mask.shape, stroke).astype(np.float32), (wide, high), interpolation=cv2.INTER_AREA) > 0.5
    )
    if not trace.any():
        return mask, trace
    tree, meant = cut.trials > 0, stroke.kind != BACKGROUND
    agree = (tree[:, trace] == meant).mean(axis=1)
    heard = agree >= AGREES
    near = cv2.distanceTransform((~trace).astype(np.uint8), cv2.DIST_L2, 3) <= FAR * stroke.radius * cut.factor
    split = (tree.any(axis=0) & ~tree.all(axis=0) & near) | trace
    _, labels = cv2.connectedComponents(split.astype(np.uint8), connectivity=4)
    place = np.isin(labels, np.setdiff1d(np.unique(labels[trace]), [0])) & ~trace
    if not heard.any() or not place.any():
        return mask, trace
    seen = np.where(place, tree[heard].mean(axis=0), 0.0).astype(np.float32)
    whole = (mask.shape[1], mask.shape[0])
    as_tree = cv2.resize(seen, whole, interpolation=cv2.INTER_LINEAR) > 0.5
    inside = cv2.resize(place.astype(np.float32), whole, interpolation=cv2.INTER_LINEAR) > 0.5
    # what the brush itself and like colours have changed stays
    inside &= (mask == cut.mask) & ~trace_of(mask.shape, stroke)
    made = mask.copy()
    made[inside & ~as_tree] = BACKGROUND
    made[inside & as_tree & (mask == BACKGROUND)] = stroke.kind or FOLIAGE
    return made, place | trace
