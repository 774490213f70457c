"""A tree cut out within a loop: once with care, and several times with other settings that show what is in doubt."""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Image
from kesh.photo.garden.edge import to_half
from kesh.photo.garden.graph import cut
from kesh.photo.garden.learn import log_odds
from kesh.photo.garden.setting import CAREFUL, OTHERS, Setting
from kesh.photo.garden.stem_edges import StemEdges, stem_edges
from kesh.photo.view import Real, View

Bools = NDArray[np.bool_]
# how much is looked at beside the loop and below it, as shares of its larger side
BESIDE, BELOW = 0.22, 0.11
# the stem above the soil mark that is wood for certain, as shares of the height of what is looked at
STEM_HALF, STEM_LOW, STEM_HIGH = 0.012, 0.012, 0.06
# of the trunk between its edges so much of the width is wood when colours are learnt, and when the line is drawn
SURE_WOOD, WHOLE_WOOD = 0.7, 0.9
LEAST_PX, NEAR = 12, 0.05
FAR_PX = 30_000
# with less ground outside than this share of what the loop holds, there is nothing to learn it from
LEAST_OUTSIDE = 0.03
# the other cut-outs are kept at this part of the view's size
LESS = 2


@dataclass(frozen=True, eq=False)
class Part:
    """The part of a picture that is looked at, at some size: its place in the picture and px of its own for one there."""

    picture: Image
    inside: Bools
    outside: Bools
    stem: Bools
    soil: tuple[float, float]
    corner: tuple[int, int]
    factor: float
    size: tuple[int, int]

    def odds(self, how: Setting, tell: Callable[[], None], stem: Bools | None = None) -> Real:
        """Log odds of tree."""
        return log_odds(self.picture, self.inside, self.outside, self.stem if stem is None else stem, how, tell)

    def traced(self, how: Setting, tell: Callable[[], None]) -> tuple[Bools, StemEdges | None]:
        """Tree or not, and the two edges of its trunk, which tell what else is wood."""
        held: list[StemEdges] = []

        def follow(odds: Real) -> Bools:
            rows = np.flatnonzero(((odds > 1) & self.inside).sum(axis=1) > 2)
            tall = self.soil[1] - float(rows[0]) if len(rows) else 0.0
            edges = stem_edges(self.picture, odds, self.soil, tall)
            if edges is None:
                return np.zeros(odds.shape, bool)
            held.append(edges)
            return edges.inner(odds.shape, SURE_WOOD) & self.inside

        odds = log_odds(self.picture, self.inside, self.outside, self.stem, how, tell, follow)
        wood = self.stem
        if held:
            wood = wood | (held[0].inner(odds.shape, WHOLE_WOOD) & self.inside)
        found = cut(odds, self.picture, how.smooth, wood, ~self.inside)
        return to_half(self.picture, found, self.inside), held[0] if held else None

    def placed(self, tree: Bools, shape: tuple[int, ...]) -> Bools:
        """A part's tree in the whole picture (H, W)."""
        x, y = self.corner
        wide, high = self.size
        found = np.zeros(shape, bool)
        found[y : y + high, x : x + wide] = (
            cv2.resize(tree.astype(np.float32), (wide, high), interpolation=cv2.INTER_LINEAR) > 0.5
        )
        return found


def part_of(view: View, loop: NDArray[np.float64], longest_px: int) -> Part | None:
    """What is looked at for a loop (n, 2) in px of the view; None when next to nothing of it lies above the soil."""
    high, wide = view.barred.shape
    ring = filled(loop, (high, wide))
    ring[view.above :] = 0
    ys, xs = np.nonzero(ring)
    if len(ys) < 200:
        return None
    larger = max(int(np.ptp(ys)), int(np.ptp(xs)))
    left, top = max(int(xs.min() - BESIDE * larger), 0), max(int(ys.min() - BESIDE * larger), 0)
    right = min(int(xs.max() + BESIDE * larger), wide)
    bottom = min(int(view.above + BELOW * larger), high)
    factor = min(1.0, longest_px / max(right - left, bottom - top))
    size = (max(int((right - left) * factor), 8), max(int((bottom - top) * factor), 8))
    here = (slice(top, bottom), slice(left, right))

    def small(part: NDArray[np.uint8]) -> Bools:
        return np.asarray(cv2.resize(part, size, interpolation=cv2.INTER_AREA), bool)

    picture = np.asarray(cv2.resize(view.bgr[here], size, interpolation=cv2.INTER_AREA), np.uint8)
    barred = small(view.barred[here].astype(np.uint8))
    above = np.arange(size[1])[:, None] < (view.soil[1] - top) * factor
    inside = small(ring[here]) & above & ~barred
    x, y = (view.soil[0] - left) * factor, (view.soil[1] - top) * factor
    stem: Image = np.zeros((size[1], size[0]), np.uint8)
    half = max(STEM_HALF * size[1], 1.0)
    cv2.rectangle(
        stem, (int(x - half), int(y - STEM_HIGH * size[1])), (int(x + half), int(y - STEM_LOW * size[1])), 1, -1
    )
    return Part(picture, inside, ~inside & above & ~barred, stem.astype(bool) & inside, (x, y), (left, top), factor,
                (right - left, bottom - top))  # fmt: skip


def filled(loop: NDArray[np.float64], shape: tuple[int, int]) -> Image:
    """What a loop holds (H, W); a hand that crosses its own line, as at the end of a drag, leaves no hole there."""
    ring: Image = np.zeros(shape, np.uint8)
    cv2.fillPoly(ring, [np.clip(np.round(loop), -FAR_PX, FAR_PX).astype(np.int32)], 1)
    outer, _ = cv2.findContours(ring, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    cv2.drawContours(ring, outer, -1, 1, -1)
    return ring


@dataclass(frozen=True, eq=False)
class Trials:
    """The tree (H, W) by the careful setting in px of the view, and by each of the others at half that size.

    `factor` is how many px the careful one was asked for each px of the view.
    """

    tree: Bools
    others: tuple[Bools, ...]
    factor: float
    edges: StemEdges | None


def cut_around(view: View, loop: NDArray[np.float64], tell: Callable[[float], None]) -> Trials | None:
    """All cut-outs within a loop; None when there is nothing to cut, or no ground outside. `tell` hears the share that is done."""
    part = part_of(view, loop, CAREFUL.work_px)
    if part is None or np.count_nonzero(part.outside) < LEAST_OUTSIDE * np.count_nonzero(part.inside):
        return None
    shape = view.barred.shape
    found, edges = part.traced(CAREFUL, lambda: tell(0.0))
    tree = part.placed(found, shape)
    tell(0.4)
    # the same loop at a smaller size holds as much of the view
    rough = part_of(view, loop, OTHERS[0].work_px)
    assert rough is not None
    sure = rough.stem
    if edges is not None:
        wood = edges.inner(part.inside.shape, SURE_WOOD).astype(np.uint8)
        sure = sure | (cv2.resize(wood, sure.shape[::-1], interpolation=cv2.INTER_AREA).astype(bool) & rough.inside)
    small = (shape[1] // LESS, shape[0] // LESS)
    others = []
    for n, how in enumerate(OTHERS):
        odds = rough.odds(how, lambda n=n: tell(0.4 + 0.15 * n), sure)  # type: ignore[misc]
        other = rough.placed(_belonging_to(to_half(rough.picture, odds > 0, rough.inside), rough.stem), shape)
        others.append(np.asarray(cv2.resize(other.astype(np.float32), small, interpolation=cv2.INTER_AREA) > 0.5))
    return Trials(
        tree, tuple(others), part.factor, None if edges is None else edges.moved(part.corner, 1 / part.factor)
    )


def _belonging_to(tree: Bools, stem: Bools) -> Bools:
    """The stem and the largest part of what was found, with what lies near them and is no speck."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(tree.astype(np.uint8), connectivity=8)
    areas = stats[:, cv2.CC_STAT_AREA].astype(float)
    areas[0] = 0
    if count <= 1:
        return tree
    own = labels[stem & tree]
    main = int(np.argmax(areas))
    bodies = np.isin(labels, np.append(own, main))
    near = cv2.distanceTransform((~bodies).astype(np.uint8), cv2.DIST_L2, 3) <= NEAR * tree.shape[0]
    keep = np.zeros(count, bool)
    keep[np.unique(labels[near])] = True
    keep &= areas >= max(LEAST_PX, 0.0004 * areas[main])
    return np.asarray(keep[labels])
