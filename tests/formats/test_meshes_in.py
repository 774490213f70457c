"""Meshes made by others: unit, body, floor and outline measured or asked about, never guessed in silence."""

import zipfile
from pathlib import Path

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.base.errors import KeshError
from kesh.formats.mesh import stl, threemf
from kesh.formats.mesh_in import MeshError, MeshQuestionError, pot_of_mesh, unit_of
from kesh.formats.mesh_in.outline import outline_of, own_size
from kesh.geometry.columns import columns
from kesh.geometry.outline import outline_points, rim_area_mm2
from kesh.geometry.solid import solid
from kesh.geometry.volume import body
from kesh.model import Hole, Outline, Pot, Profile
from tests.kept import examples


def pot_of(outline: Outline, length: float = 260.0, width: float = 200.0, **more: object) -> Pot:
    fields: dict[str, object] = dict(
        id="p", name="p", outline=outline, profile=Profile(base_inset_mm=8), length_mm=length, width_mm=width, height_mm=80,
        wall_mm=7, floor_mm=9, holes=(Hole(x_mm=12, y_mm=-9, diameter_mm=20),),
    )  # fmt: skip
    return Pot.made(**(fields | more))


def brought(path: Path, pot: Pot, **answers: str) -> tuple[Pot, str]:
    path.write_bytes(stl(solid(pot)))
    return pot_of_mesh(path, "mm", "m", answers)


SHAPES = [
    Outline(kind="oval", exponent=4.0), Outline(kind="oval", exponent=1.5), Outline(kind="oval", exponent=2.0), Outline(kind="polygon", sides=5),
    Outline(kind="polygon", sides=6, corner_mm=8), Outline(kind="polygon", sides=8), Outline(kind="lobed", lobes=5, lobe_depth=0.15),
    Outline(kind="lobed", lobes=6, lobe_depth=0.12), Outline(kind="lobed", lobes=4, lobe_depth=0.12, lobe_style="smooth"),
    Outline(kind="lobed", lobes=7, lobe_depth=0.1, lobe_style="smooth"), Outline(corner_mm=22), Outline(),
]  # fmt: skip


@pytest.mark.parametrize(
    "outline", SHAPES, ids=lambda o: f"{o.kind}-{o.exponent:g}-{o.sides}-{o.lobes}-{o.lobe_style}-{o.corner_mm:g}"
)
def test_an_outline_is_known_again_with_its_own_number(outline: Outline, tmp_path: Path) -> None:
    pot = pot_of(outline)
    again, told = brought(tmp_path / "a.stl", pot)
    assert again.outline.kind == outline.kind
    if outline.kind == "oval":
        assert again.outline.exponent == pytest.approx(outline.exponent, rel=0.03)
    if outline.kind == "polygon":
        assert again.outline.sides == outline.sides
    if outline.kind == "lobed":
        assert (again.outline.lobes, again.outline.lobe_style) == (outline.lobes, outline.lobe_style)
        assert again.outline.lobe_depth == pytest.approx(outline.lobe_depth, abs=0.01)
    assert (again.length_mm, again.width_mm) == pytest.approx((pot.length_mm, pot.width_mm), abs=1.2)
    volume = float(body(columns([pot])).computed_volume_l[0])
    assert again.measured_volume_l == pytest.approx(volume, rel=0.005)
    assert again.inner_depth_mm == pytest.approx(pot.inner_depth_mm, abs=0.5)
    # the hole lies where it lay, from the pot's own middle
    assert (again.holes[0].x_mm, again.holes[0].y_mm) == pytest.approx((12, -9), abs=0.6)
    assert again.holes[0].diameter_mm == pytest.approx(20, abs=0.3)
    assert "within" in told


@settings(max_examples=examples(25))
@given(st.lists(st.floats(0.75, 1.0), min_size=9, max_size=9), st.floats(160, 400))
def test_a_form_of_its_own_stays_its_own_within_what_is_said(radii: list[float], length: float) -> None:
    turn = np.linspace(0, 2 * np.pi, 9, endpoint=False)
    ring = np.array(radii)[:, None] * np.column_stack([np.cos(turn), np.sin(turn)]) * length / 2
    rim = trimesh.path.polygons.Polygon(ring - (ring.min(axis=0) + ring.max(axis=0)) / 2)
    x0, y0, x1, y1 = rim.bounds
    found, off = outline_of(rim, x1 - x0, y1 - y0)
    long, wide, _ = own_size(found, x1 - x0, y1 - y0)
    assert off < 0.006
    assert rim_area_mm2(found, long, wide) == pytest.approx(rim.area, rel=0.02)


@given(st.sampled_from([o for o in SHAPES if o.kind in ("lobed", "polygon")]), st.floats(120, 500), st.floats(120, 500))
def test_an_outline_s_own_size_gives_the_box_it_was_asked_for(outline: Outline, length: float, width: float) -> None:
    long, wide, middle = own_size(outline, length, width)
    ring = outline_points(outline, long, wide, 0.0, 720)
    if outline.kind == "lobed":
        assert np.ptp(ring, axis=0) == pytest.approx((length, width), rel=2e-3)
        assert (ring.min(axis=0) + ring.max(axis=0)) / 2 == pytest.approx(middle, abs=0.5)


# units ---------------------------------------------------------------------------------------------------------------


def in_unit(path: Path, whole: trimesh.Trimesh, unit: str | None, mm: float) -> Path:
    """A 3MF whose figures are in another unit, as its head says."""
    small = whole.copy()
    small.apply_scale(1 / mm)
    path.write_bytes(threemf([("a", small)]))
    with zipfile.ZipFile(path) as parcel:
        parts = {name: parcel.read(name) for name in parcel.namelist()}
    said = b"" if unit is None else f'unit="{unit}"'.encode()
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as parcel:
        for name, data in parts.items():
            parcel.writestr(name, data.replace(b'unit="millimeter"', said) if name.endswith(".model") else data)
    return path


@pytest.mark.parametrize(
    ("unit", "named", "mm"),
    [("inch", "inch", 25.4), ("centimeter", "cm", 10.0), ("meter", "m", 1000.0), ("foot", "foot", 304.8), ("micron", "micron", 0.001), ("millimeter", "mm", 1.0), (None, "mm", 1.0)],
)  # fmt: skip
def test_a_3mf_is_read_in_the_unit_it_names(unit: str | None, named: str, mm: float, tmp_path: Path) -> None:
    pot = pot_of(Outline(corner_mm=12))
    path = in_unit(tmp_path / "a.3mf", solid(pot), unit, mm)
    assert unit_of(path) == named
    again, _ = pot_of_mesh(path, named, "m")
    assert (again.length_mm, again.width_mm, again.height_mm) == pytest.approx((260, 200, 80), abs=0.6)


def test_capital_endings_are_the_same_files(tmp_path: Path) -> None:
    pot = pot_of(Outline(corner_mm=12))
    path = in_unit(tmp_path / "A.3MF", solid(pot), "inch", 25.4)
    assert unit_of(path) == "inch"
    assert pot_of_mesh(path, "inch", "m")[0].length_mm == pytest.approx(260, abs=0.6)
    other = tmp_path / "B.STL"
    other.write_bytes(stl(solid(pot)))
    assert unit_of(other) is None
    assert pot_of_mesh(other, "mm", "m")[0].length_mm == pytest.approx(260, abs=0.6)


def test_a_size_that_cannot_be_gives_advice_that_can_be_followed(tmp_path: Path) -> None:
    whole = solid(pot_of(Outline()))
    path = in_unit(tmp_path / "a.3mf", whole, "micron", 1.0)
    with pytest.raises(MeshError, match="the file itself says micron: export it anew"):
        pot_of_mesh(path, "micron", "m")
    bare = tmp_path / "a.stl"
    bare.write_bytes(stl(whole))
    with pytest.raises(MeshError, match="choose another unit"):
        pot_of_mesh(bare, "m", "m")


# doubts --------------------------------------------------------------------------------------------------------------


def test_a_pipe_without_a_floor_is_asked_about(tmp_path: Path) -> None:
    pipe = trimesh.creation.annulus(r_min=70, r_max=75, height=220, sections=128)
    path = tmp_path / "pipe.stl"
    path.write_bytes(stl(pipe))
    with pytest.raises(MeshQuestionError) as asked:
        pot_of_mesh(path, "mm", "m")
    assert asked.value.key == "floor"
    assert "one looks through it" in asked.value.question
    found, told = pot_of_mesh(path, "mm", "m", {"floor": asked.value.options[0]})
    assert found.measured_volume_l == pytest.approx(np.pi * 70**2 * 220 / 1e6, rel=0.01)
    assert found.outline.kind == "round"
    assert found.wall_mm == pytest.approx(5, abs=0.2)
    assert found.drain_holes
    assert found.feet_mm == 0
    assert "mesh" in told
    with pytest.raises(MeshQuestionError):
        pot_of_mesh(path, "mm", "m", {"floor": "no pot"})


def test_a_pot_with_wide_holes_has_a_floor_all_the_same(tmp_path: Path) -> None:
    found, _ = brought(
        tmp_path / "a.stl", pot_of(Outline(), holes=(Hole(x_mm=-50, diameter_mm=60), Hole(x_mm=50, diameter_mm=60)))
    )
    assert found.floor_mm == pytest.approx(9, abs=0.4)
    assert len(found.holes) == 2


def test_of_two_bodies_the_owner_says_which(tmp_path: Path) -> None:
    pot, tray = pot_of(Outline(corner_mm=20)), pot_of(Outline(), 320.0, 250.0, height_mm=22, holes=())
    beside = solid(tray).copy()
    beside.apply_translation([400, 0, 0])
    path = tmp_path / "two.stl"
    path.write_bytes(stl(trimesh.util.concatenate([solid(pot), beside])))
    with pytest.raises(MeshQuestionError) as asked:
        pot_of_mesh(path, "mm", "m")
    assert asked.value.key == "body"
    sizes = [o for o in asked.value.options if "260 × 200 × 80" in o]
    assert len(sizes) == 1
    found, _ = pot_of_mesh(path, "mm", "m", {"body": sizes[0]})
    assert (found.length_mm, found.width_mm, found.height_mm) == pytest.approx((260, 200, 80), abs=0.6)
    other = next(o for o in asked.value.options if "320 × 250 × 22" in o)
    assert pot_of_mesh(path, "mm", "m", {"body": other})[0].height_mm == pytest.approx(22, abs=0.3)


def test_feet_that_are_bodies_of_their_own_are_taken_together(tmp_path: Path) -> None:
    pot = solid(pot_of(Outline(corner_mm=20)))
    feet = [
        trimesh.creation.box(extents=[30, 30, 14]).apply_translation([x, y, -5]) for x in (-90, 90) for y in (-60, 60)
    ]
    path = tmp_path / "feet.stl"
    path.write_bytes(stl(trimesh.util.concatenate([pot, *feet])))
    with pytest.raises(MeshQuestionError) as asked:
        pot_of_mesh(path, "mm", "m")
    found, _ = pot_of_mesh(path, "mm", "m", {"body": asked.value.options[-1]})
    assert found.height_mm == pytest.approx(92, abs=0.5)
    assert found.feet_mm == pytest.approx(12, abs=0.5)


def test_a_crumb_beside_the_pot_is_no_second_body(tmp_path: Path) -> None:
    crumb = trimesh.creation.box(extents=[3, 3, 3]).apply_translation([0, 300, 2])
    path = tmp_path / "crumb.stl"
    path.write_bytes(stl(trimesh.util.concatenate([solid(pot_of(Outline())), crumb])))
    assert pot_of_mesh(path, "mm", "m")[0].width_mm == pytest.approx(200, abs=0.6)


@pytest.mark.parametrize("kind", ["stl", "obj", "3mf", "glb"])
@settings(max_examples=12)
@given(data=st.binary(max_size=400))
def test_rubbish_is_refused_in_one_sentence(kind: str, data: bytes, tmp_path_factory: pytest.TempPathFactory) -> None:
    path = tmp_path_factory.mktemp("in") / f"rubbish.{kind}"
    path.write_bytes(data)
    with pytest.raises(KeshError) as told:
        pot_of_mesh(path, unit_of(path) or "mm", "m")
    assert "\n" not in str(told.value)
    assert "rubbish" in str(told.value)


def test_bodies_without_any_volume_are_no_pot_and_no_exception(tmp_path: Path) -> None:
    flat = [trimesh.creation.box(extents=[200, 150, 60]).apply_translation([0, y, 0]) for y in (0, 400)]
    for one in flat:
        one.vertices[:, 2] = 0.0
    path = tmp_path / "flat.stl"
    path.write_bytes(stl(trimesh.util.concatenate(flat)))
    with pytest.raises(KeshError) as told:
        pot_of_mesh(path, "mm", "m")
    assert "\n" not in str(told.value)
