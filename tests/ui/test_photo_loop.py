"""The loop round a tree, what is in doubt, and the trunk's edges, driven on the photograph."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from kesh.base.errors import FieldError
from kesh.desk.loop import doubt_words, edge_marks, gripped, looped
from kesh.model import TreePhoto
from kesh.photo.tree_cut import TreeCut
from kesh.ui.window import MainWindow
from tests.photo.garden import rough_loop
from tests.photo.test_garden import overlap, shown
from tests.ui.conftest import Answers, drag

GARDEN = (36, "round", "grass")


@pytest.fixture
def in_grass(window: MainWindow, answers: Answers, tmp_path: Path) -> MainWindow:
    """A green tree before a lawn, its foot marked; nobody has drawn a loop."""
    p = shown(*GARDEN)
    path = tmp_path / "lawn.png"
    cv2.imwrite(str(path), p.rgb[:, :, ::-1])
    answers.path = path
    window.session.choose_tree("wicket")
    window.do("add_photo")
    left, right, y = p.rim
    marked = photo(window).changed(
        soil=(round(p.foot[0], 1), round(p.foot[1], 1)), known=((left, y), (right, y)), known_mm=300
    )
    window.session.edit("Marks", [("photo", marked.id, marked)])
    return window


def photo(window: MainWindow) -> TreePhoto:
    found = window.face("tree").photo.photo
    assert found is not None
    return found


def cut_in(window: MainWindow) -> TreeCut:
    found = window.darkroom.cut_of(photo(window))
    assert found is not None
    return found


def draw(window: MainWindow, ring: list[tuple[float, float]]) -> None:
    """A loop drawn with the mouse on the sheet."""
    sheet = window.face("tree").photo
    spots = [sheet._at(x, y).toPoint() for x, y in ring]
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=spots[0])
    for spot in spots[1:]:
        QTest.mouseMove(sheet, spot)
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=spots[-1])


def test_what_is_in_doubt_is_said_hatched_and_not_measured(in_grass: MainWindow) -> None:
    window = in_grass
    assert cut_in(window).doubtful
    panel = window.face("tree").photo_panel
    assert "draw a loop" in panel.note.text()
    assert "in doubt" in panel.figure_head._note
    assert all(row.photo is None for row in panel.table.rows)
    assert "Not measured" in window.head.title.text()
    assert "in doubt" in window.status.message
    assert panel.round.isVisible()
    assert panel.round.text().startswith("Draw a loop")
    sheet = window.face("tree").photo
    hatched = sheet.grab().toImage()
    sheet.bare = True
    sheet.update()
    assert sheet.grab().toImage() != hatched


def test_a_loop_is_drawn_by_key_and_mouse_cut_anew_and_undone(in_grass: MainWindow) -> None:
    window = in_grass
    sheet = window.face("tree").photo
    sheet.setFocus()
    QTest.keyClick(sheet, Qt.Key.Key_L)
    assert sheet.tool == "loop"
    before = cut_in(window)
    draw(window, rough_loop(shown(*GARDEN).mask, GARDEN[0]))
    assert sheet.tool == "marks"
    assert len(photo(window).loop) >= 20
    after = cut_in(window)
    assert not after.proposed
    true = shown(*GARDEN).mask > 0

    def overlap(found: TreeCut) -> float:
        big = cv2.resize(found.mask, true.shape[::-1], interpolation=cv2.INTER_NEAREST) > 0
        return float((big & true).sum() / (big | true).sum())

    assert overlap(after) > overlap(before) + 0.2
    assert "two strokes" in doubt_words(after) or not after.doubtful
    window.do("undo")
    assert photo(window).loop == ()


def test_a_blot_is_no_loop(in_grass: MainWindow) -> None:
    window = in_grass
    window.face("tree").photo.use_tool("loop")
    draw(window, [(200.0, 200.0), (203.0, 202.0), (201.0, 204.0)])
    assert photo(window).loop == ()
    assert "round crown and trunk" in window.status.message


def test_two_corners_make_a_box_and_long_loops_are_thinned() -> None:
    one = TreePhoto(id="a", tree="b", picture="c")
    boxed = looped(one, [(10.0, 20.0), (300.0, 400.0)], (500, 500))
    assert boxed.loop == ((10.0, 20.0), (300.0, 20.0), (300.0, 400.0), (10.0, 400.0))
    turn = np.linspace(0, 2 * np.pi, 3000)
    ring = [(250 + 400 * float(np.cos(a)), 250 + 200 * float(np.sin(a))) for a in turn]
    long = looped(one, ring, (500, 500))
    assert 100 <= len(long.loop) <= 160
    assert max(x for x, _ in long.loop) == 500
    with pytest.raises(FieldError, match="loop"):
        looped(one, [(10.0, 20.0), (12.0, 400.0)], (500, 500))


def test_an_edge_of_the_trunk_is_dragged_and_is_then_a_measure_by_hand(in_grass: MainWindow) -> None:
    window = in_grass
    ring = tuple(rough_loop(shown(*GARDEN).mask, GARDEN[0]))
    loop = photo(window).changed(loop=ring)
    window.session.edit("Loop", [("photo", loop.id, loop)])
    sheet = window.face("tree").photo
    cut, factor = cut_in(window), window.darkroom.print_of(photo(window)).factor
    mark = {m.key: m for m in edge_marks(cut, factor)}["edge right 1"]
    start = sheet._at(mark.x, mark.y)
    wood = int((cut.mask > 0).sum())
    drag(sheet, start, (14.0, 0.0))
    (grip,) = photo(window).trunk
    assert grip.side == "right"
    assert grip.at[0] > mark.x + 5
    after = cut_in(window)
    assert int((after.mask > 0).sum()) > wood
    moved = {m.key: m for m in edge_marks(after, factor)}
    assert moved["edge right 1"].x == pytest.approx(grip.at[0], abs=1.5)
    assert moved["edge right 3"].x == pytest.approx(mark_of(cut, factor, "edge right 3"), abs=2)
    again = gripped(photo(window), "edge right 1", (mark.x - 4, mark.y), 300)
    assert len(again.trunk) == 1
    window.do("undo")
    assert photo(window).trunk == ()
    assert QPoint(round(start.x()), round(start.y())) in sheet.rect()


def mark_of(cut: TreeCut, factor: float, key: str) -> float:
    return {m.key: m for m in edge_marks(cut, factor)}[key].x


def test_another_date_is_laid_over_by_its_key(in_grass: MainWindow, answers: Answers) -> None:
    window = in_grass
    sheet = window.face("tree").photo
    sheet.setFocus()
    QTest.keyClick(sheet, Qt.Key.Key_D)
    assert "no other photograph" in window.status.message
    first = photo(window)
    loop = first.changed(loop=tuple(rough_loop(shown(*GARDEN).mask, GARDEN[0])))
    window.session.edit("Loop", [("photo", loop.id, loop)])
    other = loop.changed(id="wicket-later", front=False, angle_deg=20.0, soil=(loop.soil[0] + 3, loop.soil[1]))  # type: ignore[index]
    window.session.edit("Another", [("photo", other.id, other)])
    window.darkroom.cut(other)
    alone = sheet.grab().toImage()
    QTest.keyClick(sheet, Qt.Key.Key_D)
    assert sheet.other_id == other.id
    assert sheet.grab().toImage() != alone
    assert window.face("tree").photo_panel.other.isVisible()
    QTest.keyClick(sheet, Qt.Key.Key_D)
    assert sheet.other_id == ""


def test_a_card_shows_the_place_in_doubt_and_one_click_settles_it(in_grass: MainWindow) -> None:
    window = in_grass
    panel = window.face("tree").photo_panel
    # nobody has drawn a loop, and that comes first
    assert not panel.cards.isVisible()
    p = shown(*GARDEN)
    panel.round.click()
    draw(window, rough_loop(p.mask, GARDEN[0]))
    assert panel.cards.isVisible()
    assert panel.round.isVisible()
    assert not panel.all.isVisible()
    before, place = cut_in(window), panel.cards.places[0]
    assert f"{before.doubt:.0%} in doubt" in panel.cards.head._note
    card = panel.cards.cards[0]
    assert not card.crop.grab().toImage().isNull()
    spots = np.round(place.stroke).astype(int)
    tree = bool(np.median(p.mask[spots[:, 1], spots[:, 0]] > 0))
    was = overlap(before.mask > 0, p.mask > 0)
    (card.tree if tree else card.ground).click()
    after = cut_in(window)
    assert after.doubt < before.doubt
    assert overlap(after.mask > 0, p.mask > 0) >= was - 0.003
    assert photo(window).strokes[-1].kind != "loop"
    assert (photo(window).strokes[-1].kind == "ground") != tree
    window.do("undo")
    assert photo(window).strokes == ()
    assert panel.cards.places[0].letter == "a"


def test_once_it_is_sure_the_figures_are_the_next_thing(window: MainWindow) -> None:
    window.session.choose_tree("old-ferryman")
    window.go("tree", view="photo")
    panel = window.face("tree").photo_panel
    assert panel.all.isVisible()
    assert "sure figures" in panel.all.text()
    assert not panel.round.isVisible()
    assert panel.again.isVisible()
    panel.again.click()
    assert window.face("tree").photo.tool == "loop"


def test_a_new_loop_keeps_what_a_hand_has_made(in_grass: MainWindow) -> None:
    window = in_grass
    p, panel = shown(*GARDEN), window.face("tree").photo_panel
    sheet = window.face("tree").photo
    sheet.use_tool("ground")
    drag(sheet, sheet._at(60, 60), (30, 4))
    made = photo(window).strokes
    assert len(made) == 1
    panel.round.click()
    draw(window, rough_loop(p.mask, GARDEN[0]))
    assert len(photo(window).loop) >= 20
    assert photo(window).strokes == made
