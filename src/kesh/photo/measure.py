"""Every figure that a cut-out tree gives, each with its plus or minus."""

from collections.abc import Callable
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.errors import FieldError
from kesh.photo.classes import BACKGROUND, FOLIAGE, WOOD, Image, Mask
from kesh.photo.scale import Scale
from kesh.photo.silhouette import FINE_PX
from kesh.photo.stem import Stem, follow
from kesh.photo.tones import Tone, tones

Length = Callable[..., "Reading"]
USUAL_ABOVE_FLARE = 0.10


@dataclass(frozen=True)
class Reading:
    """A figure, its plus or minus at about 95 %, its unit; value None where the picture does not show it, and why."""

    value: float | str | None
    plus_minus: float | None
    unit: str
    why: str = ""

    def as_dict(self) -> dict[str, object]:
        """For JSON."""
        made: dict[str, object] = {"value": self.value, "plus_minus": self.plus_minus, "unit": self.unit}
        return made | ({"why": self.why} if self.why else {})


@dataclass(frozen=True)
class PhotoMeasures:
    """All figures of a photograph, the trunk's profile in mm (height, width), and the tones of bark and leaf."""

    figures: dict[str, Reading]
    trunk: dict[str, Reading]
    trunk_at_mm: dict[str, float]
    profile_mm: NDArray[np.float64]
    line_mm: NDArray[np.float64]
    bark: tuple[Tone, ...] = ()
    leaf: tuple[Tone, ...] = ()
    notes: tuple[str, ...] = field(default=())

    def width_at(self, height_mm: float) -> float | None:
        """Trunk width at a height, between the rows of the profile; None where the trunk is hidden."""
        if not len(self.profile_mm):
            return None
        h = self.profile_mm[:, 0]
        if not h[0] <= height_mm <= h[-1] or np.min(np.abs(h - height_mm)) > 6:
            return None
        return float(np.interp(height_mm, h, self.profile_mm[:, 1]))

    def as_dict(self) -> dict[str, object]:
        """The public keys of `kesh measure --json`."""
        made: dict[str, object] = {name: reading.as_dict() for name, reading in self.figures.items()}
        made["trunk_mm"] = {
            name: reading.as_dict() | {"height_mm": self.trunk_at_mm.get(name)} for name, reading in self.trunk.items()
        }
        made["notes"] = list(self.notes)
        return made


def measure(
    image: Image, mask: Mask, scale: Scale, soil: tuple[float, float], apex: tuple[float, float] | None = None
) -> PhotoMeasures:
    """Measure a mask of classes in px. `soil` is the middle of the trunk's foot on the soil line.

    Raises FieldError when nothing stands above the soil line, or the apex lies below it.
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

    def length(px: float, spread_px: float = 0.0, share: float = 0.0) -> Reading:
        mm = px / k
        error = np.hypot(np.hypot(2 * scale.relative * mm, (edge_px + spread_px) / k), share * abs(mm))
        return Reading(round(mm, 1), round(float(error), 1), "mm")

    said["height_mm"] = length(tall_px, 1.0, 0.006)
    said["reach_left_mm"] = length(x0 - float(cols[0]), 1.5, 0.008)
    said["reach_right_mm"] = length(float(cols[-1]) + 1 - x0, 1.5, 0.008)
    said["crown_base_mm"] = _crown_base(level, y0, k, length)
    stem = follow(level, foot, tall_px)
    trunk, places = _trunk(stem, tall_px, k, length)
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
    bark, leaf = tones(flat, level == WOOD), tones(flat, level == FOLIAGE)
    for name, found in (("bark_colour", bark), ("leaf_colour", leaf)):
        said[name] = (
            Reading(found[0].colour, round(found[0].spread, 1), "sRGB")
            if found
            else Reading(None, None, "sRGB", "too little of it is seen")
        )
    said |= _weight(flat, level, x0, k)
    return PhotoMeasures(
        said, trunk, places, np.column_stack([stem.height, stem.width]) / k,
        np.column_stack([stem.middle, stem.height]) / k, bark, leaf, (f"scale by {scale.how}",),
    )  # fmt: skip


HIDDEN = "leaves hide the trunk there"


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


def _crown_base(level: Mask, y0: float, k: float, length: Length) -> Reading:
    leaf = (level == FOLIAGE).astype(np.uint8)
    leaf[round(y0) :] = 0
    count, _, stats, _ = cv2.connectedComponentsWithStats(leaf, connectivity=8)
    if count <= 1:
        return Reading(None, None, "mm", "no leaves are seen")
    big = np.flatnonzero(stats[1:, cv2.CC_STAT_AREA] > max(0.01 * leaf.sum(), 9 * k)) + 1
    if not len(big):
        big = np.array([1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))])
    low = max(int(stats[b, cv2.CC_STAT_TOP] + stats[b, cv2.CC_STAT_HEIGHT]) for b in big)
    made: Reading = length(max(y0 - low, 0.0), 2.0 + 0.012 * y0, 0.02)
    return made


def _trunk(stem: Stem, tall_px: float, k: float, length: Length) -> tuple[dict[str, Reading], dict[str, float]]:
    """Widths at the named places, and how high those places lie, mm."""
    end = stem.flare_end()
    above = max(USUAL_ABOVE_FLARE * tall_px, min(end + 0.01 * tall_px, 0.22 * tall_px) if end is not None else 0.0)
    heights = {"soil": 0.016 * tall_px, "above_flare": above, "mid_trunk": 0.5 * tall_px}
    found: dict[str, Reading] = {}
    for name, height in heights.items():
        window = (0.022 if name == "soil" else 0.02) * tall_px
        seen = stem.width_at(height, max(window, 5.0))
        found[name] = (
            Reading(None, None, "mm", HIDDEN)
            if seen is None
            else length(seen[0], 0.6 + seen[1], 0.10 if name == "soil" else 0.02)
        )
    return found, {name: round(height / k, 1) for name, height in heights.items()}


def _flare(level: Mask, foot: tuple[float, float], tall_px: float, stem: Stem, length: Length) -> Reading:
    """The widest run of wood through the foot in the lowest 4 % of the height."""
    low = stem.height <= 0.04 * tall_px
    if not low.any():
        return Reading(None, None, "mm", "the foot of the trunk is hidden")
    spans = (stem.right - stem.left)[low]
    made: Reading = length(float(np.percentile(spans, 95)), 2.0, 0.03)
    return made


def _apex_offset(
    level: Mask, foot: tuple[float, float], top: float, apex: NDArray[np.float64] | None, length: Length
) -> Reading:
    if apex is not None:
        made: Reading = length(float(apex[0]) - foot[0], 1.0)
        return made
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
    """Visual mass in cm2 of black, and its centre from the foot, by the usual weights (methods, section 10)."""
    light = cv2.cvtColor(flat, cv2.COLOR_BGR2Lab)[..., 0].astype(np.float32) / 255
    solid = np.where(level == WOOD, 1.0, np.where(level == FOLIAGE, 0.85, 0.0))
    weight = solid * (0.5 + 0.5 * (1 - light))
    total = float(weight.sum())
    centre = float((weight.sum(axis=0) * (np.arange(level.shape[1]) + 0.5)).sum() / max(total, 1e-9)) - x0
    return {
        "visual_mass_cm2": Reading(round(total / k**2 / 100, 1), round(0.06 * total / k**2 / 100, 1), "cm2"),
        "visual_centre_mm": Reading(round(centre / k, 1), round(4.0 / k + 2.0, 1), "mm"),
    }
