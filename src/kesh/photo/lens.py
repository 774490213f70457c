"""Wide lenses bow straight lines outward: how much is read off the straight edges of a card, and taken out."""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.optimize import minimize_scalar

from kesh.photo.classes import Image

Floats = NDArray[np.float64]
# where points lie under another bow, in a picture of a size
Place = Callable[[Floats, float, tuple[int, int]], Floats]
# bow a lens may have; beyond it the picture is of another kind of lens
LEAST_BOW, MOST_BOW = -0.35, 0.25
LEAST_SHRUNK = 0.3
# a bow is said to be seen when it is so many times its own plus or minus, and at least so large
SURE, LEAST_SEEN = 2.5, 0.006
# a card is flat to so many px over a side [J]; neighbouring px tell less than independent ones
FLAT_PX, TOGETHER = 0.15, 4.0
# corners are marked to so many px
MARKED_PX = 3.0
# share of a side that is read, away from its corners
READ_FROM, READ_TO = 0.06, 0.94
LEAST_SIDE_PX, LEAST_PLACES = 40.0, 60
# an edge that no bow brings nearer to a line than this was followed along something else
WORST_PX = 0.45


@dataclass(frozen=True)
class Bow:
    """How much a picture bows, its plus or minus (one standard error), and by how many px the card's edges do."""

    value: float
    plus_minus: float
    edge_px: float

    @property
    def seen(self) -> bool:
        """Whether the edges prove it."""
        return abs(self.value) > max(SURE * self.plus_minus, LEAST_SEEN)


def straight(points_px: Floats, bow: float, size: tuple[int, int]) -> Floats:
    """Where points (n, 2) lie once the bow is taken out; the picture's corners stay in place.

    Division model about the picture's middle, r' = r (1 + bow) / (1 + bow r^2), r in half diagonals (Fitzgibbon,
    Simultaneous linear estimation of multiple view geometry and lens distortion, 2001). Below nought lines bow outward.
    """
    middle, half = _frame(size)
    off = (np.asarray(points_px, float) - middle) / half
    far = (off**2).sum(axis=-1, keepdims=True)
    # far outside the picture, where a loop may run, the model would turn points about
    return np.asarray(middle + off * half * (1 + bow) / np.maximum(1 + bow * far, LEAST_SHRUNK))


def bent(points_px: Floats, bow: float, size: tuple[int, int]) -> Floats:
    """The inverse of `straight`: where points (n, 2) of the straightened picture lay as it was taken."""
    middle, half = _frame(size)
    off = (np.asarray(points_px, float) - middle) / half / (1 + bow)
    far = (off**2).sum(axis=-1, keepdims=True)
    return np.asarray(middle + off * half * 2 / (1 + np.sqrt(np.maximum(1 - 4 * bow * far, 0.0))))


def straightened(image: Image, bow: float) -> Image:
    """The picture without its bow, of the same size; beyond its rim the rim goes on."""
    return image if bow == 0 else _remapped(image, bow, bent, cv2.INTER_LINEAR)


def bent_back(mask: Image, bow: float) -> Image:
    """Classes of a straightened picture as they lie in the picture as it was taken."""
    return mask if bow == 0 else _remapped(mask, bow, straight, cv2.INTER_NEAREST)


def bow_by_card(image: Image, corners_px: Floats) -> Bow | None:
    """The bow that makes the four edges of a card straight; None where they cannot be followed.

    `corners_px` (4, 2) in turn. A picture that was cut afterwards has its middle elsewhere: it is then less true.
    """
    corners = np.asarray(corners_px, float).reshape(4, 2)
    if not np.isfinite(corners).all():
        return None
    size = (image.shape[1], image.shape[0])
    grey = cv2.GaussianBlur(cv2.cvtColor(image, cv2.COLOR_BGR2GRAY), (0, 0), 1.0).astype(np.float32)
    sides = [_edge(grey, a, b) for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True)]
    found = [side for side in sides if side is not None]
    if len(found) < 3:
        return None

    while len(found) >= 3:
        made, apart = _fitted(found, size)
        worst = int(np.argmax(apart))
        if apart[worst] <= WORST_PX:
            return made
        # one edge was followed along something else
        del found[worst]
    return None


def _fitted(sides: list[Floats], size: tuple[int, int]) -> tuple[Bow | None, list[float]]:
    """The bow that makes edges straight, and by how many px each is off its line then, root mean square."""

    def off(bow: float) -> float:
        return sum(_off_line(straight(side, bow, size) / (1 + bow)) for side in sides)

    best = minimize_scalar(off, bounds=(LEAST_BOW, MOST_BOW), method="bounded", options={"xatol": 1e-5})
    value, least, step = float(best.x), float(best.fun), 0.004
    apart = [float(np.sqrt(_off_line(straight(side, value, size)) / len(side))) for side in sides]
    curve = (off(value + step) + off(value - step) - 2 * least) / step**2 / 2
    count = sum(len(side) for side in sides)
    if curve <= 0 or count < LEAST_PLACES:
        return None, apart
    noise = TOGETHER * least / (count - 3 * len(sides))
    # a side that is a little bent itself lies off its line by 0.3 of its bow, root mean square
    card = (0.3 * FLAT_PX) ** 2 * count / len(sides)
    return Bow(value, float(np.sqrt((noise + card) / curve)), max(_bow_px(side) for side in sides)), apart


def corner_share(bow: float) -> float:
    """By what share lengths from the middle to a corner came out short (or long, below nought) as taken."""
    return 1 / (1 + bow) - 1


def _frame(size: tuple[int, int]) -> tuple[Floats, float]:
    middle = np.array(size, float) / 2
    return middle, float(np.hypot(*middle))


def _remapped(image: Image, bow: float, place: Place, how: int) -> Image:
    high, wide = image.shape[:2]
    y, x = np.mgrid[0:high, 0:wide]
    at = place(np.column_stack([x.ravel() + 0.5, y.ravel() + 0.5]), bow, (wide, high)).astype(np.float32) - 0.5
    flat = at.reshape(high, wide, 2)
    return np.asarray(cv2.remap(image, flat[..., 0], flat[..., 1], how, borderMode=cv2.BORDER_REPLICATE), np.uint8)


def _edge(grey: NDArray[np.float32], a: Floats, b: Floats) -> Floats | None:
    """Points (n, 2) of the card's edge between two corners, to a part of a pixel; None where none is seen."""
    high, wide = grey.shape
    long, ends = float(np.hypot(*(b - a))), np.vstack([a, b])
    reach = float(np.clip(0.03 * long + 3, 5, 16))
    # otherwise the picture's own rim would be read for the card's
    within = bool((ends >= reach).all() and (ends <= np.array([wide, high]) - reach).all())
    if not within or long < LEAST_SIDE_PX:
        return None
    t = np.linspace(READ_FROM, READ_TO, int(long * (READ_TO - READ_FROM)))
    along = (b - a) / long
    across = np.array([-along[1], along[0]])
    off = np.arange(-reach, reach + 0.25, 0.5)
    x, y = ((a + np.outer(t, b - a))[:, None, k] + off * across[k] for k in (0, 1))
    rows = cv2.remap(
        grey, x.astype(np.float32), y.astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    slope = np.gradient(np.asarray(rows, float), axis=1)
    course, sign = _course(slope, off, t)
    kept = []
    for row, place, middle in zip(slope * sign, t, course, strict=True):
        near = np.abs(off - middle) <= 2.0
        if not near.any():
            continue
        k = int(np.flatnonzero(near)[np.argmax(row[near])])
        if not 0 < k < len(off) - 1 or row[k] <= 0:
            continue
        left, mid, right = row[k - 1 : k + 2]
        peak = 0.5 * (left - right) / min(left - 2 * mid + right, -1e-9)
        kept.append((place, off[k] + 0.5 * float(np.clip(peak, -1, 1)), row[k]))
    if len(kept) < 0.5 * len(t):
        return None
    place, height, strong = np.array(kept).T
    fit = np.polyval(np.polyfit(place, height, 2, w=strong), place)
    good = np.abs(height - fit) < max(3 * 1.48 * float(np.median(np.abs(height - fit))), 0.3)
    return np.asarray(a + np.outer(place[good], b - a) + np.outer(height[good], across))


def _course(slope: Floats, off: Floats, t: Floats) -> tuple[Floats, float]:
    """(px off the chord at each place, which way it brightens) of the strongest edge along a side.

    Ends are looked for near the marked corners, each for itself, then the bend between them.
    """
    ends = np.arange(-MARKED_PX, MARKED_PX + 0.25, 0.5)
    first, last, bend = (one.ravel() for one in np.meshgrid(ends, ends, off[::2], indexing="ij"))
    some = np.arange(0, len(t), max(1, len(t) // 120))
    at = first[:, None] * (1 - t[some]) + last[:, None] * t[some] + bend[:, None] * 4 * t[some] * (1 - t[some])
    where = np.clip(np.round((at - off[0]) / 0.5).astype(int), 0, len(off) - 1)
    total = slope[some, where].sum(axis=1)
    best = int(np.argmax(np.abs(total) * np.exp(-(first**2 + last**2) / (2 * MARKED_PX**2) - (bend / off[-1]) ** 2)))
    course = first[best] * (1 - t) + last[best] * t + bend[best] * 4 * t * (1 - t)
    return course, float(np.sign(total[best])) or 1.0


def _off_line(points: Floats) -> float:
    """Sum of squared distances from the line through points (n, 2), px2."""
    return float(np.linalg.svd(points - points.mean(axis=0), compute_uv=False)[1] ** 2)


def _bow_px(points: Floats) -> float:
    """How far the middle of an edge stands off the line through its ends, px."""
    way = points[-1] - points[0]
    t = (points - points[0]) @ way / float(way @ way)
    height = (points - points[0]) @ np.array([-way[1], way[0]]) / float(np.hypot(*way))
    return abs(float(np.polyfit(t, height, 2)[0])) / 4
