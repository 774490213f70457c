"""At the bench with keys only: from the first page to the last tick, a kill in the middle, a clock that tells the truth."""

from datetime import datetime, timedelta
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from kesh.base.errors import KeshError
from kesh.base.units import Units
from kesh.desk.bench_work import bare_seconds, clock, dry_seconds
from kesh.model import Work
from kesh.store.collection_file import CollectionFile
from kesh.ui import app
from kesh.ui.rooms.planting.bench.at_bench import AtBench
from kesh.ui.rooms.planting.face import PlantingFace
from kesh.ui.settings import Settings
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers

START = datetime(2026, 3, 10, 9, 0)


class Hands:
    """A clock that is moved by the test, and keys."""

    def __init__(self, window: MainWindow, tree: str = "tollgate") -> None:
        self.now = START
        window.session.choose_tree(tree)
        window.go("planting")
        face = window.face("planting")
        assert isinstance(face, PlantingFace)
        self.face, self.window = face, window
        self.bench = self.open()

    def open(self) -> AtBench:
        if self.face.bench is None:
            self.face.bench = AtBench(
                self.window.session, self.window, self.face.plan, self.face.planting, lambda: self.now
            )
            self.face.bench.finished.connect(self.face._finish)
        self.window.do("at_bench")
        return self.face.bench

    def wait(self, minutes: float) -> None:
        self.now += timedelta(minutes=minutes)

    def key(self, key: Qt.Key) -> None:
        QTest.keyClick(self.bench, key)

    def type(self, text: str) -> None:
        QTest.keyClicks(self.bench, text)

    def at(self) -> str:
        step = self.bench.step()
        return step.key if step is not None else ""

    def until(self, key: str) -> None:
        for _ in range(60):
            if self.at() == key:
                return
            self.key(Qt.Key.Key_Space)
        raise AssertionError(f"{key} never came")

    @property
    def work(self) -> Work:
        work = self.bench.work()
        assert work is not None
        return work


@pytest.fixture
def hands(window: MainWindow) -> Hands:
    return Hands(window)


def test_from_lifting_to_the_last_tick_with_a_kill_in_the_middle(
    hands: Hands, tmp_path: Path, answers: Answers, qtbot
) -> None:  # type: ignore[no-untyped-def]
    hands.until("lift")
    assert not hands.work.bare_since
    hands.until("comb")
    hands.wait(7)
    assert bare_seconds(hands.work, hands.now) == pytest.approx(7 * 60)
    hands.key(Qt.Key.Key_N)
    QTest.keyClicks(hands.bench.note, "clay at the back")
    QTest.keyClick(hands.bench.note, Qt.Key.Key_Return)
    assert hands.work.notes == ("clay at the back",)
    # the program is killed: nothing is closed, the file is opened by another one
    path = hands.window.session.path
    hands.wait(4)
    again = app.build(CollectionFile.open(path), Settings(), at_once=True, asker=answers)
    again.session.today = hands.window.session.today
    qtbot.addWidget(again)
    again.show()
    other = Hands.__new__(Hands)
    other.now = hands.now
    other.window = again
    again.session.choose_tree("tollgate")
    again.go("planting")
    face = again.face("planting")
    assert isinstance(face, PlantingFace)
    other.face = face
    other.bench = other.open()
    assert other.at() == "comb", "at the same step"
    assert bare_seconds(other.work, other.now) == pytest.approx(11 * 60), "the roots went on drying"
    plan = face.plan()
    assert plan is not None
    assert clock(other.work, plan, other.now).due == "mist"
    other.key(Qt.Key.Key_M)
    assert clock(other.work, plan, other.now).due == ""
    other.wait(3)
    other.until("try")
    page = other.bench.page()
    assert page is not None
    other.type("4")
    other.key(Qt.Key.Key_Return)
    assert other.at() != "try", "4 mm over the rim is what is wanted: seated"
    other.until("fill")
    other.type("1.5")
    other.key(Qt.Key.Key_Return)
    assert not other.work.bare_since
    bare = bare_seconds(other.work, other.now)
    other.wait(30)
    assert bare_seconds(other.work, other.now) == bare, "covered roots do not dry"
    other.until("test")
    other.type("134")
    assert set(other.work.tests) >= {"sinks"}
    for _ in range(6):
        if "tollgate" not in again.session.collection.works:
            break
        other.key(Qt.Key.Key_Space)
    c = again.session.collection
    assert "tollgate" not in c.works
    event = next(e for e in reversed(c.events) if e.tree == "tollgate" and e.kind == "repotted")
    figures = dict(event.figures)
    assert figures["bare_minutes"] == pytest.approx(14, abs=0.2)
    assert event.minutes == pytest.approx(44, abs=0.2)
    assert figures["used_l"] == 1.5
    assert "clay at the back" in event.text
    assert dict(event.planned)["minutes"] > 0
    assert not other.bench.isVisible()
    again.close()


def test_digits_and_letters_do_not_open_steps_of_the_window_behind(hands: Hands) -> None:
    hands.until("try")
    hands.type("12")
    assert hands.bench.typed == "12"
    assert hands.window.room == "planting"
    hands.key(Qt.Key.Key_Backspace)
    assert hands.bench.typed == "1"
    hands.key(Qt.Key.Key_Escape)
    assert hands.bench.typed == ""
    assert hands.bench.isVisible()
    hands.key(Qt.Key.Key_Escape)
    assert not hands.bench.isVisible()


def test_too_high_opens_the_bottom_again_with_the_new_figure(hands: Hands) -> None:
    hands.until("try")
    before = hands.window.session.tree
    assert before is not None
    hands.type("15")
    hands.key(Qt.Key.Key_Return)
    assert hands.at() == "comb", "what is not sawn is combed off below"
    step = hands.bench.step()
    assert step is not None
    assert any("11 mm off from below" in line for line in step.lines), "15 over the rim, 4 wanted"
    assert "11 mm" in hands.bench.said
    hands.until("try")
    trials = [e for e in hands.window.session.collection.events if e.kind == "trial_fit" and e.tree == "tollgate"]
    assert len(trials) == 1
    # too low: more mix under it, and on it goes
    hands.type("-6")
    hands.key(Qt.Key.Key_Return)
    assert hands.at() not in ("try", "comb")
    assert len(hands.work.trials) == 2


def test_nonsense_is_refused_and_nothing_is_lost(hands: Hands) -> None:
    hands.until("try")
    before = hands.window.session.collection
    for text in ("--", "99999", "-500", "1.2.3"):
        hands.type(text)
        hands.key(Qt.Key.Key_Return)
        assert hands.at() == "try", text
        assert hands.bench.said, text
    assert hands.window.session.collection == before


def test_water_rests_the_clock_and_comes_out_wet(hands: Hands) -> None:
    hands.until("comb")
    hands.wait(6)
    hands.key(Qt.Key.Key_P)
    hands.wait(40)
    assert bare_seconds(hands.work, hands.now) == pytest.approx(6 * 60)
    assert dry_seconds(hands.work, hands.now) == 0
    hands.key(Qt.Key.Key_P)
    hands.wait(2)
    assert bare_seconds(hands.work, hands.now) == pytest.approx(8 * 60)
    assert dry_seconds(hands.work, hands.now) == pytest.approx(2 * 60)


def test_a_clock_that_is_set_back_counts_nothing_and_heat_halves_the_prompt(hands: Hands) -> None:
    hands.until("comb")
    hands.wait(-90)
    assert bare_seconds(hands.work, hands.now) == 0
    hands.now = START
    plan = hands.face.plan()
    assert plan is not None
    whole = clock(hands.work, plan, hands.now).prompts.mist_min
    hands.key(Qt.Key.Key_H)
    assert clock(hands.work, plan, hands.now).prompts.mist_min == (whole or 0) / 2
    hands.key(Qt.Key.Key_W)
    assert hands.work.windy


def test_back_opens_the_last_step_and_the_clock_goes_on(hands: Hands) -> None:
    hands.until("set")
    bare = hands.work.bare_since
    hands.key(Qt.Key.Key_Backspace)
    assert hands.at() != "set"
    assert hands.work.bare_since == bare
    hands.until("water")
    assert hands.work.bare_since is None
    while hands.at() != "fill":
        assert hands.work.bare_since is None
        hands.key(Qt.Key.Key_Backspace)
    assert hands.work.bare_since == hands.now


def test_mist_and_water_before_lifting_say_so(hands: Hands) -> None:
    hands.key(Qt.Key.Key_M)
    assert "not bare" in hands.bench.said
    hands.key(Qt.Key.Key_P)
    assert "not bare" in hands.bench.said
    assert hands.work.bare_since is None


def test_while_it_is_set_the_arrows_move_the_trunk_and_the_sheet_follows(hands: Hands) -> None:
    hands.until("set")
    before = hands.face.planting()
    assert before is not None
    hands.key(Qt.Key.Key_Left)
    hands.key(Qt.Key.Key_Up)
    after = hands.face.planting()
    assert after is not None
    assert (after.offset_x_mm, after.offset_y_mm) == (before.offset_x_mm - 1, before.offset_y_mm + 1)
    step = hands.bench.step()
    assert step is not None
    assert step.title != ""


def test_cautions_are_read_before_a_step_is_done_and_stand_in_the_record(hands: Hands) -> None:
    hands.until("wires")
    page = hands.bench.page()
    assert page is not None
    assert page.reading
    assert page.keys[0].word == "I read it"
    hands.key(Qt.Key.Key_Space)
    assert "read-wires" in hands.work.ready


@pytest.mark.parametrize("size", [(1024, 640), (1280, 800), (2560, 1440)])
def test_every_page_is_painted_at_every_size(hands: Hands, size: tuple[int, int]) -> None:
    hands.window.resize(*size)
    assert hands.bench.size() == hands.window.size()
    seen = set()
    for _ in range(60):
        seen.add(hands.at())
        assert not hands.bench.grab().isNull()
        hands.wait(1)
        if hands.at() == "carry":
            break
        hands.key(Qt.Key.Key_Space)
    assert len(seen) > 10


def test_in_inches_the_typed_figure_is_inches(hands: Hands) -> None:
    hands.window.session.set_units(Units(length="inch"))
    hands.until("try")
    page = hands.bench.page()
    assert page is not None
    assert page.typed_words.startswith("inch")
    hands.type("0.16")
    hands.key(Qt.Key.Key_Return)
    assert hands.at() != "try", "4 mm is what is wanted"
    assert hands.work.trials == (pytest.approx(0.16 * 25.4),)


def test_what_stands_in_the_way_at_the_end_is_said_where_the_hands_are(hands: Hands) -> None:
    s = hands.window.session
    hands.until("carry")
    other = s.collection.planting_of("wicket")
    assert other is not None
    s.edit("x", [("planting", other.id, other.changed(pot="gate-oval"))])
    for _ in range(3):
        hands.key(Qt.Key.Key_Space)
    assert "nother tree stands in" in hands.bench.said
    assert hands.bench.isVisible()
    assert "tollgate" in s.collection.works
    s.edit("x", [("planting", other.id, other)])
    hands.key(Qt.Key.Key_Space)
    assert "tollgate" not in s.collection.works
    assert not hands.bench.isVisible()


def test_a_full_disk_leaves_the_page_and_says_so(hands: Hands, monkeypatch: pytest.MonkeyPatch) -> None:
    hands.until("comb")
    before = hands.work

    def full(*_: object) -> None:
        raise KeshError("the disk is full; free some room")

    monkeypatch.setattr(hands.window.session.file, "edit", full)
    hands.key(Qt.Key.Key_M)
    assert "could not be written" in hands.bench.said
    assert hands.work == before
    monkeypatch.undo()
    hands.key(Qt.Key.Key_M)
    assert hands.work.misted_at == hands.now


def test_work_on_one_tree_is_not_shown_for_another(hands: Hands) -> None:
    hands.until("comb")
    hands.key(Qt.Key.Key_Escape)
    hands.window.session.choose_tree("mossback")
    hands.open()
    assert hands.at() in ("stops", "ready")
    hands.key(Qt.Key.Key_Escape)
    hands.window.session.choose_tree("tollgate")
    hands.open()
    assert hands.at() == "comb"


def _full(*_: object) -> None:
    raise KeshError("the disk is full; free some room")


def test_a_disk_that_is_full_from_the_start_opens_no_empty_page(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    said: list[str] = []
    window.session.choose_tree("tollgate")
    window.go("planting")
    window.session.said.connect(lambda status, text: said.append(text))
    monkeypatch.setattr(window.session.file, "edit", _full)
    window.do("at_bench")
    bench = window.face("planting").bench
    assert not bench.isVisible()
    assert said == ["the disk is full; free some room"]
    monkeypatch.undo()
    window.do("at_bench")
    assert bench.isVisible()
    assert bench.step() is not None


def test_on_a_full_disk_figure_trunk_and_last_tick_are_told_at_the_bench(
    hands: Hands, monkeypatch: pytest.MonkeyPatch
) -> None:
    edits = hands.window.session.file
    hands.until("try")
    monkeypatch.setattr(edits, "edit", _full)
    hands.type("12")
    hands.key(Qt.Key.Key_Return)
    assert "disk is full" in hands.bench.said
    assert not hands.work.trials
    monkeypatch.undo()
    hands.until("set")
    before = hands.face.planting()
    monkeypatch.setattr(edits, "edit", _full)
    hands.bench.said = ""
    hands.key(Qt.Key.Key_Left)
    assert "disk is full" in hands.bench.said
    assert hands.face.planting() == before
    monkeypatch.undo()
    hands.until("carry")
    monkeypatch.setattr(edits, "edit", _full)
    # the page is read first, then ticked: neither can be written, and nothing is lost
    for _ in range(3):
        hands.key(Qt.Key.Key_Space)
    assert "written" in hands.bench.said or "disk is full" in hands.bench.said
    assert "tollgate" in hands.window.session.collection.works
    assert hands.bench.isVisible()


def test_what_the_window_says_when_all_is_well_stays_behind_the_bench(hands: Hands) -> None:
    hands.bench.said = ""
    hands.window.session.said.emit("fits", "Written: sheet.pdf")
    assert hands.bench.said == ""
    hands.window.session.said.emit("no", "the pot is gone")
    assert hands.bench.said == "The pot is gone"
    hands.key(Qt.Key.Key_Escape)
    hands.window.session.said.emit("no", "something else")
    assert hands.bench.said == "The pot is gone"
