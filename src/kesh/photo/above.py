"""A photograph of the roots from above, turned and scaled to lie under the root plan."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.photo.classes import Image
from kesh.photo.scale import Scale

Floats = NDArray[np.float64]
Pair = tuple[float, float]
# longer side of an underlay, and how far from the trunk anything of a picture still belongs to a root plan
MOST_PX, MOST_REACH_MM = 1500, 1000.0
LEAST_ARM_PX = 12.0


@dataclass(frozen=True, eq=False)
class Underlay:
    """A picture (H, W, 4) as BGRA seen straight from above, the front at its foot, clear where nothing was seen.

    `left_mm` and `back_mm` are its upper left corner, right of the trunk's middle and behind it.
    """

    bgra: NDArray[np.uint8]
    px_mm: float
    left_mm: float
    back_mm: float

    @property
    def box_mm(self) -> tuple[float, float, float, float]:
        """Left, top, width and height in mm about the trunk, y down."""
        high, wide = self.bgra.shape[:2]
        return self.left_mm, -self.back_mm, wide / self.px_mm, high / self.px_mm

    def at(self, right_mm: float, back_mm: float) -> NDArray[np.uint8]:
        """The picture's colour (4,) at a place of the plan; clear outside it."""
        x, y = int((right_mm - self.left_mm) * self.px_mm), int((self.back_mm - back_mm) * self.px_mm)
        high, wide = self.bgra.shape[:2]
        return self.bgra[y, x] if 0 <= x < wide and 0 <= y < high else np.zeros(4, np.uint8)


def to_plan(scale: Scale, trunk_px: Pair, marker_px: Pair, marker_deg: float = 0.0) -> Floats:
    """The homography (3, 3) from px of a picture to mm right of the trunk's middle and behind it.

    The picture is turned about the trunk until the marker lies at its azimuth: degrees clockwise from the front, seen
    from above, unit vector (-sin a, -cos a). Raises FieldError when marker and trunk are one place.
    """
    ends = np.array([trunk_px, marker_px], float)
    if not np.isfinite(ends).all() or not np.isfinite(marker_deg):
        raise FieldError("marker", "places and angle must be numbers")
    (x0, y0), (x1, y1) = scale.levelled(ends)
    right, back = x1 - x0, y0 - y1
    if np.hypot(right, back) < LEAST_ARM_PX:
        raise FieldError("marker", "the front marker lies on the trunk; mark where it stands in the soil")
    a = np.radians(marker_deg)
    turn = np.arctan2(-np.cos(a), -np.sin(a)) - np.arctan2(back, right)
    cos, sin = np.cos(turn) / scale.px_mm, np.sin(turn) / scale.px_mm
    # y of a picture runs down, behind the trunk is up
    spin = np.array([[cos, sin, 0], [sin, -cos, 0], [0, 0, 1.0]])
    move = np.array([[1, 0, -x0], [0, 1, -y0], [0, 0, 1.0]])
    return np.asarray(spin @ move @ scale.level)


def underlay(image: Image, scale: Scale, trunk_px: Pair, marker_px: Pair, marker_deg: float = 0.0) -> Underlay:
    """The picture as it lies under a root plan. Raises FieldError for marks that cannot be."""
    plan = to_plan(scale, trunk_px, marker_px, marker_deg)
    high, wide = image.shape[:2]
    corners = np.array([[0, 0, 1], [wide, 0, 1], [wide, high, 1], [0, high, 1.0]]) @ plan.T
    if (corners[:, 2] * corners[0, 2] <= 0).any():
        raise FieldError("card", "the card's perspective does not reach over the roots; mark its corners anew")
    seen = corners[:, :2] / corners[:, 2:]
    low, top = np.maximum(seen.min(axis=0), -MOST_REACH_MM), np.minimum(seen.max(axis=0), MOST_REACH_MM)
    if (top - low <= 0).any():
        raise FieldError("soil", "the trunk's middle lies far outside the picture; mark it anew")
    px_mm = min(scale.px_mm, MOST_PX / float((top - low).max()))
    size = np.maximum(np.ceil((top - low) * px_mm), 1).astype(int)
    place = np.array([[px_mm, 0, -low[0] * px_mm], [0, -px_mm, top[1] * px_mm], [0, 0, 1.0]]) @ plan
    whole = np.dstack([image, np.full((high, wide), 255, np.uint8)])
    import cv2

    flat = cv2.warpPerspective(whole, place, (int(size[0]), int(size[1])), flags=cv2.INTER_AREA,
                               borderMode=cv2.BORDER_CONSTANT, borderValue=(0, 0, 0, 0))  # fmt: skip
    return Underlay(np.asarray(flat, np.uint8), px_mm, float(low[0]), float(top[1]))
