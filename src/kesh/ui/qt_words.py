"""What Qt itself has to say: kept for whoever asks, not printed among the answers of a command."""

import os
import sys
from collections import deque

from PyQt6.QtCore import QMessageLogContext, QtMsgType, qInstallMessageHandler

# set to see them on the terminal as they come
SHOW = "KESH_QT_WORDS"
LOST = (
    "kesh: no window can be opened on this display; look at DISPLAY, or use the commands that need none (kesh --help)"
)
told: deque[str] = deque(maxlen=200)


def keep(kind: QtMsgType, context: QMessageLogContext, text: str | None) -> None:
    """Keep a message; one that ends the program is told in one line of Kesh's own."""
    told.append(text or "")
    if os.environ.get(SHOW):
        print(text, file=sys.stderr)
    elif kind == QtMsgType.QtFatalMsg:
        print(LOST if "platform" in (text or "") else f"kesh: {text}", file=sys.stderr)
        sys.stderr.flush()
        # Qt would end the program with a core dump
        os._exit(2)


def hush() -> None:
    """From here on Qt's messages are kept."""
    qInstallMessageHandler(keep)
