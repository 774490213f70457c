"""A closed mesh measured as a pot: mouth, inside, depth, outline, wall and holes, so that it goes on the shelf."""

import contextlib
from collections.abc import Mapping
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
import shapely
from pydantic import ValidationError

from kesh.base.errors import FieldError, plain_reason
from kesh.formats.mesh_in.load import UNITS, MeshError, MeshQuestionError, load, one_body, unit_of
from kesh.formats.mesh_in.outline import outline_of, own_size
from kesh.geometry.columns import columns
from kesh.geometry.solid import solid_of
from kesh.geometry.volume import body as inside_volume
from kesh.model import Hole, Outline, Pot, Profile

LEVELS, ROWS = 96, 14
# shares of the hollow from one cut to the next: above the first nothing ends there, below the second a floor does
SURELY_SAME, SURELY_FLOOR, EDGE_HALVINGS = 0.93, 0.75, 16
LEAST_MM, MOST_MM = 15.0, 3000.0
# a hollow that is still so much of the lowest cut runs through; what a mesh floor is reckoned as; litres that disagree
THROUGH_SHARE, THROUGH_MM, MESH_FLOOR_MM, MESH_SHARE, VOLUME_APART = 0.25, 0.05, 2.0, 0.9, 0.03
WITH_MESH, NO_POT = "a pipe, to be closed with a floor of mesh", "no pot"


class _Body:
    """A mesh that is cut level many times over. A mesh that is no manifold is cut face by face, which is ten times slower."""

    def __init__(self, mesh: Any) -> None:
        self.mesh, self.extents = mesh, mesh.extents
        if mesh.volume < 0:
            # faces that look inward: a solid's cut would be empty
            mesh.invert()
        self.solid: Any = None
        with contextlib.suppress(FieldError):
            self.solid = solid_of(mesh)

    def move(self, shift: tuple[float, float]) -> None:
        """Bring the pot's own middle to where the box's was."""
        self.mesh.apply_translation([*shift, 0.0])
        if self.solid is not None:
            self.solid = self.solid.translate([*shift, 0.0])

    def loops(self, z: float) -> list[Any]:
        if self.solid is not None:
            return [np.vstack([loop, loop[:1]]) for loop in self.solid.slice(z).to_polygons()]
        cut = self.mesh.section(plane_origin=[0, 0, z], plane_normal=[0, 0, 1])
        return [] if cut is None else list(cut.discrete)


def _section(body: _Body, z: float) -> list[shapely.Polygon]:
    """The cut at a height as polygons with holes, in x and y."""
    shape = shapely.Polygon()
    for loop in body.loops(z):
        if len(loop) >= 4:
            ring = shapely.Polygon(loop[:, :2]).buffer(0)
            shape = shape.symmetric_difference(ring)
    return [p for p in getattr(shape, "geoms", [shape]) if p.geom_type == "Polygon" and p.area > 0.5]


def _cavity(parts: list[shapely.Polygon]) -> shapely.Polygon | None:
    """The largest hollow inside a cut."""
    hollows = [shapely.Polygon(r) for p in parts for r in p.interiors]
    return max(hollows, key=lambda p: p.area, default=None)


def _outer(parts: list[shapely.Polygon]) -> shapely.Polygon:
    return shapely.Polygon(max(parts, key=lambda p: shapely.Polygon(p.exterior).area).exterior)


def _sides(shape: shapely.Polygon) -> tuple[float, float]:
    x0, y0, x1, y1 = shape.bounds
    return x1 - x0, y1 - y0


def pot_of_mesh(path: Path, unit: str, key: str, answers: Mapping[str, str] | None = None) -> tuple[Pot, str]:
    """(pot, what was measured). Raises MeshError with one sentence for a mesh that is no pot.

    Raises MeshQuestionError where the mesh leaves a doubt that `answers` do not settle: several bodies, no floor.
    """
    said = answers or {}
    if unit not in UNITS:
        raise FieldError("unit", f"'{unit}' is no unit; choose {', '.join(UNITS)}")
    mesh = one_body(load(path), path.name, said, UNITS[unit])
    if path.suffix.lower() == ".glb":
        mesh.apply_transform(np.array([[1, 0, 0, 0], [0, 0, -1, 0], [0, 1, 0, 0], [0, 0, 0, 1.0]]))
    mesh.apply_scale(UNITS[unit])
    size = mesh.extents
    if size.max() > MOST_MM or size[:2].min() < LEAST_MM:
        told = unit_of(path)
        go_on = (
            f"the file itself says {told}: export it anew at its true size"
            if told is not None
            else "choose another unit"
        )
        raise MeshError(f"as {unit} it would be {size[0]:.4g} × {size[1]:.4g} × {size[2]:.4g} mm; {go_on}")
    low, high = mesh.bounds
    mesh.apply_translation([-(low[0] + high[0]) / 2, -(low[1] + high[1]) / 2, -low[2]])
    if size[1] > size[0]:
        mesh.apply_transform(np.array([[0, 1, 0, 0], [-1, 0, 0, 0], [0, 0, 1, 0], [0, 0, 0, 1.0]]))
    return _measured(_Body(mesh), path.stem, key, said)


def _measured(body: _Body, name: str, key: str, said: Mapping[str, str]) -> tuple[Pot, str]:
    top = float(body.extents[2])
    step = top / LEVELS
    heights = (np.arange(LEVELS) + 0.5) * step
    cuts = [_section(body, float(z)) for z in heights]
    hollows = [_cavity(parts) for parts in cuts]
    rim_at = LEVELS - 1
    if hollows[rim_at] is None:
        raise MeshError(
            f"{name} is not open at the top; turn it so that its mouth looks up, along z, and bring it in again"
        )
    floor_z = _floor_z(body, heights, [0.0 if h is None else float(h.area) for h in hollows])
    pipe = _floorless(cuts, floor_z)
    if pipe and said.get("floor") != WITH_MESH:
        raise MeshQuestionError("floor", f"{name} has no floor: one looks through it. What is it?", (WITH_MESH, NO_POT))
    inner_l = _volume(body, floor_z, top) / 1e6
    rim, hollow = _outer(_section(body, top - 0.25 * step)), hollows[rim_at]
    assert hollow is not None
    length, width = _sides(rim)
    inside = _sides(hollow)
    wall = max((length - inside[0] + width - inside[1]) / 4, 0.5)
    feet = 0.0 if pipe else _feet(body, floor_z, rim.area)
    outline, off = outline_of(rim, length, width)
    if outline.kind == "round":
        width = length
    # lobes and rounded corners lie inside the box that length and width speak of; an odd number lies aside in it
    length, width, shift = own_size(outline, length, width)
    body.move(shift)
    table: list[tuple[float, float]] = []
    for u in np.linspace(0, 1, ROWS):
        z = min(max(feet + u * (top - feet), feet + 0.02 * step), top - 0.02 * step)
        side = _sides(_outer(_section(body, float(z))))[0]
        table.append((round(float(u), 4), round((length - side) / 2, 2)))
    table[-1] = (1.0, 0.0)
    fields: dict[str, Any] = dict(
        id=key, name=name.replace("_", " ").strip()[:60] or "Pot from a mesh", outline=outline, profile=Profile(kind="table", table=tuple(table)),
        length_mm=round(length, 1), width_mm=round(width, 1), height_mm=round(top, 1), wall_mm=round(wall, 1),
        floor_mm=MESH_FLOOR_MM if pipe else round(max(floor_z - feet, 0.5), 1), feet_mm=round(feet, 1), material="print_petg", finish="as_made",
        holes=(Hole(diameter_mm=round(MESH_SHARE * min(inside), 1), use="drain"),) if pipe else _holes(body, feet, floor_z), holes_known=True, measured_volume_l=round(inner_l, 3), state="shelf", source="mesh",
    )  # fmt: skip
    try:
        pot = Pot(**fields)
    except ValidationError as err:
        raise MeshError(f"{plain_reason(err, name)}; it is no pot as Kesh knows them, enter it by hand") from err
    told = f"Measured: {length:.0f} × {width:.0f} × {top:.0f} mm, mouth {inside[0]:.0f} × {inside[1]:.0f}, {top - floor_z:.0f} deep, {inner_l:.2f} l"
    shape = {"free": "outline by its own points"}.get(outline.kind, f"outline {_shape_words(outline)}")
    told += f"; {shape}, within {off:.1%}"
    if pipe:
        told += "; a pipe, to be closed with mesh"
    own_l = float(inside_volume(columns([pot])).computed_volume_l[0])
    if abs(own_l / max(inner_l, 1e-9) - 1) > VOLUME_APART:
        told += f"; the drawing holds {own_l:.2f} l: the wall is not alike all round, the measured litres count"
    return pot, told


def _shape_words(made: Outline) -> str:
    """An outline in words."""
    return {
        "polygon": f"of {made.sides} sides", "oval": "oval" if made.exponent == 2 else f"oval, exponent {made.exponent:g}",
        "lobed": f"of {made.lobes} lobes",
    }.get(made.kind, made.kind)  # fmt: skip


def _floorless(cuts: list[list[shapely.Polygon]], floor_z: float) -> bool:
    """Whether the hollow runs through: it is still open below in the lowest cut, and no floor was met on the way."""
    lowest = _cavity(cuts[0])
    return floor_z < THROUGH_MM and lowest is not None and lowest.area > THROUGH_SHARE * _outer(cuts[0]).area


def _hollow_mm2(body: _Body, z: float) -> float:
    hollow = _cavity(_section(body, z))
    return 0.0 if hollow is None else float(hollow.area)


def _floor_z(body: _Body, heights: np.ndarray, areas: list[float]) -> float:
    """Where the hollow ends below: at the first floor met on the way down from the rim.

    A floor is where the hollow drops at once to nothing or to its holes; a wall that runs together below only narrows it
    by and by, so every fast change is looked into by halving until it is one step or none.
    """
    for k in range(len(areas) - 1, -1, -1):
        low, high = (float(heights[k - 1]) if k else 0.0), float(heights[k])
        below = areas[k - 1] if k else 0.0
        if below > SURELY_SAME * areas[k]:
            continue
        found = _edge(body, low, high, below, areas[k])
        if found is not None:
            return found
        if below == 0.0:
            # it has narrowed to a point
            return _end(body, low, high)
    return 0.0


def _end(body: _Body, low: float, high: float) -> float:
    """The height at which a hollow ends that narrows to nothing."""
    for _ in range(EDGE_HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if _hollow_mm2(body, middle) > 0 else (middle, high)
    return high


def _edge(body: _Body, low: float, high: float, below: float, above: float) -> float | None:
    """The height of a sudden change between two heights; None where the hollow changes steadily."""
    for _ in range(EDGE_HALVINGS):
        middle = (low + high) / 2
        at = _hollow_mm2(body, middle)
        # go on with the half that changes more
        if abs(above - at) >= abs(at - below):
            low, below = middle, at
        else:
            high, above = middle, at
    return (low + high) / 2 if below < SURELY_FLOOR * above else None


def _volume(body: _Body, floor_z: float, top: float) -> float:
    """Volume of the hollow from floor to rim, mm3, by Gauss in slices."""
    nodes, weights = np.polynomial.legendre.leggauss(4)
    total = 0.0
    edges = np.linspace(floor_z + 1e-3, top - 1e-3, 13)
    for a, b in pairwise(edges):
        for node, weight in zip(nodes, weights, strict=True):
            hollow = _cavity(_section(body, (a + b) / 2 + node * (b - a) / 2))
            total += (0.0 if hollow is None else hollow.area) * weight * (b - a) / 2
    return total


def _feet(body: _Body, floor_z: float, rim_area: float) -> float:
    """Height of the feet: below it the cut is small, above it the whole floor; 0 for a flat base."""
    low, high = 0.0, floor_z - 0.3

    def whole(z: float) -> bool:
        parts = _section(body, z)
        return bool(parts) and max(p.area for p in parts) > 0.25 * rim_area

    if high <= 0.2 or whole(0.05):
        return 0.0
    for _ in range(14):
        middle = (low + high) / 2
        low, high = (low, middle) if whole(middle) else (middle, high)
    return (low + high) / 2


def _holes(body: _Body, feet: float, floor_z: float) -> tuple[Hole, ...]:
    """Round holes through the floor."""
    parts = _section(body, (feet + floor_z) / 2)
    found = []
    for part in parts:
        for ring in part.interiors:
            shape = shapely.Polygon(ring)
            across = 2 * float(np.sqrt(shape.area / np.pi))
            if 2 <= across <= 200:
                centre = shape.centroid
                found.append(Hole(x_mm=round(centre.x, 1), y_mm=round(centre.y, 1), diameter_mm=round(across, 1)))
    return tuple(sorted(found, key=lambda h: (h.y_mm, h.x_mm)))
