"""The one door to background work. Late answers of older requests are dropped."""

import threading
from collections.abc import Callable, Mapping
from concurrent.futures import Future, ThreadPoolExecutor, wait
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from kesh.base.apart import Helper
from kesh.base.errors import KeshError
from kesh.base.progress import STOPPED, TOO_LATE, Progress

LATER_MS = 350
# a process that was stopped has this long to say so
LATEST_S = 0.9


class _Done(QObject):
    finished = pyqtSignal(str, int, object, object)
    moved = pyqtSignal(float, str)


def _run(
    topic: str, number: int, work: Callable[[], Any], done: _Done, closed: threading.Event, newest: Mapping[str, int]
) -> None:
    if newest.get(topic) != number:
        # it was superseded while it waited for its turn
        return
    try:
        answer, error = work(), None
    except Exception as err:
        # carried to the window, which shows a KeshError and hands anything else to the crash handler
        answer, error = None, err
    if not closed.is_set():
        done.finished.emit(topic, number, answer, error)


class Runner(QObject):
    """Runs pure functions over copies. A newer request of one topic supersedes the older."""

    failed = pyqtSignal(str)
    stopped = pyqtSignal(str)
    busy = pyqtSignal(str, float)
    idle = pyqtSignal()

    def __init__(self, parent: QObject | None = None, *, at_once: bool = False) -> None:
        super().__init__(parent)
        self._at_once = at_once
        self._late: list[tuple[str, Callable[[], Any], Callable[[Any], None]]] = []
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._start_late)
        # Python's own pool: Qt's holds the interpreter lock while it waits for its threads to end,
        # and a thread that still needs the lock then waits for ever
        self._pool = ThreadPoolExecutor(max_workers=2, thread_name_prefix="kesh")
        # each thread has its own other process, so that a short work never waits for a long one
        self._own, self._helpers = threading.local(), list[Helper]()
        self._jobs: set[Future[None]] = set()
        self._closed = threading.Event()
        self._newest: dict[str, int] = {}
        self._waiting: dict[str, Callable[[Any], None]] = {}
        self._done = _Done()
        self._done.finished.connect(self._finish)
        self._done.moved.connect(self._tell)
        self._long: tuple[str, str, Progress] | None = None

    def start_later(self, topic: str, work: Callable[[], Any], done: Callable[[Any], None]) -> None:
        """As `start`, once the window has had a moment to show what matters more."""
        if self._at_once:
            self.start(topic, work, done)
        else:
            self._late.append((topic, work, done))
            self._timer.start(LATER_MS)

    def _start_late(self) -> None:
        late, self._late = self._late, []
        for topic, work, done in late:
            self.start(topic, work, done)

    def start(self, topic: str, work: Callable[[], Any], done: Callable[[Any], None]) -> None:
        """Run `work` and hand its answer to `done` in the main thread. After `stop` nothing begins."""
        if self._closed.is_set():
            return
        number = self._newest.get(topic, 0) + 1
        self._newest[topic] = number
        self._waiting[topic] = done
        if self._at_once:
            try:
                answer, error = work(), None
            except KeshError as err:
                answer, error = None, err
            self._finish(topic, number, answer, error)
            return
        job = self._pool.submit(_run, topic, number, work, self._done, self._closed, self._newest)
        self._jobs = {one for one in self._jobs if not one.done()} | {job}

    def start_long(self, topic: str, words: str, work: Callable[[Progress], Any], done: Callable[[Any], None]) -> None:
        """Run work that says how far it is and can be stopped; one such work at a time, a newer one stops the older."""
        self._drop()
        progress = Progress(self._done.moved.emit)
        self._long = (topic, words, progress)
        self._newest.setdefault(topic, 0)
        self.busy.emit(words, 0.0)
        self.start(topic, lambda: work(progress), done)

    def apart(self, work: Callable[..., Any], progress: Progress | None = None, *, wait: bool = True) -> Any:
        """Inside a work: do the heavy part of it in another process, so that the window has the interpreter for itself.

        `work` is a function of a module, or a partial of one, without anything of the window in it; it takes the progress
        when there is one. Without `wait` it is done here as long as the other process is still starting.
        """
        if self._at_once:
            return work(progress) if progress is not None else work()
        if not hasattr(self._own, "helper"):
            self._own.helper = Helper()
            self._helpers.append(self._own.helper)
        helper: Helper = self._own.helper
        try:
            helper.begin()
            if wait or helper.is_ready():
                return helper.run(work, progress)
        except OSError:
            # no process can be started here: the window will stutter, and all is done
            pass
        return work(progress) if progress is not None else work()

    def halt(self) -> bool:
        """Stop the long work in hand at once, as far as the window is concerned; False when there is none.

        Its thread ends at its next step; what it still brings is dropped. Work that is already writing goes on to its end.
        """
        if self._long is not None and self._long[2].finishing:
            self.stopped.emit(TOO_LATE)
            return True
        if not self._drop():
            return False
        self.idle.emit()
        self.stopped.emit(STOPPED)
        return True

    def _drop(self) -> bool:
        if self._long is None:
            return False
        topic, _, progress = self._long
        self._long = None
        progress.stop()
        self._newest[topic] += 1
        if self._helpers and not self._closed.is_set():
            late = threading.Timer(LATEST_S, self._break_off, (progress,))
            late.daemon = True
            late.start()
        return True

    def _break_off(self, progress: Progress) -> None:
        """A process that does not hear is ended, so that the thread that waits for it is free again."""
        for helper in self._helpers:
            helper.break_off(progress)

    def _tell(self, share: float, words: str) -> None:
        if self._long is not None and not self._long[2].stopped:
            self.busy.emit(words or self._long[1], share)

    def stop(self) -> None:
        """Drop what has not begun and let the rest end (at closing)."""
        self._timer.stop()
        self._late.clear()
        self._closed.set()
        self._drop()
        for helper in self._helpers:
            helper.close()
        self._pool.shutdown(wait=True, cancel_futures=True)

    def new_collection(self) -> None:
        """Another collection is open: answers to what was asked of the one before are dropped, long work is stopped."""
        self._timer.stop()
        self._late.clear()
        if self._drop():
            self.idle.emit()
        for topic in self._newest:
            self._newest[topic] += 1
        self._waiting.clear()

    def wait(self) -> None:
        """Let all work end (for pictures of the window)."""
        self._start_late()
        wait(self._jobs)

    def _finish(self, topic: str, number: int, answer: Any, error: Exception | None) -> None:
        if number != self._newest.get(topic):
            return
        if self._long is not None and self._long[0] == topic:
            self._long = None
            self.idle.emit()
        if error is None:
            try:
                self._waiting.pop(topic)(answer)
            except KeshError as err:
                # what came back could not be written, on a full disk for example: a sentence, and nothing else is lost
                self.failed.emit(str(err))
        elif isinstance(error, KeshError):
            self.failed.emit(str(error))
        else:
            raise error
