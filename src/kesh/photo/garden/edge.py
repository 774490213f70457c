"""The outline put where a pixel is half tree and half ground, also along twigs of a pixel or two."""

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Image
from kesh.photo.view import Real

Bools = NDArray[np.bool_]
REACH_PX, LEAST_APART = 11, 30.0


def to_half(picture: Image, tree: Bools, free: Bools) -> Bools:
    """Tree or not (H, W), each pixel of the outline decided between the mean colours of tree and ground beside it.

    Where both look nearly alike, and where `free` is not set, the outline stays.
    """
    lab = np.asarray(cv2.cvtColor(picture.astype(np.float32) / 255, cv2.COLOR_BGR2Lab), np.float32)
    inner = _eroded(tree, 3)
    thin = tree & ~_dilated(inner, 3)
    own, own_seen = _mean(lab, inner | thin)
    ground, ground_seen = _mean(lab, ~_dilated(tree, 5))
    across = own - ground
    size = (across**2).sum(axis=-1)
    along = ((lab - ground) * across).sum(axis=-1) / np.maximum(size, 1e-6)
    rim = _dilated(tree, 3) & ~_eroded(tree, 5)
    decided = rim & own_seen & ground_seen & (size > LEAST_APART) & free
    return np.asarray(np.where(decided, along > 0.5, tree))


def _mean(lab: Real, part: Bools) -> tuple[Real, Bools]:
    """Mean colour of a part about each pixel, and where enough of it is seen."""
    weight = part.astype(np.float32)
    share = cv2.blur(weight, (REACH_PX, REACH_PX))
    mean = cv2.blur(lab * weight[..., None], (REACH_PX, REACH_PX)) / np.maximum(share, 1e-4)[..., None]
    return np.asarray(mean, np.float32), np.asarray(share > 0.02)


def _dilated(part: Bools, size: int) -> Bools:
    return np.asarray(cv2.dilate(part.astype(np.uint8), np.ones((size, size), np.uint8)), bool)


def _eroded(part: Bools, size: int) -> Bools:
    return np.asarray(cv2.erode(part.astype(np.uint8), np.ones((size, size), np.uint8)), bool)
