"""The places where a cut-out is most in doubt: how large, what a figure reads either way, and the stroke that settles it."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError
from kesh.photo.classes import BACKGROUND, FOLIAGE, WOOD, Image
from kesh.photo.measure import PhotoMeasures, measure
from kesh.photo.scale import Scale
from kesh.photo.tree_cut import TreeCut

Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]
# so many places are told, none smaller than this share of the tree's area
MOST, LEAST_SHARE = 3, 0.012
# patches nearer than this share of the longer side are one place; rims thinner than this many px are none
TOGETHER, RIM_PX = 0.006, 3
# a stroke is drawn through so many points
POINTS = 7
# figures that a place may change, and by what share at least for it to be told
TOLD = ("height_mm", "reach_left_mm", "reach_right_mm", "crown_base_mm", "silhouette_area_cm2")
LEAST_CHANGE = 0.01


@dataclass(frozen=True, eq=False)
class Place:
    """A patch in doubt. The stroke's points (n, 2) and radius are in px of the picture that was cut out.

    `figure` is the figure it changes most with its values if the place is tree and if it is not; none when it changes
    no figure by more than a hundredth.
    """

    letter: str
    share: float
    is_tree: bool
    kind: int
    stroke: Floats
    radius: float
    figure: str = ""
    if_tree: float | None = None
    if_not: float | None = None

    @property
    def middle(self) -> tuple[float, float]:
        """The middle of its stroke, px."""
        x, y = self.stroke[len(self.stroke) // 2]
        return float(x), float(y)

    def box(self, size: tuple[int, int], aspect: float) -> tuple[int, int, int, int]:
        """Left, top, width, height in px of a part of the picture that shows it, `aspect` as wide as it is high."""
        low, high = self.stroke.min(axis=0) - 3 * self.radius, self.stroke.max(axis=0) + 3 * self.radius
        tall = max(float(high[1] - low[1]), float(high[0] - low[0]) / aspect, 0.09 * max(size))
        tall = min(tall, size[1], size[0] / aspect)
        x, y = (low + high) / 2 - np.array([tall * aspect, tall]) / 2
        left, top = np.clip([x, y], 0, [size[0] - tall * aspect, size[1] - tall])
        return int(left), int(top), int(tall * aspect), int(tall)


def places(
    image: Image, cut: TreeCut, scale: Scale | None, soil: tuple[float, float], apex: tuple[float, float] | None = None
) -> tuple[Place, ...]:
    """The largest places in doubt, largest first; without a scale none of them tells what a figure would read."""
    if not len(cut.others):
        return ()
    f = cut.factor
    trials = cut.trials
    area = max(float(np.count_nonzero(trials[0])), 1.0)
    parts = _patches(cut.differing(), area)
    small = np.asarray(cv2.resize(image, cut.others.shape[:0:-1], interpolation=cv2.INTER_AREA), np.uint8)
    found = []
    for letter, part in zip("abc", parts, strict=False):
        seen = trials[:, part]
        kind = WOOD if np.count_nonzero(seen == WOOD) > np.count_nonzero(seen == FOLIAGE) else FOLIAGE
        stroke, radius = _along(part)
        told: tuple[str, float | None, float | None] = ("", None, None)
        if scale is not None:
            told = _either_way(small, trials[0], part, kind, scale.at_size(f), soil, apex, f)
        found.append(
            Place(letter, float(np.count_nonzero(part)) / area, bool((trials[0][part] > 0).mean() > 0.5), kind, stroke / f,
                  radius / f, *told)
        )  # fmt: skip
    return tuple(found)


def left_in_doubt(cut: TreeCut, settled: tuple[Place, ...]) -> float:
    """The doubt that is left once places are settled."""
    return max(cut.doubt - sum(p.share for p in settled), 0.0)


def _patches(split: Bools, area: float) -> list[Bools]:
    """Patches in doubt, largest first: no rims, and what lies close together as one."""
    solid = cv2.morphologyEx(split.astype(np.uint8), cv2.MORPH_OPEN, np.ones((RIM_PX, RIM_PX), np.uint8))
    reach = max(3, round(2 * TOGETHER * max(split.shape))) | 1
    joined = cv2.dilate(solid, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach)))
    count, labels = cv2.connectedComponents(joined)
    sizes = np.bincount(labels[solid > 0], minlength=count)
    order = [k for k in np.argsort(-sizes) if k > 0 and sizes[k] >= LEAST_SHARE * area]
    return [(labels == k) & (solid > 0) for k in order[:MOST]]


def _along(part: Bools) -> tuple[Floats, float]:
    """(points (n, 2), radius) of a stroke down the middle of a patch, px."""
    _, labels, stats, _ = cv2.connectedComponentsWithStats(part.astype(np.uint8), connectivity=8)
    part = labels == 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    ys, xs = np.nonzero(part)
    spots = np.column_stack([xs, ys]).astype(float)
    middle = spots.mean(axis=0)
    way = np.linalg.svd((spots - middle)[:: max(1, len(spots) // 4000)], full_matrices=False)[2][0]
    across = np.array([-way[1], way[0]])
    along, off = (spots - middle) @ way, (spots - middle) @ across
    depth = cv2.distanceTransform(part.astype(np.uint8), cv2.DIST_L2, 3)
    radius = max(2.0, 0.9 * float(depth.max()))
    ends = np.percentile(along, [3, 97])
    at = np.linspace(ends[0], ends[1], POINTS) if np.ptp(ends) > radius else np.array([float(along.mean())])
    # a gentle curve, as a hand draws it
    bend = np.polyval(np.polyfit(along, off, 2), at) if len(at) > 1 and len(spots) > 9 else np.zeros(len(at))
    return middle + np.outer(at, way) + np.outer(bend, across), radius


def _either_way(
    image: Image, mask: NDArray[np.uint8], part: Bools, kind: int, scale: Scale, soil: tuple[float, float],
    apex: tuple[float, float] | None, f: float,
) -> tuple[str, float | None, float | None]:  # fmt: skip
    """(figure, its value if the patch is tree, its value if not) of the figure that the patch changes most."""
    made: list[PhotoMeasures] = []
    for tone in (kind, BACKGROUND):
        other = mask.copy()
        other[part] = tone
        try:
            made.append(measure(image, other, scale, (soil[0] * f, soil[1] * f),
                                None if apex is None else (apex[0] * f, apex[1] * f), colours=False))  # fmt: skip
        except FieldError:
            return "", None, None
    best: tuple[float, str, float | None, float | None] = (LEAST_CHANGE, "", None, None)
    for name in TOLD:
        one, two = (m.figures[name].value for m in made)
        if isinstance(one, float) and isinstance(two, float):
            change = abs(one - two) / max(abs(one), abs(two), 1.0)
            # a length tells more than the area
            change *= 0.5 if name.endswith("cm2") else 1.0
            if change > best[0]:
                best = (change, name, one, two)
    return best[1:]
