"""What Qt itself has to say: kept for whoever asks, not printed among the answers of a command."""

import os
import sys
from collections import deque

from PyQt6.QtCore import QMessageLogContext, QtMsgType, qInstallMessageHandler

# set to see them on the terminal as they come
SHOW = "KESH_QT_WORDS"
told: deque[str] = deque(maxlen=200)


def keep(kind: QtMsgType, context: QMessageLogContext, text: str | None) -> None:
    """Keep a message; one that ends the program is printed all the same."""
    told.append(text or "")
    if kind == QtMsgType.QtFatalMsg or os.environ.get(SHOW):
        print(text, file=sys.stderr)


def hush() -> None:
    """From here on Qt's messages are kept."""
    qInstallMessageHandler(keep)
