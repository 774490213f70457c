"""How a print's pieces lie beside each other: each tier from above with numbers and joints, and the tiers from the front."""

import itertools

import numpy as np
import shapely

from kesh.figure.drawing import Dim, Drawing, Floats, Item, Line, Words, lettered, moved
from kesh.geometry.pieces.split import Assembly, Piece

GAP = 18.0


def cut_ring(piece: Piece, z_mm: float) -> tuple[Floats, ...]:
    """What a level cut through a piece shows, as rings."""
    found = piece.solid.section(plane_origin=[0, 0, z_mm], plane_normal=[0, 0, 1])
    return () if found is None else tuple(np.asarray(loop)[:, :2] for loop in found.discrete)


def shadow(piece: Piece) -> shapely.Geometry:
    """A piece from above, as what its highest and its lowest faces cover."""
    points, faces = np.asarray(piece.solid.vertices)[:, :2], np.asarray(piece.solid.faces)
    up = np.asarray(piece.solid.face_normals)[:, 2] > 0.05
    return shapely.union_all([p for p in shapely.polygons(points[faces[up]]) if p.is_valid])


def tier_plan(made: Assembly, tier: int, k: float = 1.0) -> tuple[Item, ...]:
    """One tier from above: every piece's edge, its number, the joints that reach into it."""
    items: list[Item] = []
    for piece in (p for p in made.pieces if p.tier == tier):
        shape = shadow(piece)
        for part in getattr(shape, "geoms", [shape]):
            if part.geom_type == "Polygon" and part.area > 4:
                items.append(Line(np.asarray(part.simplify(0.05).exterior.coords)[:-1], "outline", closed=True))
        at = part_point(shape)
        items.append(Words(str(piece.number), at[0], at[1] - 3 * k, 6 * k, "center"))
    for joint, _, into in made.joints:
        if next(p.tier for p in made.pieces if p.number == into) == tier:
            items.append(
                Line(
                    np.asarray(joint.plan.exterior.coords)[:-1],
                    "holes" if joint.kind == "tongue" else "tie_holes",
                    closed=True,
                )
            )
    return tuple(items)


def part_point(shape: shapely.Geometry) -> tuple[float, float]:
    """A place inside a shape for its number: the middle of its box where that lies inside, else any place that does."""
    middle = shape.envelope.centroid
    spot = middle if shape.buffer(-2).contains(middle) else shape.representative_point()
    return float(spot.x), float(spot.y)


def pieces_drawing(made: Assembly, title: str) -> Drawing:
    """Every tier from above, side by side, and the tiers from the front."""
    low, high = made.whole.bounds
    long, _, tall = (float(v) for v in high - low)
    tiers = sorted({p.tier for p in made.pieces})
    k = lettered(long * len(tiers))
    size = 3.0 * k
    items: list[Item] = []
    for n, tier in enumerate(tiers):
        plan = [*tier_plan(made, tier, k)]
        name = "From above" if len(tiers) == 1 else f"Tier {tier + 1} from above"
        plan.append(Words(name, float(low[0]), float(high[1]) + 4 * size, 4 * k))
        plan.append(Words("front", 0.0, float(low[1]) - 2.2 * size, size, "center"))
        edges = (float(low[0]), *made.grid.planes[0], float(high[0]))
        plan += [Dim(a, float(low[1]), b, float(low[1]), -3.2 * size, size=size) for a, b in itertools.pairwise(edges)]
        sides = (float(low[1]), *made.grid.planes[1], float(high[1]))
        plan += [
            Dim(float(high[0]), a, float(high[0]), b, 2.5 * size, level=False, size=size)
            for a, b in itertools.pairwise(sides)
        ]
        items += moved(plan, n * (long + GAP * k + 6 * size), 0.0)
    if len(tiers) > 1:
        heights = (float(low[2]), *made.grid.planes[2], float(high[2]))
        front: list[Item] = []
        for a, b in itertools.pairwise(heights):
            front.append(Line(np.array([[low[0], a], [high[0], a], [high[0], b], [low[0], b]]), "outline", closed=True))
            front.append(Dim(float(high[0]), a, float(high[0]), b, 2.5 * size, level=False, size=size))
        front.append(Words("Tiers from the front", float(low[0]), float(high[2]) + 1.5 * size, 4 * k))
        items += moved(front, 0.0, float(low[1]) - tall - 12 * size)
    notes = ("Red: tongues in the floor. Blue: half laps in the wall.", "Each piece comes down from above, by number.")
    return Drawing(title, tuple(items), notes)
