"""Ways to hold the tree as small pictures with the force each holds; one is chosen with the mouse or the arrows."""

from collections.abc import Mapping

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from kesh.advice.planting.tie_plan import ANCHORS, TiePlan
from kesh.desk.planting import ANCHOR_WORDS
from kesh.ui.paint.marks import words
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE, Theme

ACROSS, HIGH = 3, 74


class AnchorStrip(QWidget):
    """Two rows of three."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._plans: Mapping[str, TiePlan] = {}
        self._now = "ties"
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("How it is held")
        self.refit()

    def refit(self) -> None:
        """Follow the text size."""
        self.setFixedHeight(2 * fonts.scaled(HIGH) + 2)

    def sizeHint(self) -> QSize:
        return QSize(240, 2 * fonts.scaled(HIGH) + 2)

    def show_plans(self, plans: Mapping[str, TiePlan], now: str) -> None:
        """Show what each way holds."""
        self._plans, self._now = plans, now
        told = "; ".join(f"{ANCHOR_WORDS[k]} {self._force(k)}" for k in ANCHORS if k in plans)
        self.setAccessibleDescription(f"{ANCHOR_WORDS.get(now, now)} chosen. {told}")
        self.update()

    def _force(self, key: str) -> str:
        plan = self._plans.get(key)
        if plan is None:
            return "no hole" if self._plans else "……"
        return "……" if plan.hold is None else f"{plan.hold.weakest_n:.0f} N"

    def _box(self, n: int) -> QRectF:
        wide, high = self.width() / ACROSS, float(fonts.scaled(HIGH))
        return QRectF(n % ACROSS * wide, n // ACROSS * high, wide, high)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, t = QPainter(self), self._session.theme
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        for n, key in enumerate(ANCHORS):
            box = self._box(n).adjusted(0.5, 0.5, -0.5, -0.5)
            here = key == self._now
            p.setPen(QPen(t.color("edge" if not here else "moss"), 1.0))
            p.setBrush(t.color("moss_tint" if here else "field"))
            p.drawRect(box)
            if here:
                p.fillRect(QRectF(box.left(), box.bottom() - 3, box.width(), 3), t.color("moss"))
            draw_anchor(p, t, key, QPointF(box.center().x(), box.top() + fonts.scaled(29)))
            words(
                p,
                t,
                ANCHOR_WORDS[key],
                box.center().x(),
                box.top() + fonts.scaled(50),
                font=fonts.text(12, bold=here),
                align="center",
            )
            plan = self._plans.get(key)
            status = plan.status if plan is not None else "unknown"
            words(
                p,
                t,
                self._force(key),
                box.center().x(),
                box.top() + fonts.scaled(66),
                STATUS_ROLE[status],
                font=fonts.text(13, bold=True),
                align="center",
            )
        if self.hasFocus():
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(t.color("indigo"), 2))
            p.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        for n, key in enumerate(ANCHORS):
            if self._box(n).contains(event.position()) and key in self._plans:
                self.chosen.emit(key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -ACROSS, Qt.Key.Key_Down: ACROSS}
        if event is None or event.key() not in steps:
            super().keyPressEvent(event)
            return
        open_ = [k for k in ANCHORS if k in self._plans]
        if not open_:
            return
        at = open_.index(self._now) if self._now in open_ else 0
        self.chosen.emit(open_[(at + steps[Qt.Key(event.key())]) % len(open_)])


def draw_anchor(p: QPainter, t: Theme, key: str, foot: QPointF) -> None:
    """A way to hold as a small section: trunk over roots, and what goes over or under them."""
    x, y = foot.x(), foot.y()
    trunk = QPainterPath(QPointF(x - 7, y - 22))
    trunk.cubicTo(QPointF(x - 6, y - 10), QPointF(x - 12, y - 6), QPointF(x - 20, y - 5))
    trunk.lineTo(QPointF(x + 20, y - 5))
    trunk.cubicTo(QPointF(x + 12, y - 6), QPointF(x + 6, y - 10), QPointF(x + 7, y - 22))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(t.color("quiet"), 1.0))
    p.drawPath(trunk)
    p.drawPolyline(
        QPolygonF([QPointF(x - 26, y - 8), QPointF(x - 23, y + 7), QPointF(x + 23, y + 7), QPointF(x + 26, y - 8)])
    )
    blue, wood = QPen(t.color("indigo"), 1.5), QPen(t.color("ochre"), 2.6)
    if key in ("ties", "rods"):
        p.setPen(blue)
        loop = ((-16, 7), (-18, -6), (18, -6), (16, 7), (-16, 7))
        p.drawPolyline(QPolygonF([QPointF(x + dx, y + dy) for dx, dy in loop]))
    if key == "rods":
        p.setPen(wood)
        p.drawLine(QLineF(x - 22, y - 8, x + 22, y - 8))
    elif key == "raft":
        p.setPen(wood)
        p.drawLine(QLineF(x - 20, y + 4, x + 20, y + 4))
        p.setPen(blue)
        p.drawPolyline(
            QPolygonF([QPointF(x - 15, y + 6), QPointF(x - 16, y - 6), QPointF(x + 16, y - 6), QPointF(x + 15, y + 6)])
        )
    elif key == "stones":
        p.setPen(QPen(t.color("ink"), 1.1))
        p.setBrush(t.color("rule"))
        p.drawEllipse(QRectF(x - 19, y - 11, 11, 7))
        p.drawEllipse(QRectF(x + 8, y - 11, 11, 7))
    elif key == "guys":
        p.setPen(blue)
        p.drawLine(QLineF(x - 5, y - 19, x - 26, y - 8))
        p.drawLine(QLineF(x + 5, y - 19, x + 26, y - 8))
