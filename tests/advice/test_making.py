"""What each maker is told: sizes, checks, cautions, tables; and what cannot be made says so at its field."""

from collections.abc import Callable
from dataclasses import replace
from datetime import date

import numpy as np
import pytest
import shapely

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.design.space import with_planned_holes
from kesh.advice.routes.beside import drip_tray, stand
from kesh.advice.routes.drill import drill_job, fitted, fixes
from kesh.advice.routes.drill_places import edge_mm, edge_needed_mm, wanted_holes
from kesh.advice.routes.floor import dead_corner_mm, fall_mm, floor_checks, floor_ring
from kesh.advice.routes.job import Job, hours_words
from kesh.advice.routes.joiner import BoxWishes, box_job, waste_share
from kesh.advice.routes.potter import least_depth_mm, potter_job
from kesh.advice.routes.printer import PrintWishes, for_print, printer_job
from kesh.advice.routes.routes import job, routes
from kesh.advice.routes.tub import tub_plan
from kesh.advice.routes.tube import TubeWishes, tube_job
from kesh.base.errors import FieldError
from kesh.demo.lanternfield import demo_collection
from kesh.figure.drawing import Drawing, Words
from kesh.geometry.columns import columns
from kesh.geometry.feet import apart_mm, base_ring, foot_plans, off_feet, over_foot, with_feet
from kesh.geometry.outline import outline_points
from kesh.geometry.solid import solid
from kesh.geometry.volume import body
from kesh.model import Collection, Hole, Pot, Profile
from kesh.reference.tables import material
from kesh.science.making.boards import from_boards, nested
from kesh.science.making.clay import SampleBar
from kesh.science.making.printing import estimate

DEMO = demo_collection()
TRAY = with_feet(DEMO.pots["ferry-tray"])


def facts(made: Job) -> dict[str, str]:
    return dict(made.facts)


def test_the_potter_s_sheet_says_fired_wet_and_what_the_roots_want() -> None:
    a = assess(case_for(DEMO, "old-ferryman"), TRAY)
    made = potter_job(TRAY, a, 0.11)
    told = facts(made)
    assert told["Fired, at the rim"] == "384 × 286 × 91 mm"
    assert told["Wet, at the rim"] == f"{384 / 0.89:.0f} × {286 / 0.89:.0f} × {91 / 0.89:.0f} mm"
    assert "own test bar" in told["Shrinkage in length"]
    least = least_depth_mm(a)
    assert least is not None
    fit = a.figures.roots
    assert fit is not None

    # one mm less and more would come off than the tree bears; the drawing may well be shallower than that
    def share(depth: float) -> float:
        one = TRAY.changed(height_mm=depth + TRAY.floor_mm + TRAY.feet_mm)
        return float(assess(a.case, one).figures.roots.removed_feeder_share[0])  # type: ignore[union-attr]

    assert a.case.limit_share is not None
    assert share(least) <= a.case.limit_share < share(least - 1)
    shallow = TRAY.changed(height_mm=least - 6 + TRAY.floor_mm + TRAY.feet_mm)
    asked = potter_job(shallow, assess(a.case, shallow), 0.11)
    assert facts(asked)["Least inner depth"] == f"{least:.0f} mm, for the roots"
    assert any(c.status == "no" and "the roots ask for" in c.text for c in asked.checks)
    clay = made.bill[0]
    fired = float(body(columns([TRAY])).mass_kg[0])
    assert clay.amount == pytest.approx(fired / 0.93 * 1.22 * 1.15)
    assert [c.key for c in made.cautions] == ["clay_dust", "kiln_heat"]
    glazed = potter_job(TRAY.changed(finish="muted_glaze"))
    assert "glaze_raw" in [c.key for c in glazed.cautions]
    assert len(glazed.bill) == 2
    assert "fire a bar first" in facts(glazed)["Shrinkage in length"]


def test_a_long_thin_wall_and_a_thin_floor_are_warned_of() -> None:
    long = TRAY.changed(length_mm=520.0, wall_mm=6.0, floor_mm=5.0)
    texts = [(c.status, c.text) for c in potter_job(long).checks]
    assert any(s == "watch" and "may warp" in t for s, t in texts)
    assert any("thinner than the wall" in t for _, t in texts)
    closed = TRAY.changed(profile=Profile(kind="lip", lip_offset_mm=-12, base_inset_mm=4))
    assert any("no mould in one piece" in c.text for c in potter_job(closed).checks)


def test_the_printer_s_sheet_adds_up() -> None:
    a = assess(case_for(DEMO, "old-ferryman"), for_print(TRAY))
    made = printer_job(for_print(TRAY), a, PrintWishes(bed_mm=(220, 220, 250)))
    pieces = made.solids[1:]
    assert facts(made)["Pieces"] == str(len(pieces))
    assert "tongues in the floor" in facts(made)["Joints"]
    assert any(c.status == "fits" and c.text.startswith("Put together") for c in made.checks)
    density = material("print_petg").density_g_cm3
    mass = sum(estimate(s.volume / 1e6, s.area / 1e6, s.extents[2], density).mass_kg for _, s in pieces)
    assert made.bill[0].amount == pytest.approx(1.1 * mass)
    whole = printer_job(for_print(TRAY), None, PrintWishes(bed_mm=(500, 500, 500)))
    assert [name for name, _ in whole.solids] == ["whole"]
    assert whole.checks[0].status == "unknown"
    # the same inside: what was outside stays outside, thinner walls give more soil
    assert solid(for_print(TRAY)).extents == pytest.approx(solid(TRAY).extents, abs=0.01)
    assert body(columns([for_print(TRAY)])).inner_volume_l[0] > body(columns([TRAY])).inner_volume_l[0]
    with pytest.raises(FieldError, match="not printed"):
        printer_job(TRAY)
    order = [s.text for s in made.steps]
    assert next(i for i, t in enumerate(order) if "paint does not glue" in t) < next(
        i for i, t in enumerate(order) if "Dry-fit" in t
    )


def test_a_print_that_would_break_is_told_what_would_do() -> None:
    thin = for_print(TRAY).changed(wall_mm=1.2, floor_mm=1.2)
    a = assess(case_for(DEMO, "old-ferryman"), thin)
    bad = [c for c in printer_job(thin, a, PrintWishes(bed_mm=(500, 500, 500))).checks if c.status == "no"]
    assert bad
    assert "mm would do" in bad[0].text


def test_a_box_takes_the_same_root_mass() -> None:
    made = box_job(TRAY, BoxWishes())
    inside = (TRAY.length_mm - 2 * TRAY.wall_mm, TRAY.width_mm - 2 * TRAY.wall_mm, TRAY.inner_depth_mm)
    assert facts(made)["Inside"] == " × ".join(f"{v:.0f}" for v in inside) + " mm"
    cuts = {row[0]: row for row in made.tables[0][2]}
    assert cuts["floor slat"][1] == f"{inside[1] + 40:.0f} mm"
    assert {c.key for c in made.cautions} == {"saw_timber", "old_timber"}
    with pytest.raises(FieldError, match="longer than the stock"):
        box_job(TRAY, BoxWishes(stock_mm=300))
    from kesh.science.making.boards import Piece

    boards = nested((Piece("a", 600, 95, 4),), 2400)
    assert waste_share(boards, 2400) == pytest.approx(1 - 2400 / 4800)


def test_pipe_by_length_floor_and_year() -> None:
    pot = with_feet(DEMO.pots["rope-tall"])
    made = tube_job(pot, TubeWishes(count=7, pipe_mm=1000), 2031)
    told = facts(made)
    height = pot.inner_depth_mm + 2
    assert told["Length of each"] == f"{height:.0f} mm"
    per = int((1000 + 3) // (height + 3))
    assert made.bill[0].amount == -(-7 // per)
    assert "2036" in told["Floor to be renewed"]
    this = facts(tube_job(pot, TubeWishes()))["Floor to be renewed"]
    assert str(date.today().year + 5) in this
    assert next(c.key for c in made.cautions) == "plastic_pipe"
    assert next(c.key for c in tube_job(pot, TubeWishes(pipe="galvanised_steel")).cautions) == "metal_edge"
    for wrong in (TubeWishes(wall_mm=150), TubeWishes(floor="paper"), TubeWishes(count=0), TubeWishes(pipe_mm=50)):
        with pytest.raises(FieldError):
            tube_job(pot, wrong)


def test_the_drill_plan_adds_only_what_is_missing_and_keeps_its_distance() -> None:
    bare = with_feet(DEMO.pots["uncut-oval"])
    wanted = wanted_holes(bare)
    assert wanted
    for hole in wanted:
        assert edge_mm(bare, hole) >= min(edge_needed_mm(bare, hole), 12) - 0.1
    made = drill_job(bare)
    assert made.pot.holes == wanted
    assert wanted_holes(made.pot) == ()
    assert dead_corner_mm(made.pot) < dead_corner_mm(bare) == float("inf")
    assert made.template is not None
    assert {c.key for c in made.cautions} == {"drill_pot", "power_wet"}
    enough = drill_job(TRAY)
    assert "nothing" in facts(enough)["To drill"]
    assert enough.cautions == ()
    plastic = drill_job(bare.changed(material="polypropylene"))
    assert "step drill" in facts(plastic)["Bit"]
    with pytest.raises(FieldError, match="slab"):
        drill_job(DEMO.pots["tide-slab"])
    with pytest.raises(FieldError, match="runs into the wall"):
        drill_job(bare, (Hole(x_mm=175, y_mm=0, diameter_mm=20),))


def test_a_brittle_body_wants_a_wider_edge() -> None:
    hole = Hole(x_mm=0, y_mm=0, diameter_mm=12)
    kinds = [DEMO.pots["uncut-oval"].changed(material=m) for m in ("stoneware_unglazed", "earthenware_low_fired")]
    assert edge_needed_mm(kinds[0], hole) < edge_needed_mm(kinds[1], hole)


def test_fixes_change_the_pot_and_its_findings(demo: Collection) -> None:
    flat = with_feet(demo.pots["uncut-oval"].changed(feet_mm=0.0, height_mm=76.0))
    case = case_for(demo, "old-ferryman")
    a = assess(case, flat)
    assert a.finding("drain_holes").status == "no"  # type: ignore[union-attr]
    found = fixes(a)
    assert [f.what.split()[0] for f in found][:2] == ["Drill", "Set"]
    assert all(f.minutes > 0 and f.risk for f in found)
    after, again = fitted(case, flat, found)
    assert again.finding("drain_holes").status != "no"  # type: ignore[union-attr]
    assert again.finding("flat_base").status == "fits"  # type: ignore[union-attr]
    assert after.feet_mm == 8
    assert after.inner_depth_mm == pytest.approx(flat.inner_depth_mm)


@pytest.mark.parametrize("route", list(routes()))
def test_every_route_has_title_steps_or_reason_and_stands_alone(route: str) -> None:
    made = job(route, TRAY)
    assert made.title.startswith(TRAY.name)
    assert made.facts
    assert route == "drill" or made.steps


def test_a_route_nobody_knows_is_refused() -> None:
    with pytest.raises(FieldError, match="no way of making"):
        job("spell", TRAY)


def test_the_tree_s_case_reaches_the_checks() -> None:
    case = case_for(replace(DEMO), "old-ferryman")
    with_tree, without = job("print", TRAY, case), job("print", TRAY)
    assert with_tree.checks != without.checks
    assert np.isfinite([float(i.amount) for i in with_tree.bill]).all()


def test_walls_of_nothing_name_the_wall() -> None:
    with pytest.raises(FieldError, match="wall"):
        Pot(id="p", name="p", length_mm=100, width_mm=60, height_mm=60).changed(wall_mm=0)


@pytest.mark.parametrize("key", ["ferry-tray", "celandine-round", "lantern-hex", "chalk-oval", "rope-tower"])
def test_tray_and_stand_go_under_the_pot_and_can_be_made(key: str) -> None:
    pot = with_feet(DEMO.pots[key])
    ring = base_ring(pot)
    tray, board = drip_tray(pot, "t"), stand(pot, "s")
    for made in (tray, board):
        assert solid(made).is_watertight
        assert made.state == "design"
    inside = shapely.Polygon(
        outline_points(tray.outline, tray.length_mm, tray.width_mm, tray.wall_mm + tray.profile.base_inset_mm)
    )
    assert inside.contains(shapely.Polygon(ring))
    assert tray.holes == ()
    assert shapely.Polygon(base_ring(board)).buffer(8).contains(shapely.Polygon(ring))
    assert board.foot_count


def test_a_tub_of_staves_closes_and_holds_what_its_polygon_holds() -> None:
    hexagon = DEMO.pots["lantern-hex"]
    made = box_job(hexagon, BoxWishes(tub=True, board_width_mm=200, staves=12))
    told = facts(made)
    assert told["Staves"].startswith("6,"), "a polygon keeps its own sides"
    assert told["Saw tilted to"].startswith("30.00°")
    inside = min(hexagon.length_mm, hexagon.width_mm) - 2 * hexagon.wall_mm
    litres = 2 * np.sqrt(3) * (inside / 2) ** 2 * hexagon.inner_depth_mm / 1e6
    assert told["Soil to the rim"] == f"{litres:.1f} l"
    plan = tub_plan(inside, hexagon.inner_depth_mm, 20, 200, 6)
    ring = shapely.Polygon(plan.outer)
    slats = [p for p in plan.pieces if p.name.startswith("floor")]
    assert len(slats) == plan.slats
    assert max(p.length_mm for p in slats) <= ring.bounds[2] - ring.bounds[0] + 0.1
    assert plan.hoop_mm == pytest.approx(ring.length + 40)
    assert ring.area == pytest.approx(2 * np.sqrt(3) * (inside / 2 + 20) ** 2)
    assert [c.key for c in made.cautions] == ["saw_timber", "metal_edge", "old_timber"]


@pytest.mark.parametrize(
    ("wishes", "words"),
    [(BoxWishes(tub=True, staves=3), "take more"), (BoxWishes(tub=True, staves=2), "three staves"), (BoxWishes(tub=True, staves=16, stock_mm=60), "longer than the stock")],
)  # fmt: skip
def test_a_tub_that_cannot_be_sawn_says_so(wishes: BoxWishes, words: str) -> None:
    with pytest.raises(FieldError, match=words):
        box_job(DEMO.pots["celandine-round"], wishes)


def test_a_tub_of_a_long_pot_says_that_it_takes_the_smaller_side() -> None:
    made = box_job(TRAY, BoxWishes(tub=True))
    assert any("smaller side" in c.text for c in made.checks)


def test_rings_of_pipe_make_up_the_height_and_need_sleeves() -> None:
    tower = DEMO.pots["rope-tower"]
    one, three = tube_job(tower), tube_job(tower, TubeWishes(rings=2, count=3))
    height = float(facts(one)["Length of each"].split()[0])
    assert facts(three)["Length of each"] == f"2 rings of {height / 2:.0f} mm, stacked"
    assert facts(three)["Soil to the rim"] == facts(one)["Soil to the rim"]
    assert "for 9 cuts" in three.bill[0].note
    assert any("sleeve" in step.text for step in three.steps)
    assert not any("sleeve" in step.text for step in one.steps)
    with pytest.raises(FieldError, match="take fewer"):
        tube_job(tower, TubeWishes(rings=12))


@pytest.mark.parametrize("key", [k for k, p in DEMO.pots.items() if p.profile.kind != "slab"])
def test_no_hole_of_the_rule_is_shut_by_a_foot(key: str) -> None:
    pot = DEMO.pots[key].changed(holes=(), holes_known=True)
    planned = with_planned_holes(pot)
    for made in (wanted_holes(pot), planned.holes):
        assert made
        assert not [h for h in made if over_foot(pot, h)]
        for k, one in enumerate(made):
            assert all(apart_mm(one, other) >= 9.9 for other in made[:k])
    assert not any("lies over a foot" in c.text for c in drill_job(pot).checks)


def test_a_hole_moves_off_a_foot_toward_the_middle_and_stays_where_nothing_is_free() -> None:
    pot = TRAY.changed(feet_style="block")
    corner = foot_plans(pot)[0].centroid
    hole = Hole(x_mm=corner.x, y_mm=corner.y, diameter_mm=16)
    assert over_foot(pot, hole)
    moved = off_feet(pot, (hole,))[0]
    assert not over_foot(pot, moved)
    assert np.hypot(moved.x_mm, moved.y_mm) < np.hypot(hole.x_mm, hole.y_mm)
    # on the way to the middle, apart from rounding to tenths
    assert moved.x_mm * hole.y_mm == pytest.approx(moved.y_mm * hole.x_mm, rel=2e-3)
    in_the_way = moved.changed(diameter_mm=30)
    assert off_feet(pot, (hole,), (in_the_way,)) == (hole,)


def test_the_wet_sheet_says_wet_places_of_the_holes_and_a_wet_corner() -> None:
    bar = SampleBar(100, 90)
    fired, wet = potter_job(TRAY, None, None, bar).drawings
    hole = TRAY.holes[0]

    def lines(drawing: Drawing) -> list[str]:
        return [item.text for item in drawing.items if isinstance(item, Words)]

    assert any(f"Ø {hole.diameter_mm:g} " in t and f"{abs(hole.x_mm):.1f} " in t for t in lines(fired))
    assert any(f"{abs(hole.x_mm) / 0.9:.1f} " in t for t in lines(wet))
    assert not any(f" {abs(hole.x_mm):.1f} " in t for t in lines(wet))
    assert f"corner R{round(TRAY.outline.corner_mm / 0.9, 1):g}" in lines(wet)


def test_boards_are_bought_in_one_width_and_none_is_too_narrow() -> None:
    made = box_job(TRAY)
    assert [item.what for item in made.bill if item.what.startswith("board")] == ["board 20 × 95 mm, timber, larch"]
    plan = tub_plan(300, 200, 20, 95, 12)
    with pytest.raises(FieldError, match="wide and the boards"):
        from_boards(plan.pieces, 80)


def test_the_floor_falls_to_the_holes_and_stays_thick_enough() -> None:
    far = dead_corner_mm(TRAY)
    assert fall_mm(TRAY) == pytest.approx(min(0.02 * far, 0.4 * TRAY.floor_mm))
    assert facts(potter_job(TRAY))["Floor falls"].startswith(f"{fall_mm(TRAY):.1f} mm over {far:.0f} mm")
    undrilled = TRAY.changed(holes=())
    assert fall_mm(undrilled) == 0
    assert [c.status for c in floor_checks(undrilled)] == ["no"]
    flat = TRAY.changed(height_mm=TRAY.body_height_mm, feet_mm=0.0)
    assert any("The base lies flat" in c.text for c in floor_checks(flat))
    corner = Hole(x_mm=-150, y_mm=-100, diameter_mm=20)
    assert any("slope it or add a hole" in c.text for c in floor_checks(TRAY.changed(holes=(corner,))))
    # no spot of the rim of the floor is farther than it says
    ring = np.asarray(floor_ring(TRAY).exterior.coords)
    reach = [min(np.hypot(x - h.x_mm, y - h.y_mm) - h.diameter_mm / 2 for h in TRAY.drain_holes) for x, y in ring]
    assert max(reach) == pytest.approx(far)


@pytest.mark.parametrize("route", ["potter", "print", "box", "tube"])
def test_waits_are_summed_up_and_said(route: str) -> None:
    made = job(route, TRAY)
    assert made.waits_h == sum(step.wait_h for step in made.steps) > 0
    told = dict(made.facts)["Waits in all"]
    assert told == f"about {hours_words(made.waits_h)}"
    assert all(step.wait == "" for step in made.steps if not step.wait_h)


def test_hours_in_words() -> None:
    assert [hours_words(h) for h in (2, 24, 47.5, 48, 336)] == ["2 h", "24 h", "47.5 h", "2 days", "14 days"]


@pytest.mark.parametrize("bed", [(220.0, 220.0, 250.0), (600.0, 600.0, 300.0)])
def test_a_drip_tray_is_printed_too_when_asked_for(bed: tuple[float, float, float]) -> None:
    pot = for_print(TRAY)
    alone, both = (printer_job(pot, None, PrintWishes(bed_mm=bed, tray=tray)) for tray in (False, True))
    more = [(name, one) for name, one in both.solids if name.startswith("tray")]
    assert [n for n, _ in both.solids if not n.startswith("tray")] == [n for n, _ in alone.solids]
    assert more
    assert all(one.is_watertight for _, one in more)
    tray = for_print(drip_tray(pot, "t"))
    assert sum(one.volume for _, one in more) == pytest.approx(solid(tray).volume, rel=0.03)
    assert all((np.sort(one.extents[:2]) <= np.sort(bed[:2]) + 1e-6).all() for _, one in more)
    assert tray.length_mm > base_ring(pot)[:, 0].max() * 2
    assert both.bill[0].amount > alone.bill[0].amount * 1.1
    assert len(both.tables[0][2]) == len(alone.tables[0][2]) + len(more)
    assert "Drip tray" in facts(both)
    assert "Drip tray" not in facts(alone)


@pytest.mark.parametrize("beside", [drip_tray, stand])
def test_what_stands_under_a_giant_is_refused_in_a_sentence(beside: Callable[[Pot, str], Pot]) -> None:
    with pytest.raises(FieldError, match="may be at most"):
        beside(TRAY.changed(length_mm=19_900, width_mm=19_900), "under")
