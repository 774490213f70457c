"""The photographs of a tree round it, by the angle they were taken from."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.desk.photo import ring_place
from kesh.model import TreePhoto
from kesh.ui.paint.marks import front_marker, words
from kesh.ui.session import Session
from kesh.ui.theme import fonts


class Ring(QWidget):
    """The tree from above with the cameras round it; the front at the foot. A click takes a photograph in hand."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._photos: tuple[TreePhoto, ...] = ()
        self._hand = ""
        self._marker_deg: float | None = None
        self.setAccessibleName("Photographs round the tree")
        self.setFixedHeight(fonts.scaled(112))

    def show_photos(self, photos: tuple[TreePhoto, ...], hand: str, marker_deg: float | None) -> None:
        """Show other photographs, and where the marker stands in the soil."""
        self._photos, self._hand, self._marker_deg = photos, hand, marker_deg
        self.setFixedHeight(fonts.scaled(112))
        self.setAccessibleDescription("; ".join(_label(p) for p in photos))
        self.update()

    def _spot(self, photo: TreePhoto) -> QPointF:
        if photo.view == "above":
            # the camera hangs over the trunk
            nth = [p.id for p in self._photos if p.view == "above"].index(photo.id)
            return QPointF(self.width() / 2, self.height() / 2 - 4 - 15 * nth)
        x, y = ring_place(photo.angle_deg)
        r = self.height() / 2 - 18
        return QPointF(self.width() / 2 + r * x, self.height() / 2 - 4 - r * y)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = self._session.theme
        middle = QPointF(self.width() / 2, self.height() / 2 - 4)
        r = self.height() / 2 - 18
        painter.setPen(QPen(t.color("rule"), 1))
        painter.drawEllipse(middle, r, r)
        painter.setPen(QPen(t.color("bark_dark"), 1))
        painter.setBrush(t.color("bark"))
        painter.drawEllipse(middle, 7, 7)
        if self._marker_deg is not None:
            x, y = ring_place(self._marker_deg)
            front_marker(painter, t, middle + QPointF(x, -y) * 20, 13)
        for photo in self._photos:
            at = self._spot(photo)
            painter.setPen(QPen(t.color("edge"), 1))
            if photo.view == "side":
                painter.drawLine(QLineF(at, middle + (at - middle) * 0.28))
            hand = photo.id == self._hand
            painter.setBrush(t.color("moss") if hand else t.color("field"))
            painter.setPen(QPen(t.color("moss" if hand else "ink"), 1.5))
            painter.drawRect(QRectF(at.x() - 6, at.y() - 5, 12, 10))
            label = _label(photo)
            right = at.x() >= middle.x() - 1
            words(painter, t, label, at.x() + (11 if right else -11), at.y() + 4, "ink" if hand else "quiet",
                  font=fonts.text(12), align="left" if right else "right")  # fmt: skip

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._photos:
            near = min(self._photos, key=lambda p: QLineF(self._spot(p), event.position()).length())
            self.chosen.emit(near.id)


def _label(photo: TreePhoto) -> str:
    return "above" if photo.view == "above" else f"{photo.angle_deg:g}°" + (" front" if photo.front else "")
