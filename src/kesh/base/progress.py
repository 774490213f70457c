"""How far long work has come, and whether somebody wants it to stop. No Qt: the worker calls, a window listens."""

import threading
import time
from collections.abc import Callable

from kesh.base.errors import KeshError

TELL_EVERY_S = 0.04
STOPPED = "Stopped. Nothing was changed."
TOO_LATE = "It is being written already and will be whole in a moment"


class StoppedError(KeshError):
    """The user stopped the work; nothing of it is kept."""


class Progress:
    """Handed to long work, which says where it is now and then. Safe across threads."""

    def __init__(self, told: Callable[[float, str], None] | None = None) -> None:
        self._told = told
        self._stop = threading.Event()
        self._finishing = threading.Event()
        self._turn = threading.Lock()
        self._last = 0.0

    def stop(self) -> None:
        """Ask the work to end; it does at its next `at`, unless it has come to its last part."""
        with self._turn:
            if not self._finishing.is_set():
                self._stop.set()

    def finish(self) -> None:
        """From here on the work changes something and goes to its end. Raises StoppedError when it was asked to end before."""
        with self._turn:
            if self._stop.is_set():
                raise StoppedError(STOPPED)
            self._finishing.set()

    @property
    def finishing(self) -> bool:
        """Whether it can no longer be stopped."""
        return self._finishing.is_set()

    @property
    def stopped(self) -> bool:
        """Whether the work was asked to end."""
        return self._stop.is_set()

    def at(self, share: float, words: str = "") -> None:
        """The work has come to `share`, 0..1. Raises StoppedError when it was asked to end."""
        if self._stop.is_set():
            raise StoppedError(STOPPED)
        now = time.monotonic()
        if self._told is not None and (now - self._last > TELL_EVERY_S or share >= 1.0):
            self._last = now
            self._told(min(max(share, 0.0), 1.0), words)
