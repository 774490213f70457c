"""The year over the bench: rows of trees against time. Only rows in sight are painted; a job is dragged to another day."""

from datetime import date, timedelta

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QWheelEvent
from PyQt6.QtWidgets import QAbstractScrollArea

from kesh.advice.season.book import Book
from kesh.advice.season.weekends import Job
from kesh.desk.season import Mark, RowState, Span, row_of, span_of
from kesh.model import Tree
from kesh.science.season.days import later
from kesh.science.season.season import day_words
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.paint.scene import pixel_ratio
from kesh.ui.paint.season_painter import Plot, draw_ground, draw_head, draw_nights, draw_row, draw_today, mark_box
from kesh.ui.paint.small_tree import draw_small_tree
from kesh.ui.session import Session
from kesh.ui.theme import fonts

LIST_PX, ROW_PX, HEAD_PX, FOOT_PX = 212, 56, 46, 44
PULL_PX, MOST_CELLS = 4, 400


class SeasonChart(QAbstractScrollArea):
    """`laid` is sent with a task and a day when a hand laid it there; `picked` with the task in hand; `opened` with a tree."""

    laid = pyqtSignal(str, object)
    picked = pyqtSignal(str)
    opened = pyqtSignal(str)
    pointed = pyqtSignal(str)
    drafted = pyqtSignal(str, object)

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__()
        self.session, self.gallery = session, gallery
        self.book = Book(session.collection, session.today, session.units)
        self.jobs: dict[str, Job] = {}
        self.trees: list[str] = []
        self.span: Span = span_of("year", session.today)
        self.near = False
        self.tree, self.task = "", ""
        self.draft_day: date | None = None
        self._rows: dict[str, RowState] = {}
        self._cells: dict[tuple[object, ...], QPixmap] = {}
        self._pull: tuple[QPointF, Mark, date] | None = None
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The season of all trees")
        view = self.viewport()
        assert view is not None
        view.setMouseTracking(True)
        gallery.ready.connect(self._repaint_cells)

    def _repaint_cells(self) -> None:
        """A picture came: what was painted without it goes."""
        self._cells.clear()
        self._update()

    # --- what is shown

    def show_book(self, book: Book, trees: list[str], jobs: dict[str, Job]) -> None:
        """Show a book; rows are worked out when they come in sight."""
        self.book, self.trees, self.jobs = book, trees, jobs
        self._rows.clear()
        self._cells.clear()
        if self.tree not in trees:
            self.tree = trees[0] if trees else ""
        self._measure()
        self._update()

    def show_span(self, span: Span, *, close: bool) -> None:
        """Other days, near or far."""
        self.span, self.near = span, close
        self._rows.clear()
        self._update()

    def row(self, tree: str) -> RowState:
        """A tree's row, worked out once."""
        if tree not in self._rows:
            self._rows[tree] = row_of(self.book, tree, self.span, self.jobs, close=self.near)
        return self._rows[tree]

    @property
    def row_px(self) -> float:
        """Height of a row."""
        return fonts.scaled(ROW_PX)

    @property
    def list_px(self) -> float:
        """Width of the names at the left."""
        return min(fonts.scaled(LIST_PX), self.width() * 0.34)

    @property
    def head_px(self) -> float:
        """Height of months and frost."""
        return fonts.scaled(HEAD_PX)

    @property
    def foot_px(self) -> float:
        """Height of the strip of cold nights; none in a low window or without a climate."""
        return (
            fonts.scaled(FOOT_PX)
            if self.height() > 380 and self.book.c.site is not None and self.book.c.site.months
            else 0.0
        )

    def plot(self) -> Plot:
        """Where time lies."""
        view = self.viewport()
        wide = view.width() if view is not None else self.width()
        return Plot(self.list_px + 12, max(wide - self.list_px - 24, 50), self.span)

    def _measure(self) -> None:
        bar = self.verticalScrollBar()
        room = self.height() - self.head_px - self.foot_px
        assert bar is not None
        bar.setRange(0, max(int(len(self.trees) * self.row_px - room), 0))
        bar.setPageStep(int(max(room, 1)))
        bar.setSingleStep(int(self.row_px))

    def resizeEvent(self, event: object) -> None:
        self._measure()

    def _update(self) -> None:
        view = self.viewport()
        if view is not None:
            view.update()

    def _offset(self) -> int:
        bar = self.verticalScrollBar()
        return bar.value() if bar is not None else 0

    def _top(self, n: int) -> float:
        return self.head_px + n * self.row_px - self._offset()

    # --- painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        view = self.viewport()
        assert view is not None
        p, t = QPainter(view), self.session.theme
        wide, high = view.width(), view.height()
        p.fillRect(view.rect(), t.color("sheet"))
        plot, foot = self.plot(), high - self.foot_px
        p.fillRect(QRectF(0, self.head_px, self.list_px, high), t.color("list"))
        p.save()
        p.setClipRect(QRectF(0, self.head_px, wide, foot - self.head_px))
        rows_end = min(self._top(len(self.trees)), foot)
        draw_ground(p, t, self.book, plot, self.head_px, rows_end)
        first = max(int(self._offset() // self.row_px), 0)
        for n in range(first, min(first + int(high / self.row_px) + 2, len(self.trees))):
            self._paint_row(p, n, plot, wide)
        p.restore()
        p.fillRect(QRectF(0, 0, wide, self.head_px), t.color("sheet"))
        p.fillRect(QRectF(0, 0, self.list_px, self.head_px), t.color("list"))
        year = self.book.year(self.trees[0]) if self.trees else None
        self._list_head(p)
        draw_head(p, t, self.book, plot, year, self.head_px)
        p.setPen(QPen(t.color("edge"), 1))
        p.drawLine(QLineF(0, self.head_px - 0.5, wide, self.head_px - 0.5))
        draw_today(p, t, self.book, plot, self.head_px, rows_end)
        if self.foot_px and year is not None and self.trees:
            self._paint_nights(p, plot, QRectF(0, foot, wide, self.foot_px))
        if not self.trees:
            told = (
                "No tree here yet. Add one on the bench."
                if not self.book.c.trees
                else "Nothing is found by these words."
            )
            words(p, t, told, self.list_px + 24, self.head_px + 40, "quiet", font=fonts.text(14))
        if self.hasFocus():
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(t.color("indigo"), 2))
            p.drawRect(view.rect().adjusted(1, 1, -1, -1))

    def _list_head(self, p: QPainter) -> None:
        busy = (
            sum(1 for t in self.trees if any(m.look == "work" for m in self.row(t).marks))
            if len(self.trees) <= 60
            else None
        )
        n = len(self.trees)
        told = f"{busy} of {n} trees have work in sight" if busy is not None else f"{n} trees"
        words(p, self.session.theme, told, 12, self.head_px - 10, "quiet", font=fonts.text(13))

    def _paint_row(self, p: QPainter, n: int, plot: Plot, wide: float) -> None:
        t, key, top = self.session.theme, self.trees[n], self._top(n)
        tree = self.book.c.trees.get(key)
        if tree is None:
            return
        row, high = self.row(key), self.row_px
        if key == self.tree:
            p.fillRect(QRectF(0, top, self.list_px, high), t.color("sheet"))
            p.fillRect(QRectF(self.list_px, top, wide - self.list_px, high), t.color("moss_tint", 0.5))
            p.fillRect(QRectF(0, top, 3, high), t.color("moss"))
        p.save()
        p.setClipRect(QRectF(0, max(top, self.head_px), self.list_px, high))
        p.drawPixmap(QPointF(0, top), self._cell(tree, row, pixel_ratio(p)))
        p.restore()
        p.setPen(QPen(t.color("rule"), 1))
        p.drawLine(QLineF(8, top + high - 0.5, wide, top + high - 0.5))
        p.save()
        p.setClipRect(QRectF(plot.left - 8, max(top, self.head_px), plot.width + 16, high))
        draw_row(p, t, row, plot, top, high, self.task or None, self.draft_day, self.book.today)
        p.restore()

    def _cell(self, tree: Tree, row: RowState, ratio: float) -> QPixmap:
        """A tree's picture and words at the left, painted once: scrolling only copies it."""
        t, high, chosen = self.session.theme, self.row_px, tree.id == self.tree
        key = (tree.id, chosen, t.name, round(self.list_px), round(high), ratio)
        if key in self._cells:
            return self._cells[key]
        made = QPixmap(round(self.list_px * ratio), round(high * ratio))
        made.setDevicePixelRatio(ratio)
        made.fill(Qt.GlobalColor.transparent)
        p = QPainter(made)
        planting = self.book.now.get(tree.id)
        pot = self.book.c.pots.get(planting.pot) if planting is not None else None
        species, box = self.book.species(tree), QRectF(0, 0, self.list_px, high)
        draw_small_tree(p, t, self.gallery, tree, species, pot, planting, box, px_mm=0.056, line_px=48, below_px=7)
        left, room = 68.0, self.list_px - 74

        def line(text: str, y: float, font: QFont, role: str, dx: float = 0.0) -> None:
            shown = QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, max(room - dx, 20))
            words(p, t, shown, left + dx, y * high / ROW_PX, role, font=font)

        line(tree.name, 17, fonts.book(15, bold=chosen), "ink")
        line(species.common_name if species is not None else "species not named", 33, fonts.text(12), "quiet")
        dx = 0.0
        if row.status:
            status_mark(p, t, row.status, left + 5, 45 * high / ROW_PX, 9)
            dx = 14.0
        line(row.line, 49, fonts.text(12), "ink", dx)
        p.end()
        if len(self._cells) > MOST_CELLS:
            self._cells.clear()
        self._cells[key] = made
        return made

    def _paint_nights(self, p: QPainter, plot: Plot, box: QRectF) -> None:
        t = self.session.theme
        p.fillRect(box, t.color("sheet"))
        p.fillRect(QRectF(0, box.top(), self.list_px, box.height()), t.color("list"))
        p.setPen(QPen(t.color("edge"), 1))
        p.drawLine(QLineF(0, box.top() + 0.5, box.right(), box.top() + 0.5))
        words(p, t, "Coldest night", 12, box.top() + fonts.scaled(18), font=fonts.text(13, bold=True))
        words(p, t, "usual, by day", 12, box.top() + fonts.scaled(34), "quiet")
        year = self.book.year(self.trees[0])
        if year is not None and year.night_c:
            coldest = [year.night_c[year.day(self.span.first + timedelta(days=n))] for n in range(self.span.days)]
            draw_nights(p, t, year, plot, box.adjusted(0, 4, 0, 0), coldest, self.session.units)

    # --- hands

    def mark_at(self, point: QPointF) -> tuple[str, Mark | None]:
        """(tree, mark) under a point."""
        n = int((point.y() - self.head_px + self._offset()) // self.row_px)
        if point.y() < self.head_px or not 0 <= n < len(self.trees) or point.y() > self.height() - self.foot_px:
            return "", None
        key, plot = self.trees[n], self.plot()
        top = self._top(n)
        for mark in reversed(self.row(key).marks):
            if mark_box(mark, plot, top, self.row_px / 58).adjusted(-3, -5, 3, 3).contains(point):
                return key, mark
        return key, None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        key, mark = self.mark_at(event.position())
        if key:
            self.tree = key
            self.take(mark.task if mark is not None and mark.task else "")
            if mark is not None and mark.task and mark.look == "work":
                self._pull = event.position(), mark, mark.day or self.plot().day(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._pull is not None:
            start, mark, was = self._pull
            if self.draft_day is None and abs(event.position().x() - start.x()) < PULL_PX:
                return
            days = round((event.position().x() - start.x()) * self.span.days / self.plot().width)
            self.draft_day = later(was, days)
            self.drafted.emit(mark.task, self.draft_day)
            self._update()
            return
        tree, under = self.mark_at(event.position())
        self.pointed.emit(self._told(tree, under, event.position().x()))

    def _told(self, key: str, mark: Mark | None, x: float) -> str:
        day = day_words(self.plot().day(x)) if x > self.list_px else ""
        if mark is None or key not in self.book.c.trees:
            return f"Pointer {day}" if day else ""
        laid = f", laid for {mark.day:%a} {day_words(mark.day)}" if mark.day is not None else ""
        return f"{self.book.c.trees[key].name}: {mark.words}, {day_words(mark.first)} to {day_words(mark.last)}{laid}"

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        pull, day = self._pull, self.draft_day
        self._pull = None
        if pull is not None and day is not None and pull[1].task:
            self.draft_day = None
            self.laid.emit(pull[1].task, day)
        self._update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            key, _ = self.mark_at(event.position())
            if key:
                self.opened.emit(key)

    def take(self, task: str) -> None:
        """Take a task in hand; empty for none."""
        self.task, self.draft_day = task, None
        self.picked.emit(task)
        self._update()

    def show_task(self, task: str) -> None:
        """A task was taken in hand elsewhere: its row comes in sight."""
        tree = next((t.tree for t in self.book.tasks if t.id == task), "")
        self.task = task
        if tree in self.trees:
            self.tree = tree
            self._into_sight()
        self._update()

    def _into_sight(self) -> None:
        bar = self.verticalScrollBar()
        if self.tree not in self.trees or bar is None:
            return
        n = self.trees.index(self.tree)
        room = self.height() - self.head_px - self.foot_px
        low, high = int((n + 1) * self.row_px - room), int(n * self.row_px)
        bar.setValue(min(max(bar.value(), low), high))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and event.modifiers() & (
            Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier
        ):
            turn = event.angleDelta().y() or event.angleDelta().x()
            self.walk(-7 if turn > 0 else 7)
            event.accept()
        else:
            super().wheelEvent(event)

    def walk(self, days: int) -> None:
        """Days earlier or later in sight."""
        self.show_span(self.span.moved(days), close=self.near)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, control = event.key(), bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            by = -1 if key == Qt.Key.Key_Left else 1
            if self.task and self._laid_day() is not None:
                self.laid.emit(self.task, later(self._laid_day() or self.session.today, by * (7 if control else 1)))
            else:
                self.walk(7 * by)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.trees:
            at = self.trees.index(self.tree) if self.tree in self.trees else 0
            self.tree = self.trees[min(max(at + (1 if key == Qt.Key.Key_Down else -1), 0), len(self.trees) - 1)]
            self.take("")
            self._into_sight()
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self.walk(-30 if key == Qt.Key.Key_PageUp else 30)
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_T):
            self.show_span(
                Span(
                    span_of("weeks", self.session.today).first
                    if self.near
                    else self.session.today - timedelta(days=int(self.span.days * 0.09)),
                    self.span.days,
                ),
                close=self.near,
            )
        elif key == Qt.Key.Key_G and self.tree in self.trees:
            tasks = [m.task for m in self.row(self.tree).marks if m.task]
            if tasks:
                at = tasks.index(self.task) if self.task in tasks else -1
                self.take(tasks[(at + 1) % len(tasks)] or "")
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.tree:
            self.opened.emit(self.tree)
        elif key == Qt.Key.Key_Escape:
            self.take("")
        else:
            super().keyPressEvent(event)

    def _laid_day(self) -> date | None:
        """The day the task in hand is laid for; none where it is no job."""
        marks = self.row(self.tree).marks if self.tree in self.trees else ()
        return next((m.day or m.first for m in marks if m.task == self.task and m.look == "work"), None)
