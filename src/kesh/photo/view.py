"""A picture at working size: its colours, its marks, and what is barred from being tree."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Image

Real = NDArray[np.float32]


@dataclass(frozen=True)
class Hints:
    """What is known before, px: centre of the trunk's foot, apex, a polygon (the scale card) that is no tree, and a loop.

    The loop (n, 2) runs round crown and trunk; what lies outside it is background for certain.
    """

    soil: tuple[float, float]
    apex: tuple[float, float] | None = None
    not_tree: NDArray[np.float64] | None = None
    loop: NDArray[np.float64] | None = None


@dataclass(frozen=True)
class View:
    """The picture at working size, and where things are in it."""

    lab: Real
    bgr: Image
    soil: tuple[float, float]
    apex: tuple[float, float] | None
    barred: NDArray[np.bool_]

    @classmethod
    def of(cls, bgr: Image, hints: Hints, scale: float) -> "View":
        soft = cv2.GaussianBlur(bgr, (0, 0), 0.9)
        lab = cv2.cvtColor(soft.astype(np.float32) / 255, cv2.COLOR_BGR2Lab)
        barred: Image = np.zeros(bgr.shape[:2], np.uint8)
        if hints.not_tree is not None:
            cv2.fillPoly(barred, [np.round(hints.not_tree * scale).astype(np.int32)], 1)
            barred = np.asarray(cv2.dilate(barred, np.ones((7, 7), np.uint8)), np.uint8)
        apex = None if hints.apex is None else (hints.apex[0] * scale, hints.apex[1] * scale)
        return cls(np.asarray(lab, np.float32), bgr, (hints.soil[0] * scale, hints.soil[1] * scale), apex,
                   barred.astype(bool))  # fmt: skip

    @property
    def above(self) -> int:
        """Rows above the soil line."""
        return round(self.soil[1])

    def border(self) -> NDArray[np.bool_]:
        """Edge strips above the soil line: left, right and top, where the tree seldom reaches."""
        high, wide = self.lab.shape[:2]
        found = np.zeros((high, wide), bool)
        side, top = max(3, int(0.045 * wide)), max(3, int(0.03 * high))
        found[: self.above, :side] = found[: self.above, wide - side :] = True
        found[:top] = True
        found[self.above :] = False
        return found & ~self.barred
