"""Step Planting with hands: the trunk in both views, wires and holes, ways to hold it, views, stock, and writing it down."""

from datetime import date

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from kesh.desk.deleting import without_tree
from kesh.desk.lineup import with_offset
from kesh.model import Collection, Planting, Tie
from kesh.ui.hand.view import TRUE_PX_MM
from kesh.ui.rooms.planting.drawing import seen_from_m
from kesh.ui.rooms.planting.face import PlantingFace
from kesh.ui.rooms.planting.work_panel import HaveEdit
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers, drag


def at_planting(window: MainWindow, tree: str = "old-ferryman", view: str = "ties") -> PlantingFace:
    window.session.choose_tree(tree)
    window.go("planting")
    window.show_view(view)
    face = window.face("planting")
    assert isinstance(face, PlantingFace)
    return face


def kept(face: PlantingFace) -> Planting:
    planting = face.planting()
    assert planting is not None
    return planting


def spot(face: PlantingFace, key: str) -> QPointF:
    return next(s.at for s in face.drawing_sheet.spots() if s.key == key)


def test_the_line_ups_pot_is_planned_and_the_tree_stays_where_it_stands(window: MainWindow) -> None:
    face = at_planting(window)
    s = window.session
    assert face.pot_in_hand() == "riverstone-oval"
    drag(face.drawing_sheet, spot(face, "trunk"), (-20, 10))
    planting = kept(face)
    assert planting.planned
    assert planting.pot == "riverstone-oval"
    assert s.pot is not None
    assert s.pot.id == "training-box"
    assert s.collection.others_in("riverstone-oval", "nobody") == ()
    s.undo()
    assert s.collection.planting_of("old-ferryman", "riverstone-oval") is None


def test_the_trunk_is_dragged_in_the_plan_to_scale(window: MainWindow) -> None:
    face = at_planting(window)
    before, k = kept(face), face.drawing_sheet.px_mm
    drag(face.drawing_sheet, spot(face, "trunk"), (30, -20))
    after = kept(face)
    assert after.offset_x_mm - before.offset_x_mm == pytest.approx(30 / k, abs=0.6)
    assert after.offset_y_mm - before.offset_y_mm == pytest.approx(20 / k, abs=0.6)


def test_from_the_front_it_moves_along_and_up(window: MainWindow) -> None:
    face = at_planting(window)
    sheet = face.drawing_sheet
    before, k = kept(face), sheet.front_plane().px_mm
    # up the trunk, past the handle that tilts it
    at = spot(face, "front") - QPointF(0, 4)
    drag(sheet, at, (12, -8))
    after = kept(face)
    assert after.offset_x_mm - before.offset_x_mm == pytest.approx(12 / k, abs=1.0)
    assert after.raise_mm - before.raise_mm == pytest.approx(8 / k, abs=1.0)


def test_a_drag_shows_and_escape_drops_it(window: MainWindow) -> None:
    face = at_planting(window)
    before = kept(face)
    drag(face.drawing_sheet, spot(face, "trunk"), (40, 0), drop=False)
    assert kept(face).offset_x_mm != before.offset_x_mm
    assert window.session.dragging
    QTest.keyClick(face.drawing_sheet, Qt.Key.Key_Escape)
    assert kept(face).offset_x_mm == before.offset_x_mm


def test_keys_move_tilt_turn_and_mound(window: MainWindow) -> None:
    face = at_planting(window)
    sheet, before = face.drawing_sheet, kept(face)
    for key in (Qt.Key.Key_Left, Qt.Key.Key_Left, Qt.Key.Key_Up):
        QTest.keyClick(sheet, key)
    QTest.keyClick(sheet, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(sheet, Qt.Key.Key_T)
    QTest.keyClick(sheet, Qt.Key.Key_T, Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(sheet, Qt.Key.Key_T)
    QTest.keyClick(sheet, Qt.Key.Key_R)
    QTest.keyClick(sheet, Qt.Key.Key_M)
    after = kept(face)
    assert after.offset_x_mm == pytest.approx(before.offset_x_mm - 2 + 10)
    assert after.offset_y_mm == pytest.approx(before.offset_y_mm + 1)
    assert (after.tilt_deg, after.turn_deg, after.mound_mm) == (1, 5, 2)
    QTest.keyClick(sheet, Qt.Key.Key_W)
    assert face.pot_in_hand() == "iron-rectangle"


def test_a_hole_end_snaps_to_a_hole_and_the_wire_is_the_trees_own(window: MainWindow) -> None:
    face = at_planting(window)
    sheet, plan = face.drawing_sheet, face.plan()
    assert plan is not None
    assert plan.ties is not None
    pot = plan.a.pot
    other = plan.ties.wires[1].holes[1]
    here = spot(face, "hole:1:0")
    away = sheet.plan_plane().px(*other) - here
    drag(sheet, here, (away.x() + 6, away.y() - 5))
    ties = kept(face).ties
    assert len(ties) == len(plan.ties.wires)
    holes = {(h.x_mm, h.y_mm) for h in pot.holes}
    assert ties[0].holes[0] in holes
    assert ties[0].holes[0] == pytest.approx(other, abs=0.1)


def test_where_a_wire_takes_hold_changes_its_length_and_its_hold(window: MainWindow) -> None:
    face = at_planting(window)
    before = face.plan()
    assert before is not None
    drag(face.drawing_sheet, spot(face, "over:2:0"), (-40, 0))
    after = face.plan()
    assert after is not None
    assert before.ties is not None
    assert after.ties is not None
    assert after.ties.wires[1].over[0][0] < before.ties.wires[1].over[0][0] - 10
    assert after.ties.wires[1].length_mm != before.ties.wires[1].length_mm
    assert face.beside.card.isVisible()
    face.beside.card.pad.click()
    assert kept(face).ties[1].pad
    face.beside.rule.click()
    assert kept(face).ties == ()


def test_g_walks_all_ends_and_arrows_move_the_one_in_hand(window: MainWindow) -> None:
    face = at_planting(window)
    sheet = face.drawing_sheet
    for _ in range(40):
        QTest.keyClick(sheet, Qt.Key.Key_G)
        if sheet.in_hand.startswith("over"):
            break
    wire = sheet.wire
    QTest.keyClick(sheet, Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
    plan = face.plan()
    assert plan is not None
    assert next(t for t in kept(face).ties if t.id == wire)


def test_each_way_to_hold_it_is_told_with_its_force(window: MainWindow) -> None:
    face = at_planting(window)
    strip = face.beside.strip
    for key in ("guys", "rods", "raft", "stones", "none", "ties"):
        strip.chosen.emit(key)
        assert kept(face).anchors == key
        plan = face.plan()
        assert plan is not None
        assert plan.ties is not None
        assert plan.ties.anchors == key
        assert "N at the apex" in face.title()
    strip.setFocus()
    QTest.keyClick(strip, Qt.Key.Key_Right)
    assert kept(face).anchors == "rods"


def test_fields_take_figures_and_refuse_what_is_none(window: MainWindow) -> None:
    face = at_planting(window)
    field = face.beside.fields["offset_x_mm"]
    field.setText("-1.5 cm")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert kept(face).offset_x_mm == -15
    angle = face.beside.angles["tilt_deg"]
    for text, wanted in (("-4°", -4.0), ("nonsense", -4.0), ("nan", -4.0), ("95", -4.0)):
        angle.setText(text)
        QTest.keyClick(angle, Qt.Key.Key_Return)
        assert kept(face).tilt_deg == wanted, text
    face.beside.best.click()
    assert face.plan() is not None


def test_gauge_metal_and_one_more_wire(window: MainWindow) -> None:
    face = at_planting(window)
    face.beside.gauge.chosen.emit("3")
    assert {t.gauge_mm for t in kept(face).ties} == {3.0}
    face.beside.metal.chosen.emit("copper")
    assert {t.metal for t in kept(face).ties} == {"copper"}
    n = len(kept(face).ties)
    face.beside.more.click()
    assert len(kept(face).ties) == n + 1
    face.drawing_sheet.take(f"over:{kept(face).ties[-1].id}:0")
    face.beside.card.away.click()
    assert len(kept(face).ties) == n


def test_views_change_the_work_and_the_planting(window: MainWindow) -> None:
    face = at_planting(window)
    face.beside.views.choices["tie"].chosen.emit("never")
    assert kept(face).anchors == "none"
    face.beside.views.choices["order"].chosen.emit("fill_first")
    face.beside.views.choices["tie"].chosen.emit("always")
    assert kept(face).anchors == "ties"
    plan = face.plan()
    assert plan is not None
    keys = [s.key for s in plan.steps]
    assert keys.index("fill") < keys.index("tighten")
    box = face.beside.views
    box.folded.unfold()
    for key in range(box.question.count()):
        box.question.setCurrentIndex(key)
        box.question.chosen.emit(str(box.question.itemData(key)))
        assert "Some:" in box.told.text()
        assert "Others:" in box.told.text()


def test_place_view_shows_range_lever_and_room(window: MainWindow) -> None:
    face = at_planting(window, view="place")
    plan = face.plan()
    assert plan is not None
    assert plan.lever is not None
    assert plan.lever.custom.x_high < 0, "against a flow to the right"
    assert not face.drawing_sheet.grab().isNull()


def test_stock_typed_in_the_panel_is_kept_and_told_missing(window: MainWindow) -> None:
    face = at_planting(window, view="work")
    field = next(f for f in face.before.findChildren(HaveEdit) if "wire 2 mm" in f.accessibleName())
    field.setText("0,4")
    QTest.keyClick(field, Qt.Key.Key_Return)
    held = window.session.collection.stock["wire-aluminium-2"]
    assert held.have == 0.4
    plan = face.plan()
    assert plan is not None
    assert any(f.code == "stock" and f.status == "no" for f in plan.findings)
    field = next(f for f in face.before.findChildren(HaveEdit) if "wire 2 mm" in f.accessibleName())
    field.setText("-3")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert window.session.collection.stock["wire-aluminium-2"].have == 0.4
    assert "no amount" in window.status.message


def test_the_work_is_listed_and_walked(window: MainWindow) -> None:
    face = at_planting(window, view="work")
    plan = face.plan()
    assert plan is not None
    assert str(len(plan.steps)) in face.title()
    QTest.keyClick(face.order, Qt.Key.Key_Down)
    assert face.before.at == 1
    QTest.mouseClick(face.order, Qt.MouseButton.LeftButton, pos=face.order._cells()[3].center().toPoint())
    assert face.before.at == 3
    assert plan.steps[3].lines[0] in face.before.told.text()


def test_written_down_it_stands_there_and_one_undo_takes_all_back(window: MainWindow) -> None:
    face = at_planting(window)
    s = window.session
    before = s.collection
    window.do("potted")
    c = s.collection
    assert s.pot is not None
    assert s.pot.id == "riverstone-oval"
    assert c.pots["riverstone-oval"].state == "in_use"
    assert c.pots["training-box"].state == "shelf"
    event = max((e for e in c.events if e.tree == "old-ferryman"), key=lambda e: e.date)
    assert event.kind == "repotted"
    assert dict(event.planned)["offset_x_mm"] == dict(event.figures)["offset_x_mm"]
    assert event.date == date(2026, 3, 10)
    tasks = [t for t in s.book().tasks if t.event == event.id]
    # nothing that can be worked out is written down
    assert c.tasks == before.tasks
    assert {t.kind for t in tasks} >= {"shade", "first_watering", "remove_ties"}
    assert s.planting is not None
    assert not s.planting.planned
    assert s.tree is not None
    assert s.tree.roots is not None
    assert s.tree.roots.seen == date(2026, 3, 10)
    gone = {r.id for r in before.trees["old-ferryman"].root_map} - {r.id for r in s.tree.root_map}
    assert len(s.tree.root_map) + len(gone) == len(before.trees["old-ferryman"].root_map)
    s.undo()
    assert s.collection == before
    assert face.plan() is not None


def test_a_pot_that_holds_another_tree_is_refused_in_words(window: MainWindow) -> None:
    face = at_planting(window)
    face.arrive(pot="gate-oval")
    s = window.session
    lineup = s.lineup()
    s.edit("x", [("lineup", "old-ferryman", lineup.changed(pots=(*lineup.pots, "gate-oval"), chosen="gate-oval"))])
    assert face.pot_in_hand() == "gate-oval"
    before = s.collection
    window.do("potted")
    assert s.collection == before
    assert "another tree" in window.status.message


def test_empty_places_say_what_to_do(open_window, answers: Answers) -> None:  # type: ignore[no-untyped-def]
    window = open_window(Collection(name="Empty"))
    window.go("planting")
    face = window.face("planting")
    assert "No tree" in face.title()
    for view in ("ties", "place", "work"):
        window.show_view(view)
        assert not window.grab().isNull()
    window.do("potted")
    window.do("at_bench")
    window.do("work_sheet")
    assert "step 3" in window.status.message


def test_guys_are_added_in_the_widest_gap_and_take_hold_higher(window: MainWindow) -> None:
    face = at_planting(window)
    face.beside.strip.chosen.emit("guys")
    face.beside.more.click()
    assert len(kept(face).ties) == 4
    plan = face.plan()
    assert plan is not None
    assert plan.ties is not None
    assert plan.ties.hold is not None
    assert plan.ties.hold.widest_gap_deg == pytest.approx(120, abs=3)
    assert all(w.hole_z_mm > 0 for w in plan.ties.wires), "on the rim, not at the floor"
    face.drawing_sheet.take("over:1:0")
    card = face.beside.card
    before = plan.ties.wires[0].length_mm
    card.high.setText("320")
    QTest.keyClick(card.high, Qt.Key.Key_Return)
    after = face.plan()
    assert after is not None
    assert after.ties is not None
    assert after.ties.wires[0].over[0][2] == 320
    assert after.ties.wires[0].length_mm > before


def test_line_up_roots_water_and_planting_speak_of_one_trunk(window: MainWindow) -> None:
    face = at_planting(window)
    s = window.session
    s.edit("x", [("lineup", "old-ferryman", s.lineup().changed(chosen="riverstone-oval"))])
    QTest.keyClick(face.drawing_sheet, Qt.Key.Key_Left)
    planting = kept(face)
    trial = next(t for t in s.lineup().trials if t.pot == "riverstone-oval")
    assert trial.offset_x_mm == planting.offset_x_mm
    s.edit("moved there", [("lineup", "old-ferryman", with_offset(s.lineup(), "riverstone-oval", -30.0, 5.0))])
    assert (kept(face).offset_x_mm, kept(face).offset_y_mm) == (-30.0, 5.0)
    s.undo()
    assert kept(face).offset_x_mm == planting.offset_x_mm
    s.edit("raised", [("planting", planting.id, planting.changed(raise_mm=9.0, mound_mm=15.0))])
    window.go("roots")
    roots = window.face("roots").assessment()
    assert roots is not None
    assert roots.pot.id == "riverstone-oval"
    assert roots.seat.raise_mm == 9.0
    window.go("water")
    case, pot = window.face("water")._stands()[0]  # type: ignore[attr-defined]
    assert pot.id == "riverstone-oval"
    assert case.mound_mm == 15.0


def test_a_wire_on_the_floor_is_refused_by_hand_and_told_when_it_came_in(window: MainWindow) -> None:
    face = at_planting(window)
    face.drawing_sheet.take("over:1:0")
    card = face.beside.card
    card.high.setText("0")
    QTest.keyClick(card.high, Qt.Key.Key_Return)
    assert "above it" in window.status.message
    flat = kept(face).changed(ties=(Tie(id="1", holes=((-50, 0), (50, 0)), over=((-50, 0, 0), (50, 0, 0))),))
    window.session.edit("came in", [("planting", flat.id, flat)])
    plan = face.plan()
    assert plan is not None
    assert any("on the floor" in f.text for f in plan.findings)
    face.beside.rule.click()
    assert face.plan().ties is not None  # type: ignore[union-attr]


def test_with_the_tree_go_its_tasks_and_its_work(window: MainWindow) -> None:
    at_planting(window)
    window.do("potted")
    s = window.session
    assert any(t.tree == "old-ferryman" for t in s.collection.tasks)
    changes, _ = without_tree(s.collection, "old-ferryman")
    s.edit("deleted", changes)
    assert not any(t.tree == "old-ferryman" for t in s.collection.tasks)


def test_the_front_says_from_how_far_the_tree_looks_so_large(window: MainWindow) -> None:
    assert seen_from_m(TRUE_PX_MM) == pytest.approx(0.6)
    face = at_planting(window, view="place")
    near = seen_from_m(face.drawing_sheet.front_plane().px_mm)
    # a tree drawn half as large is seen from twice as far
    assert seen_from_m(face.drawing_sheet.front_plane().px_mm / 2) == pytest.approx(2 * near)
    assert 1 < near < 10
