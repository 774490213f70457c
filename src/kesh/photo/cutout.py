"""The real tree lifted out of its photograph, ready to stand in any pot."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Image, Mask
from kesh.photo.light import lit_from
from kesh.photo.scale import Scale

MARGIN_PX = 6


@dataclass(frozen=True, eq=False)
class CutOut:
    """Picture with alpha (H, W, 4) as BGRA, its scale, the trunk's foot in its px, and the side it is lit from."""

    bgra: NDArray[np.uint8]
    px_mm: float
    foot: tuple[float, float]
    lit_from: float | None = None

    @property
    def box_mm(self) -> tuple[float, float, float, float]:
        """Left, top, width and height in mm from the foot, y down."""
        high, wide = self.bgra.shape[:2]
        k = self.px_mm
        return -self.foot[0] / k, -self.foot[1] / k, wide / k, high / k


def lift(image: Image, mask: Mask, scale: Scale, soil: tuple[float, float]) -> CutOut:
    """Cut the tree out with a soft edge that carries the tree's own colours, so that no ground shines at the rim.

    A picture with perspective is levelled first. The mask must not be empty.
    """
    import cv2

    ys, xs = np.nonzero(mask)
    box = np.array([[xs.min(), ys.min()], [xs.max() + 1, ys.max() + 1]], float)
    corners = np.array([box[0], [box[1, 0], box[0, 1]], box[1], [box[0, 0], box[1, 1]], soil], float)
    flat = corners if scale.straight else scale.levelled(corners)
    low = np.floor(flat.min(axis=0)) - MARGIN_PX
    size = (np.ceil(flat.max(axis=0)) + MARGIN_PX - low).astype(int)
    move = np.array([[1, 0, -low[0]], [0, 1, -low[1]], [0, 0, 1.0]]) @ (np.eye(3) if scale.straight else scale.level)
    shape = (int(size[0]), int(size[1]))
    picture = cv2.warpPerspective(image, move, shape, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    tree = cv2.warpPerspective((mask > 0).astype(np.float32), move, shape, flags=cv2.INTER_LINEAR)
    inner = cv2.erode((tree > 0.5).astype(np.uint8), np.ones((3, 3), np.uint8)).astype(np.float32)
    share = cv2.GaussianBlur(inner, (0, 0), 2.0)
    own = (
        cv2.GaussianBlur(np.asarray(picture, np.float32) * inner[..., None], (0, 0), 2.0)
        / np.maximum(share, 1e-3)[..., None]
    )
    colour = np.where((inner > 0)[..., None], np.asarray(picture, np.float32), own)
    alpha = np.clip(cv2.GaussianBlur(tree, (0, 0), 0.8) * 1.25 - 0.2, 0, 1) * (share > 0.01)
    bgra = np.dstack([np.clip(colour, 0, 255), np.asarray(alpha) * 255]).astype(np.uint8)
    foot = (np.array(soil) if scale.straight else scale.levelled(np.array([soil], float))[0]) - low
    return CutOut(bgra, scale.px_mm, (float(foot[0]), float(foot[1])), lit_from(image, mask))
