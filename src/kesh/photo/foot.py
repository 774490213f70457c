"""The trunk's foot found without a mark: where something narrow stands on something wide."""

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.photo.classes import Image
from kesh.photo.parts import runs_of
from kesh.photo.plain import differs_from_ground
from kesh.photo.silhouette import FINE_PX

ASK = "the trunk's foot was not found; mark its middle on the soil line (--soil x,y)"


def find_foot(image: Image, not_tree: NDArray[np.float64] | None = None) -> tuple[float, float]:
    """(x, y) px of the middle of the trunk's foot, before a plain background.

    From the bottom upward: a table that runs from edge to edge, a pot, then a sudden narrowing to a third or less.
    Raises FieldError when the picture does not show that, as before a busy background.
    """
    scale = min(1.0, FINE_PX / 2 / max(image.shape[:2]))
    small = cv2.resize(image, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    card = None if not_tree is None else not_tree * scale
    fore = differs_from_ground(np.asarray(small, np.uint8), card)
    if fore is None:
        raise FieldError("soil", ASK)
    high, wide = fore.shape
    fore = cv2.morphologyEx(fore.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8)).astype(bool)
    runs = [runs_of(row) for row in fore]
    tabled = [y for y in range(int(0.4 * high), high) if _edge_to_edge(runs[y], wide)]
    table = tabled[0] if tabled else high - 1
    step = max(3, int(0.010 * high))
    for y in range(table - 2 * step, int(0.3 * high), -1):
        pot, upper = _widest(runs[y + step], wide), runs[y - step]
        lower = _widest(runs[min(y + 2 * step, table - 1)], wide)
        if pot is None or lower is None or pot[1] - pot[0] < 0.08 * wide:
            continue
        inside = [r for r in upper if r[0] >= pot[0] - step and r[1] <= pot[1] + step]
        higher = [r for r in runs[y - 2 * step] if r[0] >= pot[0] - step and r[1] <= pot[1] + step]
        if not inside or not higher:
            continue
        stem = max(inside, key=lambda r: r[1] - r[0])
        width, broad = stem[1] - stem[0], pot[1] - pot[0]
        if 0.015 * broad < width < 0.55 * broad and lower[1] - lower[0] > 0.55 * broad:
            rim = next((k for k in range(y - step, y + step) if _wider(runs[k], wide, 0.8 * broad)), y)
            return ((stem[0] + stem[1]) / 2) / scale, rim / scale
    raise FieldError("soil", ASK)


def _edge_to_edge(runs: list[tuple[int, int]], wide: int) -> bool:
    return sum(r[1] - r[0] for r in runs) > 0.96 * wide


def _wider(runs: list[tuple[int, int]], wide: int, least: float) -> bool:
    found = _widest(runs, wide)
    return found is not None and found[1] - found[0] > least


def _widest(runs: list[tuple[int, int]], wide: int) -> tuple[int, int] | None:
    """The widest run of a row that reaches no edge of the picture, as a table does."""
    kept = [r for r in runs if r[0] > 2 and r[1] < wide - 3]
    return max(kept, key=lambda r: r[1] - r[0], default=None)
