"""A photograph of the roots from above: added, marked by hand, and seen under the root plan."""

from pathlib import Path

import cv2
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from kesh.demo.photographs.above import AboveSample
from kesh.formats.bundle import bundle_of, read_bundle
from kesh.model import TreePhoto
from kesh.ui.window import MainWindow
from tests.photo.test_above import taken
from tests.ui.conftest import Answers, drag


@pytest.fixture
def seen() -> AboveSample:
    return taken(turn_deg=40)


@pytest.fixture
def on_plan(window: MainWindow, answers: Answers, tmp_path: Path, seen: AboveSample) -> MainWindow:
    """The roots of a tree that had no photograph, taken from above and added by the command."""
    path = tmp_path / "roots.png"
    cv2.imwrite(str(path), seen.image)
    answers.path = path
    window.session.choose_tree("wicket")
    window.do("add_above")
    return window


def photo(window: MainWindow) -> TreePhoto:
    found = window.face("tree").photo.photo
    assert found is not None
    return found


def put(window: MainWindow, key: str, spot: tuple[float, float]) -> None:
    """Drag a mark to a place of the picture."""
    sheet = window.face("tree").photo
    p = sheet.print_()
    assert p is not None
    mark = next(m for m in sheet._all_marks(photo(window), p) if m.key == key)
    start, end = sheet._at(mark.x, mark.y), sheet._at(*spot)
    drag(sheet, start, (end.x() - start.x(), end.y() - start.y()))


def test_it_asks_for_its_marks_and_is_never_cut_out(on_plan: MainWindow) -> None:
    window = on_plan
    face, one = window.face("tree"), photo(window)
    assert one.view == "above"
    assert not one.front
    assert "not marked yet" in window.head.title.text()
    panel = face.photo_panel
    assert "front marker" in panel.lies.text()
    assert "the middle of the trunk" in panel.lies.text()
    for gone in (panel.round, panel.cut, panel.angle, panel.spots):
        assert not gone.isVisible()
    QTest.keyClick(face.photo, Qt.Key.Key_L)
    QTest.keyClick(face.photo, Qt.Key.Key_B)
    assert face.photo.tool == "marks"
    window.do("cut_out")
    assert "from the side" in window.status.message
    assert not window.darkroom.is_cut(one)


def test_marks_dragged_bring_it_under_the_plan_and_a_key_takes_it_away(on_plan: MainWindow, seen: AboveSample) -> None:
    window = on_plan
    panel, roots = window.face("tree").photo_panel, window.face("tree").roots
    assert roots.below.of(window.session.tree) is None
    window.show_view("roots")
    without = roots.grab().toImage()
    window.show_view("photo")
    panel.scale.how.chosen.emit("card")
    for k, corner in enumerate(seen.card_px):
        put(window, f"card{k}", (float(corner[0]), float(corner[1])))
    put(window, "soil", seen.trunk_px)
    put(window, "marker", seen.marker_px)
    assert photo(window).marker == pytest.approx(seen.marker_px, abs=2)
    assert "stands at the front" in panel.lies.text()
    panel.under.click()
    assert window.face("tree").view == "roots"
    laid = roots.below.of(window.session.tree)
    assert laid is not None
    # the card is white where it lies, right of the roots, the front at the foot
    assert int(laid.at(215, -60)[:3].min()) > 190
    over = roots.grab().toImage()
    assert over != without
    QTest.keyClick(roots, Qt.Key.Key_U)
    assert not roots.below.on
    assert roots.grab().toImage() != over
    QTest.keyClick(roots, Qt.Key.Key_U)
    assert roots.grab().toImage() == over
    window.session.change_tree("Marker moved", marker_deg=90.0)
    assert roots.below.of(window.session.tree).bgra.shape != laid.bgra.shape


def test_from_above_and_back_is_one_edit_each_and_undone(on_plan: MainWindow) -> None:
    window = on_plan
    panel = window.face("tree").photo_panel
    panel.seen.chosen.emit("side")
    assert photo(window).view == "side"
    assert panel.round.isVisible()
    assert window.session.collection.above_of("wicket") is None
    window.do("undo")
    assert photo(window).view == "above"


def test_it_is_drawn_over_the_trunk_of_the_ring_and_never_stands_in_a_pot(on_plan: MainWindow) -> None:
    window = on_plan
    ring, one = window.face("tree").photo_panel.ring, photo(window)
    middle = ring._spot(one)
    assert (middle.x(), middle.y()) == (ring.width() / 2, ring.height() / 2 - 4)
    assert window.session.collection.sides_of("wicket") == ()
    assert ring.accessibleDescription() == "above"
    got: list[str] = []
    ring.chosen.connect(got.append)
    QTest.mouseClick(ring, Qt.MouseButton.LeftButton, pos=QPoint(round(middle.x()), round(middle.y())))
    assert got == [one.id]


def test_the_key_without_a_photograph_says_how_to_come_by_one(window: MainWindow) -> None:
    window.session.choose_tree("wicket")
    window.go("tree", view="roots")
    roots = window.face("tree").roots
    told: list[str] = []
    roots.pointed.connect(told.append)
    QTest.keyClick(roots, Qt.Key.Key_U)
    assert "from above" in told[-1]


def test_view_and_marker_go_through_a_bundle(on_plan: MainWindow) -> None:
    window = on_plan
    marked = photo(window).changed(soil=(300.0, 200.0), marker=(310.0, 400.0))
    window.session.edit("Marks", [("photo", marked.id, marked)])
    again = read_bundle(bundle_of(window.session.collection, {}))
    assert again.photos[marked.id].view == "above"
    assert again.photos[marked.id].marker == (310.0, 400.0)
