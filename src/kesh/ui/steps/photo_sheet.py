"""The photograph on the sheet: marks to drag, the cut-out laid over it, a brush that adds and takes away."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPen,
    QPixmap,
    QPolygonF,
    QWheelEvent,
)

from kesh.errors import KeshError
from kesh.model import TreePhoto
from kesh.photo.classes import FOLIAGE, WOOD
from kesh.photo.darkroom import Darkroom, Print
from kesh.ui.session import Session
from kesh.ui.sheet.gallery import Gallery
from kesh.ui.sheet.marks import dash_dot, handle, words
from kesh.ui.sheet.view import SheetView
from kesh.ui.state.photo import TOOLS, Mark, marks, moved, stroked
from kesh.ui.theme import fonts

GRAB_PX = 11
ROLE = {"leaf": "moss", "wood": "ochre", "ground": "oxide"}


class PhotoSheet(SheetView):
    """One photograph. The sheet's mm are the picture's px here, y up from its lower edge."""

    tool_changed = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery, darkroom: Darkroom) -> None:
        super().__init__(session, gallery)
        self.darkroom = darkroom
        self.photo_id = ""
        self.tool = "marks"
        self.follow = True
        self.bare = False
        self.radius = 0.0
        self.in_hand: str | None = None
        self._drag: tuple[Mark, QPointF, TreePhoto] | None = None
        self._draft: TreePhoto | None = None
        self._stroke: list[tuple[float, float]] = []
        self._pictures: dict[tuple[object, ...], QPixmap] = {}
        self._pointer: QPointF | None = None
        self.setAccessibleName("Photograph of the tree with its marks and cut-out")

    @property
    def photo(self) -> TreePhoto | None:
        """The photograph in hand, as dragged."""
        if self._draft is not None:
            return self._draft
        return self.session.collection.photo_of(self.session.tree_id, self.photo_id)

    def print_(self) -> Print | None:
        """The picture at working size, None when there is none to be had."""
        photo = self.photo
        if photo is None:
            return None
        try:
            return self.darkroom.print_of(photo)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return None

    def choose(self, photo_id: str) -> None:
        """Take another photograph in hand."""
        self.photo_id, self._draft, self.in_hand = photo_id, None, None
        self.fit()
        self.update()

    def use_tool(self, tool: str) -> None:
        """Marks, or a brush for one class."""
        self.tool = tool
        self.setCursor(Qt.CursorShape.ArrowCursor if tool == "marks" else Qt.CursorShape.CrossCursor)
        self.tool_changed.emit(tool)
        self.update()

    def extent_mm(self) -> QRectF:
        p = self.print_() if self.photo is not None else None
        return QRectF(0, 0, *p.size) if p else super().extent_mm()

    def margins(self) -> tuple[int, int, int, int]:
        return 16, 22, 16, 16

    def fit(self) -> None:
        super().fit()
        p = self.print_() if self.photo is not None else None
        if p is not None and not self.radius:
            self.radius = 0.012 * max(p.size)

    def _spot(self, point: QPointF) -> tuple[float, float]:
        """A point of the sheet in px of the picture, y down."""
        x, y = self.mm(point)
        return x, self.extent_mm().height() - y

    def _at(self, x: float, y: float) -> QPointF:
        return self.px(x, self.extent_mm().height() - y)

    # paint ------------------------------------------------------------------------------------------------------

    def paint(self, painter: QPainter) -> None:
        photo = self.photo
        p = self.print_() if photo is not None else None
        if photo is None or p is None:
            self.empty(
                painter,
                "No photograph of this tree yet. Add one with Ctrl+Shift+F; a card or a rule in it gives the scale.",
            )
            return
        box = QRectF(self._at(0, 0), self._at(*p.size))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        picture = self._picture(photo, p)
        painter.drawPixmap(box, picture, QRectF(picture.rect()))
        mask = self.darkroom.mask(photo)
        if mask is not None and not self.bare:
            veil = self._veil(photo, mask)
            painter.drawPixmap(box, veil, QRectF(veil.rect()))
        painter.setPen(QPen(self.session.theme.color("edge"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        if self.tool == "marks":
            self._draw_marks(painter, photo, p)
        self._draw_brush(painter)

    def _picture(self, photo: TreePhoto, p: Print) -> QPixmap:
        key = ("picture", photo.picture)
        if key not in self._pictures:
            high, wide = p.image.shape[:2]
            image = QImage(p.image.tobytes(), wide, high, 3 * wide, QImage.Format.Format_BGR888)
            self._remember(key, QPixmap.fromImage(image))
        return self._pictures[key]

    def _veil(self, photo: TreePhoto, mask: np.ndarray) -> QPixmap:
        """The ground paled, leaves and wood edged in their own colour."""
        t = self.session.theme
        key = ("veil", photo.picture, photo.soil, photo.apex, photo.card, photo.how, photo.strokes, t.name)
        if key not in self._pictures:
            rows = np.zeros((*mask.shape, 4), np.uint8)
            sheet, leaf, wood = t.color("sheet"), t.color("moss_fill"), t.color("ochre_fill")
            ground = mask == 0
            rows[ground] = (sheet.blue(), sheet.green(), sheet.red(), 150)
            for kind, tone in ((FOLIAGE, leaf), (WOOD, wood)):
                part = mask == kind
                inner = part.copy()
                for shift in (1, 2):
                    for axis in (0, 1):
                        inner &= np.roll(part, shift, axis) & np.roll(part, -shift, axis)
                rows[part & ~inner] = (tone.blue(), tone.green(), tone.red(), 235)
                rows[inner] = (tone.blue(), tone.green(), tone.red(), 40)
            high, wide = mask.shape
            image = QImage(rows.tobytes(), wide, high, 4 * wide, QImage.Format.Format_ARGB32)
            self._remember(key, QPixmap.fromImage(image))
        return self._pictures[key]

    def _remember(self, key: tuple[object, ...], made: QPixmap) -> None:
        while len(self._pictures) > 7:
            del self._pictures[next(iter(self._pictures))]
        self._pictures[key] = made

    def _draw_marks(self, painter: QPainter, photo: TreePhoto, p: Print) -> None:
        t, u = self.session.theme, self.session.units
        found = {m.key: m for m in marks(photo, p.size)}
        spots = {key: self._at(m.x, m.y) for key, m in found.items()}
        soil = spots["soil"]
        painter.setPen(dash_dot(t.color("indigo")))
        painter.drawLine(QLineF(self._at(0, 0).x(), soil.y(), self._at(p.size[0], 0).x(), soil.y()))
        painter.setPen(QPen(t.color("oxide"), 2))
        ring = [spots[k] for k in spots if k.startswith(("card", "known"))]
        if photo.how == "card":
            painter.drawPolygon(QPolygonF(ring))
            label = f"{u.figure(photo.card_mm[0])} × {u.mm(photo.card_mm[1])}"
        else:
            painter.drawLine(QLineF(ring[0], ring[1]))
            label = u.mm(photo.known_mm)
        middle = QPointF(sum(s.x() for s in ring) / len(ring), min(s.y() for s in ring) - 10)
        words(
            painter,
            t,
            label,
            middle.x(),
            middle.y(),
            "oxide",
            font=fonts.text(13, bold=True),
            align="center",
            ground="sheet",
        )
        words(
            painter,
            t,
            "soil line",
            self._at(p.size[0], 0).x() - 6,
            soil.y() - 6,
            "indigo",
            align="right",
            ground="sheet",
        )
        if "apex" in spots:
            words(painter, t, "apex", spots["apex"].x() + 12, spots["apex"].y() - 4, "indigo", ground="sheet")
        for key, spot in spots.items():
            handle(painter, t, spot, focus=key == self.in_hand, hover=False)

    def _draw_brush(self, painter: QPainter) -> None:
        if self.tool == "marks":
            return
        color = QColor(self.session.theme.color(ROLE[self.tool]))
        across = 2 * self.radius * self.px_mm
        if self._stroke:
            path = QPainterPath(self._at(*self._stroke[0]))
            for spot in self._stroke[1:]:
                path.lineTo(self._at(*spot))
            color.setAlphaF(0.45)
            pen = QPen(color, across, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin)
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path) if len(self._stroke) > 1 else painter.drawPoint(self._at(*self._stroke[0]))
        if self._pointer is not None:
            color.setAlphaF(1.0)
            painter.setPen(QPen(color, 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(self._pointer, across / 2, across / 2)

    # hands ------------------------------------------------------------------------------------------------------

    def _mark_at(self, point: QPointF) -> Mark | None:
        photo = self.photo
        p = self.print_() if photo is not None else None
        if photo is None or p is None:
            return None
        near = [(QLineF(self._at(m.x, m.y), point).length(), m) for m in marks(photo, p.size)]
        best = min(near, key=lambda d: d[0], default=None)
        return best[1] if best is not None and best[0] <= GRAB_PX else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        photo = self.photo
        if event is None or photo is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        if self.tool != "marks":
            self._stroke = [self._spot(event.position())]
        else:
            mark = self._mark_at(event.position())
            self.in_hand = mark.key if mark else None
            if mark is not None:
                self._drag = (mark, event.position(), photo)
                self.pointed.emit(f"{mark.words}. Arrows move it one px of the picture, Ctrl ten; G takes the next")
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self._pointer = event.position()
        if self._stroke:
            self._stroke.append(self._spot(event.position()))
            self.update()
        elif self._drag is not None:
            self._put(self._drag[2], self._drag[0], self._spot(event.position()), final=False)
        else:
            super().mouseMoveEvent(event)
            if self.tool != "marks":
                self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        if self._stroke and self.photo is not None:
            points, self._stroke = self._stroke, []
            self._write(
                f"Brush: {TOOLS[self.tool].lower()}",
                stroked(self.photo, self.tool, points, self.radius, follow=self.follow),
            )
        elif self._drag is not None and event is not None:
            mark, start, photo = self._drag
            self._drag = None
            if QLineF(start, event.position()).length() >= 1:
                self._put(photo, mark, self._spot(event.position()), final=True)
            self._draft = None
        self.update()

    def leaveEvent(self, event: object) -> None:
        self._pointer = None
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and self.tool != "marks" and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.resize_brush(1.1 ** ((event.angleDelta().y() + event.angleDelta().x()) / 120))
            event.accept()
            return
        super().wheelEvent(event)

    def resize_brush(self, factor: float) -> None:
        """A larger or smaller brush."""
        self.radius = min(max(self.radius * factor, 2.0), 0.2 * max(self.extent_mm().width(), 50))
        self.pointed.emit(f"Brush {2 * self.radius:.0f} px of the picture across")
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        photo = self.photo
        p = self.print_() if photo is not None else None
        if event is None or photo is None or p is None:
            super().keyPressEvent(event)
            return
        found = marks(photo, p.size)
        keys = [m.key for m in found]
        arrows = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if event.key() == Qt.Key.Key_Escape and (self._stroke or self._drag or self.in_hand):
            self._stroke, self._drag, self._draft, self.in_hand = [], None, None, None
            self.update()
        elif event.key() == Qt.Key.Key_B:
            tools = list(TOOLS)
            self.use_tool(tools[(tools.index(self.tool) + 1) % len(tools)])
        elif event.key() in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.resize_brush(1.15 if event.key() == Qt.Key.Key_PageUp else 1 / 1.15)
        elif event.key() == Qt.Key.Key_O:
            self.bare = not self.bare
            self.update()
        elif event.key() in (Qt.Key.Key_G, Qt.Key.Key_H) and self.tool == "marks":
            step = 1 if event.key() == Qt.Key.Key_G else -1
            at = keys.index(self.in_hand) if self.in_hand in keys else (-1 if step > 0 else 0)
            self.in_hand = keys[(at + step) % len(keys)]
            self.pointed.emit(found[keys.index(self.in_hand)].words)
            self.update()
        elif event.key() in arrows and self.in_hand in keys:
            mark = found[keys.index(self.in_hand)]
            dx, dy = arrows[Qt.Key(event.key())]
            size = 10.0 if event.modifiers() & Qt.KeyboardModifier.ControlModifier else 1.0
            self._put(photo, mark, (mark.x + dx * size, mark.y + dy * size), final=True)
        else:
            super().keyPressEvent(event)

    def _put(self, photo: TreePhoto, mark: Mark, spot: tuple[float, float], *, final: bool) -> None:
        p = self.print_()
        if p is None:
            return
        try:
            changed = moved(photo, mark.key, spot, p.size)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        if final:
            self._write(f"{mark.words} marked", changed)
        else:
            self._draft = changed
            self.update()

    def _write(self, label: str, changed: TreePhoto) -> None:
        self._draft = None
        self.session.edit(label, [("photo", changed.id, changed)])
