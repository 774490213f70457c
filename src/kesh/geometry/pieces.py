"""A solid cut to the bed of a printer: planes, pegs and sockets across each joint, pieces numbered."""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
import shapely

from kesh.errors import FieldError
from kesh.geometry.solid import mesh_of, solid_of
from kesh.model.pot import Pot

if TYPE_CHECKING:
    from manifold3d import Manifold
    from trimesh import Trimesh

MARGIN_MM = 4.0
PEG_SHARE, LEAST_PEG_MM, MOST_PEG_MM = 0.34, 1.2, 6.0
PEG_LENGTHS, PEG_SIDES, PEG_APART = 2.4, 24, 4.0
MOST_PEGS = 8


@dataclass(frozen=True, eq=False)
class PieceOf:
    """One piece: its number by column, row and tier from the lower left front, and its solid in the pot's place."""

    number: int
    column: int
    row: int
    tier: int
    solid: "Trimesh"

    @property
    def name(self) -> str:
        """As it is called in files."""
        return f"piece-{self.number}"


def counts(size_mm: tuple[float, float, float], bed_mm: tuple[float, float, float]) -> tuple[int, int, int]:
    """How many pieces along each axis so that each fits the bed with a margin. Raises FieldError for a bed of nothing."""
    room = np.array(bed_mm) - 2 * MARGIN_MM
    if (room <= 5).any():
        raise FieldError("bed", f"a bed of {' × '.join(f'{b:g}' for b in bed_mm)} mm leaves no room to print on")
    nx, ny, nz = (int(n) for n in np.ceil(np.array(size_mm) / room - 1e-9))
    # a piece may be turned on the bed
    if room[0] != room[1]:
        turned = [int(np.ceil(size_mm[i] / room[1 - i] - 1e-9)) for i in (0, 1)]
        if turned[0] * turned[1] < nx * ny:
            nx, ny = turned
    if nx * ny * nz > 48:
        raise FieldError("bed", f"that would be {nx * ny * nz} pieces; take a larger bed or a smaller pot")
    return nx, ny, nz


def _box(low: Any, high: Any) -> "Manifold":
    import manifold3d

    return manifold3d.Manifold.cube([h - a for a, h in zip(low, high, strict=True)]).translate([float(v) for v in low])


def _cuts(low: float, high: float, count: int, keep_off: list[tuple[float, float]]) -> list[float]:
    """Where to cut: evenly, shifted off holes that would be cut in two."""
    found = []
    for k in range(1, count):
        at = low + (high - low) * k / count
        for left, right in keep_off:
            if left < at < right:
                at = left if at - left < right - at else right
        found.append(at)
    return found


def split(
    pot: Pot, whole: "Trimesh", bed_mm: tuple[float, float, float], clearance_mm: float = 0.25
) -> tuple[PieceOf, ...]:
    """Pieces of a pot's solid that fit the bed, with pegs on one side of a joint and sockets wider by the clearance.

    One piece when it fits whole. Raises FieldError when a joint finds no material for a peg or a piece falls apart.
    """
    long, wide, high = (float(v) for v in whole.extents)
    n = counts((long, wide, high), bed_mm)
    if n == (1, 1, 1):
        return (PieceOf(1, 0, 0, 0, whole),)
    for _ in range(4):
        found = _split(pot, whole, n, clearance_mm)
        off = [tuple(p.solid.extents) for p in found if not _fits(tuple(p.solid.extents), bed_mm)]
        if not off:
            return found
        # pegs stand out and cuts make way for holes: one more piece where a piece came out too long
        worst = max(range(3), key=lambda a: max(e[a] for e in off) / bed_mm[a])
        n = (n[0] + (worst == 0), n[1] + (worst == 1), n[2] + (worst == 2))
    raise FieldError("bed", "the pieces do not come out small enough for this bed; take a larger one or move the holes")


def _fits(size: tuple[float, ...], bed_mm: tuple[float, float, float]) -> bool:
    across = zip(sorted(size[:2]), sorted(bed_mm[:2]), strict=True)
    return all(a <= b for a, b in across) and size[2] <= bed_mm[2]


def _split(pot: Pot, whole: "Trimesh", n: tuple[int, int, int], clearance_mm: float) -> tuple[PieceOf, ...]:
    body = solid_of(whole)
    low, high = whole.bounds
    gaps = [[(h.x_mm - h.diameter_mm / 2 - 3, h.x_mm + h.diameter_mm / 2 + 3) for h in pot.holes],
            [(h.y_mm - h.diameter_mm / 2 - 3, h.y_mm + h.diameter_mm / 2 + 3) for h in pot.holes], []]  # fmt: skip
    planes = [_cuts(float(low[a]), float(high[a]), n[a], gaps[a]) for a in range(3)]
    edges = [[float(low[a]) - 1, *planes[a], float(high[a]) + 1] for a in range(3)]
    cells: dict[tuple[int, int, int], Any] = {}
    for i in range(n[0]):
        for j in range(n[1]):
            for k in range(n[2]):
                box = _box([edges[0][i], edges[1][j], edges[2][k]], [edges[0][i + 1], edges[1][j + 1], edges[2][k + 1]])
                part = body ^ box
                if part.volume() > 1.0:
                    cells[i, j, k] = part
    for axis in range(3):
        for at, place in enumerate(planes[axis]):
            _pin(whole, cells, axis, at, place, clearance_mm, edges)
    made = []
    for number, (key, part) in enumerate(sorted(cells.items(), key=lambda c: (c[0][2], c[0][1], c[0][0])), start=1):
        if (parts := len(part.decompose())) != 1:
            raise FieldError("bed", f"piece {number} falls into {parts} parts; take another bed size")
        made.append(PieceOf(number, *key, mesh_of(part)))
    return tuple(made)


def _pin(
    whole: Any, cells: dict[tuple[int, int, int], Any], axis: int, at: int, place: float, clearance: float,
    edges: list[list[float]],
) -> None:  # fmt: skip
    """Pegs grow from the lower piece into the upper one, where the cut shows enough material round them."""
    import manifold3d

    for key in [c for c in cells if c[axis] == at]:
        other = tuple(v + (1 if a == axis else 0) for a, v in enumerate(key))
        if other not in cells:
            continue
        spots = _spots(whole, axis, place, key, edges)
        if not spots:
            raise FieldError(
                "wall_mm", "a joint finds no wall thick enough for a peg; make the wall thicker or the bed larger"
            )
        pegs = [_peg(axis, place, spot, r, r * PEG_LENGTHS) for spot, r in spots]
        sockets = [_peg(axis, place, spot, r + clearance, r * PEG_LENGTHS + clearance, back=0.0) for spot, r in spots]
        cells[key] = manifold3d.Manifold.batch_boolean([cells[key], *pegs], manifold3d.OpType.Add)
        cells[other] = manifold3d.Manifold.batch_boolean([cells[other], *sockets], manifold3d.OpType.Subtract)


def _spots(
    whole: Any, axis: int, place: float, key: tuple[int, int, int], edges: list[list[float]]
) -> list[tuple[np.ndarray, float]]:
    """Middles of pegs in the cut (the two other axes) with their radii: the thickest places, apart from each other."""
    normal = np.eye(3)[axis]
    cut_line = whole.section(plane_origin=normal * place, plane_normal=normal)
    if cut_line is None:
        return []
    others = [a for a in range(3) if a != axis]
    shape = shapely.Polygon()
    for loop in cut_line.discrete:
        ring = shapely.Polygon(loop[:, others])
        shape = shape.symmetric_difference(ring if ring.is_valid else ring.buffer(0))
    window = shapely.box(*(edges[a][key[a]] for a in others), *(edges[a][key[a] + 1] for a in others))
    shape = shape.intersection(window)
    found: list[tuple[np.ndarray, float]] = []
    for part in getattr(shape, "geoms", [shape]):
        if part.is_empty or part.geom_type != "Polygon":
            continue
        inside = part.exterior
        step = max(3.0, float(np.sqrt(part.area)) / 24)
        x0, y0, x1, y1 = part.bounds
        grid = np.stack(np.meshgrid(np.arange(x0, x1, step / 3), np.arange(y0, y1, step / 3)), -1).reshape(-1, 2)
        points = shapely.points(grid)
        depth = np.where(shapely.contains(part, points), shapely.distance(part.boundary if inside else part, points), 0)
        for i in np.argsort(-depth, kind="stable"):
            r = min(float(depth[i]) * 2 * PEG_SHARE, MOST_PEG_MM)
            if r < LEAST_PEG_MM or len(found) >= MOST_PEGS:
                break
            if all(np.linalg.norm(grid[i] - spot) > PEG_APART * (r + other) for spot, other in found):
                found.append((grid[i], r))
    return found


def _peg(axis: int, place: float, spot: np.ndarray, radius: float, length: float, back: float = 0.6) -> "Manifold":
    """A round peg across a plane, from a little behind it."""
    import manifold3d

    peg = manifold3d.Manifold.cylinder(length + back, radius, circular_segments=PEG_SIDES, center=True)
    if axis != 2:
        peg = peg.rotate([0, 90, 0] if axis == 0 else [-90, 0, 0])
    middle = np.zeros(3)
    middle[axis] = place + (length - back) / 2
    middle[[a for a in range(3) if a != axis]] = spot
    return peg.translate(middle.tolist())
