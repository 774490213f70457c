"""Work in another process: its answers, its faults, its progress, and what happens when either side goes away."""

import os
import signal
import threading
import time
from collections.abc import Callable, Iterator
from functools import partial

import pytest

from kesh.apart import BrokeError, Helper
from kesh.errors import FieldError, KeshError
from kesh.progress import Progress, StoppedError


def where() -> tuple[int, int]:
    """The process and how far it stands back."""
    return os.getpid(), os.nice(0)


def refuse(field: str) -> None:
    raise FieldError(field, "it cannot be")


def stumble() -> None:
    raise ZeroDivisionError("a fault of ours")


def count_up(steps: int, progress: Progress) -> int:
    for k in range(steps):
        progress.at(k / steps, f"Step {k}")
        time.sleep(0.01)
    return steps


def sleep_long(seconds: float) -> None:
    time.sleep(seconds)


def end_itself() -> None:
    os.kill(os.getpid(), signal.SIGKILL)


@pytest.fixture(scope="module")
def helper() -> Iterator[Helper]:
    made = Helper()
    yield made
    made.close()


def test_work_is_done_in_another_process_that_stands_back(helper: Helper) -> None:
    pid, nice = helper.run(where)
    assert pid != os.getpid()
    assert nice > os.nice(0)
    assert helper.run(where)[0] == pid
    assert helper.is_ready()


def test_what_the_work_refuses_comes_back_as_it_was_said(helper: Helper) -> None:
    with pytest.raises(FieldError, match="it cannot be") as caught:
        helper.run(partial(refuse, "depth_mm"))
    assert (caught.value.field, caught.value.reason) == ("depth_mm", "it cannot be")


def test_a_fault_comes_back_with_its_place(helper: Helper) -> None:
    with pytest.raises(BrokeError, match=r"stumble[\s\S]*a fault of ours"):
        helper.run(stumble)
    assert helper.run(where)[0] != os.getpid()


def test_progress_is_told_and_a_stop_is_heard(helper: Helper) -> None:
    told: list[tuple[float, str]] = []
    assert helper.run(partial(count_up, 12), Progress(lambda share, words: told.append((share, words)))) == 12
    assert told
    assert [s for s, _ in told] == sorted(s for s, _ in told)
    progress = Progress(lambda share, words: progress.stop())
    began = time.monotonic()
    with pytest.raises(StoppedError):
        helper.run(partial(count_up, 3000), progress)
    assert time.monotonic() - began < 15
    # a stop that is left over stops nothing else
    assert helper.run(partial(count_up, 3), Progress()) == 3


def ended_from_outside(helper: Helper) -> None:
    with pytest.raises(KeshError, match="try it again"):
        helper.run(end_itself)


def test_a_process_that_is_ended_from_outside_is_said_and_begun_anew(helper: Helper) -> None:
    before = helper.run(where)[0]
    ended_from_outside(helper)
    assert helper.run(where)[0] not in (before, os.getpid())


def in_thread(work: Callable[[], object]) -> tuple[threading.Thread, list[BaseException]]:
    raised: list[BaseException] = []

    def run() -> None:
        try:
            work()
        except BaseException as err:
            raised.append(err)

    thread = threading.Thread(target=run)
    thread.start()
    return thread, raised


def test_closing_ends_work_in_hand_at_once_and_nothing_begins_after() -> None:
    helper = Helper()
    helper.run(where)
    thread, raised = in_thread(lambda: helper.run(partial(sleep_long, 60)))
    time.sleep(0.2)
    helper.close()
    thread.join(10)
    assert not thread.is_alive()
    assert [type(e) for e in raised] == [StoppedError]
    with pytest.raises(StoppedError):
        helper.run(where)
