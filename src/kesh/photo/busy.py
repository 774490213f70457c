"""Cutting a tree out from before a hedge, boards or a room."""

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.photo.features import against_border, feature_ratio, features_of, like_stem, stem_seed, unlike_border
from kesh.photo.view import Real, View

COARSE_PX = 620


def before_busy(view: View, tell: Callable[[float, str], None]) -> NDArray[np.bool_]:
    """Against a hedge, boards or a room: features of colour and sharpness, learnt from the picture's own edge.

    What the edge strips show is background; the stem above the soil mark is tree. Between them a naive ratio of
    feature histograms is refined in turns, each time on what the last turn was sure of, and graph cuts draw the line.
    """
    high, wide = view.lab.shape[:2]
    scale = min(1.0, COARSE_PX / max(high, wide))
    size = (max(int(wide * scale), 8), max(int(high * scale), 8))
    features = features_of(view.lab)
    coarse = np.stack(
        [cv2.resize(features[..., k], size, interpolation=cv2.INTER_AREA) for k in range(5)], axis=-1
    ).astype(np.float32)
    above = int(view.above * scale)
    border = cv2.resize(view.border().astype(np.uint8), size, interpolation=cv2.INTER_NEAREST).astype(bool)
    barred = cv2.resize(view.barred.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST).astype(bool)
    barred[above:] = True
    soil = (view.soil[0] * scale, view.soil[1] * scale)
    prior = _prior(size, soil, None if view.apex is None else view.apex[1] * scale)
    stem = stem_seed(prior.shape, soil) & ~barred
    fixed = barred | border
    sharp = against_border(coarse[..., 3], border)
    unlike = unlike_border(coarse, border)
    wooden = like_stem(coarse, stem)
    lively = max(2.6, float(np.percentile(sharp[border], 98)) + 0.4)
    leafy = (sharp > 1.0) & ((unlike > 0.35) | (sharp > lively))
    tree_like = ((leafy & (prior > 0.1)) | stem) & ~fixed
    ground_like = border | ((sharp < 0.5) & ~wooden & ~barred) | ((prior < -1.0) & ~barred)
    score = np.where(fixed, -4.0, prior).astype(np.float32)
    for turn in range(4):
        if tree_like.sum() < 50 or ground_like.sum() < 50:
            break
        ratio = feature_ratio(coarse, tree_like, ground_like)
        ratio = cv2.GaussianBlur(ratio, (0, 0), 1.6) + 0.35 * np.clip(sharp - 1.0, -2, 2) + wooden * 0.4
        score = np.where(fixed, -4.0, ratio + 0.8 * prior).astype(np.float32)
        tree_like, ground_like = (score > 1.0) | stem, ((score < -1.0) | border) & ~barred
        tell(0.3 + 0.08 * turn, "Learning the background")
    cut = _graph_cut(coarse, score, stem, border | barred)
    tell(0.68, "Drawing the outline")
    found = _sharpened(cut, view, features)
    return np.asarray(found & ~_flat_things(found, view, features))


def _prior(size: tuple[int, int], soil: tuple[float, float], apex_y: float | None) -> Real:
    """How likely a tree is by place alone: round the line from the soil mark upward, less toward the edges."""
    wide, high = size
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    top = apex_y if apex_y is not None else 0.10 * soil[1]
    tall = max(soil[1] - top, 8.0)
    u, v = (x - soil[0]) / (0.62 * tall), (y - (soil[1] - 0.58 * tall)) / (0.52 * tall)
    crown = 1 - (u * u + v * v)
    stem = 1 - ((x - soil[0]) / (0.10 * tall)) ** 2 - ((y - (soil[1] - 0.2 * tall)) / (0.24 * tall)) ** 2
    return np.asarray(np.clip(1.6 * np.maximum(crown, stem), -2.0, 1.2), np.float32)


def _graph_cut(features: Real, score: Real, stem: NDArray[np.bool_], out: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """A graph cut on lightness, colour and texture that starts from the score."""
    picture = np.stack(
        [127 + 90 * np.clip(0.55 * features[..., 0] + 0.6 * features[..., 3], -1.3, 1.3),
         127 + 110 * np.clip(features[..., 1], -1.1, 1.1), 127 + 110 * np.clip(features[..., 2], -1.1, 1.1)], axis=-1
    )  # fmt: skip
    marks = np.where(score > 0, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    marks[score < -2.6] = cv2.GC_BGD
    marks[score > 3.4] = cv2.GC_FGD
    marks[stem] = cv2.GC_FGD
    marks[out] = cv2.GC_BGD
    if not ((marks == cv2.GC_FGD) | (marks == cv2.GC_PR_FGD)).any() or not (marks == cv2.GC_BGD).any():
        return np.asarray(score > 0)
    cv2.setRNGSeed(1)
    models = np.zeros((1, 65)), np.zeros((1, 65))
    cv2.grabCut(np.clip(picture, 0, 255).astype(np.uint8), marks, (0, 0, 1, 1), *models, 3, cv2.GC_INIT_WITH_MASK)
    return np.asarray((marks == cv2.GC_FGD) | (marks == cv2.GC_PR_FGD))


def _sharpened(cut: NDArray[np.bool_], view: View, features: Real) -> NDArray[np.bool_]:
    """The coarse outline brought to working size: near it every pixel is asked again by colour alone."""
    high, wide = view.lab.shape[:2]
    share = cv2.resize(cut.astype(np.float32), (wide, high), interpolation=cv2.INTER_LINEAR)
    sure = max(3, int(0.010 * max(high, wide)))
    core = cv2.erode((share > 0.5).astype(np.uint8), np.ones((2 * sure + 1,) * 2, np.uint8)).astype(bool)
    rim = cv2.dilate((share > 0.5).astype(np.uint8), np.ones((2 * sure + 1,) * 2, np.uint8)).astype(bool)
    ground = ~rim
    ground[view.above :] = False
    if core.sum() < 50 or ground.sum() < 50:
        return np.asarray(share > 0.5)
    ratio = cv2.GaussianBlur(feature_ratio(features, core, ground, 0.25), (0, 0), 1.0)
    field = ratio + 3.0 * (share - 0.5)
    return np.asarray(core | (rim & (field > 0)))


def _flat_things(tree: NDArray[np.bool_], view: View, features: Real) -> NDArray[np.bool_]:
    """Books, boxes and blurred blobs: patches wider than any leaf, as even as the edge strips and not of bark's colour."""
    light = view.lab[..., 0]
    mean = cv2.GaussianBlur(light, (0, 0), 1.6)
    lively = np.sqrt(np.maximum(cv2.GaussianBlur((light - mean) ** 2, (0, 0), 1.8), 0))
    border = view.border()
    even = lively < 1.6 * float(np.median(lively[border])) + 0.25
    size = max(5, int(0.018 * max(tree.shape)))
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    patches = cv2.morphologyEx((even & tree).astype(np.uint8), cv2.MORPH_OPEN, kernel)
    grown = cv2.dilate(patches, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size | 1, size | 1))).astype(bool)
    edge = grown & tree & (lively < 3.0 * float(np.median(lively[border])) + 0.6)
    bark = like_stem(features, stem_seed(tree.shape, view.soil))
    return np.asarray(
        (patches.astype(bool) | edge) & ~cv2.dilate(bark.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)
    )
