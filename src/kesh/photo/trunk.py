"""The trunk as a profile of width over height: read at any height, at its named places, and where it thickens upward."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from kesh.photo.stem import Stem

Floats = NDArray[np.float64]
USUAL_ABOVE_FLARE = 0.10
HIDDEN = "leaves hide the trunk there"
# the profile thickens upward by more than this share before it is called reverse taper
THICKENING = 0.06
SHARE_AT_SOIL = 0.10
# widths that differ by more than this share between cut-outs are not given; above the edges that were followed, less
MOST_APART, MOST_APART_ABOVE = 0.07, 0.03


@dataclass(frozen=True)
class Reading:
    """A figure, its plus or minus at about 95 %, its unit; value None where the picture does not show it, and why."""

    value: float | str | None
    plus_minus: float | None
    unit: str
    why: str = ""
    doubt: float | None = None

    def as_dict(self) -> dict[str, object]:
        """For JSON."""
        made: dict[str, object] = {"value": self.value, "plus_minus": self.plus_minus, "unit": self.unit}
        made |= {} if self.doubt is None else {"doubt": self.doubt}
        return made | ({"why": self.why} if self.why else {})


def apart(value: float, others: list[float], count: int, against: float) -> tuple[float, float]:
    """(share, spread) by which a figure differs between cut-outs; those in which it was not seen count as far off.

    The spread is twice the root of the mean squared difference; the share is of `against`, 0..1 and more.
    """
    if not count:
        return 0.0, 0.0
    off = np.abs(np.array(others, float) - value)
    missing = 1 - len(others) / count
    spread = 2 * float(np.sqrt(np.mean(off**2))) if len(others) else 0.0
    share = float(np.sqrt(np.mean(off**2))) / max(against, 1e-9) if len(others) else 1.0
    return max(share, missing if missing > 0.3 else 0.0), spread


def in_doubt(reading: Reading, share: float, settles: str) -> Reading:
    """A figure that is not given because its cut-outs differ too much, with what would settle it."""
    why = f"in doubt, cut-outs differ by {share:.0%}: {settles}"
    return replace(reading, value=None, plus_minus=None, why=why, doubt=round(min(share, 1.0), 3))


@dataclass(frozen=True)
class Ruler:
    """Lengths in px to mm with what is unsure about them: the scale, the edge of the cut-out, a spread, a share."""

    px_mm: float
    relative: float
    edge_px: float

    def __call__(self, px: float, spread_px: float = 0.0, share: float = 0.0) -> Reading:
        mm = px / self.px_mm
        edge = (self.edge_px + spread_px) / self.px_mm
        error = np.hypot(np.hypot(2 * self.relative * mm, edge), share * abs(mm))
        return Reading(round(mm, 1), round(float(error), 1), "mm")


@dataclass(frozen=True)
class Cross:
    """The trunk at one height: its edges from the foot (mm, + to the right) and its width across its own line."""

    height_mm: float
    left_mm: float
    right_mm: float
    width: Reading


@dataclass(frozen=True, eq=False)
class TrunkProfile:
    """The trunk followed upward, and the tree's height in px; everything it gives is in mm.

    `beside` is the same trunk by other cut-outs and by its two edges, which are followed up to `followed_px`; where they
    differ too much it is not `given`, and `settles` says what would settle it.
    """

    stem: Stem
    tall_px: float
    ruler: Ruler
    beside: tuple[Stem, ...] = ()
    settles: str = ""
    given: bool = True
    followed_px: float = 0.0

    @property
    def heights_mm(self) -> Floats:
        """Heights of the rows where both edges are seen, upward."""
        return self.stem.height / self.ruler.px_mm

    @property
    def widths_mm(self) -> Floats:
        """Width in each of those rows."""
        return self.stem.width / self.ruler.px_mm

    @property
    def line_mm(self) -> Floats:
        """The trunk's line (n, 2): right of the foot, height."""
        return np.column_stack([self.stem.middle, self.stem.height]) / self.ruler.px_mm

    @property
    def reach_mm(self) -> tuple[float, float]:
        """Lowest and highest height at which it can be read; (0, 0) for a hidden trunk."""
        h = self.heights_mm
        return (float(h[0]), float(h[-1])) if len(h) else (0.0, 0.0)

    def at(self, height_mm: float) -> Cross | None:
        """The trunk at a height, from the rows about it; None where leaves hide it."""
        px = height_mm * self.ruler.px_mm
        low = px < 0.03 * self.tall_px
        seen = self.stem.width_at(px, max((0.022 if low else 0.02) * self.tall_px, 5.0))
        if seen is None:
            return None
        k = self.ruler.px_mm
        middle = float(np.interp(px, self.stem.height, self.stem.middle)) / k
        across = float(np.interp(px, self.stem.height, self.stem.right - self.stem.left)) / k
        width = self._doubted(self.ruler(seen[0], 0.6 + seen[1], SHARE_AT_SOIL if low else 0.02), px, seen[0])
        return Cross(height_mm, middle - across / 2, middle + across / 2, width)

    def _doubted(self, width: Reading, height_px: float, width_px: float) -> Reading:
        """A width with what other ways of seeing the trunk differ by, or not given."""
        window = max(0.02 * self.tall_px, 5.0)
        met = [s for s in self.beside if len(s.height) and s.height[0] - window <= height_px <= s.height[-1] + window]
        if not self.beside:
            return width
        seen = [found[0] for s in met if (found := s.width_at(height_px, 2 * window)) is not None]
        if not seen:
            return replace(width, doubt=0.0)
        share, spread = apart(width_px, seen, len(seen), max(width_px, 1.0))
        most = MOST_APART if height_px <= self.followed_px + window else MOST_APART_ABOVE
        if not self.given or share > most:
            return in_doubt(width, share, self.settles)
        more = float(np.hypot(width.plus_minus or 0.0, spread / self.ruler.px_mm))
        return replace(width, plus_minus=round(more, 1), doubt=round(share, 3))

    def places_mm(self) -> dict[str, float | None]:
        """How high the named places lie; None for a first branch that was not met."""
        end, tall = self.stem.flare_end(), self.tall_px
        above = max(USUAL_ABOVE_FLARE * tall, min(end + 0.01 * tall, 0.22 * tall) if end is not None else 0.0)
        limb = self.stem.limb_px
        below = limb - 0.02 * tall if limb is not None and limb - 0.02 * tall > above else None
        heights = {"soil": 0.016 * tall, "above_flare": above, "mid_trunk": 0.5 * tall, "below_first_branch": below}
        return {name: None if px is None else round(px / self.ruler.px_mm, 1) for name, px in heights.items()}

    def stations(self) -> dict[str, Reading]:
        """Width at each named place."""
        found = {}
        for name, height in self.places_mm().items():
            cross = self.at(height) if height is not None else None
            why = HIDDEN if height is not None else "no branch was met on the trunk"
            found[name] = cross.width if cross is not None else Reading(None, None, "mm", why)
        return found

    def reverse_taper(self) -> tuple[float, float, float] | None:
        """(height of the waist, height of the bulge above it, share by which it is thicker); None for a good taper.

        Looked for above the flare, on widths smoothed over a fortieth of the height.
        """
        start = (self.places_mm()["above_flare"] or 0.0) * self.ruler.px_mm
        part = self.stem.height >= start
        if part.sum() < 30:
            return None
        h, w = self.stem.height[part], self.stem.width[part]
        window = max(5, int(0.025 * self.tall_px))
        smooth = np.array([np.median(w[max(0, i - window) : i + window + 1]) for i in range(len(w))])
        low = np.minimum.accumulate(smooth)
        bulge = int(np.argmax(smooth / low))
        share = float(smooth[bulge] / low[bulge]) - 1
        if share < THICKENING:
            return None
        waist = int(np.argmin(smooth[: bulge + 1]))
        k = self.ruler.px_mm
        return float(h[waist] / k), float(h[bulge] / k), share
