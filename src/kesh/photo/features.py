"""What a pixel looks like: colour and two sizes of texture, and how tree and ground differ in them."""

import math

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.parts import smoothed
from kesh.photo.view import Real


def texture(lightness: Real) -> Real:
    """How much lightness changes within a leaf's size: a tree in focus does, what is behind it does less."""
    mean = cv2.GaussianBlur(lightness, (0, 0), 2.2)
    return np.asarray(np.sqrt(np.maximum(cv2.GaussianBlur((lightness - mean) ** 2, (0, 0), 2.6), 0)), np.float32)


def features_of(lab: Real) -> Real:
    """(H, W, 5): lightness, a, b, fine and coarse texture, each scaled to about -1..1."""
    light = lab[..., 0]
    fine = texture(light)
    wide_mean = cv2.GaussianBlur(light, (0, 0), 7)
    coarse = np.sqrt(np.maximum(cv2.GaussianBlur((light - wide_mean) ** 2, (0, 0), 8), 0))
    return np.stack(
        [light / 50 - 1, lab[..., 1] / 40, lab[..., 2] / 40, np.log1p(fine) / 1.6 - 1, np.log1p(coarse) / 1.6 - 1],
        axis=-1,
    ).astype(np.float32)  # fmt: skip


def against_border(value: Real, border: NDArray[np.bool_]) -> Real:
    """How far a texture lies above what is usual along the edge, in robust spreads, -3..4."""
    usual = float(np.median(value[border]))
    spread = max(1.48 * float(np.median(np.abs(value[border] - usual))), 0.05)
    return np.asarray(np.clip((value - usual) / spread, -3, 4), np.float32)


def _binned(features: Real, chosen: tuple[int, ...], bins: tuple[int, ...]) -> NDArray[np.int32]:
    """The place of every pixel in a joint histogram of some features, whose span is -1.2..1.2."""
    flat = np.zeros(features.shape[:2], np.int32)
    for k, count in zip(chosen, bins, strict=True):
        flat *= count
        flat += np.clip(((features[..., k] + 1.2) * (count / 2.4)).astype(np.int32), 0, count - 1)
    return flat


def unlike_border(features: Real, border: NDArray[np.bool_]) -> Real:
    """0 for colours that the edge shows often, toward 1 for those it never shows."""
    bins = (10, 20, 20)
    flat = _binned(features, (0, 1, 2), bins)
    count = np.bincount(flat[border], minlength=math.prod(bins)).astype(np.float32).reshape(bins)
    for axis in range(3):
        count = smoothed(count, axis)
    share = count.ravel()[flat] / max(float(count.max()), 1e-9)
    return np.asarray(1 - np.clip(share / 0.06, 0, 1), np.float32)


def stem_seed(shape: tuple[int, ...], soil: tuple[float, float]) -> NDArray[np.bool_]:
    """A narrow patch just above the soil mark: whatever else is in the picture, this is wood."""
    found = np.zeros(shape, bool)
    x, y = int(soil[0]), int(soil[1])
    half = max(2, int(0.006 * shape[1]))
    found[max(0, y - int(0.06 * y)) : max(y - int(0.012 * y), 1), max(0, x - half) : x + half + 1] = True
    return found


def like_stem(features: Real, stem: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Pixels with the stem's colour that hang together with it; light and shade may differ."""
    if not stem.any():
        return np.zeros(stem.shape, bool)
    part = features[stem][:, :3]
    middle, spread = (
        np.median(part, axis=0),
        np.maximum(1.48 * np.median(np.abs(part - np.median(part, axis=0)), axis=0), [0.16, 0.05, 0.05]),
    )
    near = np.linalg.norm((features[..., :3] - middle) / spread, axis=-1) < 3.0
    _, labels = cv2.connectedComponents((near | stem).astype(np.uint8))
    kept = np.unique(labels[stem])
    return np.asarray(np.isin(labels, kept) & (near | stem))


def feature_ratio(features: Real, tree: NDArray[np.bool_], ground: NDArray[np.bool_], texture: float = 0.8) -> Real:
    """Log likelihood ratio: colours as one joint histogram, the two textures as another."""
    found = np.zeros(features.shape[:2], np.float32)
    for chosen, bins, weight in (((0, 1, 2), (12, 20, 20), 1.0), ((3, 4), (16, 16), texture)):
        flat = _binned(features, chosen, bins)
        tables = []
        for mask in (tree, ground):
            count = np.bincount(flat[mask], minlength=math.prod(bins)).astype(np.float32).reshape(bins)
            for axis in range(len(bins)):
                count = smoothed(count, axis)
            tables.append(count.ravel() / max(float(count.sum()), 1e-9) + 3e-5)
        ratio = np.clip(np.log(tables[0]) - np.log(tables[1]), -4, 4)
        found += weight * ratio.astype(np.float32)[flat]
    return found
