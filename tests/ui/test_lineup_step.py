"""The Line-up: hold, compare, choose against stop signs, put back with a reason; and the whole shelf in order."""

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from kesh.ui.rooms.lineup.sheet import RULER_PX
from kesh.ui.window import MainWindow
from tests.ui.conftest import Opener, drag
from tests.ui.rooms import STEP_KEYS


@pytest.fixture
def lineup(window: MainWindow) -> MainWindow:
    window.go("line-up")
    return window


def middle(window: MainWindow, index: int, y: float = 200) -> QPointF:
    sheet = window.face("line-up").columns
    return QPointF(RULER_PX + (index + 0.5) * sheet._column_px(), y)


def pots(window: MainWindow) -> tuple[str, ...]:
    return window.session.lineup().pots


def test_the_best_is_in_hand_and_the_panel_answers(lineup: MainWindow) -> None:
    assert lineup.face("line-up").columns.chosen == "ferry-tray"
    assert lineup.face("line-up").hand.head.text() == "Ferry tray is 1st of 48"
    assert lineup.head.title.text() == "Four pots for Old Ferryman"
    assert lineup.face("line-up").hand.main.text() == "Choose Ferry tray"
    lines = {x.words: x for x in lineup.face("line-up").hand.table.lines}
    assert lines["Length, mm"].this == "384"
    assert lines["Stays wet"].asked == "≤ 40%"


def test_click_arrows_and_space_move_the_choice(lineup: MainWindow) -> None:
    sheet = lineup.face("line-up").columns
    QTest.mouseClick(sheet, Qt.MouseButton.LeftButton, pos=middle(lineup, 0, 450).toPoint())
    assert sheet.chosen == "riverstone-oval"
    assert lineup.face("line-up").hand.head.text().startswith("Riverstone oval is")
    QTest.keyClick(sheet, Qt.Key.Key_Right)
    assert sheet.chosen == "iron-rectangle"
    QTest.keyClick(sheet, Qt.Key.Key_Space)
    assert sheet.chosen == "riverstone-oval"
    QTest.keyClick(sheet, Qt.Key.Key_Left)
    assert sheet.chosen == "ferry-tray"


def test_all_columns_share_one_scale_and_one_ground_line(lineup: MainWindow) -> None:
    sheet = lineup.face("line-up").columns
    feet = [sheet._foot(i, s) for i, s in enumerate(sheet._stands())]
    assert len({round(f.y(), 6) for f in feet}) == 1
    assert lineup.status.px_mm == sheet.px_mm


def test_dragging_the_trunk_moves_it_in_one_pot_and_the_figures_follow(lineup: MainWindow) -> None:
    sheet, session = lineup.face("line-up").columns, lineup.session
    lineup.do("step_lineup")
    before = {t.pot: t.offset_x_mm for t in session.lineup().trials}
    fit = session.tried(session.collection.pots["riverstone-oval"]).figures.roots
    assert fit is not None
    held_at = sheet.px_mm  # the sheet finds a new scale once the tree has been let go
    drag(sheet, middle(lineup, 0), (-25, 0))
    after = {t.pot: t.offset_x_mm for t in session.lineup().trials}
    assert after["riverstone-oval"] == pytest.approx(before.get("riverstone-oval", 0) - 25 / held_at, abs=2)
    moved = session.tried(session.collection.pots["riverstone-oval"]).figures.roots
    assert moved is not None
    assert float(moved.off_left_mm[0]) > float(fit.off_left_mm[0])
    lineup.do("undo")
    assert {t.pot: t.offset_x_mm for t in session.lineup().trials} == before


def test_keys_move_the_trunk_once_it_is_in_hand(lineup: MainWindow) -> None:
    sheet = lineup.face("line-up").columns
    sheet.setFocus()
    start = sheet.column().planting.offset_x_mm  # type: ignore[union-attr]
    QTest.keyClick(sheet, Qt.Key.Key_G)
    QTest.keyClick(sheet, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(sheet, Qt.Key.Key_Left)
    assert sheet.column().planting.offset_x_mm == pytest.approx(start + 9)  # type: ignore[union-attr]
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    QTest.keyClick(sheet, Qt.Key.Key_Left)
    assert sheet.chosen != "ferry-tray"


def test_a_held_back_pot_is_clicked_into_the_line_up(lineup: MainWindow) -> None:
    sheet = lineup.face("line-up").columns
    wanted = lineup.session.lineup_state().held_back()[1].pot.id  # type: ignore[union-attr]
    y = sheet.height() - 60
    QTest.mouseClick(sheet, Qt.MouseButton.LeftButton, pos=QPointF(14 + 150 + 60, y).toPoint())
    assert pots(lineup)[-1] == wanted
    assert lineup.head.title.text() == "Five pots for Old Ferryman"
    trial = next(t for t in lineup.session.lineup().trials if t.pot == wanted)
    assert trial.offset_x_mm < 0, "the school leaves room on the side the trunk moves to"


def test_a_seventh_pot_makes_room_for_itself(lineup: MainWindow) -> None:

    for key in ("cloud-rect", "map-case", "barge"):
        lineup.session.hold_under(key)
    assert len(pots(lineup)) == 6
    assert pots(lineup)[-1] == "barge"
    assert "riverstone-oval" not in pots(lineup)


def test_putting_a_pot_back_keeps_the_reason(lineup: MainWindow) -> None:
    panel = lineup.face("line-up").hand
    lineup.face("line-up").columns.choose("celandine-round")
    panel.reason.setText("Blue shouts under a pine.")
    panel.reject()
    assert "celandine-round" not in pots(lineup)
    kept = {r.pot: r.reason for r in lineup.session.collection.rejections if r.tree == "old-ferryman"}
    assert kept["celandine-round"] == "Blue shouts under a pine."
    assert "Blue shouts" in panel.tried.text()
    lineup.do("undo")
    assert "celandine-round" in pots(lineup)
    assert all(r.pot != "celandine-round" for r in lineup.session.collection.rejections)


def test_choosing_a_pot_that_fits_is_one_press(lineup: MainWindow) -> None:
    panel = lineup.face("line-up").hand
    assert panel.main.isEnabled()
    assert not panel.word.isVisible()
    panel.main.click()
    assert lineup.session.lineup().chosen == "ferry-tray"
    assert lineup.path.tabs["line-up"].note == "Ferry tray"
    assert any("Chosen: Ferry tray" in e.text for e in lineup.session.collection.events)


def test_stop_signs_want_a_word_that_stays_in_the_log(lineup: MainWindow) -> None:

    lineup.session.hold_under("uncut-oval")
    lineup.face("line-up").columns.choose("uncut-oval")
    panel = lineup.face("line-up").hand
    assert panel.word.isVisible()
    assert not panel.main.isEnabled()
    panel.choose()
    assert lineup.session.lineup().chosen is None
    QTest.keyClicks(panel.word, "I drill it on Saturday")
    assert panel.main.isEnabled()
    panel.main.click()
    assert lineup.session.lineup().chosen == "uncut-oval"
    assert any("drain holes" in e.text and "Saturday" in e.text for e in lineup.session.collection.events)


def test_written_down_as_repotted_the_chosen_pot_becomes_the_present_one(lineup: MainWindow) -> None:
    lineup.do("repotted")
    assert "no pot is chosen" in lineup.status.message
    lineup.face("line-up").hand.main.click()
    lineup.do("repotted")
    session = lineup.session
    assert session.pot.id == "ferry-tray"  # type: ignore[union-attr]
    assert session.planting.offset_x_mm < 0  # type: ignore[union-attr]
    assert session.collection.pots["training-box"].state == "shelf"
    event = next(e for e in session.collection.events if e.kind == "repotted" and e.date == session.today)
    assert dict(event.figures)["soil_l"] > 1
    lineup.do("undo")
    assert session.pot.id == "training-box"  # type: ignore[union-attr]


def test_the_whole_shelf_in_order_and_enter_holds_a_pot(lineup: MainWindow) -> None:
    lineup.show_view("shelf")
    listed = lineup.face("line-up").ranked
    assert listed.ranked.rowCount() == 48
    assert lineup.head.title.text().startswith("48 pots under Old Ferryman; 1 fits")
    first = listed.ranked.data(listed.ranked.index(0))
    assert first.startswith("1. Ferry tray: lives fits")
    listed.setCurrentIndex(listed.ranked.index(6))
    key = listed.ranked.entry(6)[1].pot.id  # type: ignore[index]
    QTest.keyClick(listed, Qt.Key.Key_Return)
    assert key in pots(lineup)


def test_a_pot_pointed_at_on_the_whole_shelf_is_the_panel_s_and_can_be_chosen(lineup: MainWindow) -> None:
    lineup.show_view("shelf")
    face = lineup.face("line-up")
    outside = next(k for k in range(48) if face.ranked.ranked.entry(k)[1].pot.id not in pots(lineup))
    pot = face.ranked.ranked.entry(outside)[1].pot
    face.ranked.setCurrentIndex(face.ranked.ranked.index(outside))
    assert face.hand.head.text().startswith(pot.name)
    assert face.hand.findings.findings == face.assessment().findings
    assert not face.hand.back.isVisibleTo(face.hand), "what is not held up is not put back"
    face.hand.word.setText("it is the only one")
    face.hand.choose()
    assert lineup.session.lineup().chosen == pot.id
    assert pot.id in pots(lineup)
    lineup.show_view("columns")
    assert face.hand.pot == face.columns.chosen


def test_filters_hide_pots_everywhere(lineup: MainWindow) -> None:
    panel = lineup.face("line-up").hand
    for key in ("in_use", "wish", "ordered", "design"):
        panel.filters[key].setChecked(False)
    assert lineup.face("line-up").columns.states == frozenset({"shelf"})
    lineup.show_view("shelf")
    assert lineup.face("line-up").ranked.ranked.rowCount() == 20
    held = lineup.session.lineup_state().held_back(lineup.face("line-up").columns.states)  # type: ignore[union-attr]
    assert {e.pot.state for e in held} == {"shelf"}


def test_a_tree_without_a_line_up_starts_with_its_best_free_pots(lineup: MainWindow) -> None:
    lineup.session.choose_tree("wicket")
    state = lineup.session.lineup_state()
    assert state is not None
    assert len(state.columns) == 4
    taken = lineup.session.lineup_case().taken
    assert not any(c.pot.id in taken for c in state.columns)
    assert "wicket" not in lineup.session.collection.lineups


def test_laying_over_and_the_school(lineup: MainWindow) -> None:
    sheet = lineup.face("line-up").columns
    QTest.keyClick(sheet, Qt.Key.Key_L)
    assert sheet.overlay
    lineup.grab()
    lineup.show_view("columns")
    lineup.face("line-up").hand.school.chosen.emit("penjing")
    assert lineup.session.brief.school == "penjing"
    assert lineup.session.case().school.key == "penjing"


def test_an_empty_shelf_says_what_to_do(open_window: Opener) -> None:
    from tests.advice.test_rank import bench

    window = open_window(bench(pots={}))
    window.go("line-up")
    window.grab()
    assert window.head.title.text() == "No pot for Maple"
    window.do("shelf")
    assert "Nothing stands here yet" in window.face("shelf").pots.title.text()


def test_an_empty_collection_opens_and_says_what_to_do(open_window: Opener) -> None:
    from kesh.model import Collection

    window = open_window(Collection(name="Empty"))
    for step in STEP_KEYS:
        window.go(step)
        window.grab()
    assert window.head.title.text() == "No tree yet"
    for act in ("tree_after", "next_view", "finding_after", "repotted", "print", "undo", "reference", "shelf", "bench"):
        window.do(act)
        window.grab()
    window.do("new_tree")
    assert window.face("tree").on_card


@pytest.mark.parametrize("size", [(1280, 800), (1920, 1080), (1040, 700)])
@pytest.mark.usefixtures("no_years")
def test_every_height_has_room_beside_its_pot(open_window: Opener, size: tuple[int, int]) -> None:
    window = open_window(size=size)
    for tree in window.session.collection.trees:
        window.session.choose_tree(tree)
        window.go("line-up")
        sheet = window.face("line-up").columns
        for i, (stand, column) in enumerate(zip(sheet._stands(), sheet.state.columns, strict=True)):
            box, foot = sheet._box(i), sheet._foot(i, stand)
            half = column.pot.length_mm / 2 * sheet.px_mm
            assert foot.x() + half + sheet._figure_px() <= box.right() + 0.5, (tree, column.pot.id)
            assert foot.x() - half >= box.left() - 0.5, (tree, column.pot.id)


def test_better_pots_that_came_to_the_shelf_are_told_and_held_by_a_click(window: MainWindow) -> None:
    s = window.session
    s.choose_tree("old-ferryman")
    window.go("line-up")
    panel = window.face("line-up").hand  # type: ignore[attr-defined]
    state = s.lineup_state()
    assert state is not None
    pots = state.ranking.figures.pots.pots
    last = [pots[int(i)].id for i in state.ranking.order[-3:]]
    s.edit("Others", [("lineup", s.tree_id, s.lineup().changed(pots=tuple(last), trials=(), chosen=None))])
    state = s.lineup_state()
    assert state is not None
    come = state.come_since()
    assert come
    assert panel.come.isVisible()
    assert come[0].name in panel.come.text()
    panel.come.click()
    assert come[0].id in s.lineup().pots
    after = s.lineup_state()
    assert after is not None
    assert come[0] not in after.come_since()
    first = pots[int(state.ranking.order[0])]
    s.hold_under(first.id)
    assert not panel.come.isVisible()
