"""Who gets which pot, drawn to one scale: each tree in its pot of now and of next, the chain between them, and the days."""

from datetime import date, timedelta

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractScrollArea

from kesh.advice.season.book import Book
from kesh.advice.season.pot_round import ASKED, Plan, Stays
from kesh.desk.pot_round import MoveRow, rows_of, stays_words
from kesh.science.season.season import MONTHS, day_words
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.paint.small_tree import draw_small_tree
from kesh.ui.rooms.room import Context
from kesh.ui.theme import fonts

ROW_PX, HEAD_PX, STAY_PX, CELL_PX = 106, 34, 134, 128
NOW_SHARE, NEXT_SHARE, SCORE_SHARE = 0.18, 0.335, 0.52


class PotsSheet(QAbstractScrollArea):
    """`picked` is sent with the tree of the move in hand, `refused` with the one that is struck out."""

    picked = pyqtSignal(str)
    refused = pyqtSignal(str)

    def __init__(self, context: Context) -> None:
        super().__init__()
        self.context, self.session, self.gallery = context, context.session, context.gallery
        self.plan: Plan | None = None
        self.book: Book | None = None
        self.rows: tuple[MoveRow, ...] = ()
        self.tree = ""
        self.told = ""
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Who gets which pot")
        view = self.viewport()
        assert view is not None
        context.gallery.ready.connect(view.update)

    @property
    def px_mm(self) -> float:
        """One scale for all pictures: the tallest tree with its pot fits its row."""
        if self.book is None:
            return 0.1
        tall = [(t.measure.height_mm or 400) + 110 for t in self.book.c.trees.values()]
        wide = [(t.measure.spread_mm or 400) for t in self.book.c.trees.values()]
        return min((fonts.scaled(ROW_PX) - 22) / max(tall, default=600), self.width() * 0.15 / max(wide, default=600))

    def show_plan(self, book: Book, plan: Plan | None, told: str = "") -> None:
        """Show a plan; none, and what is said meanwhile."""
        self.book, self.plan, self.told = book, plan, told
        self.rows = rows_of(book, plan) if plan is not None else ()
        if self.tree not in [r.move.tree for r in self.rows]:
            self.tree = self.rows[0].move.tree if self.rows else ""
        self._measure()
        self._paint_again()

    def _paint_again(self) -> None:
        view = self.viewport()
        if view is not None:
            view.update()

    def take(self, tree: str) -> None:
        """The move of a tree in hand."""
        self.tree = tree
        self._paint_again()

    def _measure(self) -> None:
        bar = self.verticalScrollBar()
        assert bar is not None
        bar.setRange(0, max(int(self._high() - self.height()), 0))
        bar.setPageStep(self.height())
        bar.setSingleStep(fonts.scaled(ROW_PX))

    def _high(self) -> float:
        stays = self.plan.stay if self.plan is not None else ()
        columns = max(int(self.width() // fonts.scaled(CELL_PX)), 1)
        lines = -(-len(stays) // columns)
        return (
            fonts.scaled(HEAD_PX)
            + len(self.rows) * fonts.scaled(ROW_PX)
            + (fonts.scaled(30) + lines * fonts.scaled(STAY_PX) if stays else 0)
        )

    def resizeEvent(self, event: object) -> None:
        self._measure()

    def _top(self, n: int) -> float:
        bar = self.verticalScrollBar()
        return fonts.scaled(HEAD_PX) + n * fonts.scaled(ROW_PX) - (bar.value() if bar is not None else 0)

    # --- painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        view = self.viewport()
        assert view is not None
        p, t = QPainter(view), self.session.theme
        wide, high = float(view.width()), float(view.height())
        p.fillRect(view.rect(), t.color("sheet"))
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.plan is None or self.book is None:
            words(p, t, self.told or "No plan yet", wide / 2, high / 3, "quiet", font=fonts.text(15), align="center")
            return
        for n, row in enumerate(self.rows):
            if self._top(n) < high and self._top(n + 1) > 0:
                self._row(p, n, row, wide)
        self._chain(p, wide)
        self._stays(p, wide)
        head = fonts.scaled(HEAD_PX)
        p.fillRect(QRectF(0, 0, wide, head), t.color("sheet"))
        for told, x in (("now", NOW_SHARE), ("next", NEXT_SHARE)):
            words(p, t, told, wide * (x + 0.075), head - 11, "quiet", font=fonts.book(14, italic=True), align="center")
        words(
            p,
            t,
            f"points of 100; stroke: {ASKED:.0f} asked",
            wide * SCORE_SHARE,
            head - 11,
            "quiet",
            font=fonts.book(14, italic=True),
        )
        self._months(p, wide, head)
        p.setPen(QPen(t.color("edge"), 1))
        p.drawLine(QLineF(0, head - 0.5, wide, head - 0.5))
        if self.hasFocus():
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(t.color("indigo"), 2))
            p.drawRect(view.rect().adjusted(1, 1, -1, -1))

    def _days(self) -> tuple[date, date] | None:
        firsts = [r.move.first for r in self.rows if r.move.first is not None]
        lasts = [r.move.last for r in self.rows if r.move.last is not None]
        if not firsts or not lasts:
            return None
        return min(firsts) - timedelta(days=10), max(max(lasts), min(firsts) + timedelta(days=60)) + timedelta(days=10)

    def _time(self, wide: float) -> tuple[float, float]:
        left = wide * 0.76
        return left, wide - 14 - left

    def _x(self, day: date, wide: float) -> float:
        days, (left, room) = self._days(), self._time(wide)
        return left if days is None else left + room * (day - days[0]).days / max((days[1] - days[0]).days, 1)

    def _months(self, p: QPainter, wide: float, head: float) -> None:
        days = self._days()
        if days is None:
            return
        at = (days[0].replace(day=1) + timedelta(days=32)).replace(day=1)
        while at < days[1]:
            x = self._x(at, wide)
            p.setPen(QPen(self.session.theme.color("rule"), 1))
            p.drawLine(QLineF(x, head, x, self._top(len(self.rows))))
            words(p, self.session.theme, MONTHS[at.month - 1], x + 4, head - 11, font=fonts.text(12))
            at = (at + timedelta(days=32)).replace(day=1)

    def _row(self, p: QPainter, n: int, row: MoveRow, wide: float) -> None:
        t, top, high, m = self.session.theme, self._top(n), float(fonts.scaled(ROW_PX)), row.move
        assert self.book is not None
        if m.tree == self.tree:
            p.fillRect(QRectF(0, top, wide, high), t.color("moss_tint", 0.45))
            p.fillRect(QRectF(0, top, 3, high), t.color("moss"))
        tree = self.book.c.trees[m.tree]
        species = self.book.species(tree)
        words(p, t, row.tree, 14, top + 24, font=fonts.book(16, bold=m.tree == self.tree))
        words(
            p, t, str(n + 1), wide * NOW_SHARE - 16, top + 24, "quiet", font=fonts.book(14, italic=True), align="right"
        )
        words(
            p,
            t,
            species.common_name if species is not None else "species not named",
            14,
            top + 42,
            "quiet",
            font=fonts.text(13),
        )
        if m.first is not None and m.last is not None:
            words(p, t, f"{day_words(m.first)} – {day_words(m.last)}", 14, top + 62, font=fonts.text(13))
        if row.accepted:
            status_mark(p, t, "fits", 20, top + 78, 10)
            words(p, t, "taken on", 32, top + 82, "moss", font=fonts.text(13, bold=True))
        self._picture(p, row, wide, NOW_SHARE, m.from_pot, top, high, next_=False)
        self._picture(p, row, wide, NEXT_SHARE, m.to_pot, top, high, next_=True)
        p.setPen(QPen(t.color("moss"), 1.5))
        y, x = top + high * 0.45, wide * (NEXT_SHARE - 0.012)
        p.drawLine(QLineF(x - 20, y, x, y))
        p.setBrush(t.color("moss"))
        p.drawPolygon(QPolygonF([QPointF(x, y - 4), QPointF(x + 7, y), QPointF(x, y + 4)]))
        self._score(p, row, wide, top)
        self._when(p, row, wide, top)
        p.setPen(QPen(t.color("rule"), 1))
        p.drawLine(QLineF(8, top + high - 0.5, wide - 8, top + high - 0.5))

    def _picture(
        self,
        p: QPainter,
        row: MoveRow,
        wide: float,
        share: float,
        pot: str | None,
        top: float,
        high: float,
        *,
        next_: bool,
    ) -> None:
        book = self.book
        assert book is not None
        tree = book.c.trees[row.move.tree]
        held = book.now.get(tree.id) if not next_ else book.c.planting_of(tree.id, pot)
        box = QRectF(wide * share, top, wide * 0.15, high - 8)
        record = book.c.pots.get(pot) if pot is not None else None
        draw_small_tree(
            p,
            self.session.theme,
            self.gallery,
            tree,
            book.species(tree),
            record,
            held,
            box,
            px_mm=self.px_mm,
            line_px=box.width() - 20,
            below_px=12,
        )
        if record is not None:
            words(
                p,
                self.session.theme,
                self.session.units.figure(record.length_mm),
                box.center().x(),
                box.bottom() + 3,
                "quiet",
                font=fonts.text(11),
                align="center",
            )

    def _score(self, p: QPainter, row: MoveRow, wide: float, top: float) -> None:
        t, m, left = self.session.theme, row.move, wide * SCORE_SHARE
        room = wide * 0.76 - left - 12
        metrics = QFontMetricsF(fonts.text(14, bold=True))
        words(p, t, row.from_name, left, top + 22, "quiet", font=fonts.text(13))
        words(p, t, "to", left, top + 41, "quiet", font=fonts.text(14))
        words(
            p,
            t,
            metrics.elidedText(row.to_name, Qt.TextElideMode.ElideRight, room - 20),
            left + 18,
            top + 41,
            font=fonts.text(14, bold=True),
        )
        bar = QRectF(left, top + 54, room - 78, 6)
        p.fillRect(bar, t.color("rule"))
        a, b = (m.score_before or 0.0) / 100, m.score_after / 100
        p.setPen(QPen(t.color("moss"), 1))
        p.setBrush(t.color("moss_fill"))
        p.drawRect(QRectF(bar.left() + bar.width() * min(a, b), bar.top() - 2, max(bar.width() * abs(b - a), 2), 10))
        p.setPen(QPen(t.color("ink"), 1.2))
        x = bar.left() + bar.width() * ASKED / 100
        p.drawLine(QLineF(x, bar.top() - 4, x, bar.bottom() + 4))
        before = f"{m.score_before:.0f} → " if m.score_before is not None else ""
        words(
            p,
            t,
            f"{before}{m.score_after:.0f}",
            bar.right() + 74,
            bar.bottom() + 3,
            "moss",
            font=fonts.text(14, bold=True),
            align="right",
        )
        told = row.ends_words or (m.best_words if m.best_words != "inside every band" else "")
        small = QFontMetricsF(fonts.text(12))
        if told:
            status_mark(p, t, "fits" if row.ends_words else "watch", left + 5, top + 80, 9)
            words(
                p,
                t,
                small.elidedText(told, Qt.TextElideMode.ElideRight, room - 18),
                left + 15,
                top + 84,
                font=fonts.text(12),
            )

    def _when(self, p: QPainter, row: MoveRow, wide: float, top: float) -> None:
        t, m = self.session.theme, row.move
        left, room = self._time(wide)
        if m.first is None or m.last is None:
            words(p, t, "any day", left + 4, top + 30, "quiet", font=fonts.text(13))
        else:
            a, b = self._x(m.first, wide), self._x(m.last, wide)
            box = QRectF(a, top + 30, max(b - a, 3), 16)
            p.setPen(QPen(t.color("moss"), 1.1))
            p.setBrush(t.color("moss_tint"))
            p.drawRect(box)
            if m.day is not None:
                x = self._x(m.day, wide)
                p.setPen(QPen(t.color("ink"), 1.6))
                p.drawLine(QLineF(x, box.top() - 4, x, box.bottom()))
                words(
                    p,
                    t,
                    f"from {day_words(m.day)}",
                    min(x, left + room - 70),
                    box.top() - 7,
                    font=fonts.text(12, bold=True),
                )
        role = "oxide" if row.tight else "indigo"
        metrics = QFontMetricsF(fonts.text(12))
        told = metrics.elidedText(row.free_words, Qt.TextElideMode.ElideRight, room)
        words(
            p,
            t,
            told,
            left,
            top + 66,
            role,
            font=fonts.text(12),
            ground="moss_tint" if m.tree == self.tree else "sheet",
        )

    def _chain(self, p: QPainter, wide: float) -> None:
        """Which pot goes where: from the pot that is left to the tree that takes it, or to the shelf."""
        t, high = self.session.theme, float(fonts.scaled(ROW_PX))
        order = [r.move.tree for r in self.rows]
        p.setBrush(Qt.BrushStyle.NoBrush)
        for n, row in enumerate(self.rows):
            y1, x1 = self._top(n) + high - 26, wide * (NOW_SHARE + 0.132)
            taker = next((k for k, other in enumerate(self.rows) if other.move.frees == row.move.tree), None)
            if taker is None:
                continue
            x2, y2 = wide * (NEXT_SHARE + 0.012), self._top(taker) + high - 26
            mid = wide * (NEXT_SHARE - 0.02) + 4 * (order.index(row.move.tree) % 3)
            p.setPen(QPen(t.color("indigo"), 1.4))
            p.drawEllipse(QPointF(x1, y1), 3, 3)
            p.drawPolyline(QPolygonF([QPointF(x1 + 3, y1), QPointF(mid, y1), QPointF(mid, y2), QPointF(x2 - 5, y2)]))
            p.setBrush(t.color("indigo"))
            p.drawPolygon(QPolygonF([QPointF(x2 - 6, y2 - 4), QPointF(x2, y2), QPointF(x2 - 6, y2 + 4)]))
            p.setBrush(Qt.BrushStyle.NoBrush)

    def _stays(self, p: QPainter, wide: float) -> None:
        if self.plan is None or not self.plan.stay:
            return
        t, top = self.session.theme, self._top(len(self.rows)) + fonts.scaled(24)
        p.setFont(fonts.section())
        p.setPen(t.color("ink"))
        p.drawText(QPointF(14, top - 4), "Stay, and who cannot be served")
        columns = max(int(wide // fonts.scaled(CELL_PX)), 1)
        rows = sorted(self.plan.stay, key=lambda s: (s.served, s.tree))
        for n, one in enumerate(rows):
            box = QRectF(
                (n % columns) * wide / columns,
                top + (n // columns) * fonts.scaled(STAY_PX),
                wide / columns,
                fonts.scaled(STAY_PX),
            )
            if box.top() < self.height() and box.bottom() > 0:
                self._stay(p, one, box)

    def _stay(self, p: QPainter, s: Stays, box: QRectF) -> None:
        book, t = self.book, self.session.theme
        assert book is not None
        tree = book.c.trees[s.tree]
        held = book.now.get(s.tree)
        pot = book.c.pots.get(s.pot) if s.pot is not None else None
        p.save()
        p.setClipRect(box)
        draw_small_tree(
            p,
            t,
            self.gallery,
            tree,
            book.species(tree),
            pot,
            held,
            QRectF(box.left(), box.top(), box.width(), fonts.scaled(88)),
            px_mm=self.px_mm,
            line_px=box.width() - 20,
            below_px=6,
        )
        y, room = box.top() + fonts.scaled(88), box.width() - 8
        x = box.center().x()
        words(p, t, tree.name, x, y + 12, font=fonts.book(14), align="center")
        metrics = QFontMetricsF(fonts.text(12))
        told = stays_words(book, s) if s.served else s.why
        words(
            p,
            t,
            metrics.elidedText(told, Qt.TextElideMode.ElideRight, room),
            x,
            y + 28,
            "quiet" if s.served else "oxide",
            font=fonts.text(12),
            align="center",
        )
        p.restore()

    # --- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for n, row in enumerate(self.rows):
            if self._top(n) <= event.position().y() < self._top(n + 1):
                self.take(row.move.tree)
                self.picked.emit(row.move.tree)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        trees = [r.move.tree for r in self.rows]
        key = event.key()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and trees:
            at = trees.index(self.tree) if self.tree in trees else 0
            at = min(max(at + (1 if key == Qt.Key.Key_Down else -1), 0), len(trees) - 1)
            self.take(trees[at])
            self.picked.emit(trees[at])
            bar = self.verticalScrollBar()
            if bar is not None:
                low = int((at + 1) * fonts.scaled(ROW_PX) + fonts.scaled(HEAD_PX) - self.height())
                bar.setValue(min(max(bar.value(), low), at * fonts.scaled(ROW_PX)))
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.tree:
            self.refused.emit(self.tree)
        elif key == Qt.Key.Key_F5:
            self.context.do("plan_pots")
        else:
            super().keyPressEvent(event)
