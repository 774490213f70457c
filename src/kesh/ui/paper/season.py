"""The season on paper: this week as a list to tick, and the month as a calendar, A4."""

import calendar
from datetime import date, timedelta

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPdfWriter, QPen

from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of
from kesh.advice.season.supplies import supplies
from kesh.advice.season.weekends import Job, jobs, saturday_of
from kesh.model import Task
from kesh.science.season.season import day_words
from kesh.ui.paint.marks import words
from kesh.ui.paper.printing import DPI, EDGE, HIGH, UNIT_MM, WIDE, paper
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import LIGHT

ROW, SMALL = 46.0, 22.0


def week_pdf(book: Book) -> bytes:
    """This week: jobs by day with hours and mix, signs that are asked, what has to lie ready."""
    found: list[bytes] = []
    with paper(f"{book.c.name}: the week of {day_words(book.today)}", found) as (p, writer):
        _scale(p)
        monday = book.today - timedelta(days=book.today.weekday())
        y = _head(p, book, f"Week of {day_words(monday)} to {day_words(monday + timedelta(days=6))} {monday.year}")
        week = saturday_of(book.today)
        rows = [j for j in jobs(book, week + timedelta(days=1)) if saturday_of(j.day) == week or j.day < book.today]
        y = _section(
            p, y, "To do", f"{sum(j.hours for j in rows):.1f} h, {sum(j.soil_l or 0.0 for j in rows):.1f} l of mix"
        )
        for job in rows:
            y = _room(p, writer, y, ROW)
            y = _job(p, book, job, y)
        if not rows:
            y = _line(p, y, "Nothing this week.")
        asked = [t for t in book.asked() if t.id not in {j.task.id for j in rows}]
        y = _section(p, y + 12, "Signs to look for", str(len(asked)) if asked else "none")
        for task in asked:
            y = _room(p, writer, y, ROW)
            y = _ticked(p, y, f"{book.c.trees[task.tree].name}: {kind_of(task.kind).words}", task.sign or task.text, "")
        stock = supplies(book, rows)
        y = _section(
            p, y + 12, "Must lie ready", f"{sum(1 for s in stock if s.status == 'no')} short" if stock else "nothing"
        )
        for s in stock:
            y = _room(p, writer, y, SMALL + 4)
            have = (
                "not said what there is"
                if s.have is None
                else f"{s.have:.1f} {s.unit} there" + (f", {s.short:.1f} to get" if s.status == "no" else "")
            )
            y = _line(p, y, f"{s.words}: {s.need:.1f} {s.unit}; {have}")
        _foot(p, book)
    return found[0]


def month_pdf(book: Book, month: date) -> bytes:
    """One month as a calendar: jobs on their days, windows and care that begin or end."""
    found: list[bytes] = []
    first = month.replace(day=1)
    with paper(f"{book.c.name}: {first:%B %Y}", found) as (p, _):
        _scale(p)
        y = _head(p, book, f"{first:%B %Y}")
        weeks = calendar.Calendar(0).monthdatescalendar(first.year, first.month)
        wide, high = (WIDE - 2 * EDGE) / 7, (HIGH - y - 120) / len(weeks)
        names = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
        for n, name in enumerate(names):
            words(p, LIGHT, name, EDGE + n * wide + 6, y + 4, "quiet", font=fonts.text(13))
        y += 12
        laid = {j.task.id: j for j in jobs(book, weeks[-1][-1])}
        by_day = _by_day(book, weeks[0][0], weeks[-1][-1], laid)
        for row, week in enumerate(weeks):
            for n, day in enumerate(week):
                box = QRectF(EDGE + n * wide, y + row * high, wide, high)
                p.setPen(QPen(LIGHT.color("edge"), 0.8))
                p.setBrush(LIGHT.color("moss_tint", 0.5) if day == book.today else Qt.BrushStyle.NoBrush)
                p.drawRect(box)
                role = "ink" if day.month == first.month else "edge"
                words(
                    p,
                    LIGHT,
                    str(day.day),
                    box.left() + 6,
                    box.top() + 16,
                    role,
                    font=fonts.text(13, bold=day.weekday() >= 5),
                )
                _cell(p, by_day.get(day, []), box)
        _foot(p, book)
    return found[0]


def _by_day(book: Book, first: date, last: date, laid: dict[str, Job]) -> dict[date, list[tuple[str, str]]]:
    """What stands on each day: (words, colour)."""
    found: dict[date, list[tuple[str, str]]] = {}

    def put(day: date | None, told: str, role: str) -> None:
        if day is not None and first <= day <= last:
            found.setdefault(day, []).append((told, role))

    for task in book.open_tasks(first, last):
        name, kind = book.c.trees[task.tree].name, kind_of(task.kind)
        job = laid.get(task.id)
        if job is not None:
            put(job.day, f"{name}: {kind.words.lower()}, {job.hours:.1f} h", "ink")
        elif kind.sort in ("work", "look"):
            put(_start(task), f"{name}: {kind.short or kind.words.lower()}", "ink")
        else:
            put(task.from_, f"{name}: {kind.short} begins", "indigo")
            put(task.to, f"{name}: {kind.short} ends?", "indigo")
    return found


def _start(task: Task) -> date | None:
    return task.day or task.from_ or task.to


def _cell(p: QPainter, rows: list[tuple[str, str]], box: QRectF) -> None:
    """Name over words, as many as there is room for."""
    step, high = 13.0, 29.0
    fits = max(int((box.height() - 24) // high), 1)
    shown = rows if len(rows) <= fits else rows[: fits - 1]
    for n, (told, role) in enumerate(shown):
        name, _, what = told.partition(": ")
        y = box.top() + 31 + n * high
        for line, text, font in ((0, name, fonts.text(11, bold=True)), (1, what, fonts.text(11))):
            cut = QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, box.width() - 10)
            words(p, LIGHT, cut, box.left() + 5, y + line * step, role, font=font)
    if len(shown) < len(rows):
        words(
            p,
            LIGHT,
            f"and {len(rows) - len(shown)} more",
            box.left() + 5,
            box.top() + 31 + len(shown) * high,
            "quiet",
            font=fonts.text(11),
        )


def _scale(p: QPainter) -> None:
    p.scale(DPI / 25.4 * UNIT_MM, DPI / 25.4 * UNIT_MM)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)


def _head(p: QPainter, book: Book, told: str) -> float:
    words(p, LIGHT, told, EDGE, EDGE + 26, font=fonts.book(26))
    words(p, LIGHT, book.c.name, WIDE - EDGE, EDGE + 26, "quiet", font=fonts.book(16), align="right")
    return EDGE + 56


def _section(p: QPainter, y: float, told: str, note: str) -> float:
    p.setFont(fonts.section())
    p.setPen(LIGHT.color("ink"))
    p.drawText(QPointF(EDGE, y + 14), told)
    words(p, LIGHT, note, WIDE - EDGE, y + 14, "quiet", font=fonts.text(13), align="right")
    p.setPen(QPen(LIGHT.color("edge"), 1))
    p.drawLine(QLineF(EDGE, y + 20, WIDE - EDGE, y + 20))
    return y + 30


def _job(p: QPainter, book: Book, job: Job, y: float) -> float:
    pot = book.c.pots.get(job.task.pot or "")
    into = f" into {pot.name}" if pot is not None else ""
    mix = f", {job.soil_l:.1f} l" if job.soil_l is not None else ""
    return _ticked(
        p,
        y,
        f"{book.c.trees[job.task.tree].name}: {kind_of(job.task.kind).words}{into}",
        job.task.sign or job.task.why,
        f"{job.day:%a} {job.day.day}, {job.hours:.1f} h{mix}",
    )


def _ticked(p: QPainter, y: float, told: str, under: str, right: str) -> float:
    p.setPen(QPen(LIGHT.color("ink"), 1.2))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(QRectF(EDGE, y + 4, 16, 16))
    room = WIDE - 2 * EDGE - 30
    wide = fonts.width(fonts.text(14), right)
    words(
        p,
        LIGHT,
        QFontMetricsF(fonts.text(15, bold=True)).elidedText(told, Qt.TextElideMode.ElideRight, room - wide - 12),
        EDGE + 28,
        y + 15,
        font=fonts.text(15, bold=True),
    )
    words(p, LIGHT, right, WIDE - EDGE, y + 15, font=fonts.text(14), align="right")
    words(
        p,
        LIGHT,
        QFontMetricsF(fonts.text(13)).elidedText(under, Qt.TextElideMode.ElideRight, room),
        EDGE + 28,
        y + 33,
        "quiet",
        font=fonts.text(13),
    )
    return y + ROW


def _line(p: QPainter, y: float, told: str) -> float:
    words(p, LIGHT, told, EDGE, y + 14, font=fonts.text(14))
    return y + SMALL


def _room(p: QPainter, writer: QPdfWriter, y: float, need: float) -> float:
    """The height to go on at: on a new page where this one is full."""
    if y + need < HIGH - 70:
        return y
    writer.newPage()
    return EDGE


def _foot(p: QPainter, book: Book) -> None:
    told = f"Printed {book.today.isoformat()}. Days are starting points: the signs on the tree come first."
    words(p, LIGHT, told, EDGE, HIGH - 44, "quiet", font=fonts.text(12))
