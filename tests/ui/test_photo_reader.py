"""On the photograph: the reader of the trunk, heights marked on it, years ahead, front and marker, traits."""

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from kesh.desk.heights import marked_heights
from kesh.desk.photo import Mark
from kesh.model import Trait
from kesh.ui.window import MainWindow
from tests.ui.conftest import drag, press


@pytest.fixture
def reading(window: MainWindow) -> MainWindow:
    """Old Ferryman's photograph, cut out."""
    window.session.choose_tree("old-ferryman")
    window.show_view("photo")
    assert window.face("tree").photo.found() is not None
    return window


def mark(window: MainWindow, key: str) -> tuple[Mark, QPointF]:
    sheet = window.face("tree").photo
    photo, p = sheet.photo, sheet.print_()
    assert photo is not None
    assert p is not None
    found = {m.key: m for m in sheet._all_marks(photo, p)}[key]
    return found, sheet._at(found.x, found.y)


def test_dragging_the_reader_reads_the_trunk_s_width_at_its_height(reading: MainWindow) -> None:
    window, sheet = reading, reading.face("tree").photo
    found = sheet.found()
    assert found is not None
    assert sheet.reading_mm() == found.trunk_at_mm["above_flare"]
    _, spot = mark(window, "reader")
    up = 40 * found.profile.ruler.px_mm * sheet.print_().factor * sheet.px_mm  # type: ignore[union-attr]
    before = sheet.reading_mm()
    drag(sheet, spot, (0, -round(up)))
    assert sheet.reading_mm() == pytest.approx(before + 40, abs=2.5)
    cross = found.profile.at(sheet.reading_mm())
    assert cross is not None
    assert f"{cross.width.value:.0f} mm wide" in window.status.hand
    assert f"{cross.width.value:.0f} mm wide" in window.face("tree").photo_panel.trunk.reader.text()
    window.do("undo")
    assert "Nothing to undo" in window.status.message


def test_the_reader_goes_by_keys_too(reading: MainWindow) -> None:
    sheet = reading.face("tree").photo
    sheet.setFocus()
    while sheet.in_hand != "reader":
        QTest.keyClick(sheet, Qt.Key.Key_G)
    before = sheet.reading_mm()
    QTest.keyClick(sheet, Qt.Key.Key_Up)
    QTest.keyClick(sheet, Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(sheet, Qt.Key.Key_Down)
    assert sheet.reading_mm() == pytest.approx(before + 10)
    for _ in range(80):
        QTest.keyClick(sheet, Qt.Key.Key_Down, Qt.KeyboardModifier.ControlModifier)
    assert sheet.reading_mm() == 0


def test_a_height_is_marked_at_the_reader_dragged_typed_and_cleared(reading: MainWindow) -> None:
    window, sheet, box = reading, reading.face("tree").photo, reading.face("tree").photo_panel.trunk
    sheet.read_at(48)
    box.kind.show_key("wound")
    box.mark.click()
    tree = window.session.tree
    assert tree is not None
    assert [(f.kind, f.height_mm) for f in tree.features] == [("wound", 48.0)]
    key = next(h.key for h in marked_heights(tree) if h.key.startswith("wound"))
    _, spot = mark(window, f"height {key}")
    drag(sheet, spot, (0, -30))
    moved = window.session.tree.features[0].height_mm  # type: ignore[union-attr]
    assert moved > 60
    field = box.fields[key]
    field.setFocus()
    field.setText("75 mm")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert window.session.tree.features[0].height_mm == 75  # type: ignore[union-attr]
    field.setText("")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert window.session.tree.features == ()  # type: ignore[union-attr]
    assert key not in box.fields
    window.do("undo")
    assert window.session.tree.features[0].height_mm == 75  # type: ignore[union-attr]
    window.grab()


def test_the_graft_is_one_height_and_a_taproot_lies_below(reading: MainWindow) -> None:
    window, box = reading, reading.face("tree").photo_panel.trunk
    window.face("tree").photo.read_at(30)
    for kind in ("graft", "graft", "tap_root"):
        box.kind.show_key(kind)
        box.mark.click()
    tree = window.session.tree
    assert tree is not None
    assert tree.measure.graft_height_mm == 30
    assert [f.height_mm for f in tree.features] == [-30]
    assert [h.words for h in marked_heights(tree)] == ["Taproot end", "Graft"]


def test_another_station_changes_the_depth_asked_for_and_says_why(reading: MainWindow) -> None:
    window, box = reading, reading.face("tree").photo_panel.trunk
    before = window.session.case().bands.depth.low
    assert "above flare" in box.depths.text()
    assert "(in use)" in box.depths.text().splitlines()[1]
    box.station.chosen.emit("soil")
    assert window.session.case().bands.depth.low != before
    assert "(in use)" in box.depths.text().splitlines()[0]
    assert "tradition" in box.why.text()


def test_years_ahead_are_laid_over_the_picture_and_change_it(reading: MainWindow) -> None:
    window, sheet = reading, reading.face("tree").photo
    plain = sheet.grab().toImage()
    sheet.setFocus()
    QTest.keyClick(sheet, Qt.Key.Key_Y)
    assert sheet.years
    assert window.face("tree").photo_panel.trunk.show_later.isChecked()
    assert "in 5 years" in window.face("tree").photo_panel.trunk.later.text()
    laid = sheet.grab().toImage()
    assert laid != plain
    window.session.change_brief("Horizon", horizon_years=15.0)
    assert sheet.grab().toImage() != laid
    QTest.keyClick(sheet, Qt.Key.Key_Y)
    assert not sheet.years


def test_the_marker_is_typed_and_stands_in_the_plan(reading: MainWindow) -> None:
    window, panel = reading, reading.face("tree").photo_panel
    panel.marker.setText("north")
    panel.marker.editingFinished.emit()
    assert "Marker: 'north' is no number" in window.status.message
    window.show_view("roots")
    bare = window.face("tree").roots.grab().toImage()
    window.show_view("photo")
    panel.marker.setText("-30")
    panel.marker.editingFinished.emit()
    assert window.session.tree.marker_deg == 330  # type: ignore[union-attr]
    window.show_view("roots")
    assert window.face("tree").roots.grab().toImage() != bare


def test_traits_grow_by_click_and_key_and_reach_the_brief(window: MainWindow) -> None:
    strip = window.face("tree").measures.traits
    window.session.choose_tree("tollgate")
    places = dict(strip.chips(strip.width()))
    for _ in range(3):
        press(strip, places["powerful"].center())
    assert window.session.tree.traits == (Trait(kind="powerful", strength=3),)  # type: ignore[union-attr]
    assert "Powerful" in window.face("tree").measures.character.text()
    press(strip, places["powerful"].center())
    assert window.session.tree.traits == ()  # type: ignore[union-attr]
    strip.setFocus()
    QTest.keyClick(strip, Qt.Key.Key_Right)
    QTest.keyClick(strip, Qt.Key.Key_Space)
    assert window.session.tree.traits == (Trait(kind="delicate", strength=1),)  # type: ignore[union-attr]
    assert "slight delicate" in strip.accessibleDescription()
    QTest.keyClick(strip, Qt.Key.Key_Delete)
    window.do("undo")
    assert window.session.tree.traits == (Trait(kind="delicate", strength=1),)  # type: ignore[union-attr]
