"""The loop round the tree, the trunk's edges and the doubt of a cut-out, without a window."""

import numpy as np

from kesh.errors import FieldError
from kesh.model import TreePhoto
from kesh.model.photo import TrunkGrip
from kesh.photo.tree_cut import TreeCut
from kesh.ui.state.photo import Mark

Spot = tuple[float, float]
MOST_POINTS = 160
# handles on each edge of the trunk, as shares of the height it is followed; grips nearer than this replace each other
HANDLES, NEAR = (0.06, 0.30, 0.58, 0.88), 0.06
LEAST_SHARE = 0.02


def looped(photo: TreePhoto, points: list[Spot], size: tuple[int, int]) -> TreePhoto:
    """The photograph with another loop; two points far apart are the corners of a box. Raises FieldError for a blot."""
    spots = np.array(points, float)
    low, high = spots.min(axis=0), spots.max(axis=0)
    if min(high - low) < LEAST_SHARE * max(size):
        raise FieldError("loop", "that loop holds nothing; draw it right round crown and trunk, down to the soil")
    if len(spots) == 2:
        spots = np.array([low, [high[0], low[1]], high, [low[0], high[1]]])
    step = max(1, -(-len(spots) // MOST_POINTS))
    ring = np.clip(spots[::step], 0, size)
    return photo.changed(loop=tuple((round(float(x), 1), round(float(y), 1)) for x, y in ring), strokes=(), trunk=())


def edge_marks(cut: TreeCut, factor: float) -> tuple[Mark, ...]:
    """Handles on the trunk's two edges, in px of the original picture."""
    edges = cut.edges
    if edges is None or len(edges) < 8:
        return ()
    found = []
    for n, share in enumerate(HANDLES):
        y, left, right, _ = edges[round(share * (len(edges) - 1))] * factor
        found += [Mark(f"edge left {n}", "Trunk, left edge", float(left), float(y)),
                  Mark(f"edge right {n}", "Trunk, right edge", float(right), float(y))]  # fmt: skip
    return tuple(found)


def gripped(photo: TreePhoto, key: str, at: Spot, tall_px: float) -> TreePhoto:
    """The photograph with an edge of the trunk put at a place by hand."""
    side = key.split()[1]
    kept = [g for g in photo.trunk if g.side != side or abs(g.at[1] - at[1]) > NEAR * tall_px]
    grip = TrunkGrip(side=side, at=(round(at[0], 1), round(at[1], 1)))
    return photo.changed(trunk=(*kept, grip))


def doubt_words(cut: TreeCut) -> str:
    """What is in doubt and what settles it, in one line; empty when nothing is."""
    if not cut.doubtful:
        return ""
    return f"In doubt, {cut.doubt:.0%} of the tree: {cut.settles()}."


def loop_words(cut: TreeCut | None, photo: TreePhoto) -> str:
    """Whose loop it is."""
    if photo.loop:
        return "your loop"
    return "" if cut is None else "Kesh's own loop; L draws yours"
