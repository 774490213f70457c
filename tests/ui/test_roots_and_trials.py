"""The root mass in hand in section and plan, the roots of a pot in the line-up, and the log of trial fits."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from kesh.desk.bench import Grip
from kesh.model import RootMass
from kesh.store.reading import read_collection
from kesh.ui.window import MainWindow
from tests.ui.conftest import drag


@pytest.fixture
def roots(window: MainWindow) -> MainWindow:
    """Old Ferryman's roots in his training box."""
    window.show_view("roots")
    return window


def mass(window: MainWindow) -> RootMass:
    tree = window.session.tree
    assert tree is not None
    assert tree.roots is not None
    return tree.roots


def grip(window: MainWindow, key: str) -> Grip:
    return next(g for g in window.face("tree").roots.grips() if g.key == key)


@pytest.mark.parametrize(
    ("key", "by", "field", "times"),
    [
        ("root_depth", (0, 20), "depth_mm", 1),
        ("root_length", (24, 0), "length_mm", 2),
        ("root_width", (0, 18), "width_mm", 2),
        ("root_offset_x", (-15, 0), "offset_x_mm", -1),
        ("root_offset_y", (0, -15), "offset_y_mm", 1),
    ],
)
def test_every_grip_of_the_root_mass_moves_its_measure(
    roots: MainWindow, key: str, by: tuple[int, int], field: str, times: int
) -> None:
    sheet, before = roots.here.roots, mass(roots)
    g = grip(roots, key)
    drag(sheet, sheet.px(g.x, g.y), by)
    moved = (abs(by[0]) + abs(by[1])) / sheet.px_mm * times
    assert getattr(mass(roots), field) - getattr(before, field) == pytest.approx(moved, abs=2)
    others = {"depth_mm", "length_mm", "width_mm", "offset_x_mm", "offset_y_mm"} - {field}
    assert all(getattr(mass(roots), name) == getattr(before, name) for name in others)
    roots.do("undo")
    assert mass(roots) == before


def test_a_dragged_root_mass_moves_title_and_findings_before_it_is_written(roots: MainWindow) -> None:
    sheet = roots.here.roots
    g = grip(roots, "root_depth")
    start = sheet.px(g.x, g.y)
    drag(sheet, start, (0, 60 * sheet.px_mm), drop=False)
    assert "lower by" in roots.head.title.text()
    assert read_collection(roots.session.path).trees["old-ferryman"].roots.depth_mm == 66  # type: ignore[union-attr]
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    assert "raise by" in roots.head.title.text()


def test_keys_reach_the_root_mass_too(roots: MainWindow) -> None:
    sheet = roots.here.roots
    sheet.setFocus()
    QTest.keyClick(sheet, Qt.Key.Key_G)
    assert sheet.in_hand == "root_depth"
    before = mass(roots).depth_mm
    QTest.keyClick(sheet, Qt.Key.Key_Down, Qt.KeyboardModifier.ControlModifier)
    assert mass(roots).depth_mm == before + 10


def test_a_turned_root_mass_keeps_only_its_depth_in_hand(roots: MainWindow) -> None:
    planting = roots.session.planting
    assert planting is not None
    roots.session.edit("Turned", [("planting", planting.id, planting.changed(turn_deg=30))])
    assert [g.key for g in roots.here.roots.grips()] == ["root_depth"]


def test_no_root_mass_no_grips(roots: MainWindow) -> None:
    roots.session.choose_tree("tidewater")
    assert roots.here.roots.grips() == []


@pytest.fixture
def tried(window: MainWindow) -> MainWindow:
    """The roots view of the line-up, the tray in hand that fits."""
    window.go("line-up")
    window.face("line-up").columns.choose("ferry-tray")
    window.show_view("roots")
    return window


def test_the_line_up_cuts_through_the_pot_in_hand(tried: MainWindow) -> None:
    sheet = tried.here.roots
    assert tried.head.title.text() == "Ferry tray: raise by 1 mm"
    stand = sheet.stand
    assert stand is not None
    assert stand.pot is not None
    assert stand.pot.id == "ferry-tray"
    other = next(p for p in tried.session.lineup().pots if p != "ferry-tray")
    tried.face("line-up").columns.choose(other)
    tried.here.refresh()
    assert sheet.pot_id == other
    tried.go("tree")
    assert tried.here.roots.pot_id is None, "the present pot"


def type_stand(window: MainWindow, text: str) -> None:
    field = window.face("line-up").hand.trial.stands
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


def test_trials_are_judged_logged_and_move_the_figures(tried: MainWindow) -> None:
    box = tried.face("line-up").hand.trial
    assert not box.keep.isVisible()
    type_stand(tried, "3 cm")
    assert "Lower by 30 mm" in box.verdict.text()
    box.keep.click()
    assert mass(tried).depth_mm == 96.9
    assert "stood 30 mm, 97 mm of root" in box.log.text()
    # a third more root than was thought is more than a pine bears at once: it stands 14 mm higher until the next time
    assert tried.head.title.text() == "Ferry tray: lower by 16 of 30 mm"
    assert box.verdict.text().startswith("Wanted: 14 mm")
    type_stand(tried, "-4 mm")
    assert "Raise by 18 mm" in box.verdict.text()
    box.keep.click()
    assert [line.split(".")[0] for line in box.log.text().splitlines()] == ["1", "2"]
    stored = [e for e in read_collection(tried.session.path).events if e.kind == "trial_fit"]
    assert [dict(e.figures)["depth_mm"] for e in stored] == [96.9, 62.9]
    tried.do("undo")
    assert mass(tried).depth_mm == 96.9
    assert "2." not in box.log.text()


def test_a_trial_belongs_to_its_pot(tried: MainWindow) -> None:
    type_stand(tried, "30")
    other = next(p for p in tried.session.lineup().pots if p != "ferry-tray")
    tried.face("line-up").columns.choose(other)
    box = tried.face("line-up").hand.trial
    assert box.stands.text() == ""
    assert not box.keep.isVisible()


def test_an_impossible_trial_is_said(tried: MainWindow) -> None:
    type_stand(tried, "-300")
    assert "no root mass at all" in tried.status.message
    assert not tried.face("line-up").hand.trial.keep.isVisible()
