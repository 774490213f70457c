"""Cards of the places in doubt: a piece of the picture with the stroke that would settle it, and one click either way."""

from collections.abc import Callable
from functools import partial

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesh.photo.classes import Image
from kesh.photo.places import MOST, Place
from kesh.ui.paint.marks import ON_PICTURE, flag
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import SectionHead, button, quiet

CROP_PX = (104, 78)


class Crop(QWidget):
    """The piece of the picture, its stroke dashed over it, its letter in the corner."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._image = QImage()
        self._place: Place | None = None
        self._stroke, self._width = QPolygonF(), 1.0
        self.refit()

    def refit(self) -> None:
        """Follow the text size."""
        self.setFixedSize(fonts.scaled(CROP_PX[0]), fonts.scaled(CROP_PX[1]))

    def show_place(self, image: Image, place: Place) -> None:
        """Show a place of a picture (BGR, px in which the place is)."""
        self._place = place
        x, y, wide, high = place.box((image.shape[1], image.shape[0]), CROP_PX[0] / CROP_PX[1])
        part = np.ascontiguousarray(image[y : y + high, x : x + wide])
        self._image = QImage(
            part.tobytes(), part.shape[1], part.shape[0], 3 * part.shape[1], QImage.Format.Format_BGR888
        ).copy()
        k = self.width() / max(wide, 1)
        self._stroke = QPolygonF([QPointF((sx - x) * k, (sy - y) * k) for sx, sy in place.stroke])
        self._width = max(2 * place.radius * k, 2.0)
        self.setAccessibleName(f"Place {place.letter} of the photograph, in doubt")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._place is None:
            return
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        box = QRectF(self.rect())
        painter.drawImage(box, self._image)
        broad = QColor(ON_PICTURE["paper_on_picture"])
        broad.setAlpha(70)
        cap, join = Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin
        painter.setPen(QPen(broad, self._width, Qt.PenStyle.SolidLine, cap, join))
        painter.drawPolyline(self._stroke)
        for role, wide, dash in (("ink_on_picture", 3.4, None), ("paper_on_picture", 2.0, [5.0, 3.0])):
            pen = QPen(ON_PICTURE[role], wide, Qt.PenStyle.SolidLine, cap, join)
            if dash is not None:
                pen.setDashPattern(dash)
            painter.setPen(pen)
            painter.drawPolyline(self._stroke)
        painter.setPen(QPen(t.color("edge"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5))
        flag(painter, t, self._place.letter, 13, self.height() - 13, "ochre")


class StrokeCards(QWidget):
    """As many cards as there are places; `settle` is called with a place and whether it is tree."""

    def __init__(self, session: Session, settle: Callable[[Place, bool], object]) -> None:
        super().__init__()
        self._session, self._settle = session, settle
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 6, 0, 6)
        self.column.setSpacing(6)
        self.head = SectionHead(session, "")
        self.column.addWidget(self.head)
        self.places: tuple[Place, ...] = ()
        self.cards = [_Card(session, partial(self._settled, k)) for k in range(MOST)]
        for card in self.cards:
            self.column.addWidget(card)
        self.setVisible(False)

    def show_places(self, image: Image, told: list[tuple[Place, str, str]], heading: tuple[str, str]) -> None:
        """Show places with their words: where each is, and what it changes."""
        self.places = tuple(place for place, _, _ in told)
        self.head.set_text(heading[0])
        self.head.set_note(heading[1])
        for k, card in enumerate(self.cards):
            card.setVisible(k < len(told))
            if k < len(told):
                place, where, what = told[k]
                card.crop.show_place(image, place)
                card.words.setText(f"<b>{where}</b><br>{what}")
        self.setVisible(bool(told))

    def _settled(self, nth: int, tree: bool) -> None:
        self._settle(self.places[nth], tree)


class _Card(QWidget):
    def __init__(self, session: Session, settle: Callable[[bool], object]) -> None:
        super().__init__()
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(10)
        self.crop = Crop(session)
        line.addWidget(self.crop, 0, Qt.AlignmentFlag.AlignTop)
        beside = QVBoxLayout()
        beside.setSpacing(1)
        self.words = quiet("")
        self.tree = button("It is tree", lambda: settle(True), link=True)
        self.ground = button("It is not", lambda: settle(False), link=True)
        beside.addWidget(self.words)
        links = QHBoxLayout()
        links.setSpacing(14)
        links.addWidget(self.tree)
        links.addWidget(self.ground)
        links.addStretch(1)
        beside.addLayout(links)
        beside.addStretch(1)
        line.addLayout(beside, 1)
