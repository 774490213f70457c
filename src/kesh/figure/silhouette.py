"""Regions of the drawn tree for visual mass: what is nearest to the viewer counts, overlaps count once."""

from functools import lru_cache

import shapely
from shapely.geometry.base import BaseGeometry

from kesh.figure.grove import sitter
from kesh.figure.habit import Sitter
from kesh.figure.tree_figure import grow
from kesh.model.brief import MassWeights
from kesh.model.tree import Tree
from kesh.reference.tables import USUAL_BARK, USUAL_LEAF, Species
from kesh.science.looks.visual_mass import HAZE, Region, darkness_of


def _stretched(s: Sitter, rest: Sitter, bare: bool) -> tuple[tuple[str, float, float], ...]:
    """Areas of the tree at rest stretched to other measures, as its picture is while one drags."""
    wide = (s.left + s.right) / (rest.left + rest.right)
    high = (s.height + s.drop) / (rest.height + rest.drop)
    return tuple((kind, area * wide * high, x * wide) for kind, area, x in _areas(rest, bare))


@lru_cache(maxsize=64)
def silhouette(s: Sitter) -> BaseGeometry:
    """What a tree hides of the wall behind it: leaves and wood as one shape, mm, y up."""
    figure = grow(s)
    found = shapely.union_all([shapely.Polygon(ring).buffer(0) for ring in figure.rings])
    return shapely.multipolygons([p for p in shapely.get_parts(found) if p.geom_type == "Polygon"])


@lru_cache(maxsize=4096)
def _areas(s: Sitter, bare: bool) -> tuple[tuple[str, float, float], ...]:
    """(kind, area mm2, centre x mm) of leaves and wood. Leaves hide the wood behind them, a haze of twigs does not."""
    figure = grow(s)
    leaves = shapely.union_all([shapely.Polygon(m.ring).buffer(0) for m in figure.masses])
    wood = shapely.union_all([shapely.Polygon(w.ring).buffer(0) for w in figure.wood])
    if bare:
        parts = (("haze", leaves.difference(wood)), ("wood", wood))
    else:
        airy = "airy" if s.foliage in ("larch", "spray", "pinnate", "strap", "frond") else "dense"
        parts = ((airy, leaves), ("wood", wood.difference(leaves)))
    found = []
    for kind, shape in parts:
        if not shape.is_empty:
            found.append((kind, float(shape.area), float(shape.centroid.x)))
    return tuple(found)


def tree_regions(
    tree: Tree,
    species: Species | None,
    weights: MassWeights = MassWeights(),  # noqa: B008 - a frozen record
    *,
    bare: bool = False,
    rest: Tree | None = None,
) -> tuple[Region, ...]:
    """Leaves and wood of a tree as weighted regions, in leaf or out of it; empty when it cannot be drawn.

    With the tree `rest` as it was before a hand took hold of it, that one is stretched instead of growing another: a few
    per cent off, for one frame, and the same whatever was drawn before.
    """
    s = sitter(tree, species)
    if s is None:
        return ()
    still = sitter(rest, species) if rest is not None else None
    if still is not None and (still.seed, still.style, still.foliage) != (s.seed, s.style, s.foliage):
        still = None
    colours = {
        "wood": species.bark_colour_hex if species else USUAL_BARK,
        "dense": species.leaf_colour_hex if species else USUAL_LEAF,
        "airy": species.leaf_colour_hex if species else USUAL_LEAF,
    }
    colours["haze"] = colours["wood"]
    measured = tree.measure.canopy_opacity
    leaf = {kind: measured if measured is not None else getattr(weights, kind) for kind in ("dense", "airy")}
    opacity = {"wood": weights.wood, "haze": HAZE, **leaf}
    return tuple(
        Region(
            kind, area, x, opacity[kind], darkness_of(colours[kind]),
        )
        for kind, area, x in (_areas(s, bare) if still is None else _stretched(s, still, bare))
    )  # fmt: skip
