"""One photograph from file to figures: what the command line and the window both do."""

from dataclasses import dataclass, replace
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.base.progress import Progress
from kesh.base.writing import write_bytes
from kesh.photo.classes import Image, Mask
from kesh.photo.doubt import measured_with_doubt
from kesh.photo.foot import find_foot
from kesh.photo.lens import bent, bent_back, bow_by_card, corner_share, straight, straightened
from kesh.photo.measure import PhotoMeasures
from kesh.photo.read import Photo, PhotoError, read_photo
from kesh.photo.scale import Scale, from_card, from_known
from kesh.photo.silhouette import cut_tree
from kesh.photo.tree_cut import TreeCut, resized
from kesh.photo.view import Hints

Pair = tuple[float, float]
# longer side of the picture that trees are cut out of and measured in; a hand's breadth of a tree is 300 px of it
WORK_PX = 1900


def at_working_size(image: Image) -> tuple[Image, float]:
    """A picture no larger than working size, and px of it for one of the original."""
    factor = min(1.0, WORK_PX / max(image.shape[:2]))
    if factor == 1:
        return image, 1.0
    return np.asarray(cv2.resize(image, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA), np.uint8), factor


@dataclass(frozen=True)
class Marks:
    """What was marked in a photograph, px: two points of known distance or a card's corners, foot and apex."""

    known: tuple[float, float, float, float, float] | None = None
    card: tuple[float, ...] | None = None
    soil: Pair | None = None
    apex: Pair | None = None
    loop: tuple[float, ...] = ()

    def scaled(self, factor: float) -> "Marks":
        """The same marks in a picture of another size; lengths in mm stay."""
        if factor == 1:
            return self
        two, card = self.known, self.card
        return Marks(
            None if two is None else (two[0] * factor, two[1] * factor, two[2] * factor, two[3] * factor, two[4]),
            None if card is None else (*(v * factor for v in card[:8]), *card[8:]),
            None if self.soil is None else (self.soil[0] * factor, self.soil[1] * factor),
            None if self.apex is None else (self.apex[0] * factor, self.apex[1] * factor),
            tuple(v * factor for v in self.loop),
        )

    def straight(self, bow: float, size: tuple[int, int]) -> "Marks":
        """The same marks where they lie once a picture of this size is without its bow."""
        if bow == 0:
            return self

        def along(values: tuple[float, ...]) -> tuple[float, ...]:
            return tuple(straight(np.array(values, float).reshape(-1, 2), bow, size).ravel().tolist())

        def spot(at: Pair | None) -> Pair | None:
            return None if at is None else along(at)  # type: ignore[return-value]

        return Marks(
            None if self.known is None else (*along(self.known[:4]), self.known[4]),  # type: ignore[arg-type]
            None if self.card is None else (*along(self.card[:8]), *self.card[8:]),
            spot(self.soil), spot(self.apex), along(self.loop) if len(self.loop) % 2 == 0 else self.loop,
        )  # fmt: skip

    @property
    def loop_px(self) -> NDArray[np.float64] | None:
        """The loop (n, 2) round the tree; two points are the corners of a box. Raises FieldError for no ring."""
        if not self.loop:
            return None
        if len(self.loop) % 2 or len(self.loop) < 4:
            raise FieldError("around", "a loop is written x1,y1,x2,y2,... with three points or more, or two for a box")
        points = np.array(self.loop, float).reshape(-1, 2)
        if not np.isfinite(points).all():
            raise FieldError("around", "the loop's points must be numbers")
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
    """A photograph, and its cut-out and figures at working size and without its bow.

    `factor` px for one of the photograph. `bow` is what was taken out (kesh.photo.lens), 0 for nothing.
    """

    photo: Photo
    cut: TreeCut
    soil: Pair
    found: PhotoMeasures
    factor: float = 1.0
    bow: float = 0.0

    @property
    def mask(self) -> Mask:
        """The classes (H, W) of the photograph as it was taken, at its own size."""
        whole = self.cut.mask if self.factor == 1 else resized(self.cut.mask, self.photo.size)
        return bent_back(whole, self.bow)

    @property
    def loop(self) -> NDArray[np.float64] | None:
        """The loop (n, 2) in px of the photograph as it was taken."""
        if self.cut.loop is None:
            return None
        return bent(self.cut.loop / self.factor, self.bow, self.photo.size)


def measure_photo(path: Path, marks: Marks, progress: Progress | None = None) -> Measured:
    """Read, cut out and measure. Raises KeshError with one sentence that says how to go on."""
    photo = read_photo(path)
    wide, high = photo.size
    for name, at in (("soil", marks.soil), ("apex", marks.apex)):
        if at is not None and not (0 <= at[0] <= wide and 0 <= at[1] <= high):
            raise FieldError(name, f"({at[0]:g}, {at[1]:g}) lies outside the picture of {wide} × {high} px")
    image, f = at_working_size(photo.image)
    here = marks.scaled(f)
    seen = None if here.card_px is None else bow_by_card(image, here.card_px)
    bow = seen.value if seen is not None and seen.seen else 0.0
    if seen is not None and bow:
        here, image = here.straight(bow, (image.shape[1], image.shape[0])), straightened(image, bow)
    soil = here.soil or find_foot(image, here.card_px)
    scale = here.scale(soil)
    if seen is not None and bow:
        scale = scale.less_sure(seen.plus_minus)
    cut = cut_tree(image, Hints(soil, here.apex, here.card_px, here.loop_px), progress)
    found = measured_with_doubt(image, cut, scale, soil, here.apex)
    if bow:
        told = f"straightened: by the card's edges the lens bows lines by {abs(corner_share(bow)):.1%} at the corners"
        found = replace(found, notes=(*found.notes, told))
    at = bent(np.array([soil], float), bow, (image.shape[1], image.shape[0]))[0] / f
    return Measured(photo, cut, (float(at[0]), float(at[1])), found, f, bow)


def write_mask(path: Path, mask: Mask) -> None:
    """Write the classes as a grey PNG: 0 background, 128 foliage, 255 wood. Raises KeshError."""
    done, data = cv2.imencode(".png", mask)
    if not done:
        raise PhotoError(f"{path.name}: the picture could not be packed")
    write_bytes(path, data.tobytes())
