"""A pot alone in a photograph: cut out inside a frame, its rim, foot, height, wall and feet measured, each with its plus and minus.

The cut is Rother, Kolmogorov and Blake 2004, "GrabCut", begun from what is unlike the ground round the frame.
Three cuts that trust colour and frame more or less tell how far to trust the first: where they part, the figure that hangs on it is in doubt.
"""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from kesh.geometry.outline import Floats
from kesh.photo.classes import Image
from kesh.photo.error import PhotoError

LONGEST_PX, ROUNDS = 640, 4
# what a rim seen a little from above adds to the height, and a lens to sizes near the border, as shares [J]
VIEW_SHARE, HIGH_SHARE, LEAST_PX = 0.010, 0.025, 0.75
# a frame that is filled less or more than this was not cut
LEAST_FILL, MOST_FILL, CUT_SIDE = 0.05, 0.97, 0.45
# how far from an edge the two sides of it are compared, px of the picture, and how much they differ at least, of 255
EDGE_PX, LEAST_CONTRAST = 4.0, 14.0
# three cuts: how much tighter the frame, how much more unlike the ground a pot has to be; so far may their rims part
CUTS, MOST_APART = ((0.0, 1.0), (0.02, 1.35), (0.0, 0.72)), 0.08
# colours of the ground, how far from them a pot begins, how much lightness counts against hue: shade is no pot [J]
GROUND_COLOURS, LEAST_UNLIKE, LEAST_SPREAD = 5, 7.0, 6.0
LAB_WEIGHTS = np.array([0.7, 1.0, 1.0], np.float32)
# a line across a pot: rows compared on either side, the least difference in Lab and against the strongest, how far down it is looked for, and how deep
# from front to back a pot usually is, as a share of its length [J]
LINE_PX, LEAST_LINE, SAME_LINE, LOOKED_DOWN, USUAL_DEEP = 3, 9.0, 0.5, 0.88, 0.76
# the sine of the steepest look at a pot that is still taken for one from its side, 37 degrees [J]
STEEPEST = 0.6
# half of the ring of the foot against the whole opening of the rim, where the foot is a little narrower [J]
FOOT_RING = 0.45
SCALES: dict[str, tuple[str, float, float]] = {
    # words, usual length in mm, its own error as a share [J]
    "width": ("the pot's own width", 300.0, 0.004), "card": ("the long side of a bank card", 85.6, 0.012),
    "coin": ("a coin, across", 24.0, 0.03), "span": ("a hand span", 200.0, 0.05), "line": ("any known length", 100.0, 0.006),
}  # fmt: skip


@dataclass(frozen=True)
class Figure:
    """A figure with its plus and minus."""

    value: float
    doubt: float

    def times(self, mm: float, share: float) -> "Figure":
        """The same in mm, where a pixel is `mm` long and that is known to a share."""
        value = self.value * mm
        return Figure(value, float(np.hypot(self.doubt * mm, abs(value) * share)))


@dataclass(frozen=True)
class PotSeen:
    """A pot in pixels of the picture: `rows` are (y, left, right) from the rim down to the foot."""

    rows: Floats
    rim: Figure
    foot: Figure
    high: Figure
    feet: Figure
    bulge: Figure
    lip: Figure
    colour: str
    # from its top down to a line across it, px: its rim seen from above, or a lip or band; 0 for none
    opening: float = 0.0


@dataclass(frozen=True)
class PotMeasured:
    """Figures in mm: length over the rim, width over the foot, height with feet."""

    length: Figure
    foot: Figure
    height: Figure
    feet: Figure
    profile: str
    inset: Figure
    bulge_mm: float
    colour: str
    opening_mm: float = 0.0


class _Sizes(NamedTuple):
    """What is measured of a cut, px."""

    rim: float
    foot: float
    high: float
    feet: float
    bulge: float
    lip: float


@dataclass(frozen=True)
class _Part:
    """The piece of the picture round the frame, made small: how unlike the ground each pixel is, and where the frame lies in it."""

    small: Image
    unlike: Floats
    frame: tuple[int, int, int, int]


def pot_seen(image: Image, frame: tuple[float, float, float, float]) -> PotSeen:
    """The pot inside a frame (left, top, right, bottom) of a picture (H, W, 3), blue first. Raises PhotoError where none is found."""
    left, top, right, bottom = frame
    high, wide = image.shape[:2]
    left, right = sorted((min(max(left, 0), wide), min(max(right, 0), wide)))
    top, bottom = sorted((min(max(top, 0), high), min(max(bottom, 0), high)))
    if right - left < 24 or bottom - top < 12:
        raise PhotoError("the frame is too small for a pot; draw it round the whole of it")
    # ground all round the frame tells the pot from what it stands on
    pad_x, pad_y = 0.25 * (right - left), 0.35 * (bottom - top)
    x0, y0 = int(max(left - pad_x, 0)), int(max(top - pad_y, 0))
    x1, y1 = int(min(right + pad_x, wide)), int(min(bottom + pad_y, high))
    small, factor = _made_small(image[y0:y1, x0:x1])
    at = (
        round((left - x0) * factor), round((top - y0) * factor), round((right - x0) * factor), round((bottom - y0) * factor),
    )  # fmt: skip
    part = _Part(small, _unlike(small, _outside(small, at)), at)
    masks = [_cut(part, shrink, trust) for shrink, trust in CUTS]
    line = _opening(small, masks[0])
    (rows, one), *others = (_measured(mask, line) for mask in masks)
    apart = _Sizes(*(max(abs(value - other[n]) for _, other in others) for n, value in enumerate(one)))
    if apart.rim > MOST_APART * one.rim:
        raise PhotoError("pot and ground are too alike to be told apart; put a cloth of another colour behind it")
    if _contrast(small, rows, EDGE_PX * factor) < LEAST_CONTRAST:
        raise PhotoError(
            "what was found has no edge of its own; draw the frame round the whole pot, or put a plain cloth behind it"
        )
    doubts = _Sizes(
        *(
            (2 * LEAST_PX + max(off, (HIGH_SHARE if name == "high" else VIEW_SHARE) * abs(value))) / factor
            for name, value, off in zip(_Sizes._fields, one, apart, strict=True)
        )
    )
    figures = {
        name: Figure(value / factor, doubt) for name, value, doubt in zip(_Sizes._fields, one, doubts, strict=True)
    }
    opening = line / factor
    if line:
        # the line is the rim seen from above, or a lip or a band on the wall: the height may be either way
        figures["high"] = _either(figures["high"], _level_high(figures["high"].value, opening, figures["rim"].value))
        # the foot is a ring then as well: it is as wide as the wall stands half of that ring higher up, and no belly is told
        row = rows[min(max(int(len(rows) - one.feet - FOOT_RING * line), 0), len(rows) - 1)]
        figures["foot"] = _either(figures["foot"], float(row[2] - row[1]) / factor)
        figures["bulge"] = figures["lip"] = Figure(0.0, figures["rim"].value)
    placed = rows / factor + np.array([y0, x0, x0])
    return PotSeen(rows=placed, colour=_colour(small, masks[0]), opening=opening, **figures)


def _level_high(high: float, opening: float, rim: float) -> float:
    """How high a pot is whose rim is seen from above: its front alone, set upright by how far the rim opens."""
    sine = min(opening / (USUAL_DEEP * rim), STEEPEST)
    return (high - opening) / float(np.sqrt(1 - sine**2))


def _either(one: Figure, other: float) -> Figure:
    """Between two readings, with a plus and minus that holds both."""
    return Figure((one.value + other) / 2, one.doubt + abs(one.value - other) / 2)


def _opening(small: Image, mask: NDArray[np.bool_]) -> int:
    """From the top of what was cut out down to the lowest line that crosses its middle, px; 0 where none does."""
    import cv2

    columns = np.flatnonzero(mask.any(axis=0))
    middle, reach = (columns[0] + columns[-1]) // 2, max(int(0.12 * len(columns)), 2)
    band = slice(middle - reach, middle + reach)
    rows = np.flatnonzero(mask[:, band].mean(axis=1) > 0.9)
    if len(rows) < 12:
        return 0
    top, high = int(rows[0]), int(rows[-1] - rows[0])
    lab = cv2.cvtColor(small.astype(np.float32) / 255, cv2.COLOR_BGR2Lab)[top : top + int(LOOKED_DOWN * high), band]
    line = np.median(lab, axis=1)
    first = max(LINE_PX + 1, int(0.03 * high))
    found = [
        float(np.linalg.norm(line[y - LINE_PX : y].mean(axis=0) - line[y + 1 : y + 1 + LINE_PX].mean(axis=0)))
        for y in range(first, len(line) - LINE_PX - 1)
    ]
    strong = np.array([*found, 0.0]) >= max(LEAST_LINE, SAME_LINE * max(found, default=0.0))
    if not strong.any():
        return 0
    # of the lowest run of rows that differ the one that differs most
    last = int(np.flatnonzero(strong)[-1])
    begin = last - int(np.argmin(strong[last::-1])) + 1 if not strong[: last + 1].all() else 0
    return first + begin + int(np.argmax(found[begin : last + 1]))


def _made_small(image: Image) -> tuple[Image, float]:
    """A picture no longer than LONGEST_PX, and px of it for one of the original."""
    import cv2

    factor = min(1.0, LONGEST_PX / max(image.shape[:2]))
    if factor == 1:
        return image, 1.0
    return np.asarray(cv2.resize(image, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA), np.uint8), factor


def _outside(small: Image, frame: tuple[int, ...]) -> NDArray[np.bool_]:
    """What lies round a frame."""
    ring = np.ones(small.shape[:2], np.bool_)
    ring[max(frame[1], 1) : frame[3], max(frame[0], 1) : frame[2]] = False
    return ring


def _cut(part: _Part, shrink: float, trust: float) -> NDArray[np.bool_]:
    import cv2

    small, unlike, (left, top, right, bottom) = part.small, part.unlike, part.frame
    h, w = small.shape[:2]
    dx, dy = shrink * (right - left), shrink * (bottom - top)
    x0, y0 = max(int(left + dx), 1), max(int(top + dy), 1)
    x1, y1 = min(int(right - dx), w - 1), min(int(bottom - dy), h - 1)
    inner = (slice(y0, y1), slice(x0, x1))
    bound = trust * max(_otsu(unlike[inner]), LEAST_UNLIKE)
    # what is surely unlike the ground all round is pot, what is like it is likely none; between the two the cut decides
    mask = np.full((h, w), cv2.GC_BGD, np.uint8)
    mask[inner] = np.where(unlike[inner] > bound, cv2.GC_PR_FGD, cv2.GC_PR_BGD)
    sure = cv2.erode((unlike > 1.25 * bound).astype(np.uint8), np.ones((5, 5), np.uint8))[inner] > 0
    if not sure.any():
        raise PhotoError(
            "nothing in the frame is unlike the ground round it; draw the frame round the whole pot, or put a plain cloth behind it"
        )
    mask[inner][sure] = cv2.GC_FGD
    cv2.setRNGSeed(7)
    cv2.grabCut(np.ascontiguousarray(small), mask, None, np.zeros((1, 65)), np.zeros((1, 65)), ROUNDS, cv2.GC_INIT_WITH_MASK)  # type: ignore[call-overload]  # fmt: skip
    found = ((mask == cv2.GC_FGD) | (mask == cv2.GC_PR_FGD)).astype(np.uint8)
    found = cv2.morphologyEx(found, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(found)
    if count < 2:
        raise PhotoError("no pot stands out inside the frame; a plain cloth behind it helps")
    pot: NDArray[np.bool_] = labels == 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    fill = pot.sum() / max((x1 - x0) * (y1 - y0), 1)
    if fill < LEAST_FILL:
        raise PhotoError(
            "hardly anything stands out inside the frame; draw it closer round the pot, or put a plain cloth behind it"
        )
    inside = pot[inner]
    on_sides = [float(side.mean()) for side in (inside[1], inside[-2], inside[:, 1], inside[:, -2])]
    if fill > MOST_FILL or sum(share > CUT_SIDE for share in on_sides) >= 2:
        raise PhotoError(
            "the pot runs out of the frame; draw the frame round the whole of it, with some ground all round"
        )
    return pot


def _unlike(small: Image, ring: NDArray[np.bool_]) -> Floats:
    """How far each pixel lies from the colours of the ground round the frame, in units of Lab, a little smoothed."""
    import cv2

    lab = cv2.cvtColor(small.astype(np.float32) / 255, cv2.COLOR_BGR2Lab)
    ground = lab[ring]
    if len(ground) < 50:
        raise PhotoError("there is no ground round the frame; draw it a little smaller, with some ground on all sides")
    some = np.ascontiguousarray(ground[:: max(len(ground) // 4000, 1)])
    cv2.setRNGSeed(7)
    rounds = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 12, 0.5)
    _, of, centres = cv2.kmeans(some, min(GROUND_COLOURS, len(some)), None, rounds, 1, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
    nearest = np.full(lab.shape[:2], np.inf)
    for n, centre in enumerate(centres):
        own = some[of.ravel() == n]
        # a colour that varies by itself, grass or bark, counts in its own spread
        spread = max(float(np.sqrt(own.var(axis=0).sum())) if len(own) > 3 else 0.0, LEAST_SPREAD)
        away = np.sqrt((((lab - centre) * LAB_WEIGHTS) ** 2).sum(axis=2)) / (spread / LEAST_SPREAD)
        nearest = np.minimum(nearest, away)
    return np.asarray(cv2.GaussianBlur(nearest.astype(np.float32), (0, 0), 1.6), np.float64)


def _otsu(values: Floats) -> float:
    """The bound that parts two groups of values best (Otsu 1979)."""
    count, edges = np.histogram(values, 96)
    share, middle = count / max(count.sum(), 1), (edges[:-1] + edges[1:]) / 2
    below, mean = np.cumsum(share), np.cumsum(share * middle)
    apart = (mean[-1] * below - mean) ** 2 / np.maximum(below * (1 - below), 1e-9)
    return float(middle[int(np.argmax(apart))])


def pot_frame(image: Image) -> tuple[float, float, float, float] | None:
    """A frame round what stands out of a whole picture; None where nothing does, or it runs out of the picture."""
    import cv2

    small, factor = _made_small(image)
    h, w = small.shape[:2]
    unlike = _unlike(small, _outside(small, (int(0.08 * w), int(0.1 * h), int(0.92 * w), int(0.9 * h))))
    bound = max(_otsu(unlike), LEAST_UNLIKE)
    found = cv2.morphologyEx((unlike > bound).astype(np.uint8), cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    count, _, stats, _ = cv2.connectedComponentsWithStats(found)
    if count < 2:
        return None
    x, y, wide, high, area = (int(v) for v in stats[1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))])
    inside = x > 0.02 * w and y > 0.02 * h and x + wide < 0.98 * w and y + high < 0.98 * h
    if not inside or area < 0.01 * w * h or area < 0.4 * wide * high:
        return None
    pad = 0.07 * max(wide, high)
    return (x - pad) / factor, (y - pad) / factor, (x + wide + pad) / factor, (y + high + pad) / factor


def _contrast(small: Image, rows: Floats, away: float) -> float:
    """How much the picture changes across the sides of what was cut out: the median over its rows, in levels of 255."""
    away = max(away, 1.0)
    ys = rows[:, 0].astype(int)
    found = []
    for column, sign in ((1, -1.0), (2, 1.0)):
        x = rows[:, column]
        out, inn = (np.clip(np.round(x + sign * step).astype(int), 0, small.shape[1] - 1) for step in (away, -away))
        found.append(np.abs(small[ys, out].astype(float) - small[ys, inn].astype(float)).mean(axis=1))
    return float(np.median(np.concatenate(found)))


def _measured(mask: NDArray[np.bool_], line: int) -> tuple[Floats, _Sizes]:
    """(rows from the rim down, sizes) in px of the small picture; down to a line across it the rim may open."""
    ys = np.flatnonzero(mask.any(axis=1))
    y0, y1 = int(ys[0]), int(ys[-1])
    rows = []
    for y in range(y0, y1 + 1):
        xs = np.flatnonzero(mask[y])
        if len(xs):
            rows.append((float(y), float(xs[0]), float(xs[-1] + 1)))
    table = np.array(rows)
    widths = table[:, 2] - table[:, 1]
    n = len(widths)
    # the rim seen from above begins as a cap: its height counts from where the mask is nearly as wide as it gets up there
    upper = widths[: max(n // 4, 1)].max()
    first = int(np.argmax(widths >= 0.5 * upper))
    rim = float(np.percentile(widths[first : max(n // 5, line, first + 2)], 90))
    filled = np.array([mask[int(y), int(a) : int(b)].mean() for y, a, b in rows])
    # rows above the ground through which one sees between the feet
    open_rows = 0
    for share in filled[::-1][: max(n // 3, 1)]:
        if share > 0.9:
            break
        open_rows += 1
    last = n - open_rows - max(n // 40, 1)
    foot = float(np.median(widths[max(last - max(n // 16, 2), first + 1) : max(last, first + 2)]))
    middle = float(np.median(widths[int(0.45 * n) : max(int(0.55 * n), int(0.45 * n) + 1)]))
    bulge = middle - (rim + foot) / 2
    below = float(np.median(widths[int(0.16 * n) : max(int(0.26 * n), int(0.16 * n) + 1)]))
    lip = rim - below - (rim - foot) * 0.2
    return table[first:], _Sizes(rim, foot, float(n - first), float(open_rows), bulge, lip)


def _colour(small: Image, mask: NDArray[np.bool_]) -> str:
    """The colour of the lit wall: the median of the upper half of its lightness, so that shade and glints count little."""
    import cv2

    inside = small[cv2.erode(mask.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0]
    inside = inside if len(inside) else small[mask]
    light = inside.astype(float) @ np.array([0.11, 0.59, 0.3])
    lit = inside[(light >= np.median(light)) & (light <= np.percentile(light, 92))]
    b, g, r = np.median(lit if len(lit) else inside, axis=0).astype(int)
    return f"#{r:02X}{g:02X}{b:02X}"


def pot_measured(seen: PotSeen, px_per_mm: float, scale_error: float) -> PotMeasured:
    """The pot in mm by a scale and its error as a share."""
    mm = 1.0 / px_per_mm
    length, foot, high, feet = (one.times(mm, scale_error) for one in (seen.rim, seen.foot, seen.high, seen.feet))
    bulge = seen.bulge.value * mm / 2
    lip = seen.lip.value * mm / 2
    inset = Figure(max((length.value - foot.value) / 2, 0.0), float(np.hypot(seen.rim.doubt, seen.foot.doubt)) * mm / 2)
    profile = "bowed" if bulge > max(0.025 * length.value, 2 * seen.bulge.doubt * mm) else "lip" if lip > max(0.012 * length.value, seen.lip.doubt * mm) else "straight"  # fmt: skip
    return PotMeasured(
        length, foot, high, feet, profile, inset, round(max(bulge, 0.0), 1), seen.colour, seen.opening * mm
    )
