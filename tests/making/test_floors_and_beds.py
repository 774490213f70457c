"""Slats without wide gaps, pieces on beds, letters beyond Z, dimensions that stay on the sheet, bodies in a picture."""

import itertools

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.routes.bodies import box_parts, pipe_parts, tub_parts
from kesh.advice.routes.job import Item
from kesh.advice.routes.joiner import BoxWishes, box_job, inside_of
from kesh.advice.routes.tub import tub_plan
from kesh.base.errors import FieldError
from kesh.demo.lanternfield import demo_collection
from kesh.figure.drawing import Dim, Drawing, Line
from kesh.figure.eye import view_matrix
from kesh.figure.pot_drawing import letters, pot_drawing
from kesh.figure.zbuffer import Body, nearest, picture
from kesh.formats.svg import MARGIN, svg
from kesh.geometry.feet import with_feet
from kesh.model import Hole, Outline, Pot
from kesh.science.making.beds import lay
from kesh.science.making.boards import Joint, box_plan, floor_slats

DEMO = {k: with_feet(p) for k, p in demo_collection().pots.items()}


@given(st.floats(60, 1500), st.floats(40, 200))
def test_slats_cover_the_floor_with_gaps_that_mesh_or_roots_can_bear(along: float, board: float) -> None:
    widths, gap = floor_slats(along, board)
    assert sum(widths) + gap * (len(widths) - 1) == pytest.approx(along) or (
        len(widths) == 1 and along - widths[0] <= 20
    )
    assert gap <= 20 + 1e-9
    assert all(0 < w <= board + 1e-9 for w in widths)
    whole = max(1, int((along + 6) // (board + 6)))
    # the rule's own layout stands wherever its gap can be borne
    if whole > 1 and (along - whole * board) / (whole - 1) <= 20:
        assert widths == (board,) * whole
    assert len(widths) in (whole, whole + 1)


def test_a_floor_that_had_gaps_of_94_mm_has_none_now() -> None:
    widths, gap = floor_slats(284.0, 95.0)
    assert gap == 6
    assert widths == pytest.approx((95.0, 82.0, 95.0))
    made = box_job(DEMO["bell-rect"], BoxWishes())
    assert not [c for c in made.checks if "Gaps" in c.text]
    slats = [row for row in made.tables[0][2] if row[0].startswith("floor slat")]
    assert len({row[1] for row in slats}) == 1


@given(st.lists(st.tuples(st.floats(5, 200), st.floats(5, 200)), min_size=1, max_size=24))
def test_pieces_lie_on_their_beds_and_on_no_other_piece(sizes: list[tuple[float, float]]) -> None:
    laid = lay(sizes, (210.0, 205.0))
    assert [one.index for one in laid] == list(range(len(sizes)))
    for one, size in zip(laid, sizes, strict=True):
        assert sorted((one.length_mm, one.width_mm)) == pytest.approx(sorted(size))
        assert one.turned == (size[0] != size[1] and one.length_mm != size[0]) or size[0] == pytest.approx(size[1])
        assert one.x_mm >= 0
        assert one.x_mm + one.length_mm <= 210 + 1e-6
        assert one.y_mm >= 0
        assert one.y_mm + one.width_mm <= 205 + 1e-6
    for a, b in itertools.combinations(laid, 2):
        apart = shapely.box(a.x_mm, a.y_mm, a.x_mm + a.length_mm, a.y_mm + a.width_mm).intersection(
            shapely.box(b.x_mm, b.y_mm, b.x_mm + b.length_mm, b.y_mm + b.width_mm)
        )
        assert a.bed != b.bed or apart.area < 1e-9
    assert {one.bed for one in laid} == set(range(max(one.bed for one in laid) + 1))


def test_a_piece_too_large_for_any_bed_is_refused() -> None:
    with pytest.raises(FieldError, match="does not lie on a bed"):
        lay([(300.0, 20.0)], (200.0, 200.0))
    assert lay([(190.0, 20.0)], (100.0, 200.0))[0].turned


def test_after_z_the_letters_go_on() -> None:
    assert [letters(k) for k in (0, 25, 26, 27, 51, 52, 701, 702)] == ["A", "Z", "AA", "AB", "AZ", "BA", "ZZ", "AAA"]
    assert len({letters(k) for k in range(2000)}) == 2000
    pot = with_feet(Pot(id="p", name="p", length_mm=500, width_mm=400, height_mm=80, holes=tuple(
        Hole(x_mm=x, y_mm=y, diameter_mm=9) for x in range(-200, 201, 40) for y in (-120, -40, 40))))  # fmt: skip
    text = svg(pot_drawing(pot, "x"))
    assert ">AA<" in text
    assert ">[<" not in text


@given(
    st.floats(-300, 300), st.floats(-300, 300), st.floats(0.5, 700), st.floats(-60, 60).filter(lambda v: abs(v) > 0.5), st.booleans(),
    st.floats(3, 20), st.booleans(),
)  # fmt: skip
def test_no_tick_and_no_figure_is_clipped(
    x: float, y: float, long: float, away: float, level: bool, size: float, beside: bool
) -> None:
    one = Dim(x, y, x + (long if level else 0), y + (0 if level else long), away, level, size=size, beside=beside)
    drawing = Drawing("d", (Line(np.array([[x, y], [x + 1, y + 1]])), one))
    left, low, right, top = drawing.bounds()
    for ex, ey in one.ends:
        assert left <= ex - one.tick + 1e-6
        assert ex + one.tick <= right + 1e-6
        assert low <= ey - one.tick + 1e-6
        assert ey + one.tick <= top + 1e-6
    # everything the SVG draws lies on its sheet
    import re

    text = svg(drawing)
    box = re.search(r'viewBox="0 0 ([\d.]+) ([\d.]+)"', text)
    assert box is not None
    wide, high = float(box[1]), float(box[2])
    for pair in re.findall(r"(-?[\d.]+),(-?[\d.]+)", " ".join(re.findall(r'points="([^"]+)"', text))):
        assert -1e-3 <= float(pair[0]) <= wide + 1e-3
        assert -1e-3 <= float(pair[1]) <= high + 1e-3
    assert wide >= 2 * MARGIN


def test_a_round_pot_has_one_section_and_a_long_one_two() -> None:
    round_pot = with_feet(
        Pot(
            id="p",
            name="p",
            outline=Outline(kind="round"),
            length_mm=240,
            width_mm=240,
            height_mm=90,
            feet_mm=0,
            feet_style="none",
        )
    )
    for pot, count in ((round_pot, 1), (DEMO["ferry-tray"], 2)):
        drawn = pot_drawing(pot, "x")
        walls = [i for i in drawn.items if isinstance(i, Dim) and i.prefix == "wall "]
        assert len(walls) == count


def test_amounts_are_written_as_they_are_bought() -> None:
    assert Item("tape", 1, "pieces").text == "1 piece"
    assert Item("tape", 2, "pieces").text == "2 pieces"
    assert Item("primer", 97.0, "ml").text == "97 ml"
    assert Item("clay", 9.249, "kg").text == "9.25 kg"


# bodies ------------------------------------------------------------------------------------------------------------

JOINTS: tuple[Joint, ...] = ("butt_long", "butt_short", "pinwheel", "mitre", "lapped")


@pytest.mark.parametrize("joint", JOINTS)
@pytest.mark.parametrize("high", [76.0, 190.0])
def test_boards_of_a_box_meet_and_never_cross(joint: Joint, high: float) -> None:
    plan = box_plan(340, 240, high, 20, 95, joint, overhang_mm=15 if joint in ("lapped",) else 0)
    parts = box_parts((340, 240, high), plan, 20, 95, joint, 15 if joint == "lapped" else 0, False)
    boards = [p for p in parts if p.name != "hand grip"]
    assert sum(p.name == "long side" for p in parts) == 2 * plan.courses
    assert all(p.solid.is_watertight for p in parts)
    whole = trimesh.boolean.union([p.solid for p in boards], engine="manifold")
    assert whole.volume == pytest.approx(sum(p.solid.volume for p in boards), rel=1e-6)
    # the hollow that the roots want is free
    room = trimesh.creation.box(bounds=[[-170, -120, 50], [170, 120, 50 + high]])
    assert (
        sum(
            abs(trimesh.boolean.intersection([room, p.solid], engine="manifold").volume)
            for p in parts
            if _meets(room, p.solid)
        )
        < 1.0
    )
    long = next(p for p in parts if p.name == "long side")
    listed = next(piece for piece in plan.pieces if piece.name.startswith("long side"))
    assert long.solid.extents[0] == pytest.approx(listed.length_mm)


def _meets(one: trimesh.Trimesh, other: trimesh.Trimesh) -> bool:
    return bool((one.bounds[0] < other.bounds[1] - 1e-6).all() and (other.bounds[0] < one.bounds[1] - 1e-6).all())


def test_staves_and_pipe_are_as_large_as_their_sheets_say() -> None:
    plan = tub_plan(270, 80, 20, 200, 8)
    parts = tub_parts(plan.outer, np.asarray(plan.outer) * 270 / 310, 80, 20, plan.floor, plan.batten)
    staves = [p for p in parts if p.name == "stave"]
    assert len(staves) == 8
    ring = sum(p.solid.volume for p in staves)
    flats = 8 * np.tan(np.pi / 8)
    assert ring == pytest.approx(flats * (155**2 - 135**2) * 80, rel=1e-6)
    parts = pipe_parts(200, 4, 150, 2, 2, True, 4, 6, 20, "#999999")
    pipe = [p for p in parts if p.name.startswith("ring")]
    assert len(pipe) == 2
    assert len([p for p in parts if p.name == "guy"]) == 4
    bores = 4 * np.pi * 9 * 4
    assert sum(p.solid.volume for p in pipe) == pytest.approx(np.pi * (100**2 - 96**2) * 150 - bores, rel=0.01)
    assert pipe[1].solid.euler_number == 2 - 2 * 5, "four guy holes through the upper ring"
    floor = next(p for p in parts if p.name == "floor")
    assert floor.solid.extents[:2] == pytest.approx((192, 192), abs=1)
    assert inside_of(DEMO["ferry-tray"])[0] == pytest.approx(
        DEMO["ferry-tray"].length_mm - 2 * DEMO["ferry-tray"].wall_mm
    )


# the picture -------------------------------------------------------------------------------------------------------


def body(mesh: trimesh.Trimesh, shade: float = 200.0) -> Body:
    return Body(np.asarray(mesh.triangles, float), np.asarray(mesh.face_normals, float), np.full(3, shade))


@given(st.floats(-180, 180), st.floats(-60, 89))
def test_a_box_covers_as_many_pixels_as_its_projection_is_large(yaw: float, pitch: float) -> None:
    box = trimesh.creation.box(extents=[60, 40, 30])
    view = view_matrix(yaw, pitch)
    seen = picture([body(box)], [np.zeros(3)], view, 2.0, (150.0, 150.0), 300, 300, over=1)
    corners = np.asarray(box.vertices) @ view.T
    area = shapely.MultiPoint(corners[:, [0, 2]]).convex_hull.area * 4
    assert (seen.body == 0).sum() == pytest.approx(area, rel=0.03, abs=120)
    assert view @ view.T == pytest.approx(np.eye(3), abs=1e-12)


def test_the_nearer_body_hides_the_farther_one() -> None:
    small, large = trimesh.creation.box(extents=[20, 20, 20]), trimesh.creation.box(extents=[80, 20, 80])
    front, back = np.array([0.0, -60.0, 0.0]), np.zeros(3)
    seen = picture([body(small), body(large)], [front, back], view_matrix(0, 0), 2.0, (100.0, 100.0), 200, 200)
    assert seen.body[100, 100] == 0
    assert seen.body[100, 40] == 1
    behind = picture([body(small), body(large)], [-front, back], view_matrix(0, 0), 2.0, (100.0, 100.0), 200, 200)
    assert 0 not in set(np.unique(behind.body).tolist())
    assert behind.rgba[0, 0].tolist() == [0, 0, 0, 0]
    assert behind.rgba[100, 100, 3] == 255


def test_no_triangle_and_one_out_of_sight_paint_nothing() -> None:
    face, deep = nearest(np.zeros((0, 3, 2)), np.zeros((0, 3)), 20, 10)
    assert face.shape == (10, 20)
    assert (face == -1).all()
    assert np.isinf(deep).all()
    face, _ = nearest(np.array([[[100.0, 100], [120, 100], [100, 130]]]), np.ones((1, 3)), 20, 10)
    assert (face == -1).all()
