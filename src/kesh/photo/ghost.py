"""The tree of later years laid over its photograph: its pads of leaves grown about the foot, its trunk about its line."""

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.model.tree import Measure
from kesh.photo.classes import FOLIAGE, Mask
from kesh.photo.measure import PhotoMeasures

Floats = NDArray[np.float64]
SMOOTH_SHARE = 0.006


def outline_px(mask: Mask) -> list[Floats]:
    """Closed outlines (n, 2) of the leaves in px, small gaps closed and small islands left out, largest first.

    A tree without leaves gives the outline of its wood.
    """
    kind = mask == FOLIAGE if (mask == FOLIAGE).sum() > 0.05 * (mask > 0).sum() else mask > 0
    size = max(3, round(SMOOTH_SHARE * max(mask.shape))) | 1
    tree = cv2.morphologyEx(
        kind.astype(np.uint8), cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    )
    found, _ = cv2.findContours(tree, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    least = 0.004 * float(np.count_nonzero(tree))
    kept = sorted((c for c in found if cv2.contourArea(c) > least), key=cv2.contourArea, reverse=True)
    return [np.asarray(cv2.approxPolyDP(c, 0.8, True)[:, 0], float) for c in kept]


def grown_outline(outlines_px: list[Floats], found: PhotoMeasures, now: Measure, then: Measure) -> list[Floats]:
    """Outlines in px of the picture as the measures grow from `now` to `then`: each side by its own reach.

    What hangs below the soil grows with the drop; a measure that is missing on either side leaves its part as it is.
    """

    def ratio(field: str) -> float:
        a, b = getattr(now, field), getattr(then, field)
        return float(b / a) if a and b else 1.0

    left, right = ratio("canopy_left_mm"), ratio("canopy_right_mm")
    up, down = ratio("height_mm"), ratio("drop_mm")
    made = [_trunk(found, ratio("trunk_diameter_mm"))] if len(found.profile.line_mm) > 1 else []
    for outline in outlines_px:
        p = found.from_picture(outline)
        p[:, 0] *= np.where(p[:, 0] < 0, left, right)
        p[:, 1] *= np.where(p[:, 1] < 0, down, up)
        made.append(found.in_picture(p))
    return made


def _trunk(found: PhotoMeasures, thicker: float) -> Floats:
    """The trunk's two edges as one outline in px of the picture, thicker about its own line."""
    line, half = found.profile.line_mm, found.profile.widths_mm * thicker / 2
    step = max(1, len(line) // 80)
    left, right = line.copy(), line.copy()
    left[:, 0] -= half
    right[:, 0] += half
    return found.in_picture(np.vstack([left[::step], right[::-step]]))
