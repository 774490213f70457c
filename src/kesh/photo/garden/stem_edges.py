"""The trunk as two edges followed upward from the soil mark: the pair of smooth lines that costs least.

Dynamic programming over rows (Bellman 1957; for outlines Amini, Weymouth and Jain 1990): a state is where the middle
of the trunk lies and how wide it is. It is good where lightness or colour changes at both its edges and where what lies
between is more tree than what lies beside; middle and width change slowly. So a side that has the background's colour
is found by the other side, by its own faint line, and by what the trunk is above and below.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Image
from kesh.photo.view import Real

Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]
# rows and places are taken so far apart, px; how high the trunk is followed, and how far aside, as shares of the height
ROW_PX, PLACE_PX = 3, 2
HIGH, ASIDE = 0.55, 0.30
THINNEST, THICKEST = 0.012, 0.24
# what a change of middle or width by one place from row to row costs; how much what lies between counts
BEND, SWELL, BETWEEN = 0.05, 0.12, 0.45
OFF_MIDDLE = 0.22
# an edge as strong as this (Sobel, units of L*) is as clear as can be, wherever it is
CLEAR_LAB = 60.0
# edges less clear than this over some rows are not followed any further
DIM = 0.12


@dataclass(frozen=True, eq=False)
class StemEdges:
    """Rows from the soil upward, px of the picture: y, left and right edge, and how clear both are, 0..1."""

    y: Floats
    left: Floats
    right: Floats
    clear: Floats

    def followed(self) -> int:
        """In how many rows from the soil upward the edges are clear without a long break, up to the usual crown."""
        dim = np.flatnonzero(cv2.blur(self.clear.astype(np.float32)[:, None], (1, 15))[:, 0] < DIM)
        return int(dim[0]) if len(dim) else len(self.y)

    def moved(self, corner: tuple[float, float], larger: float) -> "StemEdges":
        """The same edges in another picture: so much larger, then shifted to a corner."""
        x, y = corner
        return StemEdges(self.y * larger + y, self.left * larger + x, self.right * larger + x, self.clear)

    def inner(self, shape: tuple[int, ...], share: float) -> Bools:
        """The middle share of the trunk's width (H, W), as far as it is followed; what is wood for certain."""
        middle, half = (self.left + self.right) / 2, (self.right - self.left) / 2 * share
        rows = self.followed()
        part = StemEdges(self.y[:rows], (middle - half)[:rows], (middle + half)[:rows], self.clear[:rows])
        return part.filled(shape, -1.0)

    def filled(self, shape: tuple[int, ...], below: float) -> Bools:
        """What lies between the edges (H, W), from a height down to the soil."""
        found: Image = np.zeros(shape, np.uint8)
        use = self.y >= below
        if use.sum() > 1:
            ring = np.vstack(
                [np.column_stack([self.left[use], self.y[use]]), np.column_stack([self.right[use], self.y[use]])[::-1]]
            )
            cv2.fillPoly(found, [np.round(ring * 16).astype(np.int32)], 1, cv2.LINE_8, 4)
        return found.astype(bool)


def stem_edges(picture: Image, odds: Real, soil: tuple[float, float], tall_px: float) -> StemEdges | None:
    """The trunk's two edges in a BGR picture, with the log odds of tree beside them; None for a tree too small."""
    high, wide = odds.shape
    x0, y0 = soil
    rows = np.arange(round(y0) - 2, max(round(y0 - HIGH * tall_px), 1), -ROW_PX)
    places = np.arange(-ASIDE * tall_px, ASIDE * tall_px + 1, PLACE_PX) + x0
    widths = np.arange(max(THINNEST * tall_px, 3.0), THICKEST * tall_px, PLACE_PX)
    if len(rows) < 8 or len(widths) < 4 or rows[0] >= high:
        return None
    clear_at = _edges(picture)
    between = np.cumsum(np.clip(odds, -2, 2), axis=1)
    left_at = places[:, None] - widths / 2
    right_at = places[:, None] + widths / 2
    out = (left_at < 1) | (right_at > wide - 2)
    li, ri = (np.clip(np.round(a).astype(int), 1, wide - 2) for a in (left_at, right_at))
    beside = np.maximum((widths * 0.35).astype(int), 3)
    ll, rr = np.clip(li - beside, 0, wide - 1), np.clip(ri + beside, 0, wide - 1)

    def good(y: int) -> Real:
        line = between[y]
        inside = (line[ri] - line[li]) / np.maximum(ri - li, 1)
        aside = 0.5 * ((line[li] - line[ll]) / np.maximum(li - ll, 1) + (line[rr] - line[ri]) / np.maximum(rr - ri, 1))
        found = clear_at[y][li] + clear_at[y][ri] + BETWEEN * (inside - aside)
        return np.asarray(np.where(out, -9.0, found), np.float32)

    # the mark lies about the middle of the trunk's foot
    off = np.maximum(np.abs(places - x0)[:, None] - OFF_MIDDLE * widths, 0)
    total = good(rows[0]) - np.float32(0.5) * off.astype(np.float32)
    came = []
    for y in rows[1:]:
        best = np.full(total.shape, -np.inf, np.float32)
        how = np.zeros(total.shape, np.int16)
        for n, (dc, dw) in enumerate(_STEPS):
            shifted = np.roll(total, (dc, dw), (0, 1))
            if dc:
                shifted[(slice(0, dc) if dc > 0 else slice(dc, None)), :] = -np.inf
            if dw:
                shifted[:, (slice(0, dw) if dw > 0 else slice(dw, None))] = -np.inf
            shifted = shifted - np.float32(BEND * dc * dc + SWELL * dw * dw * (2 if dw > 0 else 1))
            better = shifted > best
            best[better], how[better] = shifted[better], n
        total = best + good(int(y))
        came.append(how)
    at = np.unravel_index(int(np.argmax(total)), total.shape)
    c, w = int(at[0]), int(at[1])
    path = [(c, w)]
    for how in reversed(came):
        dc, dw = _STEPS[how[c, w]]
        c, w = c - dc, w - dw
        path.append((c, w))
    path.reverse()
    cs, ws = np.array([p[0] for p in path]), np.array([p[1] for p in path])
    left, right = left_at[cs, ws], right_at[cs, ws]
    faint = np.array([min(clear_at[y, li[a, b]], clear_at[y, ri[a, b]]) for y, a, b in zip(rows, cs, ws, strict=True)])
    clear = np.asarray(cv2.blur(faint.astype(np.float32)[:, None], (1, 9)), float)[:, 0]
    return StemEdges(rows.astype(float), left, right, clear)


_STEPS = [(dc, dw) for dc in (-2, -1, 0, 1, 2) for dw in (-1, 0, 1)]


def _edges(picture: Image) -> Real:
    """How clearly lightness or colour changes along each row (H, W), 0..1, at a left and at a right edge alike."""
    lab = cv2.cvtColor(cv2.GaussianBlur(picture, (0, 0), 1.0).astype(np.float32) / 255, cv2.COLOR_BGR2Lab)
    lab = cv2.blur(lab, (1, 9))
    slope = np.abs(cv2.Sobel(lab, cv2.CV_32F, 1, 0)) * np.array([1.0, 1.8, 1.8], np.float32)
    strong = slope.max(axis=-1)
    usual = max(float(np.percentile(strong, 75)), 1.0)
    strong = cv2.dilate(np.clip(strong / max(4 * usual, CLEAR_LAB), 0, 1), np.ones((1, 3), np.uint8))
    return np.asarray(strong, np.float32)
