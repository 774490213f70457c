"""The makers of the Workshop: what they bring, what they are told, files, fixes, meshes."""

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget

from kesh.advice.routes.joiner import BoxWishes
from kesh.advice.routes.printer import PrintWishes
from kesh.advice.routes.tube import TubeWishes
from kesh.demo.pictures import create_demo
from kesh.formats.mesh import stl
from kesh.geometry.feet import with_feet
from kesh.geometry.solid import solid
from kesh.ui import app
from kesh.ui.settings import Settings
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers
from tests.ui.workshop_hands import pot


@pytest.mark.parametrize("route", ["potter", "box", "tube", "drill"])
def test_each_maker_s_files_are_written(workshop: MainWindow, answers: Answers, tmp_path: Path, route: str) -> None:
    workshop.face("workshop").desk.routes[route].click()
    if route == "drill":
        workshop.face("workshop").desk.list.choose("uncut-oval")
        assert workshop.face("workshop").desk.plan.proposed
    assert workshop.face("workshop").makers.job is not None
    answers.path = tmp_path
    workshop.face("workshop").makers.main.click()
    assert workshop.status.message.startswith("Written: ")
    folder = tmp_path / f"Old Ferryman - {pot(workshop).name}" / route
    assert next(folder.glob("*-sheet.pdf")).read_bytes()[:5] == b"%PDF-"
    assert {p.suffix for p in folder.iterdir()} >= {".svg", ".dxf", ".csv", ".txt", ".pdf"}
    listed = (folder / "contents.txt").read_text()
    assert all(p.name in listed for p in folder.iterdir() if p.name != "contents.txt")


def test_a_second_run_asks_before_it_replaces_and_can_stand_beside(
    workshop: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    answers.path = tmp_path
    face = workshop.face("workshop")
    face.makers.main.click()
    folder = tmp_path / f"Old Ferryman - {pot(workshop).name}" / "potter"
    mine = folder / "my-notes.txt"
    mine.write_text("keep me")
    before = {p.name: p.stat().st_mtime_ns for p in folder.iterdir()}
    # nobody answers: nothing is touched
    answers.word = None
    face.makers.main.click()
    assert "files of an earlier run" in answers.asked[-1]
    assert {p.name: p.stat().st_mtime_ns for p in folder.iterdir()} == before
    answers.word = "Keep them, write a new folder beside"
    face.makers.main.click()
    assert (folder.parent / "potter-2" / "contents.txt").exists()
    assert {p.name: p.stat().st_mtime_ns for p in folder.iterdir()} == before
    answers.word = "Replace them"
    face.makers.main.click()
    assert mine.read_text() == "keep me"
    assert {p.name for p in folder.iterdir()} == set(before)


def test_nothing_to_drill_writes_nothing(workshop: MainWindow, answers: Answers, tmp_path: Path) -> None:
    answers.path = tmp_path
    face = workshop.face("workshop")
    face.show_route("drill")
    face.desk.list.choose("ferry-tray")
    workshop.do("make_files")
    assert "nothing" in workshop.status.message
    assert not list(tmp_path.glob("* - *"))


def test_the_printer_s_bed_and_mistakes_are_told_at_the_panel(workshop: MainWindow) -> None:
    panel = workshop.face("workshop").makers
    workshop.face("workshop").show_route("print")
    assert panel.job is not None
    pieces = len(panel.job.solids)
    panel.makers.asked["print", "bed_mm"][0].entered.emit(500.0)
    panel.makers.asked["print", "bed_mm"][1].entered.emit(500.0)
    assert panel.job is not None
    assert len(panel.job.solids) < pieces
    panel.makers.asked["print", "bed_mm"][2].entered.emit(9.0)
    assert panel.job is None
    assert "leaves no room to print" in panel.trouble.text()
    assert not panel.main.isEnabled()
    workshop.do("make_files")
    assert "leaves no room" in workshop.status.message


def test_a_test_bar_of_one_s_own_changes_the_wet_size(workshop: MainWindow) -> None:
    panel = workshop.face("workshop").makers
    for field, mm in ((panel.makers.bar["wet"], 100.0), (panel.makers.bar["fired"], 90.0)):
        field.setFocus()
        field.setText(f"{mm:g} mm")
        QTest.keyClick(field, Qt.Key.Key_Return)
    assert panel.wishes.shrinkage_of("stoneware_unglazed") == pytest.approx(0.10)
    assert panel.job is not None
    assert dict(panel.job.facts)["Wet, at the rim"].startswith(f"{384 / 0.9:.0f} ×")
    panel.makers.bar["fired"].setText("120 mm")
    panel.makers.bar["fired"].setFocus()
    QTest.keyClick(panel.makers.bar["fired"], Qt.Key.Key_Return)
    assert "fired is the shorter one" in workshop.status.message


def test_a_bar_measured_dry_gives_both_shrinkages_and_stays_with_its_clay(workshop: MainWindow) -> None:
    panel = workshop.face("workshop").makers
    for when, mm in (("wet", 100.0), ("dry", 94.0), ("fired", 88.0)):
        field = panel.makers.bar[when]
        field.setFocus()
        field.setText(f"{mm:g} mm")
        QTest.keyClick(field, Qt.Key.Key_Return)
    assert panel.job is not None
    facts = dict(panel.job.facts)
    assert "6.0% drying, 6.4% firing" in facts["Shrinkage in length"]
    assert facts["Dry, before firing"].startswith(f"{384 / 0.88 * 0.94:.0f} ×")
    panel.makers.clay.chosen.emit("porcelain")
    assert panel.makers.bar["wet"].mm is None
    assert panel.job is not None
    assert "fire a bar first" in dict(panel.job.facts)["Shrinkage in length"]
    panel.makers.clay.chosen.emit("stoneware_unglazed")
    assert panel.makers.bar["dry"].mm == 94.0


def test_what_a_maker_brings_is_there_at_the_next_start(workshop: MainWindow, tmp_path: Path) -> None:
    panel = workshop.face("workshop").makers
    workshop.face("workshop").show_route("print")
    panel.makers.asked["print", "bed_mm"][0].entered.emit(310.0)
    workshop.face("workshop").show_route("box")
    panel.makers.asked["box", "shape"].chosen.emit("mitre")
    again = app.build(create_demo(tmp_path / "again.kesh"), Settings(), at_once=True)
    again.go("workshop")
    kept = again.face("workshop").makers.wishes
    assert kept.of(PrintWishes).bed_mm[0] == 310.0
    assert kept.of(BoxWishes).joint == "mitre"
    again.close()


def test_staves_and_rings_are_asked_for_where_they_matter(workshop: MainWindow) -> None:
    panel = workshop.face("workshop").makers
    workshop.face("workshop").show_route("box")
    assert not panel.makers.asked["box", "staves"].isVisible()
    panel.makers.asked["box", "shape"].chosen.emit("tub of staves")
    assert panel.makers.asked["box", "staves"].isVisible()
    assert panel.job is not None
    assert "Saw tilted to" in dict(panel.job.facts)
    panel.makers.asked["box", "staves"].setText("3")
    panel.makers.asked["box", "staves"].editingFinished.emit()
    assert panel.job is None
    assert "take more" in panel.trouble.text()
    workshop.face("workshop").show_route("tube")
    panel.makers.asked["tube", "rings"].setText("9")
    panel.makers.asked["tube", "rings"].editingFinished.emit()
    assert panel.job is None
    assert "take fewer" in panel.trouble.text()


def test_fixes_done_change_the_pot(workshop: MainWindow) -> None:
    workshop.face("workshop").show_route("drill")
    workshop.face("workshop").desk.list.choose("uncut-oval")
    panel = workshop.face("workshop").makers
    assert "Drill 4 drain holes" in panel.fixes.text()
    panel.do_fixes.click()
    assert len(pot(workshop).drain_holes) == 4
    assert "Drill" not in panel.fixes.text()


def test_a_mesh_comes_in_with_its_unit_asked_for(
    workshop: MainWindow, answers: Answers, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    tray = with_feet(workshop.session.collection.pots["chalk-oval"])
    path = tmp_path / "river_find.stl"
    path.write_bytes(stl(solid(tray)))
    answers.path = path
    asked: list[str] = []

    def choose(parent: QWidget, title: str, question: str, options: list[str]) -> str:
        asked.append(question)
        return "mm"

    monkeypatch.setattr(answers, "choose", choose)
    workshop.do("import_mesh")
    assert "does not say its unit" in asked[0]
    found = next(p for p in workshop.session.collection.pots.values() if p.name == "river find")
    assert found.length_mm == pytest.approx(tray.length_mm, abs=0.6)
    assert workshop.room == "shelf"
    path.write_bytes(b"nothing")
    workshop.do("import_mesh")
    assert "export the pot as a mesh" in workshop.status.message


def test_layer_height_changes_layers_and_not_the_plastic(workshop: MainWindow) -> None:
    panel = workshop.face("workshop").makers
    workshop.face("workshop").show_route("print")
    assert panel.job is not None
    first = panel.job.tables[0][2][0]
    panel.makers.asked["print", "setting.layer_mm"].entered.emit(0.15)
    assert panel.job is not None
    second = panel.job.tables[0][2][0]
    assert int(second[4]) == pytest.approx(2 * int(first[4]), abs=1)
    assert second[2] == first[2]
    assert panel.makers.asked["print", "setting.layer_mm"].text() == "0.15 mm"


def test_the_solver_keeps_to_the_kiln_and_to_who_lifts(workshop: MainWindow) -> None:
    panel = workshop.face("workshop").makers
    assert panel.wishes.kiln_mm is None
    for field, mm in zip(panel.makers.kiln, (430.0, 340.0, 115.0), strict=True):
        field.setFocus()
        field.setText(f"{mm:g} mm")
        QTest.keyClick(field, Qt.Key.Key_Return)
    panel.makers.lifters.chosen.emit("1")
    workshop.do("solve")
    solution = workshop.face("workshop").desk.solver.solution
    assert solution is not None
    assert solution.designs
    # stoneware goes in wet, an eighth longer than it comes out
    assert all(d.pot.length_mm / 0.88 <= 431 and d.pot.height_mm / 0.88 <= 116 for d in solution.designs)
    for d in solution.designs:
        mass = solution.assessment(d).figures.stand
        assert mass is not None
        assert float(mass.mass_wet_kg[0]) <= float(mass.one_person_kg[0]) + 1e-6


def test_what_a_route_asks_is_typed_and_chosen_in_the_window(workshop: MainWindow) -> None:
    panel = workshop.face("workshop").makers
    workshop.face("workshop").show_route("tube")
    many, wall, pipe = (panel.makers.asked["tube", field] for field in ("count", "wall_mm", "pipe"))
    many.setFocus()
    many.selectAll()
    QTest.keyClicks(many, "3")
    QTest.keyClick(many, Qt.Key.Key_Return)
    assert panel.wishes.of(TubeWishes).count == 3
    wall.setFocus()
    wall.selectAll()
    QTest.keyClicks(wall, "6 mm")
    QTest.keyClick(wall, Qt.Key.Key_Return)
    assert panel.wishes.of(TubeWishes).wall_mm == 6.0
    before = pipe.currentText()
    pipe.setFocus()
    QTest.keyClick(pipe, Qt.Key.Key_Down)
    assert pipe.currentText() != before
    assert panel.job is not None
    assert panel.job.route == "tube"
    # what is no number is a sentence, and the figure before stands
    many.setFocus()
    many.selectAll()
    QTest.keyClicks(many, "some")
    QTest.keyClick(many, Qt.Key.Key_Return)
    assert "no whole number" in workshop.status.message
    assert many.text() == "3"
