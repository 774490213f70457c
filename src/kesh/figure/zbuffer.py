"""Closed bodies as a picture: which face is nearest in each pixel, shaded, with ink where one body or one face ends."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kesh.figure.eye import lit

Floats = NDArray[np.float64]
# neighbouring pixels whose faces turn by more than this cosine, or lie so much deeper (mm), are parted by a line of ink
CREASE, STEP_MM = 0.80, 6.0
INK_SHARE = 0.42


@dataclass(frozen=True, eq=False)
class Body:
    """A closed body to be painted: its triangles (n, 3, 3) in mm, their normals (n, 3), its colour (3,) in 0 to 255."""

    triangles: Floats
    normals: Floats
    rgb: Floats


@dataclass(frozen=True, eq=False)
class Picture:
    """What was painted: (high, wide, 4) red, green, blue, alpha premultiplied, and which body is seen where, -1 for none."""

    rgba: NDArray[np.uint8]
    body: NDArray[np.int32]


def nearest(points: Floats, depth: Floats, wide: int, high: int) -> tuple[NDArray[np.int32], Floats]:
    """(face, depth) of each pixel, -1 and inf where none is: triangles (n, 3, 2) in px, depth (n, 3), smaller is nearer.

    Every row of every triangle is a span between two edges; all spans are filled at once.
    """
    face = np.full(high * wide, -1, np.int32)
    deep = np.full(high * wide, np.inf)
    y = points[:, :, 1]
    first = np.clip(np.ceil(y.min(axis=1) - 0.5), 0, high).astype(int)
    last = np.clip(np.ceil(y.max(axis=1) - 0.5), 0, high).astype(int)
    rows = np.maximum(last - first, 0)
    which = np.repeat(np.arange(len(points)), rows)
    if not len(which):
        return face.reshape(high, wide), deep.reshape(high, wide)
    row = np.arange(len(which)) - np.repeat(np.cumsum(rows) - rows, rows) + first[which]
    level = row + 0.5
    low, top = np.full(len(which), np.inf), np.full(len(which), -np.inf)
    for k in range(3):
        a, b = points[which, k], points[which, (k + 1) % 3]
        crosses = (a[:, 1] <= level) != (b[:, 1] <= level)
        rise = np.where(crosses, b[:, 1] - a[:, 1], 1.0)
        x = a[:, 0] + (b[:, 0] - a[:, 0]) * (level - a[:, 1]) / rise
        low, top = np.where(crosses, np.minimum(low, x), low), np.where(crosses, np.maximum(top, x), top)
    good = np.isfinite(low) & np.isfinite(top)
    left = np.clip(np.ceil(np.where(good, low, 0) - 0.5), 0, wide).astype(int)
    right = np.clip(np.ceil(np.where(good, top, 0) - 0.5), 0, wide).astype(int)
    count = np.where(good, np.maximum(right - left, 0), 0)
    span = np.repeat(np.arange(len(which)), count)
    column = np.arange(len(span)) - np.repeat(np.cumsum(count) - count, count) + left[span]
    tri = which[span]
    # depth is a plane over the triangle
    p, d = points, depth
    ux, uy, vx, vy = p[:, 1, 0] - p[:, 0, 0], p[:, 1, 1] - p[:, 0, 1], p[:, 2, 0] - p[:, 0, 0], p[:, 2, 1] - p[:, 0, 1]
    area = ux * vy - uy * vx
    area = np.where(np.abs(area) < 1e-12, 1e-12, area)
    du, dv = d[:, 1] - d[:, 0], d[:, 2] - d[:, 0]
    gx, gy = (du * vy - dv * uy) / area, (dv * ux - du * vx) / area
    z = d[tri, 0] + gx[tri] * (column + 0.5 - p[tri, 0, 0]) + gy[tri] * (level[span] - p[tri, 0, 1])
    pixel = row[span] * wide + column
    np.minimum.at(deep, pixel, z)
    front = z <= deep[pixel]
    face[pixel[front]] = tri[front]
    return face.reshape(high, wide), deep.reshape(high, wide)


def picture(
    bodies: list[Body], shifts: list[Floats], view: Floats, scale: float, middle: tuple[float, float], wide: int, high: int, over: int = 2, dim: float = 1.0
) -> Picture:  # fmt: skip
    """Bodies, each moved by its shift (3,) in mm, seen with the origin at `middle` px; painted `over` times as large."""
    import cv2

    w, h = wide * over, high * over
    faces, normals, colours, owner = [], [], [], []
    for k, (one, shift) in enumerate(zip(bodies, shifts, strict=True)):
        turned = one.normals @ view.T
        seen = turned[:, 1] < -1e-6
        faces.append((one.triangles[seen] + shift) @ view.T)
        normals.append(turned[seen])
        colours.append(np.broadcast_to(one.rgb, (int(seen.sum()), 3)))
        owner.append(np.full(int(seen.sum()), k, np.int32))
    tri, norm, rgb, own = np.concatenate(faces), np.concatenate(normals), np.concatenate(colours), np.concatenate(owner)
    points = np.stack([tri[:, :, 0] * scale + middle[0], middle[1] - tri[:, :, 2] * scale], axis=-1) * over
    face, deep = nearest(points, tri[:, :, 1], w, h)
    shade = np.clip(rgb * lit(norm)[:, None] * dim, 0, 255)
    there = face >= 0
    canvas = np.zeros((h, w, 4), np.float32)
    canvas[there, :3], canvas[there, 3] = shade[face[there]], 255.0
    canvas[_ink(face, deep, own, norm, scale * over), :3] *= INK_SHARE
    body = np.where(there, own[np.maximum(face, 0)], -1).astype(np.int32)[over // 2 :: over, over // 2 :: over]
    return Picture(cv2.resize(canvas, (wide, high), interpolation=cv2.INTER_AREA).astype(np.uint8), body)


def _ink(
    face: NDArray[np.int32], deep: Floats, own: NDArray[np.int32], norm: Floats, scale: float
) -> NDArray[np.bool_]:
    """Pixels at the edge of a body or of a face."""
    lines = np.zeros(face.shape, bool)
    for axis in (0, 1):
        a = face[:-1] if axis == 0 else face[:, :-1]
        b = face[1:] if axis == 0 else face[:, 1:]
        za, zb = (deep[:-1], deep[1:]) if axis == 0 else (deep[:, :-1], deep[:, 1:])
        one, other = np.maximum(a, 0), np.maximum(b, 0)
        apart = (a < 0) != (b < 0)
        both = (a >= 0) & (b >= 0)
        bent = np.einsum("ijk,ijk->ij", norm[one], norm[other]) < CREASE
        with np.errstate(invalid="ignore"):
            jump = np.abs(za - zb) > STEP_MM + 3.0 / scale
        edge = apart | (both & ((own[one] != own[other]) | bent | jump))
        if axis == 0:
            lines[:-1] |= edge
        else:
            lines[:, :-1] |= edge
    return lines & (face >= 0)
