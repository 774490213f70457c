"""What is told in one place: parts as they are listed, drawings as they are printed, figures that two readers must find alike."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.routes.drill import drill_job
from kesh.advice.routes.drill_places import wanted_holes
from kesh.advice.routes.joiner import BoxWishes, box_job
from kesh.advice.routes.printer import PrintWishes, for_print, printer_job
from kesh.advice.routes.tub import BATTEN_AT, HOOPS, HOOPS_AT, tub_plan
from kesh.advice.routes.tube import GUYS, TubeWishes, tube_job
from kesh.demo.lanternfield import demo_collection
from kesh.figure.drawing import Circle, Dim, Drawing, Line, Words
from kesh.figure.eye import lit, view_matrix
from kesh.figure.pieces_drawing import part_point, pieces_drawing, shadow
from kesh.figure.pot_drawing import pot_drawing
from kesh.geometry.columns import columns
from kesh.geometry.feet import with_feet
from kesh.geometry.holes import draining
from kesh.geometry.pieces.joints import sum_odd
from kesh.geometry.pieces.split import split
from kesh.geometry.solid import solid
from kesh.geometry.volume import body
from kesh.model import Hole
from kesh.science.making.boards import Joint

DEMO = {k: with_feet(p) for k, p in demo_collection().pots.items()}
TRAY, ROUND = DEMO["ferry-tray"], DEMO["celandine-round"]


# boards ------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("joint", ["butt_long", "butt_short", "pinwheel", "mitre", "lapped"])
@pytest.mark.parametrize("inside", [True, False])
@pytest.mark.parametrize("key", ["ferry-tray", "bell-rect", "map-chest"])
def test_every_listed_board_is_there_with_its_length_and_no_other(joint: Joint, inside: bool, key: str) -> None:
    made = box_job(DEMO[key], BoxWishes(joint=joint, floor_inside=inside))
    listed: dict[str, list[float]] = {}
    for name, length, _, count in made.tables[0][2]:
        listed.setdefault(name.split(",")[0], []).extend([float(length.split()[0])] * int(count))
    built: dict[str, list[float]] = {}
    for part in made.built:
        built.setdefault(part.name, []).append(float(max(part.solid.extents)))
    assert {k: len(v) for k, v in built.items()} == {k: len(v) for k, v in listed.items()}
    for name in ("long side", "short side", "foot batten"):
        assert sorted(built[name]) == pytest.approx(sorted(listed[name]), abs=0.6)


def test_what_the_facts_say_of_a_box_is_what_is_built() -> None:
    made = box_job(TRAY, BoxWishes())
    told = dict(made.facts)["Outside, about"].removesuffix(" mm").split(" × ")
    solids = [p.solid for p in made.built if p.name != "hand grip"]
    low, high = np.min([s.bounds[0] for s in solids], axis=0), np.max([s.bounds[1] for s in solids], axis=0)
    assert (high - low) == pytest.approx([float(v) for v in told], abs=1)
    front = next(d for d in made.views if d.title == "From the front")
    assert front.drawn()[3] - front.drawn()[1] == pytest.approx(high[2] - low[2], abs=0.1)


@pytest.mark.parametrize("sides", [6, 8, 12, 20])
def test_a_tub_is_drawn_and_built_alike(sides: int) -> None:
    made = box_job(ROUND, BoxWishes(tub=True, staves=sides, board_width_mm=220))
    plan = tub_plan(min(ROUND.length_mm, ROUND.width_mm) - 2 * ROUND.wall_mm, ROUND.inner_depth_mm, 20, 220, sides)
    battens = [p.solid for p in made.built if p.name == "foot batten"]
    assert len(battens) == 2
    half = float(plan.outer[:, 0].max())
    assert max(b.bounds[1][0] for b in battens) == pytest.approx(BATTEN_AT * half)
    assert all(b.extents[1] == pytest.approx(plan.batten.length_mm) for b in battens)
    front = made.views[0]
    feet = [
        i
        for i in front.items
        if isinstance(i, Line) and i.layer == "outline" and i.closed and i.points[:, 1].min() == 0
    ]
    assert max(float(f.points[:, 0].max()) for f in feet) == pytest.approx(BATTEN_AT * half)
    hoops = sorted(float(p.solid.bounds.mean(axis=0)[2]) for p in made.built if p.name == "hoop")
    base = 2.5 * 20
    assert hoops == pytest.approx([base + at * plan.height_mm for at in HOOPS_AT])
    assert len(hoops) == HOOPS
    drawn = sorted({i.value_mm for i in front.items if isinstance(i, Dim) and i.prefix == "hoop "})
    assert drawn == pytest.approx([at * plan.height_mm for at in HOOPS_AT])


def test_a_pipe_stands_with_its_guys_on_the_bench() -> None:
    made = tube_job(DEMO["rope-tall"], TubeWishes(rings=1))
    guys = [p.solid for p in made.built if p.name == "guy"]
    assert len(guys) == GUYS
    pipe = next(p.solid for p in made.built if p.name == "pipe")
    assert pipe.bounds[0][2] == 0
    for guy in guys:
        assert guy.bounds[0][2] == pytest.approx(0, abs=2)
        assert guy.bounds[1][2] == pytest.approx(pipe.extents[2] - 20, abs=2)
    disc = next(
        p.solid for p in tube_job(DEMO["rope-tall"], TubeWishes(floor="plastic disc")).built if p.name == "floor"
    )
    assert disc.extents[2] == pytest.approx(8)
    assert disc.euler_number == 2 - 2 * 4, "four drain holes"


# prints ------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("bed", [220.0, 600.0])
def test_window_and_sheet_show_the_same_drawings_of_a_print(bed: float) -> None:
    made = printer_job(for_print(TRAY), None, PrintWishes(bed_mm=(bed, bed, 250.0)))
    on_bed, lie = made.views
    assert on_bed.title == "On the bed"
    beds = [i for i in on_bed.items if isinstance(i, Words) and i.text.startswith("bed ")]
    pieces = len([n for n, _ in made.solids if n.startswith("piece-")])
    if pieces:
        sheets = {d.title.rsplit(", ", 1)[-1]: d for d in made.drawings}
        assert sheets["pieces"].items == lie.items
        assert sheets["on the bed"].items == on_bed.items
        assert lie.notes
        assert 1 <= len(beds) <= pieces
    else:
        assert len(beds) == 1
        assert lie.title == "How it lies"
        assert lie.notes == ()
        assert not [d for d in made.drawings if "pieces" in d.title]


def test_the_order_on_the_sheet_is_the_order_of_the_numbers() -> None:
    made = printer_job(for_print(DEMO["barge"]), None, PrintWishes())
    told = dict(made.facts)["Set down in turn"]
    assert made.assembly is not None
    assert [int(n) for n in told.replace(";", ",").replace("then", "").split(",")] == [
        p.number for p in made.assembly.pieces
    ]
    runs = [[int(n) for n in run.split(",")] for run in told.split("; then ")]
    for run in runs:
        assert len({(made.assembly.pieces[n - 1].tier, sum_odd(made.assembly.pieces[n - 1].cell)) for n in run}) == 1


def test_mates_are_told_from_both_sides() -> None:
    made = printer_job(for_print(DEMO["barge"]), None, PrintWishes())
    mates = {int(row[0]): {int(n) for n in row[5].split(",") if n.strip().isdigit()} for row in made.tables[0][2]}
    assert mates
    for number, found in mates.items():
        assert found, f"piece {number} hangs on another one"
        assert all(number in mates[other] for other in found)


@pytest.mark.parametrize("key", ["ferry-tray", "lantern-hex", "tide-slab"])
def test_pieces_from_above_cover_the_pot_and_their_numbers_lie_in_them(key: str) -> None:
    pot = for_print(DEMO[key])
    made = split(pot, solid(pot), (220.0, 220.0, 250.0))
    whole = shadow(made.whole)
    areas = [shadow(p.solid) for p in made.pieces]
    # tongues and their sockets: what one has the other lacks, less the gaps
    assert sum(a.area for a in areas) == pytest.approx(whole.area, rel=0.01)
    for area in areas:
        import shapely

        assert area.contains(shapely.Point(*part_point(area)))
    drawn = pieces_drawing(made, "x")
    numbers = {i.text for i in drawn.items if isinstance(i, Words) and i.text.isdigit()}
    assert numbers == {str(p.number) for p in made.pieces}
    widths = [i.value_mm for i in drawn.items if isinstance(i, Dim) and i.level]
    assert sum(widths) == pytest.approx(float(made.whole.extents[0]), abs=0.01)


# drill -------------------------------------------------------------------------------------------------------------


@given(st.floats(400, 3000), st.floats(8, 80))
def test_a_hole_beside_the_floor_changes_no_figure_of_the_drill(x: float, across: float) -> None:
    pot = DEMO["uncut-oval"]
    wrong = pot.changed(holes=(Hole(x_mm=x, y_mm=0, diameter_mm=across),))
    assert wanted_holes(wrong) == wanted_holes(pot)
    facts, other = dict(drill_job(pot).facts), dict(drill_job(wrong).facts)
    assert facts == other


def test_the_share_of_the_floor_is_the_one_the_pot_is_judged_by() -> None:
    made = drill_job(DEMO["uncut-oval"])
    b = body(columns([made.pot]))
    share = sum(h.diameter_mm**2 for h in draining(made.pot)) * np.pi / 4 / float(b.floor_area_mm2[0])
    told = float(dict(made.facts)["Holes then"].split("%")[0])
    assert told == pytest.approx(100 * share, abs=0.11)


def test_holes_of_two_sizes_are_counted_by_size() -> None:
    holes = (
        Hole(x_mm=-60, diameter_mm=20),
        Hole(x_mm=60, diameter_mm=20),
        Hole(x_mm=0, y_mm=40, diameter_mm=12),
        Hole(x_mm=0, y_mm=-40, diameter_mm=5),
    )
    told = dict(drill_job(DEMO["uncut-oval"], holes).facts)["To drill"]
    assert told == "2 drain holes of Ø 20 mm and 1 drain hole of Ø 12 mm and 1 tie hole of Ø 5 mm"


# drawings ----------------------------------------------------------------------------------------------------------


def test_what_is_drawn_and_what_is_written_are_bounded_apart() -> None:
    drawing = Drawing(
        "d",
        (Line(np.array([[0.0, 0], [100, 50]])), Circle(120, 0, 10), Words("far", 300, 300, 10), Dim(0, 0, 100, 0, -40)),
    )
    assert drawing.drawn() == (0.0, -10.0, 130.0, 50.0)
    left, low, right, top = drawing.bounds()
    assert low < -40
    assert right > 300
    assert top > 300
    assert left <= 0
    assert Drawing("e", (Words("alone", 0, 0, 3),)).drawn() == (0.0, 0.0, 100.0, 100.0)


@pytest.mark.parametrize("key", ["long-meadow", "ferry-tray", "celandine-round"])
@pytest.mark.parametrize("factor", [1.0, 1 / 0.85])
def test_the_floor_s_figure_stands_over_the_floor_at_any_shrinkage(key: str, factor: float) -> None:
    pot = DEMO[key]
    floors = [i for i in pot_drawing(pot, "x", factor).items if isinstance(i, Dim) and i.prefix == "floor "]
    assert floors
    for one in floors:
        assert one.value_mm == pytest.approx(pot.floor_mm * factor)
        middle = (one.ay + one.by) / 2
        assert middle + one.lift_mm - one.size / 2 > middle + one.value_mm / 2 - 0.5 * one.size
        assert one.outward == 1
    moved = replace(floors[0], away=-3.0)
    assert moved.outward == -1


# the eye -----------------------------------------------------------------------------------------------------------


@given(st.floats(-720, 720), st.floats(-90, 90))
def test_the_eye_turns_and_never_stretches(yaw: float, pitch: float) -> None:
    view = view_matrix(yaw, pitch)
    assert view @ view.T == pytest.approx(np.eye(3), abs=1e-12)
    assert np.linalg.det(view) == pytest.approx(1.0)
    # straight up stays upright on the screen, and leans toward the eye only
    up = view @ np.array([0.0, 0.0, 1.0])
    assert up[0] == pytest.approx(0.0, abs=1e-12)


@given(st.lists(st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1)), min_size=1, max_size=20))
def test_no_face_is_darker_than_the_shade_or_brighter_than_the_lamp(normals: list[tuple[float, float, float]]) -> None:
    n = np.array(normals)
    n = n / np.maximum(np.linalg.norm(n, axis=1), 1e-9)[:, None]
    light = lit(n)
    assert light.shape == (len(n),)
    assert ((light >= 0.52 - 1e-12) & (light <= 1.10 + 1e-12)).all()
