"""Every finding that is listed anywhere answers: by click and by Enter, on every tree, in every room and view."""

import ast
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

import kesh
from kesh.advice.checks import RULES
from kesh.reference.grounds import grounds
from kesh.reference.notes import cautions
from kesh.ui.rooms import STEPS, room_of, steps_for
from kesh.ui.widgets.common import FindingRow
from kesh.ui.widgets.finding_list import FindingList
from kesh.ui.window import MainWindow
from tests.ui.rooms import PLACE_KEYS

SOURCE = Path(kesh.__file__).parent
MAKES_FINDINGS = {"Finding", "finding", "Said", "_made", "_said", "Check", "Doubt"}


def codes_in(folder: Path) -> set[str]:
    """The codes of findings that are written in the code, those of a kind (late/TASK) by what stands before the slash."""
    found = set()
    for path in folder.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not isinstance(node, ast.Call) or not node.args or not isinstance(node.func, ast.Name):
                continue
            first = node.args[0]
            if node.func.id == "nothing_yet" and isinstance(node.args[2], ast.Constant):
                found.add(str(node.args[2].value))
            if node.func.id not in MAKES_FINDINGS:
                continue
            if isinstance(first, ast.Constant):
                found.add(str(first.value))
            elif isinstance(first, ast.JoinedStr) and isinstance(first.values[0], ast.Constant):
                found.add(str(first.values[0].value).split("/")[0])
    return found


def test_every_code_has_its_row_and_every_row_is_used() -> None:
    written = codes_in(SOURCE / "advice") | {rule.code for rule in RULES}
    assert len(written) > 130
    assert written <= set(grounds()), written - set(grounds())
    years = {"dry_summer", "wet_winter", "night_at_risk", "hot_wall"}
    assert set(grounds()) <= written | years, set(grounds()) - written - years


def test_rows_lead_to_rooms_that_are_there_and_speak_in_sentences() -> None:
    for code, row in grounds().items():
        assert row.changed, code
        for words, room in row.changed:
            assert room_of(room), code
            assert words[0].isupper(), code
        assert row.rule.endswith("."), code
        assert not row.sure.endswith("."), code
    assert "lift_mass" in grounds()
    assert cautions()


def ask_all(window: MainWindow, seen: set[object]) -> None:
    """Click every row in sight, and Enter on the first of each code; what another view of the room showed is not asked again."""
    for listed in window.here.panel.findChildren(FindingList):
        if not listed.rows and listed.findings:
            # all of them fit and are folded away
            listed._toggle()
    QApplication.processEvents()
    for row in [r for r in window.here.panel.findChildren(FindingRow) if r.isVisibleTo(window)]:
        here = (window.session.tree_id, window.room, row.finding)
        if here in seen:
            continue
        seen.add(here)
        QTest.mouseClick(row, Qt.MouseButton.LeftButton)
        assert window.asking, here
        assert window.why.finding == row.finding
        window.back()
        if (window.room, row.finding.code) not in seen:
            seen.add((window.room, row.finding.code))
            QTest.keyClick(row, Qt.Key.Key_Return)
            assert window.asking, here
            window.back()


# a minute of reckoning for a tree: the year's findings are asked of the first; the shelf's years have no list of their own
YEARS, BARE = {("water", "year")}, {("line-up", "shelf"), ("log", "ahead")}


def views_of(window: MainWindow) -> list[str]:
    first = window.session.tree_id == next(iter(window.session.collection.trees))
    left_out = BARE if first else YEARS | BARE
    return [key for key, _ in window.here.views() if (window.room, key) not in left_out] or [""]


@pytest.fixture
def asked(no_years: None, window: MainWindow) -> MainWindow:
    """A window that paints no sheets and reckons no years of pots: rows are asked here, the rest is tested elsewhere."""
    window.middle.setUpdatesEnabled(False)
    return window


@pytest.mark.parametrize("step", [room.key for room in STEPS])
def test_every_row_of_every_tree_answers(asked: MainWindow, step: str) -> None:
    window = asked
    seen: set[object] = set()
    for tree in window.session.collection.trees:
        window.session.choose_tree(tree)
        if step not in [room.key for room in steps_for(window.session)]:
            continue
        window.go(step)
        for view in views_of(window):
            if view:
                window.show_view(view)
            ask_all(window, seen)
        if len(views_of(window)) > 1:
            window.show_view(views_of(window)[0])
    # step Roots tells its verdict in the drawing: it has no list
    assert bool(seen) is (step != "roots")


@pytest.mark.parametrize("place", PLACE_KEYS)
def test_every_row_of_every_place_answers(asked: MainWindow, place: str) -> None:
    window = asked
    window.go(place)
    for view in views_of(window):
        if view:
            window.show_view(view)
        ask_all(window, set())


def test_what_a_finding_rests_on_leads_to_where_it_is_changed(window: MainWindow) -> None:
    assert window.ask("depth_band")
    window.why.wanted.emit("brief")
    assert window.room == "brief"
    assert not window.asking
