"""This week as a table: what is done when, with its hours, soil and whether it is done. Rows are tasks; a click ticks one."""

from datetime import date, timedelta

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.advice.season.book import Book, source_of
from kesh.advice.season.kinds import kind_of
from kesh.advice.season.weekends import Job, saturday_of
from kesh.model import Task
from kesh.science.season.season import day_words
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.paint.small_tree import draw_small_tree
from kesh.ui.session import Session
from kesh.ui.theme import fonts

ROW_PX, HEAD_PX, FOOT_PX, MOST = 40, 30, 26, 4
Line = tuple[Task, date, Job | None]


class WeekTable(QWidget):
    """`ticked` is sent with a task that is done, `picked` with the one in hand."""

    ticked = pyqtSignal(str)
    picked = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__()
        self.session, self.gallery = session, gallery
        self.book: Book | None = None
        self.lines: list[Line] = []
        self.more = 0
        self.at, self.task = 0, ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("This week")
        gallery.ready.connect(self.update)

    def show_week(self, book: Book, jobs: list[Job]) -> None:
        """The jobs of this week, and what is asked now."""
        self.book = book
        week = saturday_of(book.today)
        lines: list[Line] = [(j.task, j.day, j) for j in jobs if saturday_of(j.day) == week or j.day < book.today]
        have = {t.id for t, _, _ in lines}
        lines += [(t, book.today, None) for t in book.asked() if t.id not in have]
        have = {t.id for t, _, _ in lines}
        # what the user wrote down for these days stands here, whether it takes time or not
        lines += [
            (t, max(t.from_ or book.today, book.today), None)
            for t in book.open_tasks(book.today, week)
            if t.id not in have and source_of(t) == "own"
        ]
        lines.sort(key=lambda row: (row[1], row[0].tree))
        self.more, self.lines = max(len(lines) - MOST, 0), lines[:MOST]
        self.at = min(self.at, max(len(self.lines) - 1, 0))
        self.setFixedHeight(self.high())
        self.setAccessibleDescription(
            "; ".join(f"{book.c.trees[t.tree].name}: {kind_of(t.kind).words}" for t, _, _ in self.lines)
        )
        self.update()

    def high(self) -> int:
        """As many rows as there are, a few at most."""
        return fonts.scaled(HEAD_PX) + max(len(self.lines), 1) * fonts.scaled(ROW_PX) + fonts.scaled(FOOT_PX)

    def _box(self, n: int) -> QRectF:
        return QRectF(0, fonts.scaled(HEAD_PX) + n * fonts.scaled(ROW_PX), self.width(), fonts.scaled(ROW_PX))

    def tick_box(self, n: int) -> QRectF:
        """Where a row is ticked."""
        box = self._box(n)
        return QRectF(box.right() - 40, box.center().y() - 8, 16, 16)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, t = QPainter(self), self.session.theme
        p.fillRect(self.rect(), t.color("sheet"))
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        book, wide = self.book, float(self.width())
        if book is None:
            return
        head = fonts.scaled(HEAD_PX)
        p.setFont(fonts.section())
        p.setPen(t.color("ink"))
        p.drawText(QPointF(14, head - 9), "This week")
        monday = book.today - timedelta(days=book.today.weekday())
        words(
            p,
            t,
            f"{day_words(monday)} to {day_words(monday + timedelta(days=6))}",
            220,
            head - 9,
            "quiet",
            font=fonts.text(13),
        )
        for told, x, align in (
            ("day", wide - 330, "left"),
            ("hours", wide - 190, "right"),
            ("mix, litres", wide - 95, "right"),
            ("done", wide - 20, "right"),
        ):
            words(p, t, told, x, head - 9, "quiet", font=fonts.text(12), align=align)
        p.setPen(QPen(t.color("edge"), 1))
        p.drawLine(QLineF(8, head - 2.5, wide - 8, head - 2.5))
        for n, line in enumerate(self.lines):
            self._row(p, n, line, book)
        if not self.lines:
            words(
                p,
                t,
                "Nothing has to be done this week, and no sign is asked.",
                220,
                self._box(0).center().y() + 4,
                "quiet",
                font=fonts.text(14),
            )
        self._sum(p, wide)
        if self.hasFocus():
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(t.color("indigo"), 2))
            box = self._box(self.at) if self.lines else QRectF(self.rect())
            p.drawRect(box.adjusted(1, 1, -2, -2))

    def _row(self, p: QPainter, n: int, line: Line, book: Book) -> None:
        task, day, job = line
        t, box, tree = self.session.theme, self._box(n), book.c.trees[task.tree]
        if task.id == self.task:
            p.fillRect(box, t.color("moss_tint", 0.6))
        planting = book.now.get(task.tree)
        pot = book.c.pots.get(planting.pot) if planting is not None else None
        p.save()
        p.setClipRect(QRectF(0, box.top(), 210, box.height()))
        draw_small_tree(
            p,
            t,
            self.gallery,
            tree,
            book.species(tree),
            pot,
            planting,
            QRectF(4, box.top(), 60, box.height()),
            px_mm=0.04,
            line_px=40,
            below_px=5,
        )
        p.restore()
        y = box.top() + box.height() * 0.42
        words(p, t, tree.name, 68, y, font=fonts.book(15))
        late = task.to is not None and task.to < book.today
        kind = kind_of(task.kind)
        metrics = QFontMetricsF(fonts.text(14, bold=True))
        room = self.width() - 330 - 226
        into = book.c.pots.get(task.pot or "") if task.kind == "repot" else None
        here = planting is not None and into is not None and planting.pot == into.id
        told = f"{kind.words} {'in' if here else 'into'} {into.name}" if into is not None else kind.words
        words(p, t, metrics.elidedText(told, Qt.TextElideMode.ElideRight, room), 220, y, font=fonts.text(14, bold=True))
        why = task.why or task.sign if job is not None else task.sign or task.why
        under = (
            f"was to be done by {day_words(task.to)}"
            if late and task.to is not None
            else f"look: {why}"
            if job is None
            else why
        )
        small = QFontMetricsF(fonts.text(13))
        words(
            p,
            t,
            small.elidedText(under, Qt.TextElideMode.ElideRight, room),
            220,
            box.top() + box.height() * 0.82,
            "oxide" if late else "quiet",
            font=fonts.text(13),
        )
        words(p, t, f"{day:%a} {day.day}" if job is not None else "asked", self.width() - 330, y, font=fonts.text(14))
        if job is None:
            status_mark(p, t, "watch", self.width() - 32, box.center().y(), 11)
        else:
            self._figures(p, box, job, y)
            tick = self.tick_box(n)
            p.setPen(QPen(t.color("edge"), 1.2))
            p.setBrush(t.color("field"))
            p.drawRect(tick)
        p.setPen(QPen(t.color("rule"), 1))
        p.drawLine(QLineF(8, box.bottom() - 0.5, self.width() - 8, box.bottom() - 0.5))

    def _figures(self, p: QPainter, box: QRectF, job: Job, y: float) -> None:
        t, right = self.session.theme, self.width() - 190.0
        words(p, t, f"{job.hours:.1f}", right, y, font=fonts.text(14, bold=True), align="right")
        most = 52.0
        p.fillRect(
            QRectF(
                right - min(job.hours / 4, 1) * most, box.top() + box.height() * 0.64, min(job.hours / 4, 1) * most, 5
            ),
            t.color("moss_fill"),
        )
        if job.soil_l is not None:
            words(p, t, f"{job.soil_l:.1f}", self.width() - 95, y, font=fonts.text(14, bold=True), align="right")
            p.fillRect(
                QRectF(
                    self.width() - 95 - min(job.soil_l / 10, 1) * most,
                    box.top() + box.height() * 0.64,
                    min(job.soil_l / 10, 1) * most,
                    5,
                ),
                t.color("soil"),
            )

    def _sum(self, p: QPainter, wide: float) -> None:
        t, y = self.session.theme, self.height() - 9.0
        hours = sum(j.hours for _, _, j in self.lines if j is not None)
        litres = sum(j.soil_l or 0.0 for _, _, j in self.lines if j is not None)
        words(
            p,
            t,
            "In all" if not self.more else f"In all of these; {self.more} more in the chart",
            220,
            y,
            font=fonts.text(13),
        )
        words(p, t, f"{hours:.1f} h", wide - 190, y, font=fonts.text(13, bold=True), align="right")
        words(p, t, f"{litres:.1f} l", wide - 95, y, font=fonts.text(13, bold=True), align="right")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for n, (task, _, job) in enumerate(self.lines):
            if not self._box(n).contains(event.position()):
                continue
            self.at = n
            if job is not None and self.tick_box(n).adjusted(-6, -8, 6, 8).contains(event.position()):
                self.ticked.emit(task.id)
            else:
                self.picked.emit(task.id)
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.lines:
            self.at = min(max(self.at + (1 if event.key() == Qt.Key.Key_Down else -1), 0), len(self.lines) - 1)
            self.picked.emit(self.lines[self.at][0].id)
        elif event.key() == Qt.Key.Key_Space and self.lines:
            self.ticked.emit(self.lines[self.at][0].id)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.lines:
            self.picked.emit(self.lines[self.at][0].id)
        else:
            super().keyPressEvent(event)
        self.update()
