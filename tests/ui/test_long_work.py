"""Long work says how far it is, can be stopped by button and key, and leaves nothing half done."""

import threading
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from kesh.base.progress import Progress, StoppedError
from kesh.formats.lists.pots import read_pots, write_pots
from kesh.ui.runner import Runner
from kesh.ui.window import MainWindow
from tests.builders import pot
from tests.ui.conftest import Answers


def steps(gate: threading.Event, progress: Progress) -> str:
    for k in range(2000):
        progress.at(k / 2000, "Counting")
        gate.wait(0.005)
    return "done"


def test_progress_arrives_and_a_stop_ends_the_work(qtbot: QtBot) -> None:
    runner, seen, told = Runner(), [], []
    runner.busy.connect(lambda words, share: told.append((words, share)))
    runner.start_long("count", "Reading", lambda p: steps(threading.Event(), p), seen.append)
    qtbot.waitUntil(lambda: len(told) > 3)
    assert told[0] == ("Reading", 0.0)
    assert told[-1][0] == "Counting"
    assert [share for _, share in told] == sorted(share for _, share in told)
    with qtbot.waitSignals([runner.stopped, runner.idle], timeout=300):
        assert runner.halt()
    count = len(told)
    runner.wait()
    qtbot.wait(30)
    assert seen == []
    assert len(told) == count
    assert not runner.halt()
    runner.stop()


def test_closing_does_not_wait_for_long_work_to_finish(qtbot: QtBot) -> None:
    runner = Runner()
    started = threading.Event()

    def work(progress: Progress) -> str:
        started.set()
        return steps(threading.Event(), progress)

    runner.start_long("count", "Reading", work, lambda _: pytest.fail("it was stopped"))
    assert started.wait(2)
    runner.stop()
    assert not any(t.name.startswith("kesh") and t.is_alive() for t in threading.enumerate())


def test_a_stopped_list_brings_nothing_in(tmp_path: Path) -> None:
    path = tmp_path / "list.csv"
    write_pots(path, [pot(id=f"p{i}") for i in range(300)])
    shares: list[float] = []
    progress = Progress(lambda share, _: shares.append(share))
    assert len(read_pots(path, (), progress).pots) == 300
    progress.stop()
    with pytest.raises(StoppedError, match="Nothing was changed"):
        read_pots(path, (), progress)
    assert all(0 <= share <= 1 for share in shares)


def test_the_status_line_shows_it_and_escape_or_the_button_stop_it(window: MainWindow, qtbot: QtBot) -> None:
    runner = Runner(window)
    runner.busy.connect(window.status.show_busy)
    runner.idle.connect(window.status.show_idle)
    window.runner = runner
    window.status.halt.clicked.connect(runner.halt)
    for stop in (
        lambda: QTest.mouseClick(window.status.halt, Qt.MouseButton.LeftButton),
        lambda: QTest.keyClick(window.face("tree").front, Qt.Key.Key_Escape),
    ):
        runner.start_long("count", "Reading a list", lambda p: steps(threading.Event(), p), lambda _: None)
        qtbot.waitUntil(lambda: "Counting" in window.status.message)
        assert window.status.halt.isVisible()
        window.grab()
        stop()
        qtbot.waitUntil(lambda: not window.status.halt.isVisible())
        assert window.status.share is None


def test_bringing_in_still_works_as_one_step(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    path = tmp_path / "list.csv"
    write_pots(path, [pot(id=f"new-{i}", name=f"New {i}") for i in range(120)])
    answers.path = path
    count = len(window.session.collection.pots)
    window.do("import")
    assert len(window.session.collection.pots) == count + 120
    assert window.status.message == "120 pots came in"
    assert not window.status.halt.isVisible()
    window.do("undo")
    assert len(window.session.collection.pots) == count
