"""One trunk of a group read from a photograph by hand: foot and tip are drawn, its edges are found and may be corrected.

What stands behind the plane of the scale looks smaller: every tree of a group is read as if it stood in that plane, and how much
that may be off is part of the plus or minus.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.photo.classes import Image
from kesh.photo.scale import Scale
from kesh.photo.trunk import Reading, Ruler

Point = tuple[float, float]
# a trunk's thickness is read at this share of its height, and looked for within that many shares on either side
AT_SHARE, WITHIN_SHARE = 0.10, 0.07
EDGE_PX = 1.5
# a camera two metres off, trees up to a hand's breadth before or behind the plane [J]
DEPTH_SHARE = 0.05


@dataclass(frozen=True)
class StemMarks:
    """Foot, tip and both edges of one trunk, px of the picture at working size."""

    foot: Point
    tip: Point
    left: Point
    right: Point


@dataclass(frozen=True)
class StemFound:
    """What the marks measure: height along the plumb, thickness across the trunk, lean (+ to the right), place beside the picture's middle line."""

    height: Reading
    thickness: Reading
    lean_deg: float
    x_mm: float


def edges(image: Image, foot: Point, tip: Point) -> tuple[Point, Point]:
    """The trunk's two edges a tenth of the way up: where lightness and colour change most on either side of its line.

    Raises FieldError for a line too short to be a trunk.
    """
    a, b = np.array(foot, float), np.array(tip, float)
    length = float(np.hypot(*(b - a)))
    if length < 20:
        raise FieldError("trunk", "draw the line from the foot to the tip: this one is too short")
    along = (b - a) / length
    across = np.array([-along[1], along[0]])
    if across[0] < 0:
        across = -across
    middle = a + AT_SHARE * (b - a)
    reach = max(WITHIN_SHARE * length, 8.0)
    t = np.arange(-reach, reach + 0.25, 0.5)
    # the mean of several rows along the trunk: bark is rough
    rows = [middle + along * s for s in np.linspace(-0.02, 0.02, 7) * length]
    lab = cv2.cvtColor(image, cv2.COLOR_BGR2LAB).astype(np.float32)
    profile = np.mean([_sampled(lab, r[None, :] + t[:, None] * across) for r in rows], axis=0)
    smooth = cv2.GaussianBlur(profile, (1, 5), 1.0)
    step = np.abs(np.gradient(smooth, axis=0)).sum(axis=1)
    near = 1.0 - 0.5 * np.abs(t) / reach
    weight = step * near
    least = 1.0
    left = t[t < -least][int(np.argmax(weight[t < -least]))]
    right = t[t > least][int(np.argmax(weight[t > least]))]
    one, other = middle + left * across, middle + right * across
    return (float(one[0]), float(one[1])), (float(other[0]), float(other[1]))


def _sampled(lab: NDArray[np.float32], points: NDArray[np.float64]) -> NDArray[np.float64]:
    p = points.astype(np.float32)
    return np.asarray(
        cv2.remap(lab, p[:, :1].copy(), p[:, 1:].copy(), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)[:, 0, :],
        float,
    )


def read_stem(marks: StemMarks, scale: Scale, middle_px: Point) -> StemFound:
    """Height, thickness and lean of one trunk; `middle_px` is the tray's middle on the soil. Raises FieldError for marks that are none."""
    p = scale.levelled(np.array([marks.foot, marks.tip, marks.left, marks.right, middle_px], float))
    foot, tip, left, right, middle = p
    tall = float(foot[1] - tip[1])
    if tall <= 5:
        raise FieldError("trunk", "the tip lies above the foot; draw the line upward")
    along = (tip - foot) / float(np.hypot(*(tip - foot)))
    wide = abs(float((right - left) @ np.array([-along[1], along[0]])))
    ruler = Ruler(scale.px_mm, scale.relative, 2 * EDGE_PX)
    height, thickness = ruler(tall, 0.0, DEPTH_SHARE), ruler(wide, 0.0, DEPTH_SHARE)
    return StemFound(
        height,
        thickness,
        float(np.degrees(np.arctan2(tip[0] - foot[0], tall))),
        float((foot[0] - middle[0]) / scale.px_mm),
    )
