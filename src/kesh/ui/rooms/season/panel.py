"""Beside the season: the coming weekends, the task in hand, what is short, what is to be said, and how the user lives."""

from collections.abc import Sequence
from datetime import date, timedelta

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.advice.assess import Finding
from kesh.advice.season.book import Book
from kesh.advice.season.season_findings import Said
from kesh.advice.season.supplies import Supply
from kesh.advice.season.weekends import Weekend
from kesh.science.season.season import day_words
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.rooms.season.habits_box import HabitsBox
from kesh.ui.rooms.season.own_task_box import OwnTaskBox
from kesh.ui.rooms.season.round_box import RoundBox
from kesh.ui.rooms.season.weekend_bars import WeekendBars
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, title
from kesh.ui.widgets.finding_list import FindingList
from kesh.ui.widgets.task_box import TaskBox

MOST_SUPPLIES = 8


class SupplyTable(QWidget):
    """Need against have, the shortest first."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.rows: Sequence[Supply] = ()

    def show_rows(self, rows: Sequence[Supply]) -> None:
        """The first few of them."""
        self.rows = tuple(rows)[:MOST_SUPPLIES]
        self.setFixedHeight(fonts.scaled(22) * (len(self.rows) + 1) if self.rows else 0)
        self.setAccessibleName("Stock")
        self.setAccessibleDescription("; ".join(f"{r.words}: need {r.need:.1f} {r.unit}" for r in self.rows))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, t, step, wide = QPainter(self), self._session.theme, fonts.scaled(22), float(self.width())
        for told, x in (("need", wide - 86), ("have", wide - 28)):
            words(p, t, told, x, step - 7, "quiet", font=fonts.text(12), align="right")
        metrics = QFontMetricsF(fonts.text(13))
        for n, row in enumerate(self.rows):
            y = (n + 1) * step
            status_mark(p, t, row.status, 8, y + step / 2 - 1, 10)
            shown = metrics.elidedText(row.words, Qt.TextElideMode.ElideRight, wide - 134)
            words(p, t, shown, 20, y + step - 7, font=fonts.text(13))
            words(p, t, _amount(row.need), wide - 86, y + step - 7, font=fonts.text(13), align="right")
            have = "not said" if row.have is None else _amount(row.have)
            words(p, t, have, wide - 28, y + step - 7, "quiet" if row.have is None else "oxide" if row.status == "no" else "ink",
                  font=fonts.text(13, bold=row.have is not None), align="right")  # fmt: skip
            words(p, t, row.unit, wide - 2, y + step - 7, "quiet", font=fonts.text(12), align="right")
            p.setPen(QPen(t.color("rule"), 1))
            p.drawLine(QRectF(0, y, wide, 0).topLeft(), QRectF(0, y, wide, 0).topRight())


def _amount(value: float) -> str:
    return f"{value:.0f}" if value >= 20 else f"{value:.1f}"


class SeasonPanel(Panel):
    """Reads what the face worked out; sends what the user says."""

    calendar = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.head = title("")
        self.column.addWidget(self.head)
        self.week_head, self.bars = SectionHead(session, "Coming weekends", "hours"), WeekendBars(session)
        self.in_hand, self.stock_head, self.stock = (
            TaskBox(session),
            SectionHead(session, "Stock"),
            SupplyTable(session),
        )
        self.stock_note = quiet("")
        self.findings = FindingList(session)
        self.own, self.round, self.habits = OwnTaskBox(session), RoundBox(session), HabitsBox(session)
        for made in (
            self.week_head,
            self.bars,
            self.in_hand,
            self.own,
            self.stock_head,
            self.stock,
            self.stock_note,
            self.findings,
            self.round,
            self.habits,
        ):
            self.column.addWidget(made)
        self.write = button("Write the calendar file", self.calendar.emit, main=True, tip="Ctrl+Alt+K")
        self.foot.addWidget(self.write)

    def show_weeks(self, book: Book, weeks: Sequence[Weekend]) -> None:
        """Hours at once; they are known before what each job needs."""
        self.bars.show_weeks(weeks)
        crowded = next((w for w in weeks if w.over_hours > 0.05), None)
        busy = next((w for w in weeks if w.hours > 0.05), None)
        if crowded is not None:
            self.head.setText(f"{_span(crowded.date)}: {crowded.over_hours:.1f} hours too many")
        elif busy is not None:
            self.head.setText(f"{_span(busy.date)}: {busy.hours:.1f} of {busy.gives_hours:g} hours")
        else:
            self.head.setText("Nothing to do for eight weeks" if book.c.trees else "No trees yet")
        self.week_head.setVisible(bool(book.c.trees))
        self.bars.setVisible(bool(book.c.trees))

    def show_stock(self, rows: Sequence[Supply] | None) -> None:
        """What the jobs of these weekends need; None while it is worked out."""
        self.stock.show_rows(rows or ())
        short = sum(1 for r in rows or () if r.status == "no")
        unsaid = sum(1 for r in rows or () if r.status == "unknown")
        self.stock_head.set_note("" if rows is None else f"{short} short" if short else "enough" if rows else "")
        more = max(len(rows or ()) - MOST_SUPPLIES, 0)
        told = "Working out what each pot takes …" if rows is None else ""
        if rows is not None and not rows:
            told = "No repotting in these weeks asks for anything."
        if more or unsaid:
            told = ", ".join(
                x
                for x in (
                    f"{more} more in the order list" if more else "",
                    f"of {unsaid} nobody said what there is" if unsaid else "",
                )
                if x
            )
            told = told[0].upper() + told[1:] + "."
        self.stock_note.setText(told)
        self.stock_note.setVisible(bool(told))

    def show_findings(self, said: Sequence[Said]) -> None:
        """What is to be said; a click or Enter goes to the remedy."""
        self.findings.show_findings(
            tuple(Finding(s.code, s.status, None, "", None, None, s.text, s.remedy, "the season's book") for s in said)
        )


def _span(saturday: date) -> str:
    sunday = saturday + timedelta(days=1)
    same = saturday.month == sunday.month
    return f"{saturday.day}–{day_words(sunday)}" if same else f"{day_words(saturday)} – {day_words(sunday)}"
