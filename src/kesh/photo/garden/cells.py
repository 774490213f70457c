"""Every pixel put into a cell of colour, of texture and of place, so that what is seen there can be counted."""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

from kesh.photo.view import Real

Ints = NDArray[np.int32]
# cells of lightness, a, b; of two sizes of texture and its direction; of place, down and across
COLOUR, TEXTURE, PLACE = (14, 18, 18), (14, 14, 7), (10, 6)
COLOURS, _, PLACES = (int(np.prod(n)) for n in (COLOUR, TEXTURE, PLACE))
SPAN = (0.3, 99.7)
BLUR, PLACE_BLUR = 0.9, 1.2
NEVER_COLOUR, NEVER_TEXTURE = 3e-6, 1e-4
# as many pixels as speak for the whole picture where a neighbourhood has shown little
FEW = 200.0


@dataclass(frozen=True)
class Axis:
    """A range of values cut into cells; what lies beyond falls into the last one."""

    low: float
    high: float
    count: int

    @classmethod
    def over(cls, values: Real, count: int) -> "Axis":
        low, high = (float(v) for v in np.percentile(values, SPAN))
        return cls(low, max(high, low + 1e-3), count)

    def __call__(self, values: Real) -> Ints:
        at = ((values - self.low) * (self.count / (self.high - self.low))).astype(np.int32)
        return np.clip(at, 0, self.count - 1)


def cell(channels: list[Real], axes: list[Axis]) -> Ints:
    """The joint cell of several channels."""
    flat = np.zeros(channels[0].shape, np.int32)
    for channel, axis in zip(channels, axes, strict=True):
        flat = flat * axis.count + axis(channel)
    return flat


def textures(lightness: Real) -> list[Real]:
    """Three channels (H, W): unrest within a leaf and within a pad, and whether lines run level or upright."""
    found = []
    for size in (1.5, 4.0):
        mean = cv2.GaussianBlur(lightness, (0, 0), size)
        spread = cv2.GaussianBlur((lightness - mean) ** 2, (0, 0), size)
        found.append(np.log1p(np.sqrt(np.maximum(spread, 0))))
    soft = cv2.GaussianBlur(lightness, (0, 0), 1)
    across, down = (cv2.GaussianBlur(np.abs(cv2.Sobel(soft, cv2.CV_32F, *way)), (0, 0), 4) for way in ((1, 0), (0, 1)))
    found.append(np.log((across + 1) / (down + 1)))
    return [np.asarray(f, np.float32) for f in found]


def places(shape: tuple[int, ...]) -> Ints:
    """The cell of place of every pixel of a picture (H, W)."""
    high, wide = shape
    rows, cols = np.arange(high) * PLACE[0] // high, np.arange(wide) * PLACE[1] // wide
    return (rows[:, None] * PLACE[1] + cols[None, :]).astype(np.int32)


def colour_shares(cells: Ints, weights: Real | None = None) -> Real:
    """How often each colour is seen, spread a little over its neighbours; the sum is about 1."""
    return _shares(cells, weights, COLOUR, NEVER_COLOUR, "constant")


def texture_shares(cells: Ints, weights: Real | None = None) -> Real:
    """How often each texture is seen."""
    return _shares(cells, weights, TEXTURE, NEVER_TEXTURE, "nearest")


def _shares(
    cells: Ints, weights: Real | None, shape: tuple[int, ...], never: float, mode: Literal["constant", "nearest"]
) -> Real:
    count = np.bincount(cells, weights=weights, minlength=int(np.prod(shape))).astype(np.float32).reshape(shape)
    count = gaussian_filter(count, BLUR, mode=mode).ravel()
    return np.asarray(count / max(float(count.sum()), 1e-9) + never, np.float32)


def shares_here(cells: Ints, at: Ints, weights: Real, whole: Real) -> Real:
    """(colours, places): how often each colour is seen about each place, leaning on the whole where little is seen."""
    count = np.bincount(cells * PLACES + at, weights=weights, minlength=COLOURS * PLACES).astype(np.float32)
    table = gaussian_filter(
        count.reshape(*COLOUR, *PLACE), (BLUR, BLUR, BLUR, PLACE_BLUR, PLACE_BLUR), truncate=2.5,
        mode=("constant", "constant", "constant", "nearest", "nearest"),
    ).reshape(COLOURS, PLACES)  # fmt: skip
    return np.asarray((table + FEW * whole[:, None]) / (table.sum(axis=0, keepdims=True) + FEW), np.float32)
