"""A pot as a few thousand four-sided faces to be turned and shaded: outside, rim, inside, floor, feet, holes; mm, z up."""

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from kesh.figure.eye import lit, view_matrix
from kesh.geometry.columns import columns
from kesh.geometry.feet import foot_slices
from kesh.geometry.outline import outline_points
from kesh.geometry.profile import inset_mm
from kesh.geometry.relief import outer_inset_mm, relief_shares
from kesh.geometry.solid import polar_ring
from kesh.model.pot import Pot

Floats = NDArray[np.float64]
ANGLES, LEVELS, FLOOR_RINGS = 120, 12, 4
# in the order in which they are painted seen from above: nothing later is hidden by what came before
FEET, FLOOR, HOLE, INSIDE, RIM, OUTSIDE, UNDER = range(7)


@dataclass(frozen=True, eq=False)
class PotMesh:
    """Faces (n, 4, 3), outward normals (n, 3), which part each belongs to (n,)."""

    faces: Floats
    normals: Floats
    part: NDArray[np.int8]


def _ring(pot: Pot, offset: float, z: float, angles: Floats) -> Floats:
    points = outline_points(pot.outline, pot.length_mm, pot.width_mm, offset, 240)
    flat = polar_ring(points, angles)
    if flat is None:
        # not star-shaped: as many points along the line instead of by angle
        at = np.linspace(0, len(points), len(angles), endpoint=False).astype(int)
        flat = points[at]
    return np.column_stack([flat, np.full(len(flat), z)])


def _between(a: Floats, b: Floats) -> Floats:
    """Faces between two rings, (m, 4, 3)."""
    return np.stack([a, np.roll(a, -1, axis=0), np.roll(b, -1, axis=0), b], axis=1)


def _normals(faces: Floats) -> Floats:
    n = np.cross(faces[:, 2] - faces[:, 0], faces[:, 3] - faces[:, 1])
    return np.asarray(n / np.maximum(np.linalg.norm(n, axis=1), 1e-12)[:, None])


@lru_cache(maxsize=32)
def pot_mesh(pot: Pot, angles: int = ANGLES, *, soles: bool = True) -> PotMesh:
    """The mesh of a pot; without soles the feet are open below, unseen from above. Raises FieldError for a shape that cannot be."""
    turn = np.linspace(0, 2 * np.pi, angles, endpoint=False)
    cols = columns([pot])
    count = 3 if pot.profile.kind in ("straight", "tube", "slab") else LEVELS
    u = np.unique(np.concatenate([np.linspace(0, 1, count), cols.kinks[0]]))
    low = pot.feet_mm
    seen_u = np.unique(np.concatenate([u, relief_shares(pot)]))
    rings = [
        _ring(pot, float(q), low + float(h) * pot.body_height_mm, turn)
        for h, q in zip(seen_u, outer_inset_mm(pot, seen_u), strict=True)
    ]
    found: list[tuple[int, Floats]] = [(OUTSIDE, np.concatenate([_between(a, b) for a, b in pairwise(rings)]))]
    base, top = rings[0], rings[-1]
    found.append((UNDER, _fan(base, up=False)))
    if pot.profile.kind == "slab":
        found.append((RIM, _fan(top, up=True)))
    else:
        floor = low + pot.floor_mm
        share = pot.floor_mm / pot.body_height_mm
        levels = np.concatenate([[share], u[u > share + 1e-9]])
        inner = [
            _ring(
                pot,
                float(inset_mm(cols, np.array([[h]]))[0, 0]) + pot.wall_mm,
                low + float(h) * pot.body_height_mm,
                turn,
            )
            for h in levels
        ]
        inner[0][:, 2] = floor
        found.append((RIM, _between(top, inner[-1])))
        found.append((INSIDE, np.concatenate([_between(b, a) for a, b in pairwise(inner)])))
        found.append((FLOOR, _fan(inner[0], up=True)))
        found += [(HOLE, _disc(h.x_mm, h.y_mm, h.diameter_mm / 2, floor + 0.3)) for h in pot.holes]
    for plan, z0, z1 in foot_slices(pot):
        ring = np.asarray(shapely.geometry.polygon.orient(plan).exterior.coords)[:-1]
        ring = ring[:: max(1, len(ring) // 24)]
        lower, upper = (np.column_stack([ring, np.full(len(ring), z)]) for z in (z0, z1))
        found.append((FEET, _between(lower, upper)))
        if z0 == 0.0 and soles:
            found.append((FEET, _sole(shapely.Polygon(ring))))
    faces = np.concatenate([f for _, f in found])
    part = np.concatenate([np.full(len(f), k, np.int8) for k, f in found])
    return PotMesh(faces, _normals(faces), part)


def _fan(ring: Floats, *, up: bool) -> Floats:
    """A flat disc as rings of faces toward its middle."""
    middle = ring.mean(axis=0)
    steps = [middle + (ring - middle) * s for s in np.linspace(1, 0.02, FLOOR_RINGS + 1)]
    parts = [_between(a, b) if up else _between(b, a) for a, b in pairwise(steps)]
    parts.append(
        _between(steps[-1], np.tile(middle, (len(ring), 1)))
        if up
        else _between(np.tile(middle, (len(ring), 1)), steps[-1])
    )
    return np.concatenate(parts)


def _sole(plan: shapely.Polygon) -> Floats:
    """The underside of a foot as triangles that look down, each a face with one corner twice."""
    made = []
    for part in shapely.constrained_delaunay_triangles(plan).geoms:
        corners = np.asarray(shapely.geometry.polygon.orient(part, -1.0).exterior.coords)[:3]
        flat = np.column_stack([corners, np.zeros(3)])
        made.append(flat[[0, 1, 2, 2]])
    return np.array(made)


def _disc(x: float, y: float, r: float, z: float) -> Floats:
    s = np.linspace(0, 2 * np.pi, 24, endpoint=False)
    ring = np.column_stack([x + r * np.cos(s), y + r * np.sin(s), np.full(24, z)])
    return _between(ring, np.tile([[x, y, z]], (24, 1)))


@dataclass(frozen=True, eq=False)
class Seen:
    """Faces that face the eye, far before near within each part: px right and down (k, 4, 2), light (k,), part (k,)."""

    points: Floats
    light: Floats
    shine: Floats
    part: NDArray[np.int8]


def seen(mesh: PotMesh, yaw_deg: float, pitch_deg: float, scale: float) -> Seen:
    """The mesh from a direction: yaw turns it about its axis, pitch lifts the eye (0 level, 90 from above); parallel view."""
    view = view_matrix(yaw_deg, pitch_deg)
    normals = mesh.normals @ view.T
    order = [FEET, FLOOR, HOLE, INSIDE, RIM, OUTSIDE] if pitch_deg >= 0 else [INSIDE, RIM, OUTSIDE, UNDER, FEET]
    rank = np.full(7, -1)
    rank[order] = np.arange(len(order))
    front = (normals[:, 1] < -1e-6) & (rank[mesh.part] >= 0)
    faces = mesh.faces[front] @ view.T
    part = mesh.part[front]
    depth = faces[:, :, 1].mean(axis=1)
    place = np.lexsort((-depth, rank[part]))
    faces, part = faces[place], part[place]
    n = normals[front][place]
    light = lit(n)
    # a glazed wall stands upright however it is looked at: its streak lies where wall, eye and a window at the left meet
    e = np.radians(pitch_deg)
    half_way = np.array([-1.1, -np.cos(e), -np.sin(e)])
    half_way /= np.linalg.norm(half_way)
    shine = np.maximum(n @ half_way, 0) ** 24
    points = np.stack([faces[:, :, 0], -faces[:, :, 2]], axis=-1) * scale
    return Seen(points, light, shine, part)
