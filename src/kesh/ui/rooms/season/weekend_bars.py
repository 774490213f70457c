"""The coming weekends as bars of hours against the line of what the user gives; the one that asks too much is hatched above it."""

from collections.abc import Sequence
from datetime import date

from PyQt6.QtCore import QLineF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.advice.season.weekends import Weekend
from kesh.science.season.season import MONTHS
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.session import Session
from kesh.ui.theme import fonts

HIGH_PX, FOOT_PX = 164, 50


class WeekendBars(QWidget):
    """`wanted` is sent with the Saturday of a bar that was clicked."""

    wanted = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.weeks: Sequence[Weekend] = ()
        self.task = ""
        self.setFixedHeight(fonts.scaled(HIGH_PX))
        self.setAccessibleName("Hours of the coming weekends")

    def show_weeks(self, weeks: Sequence[Weekend]) -> None:
        """Eight weekends at most."""
        self.weeks = tuple(weeks)[:8]
        self.setAccessibleDescription(", ".join(f"{w.date:%d %b}: {w.hours:.1f} hours" for w in self.weeks))
        self.update()

    def show_task(self, task: str) -> None:
        """The job in hand is filled darker."""
        self.task = task
        self.update()

    def refit(self) -> None:
        """Follow the text size."""
        self.setFixedHeight(fonts.scaled(HIGH_PX))

    def _bar(self, n: int) -> QRectF:
        wide = self.width() / max(len(self.weeks), 1)
        return QRectF(n * wide + wide * 0.15, 22, wide * 0.7, self.height() - 22 - fonts.scaled(FOOT_PX))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, t = QPainter(self), self._session.theme
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.weeks:
            return
        gives = self.weeks[0].gives_hours
        most = max(gives * 1.15, *(w.hours for w in self.weeks), 1.0)
        whole = self._bar(0)
        line = whole.bottom() - whole.height() * gives / most
        p.setPen(QPen(t.color("ochre"), 1.2))
        p.drawLine(QLineF(0, line, self.width(), line))
        for n, week in enumerate(self.weeks):
            self._week(p, n, week, most, line)
        words(p, t, f"you give {gives:g} h", self.width() - 2, line - 4, "ochre", align="right", ground="panel")
        p.setPen(QPen(t.color("ink"), 1.2))
        p.drawLine(QLineF(0, whole.bottom(), self.width(), whole.bottom()))

    def _week(self, p: QPainter, n: int, week: Weekend, most: float, line: float) -> None:
        t, bar = self._session.theme, self._bar(n)
        y = bar.bottom()
        for job in week.jobs:
            high = bar.height() * job.hours / most
            box = QRectF(bar.left(), y - high, bar.width(), high)
            y -= high
            p.setPen(QPen(t.color("moss"), 1))
            p.setBrush(t.color("moss_fill" if job.task.id == self.task else "moss_tint"))
            p.drawRect(box)
        if y < line - 0.5:
            over = QPainterPath()
            over.addRect(QRectF(bar.left(), y, bar.width(), line - y))
            p.fillPath(over, t.color("oxide_tint"))
            p.save()
            p.setClipPath(over)
            hatch(p, over, t.color("oxide"), 1.0, gap_px=4)
            p.restore()
        too_many = week.over_hours > 0.05
        words(p, t, f"{week.hours:.1f}" if week.hours else "0", bar.center().x(), y - 4, "oxide" if too_many else "ink",
              font=fonts.text(12, bold=bool(week.hours)), align="center", ground="panel" if abs(y - 10 - line) < 12 else None)  # fmt: skip
        day = week.date
        below = bar.bottom() + fonts.scaled(14)
        words(p, t, str(day.day), bar.center().x(), below, font=fonts.text(12), align="center")
        if week.soil_l >= 0.05:
            words(
                p,
                t,
                f"{week.soil_l:.0f} l" if week.soil_l >= 10 else f"{week.soil_l:.1f} l",
                bar.center().x(),
                below + fonts.scaled(28),
                "quiet",
                font=fonts.text(11),
                align="center",
            )
        if n == 0 or day.month != self.weeks[n - 1].date.month:
            words(
                p,
                t,
                MONTHS[day.month - 1],
                bar.center().x(),
                below + fonts.scaled(14),
                "quiet",
                font=fonts.text(12),
                align="center",
            )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        for n, week in enumerate(self.weeks):
            if self._bar(n).adjusted(-4, -20, 4, 40).contains(event.position()):
                self.wanted.emit(week.date)

    def week_of(self, day: date) -> Weekend | None:
        """The weekend of a Saturday."""
        return next((w for w in self.weeks if w.date == day), None)
