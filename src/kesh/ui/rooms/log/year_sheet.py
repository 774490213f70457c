"""What follows for one tree, task by task along the year: when it runs, what ends it, which view it comes from."""

from datetime import date, timedelta

from PyQt6.QtCore import QLineF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen

from kesh.advice.season.asking import CLOSED
from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of
from kesh.desk.season import Look, Mark, RowState, Span
from kesh.model import Task
from kesh.science.season.season import day_words
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.paint.season_painter import Plot, draw_ground, draw_head, draw_row, draw_today
from kesh.ui.session import Session
from kesh.ui.theme import fonts

ROW_PX, HEAD_PX, LEFT_PX, DAYS = 34, 46, 250, 300
LOOKS: dict[str, Look] = {"work": "work", "care": "care", "feed": "feed", "cover": "cover", "look": "care"}


class YearSheet(SheetView):
    """`picked` is sent with a task."""

    picked = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.book: Book | None = None
        self.tasks: list[Task] = []
        self.task = ""
        self.first = 0
        self.setAccessibleName("What follows, task by task")

    def show_book(self, book: Book | None, tree: str, task: str) -> None:
        """Open tasks of a tree, those that run first; those that wait for a sign without a day last."""
        self.book, self.task = book, task
        rows = [t for t in book.tasks_of.get(tree, ()) if t.state not in CLOSED] if book is not None else []
        horizon = (book.today if book is not None else date.today()) + timedelta(days=DAYS)
        self.tasks = [t for t in rows if t.from_ is None or t.from_ <= horizon]
        self.tasks.sort(key=lambda t: (t.from_ is None, t.from_ or date.max, t.to or date.max))
        self.first = min(self.first, max(len(self.tasks) - self._fits(), 0))
        self.setAccessibleDescription("; ".join(kind_of(t.kind).words for t in self.tasks))
        self.update()

    def _fits(self) -> int:
        return max(int((self.height() - fonts.scaled(HEAD_PX) - 20) / fonts.scaled(ROW_PX)), 1)

    def _plot(self) -> Plot:
        assert self.book is not None
        left = fonts.scaled(LEFT_PX)
        return Plot(left, max(self.width() - left - 16, 60), Span(self.book.today - timedelta(days=30), DAYS + 30))

    def fit(self) -> None:
        """Nothing here has a scale in mm."""
        self.px_mm = 0.0
        self.update()

    def paint(self, painter: QPainter) -> None:
        book, t, p = self.book, self.session.theme, painter
        if book is None or not self.tasks:
            self.empty(
                p, "Nothing follows now. Aftercare stands here after a repotting; own tasks are added in Season."
            )
            return
        plot, head = self._plot(), fonts.scaled(HEAD_PX)
        shown = self.tasks[self.first : self.first + self._fits()]
        bottom = head + len(shown) * fonts.scaled(ROW_PX)
        draw_ground(p, t, book, plot, head, bottom)
        draw_head(p, t, book, plot, book.year(self.tasks[0].tree), head)
        p.setPen(QPen(t.color("edge"), 1))
        p.drawLine(QLineF(0, head - 0.5, self.width(), head - 0.5))
        for n, task in enumerate(shown):
            self._row(p, task, head + n * fonts.scaled(ROW_PX), plot)
        draw_today(p, t, book, plot, head, bottom)
        more = len(self.tasks) - len(shown)
        if more:
            words(p, t, f"{more} more; Up and Down walk them", 14, bottom + 16, "quiet")

    def _row(self, p: QPainter, task: Task, top: float, plot: Plot) -> None:
        book, t, high = self.book, self.session.theme, float(fonts.scaled(ROW_PX))
        assert book is not None
        kind, state = kind_of(task.kind), book.state(task)
        if task.id == self.task:
            p.fillRect(QRectF(0, top, self.width(), high), t.color("moss_tint", 0.6))
        mark = {"asked": "watch", "running": "fits", "extended": "watch"}.get(state, "unknown")
        status_mark(p, t, mark, 18, top + high / 2 - 7, 9)
        words(p, t, kind.words, 30, top + 14, font=fonts.text(14, bold=state in ("asked", "running", "extended")))
        days = f"{day_words(task.from_)} – {day_words(task.to)}" if task.from_ and task.to else "from its sign on"
        school = "" if task.school == "common" else f", {task.school}"
        told = QFontMetricsF(fonts.text(12)).elidedText(f"{days}{school}", Qt.TextElideMode.ElideRight, plot.left - 44)
        words(p, t, told, 30, top + high - 5, "quiet", font=fonts.text(12))
        if task.from_ is not None and task.to is not None and task.to >= plot.span.first:
            look = LOOKS[kind.sort]
            sign = QFontMetricsF(fonts.text(12)).elidedText(
                task.sign,
                Qt.TextElideMode.ElideRight,
                max(plot.left + plot.width - plot.x(min(task.to, plot.span.last)) - 8, 60),
            )
            row = RowState(
                task.tree,
                "",
                "",
                (
                    Mark(
                        task.from_, task.to, look, sign, 0, task.id, open_now=state in ("running", "asked", "extended")
                    ),
                ),
            )
            draw_row(p, t, row, plot, top + 2, high * 1.4, self.task or None, None, book.today)
        p.setPen(QPen(t.color("rule"), 1))
        p.drawLine(QLineF(8, top + high - 0.5, self.width() - 8, top + high - 0.5))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        if event is None:
            return
        n = int((event.position().y() - fonts.scaled(HEAD_PX)) // fonts.scaled(ROW_PX)) + self.first
        if event.position().y() >= fonts.scaled(HEAD_PX) and 0 <= n < len(self.tasks):
            self.picked.emit(self.tasks[n].id)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.book is None or not self.tasks:
            return
        plot = self._plot()
        if event.position().x() > plot.left:
            self.pointed.emit(f"Pointer {day_words(plot.day(event.position().x()))}")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.tasks:
            keys = [t.id for t in self.tasks]
            at = keys.index(self.task) if self.task in keys else -1
            at = min(max(at + (1 if event.key() == Qt.Key.Key_Down else -1), 0), len(keys) - 1)
            self.first = min(max(self.first, at - self._fits() + 1), at)
            self.picked.emit(keys[at])
            return
        super().keyPressEvent(event)
