"""The trunk followed upward through a mask: its line, its width at every height, the end of the flare, its lean."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import FOLIAGE, WOOD, Mask
from kesh.photo.parts import runs_of

Floats = NDArray[np.float64]
FLARE_EXCESS = 0.06


@dataclass(frozen=True)
class Stem:
    """Rows where both edges of the trunk are seen: height above the soil, left and right edge, width across, all px.

    Edges count from the foot, + to the right. `width` is taken across the trunk's own line, not along the row.
    `limb_px` is the height at which the first limb or pad of leaves meets it, None when none does.
    """

    height: Floats
    left: Floats
    right: Floats
    width: Floats
    limb_px: float | None = None

    @property
    def middle(self) -> Floats:
        """The trunk's line, px from the foot."""
        return (self.left + self.right) / 2

    def width_at(self, height_px: float, window_px: float) -> tuple[float, float] | None:
        """(width, spread) near a height, from a robust line through the rows about it; None when it is hidden there."""
        near = np.abs(self.height - height_px) <= window_px
        if near.sum() < 4:
            return None
        h, w = self.height[near] - height_px, self.width[near]
        weights = np.ones(len(w))
        line = np.array([float(np.median(w)), 0.0])
        for _ in range(6):
            a = np.column_stack([np.ones_like(h), h]) * weights[:, None]
            line = np.linalg.lstsq(a, w * weights, rcond=None)[0]
            off = np.abs(w - line[0] - line[1] * h)
            weights = 1 / np.sqrt(1 + (off / max(1.0, float(np.median(off)) * 1.5)) ** 2)
        return float(line[0]), float(1.48 * np.median(off))

    def flare_end(self) -> float | None:
        """Height at which the trunk has lost its flare: no more than 6 % above the line of its upper part."""
        if len(self.height) < 25:
            return None
        smooth = np.array([np.median(self.width[max(0, i - 4) : i + 5]) for i in range(len(self.width))])
        reach = float(self.height[-1])
        upper = self.height > 0.35 * reach
        if upper.sum() < 8:
            return None
        slope, level = np.polyfit(self.height[upper], smooth[upper], 1)
        slope = min(float(slope), 0.0)
        level = float(np.median(smooth[upper] - slope * self.height[upper]))
        excess = smooth / np.maximum(level + slope * self.height, 1.0) - 1
        wide = np.flatnonzero(excess > FLARE_EXCESS)
        low = wide[self.height[wide] < 0.6 * reach]
        return float(self.height[low[-1]]) if len(low) else 0.0

    def lean_deg(self) -> float | None:
        """Angle of the trunk's lower line from upright, + to the right; from a robust line through its rows."""
        if len(self.height) < 10:
            return None
        part = self.height <= max(0.75 * float(self.height[-1]), float(self.height[9]))
        h, m = self.height[part], self.middle[part]
        slope = np.median(
            (m[len(m) // 2 :] - m[: len(m) - len(m) // 2]) / (h[len(h) // 2 :] - h[: len(h) - len(h) // 2])
        )
        return float(np.degrees(np.arctan(slope)))


def follow(mask: Mask, foot: tuple[float, float], tall_px: float) -> Stem:
    """Follow the trunk upward from its foot (x, y px) in a mask while it can be told from leaves and limbs."""
    x0, y0 = foot
    wood = mask == WOOD
    rows: list[tuple[float, float, float]] = []
    centre, lost = x0, 0
    drift, limb = 0.0, None
    for y in range(round(y0 - 0.007 * tall_px) - 1, max(round(y0 - 0.7 * tall_px), 0), -1):
        runs = runs_of(wood[y])
        if y0 - y < 0.05 * tall_px:
            runs = _bridged(runs, 0.02 * tall_px)
        best = min(runs, key=lambda r: _away(r, centre + drift), default=None)
        usual = float(np.median([r[2] - r[1] for r in rows[-25:]])) if rows else 0.0
        if best is None or _away(best, centre + drift) > max(0.35 * usual, 6.0):
            lost += 1
            if lost > max(12, 0.03 * tall_px):
                break
            continue
        left, right = best
        hidden = mask[y, max(left - 2, 0)] == FOLIAGE or mask[y, min(right + 1, mask.shape[1] - 1)] == FOLIAGE
        middle = (left + right) / 2
        # once the flare is behind, a sudden widening is a limb that leaves the trunk
        if hidden or (len(rows) > 0.08 * tall_px and right - left > 1.22 * usual + 2):
            lost += 1
            if limb is None and lost > 0.008 * tall_px and y0 - y > 0.05 * tall_px:
                limb = y0 - y - lost
            if lost > max(25, 0.10 * tall_px):
                break
            centre += float(np.clip(middle - centre, -1.0, 1.0)) if not hidden else drift
            continue
        if rows:
            drift = 0.9 * drift + 0.1 * float(np.clip(middle - centre, -3, 3))
        centre, lost = middle, 0
        rows.append((y0 - y - 0.5, left - x0, right - x0))
    if not rows:
        nothing = np.zeros(0)
        return Stem(nothing, nothing, nothing, nothing)
    table = np.array(rows)
    return stem_of(table[:, 0], table[:, 1], table[:, 2], max(4, int(0.02 * tall_px)), limb)


def stem_of(height: Floats, left: Floats, right: Floats, window: int, limb_px: float | None = None) -> Stem:
    """A stem from its rows; its width is taken across its line, which is smoothed over a window of rows."""
    middle = (left + right) / 2
    slope = np.array([_slope(height, middle, i, window) for i in range(len(height))])
    return Stem(height, left, right, (right - left) * np.cos(np.arctan(slope)), limb_px)


def _bridged(runs: list[tuple[int, int]], gap: float) -> list[tuple[int, int]]:
    """Runs with small gaps between them as one: surface roots part just above the soil."""
    found: list[tuple[int, int]] = []
    for left, right in runs:
        if found and left - found[-1][1] <= gap:
            found[-1] = (found[-1][0], right)
        else:
            found.append((left, right))
    return found


def _away(run: tuple[int, int], x: float) -> float:
    return 0.0 if run[0] <= x <= run[1] else min(abs(run[0] - x), abs(run[1] - x))


def _slope(height: Floats, middle: Floats, i: int, window: int) -> float:
    low, high = max(0, i - window), min(len(height) - 1, i + window)
    rise = height[high] - height[low]
    return float((middle[high] - middle[low]) / rise) if rise > 0 else 0.0
