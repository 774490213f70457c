"""Two photographs of one tree laid over each other at one scale, foot on foot."""

import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Mask
from kesh.photo.ghost import outline_px
from kesh.photo.measure import PhotoMeasures

Floats = NDArray[np.float64]


def outline_mm(mask: Mask, found: PhotoMeasures) -> list[Floats]:
    """Outlines (n, 2) of a whole tree, mm right of the foot and above it, largest first; leaves and wood together."""
    whole = np.where(mask > 0, 255, 0).astype(np.uint8)
    return [found.from_picture(ring) for ring in outline_px(whole)]


def laid_over(rings_mm: list[Floats], found: PhotoMeasures) -> list[Floats]:
    """The same outlines in px of another photograph, at its scale and on its foot."""
    return [found.in_picture(ring) for ring in rings_mm]
