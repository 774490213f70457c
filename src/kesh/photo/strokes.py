"""Strokes of the brush over a mask: what is painted is so, and nearby pixels of the same colour may follow."""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import BACKGROUND, FOLIAGE, Image, Mask
from kesh.photo.parts import smoothed
from kesh.photo.snap import WINDOW_SHARE, snapped

BINS = (20, 24, 24)
REACH_SHARE = 0.010
SURE, SELDOM, LEAST_PX = 1.0, 2e-5, 50


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
    trace = trace_of(mask.shape, stroke)
    if not stroke.follow or image is None:
        done[trace] = stroke.kind
        return done
    done[trace | _followed(trace, stroke, image, mask)] = stroke.kind
    _to_edges(done, trace, stroke, image)
    return done


def _to_edges(done: Mask, trace: NDArray[np.bool_], stroke: Stroke, image: Image) -> None:
    """The outline about a stroke drawn to the edges of colour; the stroke's own middle stays painted."""
    window = max(WINDOW_SHARE * max(done.shape), stroke.radius)
    part = _about(trace, round(max(3 * stroke.radius, 2.5 * window)))
    found = done[part]
    tree = snapped(image[part], found != BACKGROUND, 1, window)
    core = trace_of(done.shape, replace(stroke, radius=stroke.radius / 2))[part]
    tree[core] = stroke.kind != BACKGROUND
    found[tree & (found == BACKGROUND)] = stroke.kind or FOLIAGE
    found[~tree] = BACKGROUND


def _about(trace: NDArray[np.bool_], pad: int) -> tuple[slice, slice]:
    """The part of a picture that holds a trace and so much round it."""
    ys, xs = np.nonzero(trace)
    return (slice(max(int(ys.min()) - pad, 0), int(ys.max()) + pad + 1),
            slice(max(int(xs.min()) - pad, 0), int(xs.max()) + pad + 1))  # fmt: skip


def trace_of(shape: tuple[int, ...], stroke: Stroke) -> NDArray[np.bool_]:
    """The pixels (H, W) that the brush itself went over."""
    found = np.zeros(shape, np.uint8)
    points = np.round(np.array(stroke.points, float)).astype(np.int32).reshape(-1, 1, 2)
    radius = max(round(stroke.radius), 1)
    if len(points) > 1:
        cv2.polylines(found, [points], False, 1, 2 * radius)
    for x, y in points.reshape(-1, 2):
        cv2.circle(found, (int(x), int(y)), radius, 1, -1)
    return found.astype(bool)


def _followed(trace: np.ndarray, stroke: Stroke, image: Image, mask: Mask) -> np.ndarray:
    """Pixels beside the stroke that look like what was painted and not like the other side, and hang together with it.

    A likelihood ratio of colour histograms decides: the stroke and its own side near it, against the other side farther
    away. Where both look alike nothing follows.
    """
    reach = stroke.radius + min(stroke.radius, REACH_SHARE * max(mask.shape))
    part = _about(trace, int(max(8 * stroke.radius, 0.08 * max(mask.shape))))
    own, bins = trace[part], _binned(image[part])
    side = (mask[part] != BACKGROUND) == (stroke.kind != BACKGROUND)
    far = cv2.distanceTransform((~own).astype(np.uint8), cv2.DIST_L2, 3)
    other = ~side & (far > 1.5 * reach)
    like = 0.7 * _shares(bins, own) + 0.3 * _shares(bins, own | (side & (far <= 3 * reach)))
    # with next to nothing left of the other side there is nothing to be told from
    unlike = _shares(bins, other) if np.count_nonzero(other) >= LEAST_PX else 0.0
    ratio = np.log(like + SELDOM) - np.log(unlike + SELDOM)
    sure = cv2.GaussianBlur(ratio[bins].astype(np.float32), (0, 0), 1.5) > SURE
    taken = own | (sure & ~side & (far <= reach))
    _, labels = cv2.connectedComponents(taken.astype(np.uint8))
    kept = taken & np.isin(labels, np.setdiff1d(np.unique(labels[own]), [0]))
    found = np.zeros_like(trace)
    found[part] = cv2.morphologyEx(kept.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8)) > 0
    return found


def _binned(part: Image) -> np.ndarray:
    """The number of each pixel's colour bin, 5 units of CIELAB a side."""
    lab = cv2.cvtColor(cv2.GaussianBlur(part, (0, 0), 1.0).astype(np.float32) / 255, cv2.COLOR_BGR2Lab)
    at = np.clip(((lab + np.array([0, 60, 60], np.float32)) / 5).astype(int), 0, np.array(BINS) - 1)
    return np.asarray(np.ravel_multi_index((at[..., 0], at[..., 1], at[..., 2]), BINS))


def _shares(bins: np.ndarray, where: np.ndarray) -> np.ndarray:
    """How often each colour bin is seen there, spread a little over its neighbours."""
    count = np.bincount(bins[where], minlength=int(np.prod(BINS))).astype(np.float32).reshape(BINS)
    for axis in range(3):
        count = smoothed(count, axis)
    return np.asarray(count.ravel() / max(float(count.sum()), 1.0))
