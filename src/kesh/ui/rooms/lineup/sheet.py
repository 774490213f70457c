"""The Line-up's sheet: the tree in three to six pots at one scale on one ground line, the rest of the shelf below."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QWheelEvent

from kesh.advice.water.short import PotShort
from kesh.desk.bench import Stand
from kesh.desk.lineup import Column, LineupState, span_of, with_offset
from kesh.photo.cutout import CutOut
from kesh.photo.darkroom import Darkroom
from kesh.ui.hand.hands import step_of
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import dash_dot, dimension, ruler, words
from kesh.ui.paint.scene import draw_planted
from kesh.ui.rooms.lineup.held_strip import HeldStrip
from kesh.ui.rooms.lineup.lineup_painter import column_text, laid_over
from kesh.ui.session import Session
from kesh.ui.theme import fonts

RULER_PX, TEXT_PX, SHORT_TEXT_PX, HELD_PX = 46, 246, 150, 128
LEAST_COLUMN_PX = 150
PAD_MM = 14.0
FIGURE_PX = 34


class LineupSheet(SheetView):
    """Columns, chosen by click or arrows; the trunk can be dragged sideways in each pot."""

    picked = pyqtSignal(str)
    wanted = pyqtSignal(str)
    laid_over = pyqtSignal()

    def __init__(self, session: Session, gallery: Gallery, darkroom: Darkroom) -> None:
        super().__init__(session, gallery)
        self.years: dict[str, PotShort] = {}
        self.darkroom = darkroom
        self.from_photo = False
        self.chosen = ""
        self.before = ""
        self.overlay = False
        self.held = HeldStrip(self)
        self._drag: tuple[str, float, float] | None = None
        self._lift: tuple[str, QPointF] | None = None
        self._hand = False
        self.setAccessibleName("The tree in several pots at one scale")

    @property
    def state(self) -> LineupState | None:
        """What is shown."""
        return self.session.lineup_state()

    def refresh(self) -> None:
        """Follow the session; keep the choice where it still stands."""
        state = self.state
        keys = [c.pot.id for c in state.columns] if state else []
        if self.chosen not in keys:
            wanted = state.lineup.chosen if state else None
            best = min(state.columns, key=lambda c: c.place).pot.id if state and state.columns else ""
            self.chosen = wanted if wanted in keys and wanted else best
            self.picked.emit(self.chosen)
        self.refit()
        self.update()

    def column(self) -> Column | None:
        """The chosen column."""
        state = self.state
        return next((c for c in state.columns if c.pot.id == self.chosen), None) if state else None

    def real(self) -> CutOut | None:
        """The real tree, when it is asked for and cut out."""
        photos = self.session.collection.sides_of(self.session.tree_id) if self.from_photo else ()
        return self.darkroom.cutout(photos[0]) if photos else None

    def choose(self, pot: str) -> None:
        """Take another column in hand."""
        if pot != self.chosen:
            self.before, self.chosen = self.chosen, pot
            self._hand = False
            self.picked.emit(pot)
            self.update()

    @property
    def states(self) -> frozenset[str] | None:
        """Which pots the strip shows, by where they are; None for all."""
        return self.held.states

    @states.setter
    def states(self, states: frozenset[str] | None) -> None:
        self.held.states = states

    # geometry ---------------------------------------------------------------------------------------------------

    @property
    def _text_px(self) -> float:
        if self.overlay:
            return 20
        return fonts.scaled(TEXT_PX if self._tall else SHORT_TEXT_PX)

    @property
    def _tall(self) -> bool:
        """Whether there is room for bars and for the strip of other pots."""
        return self.height() > fonts.scaled(560)

    @property
    def _held_px(self) -> float:
        return fonts.scaled(HELD_PX if self._tall else 34)

    def _stands(self) -> list[Stand]:
        state = self.state
        high = self.session.brief.stand_mm
        return [Stand(state.tree, c.pot, c.planting, high) for c in state.columns] if state else []

    def fit(self) -> None:
        """One scale for all columns."""
        self._fitted = True
        stands = self._stands()
        if not stands or self.width() < 50:
            return
        count = 1 if self.overlay else len(stands)
        top = max(s.top_mm for s in stands)
        low = min(s.low_mm for s in stands)
        column = self._column_px(count)
        room = self.height() - self._text_px - self._held_px - 78
        across = min(
            min((column - 8) / (s.reach()[1] - s.reach()[0] + PAD_MM), self._beside(s, column)) for s in stands
        )
        self.px_mm = max(0.03, min(across, room / (top - low)))
        spare = max(0.0, room - (top - low) * self.px_mm)
        self.origin = QPointF(fonts.scaled(RULER_PX), 34 + spare + top * self.px_mm)
        self._bottom = self.origin.y() + max(0.0, -low) * self.px_mm
        self.scaled.emit(self.px_mm)
        self.update()

    def _figure_px(self) -> float:
        """Room beside a pot for its height."""
        return fonts.scaled(FIGURE_PX) if self.show_dimensions and not self.overlay else 0.0

    def _beside(self, stand: Stand, column_px: float) -> float:
        """The scale at which the pot's height still finds room beside the pot."""
        left, half = stand.reach()[0], stand.pot.length_mm / 2 if stand.pot else 0.0
        return (column_px - 8 - self._figure_px()) / (half - left + PAD_MM / 2)

    def _column_px(self, count: int | None = None) -> float:
        """How wide a column is: the sheet over all of them, and never so narrow that its words cannot be read."""
        many = count or max(len(self.state.columns) if self.state else 1, 1)
        # half as fast as the text grows: names are cut short before a column is pushed off the sheet
        least = (LEAST_COLUMN_PX + fonts.scaled(LEAST_COLUMN_PX)) / 2
        return float(max((self.width() - fonts.scaled(RULER_PX) - 8) / many, least))

    def _box(self, index: int) -> QRectF:
        each = self._column_px()
        return QRectF(fonts.scaled(RULER_PX) + index * each, 8, each, self.height() - self._held_px - 16)

    def _foot(self, index: int, stand: Stand) -> QPointF:
        """The pot's middle on the bench: the whole of tree and pot is centred in its column."""
        box = self._box(index)
        left, right = (side * self.px_mm for side in stand.reach())
        half = stand.pot.length_mm / 2 * self.px_mm if stand.pot else 0.0
        return QPointF(box.center().x() - (left + max(right, half + self._figure_px())) / 2, self.origin.y())

    # paint ------------------------------------------------------------------------------------------------------

    def paint(self, painter: QPainter) -> None:
        state = self.state
        if state is None:
            self.empty(painter, "No tree yet. Add one, then hold pots under it.", action=("Add a tree", "new_tree"))
        elif not len(state.ranking):
            self.empty(
                painter,
                "The shelf is empty: a pot of your own, by three sizes, is the first to try.",
                action=("Add a pot", "new_pot"),
            )
        elif not state.columns:
            self.empty(painter, "No pot stands under the tree. Pick one from the shelf below, or take the best four.")
            self.held.paint(painter, state, self._held_px)
        elif self.overlay:
            self._overlay(painter, state)
            self.held.paint(painter, state, self._held_px)
        else:
            self._columns(painter, state)
            self.held.paint(painter, state, self._held_px)

    def _columns(self, painter: QPainter, state: LineupState) -> None:
        t, stands = self.session.theme, self._stands()
        high = stands[0].stand_mm
        y = self.origin.y() + high * self.px_mm
        for i, column in enumerate(state.columns):
            box = self._box(i)
            if column.pot.id == self.chosen:
                painter.fillRect(box, t.color("moss_tint", 0.55))
                painter.setPen(QPen(t.color("moss"), 2))
                painter.drawLine(QLineF(box.left() + 1, 9, box.right() - 1, 9))
                painter.drawLine(QLineF(box.left() + 1, 9, box.left() + 1, 15))
                painter.drawLine(QLineF(box.right() - 1, 9, box.right() - 1, 15))
            elif i:
                painter.setPen(QPen(t.color("rule"), 1))
                painter.drawLine(QLineF(box.left(), 14, box.left(), box.bottom()))
        top = max(s.top_mm for s in stands)
        ruler(
            painter,
            t,
            fonts.scaled(34),
            y,
            self.px_mm,
            min(top + high + 10, (y - 10) / self.px_mm),
            unit=self.session.units.length,
        )
        right = self._box(len(stands) - 1).right()
        if self.show_eye:
            self._eye(painter, top, right)
        self.ground(painter, 24, right, y)
        species = self.session.lineup_case().species
        for i, (column, stand) in enumerate(zip(state.columns, stands, strict=True)):
            foot, box = self._foot(i, stand), self._box(i)
            painter.save()
            painter.setClipRect(box)
            draw_planted(
                painter, self.gallery, t, state.tree, species, column.pot, column.planting, foot, self.px_mm, stand_mm=high, hurry=self.session.dragging, real=self.real())  # fmt: skip
            painter.restore()
            if self.show_dimensions:
                self._dimensions(painter, column, foot)
            self._text(painter, state, column, i)

    def _eye(self, painter: QPainter, top_mm: float, right: float) -> None:
        t, u = self.session.theme, self.session.units
        y = self.origin.y() - 0.5 * top_mm * self.px_mm
        painter.setPen(dash_dot(t.color("indigo")))
        painter.drawLine(QLineF(fonts.scaled(RULER_PX), y, right, y))
        words(painter, t, f"eye level {u.figure(0.5 * top_mm)}", right - 4, y - 5, "indigo", align="right")

    def _dimensions(self, painter: QPainter, column: Column, foot: QPointF) -> None:
        t, u, pot = self.session.theme, self.session.units, column.pot
        bars, y = column.bars(), self._bottom + 17
        half = pot.length_mm / 2 * self.px_mm
        label = ("Ø " if pot.outline.kind == "round" else "") + u.figure(pot.length_mm)
        a, b = QPointF(foot.x() - half, y), QPointF(foot.x() + half, y)
        dimension(painter, t, a, b, label, "ink" if bars[1].inside else "oxide", bold=False, side=1)
        side = foot.x() + half + 6
        top = QPointF(side, foot.y() - pot.height_mm * self.px_mm)
        role = "ink" if bars[0].inside else "oxide"
        dimension(painter, t, QPointF(side, foot.y()), top, u.figure(pot.height_mm), role, bold=False, side=1)

    def _text(self, painter: QPainter, state: LineupState, column: Column, index: int) -> None:
        y = self._bottom + 18 + fonts.scaled(30)
        bars = column.bars() if self._tall else ()
        spans = [span_of(state.columns, k) for k in range(len(bars))]
        column_text(painter, self.session.theme, self.session.units, column, self._box(index), y, list(zip(bars, spans, strict=True)),
                    in_hand=column.pot.id == self.chosen, chosen=state.lineup.chosen == column.pot.id, year=self.years.get(column.pot.id))  # fmt: skip

    def _overlay(self, painter: QPainter, state: LineupState) -> None:
        """One tree; the chosen pot in full, the others as outlines."""
        t, column = self.session.theme, self.column()
        if column is None:
            return
        stand = Stand(state.tree, column.pot, column.planting, self.session.brief.stand_mm)
        left, right = stand.reach()
        foot = QPointF(self.width() / 2 - (left + right) / 2 * self.px_mm, self.origin.y())
        floor = foot.y() + stand.stand_mm * self.px_mm
        ruler(
            painter,
            t,
            fonts.scaled(34),
            floor,
            self.px_mm,
            stand.top_mm + stand.stand_mm,
            unit=self.session.units.length,
        )
        self.ground(painter, 24, self.width() - 10, floor)
        species = self.session.lineup_case().species
        draw_planted(
            painter,
            self.gallery,
            t,
            state.tree,
            species,
            column.pot,
            column.planting,
            foot,
            self.px_mm,
            stand_mm=stand.stand_mm,
            real=self.real(),
            hurry=self.session.dragging,
        )
        others = [c for c in state.columns if c.pot.id != self.chosen]
        laid_over(painter, t, self.session.units, column, others, foot, self.px_mm)

    # hands ------------------------------------------------------------------------------------------------------

    def _held_pot(self, point: QPointF) -> str | None:
        state = self.state
        return self.held.pot_at(point, state, self._held_px) if state is not None else None

    def _column_at(self, point: QPointF) -> int | None:
        state = self.state
        if (
            state is None
            or self.overlay
            or point.x() < fonts.scaled(RULER_PX)
            or point.y() > self.height() - self._held_px
        ):
            return None
        index = int((point.x() - fonts.scaled(RULER_PX)) / self._column_px())
        return index if index < len(state.columns) else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        state = self.state
        if event is None or state is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        held, index = self._held_pot(event.position()), self._column_at(event.position())
        if held is not None:
            self._lift = (held, event.position())
        elif index is not None:
            column = state.columns[index]
            self.choose(column.pot.id)
            if event.position().y() < self.origin.y():
                self._drag = (column.pot.id, event.position().x(), column.planting.offset_x_mm)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._drag is not None:
            pot, start, offset = self._drag
            self._move(pot, offset + (event.position().x() - start) / self.px_mm, final=False)
            return
        if event is not None and self._lift is not None:
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            return
        super().mouseMoveEvent(event)
        if event is not None:
            held, index = self._held_pot(event.position()), self._column_at(event.position())
            over_tree = index is not None and event.position().y() < self.origin.y()
            shape = (
                Qt.CursorShape.PointingHandCursor
                if held
                else Qt.CursorShape.SizeHorCursor
                if over_tree
                else Qt.CursorShape.ArrowCursor
            )
            self.setCursor(shape)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        if event is None:
            return
        if self._drag is not None:
            pot, start, offset = self._drag
            self._drag = None
            moved = event.position().x() - start
            if abs(moved) < 3:
                self.session.drop_draft()
            else:
                self._move(pot, offset + moved / self.px_mm, final=True)
        elif self._lift is not None:
            pot, _ = self._lift
            self._lift = None
            self.setCursor(Qt.CursorShape.ArrowCursor)
            self.wanted.emit(pot)

    def _move(self, pot: str, x_mm: float, *, final: bool) -> None:
        """Stand the trunk elsewhere in one pot; all figures follow."""
        limit = self.session.collection.pots[pot].length_mm / 2
        x_mm = max(-limit, min(limit, x_mm))
        lineup = with_offset(self.session.lineup(), pot, x_mm)
        change = [("lineup", self.session.tree_id, lineup)]
        self.pointed.emit(
            f"Trunk {self.session.units.mm(x_mm)} from the middle. Arrows move it 1 mm, Ctrl 10, Shift 0.1"
        )
        if final:
            self.session.edit(f"Trunk {self.session.units.mm(x_mm)} from the middle", change)
        else:
            self.session.draft(change)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and event.position().y() > self.height() - self._held_px:
            self.held.turn(-1 if event.angleDelta().y() > 0 else 1)
            event.accept()
            return
        super().wheelEvent(event)

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """The line-up keeps the one scale that shows every pot."""
        self.fit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        state = self.state
        if event is None or state is None:
            return
        keys = [c.pot.id for c in state.columns]
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self.chosen in keys:
            by = 1 if key == Qt.Key.Key_Right else -1
            if self._hand:
                size = step_of(event)
                column = self.column()
                assert column is not None
                self._move(self.chosen, column.planting.offset_x_mm + by * size, final=True)
            else:
                self.choose(keys[(keys.index(self.chosen) + by) % len(keys)])
        elif key == Qt.Key.Key_G and self.chosen in keys:
            self._hand = True
            self.pointed.emit("Trunk, left and right, in hand. Arrows move it 1 mm, Ctrl 10, Shift 0.1; Esc lets go")
        elif key == Qt.Key.Key_Escape:
            self._hand, self._drag, self._lift = False, None, None
            self.session.drop_draft()
        elif key == Qt.Key.Key_Space and self.before in keys:
            self.choose(self.before)
        elif key == Qt.Key.Key_L:
            self.laid_over.emit()
        elif key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            self.held.turn(4 if key == Qt.Key.Key_PageDown else -4)
        else:
            super().keyPressEvent(event)
