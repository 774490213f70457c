"""A photograph in step Group: each trunk is drawn from foot to tip, its edges are found and corrected, and it is taken over as a tree."""

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from kesh.base.errors import KeshError
from kesh.model import TreePhoto
from kesh.photo.darkroom import Darkroom, Print
from kesh.photo.stems import StemFound, StemMarks, edges, read_stem
from kesh.ui.hand.hands import arrow, walked
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import handle, words
from kesh.ui.paint.photo_painter import PhotoPainter
from kesh.ui.session import Session
from kesh.ui.theme import fonts

NEAR_PX = 11.0
PARTS = ("foot", "tip", "left", "right")


def front_photo(session: Session) -> TreePhoto | None:
    """The photograph that is read: the front one, else the first from the side."""
    if session.tree is None:
        return None
    found = [p for p in session.collection.sides_of(session.tree_id) if p.view == "side"]
    return next((p for p in found if p.front), found[0] if found else None)


class StemSheet(SheetView):
    """The sheet's mm are the picture's px here, y up from its lower edge. `read` tells that a trunk was drawn or corrected."""

    read = pyqtSignal()

    def __init__(self, session: Session, gallery: Gallery, darkroom: Darkroom) -> None:
        super().__init__(session, gallery)
        self.darkroom = darkroom
        self.marks: StemMarks | None = None
        self.in_hand = "foot"
        self._drawn_from: QPointF | None = None
        self._before: StemMarks | None = None
        self._drag = ""
        self._painter = PhotoPainter(session)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setAccessibleName("Photograph of the group: draw each trunk from its foot to its tip")

    def print_(self) -> Print | None:
        """The picture at working size; None when there is none to be had."""
        return self._painter.print_of(self.darkroom, front_photo(self.session))

    def forget(self) -> None:
        """Another tree, or the trunk was taken over."""
        self.marks, self._before, self._drawn_from, self._drag = None, None, None, ""
        self.update()

    def extent_mm(self) -> QRectF:
        p = self.print_()
        return QRectF(0, 0, *p.size) if p is not None else super().extent_mm()

    def margins(self) -> tuple[int, int, int, int]:
        return 16, 26, 16, 16

    # --- px of the picture at working size

    def _to_picture(self, point: QPointF, p: Print) -> tuple[float, float]:
        x, y = self.mm(point)
        return x / p.factor, (p.size[1] - y) / p.factor

    def _on_sheet(self, spot: tuple[float, float], p: Print) -> QPointF:
        return self.px(spot[0] * p.factor, p.size[1] - spot[1] * p.factor)

    def found(self) -> StemFound | None:
        """What the marks measure; None without marks or scale."""
        photo, p = front_photo(self.session), self.print_()
        if photo is None or p is None or self.marks is None:
            return None
        middle = photo.soil or (p.size[0] / 2, p.size[1] * 0.9)
        try:
            return read_stem(self.marks, self.darkroom.scale(photo), (middle[0] / p.factor, middle[1] / p.factor))
        except KeshError:
            return None

    def fault(self) -> str:
        """Why nothing can be read; empty when it can."""
        photo = front_photo(self.session)
        if photo is None:
            return "There is no photograph of this group from the side yet. Add one in step 1."
        try:
            self.darkroom.scale(photo)
        except KeshError as err:
            return f"The photograph has no scale yet: {err}. Set it in step 1."
        return ""

    # --- paint

    def paint(self, painter: QPainter) -> None:
        photo, p = front_photo(self.session), self.print_()
        if photo is None or p is None:
            self.empty(
                painter,
                "There is no photograph of this group from the side yet.",
                action=("Add a photograph", "add_photo"),
            )
            return
        t = self.session.theme
        box = QRectF(self.px(0, p.size[1]), self.px(p.size[0], 0))
        self._painter.draw_picture(painter, photo, p, None, box)
        told = self.fault() or "Draw each trunk from its foot to its tip; correct its edges; Enter takes it over"
        words(
            painter,
            t,
            told,
            fonts.scaled(16),
            fonts.scaled(18),
            "oxide" if self.fault() else "quiet",
            font=fonts.book(13, italic=True),
        )
        if self.marks is None:
            return
        spots = {k: self._on_sheet(getattr(self.marks, k), p) for k in PARTS}
        painter.setPen(QPen(t.color("sheet"), 4.0))
        painter.drawLine(QLineF(spots["foot"], spots["tip"]))
        painter.drawLine(QLineF(spots["left"], spots["right"]))
        painter.setPen(QPen(t.color("indigo"), 1.8))
        painter.drawLine(QLineF(spots["foot"], spots["tip"]))
        painter.drawLine(QLineF(spots["left"], spots["right"]))
        for key, at in spots.items():
            handle(painter, t, at, focus=key == self.in_hand, hover=False)
        found = self.found()
        if found is not None:
            u = self.session.units
            at = spots["tip"] + QPointF(12, 4)
            height, thick = float(found.height.value or 0.0), float(found.thickness.value or 0.0)
            words(
                painter,
                t,
                f"{u.mm(height)} tall, {u.fine(thick)} thick, {abs(found.lean_deg):.0f}° {'right' if found.lean_deg > 0 else 'left'}",
                at.x(),
                at.y(),
                "indigo",
                font=fonts.text(13, bold=True),
                ground="sheet",
            )

    # --- hands

    def _near(self, point: QPointF, p: Print) -> str:
        if self.marks is None:
            return ""
        rows = []
        for key in PARTS:
            d = self._on_sheet(getattr(self.marks, key), p) - point
            rows.append((float(np.hypot(d.x(), d.y())), key))
        best = min(rows)
        return best[1] if best[0] <= NEAR_PX else ""

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        p = self.print_()
        if event is None or p is None or event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
            return
        self.setFocus()
        self._drag = self._near(event.position(), p)
        if self._drag:
            self.in_hand = self._drag
        else:
            self._drawn_from, self._before = event.position(), self.marks
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        p = self.print_()
        if event is None or p is None:
            return
        if self._drag and self.marks is not None:
            self.marks = replace(self.marks, **{self._drag: self._to_picture(event.position(), p)})
            self.update()
        elif self._drawn_from is not None:
            self._draw(self._drawn_from, event.position(), p, look=False)
        else:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        p = self.print_()
        if event is None or p is None:
            return
        if self._drawn_from is not None:
            self._draw(self._drawn_from, event.position(), p, look=True)
        self._drawn_from, self._drag = None, ""
        self.read.emit()

    def _draw(self, start: QPointF, end: QPointF, p: Print, *, look: bool) -> None:
        """A trunk from one point to another, the lower one its foot; its edges are looked for once the hand lets go."""
        low, high = (start, end) if start.y() >= end.y() else (end, start)
        foot, tip = self._to_picture(low, p), self._to_picture(high, p)
        if not look:
            self.marks = StemMarks(foot, tip, foot, foot)
            self.update()
            return
        try:
            left, right = edges(p.image, foot, tip)
        except KeshError as err:
            # a slip of the hand: the trunk that was drawn before it stays
            self.marks = self._before
            self.session.said.emit("no", str(err))
            self.update()
            return
        self.marks = StemMarks(foot, tip, left, right)
        self.in_hand = "left"
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        p = self.print_()
        if event is None or p is None or self.marks is None:
            super().keyPressEvent(event)
            return
        key = event.key()
        moved, taken = arrow(event), walked(event, PARTS, self.in_hand)
        if taken is not None:
            self.in_hand = taken
        elif moved is not None:
            x, y = getattr(self.marks, self.in_hand)
            # rows of the picture count downwards
            self.marks = replace(self.marks, **{self.in_hand: (x + moved[0] / p.factor, y - moved[1] / p.factor)})
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.wants.emit("group_stem")
            return
        elif key == Qt.Key.Key_Escape:
            self.marks = None
        else:
            super().keyPressEvent(event)
            return
        self.read.emit()
        self.update()
