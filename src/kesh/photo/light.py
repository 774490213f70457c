"""From which side a photographed tree is lit, read off its trunk, so that a drawn pot can stand in the same light."""

import numpy as np

from kesh.photo.classes import WOOD, Image, Mask

# left and right third of a round stem differ by about this much in lightness (of 255) under a lamp at the side
FULL_SIDE = 70.0
LEAST_ROWS = 12


def lit_from(image: Image, mask: Mask) -> float | None:
    """-1 lit from the left .. 0 from the front .. +1 from the right; None when too little wood is seen.

    Each row of the wood's widest run compares its left third with its right third; the median row counts.
    """
    import cv2

    rows = np.flatnonzero((mask == WOOD).any(axis=1))
    if len(rows) < LEAST_ROWS:
        return None
    light = cv2.cvtColor(image, cv2.COLOR_BGR2Lab)[..., 0].astype(np.float32)
    least = max(9, 0.008 * max(mask.shape))
    found = []
    for y in rows[:: max(1, len(rows) // 300)]:
        marks = np.concatenate([[0], (mask[y] == WOOD).astype(np.int8), [0]])
        turns = np.flatnonzero(np.diff(marks))
        starts, ends = turns[::2], turns[1::2]
        widest = int(np.argmax(ends - starts))
        left, right = int(starts[widest]), int(ends[widest])
        third = (right - left) // 3
        if right - left >= least:
            found.append(float(light[y, right - third : right].mean() - light[y, left : left + third].mean()))
    if len(found) < LEAST_ROWS:
        return None
    return float(np.clip(np.median(found) / FULL_SIDE, -1.0, 1.0))
