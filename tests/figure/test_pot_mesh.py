"""The turnable pot: what is painted last is what a slow depth buffer sees; turning half round mirrors a symmetric pot."""

import numpy as np
import pytest

from kesh.demo.lanternfield import demo_collection
from kesh.figure.pot_mesh import FEET, INSIDE, OUTSIDE, RIM, UNDER, PotMesh, pot_mesh, seen
from kesh.geometry.feet import with_feet
from kesh.model import Pot

POTS = {k: with_feet(p) for k, p in demo_collection().pots.items()}
SIZE = 90
PIXELS = np.arange(SIZE) + 0.5


Box = tuple[slice, slice]


def covered(points: np.ndarray) -> tuple[Box, np.ndarray, np.ndarray, np.ndarray]:
    """The box of a convex face in a small picture, its pixels (x, y), and which of them lie inside, by the face's edges."""
    left, top = (min(max(int(v), 0), SIZE) for v in np.floor(points.min(axis=0)))
    right, bottom = (min(max(int(v), 0), SIZE) for v in np.ceil(points.max(axis=0)))
    y, x = PIXELS[top:bottom, None], PIXELS[None, left:right]
    px, py = points.T[:, :, None, None]
    dx, dy = points.T[:, [*range(1, len(points)), 0], None, None] - points.T[:, :, None, None]
    area = float(np.sum(px * dy - dx * py))
    # an edge without length has every pixel on its line
    inside = ((1.0 if area >= 0 else -1.0) * (dx * (y - py) - dy * (x - px)) >= 0).all(axis=0)
    return (slice(top, bottom), slice(left, right)), x, y, inside


def painted(mesh: PotMesh, yaw: float, pitch: float, scale: float) -> np.ndarray:
    """The part on top of each pixel when faces are painted in turn; -1 where none is."""
    view = seen(mesh, yaw, pitch, scale)
    picture = np.full((SIZE, SIZE), -1)
    for points, part in zip(view.points + SIZE / 2, view.part, strict=True):
        box, _, _, inside = covered(points)
        picture[box][inside] = part
    return picture


def buffered(mesh: PotMesh, yaw: float, pitch: float, scale: float) -> np.ndarray:
    """The part nearest to the eye in each pixel, with every face and its plane's depth: slow and sure."""
    a, e = np.radians(yaw), np.radians(pitch)
    turn = np.array([[np.cos(a), -np.sin(a), 0], [np.sin(a), np.cos(a), 0], [0, 0, 1]])
    lift = np.array([[1, 0, 0], [0, np.cos(e), -np.sin(e)], [0, np.sin(e), np.cos(e)]])
    faces = mesh.faces @ (lift @ turn).T
    picture, depth = np.full((SIZE, SIZE), -1), np.full((SIZE, SIZE), np.inf)
    for face, part in zip(faces, mesh.part, strict=True):
        flat = np.column_stack([face[:, 0], -face[:, 2]]) * scale + SIZE / 2
        normal = np.cross(face[2] - face[0], face[3] - face[1])
        if abs(normal[1]) < 1e-9 * np.linalg.norm(normal) or np.linalg.norm(normal) < 1e-9:
            continue
        box, x, y, inside = covered(flat)
        px, pz = (x - SIZE / 2) / scale, -(y - SIZE / 2) / scale
        far = face[0, 1] - (normal[0] * (px - face[0, 0]) + normal[2] * (pz - face[0, 2])) / normal[1]
        near = inside & (far < depth[box] - 1e-6)
        picture[box][near], depth[box][near] = part, far[near]
    return picture


@pytest.mark.parametrize(
    "key", ["ferry-tray", "celandine-round", "chalk-oval", "lantern-hex", "rope-tower", "honey-crock"]
)
@pytest.mark.parametrize(("yaw", "pitch"), [(-27, 27), (40, 62), (10, 8), (75, -30)])
def test_what_is_painted_last_is_what_lies_nearest(key: str, yaw: float, pitch: float) -> None:
    pot = POTS[key]
    mesh = pot_mesh(pot, 36)
    scale = 0.8 * SIZE / np.hypot(np.hypot(pot.length_mm, pot.width_mm), pot.height_mm)
    one, other = painted(mesh, yaw, pitch, scale), buffered(mesh, yaw, pitch, scale)
    assert ((one >= 0) == (other >= 0)).mean() > 0.995
    both = (one >= 0) & (other >= 0)
    assert both.sum() > 400
    # pixels on an edge between two faces may go either way
    assert (one == other)[both].mean() > 0.965


@pytest.mark.parametrize("key", ["ferry-tray", "chalk-oval", "rope-tower"])
def test_half_a_turn_gives_the_same_outline(key: str) -> None:
    mesh = pot_mesh(POTS[key], 48)
    there, back = (painted(mesh, yaw, 30, 0.2) >= 0 for yaw in (25, 205))
    assert (there == back).mean() > 0.99


def test_what_shows_depends_on_where_the_eye_is() -> None:
    mesh = pot_mesh(POTS["ferry-tray"])
    above, below = (set(seen(mesh, 20, pitch, 1.0).part.tolist()) for pitch in (40, -40))
    assert {INSIDE, RIM, OUTSIDE} <= above
    assert UNDER not in above
    assert {UNDER, FEET, OUTSIDE} <= below
    assert RIM not in below


@pytest.mark.parametrize("key", ["celandine-round", "honey-crock", "tide-slab"])
def test_the_mesh_is_as_large_as_the_pot(key: str) -> None:
    pot: Pot = POTS[key]
    faces = pot_mesh(pot).faces.reshape(-1, 3)
    assert faces[:, 2].min() == pytest.approx(0, abs=0.01)
    assert faces[:, 2].max() == pytest.approx(pot.height_mm, abs=0.01)
    rim = faces[faces[:, 2] > pot.height_mm - 0.01]
    if pot.outline.kind == "round":
        assert np.ptp(rim[:, 0]) == pytest.approx(pot.length_mm, rel=0.002)
