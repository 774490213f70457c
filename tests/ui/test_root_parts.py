"""Pockets, sides left alone, tilt, turn, layer and mound on the drawing of step Roots; views and lens."""

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from kesh.advice.planting.worksheet import root_lines
from kesh.advice.roots.work import pockets_for, standing_plan
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.desk.root_keeping import bottom_steps_mm
from kesh.desk.root_map import with_decision
from kesh.desk.root_parts import (
    Part,
    depth_pulled,
    grips_of,
    holds,
    middle_of,
    part_pulled,
    part_turned,
    parts_of,
    reach_mm,
    with_new,
    without_part,
)
from kesh.model import MapRoot, Pocket, RootMass, Sector, Tree
from kesh.science.roots.side_room import toward
from kesh.ui.hand.turning import tilt_at, tilt_spot, tilted_mass, turn_at, turn_spot
from kesh.ui.rooms.roots.face import RootsFace
from kesh.ui.window import MainWindow
from tests.ui.conftest import drag
from tests.ui.root_hands import at_roots, spot

ROOTS = RootMass(length_mm=300, width_mm=220, depth_mm=60)


def tree(**roots: object) -> Tree:
    return Tree(id="t", name="T", root_masses=(ROOTS.changed(**roots),))


def only(found: Tree) -> Pocket:
    assert found.roots is not None
    return found.roots.pockets[0]


# without a window ------------------------------------------------------------------------------------------------


def test_a_new_pocket_lies_where_it_is_asked_for_and_its_edges_are_pulled() -> None:
    made, part = with_new(tree(), "pocket", 90)
    pocket = only(made)
    assert (pocket.from_deg, pocket.to_deg) == (60, 120)
    assert made.roots is not None
    assert holds(made.roots, pocket, middle_of(made.roots, pocket))
    edges = {g.edge: g for g in grips_of(made.roots, part)}
    assert set(edges) == {"from", "to", "inner", "outer"}
    far = toward(140.0) * 80
    assert only(part_pulled(made, edges["to"], (float(far[0]), float(far[1])))).to_deg == pytest.approx(140, abs=1)
    reach = float(reach_mm(made.roots, np.array([90.0]))[0])
    out = toward(90.0) * reach * 0.9
    assert only(part_pulled(made, edges["outer"], (float(out[0]), float(out[1])))).to_share == pytest.approx(
        0.9, abs=0.01
    )
    # no edge runs past the other
    assert only(part_pulled(made, edges["inner"], (float(out[0]), float(out[1])))).from_share < pocket.to_share
    over = toward(pocket.to_deg) * 60
    assert part_pulled(made, edges["from"], (float(over[0]), float(over[1]))) == made
    assert (only(part_turned(made, part, -70)).from_deg, only(part_turned(made, part, -70)).to_deg) == (350, 50)
    assert without_part(made, part) == tree()


def test_depths_of_a_pocket_stay_in_the_mass_and_in_order() -> None:
    made, part = with_new(tree(), "pocket", 200)
    assert only(depth_pulled(made, part, "bottom", 500)).depth_to_mm == 60
    assert only(depth_pulled(made, part, "bottom", 48.26)).depth_to_mm == 48.3
    high = only(depth_pulled(made, part, "top", 59))
    assert high.depth_from_mm < high.depth_to_mm
    assert only(depth_pulled(made, part, "top", -20)).depth_from_mm == 0


def test_sides_have_two_edges_and_a_full_circle_none() -> None:
    made, part = with_new(tree(), "sector", 0)
    assert made.roots is not None
    assert {g.edge for g in grips_of(made.roots, part)} == {"from", "to"}
    whole = tree(pockets=(Pocket(kind="clay", from_deg=0, to_deg=360),))
    assert whole.roots is not None
    assert {g.edge for g in grips_of(whole.roots, Part("pocket", 0))} == {"inner", "outer"}
    assert part_turned(whole, Part("pocket", 0), 30) == whole
    with pytest.raises(FieldError, match="not known yet"):
        with_new(Tree(id="x", name="X"), "pocket", 0)
    full = tree(untouched=tuple(Sector(from_deg=n * 10, to_deg=n * 10 + 5) for n in range(24)))
    with pytest.raises(FieldError, match="as many as"):
        with_new(full, "sector", 300)
    assert len(parts_of(full.roots or ROOTS)) == 24


@pytest.mark.parametrize("degrees", [-22.0, 0.0, 9.5, 40.0])
def test_round_handles_lie_where_their_angle_says(degrees: float) -> None:
    foot = QPointF(300, 400)
    assert tilt_at(foot, tilt_spot(foot, 1.3, degrees)) == pytest.approx(degrees, abs=1e-6)
    assert turn_at(foot, turn_spot(foot, 90, degrees)) == pytest.approx(degrees, abs=1e-6)


def test_the_tilted_mass_keeps_its_size_and_stands_on_the_wedge() -> None:
    flat, _ = tilted_mass(ROOTS, 0.0, 100.0, 0.0)
    leans, wedge = tilted_mass(ROOTS, 0.0, 100.0, 12.0)

    def area(ring: np.ndarray) -> float:
        x, y = ring.T
        return abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))) / 2

    assert area(leans) == pytest.approx(area(flat))
    # its right side goes down: the wedge lies under the left, as high as the base is wide times the sine
    assert wedge[1][0] < wedge[0][0]
    base = np.hypot(*(wedge[1] - wedge[0]))
    assert wedge[1][1] - wedge[0][1] == pytest.approx(base * np.sin(np.radians(12)))


def test_what_comes_off_the_bottom_is_shared_out_as_the_feeders_are() -> None:
    assert bottom_steps_mm(18, (0.2, 0.1)) == pytest.approx((12, 6))
    assert bottom_steps_mm(18, ()) == (18,)


def test_a_decision_that_cannot_be_done_says_why() -> None:
    held = tree().changed(root_map=(MapRoot(id="a", azimuth_deg=30, diameter_mm=12, reach_mm=80),))
    with pytest.raises(FieldError, match="no side root"):
        with_decision(held, "a", "shorten")
    with pytest.raises(FieldError, match="too stiff"):
        with_decision(held, "a", "move")
    gone = with_decision(held, "a", "remove")
    assert gone.root_map[0].decided == "remove"
    assert with_decision(gone, "a", "").root_map == held.root_map


# with a window ---------------------------------------------------------------------------------------------------


@pytest.fixture
def face(window: MainWindow) -> RootsFace:
    window.session.edit("No photo", [("photo", "mossback-roots-photo", None)])
    return at_roots(window, "mossback")


def mass(window: MainWindow) -> RootMass:
    roots = window.session.tree.roots  # type: ignore[union-attr]
    assert roots is not None
    return roots


def test_p_notes_a_pocket_that_is_pulled_turned_and_taken_away(window: MainWindow, face: RootsFace) -> None:
    away = toward(120.0) * 90
    QTest.mouseMove(face.map, spot(face, (float(away[0]), float(away[1]))).toPoint())
    QTest.keyClick(face.map, Qt.Key.Key_P)
    (pocket,) = mass(window).pockets
    assert pocket.from_deg == pytest.approx(90, abs=2)
    assert face.map.part == Part("pocket", 0)
    assert [r.key for r in face.beside.parts.list.rows] == ["pocket 0"]
    outer = next(g for g in grips_of(mass(window), Part("pocket", 0)) if g.edge == "outer")
    drag(face.map, spot(face, (outer.x_mm, outer.y_mm)), (-18, 0))
    assert mass(window).pockets[0].to_share > pocket.to_share + 0.03
    # in section its lower end goes by the same grips as the mass
    low = next(g for g in face.map.grips() if g.key == "part_bottom")
    drag(face.map, face.map.px(low.x, low.y), (0, -8))
    assert mass(window).pockets[0].depth_to_mm < pocket.depth_to_mm - 3
    face.map.in_hand = None
    QTest.keyClick(face.map, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
    assert mass(window).pockets[0].from_deg == pytest.approx(pocket.from_deg + 10)
    face.beside.parts.kind.chosen.emit("rot")
    assert mass(window).pockets[0].kind == "rot"
    assert "counts for nothing" in face.beside.parts.list.rows[0].why
    QTest.keyClick(face.map, Qt.Key.Key_Delete)
    assert mass(window).pockets == ()
    assert face.map.part is None
    window.do("undo")
    assert len(mass(window).pockets) == 1


def test_a_side_is_left_alone_by_key_and_named(window: MainWindow, face: RootsFace) -> None:
    away = toward(262.0) * 100
    QTest.mouseMove(face.map, spot(face, (float(away[0]), float(away[1]))).toPoint())
    QTest.keyClick(face.map, Qt.Key.Key_S)
    assert mass(window).untouched[0].holds(262)
    face.beside.parts.why.setText("graft seedling")
    face.beside.parts.why.editingFinished.emit()
    assert mass(window).untouched[0].why == "graft seedling"
    row = face.beside.parts.list.rows[-1]
    assert row.does == "graft seedling"
    assert "of the mass" in row.why
    # a click on bare ground in it takes it in hand again
    QTest.keyClick(face.map, Qt.Key.Key_Escape)
    assert face.map.part is None
    bare = toward(285.0) * 96
    QTest.mouseClick(face.map, Qt.MouseButton.LeftButton, pos=spot(face, (float(bare[0]), float(bare[1]))).toPoint())
    assert face.map.part == Part("sector", 0)


def test_the_round_handles_tilt_and_turn(window: MainWindow, face: RootsFace) -> None:
    start = face.map.turning_spots()["tilt"]
    drag(face.map, start, (14, 2))
    planting = window.session.planting
    assert planting is not None
    assert 10 < planting.tilt_deg < 30
    assert f"{planting.tilt_deg:g}" == face.beside.tilting.tilt.text()
    assert "wedge" in face.beside.tilting.told.text().lower()
    start = face.map.turning_spots()["turn"]
    drag(face.map, start, (-20, -6))
    turned = window.session.planting
    assert turned is not None
    assert turned.turn_deg != 0
    assert turned.tilt_deg == planting.tilt_deg
    window.do("undo")
    window.do("undo")
    assert (window.session.planting.tilt_deg, window.session.planting.turn_deg) == (0, 0)  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("key", "by", "field"),
    [("base_layer_mm", (0, -14), "base_layer_mm"), ("raise_mm", (0, -9), "raise_mm"), ("mound_mm", (0, -12), "mound_mm"),
     ("clearance_mm", (-12, 0), "clearance_mm")],
)  # fmt: skip
def test_layer_seat_mound_and_fresh_mix_are_dragged(
    window: MainWindow, face: RootsFace, key: str, by: tuple[int, int], field: str
) -> None:
    grip = next(g for g in face.map.grips() if g.key == key)
    before = grip.value
    a = face.map.assessment
    assert a is not None
    assert a.figures.roots is not None
    off = float(a.figures.roots.off_bottom_mm[0])
    drag(face.map, face.map.px(grip.x, grip.y), by)
    planting = window.session.planting
    assert planting is not None
    assert getattr(planting, field) > before + 4
    after = face.map.assessment
    assert after is not None
    assert after.figures.roots is not None
    now = float(after.figures.roots.off_bottom_mm[0])
    if key == "base_layer_mm":
        assert now > off
    elif key == "raise_mm":
        assert now < off
    window.do("undo")
    assert getattr(window.session.planting, field) != getattr(planting, field)


def test_ring_lens_and_views(window: MainWindow, face: RootsFace) -> None:
    QTest.keyClick(face.map, Qt.Key.Key_N)
    assert face.map.every_deg == 10
    plain = face.map.grab().toImage()
    QTest.mouseMove(face.map, face.map.trunk_px(face.map.stand).toPoint())  # type: ignore[arg-type]
    QTest.keyClick(face.map, Qt.Key.Key_L)
    assert face.map.grab().toImage() != plain
    QTest.keyClick(face.map, Qt.Key.Key_L)
    QTest.keyClick(face.map, Qt.Key.Key_N)
    assert face.map.every_deg == 45
    face.show_view("after1")
    assert face.map.grips() == []
    assert face.map.turning_spots() == {}
    assert face.map.done_mm is not None


def test_the_present_pot_is_a_view_when_another_is_chosen(window: MainWindow) -> None:
    s = window.session
    s.choose_tree("old-ferryman")
    mass = s.tree.roots  # type: ignore[union-attr]
    assert mass is not None
    s.change_tree("Deeper than was thought", root_masses=(mass.changed(depth_mm=mass.depth_mm + 14),))
    s.hold_under("riverstone-oval")
    s.edit("Chosen", [("lineup", s.tree_id, s.lineup().changed(chosen="riverstone-oval"))])
    window.go("roots")
    face = window.face("roots")
    assert isinstance(face, RootsFace)
    assert face.map.pot_id == "riverstone-oval"
    views = [k for k, _ in face.views()]
    assert views[-1] == "old"
    # 25 % of a pine's feeders in March are two repottings; what comes off the bottom is told for each
    assert len(face.map.step_views()) > 2
    a = face.map.assessment
    assert a is not None
    assert "now" in face.map.bottom_words(a, 18.0)
    window.show_view("old")
    assert face.map.pot_id is None
    assert face.map.assessment is not None
    assert face.map.assessment.pot.id == "training-box"
    window.show_view("now")
    assert face.map.pot_id == "riverstone-oval"


def test_a_decision_stands_with_its_reason_and_the_rest_is_solved_anew(window: MainWindow, face: RootsFace) -> None:
    face.map.take("r7")
    face.beside.card.decided.chosen.emit("remove")
    face.beside.card.why.setText("it lifts the whole side")
    face.beside.card.why.editingFinished.emit()
    row = next(r for r in face.beside.list.rows if r.key == "r7")
    assert row.does.startswith("off now")
    assert "the artist's choice: it lifts the whole side" in row.why
    plan = face.map.plan()
    assert plan is not None
    assert plan.share <= (face.beside.bar._limit or 0) + 1e-9
    face.map.take("r2")
    face.beside.card.decided.chosen.emit("move")
    assert "too stiff" in window.status.message
    face.beside.card.drop.setText("-12°")
    face.beside.card.drop.editingFinished.emit()
    assert window.session.tree.root_map[1].drop_deg == -12  # type: ignore[union-attr]


def test_where_the_signs_do_not_say_go_there_are_other_good_answers(window: MainWindow, face: RootsFace) -> None:
    signs = face.beside.signs
    assert not signs.ways.isVisibleTo(signs)
    signs.answers["work"].chosen.emit("recent")
    assert signs.ways.isVisibleTo(signs)
    cut_nothing, next_season = signs.ways.findChildren(QPushButton)
    next_season.click()
    notes = [
        e.text for e in window.session.collection.events if e.tree == "mossback" and e.date == window.session.today
    ]
    assert any(t.startswith("Root work waits for the next season.") and "one trouble at a time" in t for t in notes)
    cut_nothing.click()
    assert window.session.brief.root_views.amount == "nothing"
    assert face.beside.bar._limit == 0
    assert "by the climate" in signs.season.text()


def test_minutes_are_told_step_by_step_and_a_broken_mass_is_a_sentence(window: MainWindow, face: RootsFace) -> None:
    assert "lift " in face.beside.brings.text()
    assert "plant " in face.beside.brings.text()
    tree = window.session.tree
    assert tree is not None
    assert tree.roots is not None
    # the trunk outside the mass: nothing of it can be reckoned, and nothing breaks
    off = tree.roots.changed(
        offset_x_mm=900.0, pockets=(Pocket(kind="clay"),), untouched=(Sector(from_deg=10, to_deg=50),)
    )
    window.session.edit("Off", [("tree", tree.id, tree.changed(root_masses=(*tree.root_masses[:-1], off)))])
    assert face.map.mass() is None
    assert not face.beside.parts.isVisibleTo(face.beside)
    QTest.mouseClick(face.map, Qt.MouseButton.LeftButton, pos=face.map.rect().center())
    for key in (Qt.Key.Key_P, Qt.Key.Key_Left, Qt.Key.Key_G, Qt.Key.Key_Up, Qt.Key.Key_N, Qt.Key.Key_Delete):
        QTest.keyClick(face.map, key)
    face.map.grab()


def test_views_change_the_figures_beside_the_drawing(window: MainWindow, face: RootsFace) -> None:
    limit = face.beside.bar._limit
    assert limit is not None
    face.beside.views.choices["amount"].chosen.emit("half")
    assert (face.beside.bar._limit or 0) > limit
    assert "Up to" in face.beside.views.told.text()
    face.beside.views.choices["old_soil"].chosen.emit("sides")
    assert "Left and right keep their soil now" in face.beside.views.told.text()
    face.beside.views.choices["top_work"].chosen.emit("same_day")
    assert "of the foliage" in face.beside.views.told.text()
    face.beside.views.choices["seal"].chosen.emit("seal")
    assert "cut paste" in face.beside.brings.text()
    views = window.session.brief.root_views
    assert (views.amount, views.old_soil, views.seal, views.top_work) == ("half", "sides", True, "same_day")
    window.do("undo")
    assert not window.session.brief.root_views.seal


def test_a_kept_plan_stands_and_goes_to_log_and_work_sheet(window: MainWindow, face: RootsFace) -> None:
    s = window.session
    p = s.planting
    assert p is not None
    s.edit("Tilted", [("planting", p.id, p.changed(tilt_deg=6.0))])
    face.beside.keep_plan()
    a = s.assessment()
    assert a is not None
    kept = standing_plan(a.figures)
    assert kept is not None
    assert kept.same
    assert kept.made == s.today
    notes = [e.text for e in s.collection.events if e.tree == "mossback" and e.date == s.today and e.kind == "note"]
    assert any(text.startswith("Root plan for Thrush oval: 3 roots now") for text in notes)
    assert any("branches to bend later" in text for text in notes)
    # keeping it twice on a day is one note, not two
    face.beside.keep_plan()
    again = [e for e in s.collection.events if e.tree == "mossback" and e.date == s.today and e.kind == "note"]
    assert len(again) == len(notes)
    # the map changes: the plan that was kept still stands, and says so
    one = s.tree.root_map[2]  # type: ignore[union-attr]
    s.change_tree("Kept", root_map=tuple(r.changed(keep="wanted") if r.id == one.id else r for r in s.tree.root_map))  # type: ignore[union-attr]
    a = s.assessment()
    assert a is not None
    lines = " ".join(root_lines(a, Units()))
    assert "cut at 44 mm" in lines
    assert "has changed since" in lines
    assert "changed since" in face.beside.note.text()
    assert pockets_for(a.figures) == ()


def test_depths_typed_past_each_other_keep_their_order(window: MainWindow, face: RootsFace) -> None:
    QTest.keyClick(face.map, Qt.Key.Key_P)
    face.beside.parts.bottom.entered.emit(20.0)
    face.beside.parts.top.entered.emit(35.0)
    pocket = mass(window).pockets[0]
    assert pocket.depth_from_mm < pocket.depth_to_mm == 20
    assert mass(window).depth_mm > 35
    face.beside.parts.bottom.entered.emit(900.0)
    assert mass(window).pockets[0].depth_to_mm == mass(window).depth_mm
