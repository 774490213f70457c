"""What was asked of one collection never lands in another; what is deleted comes back; what is repotted is written as it was done."""

from pathlib import Path

import pytest

from kesh.advice.roots.repotting import roots_after
from kesh.base.progress import Progress
from kesh.store.collection_file import CollectionFile
from kesh.ui.runner import Runner
from kesh.ui.window import MainWindow
from tests.builders import pot, tree
from tests.ui.conftest import Answers


def other_file(folder: Path) -> CollectionFile:
    from kesh.model import Collection

    return CollectionFile.create(
        folder / "other.kesh", Collection(name="Other", trees={"maple": tree()}, pots={"tray": pot()})
    )


def test_answers_for_the_file_before_are_dropped(qtbot) -> None:  # type: ignore[no-untyped-def]
    runner, got = Runner(), []
    runner.start("photo", lambda: 1, got.append)
    runner.start_long("import", "Reading", lambda progress: 2, got.append)
    runner.new_collection()
    runner.wait()
    qtbot.wait(50)
    assert got == []
    runner.start("photo", lambda: 3, got.append)
    qtbot.waitUntil(lambda: got == [3])
    runner.stop()


def test_a_list_that_was_being_read_is_not_taken_into_another_file(
    window: MainWindow, answers: Answers, tmp_path: Path, qtbot
) -> None:  # type: ignore[no-untyped-def]
    slow = Runner(window)
    slow.failed.connect(lambda text: window.session.said.emit("no", text))
    list_of = tmp_path / "pots.csv"
    list_of.write_text("name,length_mm,width_mm,height_mm\n" + "".join(f"P{i},300,200,60\n" for i in range(3000)))
    object.__setattr__(window.context, "runner", slow)
    window.session.file_changed.connect(slow.new_collection)
    answers.path = list_of
    window.do("import")
    other = other_file(tmp_path)
    window.take_file(other)
    slow.wait()
    qtbot.wait(80)
    assert set(window.session.collection.pots) == {"tray"}
    slow.stop()


def test_the_solver_s_chart_goes_with_its_file(workshop: MainWindow, tmp_path: Path) -> None:
    workshop.do("solve")
    assert workshop.face("workshop").desk.solver.solution is not None
    workshop.take_file(other_file(tmp_path))
    workshop.go("workshop")
    assert workshop.face("workshop").desk.solver.solution is None


def test_stop_changes_nothing_until_writing_begins_and_then_does_not_pretend(qtbot) -> None:  # type: ignore[no-untyped-def]
    progress = Progress(lambda share, words: None)
    progress.finish()
    assert progress.finishing
    progress.at(0.9)
    runner, told = Runner(), []
    runner.failed.connect(told.append)
    gate: list[bool] = []

    def work(p: Progress) -> str:
        p.finish()
        gate.append(True)
        while len(gate) < 2:
            pass
        return "written"

    got: list[str] = []
    runner.start_long("write", "Writing", work, got.append)
    qtbot.waitUntil(lambda: bool(gate))
    runner.halt()
    gate.append(True)
    qtbot.waitUntil(lambda: got == ["written"])
    assert not any("Nothing was changed" in words for words in told)
    runner.stop()


def chosen(window: MainWindow) -> str:
    """A pot for the tree in hand that is written down as chosen."""
    window.go("line-up")
    session = window.session
    key = next(p for p in session.lineup().pots if p != session.planting.pot)  # type: ignore[union-attr]
    session.edit("Chosen", [("lineup", session.tree_id, session.lineup().changed(chosen=key))])
    return key


def test_repotting_writes_the_root_mass_that_is_left(window: MainWindow, answers: Answers) -> None:
    answers.word = "Both stand in it from now on"
    key = chosen(window)
    session = window.session
    before, a = session.tree.root_masses, session.tried(session.collection.pots[key])  # type: ignore[union-attr]
    left = roots_after(a, session.today)
    window.do("repotted")
    after = session.tree.root_masses  # type: ignore[union-attr]
    assert session.planting.pot == key  # type: ignore[union-attr]
    assert after[: len(before)] == before
    if left is not None:
        assert after[-1] == left
        assert after[-1].depth_mm <= before[-1].depth_mm
    # what was cut is not asked for again
    again = session.assessment()
    assert again is not None
    if again.figures.roots is not None:
        assert float(again.figures.roots.off_bottom_mm[0]) < 1.0
    window.do("undo")
    assert session.tree.root_masses == before  # type: ignore[union-attr]


def test_slipping_cuts_nothing(window: MainWindow, answers: Answers) -> None:
    answers.word = "Both stand in it from now on"
    chosen(window)
    before = window.session.tree.root_masses  # type: ignore[union-attr]
    window.do("slipped")
    assert window.session.tree.root_masses == before  # type: ignore[union-attr]


def test_two_trees_stand_in_one_pot_only_when_somebody_means_it(window: MainWindow, answers: Answers) -> None:
    session = window.session
    here, there = list(session.collection.trees)[:2]
    taken = session.collection.planting_of(there).pot  # type: ignore[union-attr]
    session.choose_tree(here)
    session.edit("Chosen", [("lineup", here, session.lineup().changed(chosen=taken))])
    answers.word = None
    window.do("repotted")
    assert session.collection.planting_of(here).pot != taken  # type: ignore[union-attr]
    assert "stands in" in answers.asked[-1]
    answers.word = f"Take {session.collection.trees[there].name} out of it first"
    window.do("repotted")
    assert session.collection.planting_of(here).pot == taken  # type: ignore[union-attr]
    assert session.collection.planting_of(there) is None


@pytest.mark.parametrize("what", ["delete_tree", "delete_pot"])
def test_what_is_deleted_goes_with_what_hangs_on_it_and_comes_back(window: MainWindow, what: str) -> None:
    before = window.session.collection
    if what == "delete_pot":
        window.go("shelf")
        window.face("shelf").choose(window.session.planting.pot)  # type: ignore[union-attr]
        gone = window.session.planting.pot  # type: ignore[union-attr]
    else:
        gone = window.session.tree_id
    window.do(what)
    after = window.session.collection
    assert gone not in after.trees
    assert gone not in after.pots or what == "delete_tree"
    field = "tree" if what == "delete_tree" else "pot"
    assert not any(getattr(p, field) == gone for p in after.plantings)
    assert not any(getattr(p, field, None) == gone for p in after.photos.values())
    for room in ("tree", "brief", "line-up", "shelf", "workshop"):
        window.go(room)
        window.grab()
    window.do("undo")
    now = window.session.collection
    assert (now.trees, now.pots, now.photos, now.lineups) == (before.trees, before.pots, before.photos, before.lineups)
    assert set(now.plantings) == set(before.plantings)


def test_a_preview_shows_every_row_before_anything_is_taken(
    window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    path = tmp_path / "pots.csv"
    path.write_bytes(
        "sep=;\r\nNAME; Length (cm) ;width;Height\r\nEins; 30,5;20 cm;4 in\r\nZwei;x;20;6\r\n".encode("utf-16")
    )
    answers.path, answers.yes = path, False
    before = set(window.session.collection.pots)
    window.do("import")
    assert answers.dialog is not None
    assert set(window.session.collection.pots) == before
    answers.yes = True
    window.do("import")
    fresh = set(window.session.collection.pots) - before
    assert len(fresh) == 1
    one = window.session.collection.pots[fresh.pop()]
    assert (one.length_mm, one.width_mm, one.height_mm) == (305, 200, pytest.approx(101.6))
    assert window.session.left_out
