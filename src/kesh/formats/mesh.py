"""Solids as STL (mm by custom), 3MF (mm, said in the file) and GLB (metres, y up, as its standard asks)."""

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np

if TYPE_CHECKING:
    from trimesh import Trimesh

APART_MM = 10.0


def stl(solid: "Trimesh") -> bytes:
    """Binary STL in mm."""
    return _bytes(solid, "stl")


def threemf(solids: Sequence[tuple[str, "Trimesh"]]) -> bytes:
    """3MF in mm: each solid an object of its own, standing side by side."""
    import trimesh

    scene = trimesh.Scene()
    x = 0.0
    for name, solid in solids:
        one = solid.copy()
        low = one.bounds[0]
        one.apply_translation([x - low[0], -low[1], -low[2]])
        x += float(one.extents[0]) + APART_MM
        one.units = "millimeter"
        scene.add_geometry(one, geom_name=name, node_name=name)
    scene.units = "millimeter"
    return _bytes(scene, "3mf")


def glb(solid: "Trimesh", colour: str) -> bytes:
    """GLB in metres, y up, in the pot's colour."""
    import trimesh

    one: Any = solid.copy()
    turn = np.array([[1, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1.0]])
    one.apply_transform(turn)
    one.apply_scale(0.001)
    rgba = [int(colour[i : i + 2], 16) for i in (1, 3, 5)] + [255]
    visual: Any = trimesh.visual
    material = visual.material.PBRMaterial(baseColorFactor=rgba, roughnessFactor=0.8, metallicFactor=0.0)
    one.visual = visual.TextureVisuals(material=material)
    return _bytes(one, "glb")


def _bytes(thing: Any, kind: str) -> bytes:
    return bytes(thing.export(file_type=kind))
