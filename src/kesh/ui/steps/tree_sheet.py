"""The Tree step's sheet: the tree in its pot from the front, with grips for what can be dragged."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from kesh.errors import KeshError
from kesh.figure.habit import sitter
from kesh.model.tree import HANGING
from kesh.ui.session import Session
from kesh.ui.sheet.gallery import Gallery
from kesh.ui.sheet.marks import dash_dot, dimension, extension, handle, ruler, words
from kesh.ui.sheet.scene import draw_planted
from kesh.ui.sheet.view import SheetView
from kesh.ui.state.bench import Grip, Stand, change_for, moved_by, nudged
from kesh.ui.theme import fonts

GRAB_PX = 9


class TreeSheet(SheetView):
    """Front view with grips."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.in_hand: str | None = None
        self._hover: str | None = None
        self._drag: tuple[Grip, QPointF, Stand] | None = None
        self.setAccessibleName("Drawing of the tree in its pot, to scale")
        self.show_thirds = True

    def extent_mm(self) -> QRectF:
        stand = self.stand
        if stand is None:
            return super().extent_mm()
        left, right = stand.reach()
        low = min(0.0, stand.root_top_mm - (stand.tree.measure.drop_mm or 0.0))
        return QRectF(left, low, right - left, stand.top_mm - low)

    def margins(self) -> tuple[int, int, int, int]:
        return 92, 66, 92, 92

    def paint(self, painter: QPainter) -> None:
        stand = self.stand
        if stand is None:
            self.empty(painter, "No tree yet. Add one with Ctrl+N.")
        elif stand.tree.measure.height_mm is None and stand.pot is None:
            self.empty(painter, "Nothing measured yet. Start with height and trunk; the rest can wait.")
        else:
            self._front(painter, stand)

    def _front(self, painter: QPainter, stand: Stand) -> None:
        t, u = self.session.theme, self.session.units
        foot = self.px(0, 0)
        box = self.extent_mm()
        left, right = self.px(box.left(), 0).x() - 30, self.px(box.right(), 0).x() + 30
        self.ground(painter, left, right, foot.y())
        ruler(painter, t, 38, foot.y(), self.px_mm, min(box.bottom() + 30, (foot.y() - 20) / self.px_mm))
        if stand.pot is not None and self.show_thirds:
            self._thirds(painter, stand)
        species = self.session.case().species if stand.tree.species else None
        draw_planted(
            painter,
            self.gallery,
            t,
            stand.tree,
            species,
            stand.pot,
            stand.planting,
            foot,
            self.px_mm,
            hurry=self.session.dragging,
        )
        if self.show_eye:
            y = self.px(0, 0.5 * stand.top_mm).y()
            painter.setPen(dash_dot(t.color("indigo")))
            painter.drawLine(QLineF(left, y, right, y))
            words(painter, t, f"eye level {u.figure(0.5 * stand.top_mm)}", right, y - 5, "indigo", align="right")
        if self.show_dimensions:
            self._dimensions(painter, stand)
        for grip in stand.grips():
            handle(painter, t, self.px(grip.x, grip.y), focus=grip.key == self.in_hand, hover=grip.key == self._hover)
        self._assumed(painter, stand, species)

    def _thirds(self, painter: QPainter, stand: Stand) -> None:
        pot, t = stand.pot, self.session.theme
        assert pot is not None
        for share, pen in ((1 / 3, "rule"), (0.5, "rule"), (2 / 3, "rule")):
            x = -pot.length_mm / 2 + share * pot.length_mm
            a, b = self.px(x, pot.height_mm + 4), self.px(x, -10)
            line = QPen(t.color(pen), 1)
            line.setDashPattern([2, 3])
            painter.setPen(line if share != 0.5 else dash_dot(t.color(pen)))
            painter.drawLine(QLineF(a.x(), a.y() - 26, b.x(), b.y()))

    def _dimensions(self, painter: QPainter, stand: Stand) -> None:
        t, u, m = self.session.theme, self.session.units, stand.tree.measure
        x, base = stand.trunk_x_mm, stand.root_top_mm
        top = self.px(0, stand.top_mm).y() - 24
        if m.canopy_left_mm is not None and m.canopy_right_mm is not None and m.height_mm is not None:
            left, middle, right = (
                self.px(x - m.canopy_left_mm, 0).x(),
                self.px(x, 0).x(),
                self.px(x + m.canopy_right_mm, 0).x(),
            )
            dimension(painter, t, QPointF(left, top), QPointF(middle, top), f"{u.figure(m.canopy_left_mm)} left")
            dimension(painter, t, QPointF(middle, top), QPointF(right, top), f"{u.figure(m.canopy_right_mm)} right")
            for at in (left, right):
                extension(painter, t, QPointF(at, top + 5), QPointF(at, self.px(0, base + 0.46 * m.height_mm).y()))
        side = self.px(stand.reach()[1], 0).x() + 34
        if m.height_mm is not None:
            a, b = QPointF(side, self.px(0, base).y()), QPointF(side, self.px(0, base + m.height_mm).y())
            extension(
                painter, t, self.px(x + (m.apex_offset_mm or 0) + 8, base + m.height_mm), QPointF(side + 5, b.y())
            )
            dimension(painter, t, a, b, u.figure(m.height_mm))
        if m.crown_base_mm is not None and stand.tree.style not in HANGING:
            near = self.px(stand.reach()[0], 0).x() - 16
            a, b = QPointF(near, self.px(0, base).y()), QPointF(near, self.px(0, base + m.crown_base_mm).y())
            dimension(painter, t, a, b, u.figure(m.crown_base_mm), "quiet", bold=False)
        if m.trunk_diameter_mm is not None:
            up = base + 0.10 * (m.height_mm or 400)
            a = self.px(x + m.trunk_diameter_mm / 2, up)
            knee = QPointF(a.x() + 34, a.y() - 10)
            painter.setPen(QPen(t.color("edge"), 0.8))
            painter.drawLine(QLineF(a.x() + 6, a.y() - 1, knee.x(), knee.y()))
            wide = words(
                painter,
                t,
                u.figure(m.trunk_diameter_mm),
                knee.x() + 4,
                knee.y() + 4,
                "moss",
                font=fonts.text(13, bold=True),
                ground="sheet",
            )
            words(painter, t, "above the flare", knee.x() + 8 + wide, knee.y() + 4, "quiet", ground="sheet")
        if stand.pot is not None:
            self._pot_dimensions(painter, stand)

    def _pot_dimensions(self, painter: QPainter, stand: Stand) -> None:
        t, u, pot = self.session.theme, self.session.units, stand.pot
        assert pot is not None
        a = self.session.assessment()
        length = a.finding("length_band") if a else None
        depth = a.finding("depth_band") if a else None
        below = self.px(0, 0).y() + 26
        left, right = self.px(-pot.length_mm / 2, 0).x(), self.px(pot.length_mm / 2, 0).x()
        for at in (left, right):
            extension(painter, t, QPointF(at, self.px(0, 0).y() + 6), QPointF(at, below + 5))
        role = "oxide" if length and length.status in ("no", "watch") else "ink"
        dimension(
            painter,
            t,
            QPointF(left, below),
            QPointF(right, below),
            f"{u.figure(pot.length_mm)} × {u.figure(pot.width_mm)}",
            role,
        )
        hanging = stand.tree.style in HANGING
        half = pot.length_mm / 2
        beside = self.px(half, 0).x() + 14 if hanging else self.px(-half, 0).x() - 14
        role = "oxide" if depth and depth.status in ("no", "watch") else "ink"
        dimension(
            painter,
            t,
            QPointF(beside, self.px(0, 0).y()),
            QPointF(beside, self.px(0, pot.height_mm).y()),
            u.figure(pot.height_mm),
            role,
        )
        words(
            painter,
            t,
            pot.name,
            self.px(0, 0).x(),
            below + 26,
            "quiet",
            font=fonts.book(14, italic=True),
            align="center",
        )
        if stand.planting is not None:
            share = 0.5 + stand.trunk_x_mm / pot.length_mm
            words(
                painter,
                t,
                f"trunk at {share:.0%} of the length, from the left",
                self.px(0, 0).x(),
                below + 43,
                "quiet",
                align="center",
            )

    def _assumed(self, painter: QPainter, stand: Stand, species: object) -> None:
        found = sitter(stand.tree, species)  # type: ignore[arg-type]
        if found is None:
            words(
                painter,
                self.session.theme,
                "Height is not measured: the tree cannot be drawn yet.",
                self.width() / 2,
                self.height() / 2,
                "quiet",
                align="center",
            )
        elif found.assumed:
            names = ", ".join(name.removesuffix("_mm").replace("_", " ") for name in found.assumed)
            words(
                painter,
                self.session.theme,
                f"assumed in the drawing: {names}",
                self.width() - 14,
                self.height() - 10,
                "quiet",
                align="right",
            )

    def _grip_at(self, point: QPointF) -> Grip | None:
        stand = self.stand
        if stand is None:
            return None
        for grip in stand.grips():
            spot = self.px(grip.x, grip.y)
            if abs(spot.x() - point.x()) <= GRAB_PX and abs(spot.y() - point.y()) <= GRAB_PX:
                return grip
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        grip, stand = self._grip_at(event.position()), self.stand
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
                shapes = {
                    "y": Qt.CursorShape.SizeVerCursor,
                    "x": Qt.CursorShape.SizeHorCursor,
                    "x2": Qt.CursorShape.SizeHorCursor,
                }
                self.setCursor(shapes[near.axis] if near else Qt.CursorShape.ArrowCursor)
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
        stand = self.stand
        if event is None or stand is None:
            return
        grips = stand.grips()
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
            size = {Qt.KeyboardModifier.ShiftModifier: 0.1, Qt.KeyboardModifier.ControlModifier: 10.0}.get(
                event.modifiers(), 1.0
            )
            dx, dy = arrows[Qt.Key(event.key())]
            self._try(stand, grip, nudged(grip, dx, dy, size), final=True)
        else:
            super().keyPressEvent(event)

    def _tell(self, grip: Grip) -> None:
        self.session.hand = f"{grip.label}: {self.session.units.mm(grip.value)}"
        self.pointed.emit(f"{self.session.hand}. Arrows move it 1 mm, Ctrl 10, Shift 0.1; G takes the next")

    def _try(self, stand: Stand, grip: Grip, value: float, *, final: bool) -> None:
        try:
            changes = change_for(stand, grip.key, value)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        if final:
            self.session.edit(f"{grip.label} {self.session.units.mm(value)}", changes)
        else:
            self.session.draft(changes)
        self._tell(Grip(grip.key, grip.label, grip.x, grip.y, grip.axis, value, grip.sign))
