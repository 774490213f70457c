"""Colours of bark and leaf out of a picture, by clusters in CIE L*a*b*."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Image

MOST_PIXELS = 20_000


@dataclass(frozen=True)
class Tone:
    """One colour: sRGB as #RRGGBB, its share of the pixels, and the usual distance of a pixel from it (delta E 1976)."""

    colour: str
    share: float
    spread: float


def tones(image: Image, chosen: NDArray[np.bool_], count: int = 3) -> tuple[Tone, ...]:
    """Main colours of chosen pixels of a BGR picture, most frequent first; empty for fewer than 30 pixels."""
    inner = cv2.erode(chosen.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)
    use = inner if inner.sum() >= 30 else chosen
    pixels = image[use]
    if len(pixels) < 30:
        return ()
    step = max(1, len(pixels) // MOST_PIXELS)
    lab = cv2.cvtColor((pixels[::step][None] / 255).astype(np.float32), cv2.COLOR_BGR2Lab)[0]
    cv2.setRNGSeed(7)
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 25, 0.4)
    _, labels, centres = cv2.kmeans(lab, min(count, len(lab)), None, stop, 2, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
    labels = labels.ravel()
    found = []
    for k in range(len(centres)):
        own = lab[labels == k]
        if len(own):
            middle = np.median(own, axis=0)
            spread = float(np.median(np.linalg.norm(own - middle, axis=1)))
            found.append(Tone(hex_of(middle), len(own) / len(lab), spread))
    return tuple(sorted(found, key=lambda t: -t.share))


def tone_at(image: Image, x: float, y: float, radius: float) -> Tone | None:
    """The main colour of a BGR picture within a radius of a place, px; None outside the picture."""
    high, wide = image.shape[:2]
    if not (0 <= x < wide and 0 <= y < high):
        return None
    disc: Image = np.zeros((high, wide), np.uint8)
    cv2.circle(disc, (round(x), round(y)), max(round(radius), 4), 1, -1)
    found = tones(image, disc.astype(bool), 2)
    return found[0] if found else None


def hex_of(lab: NDArray[np.floating]) -> str:
    """A colour in L*a*b* as #RRGGBB."""
    bgr = cv2.cvtColor(np.asarray(lab, np.float32).reshape(1, 1, 3), cv2.COLOR_Lab2BGR)[0, 0]
    b, g, r = (int(v) for v in np.clip(np.round(bgr * 255), 0, 255))
    return f"#{r:02X}{g:02X}{b:02X}"
