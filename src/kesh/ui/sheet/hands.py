"""What the keys of a sheet have in common: arrows by a step, and walking what can be taken in hand."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent

ARROWS = {
    Qt.Key.Key_Left: (-1.0, 0.0), Qt.Key.Key_Right: (1.0, 0.0), Qt.Key.Key_Up: (0.0, 1.0), Qt.Key.Key_Down: (0.0, -1.0),
}  # fmt: skip


def step_of(event: QKeyEvent) -> float:
    """1; with Shift a tenth, with Ctrl ten."""
    mods = event.modifiers()
    if mods & Qt.KeyboardModifier.ShiftModifier:
        return 0.1
    return 10.0 if mods & Qt.KeyboardModifier.ControlModifier else 1.0


def arrow(event: QKeyEvent) -> tuple[float, float] | None:
    """(right, up) of an arrow key with its step; None for any other key."""
    way = ARROWS.get(Qt.Key(event.key()))
    return None if way is None else (way[0] * step_of(event), way[1] * step_of(event))


def walked(event: QKeyEvent, keys: Sequence[str], now: str) -> str | None:
    """What comes in hand by G, or before it by H; None for any other key and where there is nothing."""
    if event.key() not in (Qt.Key.Key_G, Qt.Key.Key_H) or not keys:
        return None
    at = keys.index(now) if now in keys else -1
    return keys[(at + (1 if event.key() == Qt.Key.Key_G else -1)) % len(keys)]
