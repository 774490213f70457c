"""The outline that costs least: a graph cut on log odds and on how much neighbours differ.

Boykov and Jolly 2001, Interactive graph cuts; the cut itself by Boykov and Kolmogorov's maximum flow (2004).
"""

import cv2
import maxflow
import numpy as np
from numpy.typing import NDArray

from kesh.photo.classes import Image
from kesh.photo.view import Real

Bools = NDArray[np.bool_]
ALWAYS = 1e3
# what it costs to part two neighbours however different they are, as a share of two equal ones
LEAST = 0.08
# right, down and the two ways aslant: step, and its place in a neighbourhood of three by three
STEPS = ((0, 1), (1, 0), (1, 1), (1, -1))


def cut(odds: Real, picture: Image, smooth: float, tree: Bools, ground: Bools) -> Bools:
    """Tree or not (H, W). What `tree` or `ground` mark is so; `smooth` is the cost of parting equal neighbours."""
    graph = maxflow.GraphFloat()
    nodes = graph.add_grid_nodes(odds.shape)
    for (down, right), weights in zip(STEPS, _likeness(picture, smooth), strict=True):
        step = np.zeros((3, 3))
        step[1 + down, 1 + right] = 1
        graph.add_grid_edges(nodes, weights=weights, structure=step, symmetric=True)
    source = np.where(tree, ALWAYS, np.where(ground, 0.0, np.maximum(odds, 0)))
    sink = np.where(tree, 0.0, np.where(ground, ALWAYS, np.maximum(-odds, 0)))
    graph.add_grid_tedges(nodes, source, sink)
    graph.maxflow()
    return np.asarray(~graph.get_grid_segments(nodes))


def _likeness(picture: Image, smooth: float) -> list[Real]:
    lab = cv2.cvtColor(cv2.GaussianBlur(picture, (0, 0), 0.7).astype(np.float32) / 255, cv2.COLOR_BGR2Lab)
    apart = [((lab - np.roll(lab, (-down, -right), (0, 1))) ** 2).sum(axis=-1) for down, right in STEPS]
    usual = max(float(np.mean(apart[0][:, :-1])), 1e-3)
    return [
        np.asarray(smooth / np.hypot(*step) * (LEAST + (1 - LEAST) * np.exp(-a / (2 * usual))), np.float32)
        for step, a in zip(STEPS, apart, strict=True)
    ]
