"""The photograph on the sheet: marks to drag, the cut-out laid over it, a brush that adds and takes away."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPixmap, QWheelEvent

from kesh.base.errors import KeshError
from kesh.desk.heights import marked_heights, reader_words, with_height
from kesh.desk.loop import edge_marks, gripped, looped
from kesh.desk.photo import TOOLS, Mark, marks, moved, stroked
from kesh.model import TreePhoto
from kesh.photo.darkroom import Darkroom, Print
from kesh.photo.measure import PhotoMeasures
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.photo_painter import PhotoPainter
from kesh.ui.paint.scene import pixel_ratio
from kesh.ui.rooms.tree.photo_overlay import PhotoOverlay
from kesh.ui.rooms.tree.trunk_painter import PROFILE_PX, Place, draw_heights, draw_profile, draw_trunk
from kesh.ui.session import Session

GRAB_PX = 11


class PhotoSheet(SheetView):
    """One photograph. The sheet's mm are the picture's px here, y up from its lower edge."""

    tool_changed = pyqtSignal(str)
    read = pyqtSignal()

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
        self._painter = PhotoPainter(session)
        self._overlay = PhotoOverlay(session, darkroom, self._painter)
        self._pointer: QPointF | None = None
        self._still: tuple[object, QPixmap] = (None, QPixmap())
        self._readers: dict[str, float] = {}
        self.years = False
        self.other_id = ""
        self.setAccessibleName("Photograph of the tree with its marks and cut-out")

    @property
    def photo(self) -> TreePhoto | None:
        """The photograph in hand, as dragged."""
        if self._draft is not None:
            return self._draft
        return self.session.collection.photo_of(self.session.tree_id, self.photo_id)

    def print_(self) -> Print | None:
        """The picture at working size, None when there is none to be had."""
        return self._painter.print_of(self.darkroom, self.photo)

    def choose(self, photo_id: str) -> None:
        """Take another photograph in hand."""
        self.photo_id, self._draft, self.in_hand, self.other_id = photo_id, None, None, ""
        self.use_tool(self.tool)
        self.fit()
        self.update()

    def use_tool(self, tool: str) -> None:
        """Marks, a loop, or a brush for one class; a photograph from above is only marked."""
        photo = self.photo
        self.tool = "marks" if photo is not None and photo.view == "above" else tool
        self.setCursor(Qt.CursorShape.ArrowCursor if self.tool == "marks" else Qt.CursorShape.CrossCursor)
        self.tool_changed.emit(self.tool)
        self.update()

    def extent_mm(self) -> QRectF:
        p = self.print_() if self.photo is not None else None
        return QRectF(0, 0, *p.size) if p else super().extent_mm()

    def margins(self) -> tuple[int, int, int, int]:
        return 16, 22, 16 + (PROFILE_PX if self.found() is not None else 0), 16

    def found(self) -> PhotoMeasures | None:
        """The figures of the photograph as last written; None until it was cut out or while its marks cannot be."""
        photo = self.session.collection.photo_of(self.session.tree_id, self.photo_id)
        try:
            return None if photo is None else self.darkroom.figures(photo)
        except KeshError:
            return None

    def reading_mm(self) -> float:
        """The height at which the trunk is read, above the flare until it is dragged."""
        found = self.found()
        photo = self.photo
        usual = (found.trunk_at_mm["above_flare"] or 0.0) if found is not None else 0.0
        return usual if photo is None else self._readers.get(photo.id, usual)

    def read_at(self, height_mm: float) -> None:
        """Read the trunk at another height."""
        found = self.found()
        photo = self.photo
        if found is None or photo is None:
            return
        tall = found.figures["height_mm"].value
        at = self._readers[photo.id] = min(max(height_mm, 0.0), float(tall) if isinstance(tall, float) else 0.0)
        self.pointed.emit(reader_words(found, at, self.session.units))
        self.read.emit()
        self.update()

    def _place(self, found: PhotoMeasures, factor: float) -> Place:
        """mm from the trunk's foot to px of the window."""

        def place(x_mm: float, height_mm: float) -> QPointF:
            x, y = found.in_picture(np.array([[x_mm, height_mm]]))[0] * factor
            return self._at(float(x), float(y))

        return place

    def _all_marks(self, photo: TreePhoto, p: Print) -> tuple[Mark, ...]:
        """Marks of the photograph, then the reader and the heights marked on the trunk."""
        found, tree = self.found(), self.session.tree
        made = marks(photo, p.size)
        cut = self.darkroom.cut_of(photo)
        made = made if cut is None else (*made, *edge_marks(cut, p.factor))
        if found is None or tree is None:
            return made
        x, y = found.in_picture(np.array([[self._reader_x_mm(found), self.reading_mm()]]))[0] * p.factor
        more = [Mark("reader", "Reader of the trunk's width", float(x), float(y))]
        for one in marked_heights(tree):
            x, y = found.in_picture(np.array([[0.0, one.height_mm]]))[0] * p.factor
            more.append(Mark(f"height {one.key}", f"{one.words}, a height on the trunk", float(x), float(y)))
        return (*made, *more)

    def _reader_x_mm(self, found: PhotoMeasures) -> float:
        cross = found.profile.at(self.reading_mm())
        return 20.0 if cross is None else cross.right_mm

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
                "No photograph of this tree yet; a card or a rule in it gives the scale.",
                action=("Add a photograph", "add_photo"),
            )
            return
        if self.tool == "marks":
            self._draw_still(painter, photo, p)
            return
        # while a brush is in hand what lies below it is painted once
        still = (photo, self.bare, self.years, self.other_id, self.px_mm, self.origin, self.size(), self.session.theme.name,
                 self.session.units, self.darkroom.is_cut(photo), self.session.tree, self.session.brief)  # fmt: skip
        if self._still[0] != still:
            ratio = pixel_ratio(painter)
            below = QPixmap(self.size() * ratio)
            below.setDevicePixelRatio(ratio)
            below.fill(self.session.theme.color("sheet"))
            inner = QPainter(below)
            inner.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._draw_still(inner, photo, p)
            inner.end()
            self._still = still, below
        painter.drawPixmap(0, 0, self._still[1])
        across = 2 * self.radius * self.px_mm
        self._painter.draw_brush(painter, self.tool, self._stroke, self._pointer, across, self._at)

    def _draw_still(self, painter: QPainter, photo: TreePhoto, p: Print) -> None:
        """All but the brush."""
        box = QRectF(self._at(0, 0), self._at(*p.size))
        mask = self.darkroom.mask(photo)
        self._painter.draw_picture(painter, photo, p, None if self.bare else mask, box)
        if not self.bare:
            self._overlay.draw_cut(painter, photo, p, box, self._at, edges=self.tool == "marks")
        found, tree, t, u = self.found(), self.session.tree, self.session.theme, self.session.units
        if found is not None and tree is not None:
            place = self._place(found, p.factor)
            self._overlay.draw_other(painter, photo, self.other_id, found, p.factor, box, self._at)
            if self.years and mask is not None:
                self._painter.draw_later(painter, photo, mask, found, self.session.case(), p.factor, self._at)
            if self.tool == "marks" and self.show_dimensions:
                draw_trunk(painter, t, found, place, self.reading_mm())
                draw_heights(painter, t, u, marked_heights(tree), place, box.left())
            beside = QRectF(box.right() + 14, box.top(), PROFILE_PX - 18, box.height())
            used = self.session.brief.trunk_station or tree.trunk_station
            draw_profile(painter, t, u, found, place, beside, self.reading_mm(), used)
        if self.tool == "marks":
            spots = {m.key: self._at(m.x, m.y) for m in self._all_marks(photo, p)}
            self._painter.draw_marks(painter, photo, spots, box, self.in_hand)

    def lay_next(self) -> None:
        """Lay the next of the other photographs over this one; after the last, none."""
        keys = ["", *(p.id for p in self._overlay.others(self.photo_id))]
        if len(keys) == 1:
            self.session.said.emit("no", "no other photograph of this tree is cut out; add one, and cut it out, first")
            return
        at = keys.index(self.other_id) if self.other_id in keys else 0
        self.other_id = keys[(at + 1) % len(keys)]
        self.update()

    # hands ------------------------------------------------------------------------------------------------------

    def _mark_at(self, point: QPointF) -> Mark | None:
        photo = self.photo
        p = self.print_() if photo is not None else None
        if photo is None or p is None:
            return None
        near = [(QLineF(self._at(m.x, m.y), point).length(), m) for m in self._all_marks(photo, p)]
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
            if self.tool == "loop":
                self._loop(points)
                return
            self._write(
                f"Brush: {TOOLS[self.tool].lower()}",
                stroked(self.photo, self.tool, points, self.radius, follow=self.follow),
            )
        elif self._drag is not None and event is not None:
            mark, start, photo = self._drag
            self._drag = None
            if QLineF(start, event.position()).length() >= 1:
                self._put(photo, mark, self._spot(event.position()), final=True)
            elif mark.proposed:
                self._put(photo, mark, (mark.x, mark.y), final=True)
            self._draft = None
        self.update()

    def _loop(self, points: list[tuple[float, float]]) -> None:
        """Take a loop that was drawn; the tree is cut out anew inside it."""
        photo, p = self.photo, self.print_()
        if photo is None or p is None:
            return
        try:
            changed = looped(photo, points, p.size)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.update()
            return
        self.use_tool("marks")
        self._write("Loop round the tree", changed)

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
        found = self._all_marks(photo, p)
        keys = [m.key for m in found]
        arrows = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if event.key() == Qt.Key.Key_Escape and (self._stroke or self._drag or self.in_hand):
            self._stroke, self._drag, self._draft, self.in_hand = [], None, None, None
            self.update()
        elif event.key() == Qt.Key.Key_B:
            tools = [tool for tool in TOOLS if tool != "loop"]
            at = tools.index(self.tool) if self.tool in tools else 0
            self.use_tool(tools[(at + 1) % len(tools)])
        elif event.key() == Qt.Key.Key_D:
            self.lay_next()
        elif event.key() == Qt.Key.Key_L:
            self.use_tool("marks" if self.tool == "loop" else "loop")
        elif event.key() in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.resize_brush(1.15 if event.key() == Qt.Key.Key_PageUp else 1 / 1.15)
        elif event.key() == Qt.Key.Key_O:
            self.bare = not self.bare
            self.update()
        elif event.key() == Qt.Key.Key_Y:
            self.show_years(not self.years)
        elif event.key() in (Qt.Key.Key_G, Qt.Key.Key_H) and self.tool == "marks":
            step = 1 if event.key() == Qt.Key.Key_G else -1
            at = keys.index(self.in_hand) if self.in_hand in keys else (-1 if step > 0 else 0)
            self.in_hand = keys[(at + step) % len(keys)]
            self.pointed.emit(found[keys.index(self.in_hand)].words)
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.in_hand in keys:
            mark = found[keys.index(self.in_hand)]
            if mark.proposed:
                self._put(photo, mark, (mark.x, mark.y), final=True)
        elif event.key() in arrows and self.in_hand in keys:
            mark = found[keys.index(self.in_hand)]
            dx, dy = arrows[Qt.Key(event.key())]
            size = 10.0 if event.modifiers() & Qt.KeyboardModifier.ControlModifier else 1.0
            if mark.key == "reader":
                self.read_at(self.reading_mm() - dy * size)
                return
            self._put(photo, mark, (mark.x + dx * size, mark.y + dy * size), final=True)
        else:
            super().keyPressEvent(event)

    def _put(self, photo: TreePhoto, mark: Mark, spot: tuple[float, float], *, final: bool) -> None:
        p = self.print_()
        if p is None:
            return
        if mark.key.startswith("edge "):
            cut = self.darkroom.cut_of(photo)
            tall = 0.0 if cut is None or cut.edges is None else float(np.ptp(cut.edges[:, 0])) * p.factor
            changed = gripped(photo, mark.key, (spot[0], mark.y), tall)
            if final:
                self._write(f"{mark.words} by hand", changed)
            else:
                self._draft = changed
                self.update()
            return
        if mark.key.startswith(("reader", "height ")):
            self._put_height(mark.key, spot, p.factor, final=final)
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

    def _put_height(self, key: str, spot: tuple[float, float], factor: float, *, final: bool) -> None:
        """The reader, or a height marked on the trunk, at another place of the picture."""
        found, tree = self.found(), self.session.tree
        if found is None or tree is None:
            return
        height = float(found.from_picture(np.array([spot]) / factor)[0, 1])
        self.read_at(height)
        if key != "reader" and final:
            try:
                changed = with_height(tree, key.removeprefix("height "), height)
            except KeshError as err:
                self.session.said.emit("no", str(err))
                return
            self.session.edit("Height on the trunk moved", [("tree", tree.id, changed)])

    def show_years(self, on: bool) -> None:
        """Lay the outline of later years over the photograph."""
        self.years = on
        self.read.emit()
        self.update()

    def _write(self, label: str, changed: TreePhoto) -> None:
        self._draft = None
        self.session.edit(label, [("photo", changed.id, changed)])
