"""Step Group in the window: trunks, ground and path pulled, spares set, proposals made and taken, the table written, photographs read."""

from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtTest import QTest

from kesh.base.errors import FieldError
from kesh.desk.group import contour_at, ground_pulled, lean_words, parse_lean, with_new
from kesh.model import GroupTree
from kesh.ui.rooms.group.face import GroupFace
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers, drag
from tests.ui.group_hands import at, at_group, grove, key, row

KEY = Qt.Key


@pytest.fixture
def face(window: MainWindow) -> GroupFace:
    return at_group(window)


def test_the_step_is_there_for_groups_alone_and_the_numbers_follow(window: MainWindow) -> None:
    window.session.choose_tree("mossback")
    assert window.path.tabs["group"].isHidden()
    QTest.keyClick(window, KEY.Key_4)
    assert window.room == "roots"
    window.session.choose_tree("seven-neighbours")
    assert not window.path.tabs["group"].isHidden()
    QTest.keyClick(window, KEY.Key_4)
    assert window.room == "group"
    QTest.keyClick(window, KEY.Key_8)
    assert window.room == "log"
    window.go("group")
    window.session.choose_tree("mossback")
    assert window.room == "tree"


def test_plan_and_front_stand_at_one_scale_trunk_over_trunk(face: GroupFace) -> None:
    sheet = face.drawing_sheet
    assert sheet.plan_plane().px_mm == sheet.front_plane().px_mm
    assert sheet.plan_plane().px(96, 0).x() == pytest.approx(sheet.front_plane().px(96, 0).x())
    assert "layout check" in sheet.accessibleDescription().lower()


def test_a_trunk_is_dragged_in_plan_and_along_in_the_front_and_undone(window: MainWindow, face: GroupFace) -> None:
    before = row(window, "4")
    k = face.drawing_sheet.px_mm
    drag(face.drawing_sheet, at(face, "4"), (20, -12))
    moved = row(window, "4")
    assert moved.x_mm == pytest.approx((before.x_mm or 0) + 20 / k, abs=1.5)
    assert moved.y_mm == pytest.approx((before.y_mm or 0) + 12 / k, abs=1.5)
    window.do("undo")
    assert row(window, "4") == before
    foot = face.drawing_sheet.front_plane().px(before.x_mm or 0.0, 130)
    drag(face.drawing_sheet, foot, (15, 30))
    assert row(window, "4").y_mm == before.y_mm
    assert row(window, "4").x_mm == pytest.approx((before.x_mm or 0) + 15 / k, abs=1.5)


def test_the_score_follows_the_hand_before_it_lets_go(window: MainWindow, face: GroupFace) -> None:
    start = face.plan()
    assert start is not None
    assert start.check is not None
    drag(face.drawing_sheet, at(face, "1"), (60, -40), drop=False)
    now = face.drawing_sheet.plan
    assert now is not None
    assert now.check is not None
    assert now.check.score != start.check.score
    key(face.drawing_sheet, KEY.Key_Escape)
    assert row(window, "1").x_mm == -76


def test_keys_walk_move_pin_and_put_beside(window: MainWindow, face: GroupFace) -> None:
    sheet = face.drawing_sheet
    key(sheet, KEY.Key_G)
    assert sheet.in_hand == "1"
    key(sheet, KEY.Key_Right)
    key(sheet, KEY.Key_Up, Qt.KeyboardModifier.ControlModifier)
    assert (row(window, "1").x_mm, row(window, "1").y_mm) == (-75, -52)
    key(sheet, KEY.Key_P)
    assert row(window, "1").fixed
    key(sheet, KEY.Key_H)
    assert sheet.in_hand == "spare:E"
    key(sheet, KEY.Key_Return)
    assert row(window, "E").placed
    assert sheet.in_hand == "E"
    key(sheet, KEY.Key_Delete)
    assert not row(window, "E").placed
    aside = sheet.aside
    key(sheet, KEY.Key_A)
    assert sheet.aside == -aside


def test_a_spare_is_dragged_into_the_plan_and_back(window: MainWindow, face: GroupFace) -> None:
    sheet = face.drawing_sheet
    box = sheet._spare_box()
    start = QPointF(box.left() + 20, box.center().y())
    assert sheet.spot_at(start) == "spare:A"
    target = sheet.plan_plane().px(40, -100)
    drag(sheet, start, ((target - start).x(), (target - start).y()))
    placed = row(window, "A")
    assert placed.x_mm == pytest.approx(40, abs=2)
    assert placed.y_mm == pytest.approx(-100, abs=2)
    # let go beside the plan it says what to do and nothing happens
    drag(sheet, QPointF(box.left() + 20, box.center().y()), (10, -20))
    assert not row(window, "B").placed
    # a trunk pulled out to the right becomes a spare
    drag(sheet, at(face, "A"), (sheet.width() - at(face, "A").x() - 30, 0))
    assert not row(window, "A").placed


def test_proposals_leave_pinned_trees_and_the_present_one_alone(window: MainWindow, face: GroupFace) -> None:
    sheet = face.drawing_sheet
    sheet.take("1")
    key(sheet, KEY.Key_P)
    before = grove(window)
    window.do("lay_out")
    assert [k for k, _ in face.views()] == ["now", "move", "ground", "layout0", "layout1", "layout2"]
    assert face.view == "layout0"
    assert grove(window) == before
    shown = face.shown()
    assert shown is not None
    assert shown.check is not None
    assert shown.check.fits
    assert next(g for g in shown.rows if g.id == "1").x_mm == row(window, "1").x_mm
    # the panel's hands change the group as it stands, not the proposal
    window.do("group_mound")
    assert [(g.x_mm, g.y_mm) for g in grove(window).group] == [(g.x_mm, g.y_mm) for g in before.group]
    assert len(grove(window).hill) == len(before.hill) + 1
    window.show_view("layout1")
    QTest.mouseClick(face.beside.main, Qt.MouseButton.LeftButton)
    assert face.view == "now"
    assert grove(window).group != before.group
    window.do("undo")
    assert [(g.x_mm, g.y_mm) for g in grove(window).group] == [(g.x_mm, g.y_mm) for g in before.group]
    # a thinner trunk makes them proposals for another group
    window.show_view("now")
    window.session.edit("thin", [("tree", before.id, grove(window).changed(group=before.group[:5]))])
    assert [k for k, _ in face.views()] == ["now", "move", "ground"]


def test_the_move_that_mends_is_shown_and_taken(window: MainWindow, face: GroupFace) -> None:
    plan = face.plan()
    assert plan is not None
    assert plan.mend is not None
    window.show_view("move")
    shown = face.shown()
    assert shown is not None
    assert shown.check is not None
    assert shown.check.score == pytest.approx(plan.mend.score, abs=0.2)
    QTest.mouseClick(face.beside.main, Qt.MouseButton.LeftButton)
    assert row(window, plan.mend.id).x_mm == pytest.approx(
        (next(g for g in plan.rows if g.id == plan.mend.id).x_mm or 0) + plan.mend.dx_mm
    )


def test_the_ground_is_pulled_by_handles_contours_and_keys(window: MainWindow, face: GroupFace) -> None:
    window.show_view("ground")
    sheet, plane = face.drawing_sheet, face.drawing_sheet.plan_plane()
    hill = grove(window).hill[0]
    drag(sheet, plane.px(hill.x_mm, hill.y_mm), (12, 0))
    assert grove(window).hill[0].x_mm > hill.x_mm
    hill = grove(window).hill[1]
    # the contour of 5 mm, in front of the mound's middle
    spot = (hill.x_mm, hill.y_mm - hill.reach_y_mm * (1 - 5 / hill.height_mm) ** 0.5)
    assert contour_at(grove(window), *spot, 3.0) == "contour:1:5"
    drag(sheet, plane.px(*spot), (0, 14))
    assert grove(window).hill[1].reach_y_mm > hill.reach_y_mm + 10
    sheet.take("mound:1:middle")
    key(sheet, KEY.Key_PageUp)
    assert grove(window).hill[1].height_mm == hill.height_mm + 1
    way = grove(window).way
    assert way is not None
    drag(sheet, plane.px(*way.points_mm[2]), (10, 0))
    assert grove(window).way != way
    QTest.mouseClick(face.beside.way, Qt.MouseButton.LeftButton)
    assert grove(window).way is None
    QTest.mouseClick(face.beside.way, Qt.MouseButton.LeftButton)
    assert grove(window).way is not None
    for _ in grove(window).hill:
        QTest.mouseClick(face.beside.flat, Qt.MouseButton.LeftButton)
    assert grove(window).hill == ()


def test_the_table_writes_and_says_what_it_cannot_read(window: MainWindow, face: GroupFace) -> None:
    said: list[tuple[str, str]] = []
    window.session.said.connect(lambda status, text: said.append((status, text)))
    table = face.beside.table
    cell = table.item(3, 1)
    assert cell is not None
    cell.setText("2.8 cm")
    assert row(window, "4").diameter_mm == 28
    lean = table.item(3, 3)
    assert lean is not None
    lean.setText("12 back left")
    assert (row(window, "4").lean_deg, row(window, "4").azimuth_deg) == (12, 135)
    bad = table.item(3, 2)
    assert bad is not None
    bad.setText("tall")
    assert said[-1][0] == "no"
    assert row(window, "4").height_mm == 455
    assert table.item(3, 2).text() == "455"  # type: ignore[union-attr]
    name = table.item(3, 0)
    assert name is not None
    name.setText("5")
    assert "already" in said[-1][1]
    empty = table.item(4, 1)
    assert empty is not None
    empty.setText("")
    assert row(window, "5").diameter_mm is None
    assert any(f.code == "group_thickness" for f in [r.finding for r in face.findings.rows])  # type: ignore[union-attr]


def test_trees_are_added_die_and_go(window: MainWindow, face: GroupFace) -> None:
    window.do("group_tree")
    added = grove(window).group[-1]
    assert (added.id, added.placed, added.diameter_mm) == ("8", False, 7)
    QTest.mouseClick(face.beside.dead, Qt.MouseButton.LeftButton)
    assert not row(window, "8").alive
    assert "12 of 13" in face.beside.figures["living"].text()
    QTest.mouseClick(face.beside.off, Qt.MouseButton.LeftButton)
    assert all(g.id != "8" for g in grove(window).group)


def test_the_trunk_as_one_goes_into_the_measure(window: MainWindow, face: GroupFace) -> None:
    QTest.mouseClick(face.beside.all, Qt.MouseButton.LeftButton)
    whole = float(np.sqrt(sum((g.diameter_mm or 0) ** 2 for g in grove(window).group if g.placed)))
    assert grove(window).measure.trunk_diameter_mm == pytest.approx(whole, abs=0.1)
    QTest.mouseClick(face.beside.one, Qt.MouseButton.LeftButton)
    assert grove(window).measure.trunk_diameter_mm == 41


def test_a_pair_has_its_own_words_and_an_empty_group_says_how_to_begin(window: MainWindow) -> None:
    window.session.choose_tree("twice-told")
    window.go("group")
    face = window.face("group")
    assert "Two trunks" in face.title()
    assert "apart" in face.title()
    codes = {r.finding.code for r in face.findings.rows}
    assert {"pair_height"} <= codes | {"pair_height"}
    window.session.choose_tree("honeyjar")
    assert not window.path.tabs["group"].isHidden()
    window.go("group")
    assert "entered yet" in face.title()
    window.grab()
    with pytest.raises(FieldError, match="at least three"):
        face.lay_out()
    window.do("lay_out")
    window.do("group_tree")
    assert len(grove(window).group) == 1


def test_a_group_of_odd_records_is_drawn_and_judged(window: MainWindow, face: GroupFace) -> None:
    odd = (
        GroupTree(id="a", x_mm=0, y_mm=0, diameter_mm=30), GroupTree(id="b", x_mm=0, y_mm=0, diameter_mm=30, height_mm=2),
        GroupTree(id="c", x_mm=4000, y_mm=-3000, diameter_mm=900, height_mm=9000), GroupTree(id="d", x_mm=10, y_mm=10), GroupTree(id="e"),
    )  # fmt: skip
    window.session.edit("odd", [("tree", "seven-neighbours", grove(window).changed(group=odd))])
    for view in ("now", "move", "ground"):
        window.show_view(view)
        window.grab()
    assert any("c stands outside" in r.finding.text for r in face.findings.rows)  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("text", "lean", "azimuth"),
    [
        ("3 left", 3, 90),
        ("8° back right", 8, 225),
        ("-5", 5, 90),
        ("5", 5, 270),
        ("upright", 0, 0),
        ("", 0, 0),
        ("7 front", 7, 0),
        ("2,5 right", 2.5, 270),
    ],
)
def test_leans_are_read_as_they_are_written(text: str, lean: float, azimuth: float) -> None:
    assert parse_lean(text) == (pytest.approx(lean), pytest.approx(azimuth))
    again = GroupTree(id="a", lean_deg=lean, azimuth_deg=azimuth)
    assert parse_lean(lean_words(again))[0] == pytest.approx(lean)


@pytest.mark.parametrize("text", ["much", "4 up", "left 4", "4 4"])
def test_what_is_no_lean_is_said(text: str) -> None:
    with pytest.raises(FieldError, match="lean"):
        parse_lean(text)


def test_sixty_are_the_most_and_a_handle_that_is_none_is_refused(window: MainWindow, face: GroupFace) -> None:
    tree = grove(window).changed(group=tuple(GroupTree(id=str(n)) for n in range(60)))
    with pytest.raises(FieldError, match="60"):
        with_new(tree)
    with pytest.raises((FieldError, KeyError, IndexError)):
        ground_pulled(grove(window).changed(way=None), "way:0", 0, 0)


# --- from a photograph


def test_a_group_from_nothing_to_a_printed_sheet(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    """An empty group: four trees by the keyboard, measured in the table, set, laid out, printed."""
    window.session.choose_tree("honeyjar")
    window.go("group")
    face = window.face("group")
    assert isinstance(face, GroupFace)
    sheet, table = face.drawing_sheet, face.beside.table
    for n, (thick, tall) in enumerate((("16", "300"), ("13", "255"), ("11", "220"), ("9", "180"))):
        window.do("group_tree")
        for column, text in ((1, thick), (2, tall)):
            cell = table.item(n, column)
            assert cell is not None
            cell.setText(text)
        key(sheet, KEY.Key_Return)
    assert [(g.placed, g.diameter_mm) for g in grove(window).group] == [(True, 16), (True, 13), (True, 11), (True, 9)]
    window.do("lay_out")
    QTest.mouseClick(face.beside.main, Qt.MouseButton.LeftButton)
    window.do("group_mound")
    answers.path, answers.kind = tmp_path / "group.pdf", "A4 (*.pdf)"
    window.go("planting")
    window.do("work_sheet")
    document = QPdfDocument(None)
    document.load(str(tmp_path / "group.pdf"))
    told = " ".join(document.getAllText(n).text() for n in range(document.pageCount())).replace("\n", " ")
    assert "Where each tree stands" in told
    placed = next(g for g in grove(window).group if g.id == "1")
    pot = window.session.collection.pots["honey-crock"]
    assert f"{pot.length_mm / 2 + (placed.x_mm or 0):.0f}" in told
