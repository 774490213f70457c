"""A pot alone in a photograph: cut out inside a frame, its rim, foot, height, wall and feet measured, each with its plus and minus.

The cut is Rother, Kolmogorov and Blake 2004, "GrabCut", begun from what is unlike the ground round the frame.
Three cuts that trust colour and frame more or less tell how far to trust the first: where they part, the figure that hangs on it is in doubt.
"""

from dataclasses import dataclass

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
LEAST_CONTRAST = 14.0
# three cuts: how much tighter the frame, how much more unlike the ground a pot has to be; so far may their rims part
CUTS, MOST_APART = ((0.0, 1.0), (0.02, 1.35), (0.0, 0.72)), 0.08
# colours of the ground, how far from them a pot begins, how much lightness counts against hue: shade is no pot [J]
GROUND_COLOURS, LEAST_UNLIKE, LEAST_SPREAD = 5, 7.0, 6.0
LAB_WEIGHTS = np.array([0.7, 1.0, 1.0], np.float32)
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

    @property
    def box(self) -> tuple[float, float, float, float]:
        """(left, top, right, bottom) of what was cut out."""
        return (
            float(self.rows[:, 1].min()),
            float(self.rows[0, 0]),
            float(self.rows[:, 2].max()),
            float(self.rows[-1, 0]),
        )


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
    part = image[y0:y1, x0:x1]
    factor = min(1.0, LONGEST_PX / max(part.shape[:2]))
    inner = np.array([left - x0, top - y0, right - x0, bottom - y0]) * factor
    masks = [_cut(part, factor, inner, shrink, trust) for shrink, trust in CUTS]
    one, *others = (_measured(mask) for mask in masks)
    if max(abs(one[1] - other[1]) for other in others) > MOST_APART * one[1]:
        raise PhotoError("pot and ground are too alike to be told apart; put a cloth of another colour behind it")
    if _contrast(part, one[0], factor) < LEAST_CONTRAST:
        raise PhotoError(
            "what was found has no edge of its own; draw the frame round the whole pot, or put a plain cloth behind it"
        )
    rows = one[0].copy()
    rows = np.column_stack([rows[:, 0] / factor + y0, rows[:, 1] / factor + x0, rows[:, 2] / factor + x0])

    def figure(n: int, share: float = VIEW_SHARE) -> Figure:
        value = one[n] / factor
        return Figure(
            value,
            2 * LEAST_PX / factor + max(*(abs(one[n] - other[n]) / factor for other in others), share * abs(value)),
        )

    return PotSeen(
        rows,
        figure(1),
        figure(2),
        figure(3, HIGH_SHARE),
        figure(4),
        figure(5),
        figure(6),
        _colour(part, masks[0], factor),
    )


def _cut(part: Image, factor: float, frame: Floats, shrink: float, trust: float) -> NDArray[np.bool_]:
    import cv2

    small = cv2.resize(part, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA) if factor < 1 else part
    h, w = small.shape[:2]
    dx, dy = shrink * (frame[2] - frame[0]), shrink * (frame[3] - frame[1])
    x0, y0 = max(int(frame[0] + dx), 1), max(int(frame[1] + dy), 1)
    x1, y1 = min(int(frame[2] - dx), w - 1), min(int(frame[3] - dy), h - 1)
    mask = np.full((h, w), cv2.GC_BGD, np.uint8)
    ring = np.ones((h, w), np.bool_)
    ring[y0:y1, x0:x1] = False
    unlike = _unlike(np.asarray(small, np.uint8), ring)
    bound = trust * max(_otsu(unlike[y0:y1, x0:x1]), LEAST_UNLIKE)
    # what is surely unlike the ground all round is pot, what is surely like it is none; between the two the cut decides
    mask[y0:y1, x0:x1] = np.where(unlike[y0:y1, x0:x1] > bound, cv2.GC_PR_FGD, cv2.GC_PR_BGD)
    sure = cv2.erode((unlike > 1.25 * bound).astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    mask[sure & ~ring] = cv2.GC_FGD
    if not sure[y0:y1, x0:x1].any():
        raise PhotoError(
            "nothing in the frame is unlike the ground round it; draw the frame round the whole pot, or put a plain cloth behind it"
        )
    cv2.setRNGSeed(7)
    cv2.grabCut(np.ascontiguousarray(small), mask, None, np.zeros((1, 65)), np.zeros((1, 65)), ROUNDS, cv2.GC_INIT_WITH_MASK)  # type: ignore[call-overload]  # fmt: skip
    found = ((mask == cv2.GC_FGD) | (mask == cv2.GC_PR_FGD)).astype(np.uint8)
    found = cv2.morphologyEx(found, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(found)
    if count < 2:
        raise PhotoError("no pot stands out inside the frame; a plain cloth behind it helps")
    largest = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    pot: NDArray[np.bool_] = labels == largest
    fill = pot.sum() / max((x1 - x0) * (y1 - y0), 1)
    if fill < LEAST_FILL:
        raise PhotoError(
            "hardly anything stands out inside the frame; draw it closer round the pot, or put a plain cloth behind it"
        )
    inside = pot[y0:y1, x0:x1]
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

    factor = min(1.0, LONGEST_PX / max(image.shape[:2]))
    small = cv2.resize(image, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA) if factor < 1 else image
    h, w = small.shape[:2]
    ring = np.ones((h, w), np.bool_)
    ring[int(0.1 * h) : int(0.9 * h), int(0.08 * w) : int(0.92 * w)] = False
    unlike = _unlike(np.asarray(small, np.uint8), ring)
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


def _contrast(part: Image, rows: Floats, factor: float) -> float:
    """How much the picture changes across the sides of what was cut out: the median over its rows, in levels of 255."""
    away = 4.0
    ys = np.clip(np.round(rows[:, 0] / factor).astype(int), 0, part.shape[0] - 1)
    found = []
    for column, sign in ((1, -1.0), (2, 1.0)):
        x = rows[:, column] / factor
        out, inn = (np.clip(np.round(x + sign * step).astype(int), 0, part.shape[1] - 1) for step in (away, -away))
        found.append(np.abs(part[ys, out].astype(float) - part[ys, inn].astype(float)).mean(axis=1))
    return float(np.median(np.concatenate(found)))


def _measured(mask: NDArray[np.bool_]) -> tuple[Floats, float, float, float, float, float, float]:
    """(rows, rim, foot, height, feet, bulge, lip) in px of the small picture."""
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
    rim = float(np.percentile(widths[first : max(n // 5, first + 2)], 90))
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
    return table[first:], rim, foot, float(n - first), float(open_rows), bulge, lip


def _colour(part: Image, mask: NDArray[np.bool_], factor: float) -> str:
    """The colour of the lit wall: the median of the upper half of its lightness, so that shade and glints count little."""
    import cv2

    small = cv2.resize(part, (mask.shape[1], mask.shape[0]), interpolation=cv2.INTER_AREA)
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
    return PotMeasured(length, foot, high, feet, profile, inset, round(max(bulge, 0.0), 1), seen.colour)
