"""The Tree step: edits live in the drawing, fields and keys do the same, everything can be undone."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from kesh.store.reading import read_collection
from kesh.ui.window import MainWindow
from tests.ui.conftest import drag


def grip(window: MainWindow, key: str):  # type: ignore[no-untyped-def]
    stand = window.face("tree").front.stand
    assert stand is not None
    return next(g for g in stand.grips() if g.key == key)


def height(window: MainWindow) -> float:
    tree = window.session.tree
    assert tree is not None
    assert tree.measure.height_mm is not None
    return tree.measure.height_mm


def test_the_window_opens_on_a_tree_with_its_answer(window: MainWindow) -> None:
    assert window.head.title.text().startswith("560 mm tall;")
    assert window.trees.model.rowCount() == len(window.session.collection.trees)
    assert window.face("tree").measures.head.text() == "Old Ferryman in Training box"
    assert len(window.face("tree").measures.findings.rows) >= 1


def test_typing_a_height_writes_it_at_once_and_undo_takes_it_back(window: MainWindow) -> None:
    field = window.face("tree").measures.fields["height_mm"]
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "61 cm")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert height(window) == 610
    assert read_collection(window.session.path).trees["old-ferryman"].measure.height_mm == 610
    assert window.head.title.text().startswith("610 mm tall")
    window.do("undo")
    assert height(window) == 560
    window.do("redo")
    assert height(window) == 610


def test_what_is_no_measure_is_said_and_nothing_is_lost(window: MainWindow) -> None:
    field = window.face("tree").measures.fields["height_mm"]
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "tall")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert height(window) == 560
    assert field.text() == "tall"
    assert "not a measure" in window.status.message
    QTest.keyClick(field, Qt.Key.Key_Escape)
    assert field.text() == "560 mm"


def test_an_absurd_height_is_refused_by_the_record(window: MainWindow) -> None:
    window.session.change_measure("x", height_mm=-3)
    assert height(window) == 560
    assert window.status.message == "Height: has to be above 0 (got -3)"


def test_arrows_in_a_field_step_by_one(window: MainWindow) -> None:
    field = window.face("tree").measures.fields["trunk_diameter_mm"]
    field.setFocus()
    QTest.keyClick(field, Qt.Key.Key_Up)
    QTest.keyClick(field, Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
    assert window.session.tree.measure.trunk_diameter_mm == 89  # type: ignore[union-attr]


def test_dragging_the_apex_changes_the_height_and_the_figures_follow(window: MainWindow) -> None:
    sheet = window.face("tree").front
    g = grip(window, "height_mm")
    start = sheet.px(g.x, g.y)
    drag(sheet, start, (0, -40), drop=False)
    # still in hand: shown, not written
    assert height(window) == pytest.approx(560 + 40 / sheet.px_mm, abs=2)
    assert read_collection(window.session.path).trees["old-ferryman"].measure.height_mm == 560
    assert window.head.title.text().startswith(f"{round(height(window))} mm tall")
    shown = window.face("tree").measures.fields["height_mm"].text()
    assert shown == f"{round(height(window))} mm"
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=start.toPoint())
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=start.toPoint())
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=start.toPoint())
    assert height(window) == 560


@pytest.mark.parametrize(
    ("key", "by", "read"),
    [
        ("canopy_right_mm", (30, 0), lambda s: s.tree.measure.canopy_right_mm - 246),
        ("canopy_left_mm", (-30, 0), lambda s: s.tree.measure.canopy_left_mm - 174),
        ("crown_base_mm", (0, -20), lambda s: s.tree.measure.crown_base_mm - 152),
        ("pot_length", (25, 0), lambda s: s.pot.length_mm - 350),
        ("offset_x_mm", (18, 0), lambda s: s.planting.offset_x_mm + 30),
    ],
)  # fmt: skip
def test_every_grip_moves_its_own_figure_in_one_undo_step(
    window: MainWindow, key: str, by: tuple[int, int], read
) -> None:  # type: ignore[no-untyped-def]
    sheet = window.face("tree").front
    g = grip(window, key)
    scale = sheet.px_mm
    drag(sheet, sheet.px(g.x, g.y), by)
    times = 2 if key == "pot_length" else 1
    moved = (abs(by[0]) + abs(by[1])) / scale * times
    assert read(window.session) == pytest.approx(moved, abs=2)
    assert len(window.session.file._db.execute("SELECT DISTINCT step FROM change").fetchall()) == 1
    window.do("undo")
    assert read(window.session) == pytest.approx(0)


def test_keys_take_a_grip_and_nudge_it(window: MainWindow) -> None:
    sheet = window.face("tree").front
    sheet.setFocus()
    QTest.keyClick(sheet, Qt.Key.Key_G)
    assert sheet.in_hand == "height_mm"
    QTest.keyClick(sheet, Qt.Key.Key_Up)
    QTest.keyClick(sheet, Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(sheet, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert height(window) == pytest.approx(570.9)
    assert "Height" in window.status.hand
    QTest.keyClick(sheet, Qt.Key.Key_H)
    assert sheet.in_hand == "offset_x_mm"
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    assert sheet.in_hand is None


def test_a_drag_beyond_what_can_be_is_said_and_not_written(window: MainWindow) -> None:
    sheet = window.face("tree").front
    g = grip(window, "pot_height")
    drag(sheet, sheet.px(g.x, g.y), (0, 135 * sheet.px_mm + 40))
    assert window.session.pot.height_mm > 0  # type: ignore[union-attr]
    assert window.session.pot.height_mm <= 135  # type: ignore[union-attr]


def test_zoom_fit_and_true_size(window: MainWindow) -> None:
    sheet = window.face("tree").front
    sheet.setFocus()
    fitted = sheet.px_mm
    QTest.keyClick(sheet, Qt.Key.Key_Plus)
    assert sheet.px_mm == pytest.approx(fitted * 1.2)
    QTest.keyClick(sheet, Qt.Key.Key_X)
    assert sheet.px_mm == pytest.approx(96 / 25.4)
    assert window.status.px_mm == sheet.px_mm
    QTest.keyClick(sheet, Qt.Key.Key_Z)
    assert sheet.px_mm == pytest.approx(fitted)


def test_views_change_by_key_and_the_title_says_the_seat(window: MainWindow) -> None:
    window.do("next_view")
    assert window.view == "photo"
    window.do("next_view")
    assert window.view == "roots"
    assert window.head.title.text() == "66 mm of root: raise by 29 mm"
    window.session.choose_tree("wicket")
    assert "lower by" in window.head.title.text()
    window.session.choose_tree("tidewater")
    assert window.head.title.text() == "The root mass is not known yet"


def test_root_mass_fields_and_choices(window: MainWindow) -> None:
    panel = window.face("tree").measures
    panel.root_fields["depth"].entered.emit(80.0)
    assert window.session.tree.roots.depth_mm == 80  # type: ignore[union-attr]
    panel.health.chosen.emit("weak")
    assert window.session.tree.roots.health == "weak"  # type: ignore[union-attr]
    window.session.choose_tree("tidewater")
    panel.root_fields["length"].entered.emit(260.0)
    assert window.session.tree.roots.length_mm == 260  # type: ignore[union-attr]


def test_another_species_changes_what_is_asked(window: MainWindow) -> None:
    before = window.session.case().cut_limit
    window.face("tree").measures.species.chosen.emit("trident_maple")
    assert window.session.case().cut_limit != before
    window.face("tree").measures.species.chosen.emit("")
    assert window.session.tree.species is None  # type: ignore[union-attr]
    assert window.session.assessment().finding("wet_foot").status == "unknown"  # type: ignore[union-attr]


def test_a_new_tree_starts_empty_and_grows_with_its_figures(window: MainWindow) -> None:
    before = window.session.tree_id
    window.do("new_tree")
    card = window.face("tree").first
    assert window.session.tree_id == before
    window.grab()
    card.back.click()
    assert window.face("tree").sheet.currentWidget() is window.face("tree").front
    window.do("new_tree")
    card.name.setText("Newcomer")
    card.height_edit.entered.emit(380.0)
    card.trunk_edit.entered.emit(40.0)
    window.face("tree").first.main.click()
    assert window.session.tree.measure.height_mm == 380  # type: ignore[union-attr]
    assert window.trees.model.rowCount() == 22
    window.grab()
    window.face("tree").measures.fields["height_mm"].entered.emit(400.0)
    assert window.session.tree.measure.height_mm == 400  # type: ignore[union-attr]
    window.do("undo")
    window.do("undo")
    assert window.trees.model.rowCount() == len(window.session.collection.trees)
    assert window.session.tree is not None


def test_measuring_anew_keeps_the_old_figures(window: MainWindow) -> None:
    before = window.session.tree.measures  # type: ignore[union-attr]
    window.do("new_measures")
    window.face("tree").measures.fields["height_mm"].entered.emit(575.0)
    after = window.session.tree.measures  # type: ignore[union-attr]
    assert after[:-1] == before
    assert after[-1].height_mm == 575
    assert after[-1].taken == window.session.today


def test_search_finds_by_name_species_and_pot(window: MainWindow) -> None:
    for words, rows in (
        ("ferry", ["old-ferryman"]),
        ("larch", ["grey-heron", "driftline"]),
        ("rope tower", ["rope-ladder"]),
        ("zzz", []),
    ):
        window.trees.search.setText(words)
        assert window.trees.model.rows == rows
    window.trees.search.clear()
    assert len(window.trees.model.rows) == len(window.session.collection.trees)


def test_brackets_walk_the_trees(window: MainWindow) -> None:
    window.do("tree_after")
    assert window.session.tree_id == "tollgate"
    window.do("tree_before")
    window.do("tree_before")
    assert window.session.tree_id == "driftline"


def test_an_unseen_root_mass_is_estimated_from_the_pot_and_says_so(window: MainWindow) -> None:
    window.session.choose_tree("tidewater")
    panel = window.face("tree").measures
    assert panel.estimate.isVisibleTo(panel)
    panel.estimate.click()
    roots, pot = window.session.tree.roots, window.session.pot  # type: ignore[union-attr]
    assert roots is not None
    assert pot is not None
    assert roots.estimated
    assert roots.length_mm < pot.length_mm
    assert roots.depth_mm < pot.inner_depth_mm
    assert roots.offset_x_mm == 52
    finding = window.session.assessment().finding("root_depth")  # type: ignore[union-attr]
    assert "estimated" in finding.text  # type: ignore[union-attr]
    panel.root_fields["depth"].entered.emit(40.0)
    assert not window.session.tree.roots.estimated  # type: ignore[union-attr]
    assert not panel.estimate.isVisibleTo(panel)


def test_tilting_in_the_roots_view(window: MainWindow) -> None:
    window.show_view("roots")
    sheet = window.face("tree").roots
    assert sheet.tilt_words().startswith("Flat")
    QTest.keyClick(sheet, Qt.Key.Key_T)
    assert sheet.tilt_deg == 6
    assert "6° to the front" in sheet.tilt_words()
    for _ in range(3):
        QTest.keyClick(sheet, Qt.Key.Key_T)
    assert sheet.tilt_deg == 0
    window.session.choose_tree("paper-lantern")
    window.grab()


@pytest.mark.parametrize(
    ("axis", "sign", "dx", "dy", "moved"),
    [("y", 1, 0, 1, 1), ("y", 1, 1, 0, 1), ("x", -1, 1, 0, -1), ("x", -1, -1, 0, 1), ("x2", 1, 0, 1, 1), ("x", 1, 0, -1, -1)],
)  # fmt: skip
def test_arrows_follow_the_eye(axis: str, sign: int, dx: int, dy: int, moved: int) -> None:
    from kesh.desk.bench import Grip, nudged

    assert nudged(Grip("k", "K", 0, 0, axis, 100, sign), dx, dy, 2.0) == 100 + 2 * moved
