"""Step Roots: a root drawn by a stroke, taken in hand, pulled, kept, and the plan that follows."""

from datetime import date

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.desk.root_map import (
    degrees_of,
    plan_words,
    pulled,
    step_words,
    stroked_root,
    tilt_words,
    usual_map,
    with_root,
)
from kesh.model import MapRoot, Tree
from kesh.science.roots.lines import along_mm, azimuth_of, root_line, turned_line, until_mm
from kesh.science.roots.plan import Bounds, root_plan
from kesh.science.roots.side_room import tilted_tree, toward
from kesh.ui.rooms.roots.face import RootsFace
from kesh.ui.window import MainWindow
from tests.ui.conftest import drag
from tests.ui.root_hands import at_roots, spot


def tree_of(key: str = "wicket") -> Tree:
    return demo_collection().trees[key]


def ray(azimuth: float, start: float, end: float, steps: int = 12) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in toward(azimuth) * np.linspace(start, end, steps)[:, None]]


# without a window ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("azimuth", [0, 75, 190, 300])
def test_a_stroke_outward_is_a_radial_root_at_its_azimuth(azimuth: float) -> None:
    tree = tree_of()
    trunk = tree.measure.trunk_at_soil_mm or 0.0
    (root,) = stroked_root(tree, ray(azimuth, 0, 0.4 * trunk + 90)).root_map
    assert root.kind == "radial"
    assert min((root.azimuth_deg - azimuth) % 360, (azimuth - root.azimuth_deg) % 360) < 0.5
    assert root.reach_mm == pytest.approx(90, abs=8)
    assert np.allclose(root_line(root, trunk)[-1], toward(azimuth) * (0.4 * trunk + 90), atol=0.2)


def test_a_stroke_round_the_trunk_circles_and_one_over_another_crosses() -> None:
    tree = tree_of()
    trunk = tree.measure.trunk_at_soil_mm or 0.0
    around = [(0.0, 0.0), *((float(x), float(y)) for x, y in toward(np.linspace(40, 150, 30)) * 0.7 * trunk)]
    assert stroked_root(tree, around).root_map[0].kind == "circling"
    first = stroked_root(tree, ray(90, 0, 120))
    over = [(0.0, 0.0), *ray(70, 30, 70), *((float(x), float(y)) for x, y in toward(np.linspace(70, 120, 9)) * 75)]
    assert stroked_root(first, over).root_map[1].kind in ("crossing", "circling")
    # thickness is that of the roots that are known
    thick = with_root(first, "r1", diameter_mm=17.0)
    assert stroked_root(thick, ray(200, 0, 90)).root_map[1].diameter_mm == 17
    assert stroked_root(thick, ray(200, 0, 90)).root_map[1].id == "r2"


def test_strokes_that_are_no_roots_are_one_sentence_each() -> None:
    tree = tree_of()
    for points, word in ((ray(10, 200, 300), "begin the stroke on the trunk"), (ray(10, 0, 6), "ends on the trunk")):
        with pytest.raises(FieldError, match=word):
            stroked_root(tree, points)
    full = tree.changed(
        root_map=tuple(MapRoot(id=f"r{n}", azimuth_deg=12 * n, diameter_mm=5, reach_mm=60) for n in range(30))
    )
    with pytest.raises(FieldError, match="as many as a map holds"):
        stroked_root(full, ray(10, 0, 120))


def test_pulling_an_end_turns_and_stretches_the_root() -> None:
    tree = tree_of().changed(root_map=(MapRoot(id="a", azimuth_deg=40, diameter_mm=9, reach_mm=80),))
    trunk = tree.measure.trunk_at_soil_mm or 0.0
    end = toward(200.0) * (0.42 * trunk + 110)
    (root,) = pulled(tree, "a", (float(end[0]), float(end[1]))).root_map
    assert root.azimuth_deg == pytest.approx(200, abs=0.2)
    assert root.reach_mm == pytest.approx(110, abs=0.3)
    drawn = stroked_root(tree_of(), [(0.0, 0.0), *ray(60, 20, 60), *ray(75, 70, 120)])
    moved = pulled(drawn, "r1", (0.0, -150.0)).root_map[0]
    assert np.allclose(root_line(moved, trunk)[-1], [0, -150], atol=0.5)
    assert moved.kind == drawn.root_map[0].kind


def test_lines_and_places_along_them() -> None:
    line = np.array([[0.0, 0.0], [3, 4], [3, 10]])
    assert along_mm(line).tolist() == [0, 5, 11]
    assert np.allclose(until_mm(line, 8)[-1], [3, 7])
    assert azimuth_of(np.array([-1.0, 0.0])) == 90
    # turned in its pot against the clock, the right comes to the back
    assert np.allclose(turned_line(np.array([[1.0, 0.0]]), 90), [[0, 1]])


def test_a_usual_map_is_assumed_and_lies_in_the_mass() -> None:
    tree = usual_map(tree_of())
    assert len(tree.root_map) == 7
    # it slants to the right and stands on its left roots
    left, right = (
        np.mean([r.diameter_mm for r in tree.root_map if abs(r.azimuth_deg - side) < 60]) for side in (90, 270)
    )
    assert left > 1.3 * right
    # a broom stands evenly on many, one from a nursery pot has a root that circles
    broom = usual_map(tree_of("mossback").changed(root_map=()))
    assert len(broom.root_map) == 11
    assert any(r.kind == "circling" for r in usual_map(tree_of("evening-bell")).root_map)
    assert not any(r.kind == "circling" for r in broom.root_map)
    assert all(r.note == "assumed" for r in tree.root_map)
    assert usual_map(tree_of()) == tree
    roots = tree.roots
    assert roots is not None
    for root in tree.root_map:
        x, y = root_line(root, tree.measure.trunk_at_soil_mm or 60)[-1] - [roots.offset_x_mm, roots.offset_y_mm]
        assert (x / roots.length_mm * 2) ** 2 + (y / roots.width_mm * 2) ** 2 <= 1.02
    with pytest.raises(FieldError, match="root mass"):
        usual_map(tree_of("tidewater"))


def test_the_plan_in_words() -> None:
    roots = (MapRoot(id="a", azimuth_deg=90, diameter_mm=10, reach_mm=100, kind="circling", side_root_at_mm=30),
             MapRoot(id="b", azimuth_deg=200, diameter_mm=10, reach_mm=90),
             MapRoot(id="c", azimuth_deg=320, diameter_mm=8, reach_mm=90, kind="dead"))  # fmt: skip
    plan = root_plan(roots, Bounds(0.3))
    today, u = date(2026, 3, 1), Units()
    assert step_words(plan, roots[0], today, u) == ("cut at 30 mm now, 24%", "circles the trunk")
    assert step_words(plan, roots[1], today, u) == ("stays", "no fault")
    assert step_words(plan, roots[2], today, u)[0] == "off now, no feeders"
    later = root_plan(roots, Bounds(0.2, (0.0,), 3.0))
    assert "in 2029" not in step_words(later, roots[0], today, u)[0]
    assert plan_words(plan).startswith(f"Faults mended now: {plan.points:.1f} points. Largest gap 250°.")
    assert plan_words(plan, 42.0, u).endswith("Plate 42 mm thick.")


# with a window ---------------------------------------------------------------------------------------------------


@pytest.fixture
def face(window: MainWindow) -> RootsFace:
    return at_roots(window, "mossback")


def stroke(face: RootsFace, points: list[tuple[float, float]]) -> None:
    """A stroke over the plan, with the mouse."""
    spots = [spot(face, p).toPoint() for p in points]
    QTest.mousePress(face.map, Qt.MouseButton.LeftButton, pos=spots[0])
    for place in spots[1:]:
        QTest.mouseMove(face.map, place)
    QTest.mouseRelease(face.map, Qt.MouseButton.LeftButton, pos=spots[-1])


def roots_of(window: MainWindow) -> tuple[MapRoot, ...]:
    tree = window.session.tree
    assert tree is not None
    return tree.root_map


def test_step_four_opens_it_and_the_path_tells_of_it(window: MainWindow) -> None:
    window.session.choose_tree("mossback")
    QTest.keyClick(window, Qt.Key.Key_4)
    assert window.room == "roots"
    assert "roots to cut now" in window.head.title.text()
    assert len(window.face("roots").beside.list.rows) == 9


def test_a_drag_from_the_trunk_makes_a_root_and_undo_takes_it_away(window: MainWindow, face: RootsFace) -> None:
    before = roots_of(window)
    stroke(face, ray(205, 0, 110, 8))
    made = roots_of(window)
    assert len(made) == len(before) + 1
    assert made[-1].azimuth_deg == pytest.approx(205, abs=4)
    assert face.map.root_id == made[-1].id
    assert face.beside.card.head.isVisible()
    assert len(face.beside.list.rows) == len(made)
    window.do("undo")
    assert roots_of(window) == before
    assert face.map.root() is None
    assert not face.beside.card.head.isVisible()


def test_a_root_is_taken_by_click_list_and_key_and_worked_by_keys(window: MainWindow, face: RootsFace) -> None:
    window.session.edit("No photo", [("photo", "mossback-roots-photo", None)])
    root = roots_of(window)[6]
    middle = root_line(root, 92.0)[14]
    QTest.mouseClick(
        face.map, Qt.MouseButton.LeftButton, pos=spot(face, (float(middle[0]), float(middle[1]))).toPoint()
    )
    assert face.map.root_id == root.id
    assert face.beside.card.reach.mm == root.reach_mm
    QTest.keyClick(face.map, Qt.Key.Key_Left)
    QTest.keyClick(face.map, Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
    now = roots_of(window)[6]
    assert now.azimuth_deg == pytest.approx(root.azimuth_deg + 1)
    assert now.reach_mm == pytest.approx(root.reach_mm + 10)
    QTest.keyClick(face.map, Qt.Key.Key_K)
    assert roots_of(window)[6].keep
    QTest.keyClick(face.map, Qt.Key.Key_R)
    assert face.map.root_id == roots_of(window)[7].id
    QTest.mouseClick(
        face.beside.list, Qt.MouseButton.LeftButton, pos=face.beside.list.rect().topLeft() + QPointF(20, 60).toPoint()
    )
    assert face.map.root_id == roots_of(window)[1].id
    QTest.keyClick(face.map, Qt.Key.Key_Delete)
    assert len(roots_of(window)) == 8
    assert face.map.root_id == ""


def test_its_end_is_pulled_and_the_plan_follows(window: MainWindow, face: RootsFace) -> None:
    root = roots_of(window)[0]
    face.map.take(root.id)
    start = spot(face, tuple(root_line(root, 92.0)[-1].tolist()))  # type: ignore[arg-type]
    before = face.map.grab().toImage()
    drag(face.map, start, (30, 10))
    now = roots_of(window)[0]
    assert now.azimuth_deg != root.azimuth_deg
    assert now.reach_mm != root.reach_mm
    assert face.map.grab().toImage() != before


def test_kind_and_keep_in_the_card_change_what_goes(window: MainWindow, face: RootsFace) -> None:
    face.map.take("r7")
    assert not face.beside.list.rows[6].goes
    face.beside.card.kind.chosen.emit("tap")
    assert roots_of(window)[6].kind == "tap"
    assert face.beside.list.rows[6].goes
    assert "taproot" in face.beside.list.rows[6].why
    face.beside.card.keep.setText("the only one at the back")
    face.beside.card.keep.editingFinished.emit()
    assert not face.beside.list.rows[6].goes
    assert "the only one at the back" in face.beside.list.rows[6].why


def test_the_plan_is_kept_with_the_planting_and_comes_back_from_the_file(window: MainWindow, face: RootsFace) -> None:
    face.beside.main.click()
    planting = window.session.planting
    assert planting is not None
    assert [step.root for step in planting.plan] == [r.id for r in roots_of(window)]
    assert planting.plan_made == window.session.today
    assert "Plan kept: 3 roots" in window.status.message
    assert window.session.file.collection.planting_of("mossback") == planting
    note = window.steps.notes["roots"] if hasattr(window, "steps") and hasattr(window.steps, "notes") else None
    assert note is None or "3 cuts planned" in str(note)
    window.do("undo")
    assert window.session.planting is not None
    assert window.session.planting.plan == ()


def test_a_tree_without_a_map_shows_the_ways_to_one(window: MainWindow) -> None:
    window.session.choose_tree("wicket")
    window.go("roots")
    face = window.face("roots")
    assert face.beside.usual.isVisible()
    assert "Draw the roots" in window.head.title.text()
    face.beside.usual.click()
    assert len(roots_of(window)) == 7
    assert not face.beside.usual.isVisible()
    assert "assumed" in face.beside.note.text()
    # a corrected root is assumed no longer
    face.map.take("r1")
    face.beside.card.thick.entered.emit(14.0)
    assert roots_of(window)[0].note == ""


def test_a_tree_in_no_pot_says_so(window: MainWindow) -> None:
    planting = window.session.collection.planting_of("wicket")
    assert planting is not None
    window.session.choose_tree("wicket")
    window.session.edit("Out of its pot", [("planting", planting.id, planting.changed(ended=date(2026, 3, 1)))])
    window.go("roots")
    face = window.face("roots")
    assert "no pot" in window.head.title.text()
    assert not face.beside.main.isEnabled()
    assert not face.map.grab().toImage().isNull()


def test_signs_are_answered_and_say_go_or_wait(window: MainWindow, face: RootsFace) -> None:
    box = face.beside.signs
    assert "Not looked" in box.verdict.text()
    blank = box.drawings["buds"].grab().toImage()
    box.answers["buds"].chosen.emit("swelling")
    box.answers["wobble"].chosen.emit("firm")
    assert "Go" in box.verdict.text()
    assert "Still to look at" in box.text.text()
    assert "2 of 7" in box.head._note
    assert box.drawings["buds"].grab().toImage() != blank
    box.answers["white_tips"].chosen.emit("many")
    assert "Wait" in box.verdict.text()
    share = face.beside.bar._limit
    box.tips.chosen.emit("care")
    assert "with care" in box.verdict.text()
    assert face.beside.bar._limit == pytest.approx(0.7 * (share or 0))
    box.answers["white_tips"].chosen.emit("")
    assert "Go" in box.verdict.text()
    tree = window.session.tree
    assert tree is not None
    assert {s.sign for s in tree.signs} == {"buds", "wobble"}
    window.do("undo")
    assert "with care" in box.verdict.text()


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_every_answer_has_a_drawing_of_its_own(window: MainWindow, face: RootsFace, theme: str) -> None:
    from kesh.science.season.before_lift import ANSWERS
    from kesh.ui.theme.tokens import THEMES

    window.session.set_theme(THEMES[theme])
    for sign, options in ANSWERS.items():
        drawing, pictures = face.beside.signs.drawings[sign], []
        for value in ("", *options):
            drawing.show_value(value)
            pictures.append(drawing.grab().toImage())
        assert all(a != b for n, a in enumerate(pictures) for b in pictures[:n]), sign


def test_a_side_is_left_alone_and_let_go_again(window: MainWindow, face: RootsFace) -> None:
    assert face.beside.list.rows[2].goes
    before = face.map.grab().toImage()
    face.map.take("r3")
    face.beside.card.alone.click()
    tree = window.session.tree
    assert tree is not None
    assert tree.roots is not None
    (sector,) = tree.roots.untouched
    assert sector.holds(104)
    assert sector.span_deg == pytest.approx(45)
    assert not face.beside.list.rows[2].goes
    assert "left alone" in face.beside.list.rows[2].why
    assert face.map.grab().toImage() != before
    assert "worked again" in face.beside.card.alone.text()
    face.beside.card.alone.click()
    assert window.session.tree.roots.untouched == ()  # type: ignore[union-attr]
    assert face.beside.list.rows[2].goes


def test_views_show_the_map_after_each_repotting(window: MainWindow, face: RootsFace) -> None:
    assert [key for key, _ in face.views()] == ["now", "after1"]
    now = face.map.grab().toImage()
    window.show_view("after1")
    assert face.map.after == 1
    done = face.map.grab().toImage()
    assert done != now
    # nothing is left to cut: the view goes back by itself
    tree = window.session.tree
    assert tree is not None
    plain = tuple(r.changed(kind="radial") for r in tree.root_map)
    window.session.edit("All radial", [("tree", tree.id, tree.changed(root_map=plain))])
    # the pot itself still takes a little off: that is a step too
    assert face.view == "after1"
    assert tree.roots is not None
    small = tree.roots.changed(length_mm=180.0, width_mm=130.0, depth_mm=30.0)
    window.session.edit(
        "It fits", [("tree", tree.id, tree.changed(root_map=plain, root_masses=(*tree.root_masses[:-1], small)))]
    )
    assert face.view == "now"
    assert face.map.after == 0
    assert face.views() == ()


def test_a_tilt_and_a_turn_are_typed_and_told(window: MainWindow, face: RootsFace) -> None:
    panel = face.beside
    assert "Upright" in panel.tilting.told.text()
    before = face.map.grab().toImage()
    panel.tilting.tilt.setText("7,5°")
    panel.tilting.tilt.editingFinished.emit()
    planting = window.session.planting
    assert planting is not None
    assert planting.tilt_deg == 7.5
    # 430 mm of tree: 430 sin 7.5
    assert "56 mm to the right" in panel.tilting.told.text()
    assert "under the left side" in panel.tilting.told.text()
    panel.tilting.turn.setText("-30")
    panel.tilting.turn.editingFinished.emit()
    assert window.session.planting.turn_deg == -30  # type: ignore[union-attr]
    assert face.map.grab().toImage() != before
    panel.tilting.tilt.setText("steep")
    panel.tilting.tilt.editingFinished.emit()
    assert "write degrees" in window.status.message
    panel.tilting.tilt.setText("75")
    panel.tilting.tilt.editingFinished.emit()
    assert "outside" in window.status.message
    assert window.session.planting.tilt_deg == 7.5  # type: ignore[union-attr]
    window.do("undo")
    window.do("undo")
    assert window.session.planting.tilt_deg == 0  # type: ignore[union-attr]


@pytest.mark.parametrize(("text", "value"), [("12", 12), ("-3.5", -3.5), ("7,5°", 7.5), ("", 0), ("−4", -4)])
def test_degrees_as_people_write_them(text: str, value: float) -> None:
    assert degrees_of(text, "tilt", 60) == value


def test_what_a_tilt_brings_in_words() -> None:
    u = Units()
    left = tilt_words(tilted_tree(400.0, None, -10, 270.0), -10, u)
    assert "69 mm to the left" in left
    assert "wedge" not in left.lower()
    assert "lean by 10°" in left
    assert "Upright" in tilt_words(tilted_tree(400.0, None, 0, 270.0), 0, u)
