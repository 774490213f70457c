"""A tree cut out of its photograph, with what is known about how sure it is: other cut-outs, doubt, and its loop."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import BACKGROUND, FOLIAGE, WOOD, Mask

Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]
# above this share of the tree's area in which the cut-outs differ, the whole cut-out is not to be trusted; nobody has
# looked at a loop that was proposed, so less is borne there
DOUBTFUL, DOUBTFUL_PROPOSED = 0.18, 0.10
DRAW_ROUND = "draw a loop round the tree; outside it all is background"
STROKES = "two strokes where it is hatched, one on the tree and one on the background, or a plain cloth behind the tree"


@dataclass(frozen=True, eq=False)
class TreeCut:
    """The classes (H, W) in px of the picture, and the same tree by other settings at a smaller size.

    `others` (n, h, w) are classes; `doubt` is the share of the tree's area, 0..1, in which the cut-outs differ. The
    loop (n, 2) is in px of the picture; `proposed` when nobody drew it. `edges` are the trunk's two edges (n, 4): height
    y, left x, right x in px of the picture and how clear they are, 0..1, from the soil upward.
    """

    mask: Mask
    others: NDArray[np.uint8]
    doubt: float
    loop: Floats | None = None
    proposed: bool = True
    edges: Floats | None = None

    @property
    def factor(self) -> float:
        """px of the others for one px of the mask."""
        return self.others.shape[2] / self.mask.shape[1] if len(self.others) else 1.0

    @property
    def doubtful(self) -> bool:
        """Whether the cut-out as a whole is in doubt."""
        return self.doubt > (DOUBTFUL_PROPOSED if self.proposed else DOUBTFUL)

    @property
    def trials(self) -> NDArray[np.uint8]:
        """This cut-out and the others (1 + n, h, w), all at the size of the others."""
        return np.concatenate([resized(self.mask, (self.others.shape[2], self.others.shape[1]))[None], self.others])

    def settles(self) -> str:
        """What would settle the doubt."""
        return DRAW_ROUND if self.proposed else STROKES

    def differing(self) -> Bools:
        """Where some of the cut-outs see tree and some do not, at the size of the others."""
        return differing(self.mask, self.others)


def differing(mask: Mask, others: NDArray[np.uint8]) -> Bools:
    """Where some cut-outs see tree and some do not (h, w), rims between two outlines included."""
    if not len(others):
        return np.zeros(mask.shape, bool)
    high, wide = others.shape[1:]
    own = cv2.resize((mask > 0).astype(np.float32), (wide, high), interpolation=cv2.INTER_AREA) > 0.5
    seen = np.sum(others > 0, axis=0) + own
    split = (seen > 0) & (seen <= len(others))
    return np.asarray(split)


def share_differing(mask: Mask, others: NDArray[np.uint8]) -> float:
    """Share of the tree's area in which cut-outs differ, 0..1; 1 when there is no tree."""
    if not len(others):
        return 0.0
    high, wide = others.shape[1:]
    area = float(np.count_nonzero(mask)) * (wide / mask.shape[1]) * (high / mask.shape[0])
    return 1.0 if area < 1 else min(1.0, float(np.count_nonzero(differing(mask, others))) / area)


def resized(classes: Mask, size: tuple[int, int]) -> Mask:
    """Classes at another size (width, height), edges smoothed and not stepped."""
    way = cv2.INTER_LINEAR if size[0] >= classes.shape[1] else cv2.INTER_AREA
    wood = cv2.resize((classes == WOOD).astype(np.float32), size, interpolation=way)
    leaf = cv2.resize((classes == FOLIAGE).astype(np.float32), size, interpolation=way)
    return np.where(wood + leaf > 0.5, np.where(wood >= leaf, WOOD, FOLIAGE), BACKGROUND).astype(np.uint8)
