"""Where a figure is missing the finding carries its field: typed there, judged at once."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit

from kesh.advice.lacks import RESTS_ON, lacking
from kesh.desk.first import FirstPot, FirstTree
from kesh.model import Measure, Planting
from kesh.reference.grounds import grounds
from kesh.ui.widgets.lack_rows import LackRows
from kesh.ui.window import MainWindow


@pytest.fixture
def bare(window: MainWindow) -> MainWindow:
    """A tree of which height and trunk alone are known, in a pot whose holes nobody has seen."""
    s = window.session
    tree = FirstTree(name="Bare", height_mm=420, trunk_mm=50).tree("bare", s.today)
    measure = Measure(taken=s.today, height_mm=420, trunk_diameter_mm=50)
    pot = FirstPot(name="Plain", length_mm=300, width_mm=220, height_mm=70).pot("plain")
    standing = Planting(id="bare-1", tree="bare", pot="plain", date=s.today)
    s.edit(
        "Bare",
        [("tree", "bare", tree.changed(measures=(measure,))), ("pot", "plain", pot), ("planting", "bare-1", standing)],
    )
    s.choose_tree("bare")
    window.go("tree")
    return window


def rows(window: MainWindow, code: str) -> LackRows:
    assert window.ask(code)
    found = window.why.lacks
    assert found is not None
    return found


def typed(field: object, text: str) -> None:
    assert isinstance(field, QLineEdit)
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


def test_every_row_of_the_table_is_a_finding() -> None:
    assert set(RESTS_ON) <= set(grounds())


def test_reach_is_typed_in_the_finding_and_it_is_judged(bare: MainWindow) -> None:
    s = bare.session
    found = rows(bare, "length_band")
    assert set(found.fields) == {"canopy_left_mm", "canopy_right_mm"}
    typed(found.fields["canopy_left_mm"], "21 cm")
    assert s.tree is not None
    assert s.tree.measure.canopy_left_mm == 210
    typed(rows(bare, "length_band").fields["canopy_right_mm"], "190")
    a = s.assessment()
    assert a is not None
    judged = a.finding("length_band")
    assert judged is not None
    assert judged.status != "unknown"
    assert lacking(a, "length_band", judged.status) == ()
    bare.do("undo")
    assert s.tree.measure.canopy_right_mm is None


def test_a_species_is_named_in_the_finding_and_an_unclear_one_is_asked(bare: MainWindow) -> None:
    found = rows(bare, "season")
    typed(found.fields["species"], "pine")
    assert bare.session.tree is not None
    assert bare.session.tree.species is None
    assert "Which one?" in found.told.text()
    typed(found.fields["species"], "scots pine")
    assert bare.session.tree.species == "scots_pine"


def test_holes_are_counted_in_the_finding(bare: MainWindow) -> None:
    found = rows(bare, "drain_holes")
    typed(found.fields["holes"], "2 drain 20, 4 tie")
    pot = bare.session.collection.pots["plain"]
    assert pot.holes_known
    assert len(pot.holes) == 6


def test_of_the_roots_one_size_is_enough_to_go_on(bare: MainWindow) -> None:
    found = rows(bare, "root_depth")
    assert set(found.fields) == {"length_mm", "width_mm", "depth_mm"}
    typed(found.fields["depth_mm"], "60")
    tree = bare.session.tree
    assert tree is not None
    assert tree.roots is not None
    assert tree.roots.depth_mm == 60
    assert tree.roots.assumed


def test_what_is_judged_carries_no_field(window: MainWindow) -> None:
    for tree in window.session.collection.trees:
        window.session.choose_tree(tree)
        a = window.session.assessment()
        assert a is not None
        for finding in a.findings:
            if finding.status != "unknown":
                assert lacking(a, finding.code, finding.status) == ()
