"""A mesh file read: its unit, whether it is closed, how many bodies it holds."""

import re
import zipfile
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np

from kesh.base.errors import FieldError, KeshError
from kesh.geometry.solid import mesh_of, solid_of

# mm in one unit of the file
UNITS = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "inch": 25.4, "foot": 304.8, "micron": 0.001}
SAID_3MF = {"micron": "micron", "millimeter": "mm", "centimeter": "cm", "inch": "inch", "foot": "foot", "meter": "m"}
MOST_BYTES, MOST_FACES = 200_000_000, 3_000_000
# a body so much smaller than the largest is a crumb
CRUMB_SHARE, MOST_BODIES = 0.002, 8
ALL_OF_IT = "all of them together, as one pot"


class MeshError(KeshError):
    """The mesh cannot be read as a pot; the sentence says why and how to go on."""


class MeshQuestionError(MeshError):
    """The mesh leaves something open that only its owner knows: which question, in words, and what may be answered."""

    def __init__(self, key: str, question: str, options: tuple[str, ...]) -> None:
        super().__init__(f"{question} Answer one of: {'; '.join(options)}")
        self.key, self.question, self.options = key, question, options

    def __reduce__(self) -> "tuple[type[MeshQuestionError], tuple[str, str, tuple[str, ...]]]":
        """What it was made from, for its way between processes."""
        return type(self), (self.key, self.question, self.options)


def unit_of(path: Path) -> str | None:
    """The unit a file says; None for STL and OBJ, which say none. A 3MF names its own, and means mm where it does not."""
    kind = path.suffix.lower()
    if kind == ".glb":
        return "m"
    if kind != ".3mf":
        return None
    try:
        with zipfile.ZipFile(path) as parcel:
            name = next(n for n in parcel.namelist() if n.lower().endswith(".model"))
            with parcel.open(name) as model:
                head = model.read(20_000)
    except (OSError, ValueError, StopIteration, RuntimeError, zipfile.BadZipFile):
        # what is wrong with it is told when it is read
        return "mm"
    found = re.search(rb"<(?:\w+:)?model\b[^>]*\bunit\s*=\s*[\"']([^\"']+)", head)
    word = found[1].decode("ascii", "replace").strip().lower() if found else "millimeter"
    return SAID_3MF.get(word, "mm")


def load(path: Path) -> Any:
    """The mesh of a file, closed and merged. Raises MeshError."""
    import trimesh

    if path.suffix.lower() not in (".stl", ".obj", ".3mf", ".glb"):
        raise MeshError(f"{path.name} is no STL, OBJ, 3MF or GLB; export it as one of them")
    try:
        size = path.stat().st_size
    except OSError as err:
        raise MeshError(f"{path.name} cannot be read: {err.strerror or err}") from err
    if size > MOST_BYTES:
        raise MeshError(f"{path.name} has {size / 1e6:.0f} MB; thin the mesh out below {MOST_BYTES / 1e6:.0f} MB")
    if path.suffix.lower() == ".3mf":
        _check_parcel(path)
    try:
        mesh: Any = trimesh.load_mesh(str(path), process=True)
        if isinstance(mesh, trimesh.Scene):
            mesh = mesh.to_geometry()
    except Exception as err:
        raise MeshError(f"{path.name} is damaged or no mesh: {type(err).__name__}; export it anew") from err
    if not hasattr(mesh, "faces") or len(mesh.faces) == 0:
        raise MeshError(f"{path.name} holds no faces; export the pot as a mesh")
    if len(mesh.faces) > MOST_FACES:
        raise MeshError(f"{path.name} has {len(mesh.faces):,} faces; thin it out below {MOST_FACES:,}")
    if not np.isfinite(mesh.vertices).all():
        raise MeshError(f"{path.name} holds points that are no numbers; export it anew")
    mesh.merge_vertices()
    if not mesh.is_watertight:
        raise MeshError(f"{path.name} is not closed; let a mesh program close its holes, then bring it in again")
    return mesh


def bodies(mesh: Any) -> list[Any]:
    """The bodies of a mesh that count, largest first; crumbs and hollows inside the clay are none."""
    parts = list(mesh.split(only_watertight=False))
    if len(parts) < 2:
        return [mesh]
    sized = sorted(
        ((abs(float(p.volume)), p) for p in parts if float(p.volume) * float(mesh.volume) > 0), key=lambda row: -row[0]
    )
    # a mesh without any volume is no body at all; what it lacks is told when it is measured
    return [p for size, p in sized if size > CRUMB_SHARE * sized[0][0]] or [mesh]


def one_body(mesh: Any, name: str, answers: Mapping[str, str], mm: float) -> Any:
    """The body that is the pot. Raises MeshQuestionError where there are several and nobody said which."""
    found = bodies(mesh)
    if len(found) == 1:
        return found[0] if len(found[0].faces) != len(mesh.faces) else mesh
    options = {
        f"body {k}, {' × '.join(f'{v * mm:.0f}' for v in one.extents)} mm": one for k, one in enumerate(found, start=1)
    }
    answer = answers.get("body")
    if answer in options:
        return options[answer]
    if answer == ALL_OF_IT:
        return _united(found, name)
    if len(options) > MOST_BODIES:
        raise MeshError(f"{name} holds {len(options)} bodies; export the pot alone, as one body")
    raise MeshQuestionError(
        "body", f"{name} holds {len(found)} bodies. Which of them is the pot?", (*options, ALL_OF_IT)
    )


def _united(found: list[Any], name: str) -> Any:
    import manifold3d

    try:
        whole = manifold3d.Manifold.batch_boolean([solid_of(p) for p in found], manifold3d.OpType.Add)
    except FieldError as err:
        raise MeshError(f"the bodies of {name} cannot be made one; join them in a mesh program") from err
    return mesh_of(whole)


def _check_parcel(path: Path) -> None:
    """A 3MF is a zip: one that would unpack to far more than it is, is refused before it is unpacked."""
    try:
        with zipfile.ZipFile(path) as parcel:
            whole = sum(part.file_size for part in parcel.infolist())
    except (zipfile.BadZipFile, OSError, ValueError, RuntimeError) as err:
        raise MeshError(f"{path.name} is damaged or no 3MF; export it anew") from err
    if whole > 2 * MOST_BYTES:
        raise MeshError(f"{path.name} unpacks to {whole / 1e6:.0f} MB; thin the mesh out")
