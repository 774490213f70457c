"""The work in order on one sheet: every step with its picture, the figure that decides and the minutes it takes."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.steps.step import WorkStep
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.layers import Layers
from kesh.ui.paint.marks import words
from kesh.ui.paint.step_painter import draw_step
from kesh.ui.session import Session
from kesh.ui.theme import fonts

TWO_COLUMNS = 560


class WorkOrderSheet(SheetView):
    """Two columns, read down; the step under the pointer or the arrows tells more in the panel."""

    stepped = pyqtSignal(int)

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.plan: PlantingPlan | None = None
        self.sentence, self.at = "", 0
        self.layers = Layers(self)
        self.setAccessibleName("The work in order")

    def show_plan(self, plan: PlantingPlan | None, sentence: str = "") -> None:
        """Another plan, or a sentence where there is none."""
        self.plan, self.sentence = plan, sentence
        if plan is not None:
            self.at = min(self.at, len(plan.steps) - 1)
            self.setAccessibleDescription("; ".join(f"{n + 1} {s.title}" for n, s in enumerate(plan.steps)))
        self.update()

    def fit(self) -> None:
        """A list has no scale."""
        self._fitted = True
        self.scaled.emit(0.0)

    def _cells(self) -> list[QRectF]:
        n = len(self.plan.steps) if self.plan is not None else 0
        if not n:
            return []
        columns = 2 if self.width() >= fonts.scaled(TWO_COLUMNS) else 1
        rows = -(-n // columns)
        left, top = fonts.scaled(16), fonts.scaled(8)
        wide = (self.width() - 2 * left - (columns - 1) * fonts.scaled(20)) / columns
        high = min((self.height() - top - fonts.scaled(8)) / rows, fonts.scaled(92))
        return [
            QRectF(left + (i // rows) * (wide + fonts.scaled(20)), top + (i % rows) * high, wide, high)
            for i in range(n)
        ]

    def paint(self, painter: QPainter) -> None:
        if self.plan is None:
            self.empty(painter, self.sentence or "Reckoning…")
            return
        plan, t = self.plan, self.session.theme
        for n, (step, box) in enumerate(zip(plan.steps, self._cells(), strict=True)):
            if n == self.at:
                painter.fillRect(box.adjusted(-6, 1, 6, -1), t.color("panel"))
                painter.fillRect(QRectF(box.left() - 6, box.top() + 1, 3, box.height() - 2), t.color("moss"))
            key = (plan.a, step, box.width(), box.height(), t.name, fonts.scaled(100))
            self.layers(painter, f"step {n}", key, lambda p, s=step, b=box, k=n: self._step(p, plan, s, b, k))  # type: ignore[misc]
            painter.setPen(QPen(t.color("rule"), 1))
            painter.drawLine(QLineF(box.left(), box.bottom(), box.right(), box.bottom()))

    def _step(self, p: QPainter, plan: PlantingPlan, step: WorkStep, box: QRectF, n: int) -> None:
        t = self.session.theme
        picture = QRectF(box.left() + fonts.scaled(20), box.top() + 6, fonts.scaled(84), box.height() - 14)
        draw_step(p, plan, step, picture, t, small=True)
        words(p, t, str(n + 1), box.left(), box.top() + fonts.scaled(20), "quiet", font=fonts.book(15, italic=True))
        left = picture.right() + fonts.scaled(10)
        room = box.right() - left
        head = fonts.book(15, bold=True)
        words(
            p,
            t,
            QFontMetricsF(head).elidedText(step.title, Qt.TextElideMode.ElideRight, room),
            left,
            box.top() + fonts.scaled(20),
            font=head,
        )
        y = box.top() + fonts.scaled(37)
        told = f"{step.figure} {step.figure_words}".strip()
        font = fonts.text(13)
        minutes = "" if step.minutes is None or step.minutes < 0.5 else f"{max(1, round(step.minutes))} min"
        right = QFontMetricsF(font).horizontalAdvance(minutes) + (10 if minutes else 0)
        if step.cautions:
            right += fonts.scaled(18)
            _triangle(p, t.color("ochre"), QPointF(box.right() - right + fonts.scaled(6), y - 4))
        words(
            p,
            t,
            QFontMetricsF(font).elidedText(
                told or (step.lines[0] if step.lines else ""), Qt.TextElideMode.ElideRight, room - right - 6
            ),
            left,
            y,
            font=font,
        )
        words(p, t, minutes, box.right(), y, "quiet", font=font, align="right")
        line = fonts.text(12)
        rest = step.lines if told else step.lines[1:]
        for k, text in enumerate(rest):
            at = y + fonts.scaled(16) * (k + 1)
            if at > box.bottom() - 5:
                break
            words(
                p,
                t,
                QFontMetricsF(line).elidedText(text, Qt.TextElideMode.ElideRight, room),
                left,
                at,
                "quiet",
                font=line,
            )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        for n, box in enumerate(self._cells()):
            if box.contains(event.position()):
                self._take(n)
                return
        super().mousePressEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}
        if event is not None and self.plan is not None and event.key() in steps:
            self._take((self.at + steps[Qt.Key(event.key())]) % len(self.plan.steps))
            return
        super().keyPressEvent(event)

    def _take(self, n: int) -> None:
        self.at = n
        self.stepped.emit(n)
        self.update()


def _triangle(p: QPainter, color: object, at: QPointF) -> None:
    """A caution belongs to the step."""
    r = fonts.scaled(6)
    p.setPen(QPen(color, 1.4))  # type: ignore[call-overload]
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPolygon(QPolygonF([at + QPointF(0, -r), at + QPointF(r, r * 0.8), at + QPointF(-r, r * 0.8)]))
    p.drawLine(QLineF(at + QPointF(0, -r * 0.3), at + QPointF(0, r * 0.3)))
