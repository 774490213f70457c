"""The Workshop driven by hand: grips in section and plan, the body that turns, the solver's chart, makers, files, meshes."""

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest

from kesh.desk.workshop import FAMILIES, family_of, live_facts, new_design, rule_holes, with_family, with_value
from kesh.geometry.solid import solid
from kesh.store.reading import read_collection
from kesh.ui.window import MainWindow
from tests.ui.conftest import drag, press
from tests.ui.workshop_hands import grip, pot


def test_the_rail_opens_it_on_a_design_with_all_its_views(workshop: MainWindow) -> None:
    assert workshop.rail.tabs["workshop"].isChecked()
    assert not workshop.trees.isVisible()
    assert pot(workshop).name == "Ferry tray"
    assert "Old Ferryman" in workshop.face("workshop").desk.told.text()
    desk = workshop.face("workshop").desk
    for view in (desk.profile, desk.turn, desk.plan, desk.solver):
        assert view.isVisible()
        assert not view.grab().isNull()
    # a potter makes the design itself: no other drawing stands in its place
    assert not any(made.isVisible() for made in desk.made)
    assert workshop.face("workshop").makers.job is not None


@pytest.mark.parametrize(
    ("key", "by", "field", "sign"),
    [
        ("height_mm", (0, -20), "height_mm", 1),
        ("wall_mm", (-10, 0), "wall_mm", 1),
        ("floor_mm", (0, -8), "floor_mm", 1),
        ("feet_mm", (0, -6), "feet_mm", 1),
    ],
)
def test_dragging_a_square_of_the_section_changes_that_size_alone(
    workshop: MainWindow, key: str, by: tuple[int, int], field: str, sign: int
) -> None:
    view, before = workshop.face("workshop").desk.profile, pot(workshop)
    moved = abs(by[0] + by[1]) / view.px_mm
    drag(view, grip(view, key), by)
    after = pot(workshop)
    assert getattr(after, field) - getattr(before, field) == pytest.approx(sign * moved, abs=1.0)
    assert after.length_mm == before.length_mm
    if key == "feet_mm":
        assert after.body_height_mm == pytest.approx(before.body_height_mm)
    assert read_collection(workshop.session.path).pots[after.id] == after
    workshop.do("undo")
    assert pot(workshop) == before


def test_figures_findings_and_views_follow_while_it_is_dragged(workshop: MainWindow) -> None:
    panel, view = workshop.face("workshop").makers, workshop.face("workshop").desk.profile
    texts = panel.live.accessibleName()
    plan = workshop.face("workshop").desk.plan.grab().toImage()
    drag(view, grip(view, "length_mm"), (-30, 0), drop=False)
    assert workshop.session.dragging
    assert panel.live.accessibleName() != texts
    assert workshop.face("workshop").desk.plan.grab().toImage() != plan
    assert view.written is not None
    assert view.pot != view.written, "the version before stays, dashed"
    QTest.keyClick(view, Qt.Key.Key_Escape)
    assert not workshop.session.dragging
    assert panel.live.accessibleName() == texts


def test_arrows_move_the_grip_in_hand_by_millimetres(workshop: MainWindow) -> None:
    view, before = workshop.face("workshop").desk.profile, pot(workshop)
    view.setFocus()
    while view.in_hand != "base_inset_mm":
        QTest.keyClick(view, Qt.Key.Key_G)
    QTest.keyClick(view, Qt.Key.Key_Left)
    QTest.keyClick(view, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
    assert pot(workshop).profile.base_inset_mm == pytest.approx(before.profile.base_inset_mm + 11)


def test_a_hole_is_dragged_both_ways_and_not_off_the_floor(workshop: MainWindow) -> None:
    view, before = workshop.face("workshop").desk.plan, pot(workshop)
    spot = grip(view, "hole:0")
    drag(view, spot, (12, -16))
    hole, was = pot(workshop).holes[0], before.holes[0]
    assert hole.x_mm - was.x_mm == pytest.approx(12 / view.px_mm, abs=1.2)
    assert hole.y_mm - was.y_mm == pytest.approx(16 / view.px_mm, abs=1.2)
    workshop.do("undo")
    drag(view, grip(view, "hole:0"), (0, 400))
    assert "does not lie inside the floor" in workshop.status.message
    assert pot(workshop) == before
    assert not workshop.session.dragging


def test_holes_by_the_rule_follow_the_size_until_one_is_moved_by_hand(workshop: MainWindow) -> None:
    panel = workshop.face("workshop").makers
    panel.shape.by_rule.click()
    assert rule_holes(pot(workshop))
    panel.shape.fields["length_mm"].entered.emit(430.0)
    assert rule_holes(pot(workshop))
    view = workshop.face("workshop").desk.plan
    drag(view, grip(view, "hole:0"), (6, 6))
    held = pot(workshop).holes
    panel.shape.fields["length_mm"].entered.emit(420.0)
    assert pot(workshop).holes == held
    panel.shape.one_tie.click()
    panel.shape.one_drain.click()
    assert len(pot(workshop).holes) == len(held) + 2


def test_what_cannot_be_made_is_said_and_nothing_changes(workshop: MainWindow) -> None:
    panel, before = workshop.face("workshop").makers, pot(workshop)
    for field, value, words in (
        ("wall_mm", 0.0, "wall"),
        ("wall_mm", 150.0, "walls meet"),
        ("floor_mm", 200.0, "floor"),
        ("feet_mm", -3.0, ""),
    ):
        panel.shape.fields[field].entered.emit(value)
        assert words in workshop.status.message
        if words:
            assert pot(workshop) == before
            assert panel.shape.fields[field].mm == getattr(before, field)


def test_the_body_turns_under_the_hand_and_by_arrows(workshop: MainWindow) -> None:
    view = workshop.face("workshop").desk.turn
    first = view.grab().toImage()
    yaw, pitch = view.yaw, view.pitch
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=QPoint(120, 120))
    QTest.mouseMove(view, QPoint(180, 100))
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=QPoint(180, 100))
    assert view.yaw == pytest.approx(yaw + 30)
    assert view.pitch == pytest.approx(pitch - 10)
    assert view.grab().toImage() != first
    QTest.keyClick(view, Qt.Key.Key_Left)
    assert view.yaw == pytest.approx(yaw + 25)
    for _ in range(40):
        QTest.keyClick(view, Qt.Key.Key_Up)
    assert view.pitch == 89
    QTest.keyClick(view, Qt.Key.Key_T)
    assert view.with_tree
    assert view.grab().toImage() != first


def middle(image: QImage) -> tuple[int, int, int]:
    c = image.pixelColor(image.width() // 2, image.height() // 2)
    return c.red(), c.green(), c.blue()


def test_glaze_is_seen_outside_and_clay_inside(workshop: MainWindow) -> None:
    view = workshop.face("workshop").desk.turn
    workshop.session.edit(
        "Glaze", [("pot", pot(workshop).id, pot(workshop).changed(finish="bright_glaze", colour="#2050C0"))]
    )
    view.turn_to(0, 88)
    r, _, b = middle(view.grab().toImage())
    assert r > b, "from above one looks on the bare floor"
    view.turn_to(0, -2)
    r, _g, b = middle(view.grab().toImage())
    assert b > r


def test_the_tree_stands_small_beside_the_turned_pot_and_large_at_a_click(workshop: MainWindow) -> None:
    turn = workshop.face("workshop").desk.turn
    corner = turn.corner()
    assert corner is not None
    assert turn.rect().contains(corner.toRect())
    QTest.mouseClick(turn, Qt.MouseButton.LeftButton, pos=corner.center().toPoint())
    assert turn.with_tree
    assert turn.corner() is None
    assert not turn.grab().isNull()
    QTest.keyClick(turn, Qt.Key.Key_T)
    assert not turn.with_tree


def test_asked_without_a_design_the_solver_shows_its_points(workshop: MainWindow) -> None:
    s, face = workshop.session, workshop.face("workshop")
    s.edit("No design", [("pot", p.id, None) for p in s.collection.pots.values() if p.state in ("design", "ordered")])
    assert face.desk.pages.currentWidget() is face.desk.empty
    face.solve()
    assert face.desk.pages.currentWidget() is face.desk.drawn
    design = face.desk.solver.solution.designs[0]
    press(face.desk.solver, face.desk.solver.spot(design.away, design.margin))
    assert s.collection.pots[face.pot_id].state == "design"


def test_the_solver_s_points_open_as_designs_and_the_same_one_only_once(workshop: MainWindow) -> None:
    solver = workshop.face("workshop").desk.solver
    assert solver.solution is None
    press(solver, QPointF(60, 60))
    assert solver.solution is not None
    assert "nothing beats" in workshop.status.message
    count = len(workshop.session.collection.pots)
    design = solver.solution.designs[1]
    press(solver, solver.spot(design.away, design.margin))
    assert len(workshop.session.collection.pots) == count + 1
    assert pot(workshop).length_mm == design.pot.length_mm
    assert pot(workshop).made_for == "old-ferryman"
    assert pot(workshop).state == "design"
    solver.setFocus()
    QTest.keyClick(solver, Qt.Key.Key_Return)
    assert len(workshop.session.collection.pots) == count + 1
    QTest.keyClick(solver, Qt.Key.Key_Right)
    QTest.keyClick(solver, Qt.Key.Key_Return)
    assert len(workshop.session.collection.pots) == count + 2
    best, box = solver.four()[-1]
    press(solver, box.center())
    assert pot(workshop).length_mm == best.pot.length_mm
    assert not solver.grab().isNull()


def test_where_nothing_fits_the_chart_says_what_would_have_to_give(workshop: MainWindow) -> None:
    s = workshop.session
    s.choose_tree("old-ferryman")
    s.change_brief("Bench", limits=s.brief.limits.changed(bench_length_mm=150.0))
    workshop.do("solve")
    solution = workshop.face("workshop").desk.solver.solution
    assert solution is not None
    assert solution.designs == ()
    assert any(r.limit == "bench_length" for r in solution.relax)
    assert "No pot obeys every limit" in workshop.status.message
    assert not workshop.face("workshop").desk.solver.grab().isNull()


def test_a_belt_is_chosen_typed_and_dragged(workshop: MainWindow) -> None:
    shape, before = workshop.face("workshop").makers.shape, pot(workshop)
    assert not shape.fields["belt:tall_mm"].isVisible()
    shape.bands["belt"].chosen.emit("round")
    assert shape.fields["belt:tall_mm"].isVisible()
    assert pot(workshop).bands[0].form == "round"
    shape.fields["belt:proud_mm"].entered.emit(3.5)
    view = workshop.face("workshop").desk.profile
    tip = grip(view, "belt:at_mm")
    drag(view, tip, (0, -20))
    moved = pot(workshop).bands[0]
    assert moved.at_share > 0.6
    assert moved.proud_mm == 3.5
    shape.bands["lip"].chosen.emit("flat")
    assert "Over all" in [fact.words for fact in live_facts(pot(workshop), workshop.session.units)]
    both = pot(workshop)
    drag(view, grip(view, "belt:at_mm"), (0, -600))
    assert "run into each other" in workshop.status.message
    assert pot(workshop) == both
    assert solid(pot(workshop)).is_watertight
    shape.bands["belt"].chosen.emit("none")
    shape.bands["lip"].chosen.emit("none")
    assert pot(workshop).bands == ()
    assert pot(workshop).height_mm == before.height_mm


def test_sides_of_a_polygon_are_typed(workshop: MainWindow) -> None:
    shape = workshop.face("workshop").makers.shape
    assert not shape.count.isVisible()
    shape.outline.chosen.emit("polygon")
    assert shape.count.isVisible()
    shape.count.setText("8")
    shape.count.editingFinished.emit()
    assert pot(workshop).outline.sides == 8
    shape.count.setText("eight")
    shape.count.editingFinished.emit()
    assert "is no whole number" in workshop.status.message
    shape.count.setText("2")
    shape.count.editingFinished.emit()
    assert pot(workshop).outline.sides == 8
    assert workshop.status.message


def test_a_new_pot_starts_from_what_the_school_asks(workshop: MainWindow) -> None:
    workshop.session.choose_tree("tollgate")
    workshop.do("draw_pot")
    made = pot(workshop)
    bands = workshop.session.case().bands
    assert bands.length.low is not None
    assert bands.length.high is not None
    assert bands.length.low <= made.length_mm <= bands.length.high
    assert bands.depth.low is not None
    assert bands.depth.high is not None
    assert bands.depth.low <= made.inner_depth_mm <= bands.depth.high
    name = workshop.face("workshop").desk.name
    name.setText("Gate saucer")
    name.editingFinished.emit()
    assert pot(workshop).name == "Gate saucer"
    workshop.face("workshop").desk.list.search.setText("saucer")
    assert workshop.face("workshop").desk.list.view.count() == 1


@pytest.mark.parametrize("family", list(FAMILIES))
def test_every_family_of_walls_can_be_made_and_is_known_again(family: str) -> None:
    made = with_family(new_design("d", None, None), family)
    assert family_of(made) == family
    if family != "slab":
        assert solid(made).is_watertight
        assert family_of(with_value(made, "height_mm", made.height_mm + 5)) == family


def test_an_empty_collection_says_how_to_begin(open_window) -> None:  # type: ignore[no-untyped-def]
    from kesh.model import Collection

    window = open_window(Collection(name="Empty"))
    window.go("workshop")
    assert "Draw a pot" in window.face("workshop").makers.note.text()
    window.do("solve")
    assert "no tree to design for" in window.status.message
    window.do("make_files")
    assert "there is no design yet" in window.status.message
    window.do("draw_pot")
    assert pot(window).name == "New pot"
    window.grab()


def test_tray_and_stand_become_designs_of_their_own(workshop: MainWindow) -> None:
    for link, name in (
        (workshop.face("workshop").makers.shape.tray, "Drip tray, Ferry tray"),
        (workshop.face("workshop").makers.shape.stand, "Stand, Ferry tray"),
    ):
        workshop.face("workshop").desk.list.choose("ferry-tray")
        link.click()
        assert pot(workshop).name == name
        assert pot(workshop).made_for == "old-ferryman"
        workshop.grab()


def test_a_free_outline_is_drawn_by_its_corners_and_may_not_cross_itself(workshop: MainWindow) -> None:
    workshop.face("workshop").makers.shape.outline.chosen.emit("free")
    view, before = workshop.face("workshop").desk.plan, pot(workshop)
    assert before.outline.kind == "free"
    assert solid(before).is_watertight
    far = max(range(len(before.outline.points_mm)), key=lambda k: before.outline.points_mm[k][0])
    drag(view, grip(view, f"point:{far}"), (14, 0))
    after = pot(workshop)
    assert after.length_mm - before.length_mm == pytest.approx(14 / view.px_mm, abs=3)
    assert after.width_mm == before.width_mm
    drag(view, grip(view, f"point:{far}"), (-200, 30))
    assert workshop.status.message
    assert pot(workshop) == after
    workshop.do("undo")
    assert pot(workshop) == before
