"""How a print's pieces lie beside each other: each tier from above with numbers and joints, and the tiers from the front."""

import itertools
from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
import shapely
from shapely import affinity

from kesh.base.words import counted
from kesh.figure.drawing import Dim, Drawing, Item, Line, Words, lettered, moved
from kesh.geometry.pieces.split import Assembly
from kesh.science.making.beds import Laid, lay

if TYPE_CHECKING:
    from trimesh import Trimesh

GAP, BED_GAP = 18.0, 48.0


def shadow(body: "Trimesh") -> shapely.Geometry:
    """A solid from above: what its upward faces cover."""
    points, faces = np.asarray(body.vertices)[:, :2], np.asarray(body.faces)
    up = np.asarray(body.face_normals)[:, 2] > 0.05
    return shapely.union_all([p for p in shapely.polygons(points[faces[up]]) if p.is_valid])


def tier_plan(made: Assembly, tier: int, k: float = 1.0) -> tuple[Item, ...]:
    """One tier from above: every piece's edge, its number, the joints that reach into it."""
    items: list[Item] = []
    for piece in (p for p in made.pieces if p.tier == tier):
        shape = shadow(piece.solid)
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
    """Where there is most room for a number inside a shape."""
    largest = max(getattr(shape, "geoms", [shape]), key=lambda one: one.area)
    spot = shapely.get_point(shapely.maximum_inscribed_circle(largest, 2.0), 0)
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
        plan += [Dim(a, float(low[1]), b, float(low[1]), -5.0 * size, size=size) for a, b in itertools.pairwise(edges)]
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
    notes = (
        ("Red: tongues in the floor. Blue: half laps in the wall.", "Each piece comes down from above, by number.")
        if len(made) > 1
        else ()
    )
    return Drawing(title, tuple(items), notes)


def beds_drawing(printed: Sequence[tuple[str, "Trimesh"]], bed_mm: tuple[float, float, float], title: str) -> Drawing:
    """Every printed solid where it lies on its bed, from above, by name; raises FieldError for one that does not fit."""
    laid = lay([(float(s.extents[0]), float(s.extents[1])) for _, s in printed], (bed_mm[0], bed_mm[1]))
    beds = max(one.bed for one in laid) + 1
    across = min(beds, 3 if beds > 4 else 2)
    step = bed_mm[0] + BED_GAP, bed_mm[1] + BED_GAP
    items: list[Item] = []
    size = 3.0 * lettered(step[0] * across)
    for n in range(beds):
        x, y = (n % across) * step[0], -(n // across) * step[1]
        items.append(
            Line(
                np.array([[x, y], [x + bed_mm[0], y], [x + bed_mm[0], y + bed_mm[1]], [x, y + bed_mm[1]]]),
                "hidden",
                closed=True,
            )
        )
        items.append(Words(f"bed {n + 1}", x, y + bed_mm[1] + 8.0, size))
    for one in laid:
        name, body = printed[one.index]
        shape = shadow(body)
        if one.turned:
            shape = affinity.rotate(shape, 90, origin=(0, 0))
        x0, y0, _, _ = shape.bounds
        dx = (
            (one.bed % across) * step[0]
            + one.x_mm
            - x0
            + max((bed_mm[0] - one.length_mm) / 2, 0) * (one.x_mm == 0 and _alone(laid, one))
        )
        dy = -(one.bed // across) * step[1] + one.y_mm - y0
        shape = affinity.translate(shape, dx, dy)
        for part in getattr(shape, "geoms", [shape]):
            if part.geom_type == "Polygon" and part.area > 4:
                items.append(Line(np.asarray(part.simplify(0.1).exterior.coords)[:-1], "outline", closed=True))
                items += [
                    Line(np.asarray(r.simplify(0.1).coords)[:-1], "inside", closed=True)
                    for r in part.interiors
                    if shapely.Polygon(r).area > 4
                ]
        at = part_point(shape)
        items.append(Words(name.replace("piece-", "").lstrip("0"), at[0], at[1] - size / 2, 1.6 * size, "center"))
    items.append(Dim(0, bed_mm[1], bed_mm[0], bed_mm[1], 2 * size, size=size))
    items.append(Dim(0, 0, 0, bed_mm[1], -2 * size, level=False, size=size))
    return Drawing(title, tuple(items), (f"{counted(beds, 'bed')} of {bed_mm[0]:g} × {bed_mm[1]:g} mm.",))


def _alone(laid: tuple[Laid, ...], one: Laid) -> bool:
    return sum(other.bed == one.bed for other in laid) == 1
