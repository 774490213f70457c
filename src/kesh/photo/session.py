"""One photograph from file to figures: what the command line and the window both do."""

from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.errors import FieldError
from kesh.photo.classes import Mask
from kesh.photo.doubt import measured_with_doubt
from kesh.photo.foot import find_foot
from kesh.photo.measure import PhotoMeasures
from kesh.photo.read import Photo, PhotoError, read_photo
from kesh.photo.scale import Scale, from_card, from_known
from kesh.photo.silhouette import cut_tree
from kesh.photo.tree_cut import TreeCut
from kesh.photo.view import Hints
from kesh.progress import Progress
from kesh.writing import write_bytes

Pair = tuple[float, float]


@dataclass(frozen=True)
class Marks:
    """What was marked in a photograph, px: two points of known distance or a card's corners, foot and apex."""

    known: tuple[float, float, float, float, float] | None = None
    card: tuple[float, ...] | None = None
    soil: Pair | None = None
    apex: Pair | None = None
    loop: tuple[float, ...] = ()

    @property
    def loop_px(self) -> NDArray[np.float64] | None:
        """The loop (n, 2) round the tree; two points are the corners of a box. Raises FieldError for no ring."""
        if not self.loop:
            return None
        if len(self.loop) % 2 or len(self.loop) < 4:
            raise FieldError("around", "a loop is written x1,y1,x2,y2,... with three points or more, or two for a box")
        points = np.array(self.loop, float).reshape(-1, 2)
        if len(points) == 2:
            (x1, y1), (x2, y2) = points
            points = np.array([[x1, y1], [x2, y1], [x2, y2], [x1, y2]])
        return points

    @property
    def card_px(self) -> NDArray[np.float64] | None:
        """The card's corners (4, 2)."""
        return None if self.card is None else np.array(self.card[:8], float).reshape(4, 2)

    def scale(self, soil: Pair) -> Scale:
        """The scale that the marks give. Raises FieldError when there is none."""
        if self.card is not None and self.card_px is not None:
            return from_card(self.card_px, self.card[8], self.card[9], soil)
        if self.known is not None:
            return from_known(*self.known)
        raise FieldError("scale", "the scale is not set; mark two points of known distance, or the corners of a card")


@dataclass(frozen=True)
class Measured:
    """A photograph with its cut-out and figures."""

    photo: Photo
    cut: TreeCut
    soil: Pair
    found: PhotoMeasures


def measure_photo(path: Path, marks: Marks, progress: Progress | None = None) -> Measured:
    """Read, cut out and measure. Raises KeshError with one sentence that says how to go on."""
    photo = read_photo(path)
    wide, high = photo.size
    for name, at in (("soil", marks.soil), ("apex", marks.apex)):
        if at is not None and not (0 <= at[0] <= wide and 0 <= at[1] <= high):
            raise FieldError(name, f"({at[0]:g}, {at[1]:g}) lies outside the picture of {wide} × {high} px")
    soil = marks.soil or find_foot(photo.image, marks.card_px)
    scale = marks.scale(soil)
    cut = cut_tree(photo.image, Hints(soil, marks.apex, marks.card_px, marks.loop_px), progress)
    return Measured(photo, cut, soil, measured_with_doubt(photo.image, cut, scale, soil, marks.apex))


def write_mask(path: Path, mask: Mask) -> None:
    """Write the classes as a grey PNG: 0 background, 128 foliage, 255 wood. Raises KeshError."""
    done, data = cv2.imencode(".png", mask)
    if not done:
        raise PhotoError(f"{path.name}: the picture could not be packed")
    write_bytes(path, data.tobytes())
