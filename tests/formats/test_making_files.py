"""What makers are handed, read back by other programs' libraries: DXF audited, SVG and meshes measured, bills in CSV."""

import csv
import io
import json
import re
import struct
import xml.etree.ElementTree as ET
import zipfile
from pathlib import Path

import ezdxf
import numpy as np
import pytest
import trimesh

from kesh.advice.routes.printer import PrintWishes
from kesh.advice.routes.routes import job, routes
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import KeshError
from kesh.demo.lanternfield import demo_collection
from kesh.figure.drawing import Circle, Dim, Line
from kesh.figure.pot_drawing import hole_table, pot_drawing
from kesh.formats.dxf import dxf
from kesh.formats.job_files import bill_csv, write_job
from kesh.formats.mesh import glb, stl, threemf
from kesh.formats.mesh_in import MeshError, pot_of_mesh, unit_of
from kesh.formats.svg import svg
from kesh.geometry.columns import columns
from kesh.geometry.feet import with_feet
from kesh.geometry.solid import solid
from kesh.geometry.volume import body
from kesh.model import Pot

POTS = {k: with_feet(p) for k, p in demo_collection().pots.items()}
TRAY, ROUND = POTS["ferry-tray"], POTS["celandine-round"]
SVG = "{http://www.w3.org/2000/svg}"


def read_dxf(text: str) -> ezdxf.document.Drawing:
    doc = ezdxf.read(io.StringIO(text))
    audit = doc.audit()
    assert audit.errors == []
    assert audit.fixes == []
    return doc


@pytest.mark.parametrize(
    "pot", [TRAY, ROUND, POTS["lantern-hex"], POTS["honey-lobed"], POTS["tide-slab"]], ids=lambda p: p.id
)
@pytest.mark.parametrize("factor", [1.0, 1 / 0.88])
def test_a_dxf_is_clean_in_mm_and_says_the_pot_s_sizes(pot: Pot, factor: float) -> None:
    doc = read_dxf(dxf(pot_drawing(pot, "x", factor)))
    assert doc.units == ezdxf.units.MM
    space = doc.modelspace()
    rim = max((e for e in space.query('LWPOLYLINE[layer=="OUTLINE"]')), key=lambda e: len(e))
    points = np.array(list(rim.vertices()))
    drawn = pot_drawing(pot, "x", factor)
    outline = next(i for i in drawn.items if isinstance(i, Line) and i.layer == "outline")
    assert np.ptp(points, axis=0) == pytest.approx(np.ptp(outline.points, axis=0), abs=0.1)
    if pot.outline.kind in ("rectangle", "round"):
        assert np.ptp(points, axis=0) == pytest.approx((pot.length_mm * factor, pot.width_mm * factor), abs=0.1)
    measured = sorted(round(d.get_measurement(), 1) for d in space.query("DIMENSION"))
    assert measured == sorted(round(i.value_mm, 1) for i in drawn.items if isinstance(i, Dim))
    assert round(pot.height_mm * factor, 1) in measured
    circles = sorted(2 * c.dxf.radius for c in space.query("CIRCLE"))
    assert circles == pytest.approx(sorted(h.diameter_mm * factor for h in pot.holes), abs=0.1)
    assert {e.dxf.layer for e in space} <= {layer.dxf.name for layer in doc.layers}


def test_an_svg_is_as_large_as_the_pot() -> None:
    root = ET.fromstring(svg(pot_drawing(TRAY, "Ferry tray & more")))
    wide, box = root.get("width"), root.get("viewBox")
    assert wide is not None
    assert box is not None
    assert wide.endswith("mm")
    assert float(wide[:-2]) == pytest.approx(float(box.split()[2]))
    rim = next(g for g in root.iter(f"{SVG}g") if g.get("id") == "outline").find(f"{SVG}polygon")
    assert rim is not None
    points = np.array([[float(v) for v in pair.split(",")] for pair in rim.get("points", "").split()])
    assert np.ptp(points, axis=0) == pytest.approx((TRAY.length_mm, TRAY.width_mm), abs=0.1)
    holes = [float(c.get("r", 0)) * 2 for c in root.iter(f"{SVG}circle")]
    assert sorted(holes) == pytest.approx(sorted(h.diameter_mm for h in TRAY.holes))
    words = " ".join(t.text or "" for t in root.iter(f"{SVG}text"))
    assert "370 inside" in words
    assert root.findtext(f"{SVG}title") == "Ferry tray & more"


def test_inner_sizes_on_the_sheet_are_those_of_the_kernel() -> None:
    drawn = pot_drawing(TRAY, "x")
    dims = {d.suffix.strip() or d.prefix.strip(): d.value_mm for d in drawn.items if isinstance(d, Dim)}
    assert dims["inside"] == pytest.approx(TRAY.inner_depth_mm, abs=0.05) or dims["inside"] == pytest.approx(
        TRAY.length_mm - 2 * TRAY.wall_mm, abs=0.05
    )
    assert dims["wall"] == pytest.approx(TRAY.wall_mm)
    assert dims["floor"] == pytest.approx(TRAY.floor_mm)
    assert len([i for i in drawn.items if isinstance(i, Circle)]) == len(TRAY.holes) == len(hole_table(TRAY))


def test_meshes_come_back_with_their_sizes_and_units() -> None:
    whole = solid(TRAY)
    again = trimesh.load_mesh(io.BytesIO(stl(whole)), file_type="stl")
    assert again.is_watertight
    assert again.volume == pytest.approx(whole.volume, rel=1e-4)
    packed = threemf([("one", whole), ("two", whole)])
    with zipfile.ZipFile(io.BytesIO(packed)) as parcel:
        model = parcel.read("3D/3dmodel.model").decode()
    assert 'unit="millimeter"' in model
    assert len(re.findall(r"<object ", model)) >= 2
    data = glb(whole, "#335577")
    assert data[:4] == b"glTF"
    length = struct.unpack("<I", data[12:16])[0]
    assert json.loads(data[20 : 20 + length])["materials"]
    metres = trimesh.load(io.BytesIO(data), file_type="glb").to_geometry()
    assert metres.extents == pytest.approx(np.array([TRAY.length_mm, TRAY.height_mm, TRAY.width_mm]) / 1000, abs=1e-4)
    assert metres.volume == pytest.approx(whole.volume / 1e9, rel=1e-4)


@pytest.mark.parametrize("route", list(routes()))
def test_every_route_writes_files_that_can_be_read(route: str, tmp_path: Path) -> None:
    made = job(route, POTS["uncut-oval"] if route == "drill" else TRAY)
    found = write_job(made, tmp_path / "out", "Mill Race")
    assert all(p.stat().st_size > 60 for p in found)
    assert not list((tmp_path / "out").rglob("*.part"))
    assert {p.parent for p in found} == {tmp_path / "out" / f"Mill Race - {made.pot.name}" / route}
    for path in found:
        if path.suffix == ".dxf":
            read_dxf(path.read_text(encoding="utf-8"))
        elif path.suffix == ".svg":
            ET.parse(path)
        elif path.suffix == ".stl":
            assert trimesh.load_mesh(str(path)).is_watertight
    kinds = {p.suffix for p in found}
    assert {".svg", ".dxf", ".csv"} <= kinds
    assert ({".stl", ".3mf", ".glb"} <= kinds) == (route == "print")
    rows = list(csv.reader(io.StringIO(bill_csv(made))))
    assert rows[0] == ["what", "amount", "unit", "note"]
    assert all(float(r[1]) > 0 for r in rows[1 : 1 + len(made.bill)])


def test_a_folder_that_cannot_be_made_is_said(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("x")
    with pytest.raises(KeshError, match="choose another folder"):
        write_job(job("tube", ROUND), tmp_path / "file")


# meshes that come in ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("key", ["ferry-tray", "celandine-round", "chalk-oval", "rope-tower", "terracotta-tub"])
@pytest.mark.parametrize("kind", ["stl", "3mf", "glb", "obj"])
def test_a_pot_that_went_out_comes_in_with_its_measures(key: str, kind: str, tmp_path: Path) -> None:
    pot = POTS[key]
    whole = solid(pot)
    path = tmp_path / f"{key}.{kind}"
    made = {
        "stl": lambda: stl(whole),
        "3mf": lambda: threemf([("a", whole)]),
        "glb": lambda: glb(whole, "#777777"),
        "obj": lambda: whole.export(file_type="obj").encode(),
    }
    path.write_bytes(made[kind]())
    again, told = pot_of_mesh(path, unit_of(path) or "mm", "m1")
    assert (again.length_mm, again.width_mm, again.height_mm) == pytest.approx(
        (pot.length_mm, pot.width_mm, pot.height_mm), abs=0.6
    )
    assert again.inner_depth_mm == pytest.approx(pot.inner_depth_mm, abs=0.6)
    assert again.wall_mm == pytest.approx(pot.wall_mm, abs=0.4)
    assert again.feet_mm == pytest.approx(pot.feet_mm, abs=0.4)
    assert again.outline.kind == pot.outline.kind
    volume = float(body(columns([pot])).computed_volume_l[0])
    assert again.measured_volume_l == pytest.approx(volume, rel=0.005)
    assert [h.diameter_mm for h in again.holes] == pytest.approx(
        [h.diameter_mm for h in sorted(pot.holes, key=lambda h: (h.y_mm, h.x_mm))], abs=0.3
    )
    assert "deep" in told


def test_units_turning_and_what_is_no_pot(tmp_path: Path) -> None:
    whole = solid(TRAY)
    inches = whole.copy()
    inches.apply_scale(1 / 25.4)
    path = tmp_path / "a.stl"
    path.write_bytes(stl(inches))
    assert unit_of(path) is None
    assert pot_of_mesh(path, "inch", "m")[0].length_mm == pytest.approx(TRAY.length_mm, abs=0.6)
    with pytest.raises(MeshError, match="choose another unit"):
        pot_of_mesh(path, "mm", "m")
    upside = whole.copy()
    upside.apply_transform(np.diag([1, -1, -1, 1.0]))
    path.write_bytes(stl(upside))
    with pytest.raises(MeshError, match="mouth looks up"):
        pot_of_mesh(path, "mm", "m")
    open_ = whole.copy()
    open_.update_faces(np.arange(len(open_.faces)) > 40)
    path.write_bytes(stl(open_))
    with pytest.raises(MeshError, match="not closed"):
        pot_of_mesh(path, "mm", "m")
    path.write_bytes(b"solid nothing")
    with pytest.raises(MeshError, match=r"a\.stl"):
        pot_of_mesh(path, "mm", "m")
    parcel = tmp_path / "a.3mf"
    body = bytearray(threemf([("a", whole)]))
    # "needed to unpack: version 22" in the parcel's list of contents
    body[body.index(b"PK\x01\x02") + 6] = 220
    parcel.write_bytes(body)
    with pytest.raises(MeshError, match="damaged or no 3MF"):
        pot_of_mesh(parcel, "mm", "m")
    wrong = tmp_path / "a.txt"
    wrong.write_text("x")
    with pytest.raises(MeshError, match="no STL"):
        pot_of_mesh(wrong, "mm", "m")


@pytest.mark.parametrize("turned_faces", [slice(None), slice(0, None, 3)], ids=["all", "a third"])
def test_faces_that_look_inward_change_no_measure(turned_faces: slice, tmp_path: Path) -> None:
    inward = solid(TRAY).copy()
    inward.faces[turned_faces] = inward.faces[turned_faces][:, ::-1]
    found = []
    for name, mesh in (("out", solid(TRAY)), ("in", inward)):
        path = tmp_path / f"{name}.stl"
        path.write_bytes(stl(mesh))
        found.append(pot_of_mesh(path, "mm", "m")[0].model_copy(update={"name": "the same"}))
    assert found[0] == found[1]


def turned(profile: list[tuple[float, float]], sides: int = 96) -> trimesh.Trimesh:
    """A closed body of revolution from (radius, height) down the outside, across and up the inside."""
    return trimesh.creation.revolve(np.array([*profile, profile[0]]), sections=sides)


@pytest.mark.parametrize(
    ("inside", "depth"),
    [
        ([(0.0, 10.0), (100.0, 120.0)], 110.0),  # a cone to its very point
        ([(0.0, 10.0), (14.0, 10.0), (100.0, 120.0)], 110.0),  # a cone with a small floor
        ([(0.0, 10.0), (60.0, 14.0), (80.0, 40.0), (100.0, 120.0)], 110.0),  # a bowl
    ],
)
def test_a_hollow_that_runs_together_below_is_measured_to_its_floor(
    tmp_path: Path, inside: list[tuple[float, float]], depth: float
) -> None:
    body = turned([(0.0, 0.0), (75.0, 0.0), (108.0, 120.0), *reversed(inside)])
    assert body.is_watertight
    path = tmp_path / "cone.stl"
    path.write_bytes(stl(body))
    found, told = pot_of_mesh(path, "mm", "m")
    assert found.inner_depth_mm == pytest.approx(depth, abs=0.6)
    hollow = trimesh.creation.revolve(np.array([*inside, (0.0, 120.0), inside[0]]), sections=96).volume
    assert found.measured_volume_l == pytest.approx(abs(hollow) / 1e6, rel=0.01)
    assert f"{depth:.0f} deep" in told


def test_a_body_with_hardly_an_inside_is_refused_in_a_sentence(tmp_path: Path) -> None:
    path = tmp_path / "block.stl"
    path.write_bytes(
        stl(turned([(0.0, 0.0), (1400.0, 0.0), (1400.0, 800.0), (100.0, 800.0), (100.0, 100.0), (0.0, 100.0)]))
    )
    with pytest.raises(MeshError, match="wall_mm"):
        pot_of_mesh(path, "mm", "m")


def test_wishes_reach_the_files() -> None:
    shrunk = job("potter", TRAY, wishes=MakerWishes(shrinkage=0.10))
    wet = next(d for d in shrunk.drawings if d.title.endswith("wet"))
    sizes = {round(i.value_mm, 1) for i in wet.items if isinstance(i, Dim)}
    assert round(TRAY.length_mm / 0.9, 1) in sizes


@pytest.mark.parametrize(("bed", "whole"), [((220.0, 220.0, 250.0), False), ((600.0, 600.0, 300.0), True)])
def test_the_3mf_holds_what_goes_on_the_bed_and_the_tray(
    tmp_path: Path, bed: tuple[float, float, float], whole: bool
) -> None:
    made = job("print", TRAY, None, MakerWishes(own={"print": PrintWishes(bed_mm=bed, tray=True)}))
    files = write_job(made, tmp_path)
    scene = trimesh.load(next(p for p in files if p.suffix == ".3mf"))
    names = {name for name, _ in made.solids}
    held = set(scene.geometry)  # type: ignore[attr-defined]
    assert ("whole" in names) is True
    assert held == (names if whole else names - {"whole"})
    assert any(name.startswith("tray") for name in held)
    total = sum(one.volume for one in scene.geometry.values())  # type: ignore[attr-defined]
    assert total == pytest.approx(sum(s.volume for n, s in made.solids if n in held), rel=1e-3)
