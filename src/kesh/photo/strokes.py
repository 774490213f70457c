"""Strokes of the brush over a mask: what is painted is so, and nearby pixels of the same colour may follow."""

from dataclasses import dataclass

import cv2
import numpy as np

from kesh.photo.classes import BACKGROUND, Image, Mask

FOLLOW_LAB = 9.0


@dataclass(frozen=True)
class Stroke:
    """One stroke: class it paints, its points in px, the brush's radius in px, and whether like colours follow."""

    kind: int
    points: tuple[tuple[float, float], ...]
    radius: float
    follow: bool = False


def painted(mask: Mask, stroke: Stroke, image: Image | None = None) -> Mask:
    """The mask after a stroke; a new array. With a picture, a stroke that asks for it takes like colours beside it."""
    done = mask.copy()
    trace = _trace(mask.shape, stroke)
    if stroke.follow and image is not None:
        trace |= _followed(trace, stroke, image, mask)
    done[trace] = stroke.kind
    return done


def _trace(shape: tuple[int, ...], stroke: Stroke) -> np.ndarray:
    found = np.zeros(shape, np.uint8)
    points = np.round(np.array(stroke.points, float)).astype(np.int32).reshape(-1, 1, 2)
    radius = max(round(stroke.radius), 1)
    if len(points) > 1:
        cv2.polylines(found, [points], False, 1, 2 * radius)
    for x, y in points.reshape(-1, 2):
        cv2.circle(found, (int(x), int(y)), radius, 1, -1)
    return found.astype(bool)


def _followed(trace: np.ndarray, stroke: Stroke, image: Image, mask: Mask) -> np.ndarray:
    """Pixels within three radii that look like what was painted, hang together with it and are of the other side."""
    ys, xs = np.nonzero(trace)
    pad = int(3 * stroke.radius)
    top, low, left, right = max(ys.min() - pad, 0), ys.max() + pad + 1, max(xs.min() - pad, 0), xs.max() + pad + 1
    part, own = image[top:low, left:right], trace[top:low, left:right]
    lab = cv2.cvtColor(cv2.GaussianBlur(part, (0, 0), 1.2).astype(np.float32) / 255, cv2.COLOR_BGR2Lab)
    far = cv2.distanceTransform((~own).astype(np.uint8), cv2.DIST_L2, 3) <= 3 * stroke.radius
    colours = lab[own]
    few = colours[:: max(1, len(colours) // 400)]
    bins = np.unique(np.round(few / 6).astype(int), axis=0) * 6.0
    near = np.min(np.linalg.norm(lab[:, :, None] - bins[None, None], axis=-1), axis=-1) < FOLLOW_LAB
    other = (mask[top:low, left:right] == BACKGROUND) == (stroke.kind != BACKGROUND)
    _, labels = cv2.connectedComponents((own | (near & far & other)).astype(np.uint8))
    kept = np.isin(labels, np.setdiff1d(np.unique(labels[own]), [0]))
    found = np.zeros_like(trace)
    found[top:low, left:right] = kept
    return found
