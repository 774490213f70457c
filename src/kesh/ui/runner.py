"""The one door to background work. Late answers of older requests are dropped."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, QTimer, pyqtSignal

from kesh.errors import KeshError

LATER_MS = 350


class _Done(QObject):
    finished = pyqtSignal(str, int, object, object)


class _Job(QRunnable):
    def __init__(self, topic: str, number: int, work: Callable[[], Any], done: _Done) -> None:
        super().__init__()
        self._topic, self._number, self._work, self._done = topic, number, work, done

    def run(self) -> None:
        try:
            answer, error = self._work(), None
        except Exception as err:
            # carried to the window, which shows a KeshError and hands anything else to the crash handler
            answer, error = None, err
        try:
            self._done.finished.emit(self._topic, self._number, answer, error)
        except RuntimeError:
            # the window closed while the work ran; nobody waits for the answer
            return


class Runner(QObject):
    """Runs pure functions over copies. A newer request of one topic supersedes the older."""

    failed = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None, *, at_once: bool = False) -> None:
        super().__init__(parent)
        self._at_once = at_once
        self._late: list[tuple[str, Callable[[], Any], Callable[[Any], None]]] = []
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._start_late)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(2)
        self._newest: dict[str, int] = {}
        self._waiting: dict[str, Callable[[Any], None]] = {}
        self._done = _Done()
        self._done.finished.connect(self._finish)

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
        """Run `work` and hand its answer to `done` in the main thread."""
        number = self._newest.get(topic, 0) + 1
        self._newest[topic] = number
        self._waiting[topic] = done
        if self._at_once:
            done(work())
            return
        self._pool.start(_Job(topic, number, work, self._done))

    def stop(self) -> None:
        """Drop what has not begun and let the rest end (at closing)."""
        self._timer.stop()
        self._late.clear()
        self._pool.clear()
        self._pool.waitForDone()

    def wait(self) -> None:
        """Let all work end (for pictures of the window)."""
        self._start_late()
        self._pool.waitForDone()

    def _finish(self, topic: str, number: int, answer: Any, error: Exception | None) -> None:
        if number != self._newest.get(topic):
            return
        if error is None:
            self._waiting.pop(topic)(answer)
        elif isinstance(error, KeshError):
            self.failed.emit(str(error))
        else:
            raise error
