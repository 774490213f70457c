"""A sheet whose drawing is taken in hand: grips are dragged, or chosen with G and moved with the arrows."""

from typing import Any

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter

from kesh.base.errors import KeshError
from kesh.desk.bench import Grip, change_for, moved_by, nudged
from kesh.store.collection_file import Change
from kesh.ui.hand.hands import step_of
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import handle
from kesh.ui.session import Session

GRAB_PX = 9


class GripSheet(SheetView):
    """Subclasses say which grips there are, in mm of the sheet."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.in_hand: str | None = None
        self._hover: str | None = None
        self._drag: tuple[Grip, QPointF, Any] | None = None

    @property
    def subject(self) -> Any:
        """What the grips change; None when there is nothing."""
        return self.stand

    def changes(self, subject: Any, key: str, value: float) -> list[Change]:
        """The edits of a grip's new value. Raises FieldError when it cannot be."""
        return change_for(subject, key, value)

    def grips(self) -> list[Grip]:
        """What can be taken in hand now."""
        return []

    def draw_grips(self, painter: QPainter) -> None:
        """Small squares; the one in hand and the one under the pointer stand out."""
        for grip in self.grips():
            at = self.px(grip.x, grip.y)
            handle(painter, self.session.theme, at, focus=grip.key == self.in_hand, hover=grip.key == self._hover)

    def _grip_at(self, point: QPointF) -> Grip | None:
        """The nearest grip under a point."""
        found = []
        for grip in self.grips():
            off = self.px(grip.x, grip.y) - point
            if abs(off.x()) <= GRAB_PX and abs(off.y()) <= GRAB_PX:
                found.append((off.manhattanLength(), grip))
        return min(found, key=lambda one: one[0], default=(0, None))[1]

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        grip, stand = self._grip_at(event.position()), self.subject
        self.in_hand = grip.key if grip else None
        if grip is not None and stand is not None:
            self._drag = (grip, event.position(), stand)
            self._tell(grip)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._drag is not None:
            grip, start, stand = self._drag
            delta = event.position() - start
            self._try(stand, grip, moved_by(grip, delta.x() / self.px_mm, -delta.y() / self.px_mm), final=False)
            return
        super().mouseMoveEvent(event)
        if event is not None:
            near = self._grip_at(event.position())
            key = near.key if near else None
            if key != self._hover:
                self._hover = key
                shapes = {"x": Qt.CursorShape.SizeHorCursor, "y": Qt.CursorShape.SizeVerCursor}
                self.setCursor(shapes[near.axis[0]] if near else Qt.CursorShape.ArrowCursor)
                if near is not None:
                    value = self.session.units.mm(near.value)
                    self.pointed.emit(f"{near.label}: {value}. Drag it, or press it and use the arrows")
                self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        if self._drag is not None and event is not None:
            grip, start, stand = self._drag
            self._drag = None
            delta = event.position() - start
            if abs(delta.x()) + abs(delta.y()) < 1:
                self.session.drop_draft()
                return
            self._try(stand, grip, moved_by(grip, delta.x() / self.px_mm, -delta.y() / self.px_mm), final=True)
            self.refit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        stand = self.subject
        if event is None or stand is None:
            return
        grips = self.grips()
        keys = [g.key for g in grips]
        arrows = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        if event.key() == Qt.Key.Key_Escape and (self._drag is not None or self.in_hand):
            self._drag, self.in_hand = None, None
            self.session.drop_draft()
            self.update()
        elif event.key() in (Qt.Key.Key_G, Qt.Key.Key_H) and keys:
            step = 1 if event.key() == Qt.Key.Key_G else -1
            at = keys.index(self.in_hand) if self.in_hand in keys else (-1 if step > 0 else 0)
            self.in_hand = keys[(at + step) % len(keys)]
            self._tell(grips[keys.index(self.in_hand)])
            self.update()
        elif event.key() in arrows and self.in_hand in keys:
            grip = grips[keys.index(self.in_hand)]
            size = step_of(event)
            dx, dy = arrows[Qt.Key(event.key())]
            self._try(stand, grip, nudged(grip, dx, dy, size), final=True)
        else:
            super().keyPressEvent(event)

    def _tell(self, grip: Grip) -> None:
        self.session.hand = f"{grip.label}: {self.session.units.mm(grip.value)}"
        self.pointed.emit(f"{self.session.hand}. Arrows move it 1 mm, Ctrl 10, Shift 0.1; G takes the next")

    def _try(self, stand: Any, grip: Grip, value: float, *, final: bool) -> None:
        try:
            changes = self.changes(stand, grip.key, value)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        if final:
            self.session.edit(f"{grip.label} {self.session.units.mm(value)}", changes)
        else:
            self.session.draft(changes)
        self._tell(Grip(grip.key, grip.label, grip.x, grip.y, grip.axis, value, grip.sign))
