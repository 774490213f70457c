"""Branches bent at potting, entered beside the drawing by hand."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QCheckBox, QLineEdit

from kesh.advice.season.aftercare import Done, dry_days, steps_after
from kesh.desk.first import FirstTree
from kesh.model import Planting
from kesh.ui.rooms.planting.face import PlantingFace
from kesh.ui.window import MainWindow


def test_a_branch_is_named_pulled_told_at_the_bench_and_taken_back(window: MainWindow) -> None:
    window.session.choose_tree("old-ferryman")
    window.go("planting")
    face = window.face("planting")
    assert isinstance(face, PlantingFace)
    box = face.beside.branches
    assert not box.head.isVisible()
    box.more.click()
    form = box.forms[0].form
    name, pull, off = form.fields["branch"], form.fields["pull_mm"], form.fields["off_by"]
    assert isinstance(name, QLineEdit)
    assert isinstance(off, QLineEdit)
    assert isinstance(pull, QLineEdit)
    for field, text in ((name, "second left"), (pull, "4 cm"), (off, "1 Sep 2027")):
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
    planting = face.planting()
    assert planting is not None
    (guy,) = planting.branch_guys
    assert (guy.branch, guy.pull_mm, guy.pad, str(guy.off_by)) == ("second left", 40.0, True, "2027-09-01")
    pad = form.fields["pad"]
    assert isinstance(pad, QCheckBox)
    pad.click()
    plan = face.plan()
    assert plan is not None
    step = next(s for s in plan.steps if s.key == "branches")
    assert any("without a pad" in line for line in step.lines)
    box.forms[0].away.click()
    left = face.planting()
    assert left is not None
    assert left.branch_guys == ()
    window.session.undo()
    again = face.planting()
    assert again is not None
    assert len(again.branch_guys) == 1


def test_a_succulent_is_shown_as_it_is_worked_and_its_first_water_is_one_day_everywhere(window: MainWindow) -> None:
    s = window.session
    tree = FirstTree(name="Jade", species="jade", height_mm=300, trunk_mm=60).tree("jade", s.today)
    pot = next(p for p in s.collection.pots.values() if p.state == "shelf")
    s.edit(
        "Jade", [("tree", "jade", tree), ("planting", "j1", Planting(id="j1", tree="jade", pot=pot.id, date=s.today))]
    )
    s.choose_tree("jade")
    window.go("planting")
    face = window.face("planting")
    assert isinstance(face, PlantingFace)
    plan = face.plan()
    assert plan is not None
    assert face.kind() == plan.kind == "desert"
    window.show_view("special")
    assert "stores water" in face.title()
    water = next(step for step in plan.steps if step.key == "water")
    wait = dry_days(s.tables.species["jade"], plan.this_year.share if plan.this_year is not None else 0.0)
    assert water.figure == str(wait)
    rows = steps_after(s.tables.species["jade"], Done(0.0, bare_rooted=False, tied=False))
    assert wait >= next(r.start_day for r in rows if r.step == "first_watering")
