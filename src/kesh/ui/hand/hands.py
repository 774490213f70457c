"""What the hands on a sheet have in common: arrows by a step, walking what can be taken, what lies under the pointer, one pull."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent

from kesh.base.errors import KeshError
from kesh.model import Planting, Tree
from kesh.ui.hand.view import SheetView

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


def over(sheet: SheetView, before: str, key: str, label: str) -> str:
    """What lies under the pointer now ("" for nothing): where it is another than before, pointer, words and drawing follow."""
    if key != before:
        sheet.setCursor(Qt.CursorShape.SizeAllCursor if key else Qt.CursorShape.ArrowCursor)
        if key:
            sheet.pointed.emit(f"{label}: drag it, or press it and use the arrows")
        sheet.update()
    return key


def put(sheet: SheetView, kind: str, make: Callable[[], Planting | Tree], label: str, *, final: bool) -> bool:
    """A record as a pull leaves it: shown while it lasts, written as one step at its end; False with a sentence where it can't be."""
    try:
        made = make()
    except KeshError as err:
        sheet.session.said.emit("no", str(err))
        return False
    if final:
        sheet.session.edit(label, [(kind, made.id, made)])
    else:
        sheet.session.draft([(kind, made.id, made)])
    return True
