"""Every figure that a cut-out tree gives, each with its plus or minus."""

from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.base.once import once
from kesh.photo.classes import BACKGROUND, FOLIAGE, WOOD, Image, Mask
from kesh.photo.scale import Scale
from kesh.photo.silhouette import FINE_PX
from kesh.photo.stem import Stem, follow
from kesh.photo.tones import Tone, tones
from kesh.photo.trunk import HIDDEN, Reading, Ruler, TrunkProfile


@dataclass(frozen=True, eq=False)
class PhotoMeasures:
    """All figures of a photograph, the trunk's profile, the tones of bark and leaf.

    `to_picture` (3, 3) brings mm right of the foot and above it to px of the picture that was measured.
    """

    figures: dict[str, Reading]
    profile: TrunkProfile
    to_picture: NDArray[np.float64]
    bark: tuple[Tone, ...] = ()
    leaf: tuple[Tone, ...] = ()
    notes: tuple[str, ...] = field(default=())
    doubt: float = 0.0

    @once
    def trunk(self) -> dict[str, Reading]:
        """Trunk widths at the named places."""
        return self.profile.stations()

    @once
    def trunk_at_mm(self) -> dict[str, float | None]:
        """How high the named places lie."""
        return self.profile.places_mm()

    def in_picture(self, points_mm: NDArray[np.float64]) -> NDArray[np.float64]:
        """Points (n, 2) in mm right of the foot and above it as px of the picture."""
        p = np.column_stack([points_mm, np.ones(len(points_mm))]) @ self.to_picture.T
        return np.asarray(p[:, :2] / p[:, 2:])

    def from_picture(self, points_px: NDArray[np.float64]) -> NDArray[np.float64]:
        """Points (n, 2) of the picture in mm right of the foot and above it."""
        p = np.column_stack([points_px, np.ones(len(points_px))]) @ np.linalg.inv(self.to_picture).T
        return np.asarray(p[:, :2] / p[:, 2:])

    def as_dict(self) -> dict[str, object]:
        """The public keys of `kesh measure --json`."""
        made: dict[str, object] = {name: reading.as_dict() for name, reading in self.figures.items()}
        made["trunk_mm"] = {
            name: reading.as_dict() | {"height_mm": self.trunk_at_mm.get(name)} for name, reading in self.trunk.items()
        }
        made["doubt"] = self.doubt
        made["notes"] = list(self.notes)
        return made


def measure(
    image: Image, mask: Mask, scale: Scale, soil: tuple[float, float], apex: tuple[float, float] | None = None,
    *, colours: bool = True,
) -> PhotoMeasures:  # fmt: skip
    """Measure a mask of classes in px. `soil` is the middle of the trunk's foot on the soil line.

    Without `colours` those of bark and leaf are left out, which takes a third of the time. Raises FieldError when nothing stands above the soil line, or the apex lies below it.
    """
    if mask.shape != image.shape[:2]:
        raise FieldError("mask", "mask and picture differ in size")
    level, flat, foot, shift = _levelled(image, mask, scale, soil)
    k = scale.px_mm
    x0, y0 = foot
    rows, cols = np.flatnonzero((level > 0).any(axis=1)), np.flatnonzero((level > 0).any(axis=0))
    above = rows[rows < y0]
    if not len(above):
        raise FieldError("soil", "nothing of the tree stands above the soil mark")
    top = float(above[0])
    edge_px = max(1.5, 1.4 * max(mask.shape) / FINE_PX)
    apex_level = None
    if apex is not None:
        apex_level = scale.levelled(np.array([apex], float))[0] - shift
        if apex_level[1] >= y0:
            raise FieldError("apex", "the apex lies below the soil mark; the soil mark goes on the trunk's foot")
    tall_px = y0 - (float(apex_level[1]) if apex_level is not None else top)
    said: dict[str, Reading] = {}

    length = Ruler(k, scale.relative, edge_px)
    said["height_mm"] = length(tall_px, 1.0, 0.006)
    said["reach_left_mm"] = length(x0 - float(cols[0]), 1.5, 0.008)
    said["reach_right_mm"] = length(float(cols[-1]) + 1 - x0, 1.5, 0.008)
    said["crown_base_mm"] = _crown_base(level, y0, k, length)
    stem = follow(level, foot, tall_px)
    said["flare_mm"] = _flare(level, foot, tall_px, stem, length)
    said["apex_offset_mm"] = _apex_offset(level, foot, top, apex_level, length)
    lean = stem.lean_deg()
    said["lean_deg"] = Reading(
        None if lean is None else round(lean, 1),
        None if lean is None else 2.0,
        "deg",
        "" if lean is not None else HIDDEN,
    )
    said["canopy_opacity"] = _opacity(level, tall_px)
    area = float(np.count_nonzero(level)) / k**2 / 100
    rim = (
        float(np.count_nonzero(cv2.morphologyEx((level > 0).astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3))))) / 2
    )
    said["silhouette_area_cm2"] = Reading(
        round(area, 1),
        round(float(np.hypot(4 * scale.relative * area, 0.8 * edge_px * rim / k**2 / 100 * 0.5)), 1),
        "cm2",
    )
    below = rows[rows >= y0]
    if len(below) and below[-1] - y0 > 0.04 * tall_px:
        said["drop_mm"] = length(float(below[-1]) + 1 - y0, 1.5, 0.008)
    bark, leaf = (tones(flat, level == kind) if colours else () for kind in (WOOD, FOLIAGE))
    for name, found in (("bark_colour", bark), ("leaf_colour", leaf)):
        said[name] = (
            Reading(found[0].colour, round(found[0].spread, 1), "sRGB")
            if found
            else Reading(None, None, "sRGB", "too little of it is seen")
        )
    said |= _weight(flat, level, x0, k)
    to_level = np.array([[k, 0, x0 + shift[0]], [0, -k, y0 + shift[1]], [0, 0, 1.0]])
    to_picture = to_level if scale.straight else np.linalg.inv(scale.level) @ to_level
    return PhotoMeasures(said, TrunkProfile(stem, tall_px, length), to_picture, bark, leaf, (f"scale by {scale.how}",))


def _levelled(
    image: Image, mask: Mask, scale: Scale, soil: tuple[float, float]
) -> tuple[Mask, Image, tuple[float, float], NDArray[np.float64]]:
    """(mask, picture, foot, shift) seen straight on, cut to the tree; as they are when no perspective is known."""
    if not (mask > 0).any():
        raise FieldError("mask", "no tree is marked in the picture")
    ys, xs = np.nonzero(mask)
    box = np.array(
        [[xs.min(), ys.min()], [xs.max(), ys.min()], [xs.max(), ys.max()], [xs.min(), ys.max()], soil], float
    )
    if scale.straight:
        return mask, image, soil, np.zeros(2)
    flat = scale.levelled(box)
    low, high = np.floor(flat.min(axis=0)) - 8, np.ceil(flat.max(axis=0)) + 8
    size = (high - low).astype(int)
    if not np.isfinite(size).all() or size.max() > 12_000 or size.min() < 4:
        raise FieldError("card", "the card's perspective does not reach over the tree; mark its corners anew")
    move = np.array([[1, 0, -low[0]], [0, 1, -low[1]], [0, 0, 1.0]]) @ scale.level
    shape = (int(size[0]), int(size[1]))
    wood, leaf = (
        cv2.warpPerspective((mask == kind).astype(np.float32), move, shape, flags=cv2.INTER_LINEAR)
        for kind in (WOOD, FOLIAGE)
    )
    level = np.where(wood + leaf > 0.5, np.where(wood >= leaf, WOOD, FOLIAGE), BACKGROUND).astype(np.uint8)
    picture = np.asarray(cv2.warpPerspective(image, move, shape, flags=cv2.INTER_LINEAR), np.uint8)
    foot = scale.levelled(np.array([soil], float))[0] - low
    return level, picture, (float(foot[0]), float(foot[1])), low


def _crown_base(level: Mask, y0: float, k: float, length: Ruler) -> Reading:
    leaf = (level == FOLIAGE).astype(np.uint8)
    leaf[round(y0) :] = 0
    count, _, stats, _ = cv2.connectedComponentsWithStats(leaf, connectivity=8)
    if count <= 1:
        return Reading(None, None, "mm", "no leaves are seen")
    big = np.flatnonzero(stats[1:, cv2.CC_STAT_AREA] > max(0.01 * leaf.sum(), 9 * k)) + 1
    if not len(big):
        big = np.array([1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))])
    low = max(int(stats[b, cv2.CC_STAT_TOP] + stats[b, cv2.CC_STAT_HEIGHT]) for b in big)
    made = length(max(y0 - low, 0.0), 2.0 + 0.012 * y0, 0.02)
    return made


def _flare(level: Mask, foot: tuple[float, float], tall_px: float, stem: Stem, length: Ruler) -> Reading:
    """The widest run of wood through the foot in the lowest 4 % of the height."""
    low = stem.height <= 0.04 * tall_px
    if not low.any():
        return Reading(None, None, "mm", "the foot of the trunk is hidden")
    spans = (stem.right - stem.left)[low]
    made = length(float(np.percentile(spans, 95)), 2.0, 0.03)
    return made


def _apex_offset(
    level: Mask, foot: tuple[float, float], top: float, apex: NDArray[np.float64] | None, length: Ruler
) -> Reading:
    if apex is not None:
        return length(float(apex[0]) - foot[0], 1.0)
    rows = level[int(top) : int(top) + max(2, int(0.004 * (foot[1] - top)))]
    xs = np.nonzero(rows)[1]
    spread = float(xs.std()) if len(xs) > 1 else 0.0
    made = length(float(np.median(xs)) - foot[0], 2.0 + min(spread, 12.0))
    return made


def _opacity(level: Mask, tall_px: float) -> Reading:
    """Share of what the canopy's outline encloses that is not see-through."""
    leaf = (level == FOLIAGE).astype(np.uint8)
    if leaf.sum() < 50:
        return Reading(None, None, "share", "no leaves are seen")
    size = max(3, int(0.035 * tall_px)) | 1
    pad = cv2.copyMakeBorder(leaf, size, size, size, size, cv2.BORDER_CONSTANT, value=(0,))
    closed = cv2.morphologyEx(pad, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    outlines, _ = cv2.findContours(closed, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    hull = np.zeros_like(closed)
    cv2.drawContours(hull, outlines, -1, 1, -1)
    tree = cv2.copyMakeBorder((level > 0).astype(np.uint8), size, size, size, size, cv2.BORDER_CONSTANT, value=(0,))
    share = float(np.count_nonzero(np.asarray(tree)[np.asarray(hull) > 0])) / max(float(np.count_nonzero(hull)), 1.0)
    return Reading(round(share, 2), 0.06, "share")


def _weight(flat: Image, level: Mask, x0: float, k: float) -> dict[str, Reading]:
    """Visual mass in cm2 of black, and its centre from the foot, by the usual weights (docs/methods.md, "visual mass")."""
    light = cv2.cvtColor(flat, cv2.COLOR_BGR2Lab)[..., 0].astype(np.float32) / 255
    solid = np.where(level == WOOD, 1.0, np.where(level == FOLIAGE, 0.85, 0.0))
    weight = solid * (0.5 + 0.5 * (1 - light))
    total = float(weight.sum())
    centre = float((weight.sum(axis=0) * (np.arange(level.shape[1]) + 0.5)).sum() / max(total, 1e-9)) - x0
    return {
        "visual_mass_cm2": Reading(round(total / k**2 / 100, 1), round(0.06 * total / k**2 / 100, 1), "cm2"),
        "visual_centre_mm": Reading(round(centre / k, 1), round(4.0 / k + 2.0, 1), "mm"),
    }
