"""The Tree step's sheet: the tree in its pot from the front with grips, and the roots in section."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF

from kesh.errors import KeshError
from kesh.figure.habit import sitter
from kesh.ui.session import Session
from kesh.ui.sheet.gallery import Gallery
from kesh.ui.sheet.marks import dash_dot, dimension, extension, handle, ruler, words
from kesh.ui.sheet.pot_painter import fade_up
from kesh.ui.sheet.scene import draw_planted
from kesh.ui.sheet.section_painter import draw_plan, draw_section
from kesh.ui.sheet.view import SheetView
from kesh.ui.state.bench import Grip, Stand, change_for, moved_by, nudged
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import mixed

GRAB_PX = 9
VIEWS = ("front", "roots")


class TreeSheet(SheetView):
    """Front view with grips, or the root mass in section and plan."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.which = "front"
        self.in_hand: str | None = None
        self._hover: str | None = None
        self._drag: tuple[Grip, QPointF, Stand] | None = None
        self.setAccessibleName("Drawing of the tree in its pot, to scale")
        self.show_thirds = True

    @property
    def stand(self) -> Stand | None:
        """The tree in its pot as shown."""
        tree = self.session.tree
        return Stand(tree, self.session.pot, self.session.planting) if tree else None

    def set_view(self, which: str) -> None:
        """Front or roots."""
        self.which = which
        self.in_hand = None
        self.fit()

    def extent_mm(self) -> QRectF:
        stand = self.stand
        if stand is None:
            return super().extent_mm()
        if self.which == "roots":
            pot = stand.pot
            wide = max(pot.length_mm if pot else 300, stand.tree.roots.length_mm if stand.tree.roots else 0) + 40
            deep = (pot.width_mm if pot else 200) + (pot.height_mm if pot else 80) + 120
            return QRectF(-wide / 2, 0, wide, deep)
        left, right = stand.reach()
        low = min(0.0, stand.root_top_mm - (stand.tree.measure.drop_mm or 0.0))
        return QRectF(left, low, right - left, stand.top_mm - low)

    def margins(self) -> tuple[int, int, int, int]:
        return (92, 66, 92, 92) if self.which == "front" else (84, 56, 84, 58)

    def paint(self, painter: QPainter) -> None:
        stand = self.stand
        if stand is None:
            self.empty(painter, "No tree yet. Start with its height and trunk; the rest can wait.")
        elif self.which == "front":
            self._front(painter, stand)
        else:
            self._roots(painter, stand)

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
        draw_planted(painter, self.gallery, t, stand.tree, species, stand.pot, stand.planting, foot, self.px_mm)
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
        if m.crown_base_mm is not None and stand.tree.style not in ("cascade", "semi_cascade"):
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
            words(painter, t, "above the flare", knee.x() + 8 + wide, knee.y() + 4, "quiet")
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
        beside = (
            self.px(min(-pot.length_mm / 2, stand.reach()[0] if stand.root_top_mm < 0 else -pot.length_mm / 2), 0).x()
            - 14
        )
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

    def _roots(self, painter: QPainter, stand: Stand) -> None:
        t, u = self.session.theme, self.session.units
        a = self.session.assessment()
        if a is None or stand.pot is None:
            self.empty(painter, "The tree stands in no pot yet. Choose one in the line-up to see its roots in section.")
            return
        pot, f = a.pot, a.figures
        drop = (pot.width_mm + 70) * self.px_mm
        bench = QPointF(self.px(0, 0).x(), self.px(0, 0).y() - drop)
        self.ground(
            painter,
            bench.x() - (pot.length_mm / 2 + 24) * self.px_mm,
            bench.x() + (pot.length_mm / 2 + 24) * self.px_mm,
            bench.y(),
        )
        self._trunk_stub(painter, stand, bench)
        painter.save()
        painter.translate(bench)
        painter.scale(self.px_mm, self.px_mm)
        draw_section(painter, a, t, self.px_mm)
        painter.restore()
        words(
            painter,
            t,
            "Section through the middle, seen from the front",
            84,
            40,
            "quiet",
            font=fonts.book(14, italic=True),
        )
        left, right = bench.x() - pot.length_mm / 2 * self.px_mm, bench.x() + pot.length_mm / 2 * self.px_mm
        dimension(
            painter, t, QPointF(left, bench.y() + 18), QPointF(right, bench.y() + 18), f"pot {u.figure(pot.length_mm)}"
        )
        if f.roots is not None and stand.tree.roots is not None:
            self._cuts(painter, stand, bench, left, right)
        else:
            words(
                painter,
                t,
                "Root mass not measured. Lift the tree, or probe along the wall.",
                bench.x(),
                bench.y() - (pot.height_mm + 30) * self.px_mm,
                "quiet",
                align="center",
            )
        if f.water is not None and f.plantable[0]:
            wet = float(f.water.wet_height_mm[0])
            floor = (pot.feet_mm + pot.floor_mm + (a.case.layer[1] if a.case.layer else 0.0)) * self.px_mm
            y = bench.y() - floor
            dimension(
                painter,
                t,
                QPointF(left - 16, y),
                QPointF(left - 16, y - wet * self.px_mm),
                u.figure(wet),
                "indigo",
                side=-1,
            )
        centre = QPointF(self.px(0, 0).x(), self.px(0, pot.width_mm / 2 + 8).y())
        painter.save()
        painter.translate(centre)
        painter.scale(self.px_mm, self.px_mm)
        draw_plan(painter, a, t, self.px_mm)
        painter.restore()
        words(
            painter,
            t,
            "From above, front at the foot",
            84,
            centre.y() - (pot.width_mm / 2 + 10) * self.px_mm,
            "quiet",
            font=fonts.book(14, italic=True),
        )
        if f.roots is not None:
            self._side_figures(painter, centre, pot.length_mm, pot.width_mm)

    def _trunk_stub(self, painter: QPainter, stand: Stand, bench: QPointF) -> None:
        t, m = self.session.theme, stand.tree.measure
        trunk, flare = m.trunk_diameter_mm or 40.0, m.flare_width_mm or 60.0
        k, x = self.px_mm, bench.x() + stand.trunk_x_mm * self.px_mm
        y = bench.y() - (stand.root_top_mm - 3) * k
        high = min(46 * k, y - 56)
        ring = QPolygonF(
            [QPointF(x - flare / 2 * k, y), QPointF(x - trunk * 0.55 * k, y - high * 0.45), QPointF(x - trunk * 0.48 * k, y - high),
             QPointF(x + trunk * 0.48 * k, y - high), QPointF(x + trunk * 0.55 * k, y - high * 0.45), QPointF(x + flare / 2 * k, y)]
        )  # fmt: skip
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(fade_up(mixed(t.color("bark"), t.color("bark_dark"), 0.25), y, y - high))
        painter.drawPolygon(ring)

    def _cuts(self, painter: QPainter, stand: Stand, bench: QPointF, left: float, right: float) -> None:
        t, u, a = self.session.theme, self.session.units, self.session.assessment()
        assert a is not None
        fit, roots = a.figures.roots, stand.tree.roots
        assert fit is not None
        assert roots is not None
        top = bench.y() - stand.root_top_mm * self.px_mm
        off, kept = float(fit.off_bottom_mm[0]), float(fit.kept_depth_mm[0])
        side = right + 34
        dimension(
            painter,
            t,
            QPointF(side, top + kept * self.px_mm),
            QPointF(side, top),
            f"{u.figure(kept)} kept",
            "ink",
            side=1,
        )
        share, limit = float(fit.removed_feeder_share[0]), a.case.limit_share
        role = "oxide" if limit is not None and share > limit else "ink"
        line = f"{u.mm(off)} off the bottom" if off > 0.5 else "nothing off the bottom"
        words(
            painter,
            t,
            line,
            self.width() - 84,
            40,
            "oxide" if off > 0.5 else "ink",
            font=fonts.text(14, bold=True),
            align="right",
        )
        told = f"{share:.0%} of the feeder roots" + (f", {limit:.0%} at most" if limit is not None else "")
        words(painter, t, told, self.width() - 84, 58, role, font=fonts.text(13), align="right")
        painter.setPen(QPen(t.color("oxide"), 0.7))
        if off > 0.5:
            painter.drawLine(QLineF(self.width() - 88, 64, right - 30, top + kept * self.px_mm))

    def _side_figures(self, painter: QPainter, centre: QPointF, length: float, width: float) -> None:
        t, u, a = self.session.theme, self.session.units, self.session.assessment()
        assert a is not None
        fit = a.figures.roots
        assert fit is not None
        half_l, half_w = length / 2 * self.px_mm + 12, width / 2 * self.px_mm
        spots = {
            "left": (fit.off_left_mm, QPointF(centre.x() - half_l, centre.y()), "right"),
            "right": (fit.off_right_mm, QPointF(centre.x() + half_l, centre.y()), "left"),
            "back": (fit.off_back_mm, QPointF(centre.x(), centre.y() - half_w - 6), "center"),
            "front": (fit.off_front_mm, QPointF(centre.x(), centre.y() + half_w + 15), "center"),
        }
        for name, (value, at, align) in spots.items():
            mm = float(value[0])
            text = f"{u.figure(mm)} off {name}" if mm > 0.5 else f"{name} clear"
            words(
                painter,
                t,
                text,
                at.x(),
                at.y() + 4,
                "oxide" if mm > 5 else "quiet",
                font=fonts.text(13, bold=mm > 5),
                align=align,
            )

    def _grip_at(self, point: QPointF) -> Grip | None:
        stand = self.stand
        if stand is None or self.which != "front":
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
        grips = stand.grips() if self.which == "front" else []
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
