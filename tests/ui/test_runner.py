"""Background work: late answers are dropped, faults come back as words, closing waits for nobody."""

import os
import sys
import threading
from functools import partial

import pytest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from kesh.base.errors import FieldError
from kesh.base.progress import Progress
from kesh.ui.runner import Runner


def test_an_answer_arrives_in_the_main_thread(qtbot: QtBot) -> None:
    runner, seen = Runner(), []
    runner.start(
        "sum", lambda: (threading.get_ident(), 2 + 3), lambda answer: seen.append((*answer, threading.get_ident()))
    )
    qtbot.waitUntil(lambda: bool(seen))
    worker, value, main = seen[0]
    assert value == 5
    assert main == threading.get_ident() != worker


def test_a_newer_request_drops_the_older(qtbot: QtBot) -> None:
    runner, seen, gate = Runner(), [], threading.Event()
    runner.start("rank", lambda: gate.wait(5) and "old", seen.append)
    runner.start("rank", lambda: "new", seen.append)
    qtbot.waitUntil(lambda: bool(seen))
    gate.set()
    runner.wait()
    qtbot.wait(20)
    assert seen == ["new"]


def test_a_fault_comes_back_in_words(qtbot: QtBot) -> None:
    runner = Runner()

    def fail() -> None:
        raise FieldError("mix", "is empty")

    with qtbot.waitSignal(runner.failed, timeout=2000) as told:
        runner.start("x", fail, lambda _: pytest.fail("no answer was due"))
    assert told.args == ["mix: is empty"]


def test_later_work_waits_its_turn_and_is_dropped_at_closing(qtbot: QtBot) -> None:
    runner, seen = Runner(), []
    runner.start_later("a", lambda: 1, seen.append)
    assert seen == []
    qtbot.waitUntil(lambda: seen == [1], timeout=3000)
    runner.start_later("a", lambda: 2, seen.append)
    runner.stop()
    qtbot.wait(450)
    assert seen == [1]


def test_what_was_superseded_before_its_turn_is_never_begun(qtbot: QtBot) -> None:
    runner, seen, begun, gate = Runner(), list[int](), list[int](), threading.Event()
    for busy in ("one", "other"):
        runner.start(busy, lambda: gate.wait(10), lambda _: None)

    def work(number: int) -> int:
        begun.append(number)
        return number

    for number in range(20):
        runner.start("job", partial(work, number), seen.append)
    gate.set()
    qtbot.waitUntil(lambda: bool(seen))
    assert seen == begun == [19]


def test_many_runners_come_and_go_without_waiting_for_each_other(qapp: QApplication) -> None:
    # a pool dropped while its thread still wants the interpreter must not hold both up for ever
    pace = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    try:
        for number in range(3000):
            runner, seen = Runner(), []
            runner.start("a", lambda held=number: held, seen.append)
            while not seen:
                qapp.processEvents()
            assert seen == [number]
            del runner
    finally:
        sys.setswitchinterval(pace)


def test_after_closing_nothing_begins(qtbot: QtBot) -> None:
    runner, seen = Runner(), []
    runner.stop()
    runner.start("a", lambda: seen.append("begun"), seen.append)
    runner.start_later("a", lambda: seen.append("begun"), seen.append)
    qtbot.wait(450)
    assert seen == []


def test_tests_can_have_it_all_at_once() -> None:
    seen: list[int] = []
    runner = Runner(at_once=True)
    runner.start("a", lambda: 1, seen.append)
    runner.start_later("b", lambda: 2, seen.append)
    assert seen == [1, 2]


def place(progress: Progress | None = None) -> int:
    if progress is not None:
        progress.at(0.5, "half way")
    return os.getpid()


def test_the_heavy_part_of_a_work_is_done_in_another_process(qtbot: QtBot) -> None:
    runner, seen, told = Runner(), list[int](), list[str]()
    runner.busy.connect(lambda words, share: told.append(words))
    runner.start_long("a", "Weighing", lambda progress: runner.apart(place, progress), seen.append)
    qtbot.waitUntil(lambda: len(seen) == 1, timeout=20_000)
    assert seen[0] != os.getpid()
    assert told[-1] == "half way"
    runner.stop()


def test_without_waiting_it_is_done_here_while_the_other_process_starts(qtbot: QtBot) -> None:
    runner, seen = Runner(), list[int]()
    runner.start("a", lambda: runner.apart(place, wait=False), seen.append)
    qtbot.waitUntil(lambda: len(seen) == 1)
    assert seen == [os.getpid()]
    runner.stop()


def test_where_no_process_can_be_started_the_work_is_done_all_the_same(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    def refuse(*_: object, **__: object) -> None:
        raise OSError(12, "no memory")

    monkeypatch.setattr("kesh.base.apart.subprocess.Popen", refuse)
    runner, seen = Runner(), list[int]()
    runner.start("a", lambda: runner.apart(place), seen.append)
    qtbot.waitUntil(lambda: len(seen) == 1)
    assert seen == [os.getpid()]
    runner.stop()
