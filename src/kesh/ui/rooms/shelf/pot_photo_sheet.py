"""A pot from its photograph: the frame drawn round it, one known length, and every figure with its plus and minus."""

from dataclasses import replace
from datetime import date

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QWidget

from kesh.desk.first import EQUAL_SIDES, OUTLINES
from kesh.desk.pot_photo import PotPhoto, Spot
from kesh.photo.pot_shot import SCALES
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, Panel, SectionHead, Sheet, button, quiet, row, title
from kesh.ui.widgets.fields import MeasureEdit

GRIP_PX, REACH_PX, STEP_PX = 12.0, 24.0, 4.0
# with Ctrl the arrows move the one end of the known length, with Shift the other
ENDS = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier


class PotPhotoCanvas(QWidget):
    """The picture; a drag draws the frame, the ends of the known length are grips."""

    framed = pyqtSignal(object, object)
    lined = pyqtSignal(int, object)

    def __init__(self, session: Session, shot: PotPhoto) -> None:
        super().__init__()
        self._session, self.shot = session, shot
        rows, (high, wide) = shot.image, shot.image.shape[:2]
        self._picture = QImage(rows.tobytes(), wide, high, 3 * wide, QImage.Format.Format_BGR888)
        self._from: QPointF | None = None
        self._to: QPointF | None = None
        self._grip: int | None = None
        self.setMinimumSize(fonts.scaled(420), fonts.scaled(320))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(
            "The photograph; drag a frame round the pot, arrows make the frame smaller and larger, with Ctrl and Shift they move the ends of the known length"
        )
        self.setCursor(Qt.CursorShape.CrossCursor)

    def box(self) -> QRectF:
        """Where the picture lies."""
        size = self._picture.size().scaled(self.size(), Qt.AspectRatioMode.KeepAspectRatio)
        return QRectF(
            (self.width() - size.width()) / 2, (self.height() - size.height()) / 2, size.width(), size.height()
        )

    def at(self, spot: Spot) -> QPointF:
        """A place of the picture on the screen."""
        box, k = self.box(), self.box().width() / self._picture.width()
        return QPointF(box.left() + spot[0] * k, box.top() + spot[1] * k)

    def spot(self, at: QPointF) -> Spot:
        """A place of the screen in the picture."""
        box, k = self.box(), self._picture.width() / max(self.box().width(), 1.0)
        return (at.x() - box.left()) * k, (at.y() - box.top()) * k

    def show_shot(self, shot: PotPhoto) -> None:
        """Another frame, scale or find."""
        self.shot = shot
        self.update()

    def _grips(self) -> list[QPointF]:
        return [self.at(spot) for spot in self.shot.line] if self.shot.known != "width" else []

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        near = [n for n, grip in enumerate(self._grips()) if QLineF(grip, event.position()).length() < REACH_PX]
        self._grip = near[0] if near else None
        self._from = None if near else event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._grip is not None:
            self.lined.emit(self._grip, self.spot(event.position()))
        elif self._from is not None:
            self._to = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if (
            event is not None
            and self._from is not None
            and QLineF(self._from, event.position()).length() > 2 * REACH_PX
        ):
            self.framed.emit(self.spot(self._from), self.spot(event.position()))
        self._from = self._to = self._grip = None
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        wider = {Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        if event is None or Qt.Key(event.key()) not in wider:
            super().keyPressEvent(event)
            return
        dx, dy = (
            STEP_PX * sign * self._picture.width() / max(self.box().width(), 1.0) for sign in wider[Qt.Key(event.key())]
        )
        end = 0 if event.modifiers() & Qt.KeyboardModifier.ControlModifier else 1
        if self.shot.known != "width" and event.modifiers() & ENDS:
            x, y = self.shot.line[end]
            self.lined.emit(end, (x + dx, y - dy))
            return
        left, top, right, bottom = self.shot.frame
        self.framed.emit((left - dx, top - dy), (right + dx, bottom + dy))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, t = QPainter(self), self._session.theme
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.drawImage(self.box(), self._picture)
        p.setPen(QPen(t.color("indigo"), 1.6, Qt.PenStyle.DashLine))
        if self._from is not None and self._to is not None:
            p.drawRect(QRectF(self._from, self._to).normalized())
        else:
            left, top, right, bottom = self.shot.frame
            p.drawRect(QRectF(self.at((left, top)), self.at((right, bottom))))
        seen = self.shot.seen
        if seen is not None:
            ring = [self.at((x, y)) for y, _, x in seen.rows] + [self.at((x, y)) for y, x, _ in seen.rows[::-1]]
            for colour, wide in (("field", 4.0), ("moss", 2.0)):
                p.setPen(QPen(t.color(colour), wide))
                p.drawPolygon(QPolygonF(ring))
        grips = self._grips()
        if grips:
            p.setPen(QPen(t.color("ochre"), 2.0))
            p.drawLine(grips[0], grips[1])
            for grip in grips:
                p.fillRect(QRectF(grip.x() - GRIP_PX / 2, grip.y() - GRIP_PX / 2, GRIP_PX, GRIP_PX), t.color("field"))
                p.drawRect(QRectF(grip.x() - GRIP_PX / 2, grip.y() - GRIP_PX / 2, GRIP_PX, GRIP_PX))
        if self.hasFocus():
            p.setPen(QPen(t.color("indigo"), 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(self.rect().adjusted(1, 1, -1, -1))


class PotPhotoSheet(Sheet):
    """Picture and figures side by side; nothing is written before the button."""

    def __init__(self, parent: QWidget | None, session: Session, shot: PotPhoto, today: date) -> None:
        super().__init__(parent)
        self._session, self.shot, self._today = session, shot, today
        t = session.theme
        self.setWindowTitle("A pot from its photograph")
        self.setStyleSheet(f"QDialog {{ background: {t.panel}; }}")
        self.resize(fonts.scaled(1060), fonts.scaled(700))
        across = QHBoxLayout(self)
        self.canvas = PotPhotoCanvas(session, shot)
        across.addWidget(self.canvas, 1)
        # however much is told, nothing of it is cut: it scrolls, and the two buttons stay in sight
        side = Panel(session)
        side.setFixedWidth(fonts.scaled(350))
        column = side.column
        column.setSpacing(4)
        across.addWidget(side)
        self.head, self.told = title("A pot from its photograph"), quiet("")
        column.addWidget(self.head)
        column.addWidget(
            quiet(
                "Drag a frame round the pot, with ground on all sides. Then one known length, in the plane of its front. Level with its rim is best."
            )
        )
        column.addWidget(SectionHead(session, "What is known"))
        self.known = Choice({key: words for key, (words, _, _) in SCALES.items()}, "What is known in the picture")
        self.known.show_key(shot.known)
        self.length = MeasureEdit(session, "How long it is", fine=True)
        self.known.setMinimumWidth(fonts.scaled(210))
        column.addWidget(row("Known", self.known))
        column.addWidget(row("How long it is", self.length))
        column.addWidget(SectionHead(session, "The pot"))
        self.outline = Choice({key: words for key, words, _ in OUTLINES}, "Outline from above")
        self.outline.show_key(shot.outline)
        self.width_ = MeasureEdit(session, "Front to back")
        self.width_row = row(
            "Front to back", self.width_, tip="Left empty it is taken as usual for the outline, and said to be so"
        )
        self.height_ = MeasureEdit(session, "Height with feet")
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of the pot")
        column.addWidget(row("From above", self.outline))
        column.addWidget(self.width_row)
        column.addWidget(row("Height with feet", self.height_, tip="Left empty it is measured"))
        column.addWidget(row("Name, if you like", self.name))
        column.addWidget(SectionHead(session, "Measured"))
        self.figures = quiet("")
        column.addWidget(self.figures)
        column.addWidget(self.told)
        self.leave = button("Leave it", self.reject, link=True)
        self.take = button("Put it on the shelf", self.accept, main=True)
        side.foot.addWidget(self.leave)
        side.foot.addWidget(self.take)
        self.canvas.framed.connect(lambda one, other: self._say(self.shot.framed(one, other)))
        self.canvas.lined.connect(self._line)
        self.known.chosen.connect(self._known)
        self.length.entered.connect(lambda mm: self._say(replace(self.shot, known_mm=mm)))
        self.outline.chosen.connect(lambda key: self._say(replace(self.shot, outline=key)))
        self.width_.entered.connect(lambda mm: self._say(replace(self.shot, width_mm=mm)))
        self.height_.entered.connect(lambda mm: self._say(replace(self.shot, height_mm=mm)))
        self.name.textChanged.connect(lambda text: self._say(replace(self.shot, name=text)))
        self._say(shot)

    def _known(self, key: str) -> None:
        self._say(self.shot.told_by(key))
        self.length.show_mm(self.shot.known_mm)

    def _line(self, end: int, spot: Spot) -> None:
        line = (spot, self.shot.line[1]) if end == 0 else (self.shot.line[0], spot)
        self._say(replace(self.shot, line=line))

    def _say(self, shot: PotPhoto) -> None:
        self.shot = shot
        self.canvas.show_shot(shot)
        rows = shot.rows(self._session.units)
        if shot.measured is not None:
            colour = shot.measured.colour
            rows = [
                (name, f"<span style='background:{colour}'>{6 * '&nbsp;'}</span> {told}" if told == colour else told)
                for name, told in rows
            ]
        quiet_ = self._session.theme.quiet
        self.figures.setText("<br>".join(f"<span style='color:{quiet_}'>{name}:</span> {told}" for name, told in rows))
        waits = (
            "Type how wide the pot is at its rim."
            if shot.known == "width"
            else "Drag the two grips onto its ends, and type its length."
        )
        self.told.setText(shot.fault or ("" if rows else waits))
        self.width_row.setVisible(shot.outline not in EQUAL_SIDES)
        self.take.setEnabled(bool(rows) and shot.height is not None)
