"""A pot as a closed solid: outer wall up, rim, inner wall down, floor, feet joined, holes drilled (docs/methods.md, "volume to any height").

trimesh and manifold3d are loaded when a solid is first built. mm, x to the viewer's right, y to the back, z up from the
bench.
"""

from functools import lru_cache
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
import shapely

from kesh.base.errors import FieldError
from kesh.geometry.columns import columns
from kesh.geometry.feet import foot_slices
from kesh.geometry.outline import Floats, outline_points
from kesh.geometry.profile import inset_mm
from kesh.geometry.relief import check_bands, relief_mm, relief_shares
from kesh.geometry.sound import check_outline
from kesh.model.pot import Hole, Pot

if TYPE_CHECKING:
    from manifold3d import Manifold
    from trimesh import Trimesh

ANGLES, LEVELS, CORNER_LEVELS, HOLE_SIDES = 360, 32, 12, 72


def check_shape(pot: Pot) -> None:
    """Raises FieldError naming the field when a pot cannot be made: walls that meet, a hole off the floor, bands in one another."""
    check_outline(pot.outline, pot.length_mm, pot.width_mm)
    check_bands(pot)
    if pot.profile.kind == "slab":
        return
    cols = columns([pot])
    u = np.linspace(pot.floor_mm / pot.body_height_mm, 1, 24)[None, :]
    most = float(inset_mm(cols, u).max()) + pot.wall_mm
    outline_points(pot.outline, pot.length_mm, pot.width_mm, most)
    floor = shapely.Polygon(
        outline_points(
            pot.outline, pot.length_mm, pot.width_mm, float(inset_mm(cols, u[:, :1])[0, 0]) + pot.wall_mm, 240
        )
    )
    drilled = shapely.buffer([shapely.Point(h.x_mm, h.y_mm) for h in pot.holes], [h.diameter_mm / 2 for h in pot.holes])
    shapely.prepare(floor)
    for hole, inside in zip(pot.holes, shapely.contains(floor, drilled), strict=True):
        if not inside:
            raise FieldError(
                "holes",
                f"the hole of {hole.diameter_mm:g} mm at {hole.x_mm:g}, {hole.y_mm:g} does not lie inside the floor",
            )
    for i, one in enumerate(pot.holes):
        for other in pot.holes[:i]:
            if np.hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm) < (one.diameter_mm + other.diameter_mm) / 2 + 1:
                raise FieldError("holes", f"two holes run into each other at {one.x_mm:g}, {one.y_mm:g}")


def polar_ring(ring: Floats, angles: Floats) -> Floats | None:
    """Where rays from the middle at angles meet a ring; None when the ring is not star-shaped about the middle."""
    turn = np.unwrap(np.arctan2(ring[:, 1], ring[:, 0]))
    steps = np.diff(np.append(turn, turn[0] + 2 * np.pi))
    if (steps < -1e-9).any() or abs(turn[-1] - turn[0]) > 2 * np.pi + 1e-6:
        return None
    shift = np.mod(angles - turn[0], 2 * np.pi) + turn[0]
    closed = np.append(turn, turn[0] + 2 * np.pi)
    points = np.vstack([ring, ring[:1]])
    at = np.clip(np.searchsorted(closed, shift, side="right") - 1, 0, len(ring) - 1)
    a, b = points[at], points[at + 1]
    ray = np.column_stack([np.cos(angles), np.sin(angles)])
    edge = b - a
    cross = ray[:, 0] * edge[:, 1] - ray[:, 1] * edge[:, 0]
    far = np.where(
        np.abs(cross) > 1e-12,
        (a[:, 0] * edge[:, 1] - a[:, 1] * edge[:, 0]) / np.where(cross == 0, 1, cross),
        np.linalg.norm(a, axis=1),
    )
    return np.asarray(ray * far[:, None])


def _sharp_turns(ring: Floats) -> Floats:
    """Polar angles of a ring's corners, so that a mesh of rays keeps them."""
    before, after = ring - np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0) - ring
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    bend = np.abs(np.arctan2(cross, (before * after).sum(axis=1)))
    corners = ring[bend > 0.15]
    return np.asarray(np.mod(np.arctan2(corners[:, 1], corners[:, 0]), 2 * np.pi))


def _levels(pot: Pot) -> tuple[Floats, Floats]:
    """(heights above the floor's underside, offsets of the wall there without its bands), upward."""
    cols = columns([pot])
    kinks = [float(k) for k in cols.kinks[0] if 0 < k < 1]
    straight = pot.profile.kind in ("straight", "tube", "slab")
    # corners stand at another angle on every ring of a tapered wall: between two rings of rays they would be cut off
    cornered = pot.outline.kind in ("rectangle", "polygon", "lobed", "free") and pot.profile.base_inset_mm != 0
    count = LEVELS if not straight else CORNER_LEVELS if cornered else 2
    u = np.unique(np.concatenate([np.linspace(0, 1, count), kinks, relief_shares(pot)]))
    return u * pot.body_height_mm, inset_mm(cols, u[None, :])[0]


def _star_body(pot: Pot) -> "Manifold | None":
    """The body without feet and holes; None for an outline that is not star-shaped."""
    import manifold3d

    heights, insets = _levels(pot)
    slab = pot.profile.kind == "slab"
    rings = [(z, q) for z, q in zip(heights, insets - relief_mm(pot, heights), strict=True)]
    if not slab:
        inner = [(z, q + pot.wall_mm) for z, q in zip(heights, insets, strict=True) if z > pot.floor_mm + 1e-9]
        at_floor = float(np.interp(pot.floor_mm, heights, insets))
        if pot.profile.kind not in ("straight", "tube", "table"):
            at_floor = float(inset_mm(columns([pot]), np.array([[pot.floor_mm / pot.body_height_mm]]))[0, 0])
        rings += [*inner[::-1], (pot.floor_mm, at_floor + pot.wall_mm)]
    outlines = [outline_points(pot.outline, pot.length_mm, pot.width_mm, q, ANGLES) for _, q in rings]
    angles = np.linspace(0, 2 * np.pi, ANGLES, endpoint=False)
    corners = np.concatenate([_sharp_turns(o) for o in outlines])
    angles = np.unique(np.round(np.concatenate([angles, corners]), 6))
    layers = []
    for (z, _), outline in zip(rings, outlines, strict=True):
        polar = polar_ring(outline, angles)
        if polar is None:
            return None
        layers.append(np.column_stack([polar, np.full(len(polar), z + pot.feet_mm)]))
    n, m = len(layers), len(angles)
    vertices = np.vstack([*layers, [[0, 0, pot.feet_mm]], [[0, 0, layers[-1][0, 2]]]])
    k = np.arange(m)
    nxt = (k + 1) % m
    faces = []
    for i in range(n - 1):
        a, b = i * m, (i + 1) * m
        faces += [np.column_stack([a + k, a + nxt, b + nxt]), np.column_stack([a + k, b + nxt, b + k])]
    faces.append(np.column_stack([np.full(m, n * m), nxt, k]))
    faces.append(np.column_stack([np.full(m, n * m + 1), (n - 1) * m + k, (n - 1) * m + nxt]))
    # the floor of a cone runs to a point: vertices that fall together are one
    whole, same = np.unique(np.round(vertices, 7), axis=0, return_inverse=True)
    corners_of = same.reshape(-1)[np.vstack(faces)]
    real = (corners_of != np.roll(corners_of, 1, axis=1)).all(axis=1)
    return manifold3d.Manifold(manifold3d.Mesh64(whole, corners_of[real].astype(np.uint64)))


def _slab_body(pot: Pot) -> "Manifold":
    """The body of an outline that is not star-shaped, as a stack of prisms less a stack of prisms."""
    import manifold3d

    heights, insets = _levels(pot)
    if len(heights) < LEVELS and float(np.ptp(insets)) > 0.01:
        fine = np.union1d(np.linspace(0, pot.body_height_mm, LEVELS), heights)
        heights, insets = fine, np.interp(fine, heights, insets)

    def stack(low: float, more: float, lift: float, *, outside: bool = False) -> "Manifold":
        prisms = []
        edges = np.unique(np.concatenate([[low], heights[heights > low + 1e-9]]))
        for a, b in pairwise(edges):
            middle = (a + b) / 2
            q = float(np.interp(middle, heights, insets)) + more
            if outside:
                q -= float(relief_mm(pot, np.array([middle]))[0])
            ring = shapely.Polygon(outline_points(pot.outline, pot.length_mm, pot.width_mm, q, ANGLES))
            top = lift if b == edges[-1] else 0.0
            prisms.append(prism(ring, pot.feet_mm + a, pot.feet_mm + b + top))
        return manifold3d.Manifold.batch_boolean(prisms, manifold3d.OpType.Add)

    outer = stack(0.0, 0.0, 0.0, outside=True)
    return outer if pot.profile.kind == "slab" else outer - stack(pot.floor_mm, pot.wall_mm, 1.0)


def prism(plan: shapely.Polygon, low_mm: float, high_mm: float) -> "Manifold":
    """A plan polygon, holes included, as a solid between two heights."""
    import manifold3d

    rings = [np.asarray(r.coords)[:-1] for r in (plan.exterior, *plan.interiors)]
    section = manifold3d.CrossSection(rings, manifold3d.FillRule.EvenOdd)
    return manifold3d.Manifold.extrude(section, high_mm - low_mm).translate([0, 0, low_mm])


def drill(hole: Hole, low_mm: float, high_mm: float) -> "Manifold":
    """A round hole as a prism whose area is that of the circle."""
    s = np.linspace(0, 2 * np.pi, HOLE_SIDES, endpoint=False)
    r = hole.diameter_mm / 2 * np.sqrt(2 * np.pi / (HOLE_SIDES * np.sin(2 * np.pi / HOLE_SIDES)))
    ring = np.column_stack([hole.x_mm + r * np.cos(s), hole.y_mm + r * np.sin(s)])
    return prism(shapely.Polygon(ring), low_mm, high_mm)


@lru_cache(maxsize=32)
def solid(pot: Pot) -> "Trimesh":
    """The pot as a watertight solid in mm, standing on z = 0. Not to be changed in place.

    Raises FieldError naming the field for a shape that cannot be made, or a solid that did not close.
    """
    import manifold3d

    check_shape(pot)
    body = _star_body(pot)
    if body is None:
        body = _slab_body(pot)
    feet = [
        prism(plan, low, high + (1.0 if high >= pot.feet_mm - 1e-9 else 0.0)) for plan, low, high in foot_slices(pot)
    ]
    top = pot.height_mm if pot.profile.kind == "slab" else pot.feet_mm + pot.floor_mm
    drills = [drill(hole, -1.0, top + 1.0) for hole in pot.holes]
    body = manifold3d.Manifold.batch_boolean([body, *feet], manifold3d.OpType.Add)
    whole = mesh_of(manifold3d.Manifold.batch_boolean([body, *drills], manifold3d.OpType.Subtract))
    if not len(whole.faces) or not whole.is_watertight or whole.volume <= 0:
        raise FieldError("profile", "the pot does not close to one solid; make walls or taper less extreme")
    return whole


def mesh_of(body: "Manifold") -> "Trimesh":
    """A solid as a mesh."""
    import trimesh

    made = body.to_mesh64()
    # copies: what is kept must not hold on to the library's own memory
    return trimesh.Trimesh(np.array(made.vert_properties), np.array(made.tri_verts, np.int64), process=False)


def solid_of(mesh: "Trimesh") -> "Manifold":
    """A closed mesh as a solid. Raises FieldError for a mesh that is none."""
    import manifold3d

    points, corners = np.asarray(mesh.vertices, np.float64), np.asarray(mesh.faces, np.uint64)
    body = manifold3d.Manifold(manifold3d.Mesh64(points, corners))
    if body.status() != manifold3d.Error.NoError:
        raise FieldError("profile", "the pot does not close to one solid; make walls or taper less extreme")
    return body
