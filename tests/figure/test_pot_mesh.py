"""The turnable pot: what is painted last is what a slow depth buffer sees; turning half round mirrors a symmetric pot."""

import numpy as np
import pytest

from kesh.demo.lanternfield import demo_collection
from kesh.figure.pot_mesh import FEET, INSIDE, OUTSIDE, RIM, UNDER, PotMesh, pot_mesh, seen
from kesh.geometry.feet import with_feet
from kesh.model import Pot

POTS = {k: with_feet(p) for k, p in demo_collection().pots.items()}
SIZE = 90


def covered(points: np.ndarray) -> np.ndarray:
    """Pixels of a small picture inside a convex face, by its edges."""
    y, x = np.mgrid[0:SIZE, 0:SIZE] + 0.5
    inside = np.ones((SIZE, SIZE), bool)
    side = 0.0
    for a, b in zip(points, np.roll(points, -1, axis=0), strict=True):
        cross = (b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])
        if np.hypot(*(b - a)) < 1e-9:
            continue
        if side == 0.0:
            area = np.sum(points[:, 0] * np.roll(points[:, 1], -1) - np.roll(points[:, 0], -1) * points[:, 1])
            side = np.sign(area) or 1.0
        inside &= side * cross >= 0
    return inside


def painted(mesh: PotMesh, yaw: float, pitch: float, scale: float) -> np.ndarray:
    """The part on top of each pixel when faces are painted in turn; -1 where none is."""
    view = seen(mesh, yaw, pitch, scale)
    picture = np.full((SIZE, SIZE), -1)
    for points, part in zip(view.points + SIZE / 2, view.part, strict=True):
        picture[covered(points)] = part
    return picture


def buffered(mesh: PotMesh, yaw: float, pitch: float, scale: float) -> np.ndarray:
    """The part nearest to the eye in each pixel, with every face and its plane's depth: slow and sure."""
    a, e = np.radians(yaw), np.radians(pitch)
    turn = np.array([[np.cos(a), -np.sin(a), 0], [np.sin(a), np.cos(a), 0], [0, 0, 1]])
    lift = np.array([[1, 0, 0], [0, np.cos(e), -np.sin(e)], [0, np.sin(e), np.cos(e)]])
    faces = mesh.faces @ (lift @ turn).T
    picture, depth = np.full((SIZE, SIZE), -1), np.full((SIZE, SIZE), np.inf)
    y, x = np.mgrid[0:SIZE, 0:SIZE] + 0.5
    for face, part in zip(faces, mesh.part, strict=True):
        flat = np.column_stack([face[:, 0], -face[:, 2]]) * scale + SIZE / 2
        normal = np.cross(face[2] - face[0], face[3] - face[1])
        if abs(normal[1]) < 1e-9 * np.linalg.norm(normal) or np.linalg.norm(normal) < 1e-9:
            continue
        inside = covered(flat)
        px, pz = (x - SIZE / 2) / scale, -(y - SIZE / 2) / scale
        far = face[0, 1] - (normal[0] * (px - face[0, 0]) + normal[2] * (pz - face[0, 2])) / normal[1]
        near = inside & (far < depth - 1e-6)
        picture[near], depth[near] = part, far[near]
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
