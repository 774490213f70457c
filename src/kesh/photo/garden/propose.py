"""A loop that Kesh draws itself, to be shown and to be mended: round what was found, or round where a tree would stand."""

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.view import View

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
# how far outside the tree a loop runs, as a share of the tree's height, and how finely it is drawn
AWAY, FINE = 0.05, 0.008


def about(tree: Bools, view: View) -> Floats | None:
    """A loop (n, 2) in px round a found tree and the trunk's foot; None round nothing."""
    small = 3
    part = tree[::small, ::small].astype(np.uint8)
    rows = np.flatnonzero(part.any(axis=1))
    if not len(rows):
        return None
    tall = max(int(rows[-1] - rows[0]), 12)
    x, y = int(view.soil[0] / small), int(view.soil[1] / small)
    cv2.circle(part, (min(max(x, 0), part.shape[1] - 1), min(max(y, 0), part.shape[0] - 1)), 3, 1, -1)
    pad = int(0.4 * tall)
    part = np.asarray(cv2.copyMakeBorder(part, pad, pad, pad, pad, cv2.BORDER_CONSTANT, value=(0,)), np.uint8)
    closed = cv2.morphologyEx(part, cv2.MORPH_CLOSE, _disc(0.22 * tall))
    wide = cv2.dilate(closed, _disc(2 * AWAY * tall))
    rings, _ = cv2.findContours(wide, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    ring = max(rings, key=cv2.contourArea)
    drawn = cv2.approxPolyDP(ring, FINE * tall, True)[:, 0].astype(float)
    high, broad = tree.shape
    return np.asarray(np.clip((drawn - pad) * small, 0, [broad - 1, high - 1]), float)


def usual(view: View) -> Floats:
    """A loop where a tree would stand: round the stem, and round a crown above it, up to the apex mark if there is one."""
    high, wide = view.barred.shape
    x, y = view.soil
    top = view.apex[1] if view.apex is not None else 0.06 * y
    tall = max(y - top, 12.0)
    turn = np.linspace(0.86, -3.999, 28)
    crown = np.column_stack([x + 0.60 * tall * np.cos(turn), y - 0.55 * tall + 0.52 * tall * np.sin(turn)])
    foot = np.array([[x - 0.22 * tall, y], [x + 0.22 * tall, y]])
    return np.asarray(np.clip(np.vstack([crown, foot]), 0, [wide - 1, high - 1]), float)


def _disc(across: float) -> NDArray[np.uint8]:
    size = max(3, int(across)) | 1
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)), np.uint8)
