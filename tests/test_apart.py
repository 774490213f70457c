"""Work in another process: its answers, its faults, its progress, and what happens when either side goes away."""

import os
import pickle
import signal
import sys
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial

import pytest

from kesh.base.apart import BrokeError, Helper, packed
from kesh.base.errors import FieldError, KeshError
from kesh.base.once import once
from kesh.base.progress import Progress, StoppedError


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


def test_a_process_that_hangs_is_left_within_a_second(helper: Helper) -> None:
    pid = helper.run(where)[0]
    progress = Progress()
    os.kill(pid, signal.SIGSTOP)
    threading.Timer(0.1, progress.stop).start()
    began = time.monotonic()
    with pytest.raises(StoppedError):
        helper.run(partial(count_up, 3), progress)
    assert time.monotonic() - began < 1.1
    # the next work has a process of its own again
    assert helper.run(where)[0] != pid


def test_a_line_that_is_stuck_is_broken_off_from_outside(helper: Helper) -> None:
    pid = helper.run(where)[0]
    progress = Progress()
    os.kill(pid, signal.SIGSTOP)
    threading.Timer(0.2, lambda: (progress.stop(), helper.break_off(progress))).start()
    with pytest.raises(StoppedError):
        # more than the line holds: it cannot be sent to a process that does not read
        helper.run(partial(last_of, bytes(4_000_000)), progress)
    assert helper.run(where)[0] != pid


def last_of(body: bytes, progress: Progress) -> int:
    return body[-1]


@dataclass(frozen=True)
class Held:
    """A record that keeps what it reckoned, as figures do."""

    rows: dict[str, int]
    name: str = "held"

    @once
    def total(self) -> int:
        return sum(self.rows.values())


def test_what_goes_apart_is_whole_while_the_window_goes_on_filling_it() -> None:
    held = Held({"a": 1})
    assert held.total == 1
    found = pickle.loads(packed(held))
    assert found == held
    assert vars(found) == {"rows": {"a": 1}, "name": "held"}
    going = threading.Event()

    def fill() -> None:
        number = 0
        while not going.is_set():
            number += 1
            held.__dict__[f"kept {number % 5000}"] = number
            held.rows[f"row {number % 5000}"] = number
            if number % 7000 == 0:
                for k in range(5000):
                    held.__dict__.pop(f"kept {k}", None)

    thread = threading.Thread(target=fill)
    switch = sys.getswitchinterval()
    sys.setswitchinterval(1e-5)
    thread.start()
    try:
        for _ in range(300):
            assert pickle.loads(packed([held, held]))[0].name == "held"
    finally:
        going.set()
        thread.join()
        sys.setswitchinterval(switch)


@pytest.mark.parametrize("how", ["closed", "killed"])
def test_a_process_that_ends_before_it_is_ready_keeps_nobody_waiting(how: str) -> None:
    helper = Helper()
    found: list[BaseException] = []

    def ask() -> None:
        try:
            helper.run(where)
        except BaseException as err:
            found.append(err)

    # a window that is closed at once after it was opened
    helper.begin()
    assert helper._child is not None
    child = helper._child
    asking = threading.Thread(target=ask)
    if how == "closed":
        asking.start()
        helper.close()
    else:
        child.kill()
        child.wait()
        asking.start()
    asking.join(10)
    assert not asking.is_alive()
    assert isinstance(found[0], StoppedError if how == "closed" else KeshError)
    if how == "killed":
        assert helper.run(where)[0] != os.getpid(), "the next work begins another"
        helper.close()
