"""The loop round the tree, the trunk's edges and the doubt of a cut-out, without a window."""

import numpy as np

from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.desk.photo import FIGURES, Mark, stroked
from kesh.model import TreePhoto
from kesh.model.photo import TrunkGrip
from kesh.photo.classes import WOOD
from kesh.photo.places import Place, left_in_doubt
from kesh.photo.tree_cut import DOUBTFUL, TreeCut

Spot = tuple[float, float]
MOST_POINTS = 160
# handles on each edge of the trunk, as shares of the height it is followed; grips nearer than this replace each other
HANDLES, NEAR = (0.06, 0.30, 0.58, 0.88), 0.06
LEAST_SHARE = 0.02


def looped(photo: TreePhoto, points: list[Spot], size: tuple[int, int]) -> TreePhoto:
    """The photograph with another loop; two points far apart are the corners of a box. Raises FieldError for a blot.

    Strokes and edges that a hand has made stay: what they say of the tree is true in any loop.
    """
    spots = np.array(points, float)
    low, high = spots.min(axis=0), spots.max(axis=0)
    if min(high - low) < LEAST_SHARE * max(size):
        raise FieldError("loop", "that loop holds nothing; draw it right round crown and trunk, down to the soil")
    if len(spots) == 2:
        spots = np.array([low, [high[0], low[1]], high, [low[0], high[1]]])
    step = max(1, -(-len(spots) // MOST_POINTS))
    ring = np.clip(spots[::step], 0, size)
    return photo.changed(loop=tuple((round(float(x), 1), round(float(y), 1)) for x, y in ring))


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


def told_places(cut: TreeCut | None, places: tuple[Place, ...]) -> tuple[Place, ...]:
    """The places worth a hand: all of a doubtful cut-out, otherwise those that change a figure.

    None in a loop that nobody drew while it is in doubt: the loop comes first.
    """
    if cut is None or (cut.doubtful and cut.proposed):
        return ()
    return places if cut.doubtful else tuple(p for p in places if p.figure)


def settle_words(cut: TreeCut, places: tuple[Place, ...]) -> tuple[str, str]:
    """(heading, note) over the places: how many strokes settle it, and how much doubt is left then."""
    left = left_in_doubt(cut, places)
    count = ("No stroke settles", "One stroke settles", "Two strokes settle", "Three strokes settle")[len(places)]
    enough = left <= DOUBTFUL
    return (f"{count} it" if enough else "Most in doubt"), f"{cut.doubt:.0%} in doubt, then {left:.0%}"


def place_words(place: Place, at_mm: Spot | None, u: Units) -> tuple[str, str]:
    """(where it is, what it changes). `at_mm` is right of the foot and above it; None while there is no scale."""
    where = "in the picture"
    if at_mm is not None:
        side = "left" if at_mm[0] < 0 else "right"
        height = u.mm(abs(at_mm[1]))
        where = f"{u.mm(abs(at_mm[0]))} {side}, {height} {'up' if at_mm[1] >= 0 else 'below the soil'}"
    if place.figure and place.if_tree is not None and place.if_not is not None:
        if place.figure.endswith("cm2"):
            return where, f"changes the area by {abs(1 - place.if_not / max(place.if_tree, 1e-9)):.0%}"
        words = next(w for name, _, w in FIGURES.values() if name == place.figure)
        return where, f"{words} {u.figure(place.if_tree)} if tree, {u.mm(place.if_not)} if not"
    return where, f"{place.share:.0%} of the tree, changes no length"


def settled(photo: TreePhoto, place: Place, factor: float, *, tree: bool) -> TreePhoto:
    """The photograph with the stroke that settles a place, as tree or as background."""
    kind = ("wood" if place.kind == WOOD else "leaf") if tree else "ground"
    points = [(float(x) * factor, float(y) * factor) for x, y in place.stroke]
    return stroked(photo, kind, points, place.radius * factor, follow=True)


def loop_words(cut: TreeCut | None, photo: TreePhoto) -> str:
    """Whose loop it is."""
    if photo.loop:
        return "your loop"
    return "" if cut is None else "Kesh's own loop; L draws yours"
