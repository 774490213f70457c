"""A mask drawn to the edges of the picture beneath it: inside from outside by colour, place by place.

The guided filter of He, Sun and Tang (2013, IEEE TPAMI 35:1397): in every small window the mask is fitted as a linear
function of the three colours; where the fit passes one half the line is drawn. Its sums are taken at half size (He and
Sun 2015, Fast guided filter), which changes nothing one could see.
"""

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Image
from kesh.photo.view import Real

# window as a share of the picture's longer side; how much noise a colour may carry, as variance of 0..1
WINDOW_SHARE, NOISE, TURNS = 0.016, 1e-4, 2
HALF = 2


def snapped(
    image: Image, tree: NDArray[np.bool_], turns: int = TURNS, window_px: float | None = None,
    tell: Callable[[], None] | None = None,
) -> NDArray[np.bool_]:  # fmt: skip
    """Tree or not (H, W), its outline moved to the nearest edge of colour; everywhere else as it was.

    `tell` is called before each turn; what it raises stops the work.
    """
    high, wide = tree.shape
    radius = max(2, round((window_px or WINDOW_SHARE * max(high, wide)) / HALF))
    size = (max(wide // HALF, 1), max(high // HALF, 1))
    small = np.asarray(cv2.resize(image, size, interpolation=cv2.INTER_AREA), np.float32) / np.float32(255)
    guide = _Guide(small, radius)
    full = np.asarray(image, np.float32) / np.float32(255)
    found = tree
    for _ in range(turns):
        if tell is not None:
            tell()
        share = cv2.resize(found.astype(np.float32), size, interpolation=cv2.INTER_AREA)
        slope, rest = (
            cv2.resize(a, (wide, high), interpolation=cv2.INTER_LINEAR)
            for a in guide.fitted(np.asarray(share, np.float32))
        )
        found = np.asarray((slope * full).sum(axis=-1) + rest > 0.5)
    return found


class _Guide:
    """Window sums of a picture that serve every mask over it."""

    def __init__(self, picture: Real, radius: int) -> None:
        self._picture, self._size = picture, (2 * radius + 1, 2 * radius + 1)
        self._mean = self._box(picture)
        r, g, b = (picture[..., k] for k in range(3))
        mr, mg, mb = (self._mean[..., k] for k in range(3))
        rr, gg, bb = (self._box(x * x) - m * m + NOISE for x, m in ((r, mr), (g, mg), (b, mb)))
        rg, rb, gb = self._box(r * g) - mr * mg, self._box(r * b) - mr * mb, self._box(g * b) - mg * mb
        # the inverse of the 3 x 3 covariance by its cofactors, six of nine
        cofactors = (gg * bb - gb * gb, gb * rb - rg * bb, rg * gb - gg * rb, rr * bb - rb * rb, rb * rg - rr * gb, rr * gg - rg * rg)  # fmt: skip
        whole = rr * cofactors[0] + rg * cofactors[1] + rb * cofactors[2]
        self._inverse = tuple(c / np.maximum(whole, 1e-12) for c in cofactors)

    def _box(self, values: Real) -> Real:
        return np.asarray(cv2.blur(values, self._size), np.float32)

    def fitted(self, mask: Real) -> tuple[Real, Real]:
        """(slope (h, w, 3), rest (h, w)) of the mask over colour, averaged over the windows a pixel lies in."""
        middle = self._box(mask)
        along = self._box(self._picture * mask[..., None]) - self._mean * middle[..., None]
        x, y, z = (along[..., k] for k in range(3))
        a, b, c, d, e, f = self._inverse
        slope = np.stack([a * x + b * y + c * z, b * x + d * y + e * z, c * x + e * y + f * z], axis=-1)
        rest = middle - (slope * self._mean).sum(axis=-1)
        return self._box(slope), self._box(rest)
