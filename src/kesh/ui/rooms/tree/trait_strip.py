"""The traits of a tree as chips: a click makes one stronger, from none to strong and back to none."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.model import TRAITS, Trait
from kesh.ui.session import Session
from kesh.ui.theme import fonts

MOST = 3
STRENGTH = ("none", "slight", "clear", "strong")


class TraitStrip(QWidget):
    """Chips in rows. Arrows walk, Space makes stronger, Delete takes away."""

    changed = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._strength: dict[str, int] = {}
        self._hand = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName("Traits of the tree")
        self.setMouseTracking(True)

    def show_traits(self, traits: tuple[Trait, ...]) -> None:
        """Show a tree's traits."""
        self._strength = {t.kind: t.strength for t in traits}
        spoken = ", ".join(f"{STRENGTH[n]} {k.replace('_', ' ')}" for k, n in self._strength.items())
        self.setAccessibleDescription(spoken or "no trait marked")
        self.setFixedHeight(self.heightForWidth(self.width()))
        self.update()

    def chips(self, width: int) -> list[tuple[str, QRectF]]:
        """Every trait with its place, laid in rows."""
        metrics, high = QFontMetricsF(fonts.text(13)), fonts.scaled(24)
        x, y = 0.0, 0.0
        made: list[tuple[str, QRectF]] = []
        for kind in TRAITS:
            wide = metrics.horizontalAdvance(kind.replace("_", " ")) + 46
            if x > 0 and x + wide > width:
                x, y = 0.0, y + high + 4
            made.append((kind, QRectF(x, y, wide, high)))
            x += wide + 5
        return made

    def heightForWidth(self, width: int) -> int:
        return int(self.chips(width or 250)[-1][1].bottom()) + 4

    def sizeHint(self) -> QSize:
        return QSize(250, self.heightForWidth(self.width()))

    def resizeEvent(self, event: object) -> None:
        self.setFixedHeight(self.heightForWidth(self.width()))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = self._session.theme
        for i, (kind, box) in enumerate(self.chips(self.width())):
            n = self._strength.get(kind, 0)
            hand = self.hasFocus() and i == self._hand
            painter.setPen(QPen(t.color("moss" if hand or n else "edge"), 1.8 if hand else 1))
            painter.setBrush(t.color("moss_tint") if n else t.color("field"))
            painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 3, 3)
            painter.setPen(t.color("ink" if n else "quiet"))
            painter.setFont(fonts.text(13))
            painter.drawText(box.adjusted(8, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, kind.replace("_", " "))
            for k in range(MOST):
                painter.setPen(QPen(t.color("moss" if n else "edge"), 1))
                painter.setBrush(t.color("moss") if k < n else Qt.BrushStyle.NoBrush)
                painter.drawEllipse(QPointF(box.right() - 28 + 9 * k, box.center().y()), 2.8, 2.8)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for i, (kind, box) in enumerate(self.chips(self.width())):
            if box.contains(event.position()):
                self._hand = i
                self._set(kind, (self._strength.get(kind, 0) + 1) % (MOST + 1))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        kind = TRAITS[self._hand]
        if event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Up):
            step = 1 if event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Down) else -1
            self._hand = (self._hand + step) % len(TRAITS)
            self.update()
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return):
            self._set(kind, (self._strength.get(kind, 0) + 1) % (MOST + 1))
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._set(kind, 0)
        else:
            super().keyPressEvent(event)

    def _set(self, kind: str, strength: int) -> None:
        held = self._strength | {kind: strength}
        self.changed.emit(tuple(Trait(kind=k, strength=held[k]) for k in TRAITS if held.get(k)))
