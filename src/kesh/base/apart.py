"""Long reckoning in a process of its own: a window shares one interpreter with its threads, and would wait for it.

`python -m kesh.base.apart N` is the other end; N is the number of the open line. It ends when the line does.
"""

import contextlib
import io
import os
import pickle
import subprocess
import sys
import threading
import time
import traceback
from collections.abc import Callable
from dataclasses import fields, is_dataclass
from functools import cache
from multiprocessing import Pipe
from multiprocessing.connection import Connection
from typing import Any

from kesh.base.errors import KeshError
from kesh.base.progress import STOPPED, Progress, StoppedError

LOOK_EVERY_S = 0.05
# how long a process that was told to stop may take to say so before it is ended
GRACE_S = 0.7
# how far the other process stands back where both want the same core
NICE = 4
BROKEN_OFF = "The reckoning was broken off from outside; try it again, and close other programs if memory is short"

Work = Callable[..., Any]


class BrokeError(RuntimeError):
    """The work has a fault; the message is its traceback over there."""


class Helper:
    """One other process, begun when it is first needed and again after it was broken off. For one thread at a time."""

    def __init__(self) -> None:
        self._child: subprocess.Popen[bytes] | None = None
        self._line: Connection | None = None
        self._closed, self._ready = threading.Event(), False
        self._busy: Progress | None = None

    def begin(self) -> None:
        """Start the process if it does not run. Raises OSError where none can be started."""
        if self._child is not None or self._closed.is_set():
            return
        here, there = Pipe()
        with there:
            os.set_inheritable(there.fileno(), True)
            self._child = subprocess.Popen(
                [sys.executable, "-m", "kesh.base.apart", str(there.fileno())],
                pass_fds=[there.fileno()],
                stdin=subprocess.DEVNULL,
                env={**os.environ, "PYTHONPATH": os.pathsep.join(p for p in sys.path if p)},
            )
        self._line, self._ready = here, False
        if self._closed.is_set():
            # it was closed in this very moment
            self._end()

    def is_ready(self) -> bool:
        """Whether it runs and waits for work; a process that was just begun takes a moment."""
        if not self._ready and self._line is not None:
            with contextlib.suppress(EOFError, OSError):
                self._ready = bool(self._line.poll()) and self._line.recv() == "ready"
        return self._ready

    def run(self, work: Work, progress: Progress | None = None) -> Any:
        """What `work()`, or `work(progress)`, gives over there. The work and its answer must be picklable.

        Raises what the work raised if it is a KeshError, StoppedError when it was stopped, BrokeError for a fault in the
        work, KeshError when the process was ended from outside, OSError where no process can be started.
        """
        self.begin()
        if self._line is None:
            raise StoppedError(STOPPED)
        self._busy = progress
        try:
            self._await_ready(self._line, progress)
            self._line.send_bytes(packed((work, progress is not None)))
            kind, said = self._answer(self._line, progress)
        except (EOFError, OSError) as err:
            self._end()
            stopped = self._closed.is_set() or (progress is not None and progress.stopped)
            raise StoppedError(STOPPED) if stopped else KeshError(BROKEN_OFF) from err
        finally:
            self._busy = None
        if kind == "done":
            return said
        raise said if kind == "refused" else BrokeError(said)

    def _await_ready(self, line: Connection, progress: Progress | None) -> None:
        while not self._ready:
            if self._closed.is_set() or (progress is not None and progress.stopped):
                raise EOFError
            if line.poll(LOOK_EVERY_S):
                # a process that ended before it was ready ends the line as well
                self._ready = line.recv() == "ready"

    def _answer(self, line: Connection, progress: Progress | None) -> tuple[str, Any]:
        until: float | None = None
        while True:
            if progress is not None and progress.stopped:
                if until is None:
                    line.send("stop")
                    until = time.monotonic() + GRACE_S
                elif time.monotonic() > until:
                    raise EOFError
            if not line.poll(LOOK_EVERY_S):
                continue
            kind, said = line.recv()
            if kind != "at":
                return kind, said
            # a stop in this moment is told in the next turn; the line is read to its answer all the same
            with contextlib.suppress(StoppedError):
                (progress or Progress()).at(*said)

    def break_off(self, progress: Progress) -> None:
        """End the process if it is still at this work, which was stopped: it hangs, or its line is stuck."""
        child = self._child
        if self._busy is progress and child is not None:
            child.kill()

    def close(self) -> None:
        """End the process, also in the middle of its work; nothing more is begun."""
        self._closed.set()
        child = self._child
        if child is not None:
            child.kill()
            child.wait()

    def _end(self) -> None:
        child, self._child = self._child, None
        line, self._line = self._line, None
        if line is not None:
            line.close()
        if child is not None:
            child.kill()
            child.wait()


class _Whole(pickle.Pickler):
    """Sends records with their fields alone.

    What a record has reckoned so far stands in its dictionary too, and the window's thread goes on filling that while it
    is read here: each field is fetched by its name, so that what goes is whole, and its own.
    """

    def reducer_override(self, obj: Any) -> Any:
        """A frozen dataclass as its class and fields; everything else as usual."""
        kind = type(obj)
        if not is_dataclass(kind) or isinstance(obj, type) or _reduces_itself(kind):
            return NotImplemented
        held = {f.name: getattr(obj, f.name) for f in fields(obj)}
        return _rebuilt, (kind, {name: dict(v) if type(v) is dict else v for name, v in held.items()})


@cache
def _reduces_itself(kind: type) -> bool:
    return any(
        getattr(kind, name, None) is not getattr(object, name, None)
        for name in ("__reduce__", "__reduce_ex__", "__getstate__", "__setstate__", "__getnewargs__")
    )


def _rebuilt(kind: type, held: dict[str, Any]) -> Any:
    made: Any = object.__new__(kind)
    for name, value in held.items():
        object.__setattr__(made, name, value)
    return made


def packed(what: Any) -> bytes:
    """What goes to another process, pickled so that no other thread can change it meanwhile."""
    into = io.BytesIO()
    _Whole(into, pickle.HIGHEST_PROTOCOL).dump(what)
    return into.getvalue()


class _Told(Progress):
    """Says over the line how far the work is, and hears there that it is to stop."""

    def __init__(self, line: Connection) -> None:
        super().__init__(lambda share, words: line.send(("at", (share, words))))
        self._line = line

    def at(self, share: float, words: str = "") -> None:
        """As in Progress."""
        if self._line.poll() and self._line.recv() == "stop":
            self.stop()
        super().at(share, words)


def _worked(line: Connection, work: Work, told: bool) -> tuple[str, Any]:
    try:
        return "done", work(_Told(line)) if told else work()
    except KeshError as err:
        with contextlib.suppress(Exception):
            return "refused", pickle.loads(pickle.dumps(err))
        return "refused", KeshError(str(err))
    except Exception:
        return "broke", traceback.format_exc()


def serve(number: int) -> None:
    """Do what comes over the line until it ends."""
    with contextlib.suppress(OSError):
        os.nice(NICE)
    line = Connection(number)
    # the line ends when the window does, also in the middle of an answer
    with contextlib.suppress(EOFError, OSError, KeyboardInterrupt):
        line.send("ready")
        while True:
            what = line.recv()
            # a stop that came after the answer has nothing left to stop
            if what != "stop":
                line.send(_worked(line, *what))


if __name__ == "__main__":
    serve(int(sys.argv[1]))
