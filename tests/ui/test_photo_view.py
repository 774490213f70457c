"""The photo view: adding, marks, brush, figures beside the tape's, the ring; every change written and undone."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from kesh.base.errors import CollectionFileError, KeshError
from kesh.desk.photo import FigureRow, marks, moved, ring_place
from kesh.model import TreePhoto
from kesh.store.collection_file import CollectionFile
from kesh.store.reading import read_collection
from kesh.ui.window import MainWindow
from tests.photo.test_measuring import sample
from tests.ui.conftest import Answers, drag


@pytest.fixture
def photographed(window: MainWindow, answers: Answers, tmp_path: Path) -> MainWindow:
    """Mossback before a wall, the scale set on his pot."""
    s = sample("mossback", "wall")
    path = tmp_path / "mossback.jpg"
    cv2.imwrite(str(path), s.image, [cv2.IMWRITE_JPEG_QUALITY, 90])
    answers.path = path
    window.session.choose_tree("mossback")
    window.do("add_photo")
    return window


def photo(window: MainWindow) -> TreePhoto:
    found = window.face("tree").photo.photo
    assert found is not None
    return found


def set_scale(window: MainWindow) -> None:
    ends = tuple((float(x), float(y)) for x, y in sample("mossback", "wall").pot_px)
    window.session.edit("Scale", [("photo", photo(window).id, photo(window).changed(known=ends))])


def test_a_photograph_is_kept_cut_out_and_measured(photographed: MainWindow) -> None:
    window = photographed
    assert window.view == "photo"
    assert photo(window).front
    assert window.darkroom.is_cut(photo(window))
    assert window.face("tree").panel.currentWidget() is window.face("tree").photo_panel
    set_scale(window)
    found = window.face("tree").photo_panel.figures()
    assert found is not None
    assert found.figures["height_mm"].value == pytest.approx(430, rel=0.04)
    assert window.head.title.text().startswith(f"{found.figures['height_mm'].value:.0f} mm tall by the photograph")
    shown = {r.field: r for r in window.face("tree").photo_panel.table.rows}
    assert shown["height_mm"].tape == 430
    assert shown["trunk_mid_mm"].photo is None
    window.grab()
    # the picture itself stands in the collection: the file it came from may go
    again = CollectionFile.open(window.session.path, backup=False)
    assert again.picture(photo(window).picture)[:2] == b"\xff\xd8"
    with pytest.raises(CollectionFileError, match="add the photograph again"):
        again.picture("nothing")
    again.close()


def test_taking_a_figure_over_keeps_the_tape_s_set(photographed: MainWindow) -> None:
    window = photographed
    set_scale(window)
    table = window.face("tree").photo_panel.table
    at = [r.field for r in table.rows].index("canopy_left_mm")
    each = table.height() / (len(table.rows) + 1)
    QTest.mouseClick(table, Qt.MouseButton.LeftButton, pos=table.rect().topLeft() + _down(each * (at + 1.5)))
    tree = window.session.tree
    assert tree is not None
    assert tree.measure.how == "photo"
    assert tree.measure.canopy_left_mm == table.rows[at].photo
    assert tree.measure.height_mm == 430
    assert tree.measures[-2].how == "hand"
    before = len(tree.measures)
    window.face("tree").photo_panel.all.click()
    tree = window.session.tree
    assert tree is not None
    assert len(tree.measures) == before
    assert tree.measure.height_mm != 430
    window.do("undo")
    window.do("undo")
    assert window.session.tree.measure.how == "hand"  # type: ignore[union-attr]


def _down(y: float):  # type: ignore[no-untyped-def]
    from PyQt6.QtCore import QPoint

    return QPoint(20, round(y))


def test_marks_are_dragged_and_nudged(photographed: MainWindow) -> None:
    window, sheet = photographed, photographed.face("tree").photo
    before = photo(window).soil
    assert before is not None
    start = sheet._at(*before)
    drag(sheet, start, (12, -6))
    after = photo(window).soil
    assert after is not None
    assert after[0] - before[0] == pytest.approx(12 / sheet.px_mm, abs=2)
    assert after[1] - before[1] == pytest.approx(-6 / sheet.px_mm, abs=2)
    assert window.darkroom.is_cut(photo(window)), "it is cut anew for the mark's new place"
    sheet.setFocus()
    sheet.in_hand = "soil"
    QTest.keyClick(sheet, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
    assert photo(window).soil == (after[0] - 10, after[1])
    window.do("undo")
    window.do("undo")
    assert photo(window).soil == before


def test_a_stroke_takes_away_and_undo_brings_it_back_stroke_by_stroke(photographed: MainWindow) -> None:
    window, sheet = photographed, photographed.face("tree").photo
    sheet.follow = False
    mask = window.darkroom.mask(photo(window))
    assert mask is not None
    area = int((mask > 0).sum())
    sheet.setFocus()
    for _ in range(3):
        QTest.keyClick(sheet, Qt.Key.Key_B)
    assert sheet.tool == "ground"
    assert window.face("tree").photo_panel.tools["ground"].isChecked()
    soil = photo(window).soil
    assert soil is not None
    spot = sheet._at(soil[0], soil[1] - 300)
    drag(sheet, spot, (40, 0))
    drag(sheet, spot, (0, -30))
    assert [s.kind for s in photo(window).strokes] == ["ground", "ground"]
    twice = window.darkroom.mask(photo(window))
    assert twice is not None
    assert int((twice > 0).sum()) < area
    window.do("undo")
    once = window.darkroom.mask(photo(window))
    assert once is not None
    assert int((twice > 0).sum()) < int((once > 0).sum()) < area
    window.do("undo")
    assert int((window.darkroom.mask(photo(window)) > 0).sum()) == area  # type: ignore[operator]
    assert read_collection(window.session.path).photos[photo(window).id].strokes == ()


def test_escape_drops_a_stroke_in_the_making(photographed: MainWindow) -> None:
    window, sheet = photographed, photographed.face("tree").photo
    sheet.use_tool("leaf")
    sheet.setFocus()
    drag(sheet, sheet._at(400, 400), (30, 0), drop=False)
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=sheet._at(460, 400).toPoint())
    assert photo(window).strokes == ()
    size = sheet.radius
    QTest.keyClick(sheet, Qt.Key.Key_PageUp)
    assert sheet.radius > size


def test_several_photographs_stand_in_a_ring_and_one_is_the_front(photographed: MainWindow) -> None:
    window = photographed
    first = photo(window).id
    window.do("add_photo")
    second = photo(window)
    assert second.id != first
    assert second.angle_deg == 90
    assert not second.front
    panel = window.face("tree").photo_panel
    panel.roots.setText("one crossing root")
    panel.roots.editingFinished.emit()
    panel.angle.setText("-45")
    panel.angle.editingFinished.emit()
    panel.front.click()
    photos = {p.id: p for p in window.session.collection.photos_of("mossback")}
    assert photos[second.id].roots == "one crossing root"
    # angles count from the new front: the old one stood 45 degrees further on with the clock
    assert photos[second.id].angle_deg == 0
    assert photos[first].angle_deg == 45
    assert window.session.tree.marker_deg == 45  # type: ignore[union-attr]
    assert panel.marker.text() == "45"
    assert "take them again" in window.status.message
    assert [p.id for p in photos.values() if p.front] == [second.id]
    ring = panel.ring
    QTest.mouseClick(ring, Qt.MouseButton.LeftButton, pos=ring._spot(photos[first]).toPoint())
    assert photo(window).id == first
    assert panel.photo is not None
    assert panel.photo.id == first


def test_a_card_gives_the_scale_and_a_bad_one_is_said(photographed: MainWindow) -> None:
    window, panel = photographed, photographed.face("tree").photo_panel
    s = sample("mossback", "wall")
    panel.scale.how.chosen.emit("card")
    assert panel.scale.card_row.isVisible()
    corners = tuple((float(x), float(y)) for x, y in s.card_px)
    window.session.edit("Card", [("photo", photo(window).id, photo(window).changed(card=corners))])
    found = panel.figures()
    assert found is not None
    assert found.figures["height_mm"].value == pytest.approx(430, rel=0.04)
    crossed = (corners[0], corners[2], corners[1], corners[3])
    window.session.edit("Card", [("photo", photo(window).id, photo(window).changed(card=crossed))])
    assert "form no card" in panel.note.text()


def test_a_file_that_is_no_picture_is_said_and_nothing_is_added(
    window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    path = tmp_path / "letter.jpg"
    path.write_text("a letter")
    answers.path = path
    window.session.choose_tree("wicket")
    window.do("add_photo")
    assert "no PNG, JPEG, WebP or TIFF" in window.status.message
    assert not window.session.collection.photos_of("wicket")


def test_without_a_photograph_the_view_says_how_to_get_one(window: MainWindow) -> None:
    window.session.choose_tree("wicket")
    window.show_view("photo")
    assert window.head.title.text() == "No photograph of Wicket yet"
    assert not window.face("tree").photo_panel.cut.isVisible()
    window.do("cut_out")
    assert "Ctrl+Shift+F" in window.status.message
    window.grab()


@pytest.mark.parametrize(("angle", "place"), [(0, (0, -1)), (90, (-1, 0)), (180, (0, 1)), (270, (1, 0))])
def test_cameras_go_round_with_the_clock_from_the_front_at_the_foot(angle: float, place: tuple[int, int]) -> None:
    assert ring_place(angle) == pytest.approx(place, abs=1e-12)


def test_marks_stay_inside_the_picture() -> None:
    one = TreePhoto(id="a", tree="t", picture="x", how="card")
    assert [m.key for m in marks(one, (800, 600))] == ["card0", "card1", "card2", "card3", "soil"]
    assert moved(one, "soil", (-50, 9000), (800, 600)).soil == (0, 600)
    assert moved(one, "card2", (10, 20), (800, 600)).card[2] == (10, 20)  # type: ignore[index]


def test_a_row_agrees_within_its_plus_or_minus() -> None:
    assert FigureRow("height_mm", "Height", 500, 4, 503, "").status == "fits"
    assert FigureRow("height_mm", "Height", 500, 2, 510, "").status == "watch"
    assert FigureRow("canopy_opacity", "Canopy opacity", 0.95, 0.06, 0.6, "").status == "watch"
    assert FigureRow("canopy_opacity", "Canopy opacity", 0.65, 0.06, 0.6, "").status == "fits"
    assert FigureRow("height_mm", "Height", None, None, 510, "hidden").status == "unknown"


@pytest.mark.parametrize("tree", ["old-ferryman", "tollgate", "paper-lantern", "cartographer"])
def test_the_demo_s_photographs_measure_what_their_trees_do(window: MainWindow, tree: str) -> None:
    window.session.choose_tree(tree)
    window.show_view("photo")
    found = window.face("tree").photo_panel.figures()
    assert found is not None
    measure = window.session.tree.measure  # type: ignore[union-attr]
    assert found.figures["height_mm"].value == pytest.approx(measure.height_mm, rel=0.04)
    # two stems that overlap in the picture are measured as one: the first tree only tells its height
    if window.session.tree.style != "twin_trunk":  # type: ignore[union-attr]
        assert found.trunk["above_flare"].value == pytest.approx(measure.trunk_diameter_mm, rel=0.12)


def test_a_cut_out_that_fails_is_said_and_not_tried_again_by_itself(
    window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    path = tmp_path / "fog.png"
    cv2.imwrite(str(path), np.full((500, 400, 3), 190, np.uint8))
    answers.path = path
    window.session.choose_tree("wicket")
    window.do("add_photo")
    assert photo(window).soil is None
    assert "Drag the soil mark" in window.status.message
    marked = photo(window).changed(soil=(200.0, 400.0))
    window.session.edit("Mark", [("photo", marked.id, marked)])
    assert "no tree was found" in window.status.message
    assert not window.darkroom.is_due(marked)
    window.status.say("fits", "")
    window.refresh()
    assert window.status.message == ""
    window.do("cut_out")
    assert "no tree was found" in window.status.message


def test_a_picture_that_is_gone_is_said_and_does_no_harm(photographed: MainWindow) -> None:
    window = photographed
    lost = photo(window).changed(picture="0" * 32)
    window.session.edit("Lost", [("photo", lost.id, lost)])
    window.show_view("photo")
    assert "add the photograph again" in window.status.message
    window.grab()
    window.face("line-up").hand.real.setChecked(True)
    assert window.face("line-up").columns.real() is None


def test_a_flower_s_colour_is_taken_from_the_picture_and_counts_in_the_advice(photographed: MainWindow) -> None:
    """A mark put, dragged onto a dab of paint, undone and taken away again."""
    window, box = photographed, photographed.face("tree").photo_panel.spots
    p = window.darkroom.print_of(photo(window))
    cv2.circle(p.image, (round(p.size[0] * 0.3 / p.factor), round(p.size[1] * 0.2 / p.factor)), 60, (120, 60, 220), -1)
    assert box.part.currentData() == "flower or fruit"
    box.put.click()
    view = window.face("tree").photo
    mark = next(m for m in view._all_marks(photo(window), p) if m.key == "colour flower or fruit")
    start, goal = view._at(mark.x, mark.y), view._at(p.size[0] * 0.3, p.size[1] * 0.2)
    drag(view, start, (goal.x() - start.x(), goal.y() - start.y()))
    tone = box.lines.tones["flower or fruit"]
    red, green, blue = (int(tone.colour[k : k + 2], 16) for k in (1, 3, 5))
    assert (red, green, blue) == pytest.approx((220, 60, 120), abs=4)
    assert window.face("line-up")._colours_seen()["flower or fruit"] == tone.colour
    view.grab()
    box.grab()
    again = read_collection(window.session.path)
    assert again.photos[photo(window).id].colours[0].part == "flower or fruit"
    window.do("undo")
    assert box.lines.tones["flower or fruit"].colour != tone.colour
    window.do("redo")
    row = box.lines.rect()
    QTest.mouseClick(box.lines, Qt.MouseButton.LeftButton, pos=QPoint(row.width() - 12, 8))
    assert photo(window).colours == ()
    assert "flower or fruit" not in window.face("line-up")._colours_seen()


def test_the_line_up_reads_a_marked_picture_itself_and_one_that_is_none_only_once(
    photographed: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = photographed
    window.face("tree").photo_panel.spots.put.click()
    seen = window.face("line-up")._colours_seen()
    assert "flower or fruit" in seen
    # kept no longer: it is read again when it is asked for
    window.darkroom.forget()
    assert window.face("line-up")._colours_seen() == seen
    window.darkroom.forget()
    tried: list[str] = []

    def broken(picture: str, body: bytes, name: str) -> None:
        tried.append(picture)
        raise KeshError("no picture")

    monkeypatch.setattr(window.darkroom, "develop", broken)
    for _ in range(3):
        assert "flower or fruit" not in window.face("line-up")._colours_seen()
    assert len(tried) == 1
    window.face("line-up").file_changed()
    window.face("line-up")._colours_seen()
    assert len(tried) == 2


def test_a_soil_mark_that_lies_right_is_taken_by_a_click_and_by_enter(photographed: MainWindow) -> None:
    sheet = photographed.face("tree").photo
    sheet.use_tool("marks")
    if photo(photographed).soil is not None:
        photographed.session.edit(
            "No mark", [("photo", photo(photographed).id, photo(photographed).changed(soil=None))]
        )
    mark = next(m for m in marks(photo(photographed), sheet.print_().size) if m.key == "soil")
    assert mark.proposed
    QTest.mouseClick(sheet, Qt.MouseButton.LeftButton, pos=sheet._at(mark.x, mark.y).toPoint())
    assert photo(photographed).soil == pytest.approx((mark.x, mark.y))
    photographed.do("undo")
    assert photo(photographed).soil is None
    sheet.in_hand = "soil"
    QTest.keyClick(sheet, Qt.Key.Key_Return)
    assert photo(photographed).soil == pytest.approx((mark.x, mark.y))
