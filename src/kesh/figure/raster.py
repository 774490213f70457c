"""Shaded faces filled into a picture, far before near: what a turning body needs thirty times a second."""

import numpy as np
from numpy.typing import NDArray

from kesh.figure.pot_mesh import OUTSIDE, RIM, Seen

Floats = NDArray[np.float64]
# fractions of a pixel the filler reckons with, as bits
SHIFT = 4


def shades(view: Seen, base_rgb: Floats, gloss: float, dim: float = 1.0) -> Floats:
    """Colour of each face in 0 to 255, (k, 3): the part's own (7, 3) under the lamp, with a shine where it is glazed."""
    colours = base_rgb[view.part] * view.light[:, None] * dim
    shiny = (view.part == OUTSIDE) | (view.part == RIM)
    colours += (255 * gloss * view.shine * shiny)[:, None]
    return np.clip(colours, 0, 255)


def filled(points: Floats, colours: Floats, wide: int, high: int, over: int = 2) -> NDArray[np.uint8]:
    """Faces (k, 4, 2) in px painted in their order, (high, wide, 4) red, green, blue, alpha, premultiplied.

    Painted `over` times as large and brought down, so edges are smooth and neighbours leave no hair line between them.
    """
    # loaded late: a collection opens without it
    import cv2

    canvas = np.zeros((high * over, wide * over, 4), np.uint8)
    fixed = np.round(points * (over << SHIFT)).astype(np.int32)
    full = np.column_stack([colours, np.full(len(colours), 255.0)]).tolist()
    for face, colour in zip(fixed, full, strict=True):
        cv2.fillConvexPoly(canvas, face, colour, cv2.LINE_8, SHIFT)
    if over > 1:
        return np.asarray(cv2.resize(canvas, (wide, high), interpolation=cv2.INTER_AREA), np.uint8)
    return canvas
