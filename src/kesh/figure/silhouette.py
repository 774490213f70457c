"""Regions of the drawn tree for visual mass: what is nearest to the viewer counts, overlaps count once."""

from functools import lru_cache

import shapely

from kesh.figure.habit import Sitter, sitter
from kesh.figure.tree_figure import grow
from kesh.model.tree import Tree
from kesh.reference.tables import Species
from kesh.science.visual_mass import OPACITY, Region, darkness_of


@lru_cache(maxsize=256)
def _areas(s: Sitter) -> tuple[tuple[str, float, float], ...]:
    """(kind, area mm2, centre x mm) of leaves and wood; leaves hide the wood behind them."""
    figure = grow(s)
    leaves = shapely.union_all([shapely.Polygon(m.ring).buffer(0) for m in figure.masses])
    wood = shapely.union_all([shapely.Polygon(w.ring).buffer(0) for w in figure.wood])
    seen = wood.difference(leaves)
    airy = "airy" if s.foliage in ("larch", "spray", "pinnate") else "dense"
    found = []
    for kind, shape in ((airy, leaves), ("wood", seen)):
        if not shape.is_empty:
            found.append((kind, float(shape.area), float(shape.centroid.x)))
    return tuple(found)


def tree_regions(tree: Tree, species: Species | None) -> tuple[Region, ...]:
    """Leaves and wood of a tree as weighted regions; empty when it cannot be drawn."""
    s = sitter(tree, species)
    if s is None:
        return ()
    colours = {
        "wood": species.bark_colour_hex if species else "#7A6A58",
        "dense": species.leaf_colour_hex if species else "#6B8248",
        "airy": species.leaf_colour_hex if species else "#6B8248",
    }
    measured = tree.measure.canopy_opacity
    return tuple(
        Region(
            kind, area, x,
            measured if measured is not None and kind != "wood" else OPACITY[kind], darkness_of(colours[kind]),
        )
        for kind, area, x in _areas(s)
    )  # fmt: skip
