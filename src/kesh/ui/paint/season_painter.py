"""How the year over the bench is painted: months, frost, days away, and each tree's bars."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.season.book import Book
from kesh.base.units import Units
from kesh.desk.season import UPPER, Mark, RowState, Span
from kesh.science.season.days import later
from kesh.science.season.season import day_words
from kesh.science.season.windows import Year
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

BAR, BAR_TOP, LOW_TOP, LOW_BAR = 14, 7, 38, 9
# spans up to so many days show weeks instead of months
NEAR_DAYS = 60
FILL = {
    "window": ("panel", "edge"), "work": ("moss_tint", "moss"), "care": ("indigo_tint", "indigo_fill"), "feed": ("ochre_tint", "ochre_fill"),
    "cover": ("panel", "edge"),
}  # fmt: skip


@dataclass(frozen=True)
class Plot:
    """Where time lies on the sheet: its left edge and width in px, and the span."""

    left: float
    width: float
    span: Span

    def x(self, day: date) -> float:
        """The left edge of a day."""
        return self.left + self.width * self.span.share(day)

    def day(self, x: float) -> date:
        """The day under a place."""
        return self.span.day_at((x - self.left) / max(self.width, 1.0))

    def box(self, first: date, last: date, top: float, high: float) -> QRectF:
        """From the first morning to the last evening, within the plot."""
        a = max(self.x(first), self.left)
        b = min(self.x(later(last, 1)), self.left + self.width)
        return QRectF(a, top, max(b - a, 2.0), high)


def draw_head(p: QPainter, t: Theme, book: Book, plot: Plot, year: Year | None, high: float) -> None:
    """Months over the chart, and the strip of frost below them."""
    if plot.span.days <= NEAR_DAYS:
        _weeks(p, t, book, plot, high)
    for day, name in plot.span.months() if plot.span.days > NEAR_DAYS else ():
        x = plot.x(day)
        bold = (day.year, day.month) == (book.today.year, book.today.month)
        after = (day.replace(day=1) + timedelta(days=32)).replace(day=1)
        room = min(plot.x(after), plot.left + plot.width) - x
        if room > fonts.width(fonts.text(13, bold=bold), name) + 6:
            words(p, t, name, x + 5, high - fonts.scaled(26), font=fonts.text(13, bold=bold))
    if year is None:
        words(p, t, "No climate entered: windows by the usual months", plot.left + 4, high - fonts.scaled(7), "quiet")
        return
    for first, last, told in frosts(year, plot.span):
        box = plot.box(first, last, high - fonts.scaled(17), fonts.scaled(13))
        p.fillRect(box, t.color("indigo_tint"))
        if told:
            wide = fonts.width(fonts.text(12), told)
            inside = wide + 8 < box.width()
            x = box.left() + 5 if inside else box.right() + 5
            if x + wide < plot.left + plot.width:
                words(p, t, told, x, high - fonts.scaled(6.5), "indigo", font=fonts.text(12))


def _weeks(p: QPainter, t: Theme, book: Book, plot: Plot, high: float) -> None:
    """Mondays by their date, in the close view."""
    day = plot.span.first - timedelta(days=plot.span.first.weekday())
    while day <= plot.span.last:
        if day >= plot.span.first:
            here = day <= book.today < day + timedelta(days=7)
            words(p, t, day_words(day), plot.x(day) + 4, high - fonts.scaled(26), font=fonts.text(13, bold=here))
        day += timedelta(days=7)


def frosts(year: Year, span: Span) -> list[tuple[date, date, str]]:
    """The times in sight in which night frost is likely, with the words for their end or beginning."""
    if year.last_frost is None and year.first_frost is None:
        return []
    found = []
    for cycle in range(span.first.year - 1, span.last.year + 2):
        last = year.in_cycle(year.last_frost, cycle) if year.last_frost is not None else None
        before = year.in_cycle(year.first_frost, cycle - 1) if year.first_frost is not None else None
        first = before or (last - timedelta(days=60) if last is not None else None)
        if first is None or last is None or last < span.first or first > span.last or last < first:
            continue
        told = (
            f"frost likely until {day_words(last)}"
            if first < span.first or last <= span.last
            else f"frost likely from {day_words(first)}"
        )
        found.append((first, last, told))
    return found


def draw_ground(p: QPainter, t: Theme, book: Book, plot: Plot, top: float, bottom: float) -> None:
    """Month bands, days away, today's line."""
    if plot.span.days <= NEAR_DAYS:
        for n in range(plot.span.days):
            day = plot.span.first + timedelta(days=n)
            if day.weekday() == 5:
                p.fillRect(plot.box(day, day + timedelta(days=1), top, bottom - top), t.color("panel", 0.8))
    for n, (day, _) in enumerate(plot.span.months() if plot.span.days > NEAR_DAYS else ()):
        after = (day.replace(day=1) + timedelta(days=32)).replace(day=1)
        if n % 2:
            p.fillRect(plot.box(day, after - timedelta(days=1), top, bottom - top), t.color("panel", 0.55))
    for gone in book.habits.away:
        if gone.to < plot.span.first or gone.from_ > plot.span.last:
            continue
        path = QPainterPath()
        path.addRect(plot.box(gone.from_, gone.to, top, bottom - top))
        p.save()
        p.setClipPath(path)
        hatch(p, path, t.color("edge", 0.5), 1.0, gap_px=6)
        p.restore()


def draw_today(p: QPainter, t: Theme, book: Book, plot: Plot, top: float, bottom: float) -> None:
    """The line of today over everything."""
    if not plot.span.first <= book.today <= plot.span.last:
        return
    x = plot.x(book.today)
    p.setPen(QPen(t.color("ink"), 1.4))
    p.drawLine(QLineF(x, top, x, bottom))
    p.setBrush(t.color("ink"))
    p.setPen(Qt.PenStyle.NoPen)
    p.drawPolygon(QPolygonF([QPointF(x - 4.5, top - 7), QPointF(x + 4.5, top - 7), QPointF(x, top)]))


def draw_row(
    p: QPainter,
    t: Theme,
    row: RowState,
    plot: Plot,
    top: float,
    high: float,
    in_hand: str | None,
    drafted: date | None,
    today: date,
) -> None:
    """All marks of one row; words stand where they hit nothing."""
    k = high / 58
    taken: list[QRectF] = []
    boxes = [(m, mark_box(m, plot, top, k)) for m in row.marks]
    taken += [box for _, box in boxes]
    for mark, box in boxes:
        hand = mark.task is not None and mark.task == in_hand
        _bar(p, t, mark, box, hand=hand)
        _name(p, t, mark, box, plot, taken, k, bold=mark.open_now and mark.look == "work")
        day = drafted if hand and drafted is not None else mark.day
        if mark.look == "work" and day is not None and plot.span.first <= day <= plot.span.last:
            _day_mark(
                p, t, plot.x(day) + plot.width / plot.span.days / 2, box, hand=hand, moved=hand and drafted is not None
            )
        if mark.look == "work" and mark.note:
            y = box.bottom() + 13 * k
            told = f"{mark.note}: now" if mark.open_now else mark.note
            font = fonts.text(12, bold=mark.open_now)
            x, line = box.left(), plot.x(today)
            if x - 2 < line < x + fonts.width(font, told) + 2:
                # today's line would run through the words
                x = line + 6
            where = QRectF(x, y - 10, fonts.width(font, told), 13)
            if where.right() < plot.left + plot.width and not any(where.intersects(o) for o in taken):
                words(p, t, told, where.left(), y, "moss" if mark.open_now else "ink", font=font)
                taken.append(where)


def mark_box(mark: Mark, plot: Plot, top: float, k: float) -> QRectF:
    """Where a mark lies: a bar in its lane, a diamond or an hourglass about its day."""
    y = top + (BAR_TOP if mark.lane == UPPER else LOW_TOP) * k
    if mark.look in ("look", "ends"):
        x = plot.x(mark.first) + 1
        return QRectF(x - 6, y - 2 * k, 12, 13 * k)
    return plot.box(mark.first, mark.last, y, (BAR if mark.lane == UPPER else LOW_BAR) * k)


def _bar(p: QPainter, t: Theme, mark: Mark, box: QRectF, *, hand: bool) -> None:
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    if mark.look == "look":
        c, r = box.center(), 5.0
        p.setPen(QPen(t.color("ink"), 1.3))
        p.setBrush(t.color("ochre_tint" if mark.open_now else "sheet"))
        p.drawPolygon(QPolygonF([c + QPointF(0, -r), c + QPointF(r, 0), c + QPointF(0, r), c + QPointF(-r, 0)]))
    elif mark.look == "ends":
        c = box.center()
        p.setPen(QPen(t.color("ochre"), 1.2))
        p.setBrush(t.color("ochre_fill"))
        p.drawPolygon(QPolygonF([c + QPointF(-5, -6), c + QPointF(5, -6), c]))
        p.setBrush(t.color("ochre_tint"))
        p.drawPolygon(QPolygonF([c + QPointF(-5, 6), c + QPointF(5, 6), c]))
    else:
        fill, edge = FILL[mark.look]
        p.setPen(QPen(t.color(edge), 1.1))
        p.setBrush(t.color("moss_fill" if mark.look == "work" and mark.open_now else fill))
        if mark.look == "window":
            pen = QPen(t.color("edge"), 1)
            pen.setDashPattern([3, 3])
            p.setPen(pen)
            p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(box)
        if mark.look in ("care", "cover"):
            path = QPainterPath()
            path.addRect(box)
            p.setClipPath(path)
            hatch(p, path, t.color("indigo_fill" if mark.look == "care" else "edge", 0.7), 1.0, gap_px=6)
    if hand:
        p.setClipping(False)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(t.color("indigo"), 2))
        p.drawRect(box.adjusted(-3, -3, 3, 3))
    p.restore()


def _name(
    p: QPainter, t: Theme, mark: Mark, box: QRectF, plot: Plot, taken: list[QRectF], k: float, *, bold: bool
) -> None:
    """The words beside a mark, inside a wide bar, or left out where they would hit something."""
    if mark.look == "work" and mark.note and mark.words == "repot":
        return
    role = {"care": "indigo", "feed": "ochre", "ends": "ochre", "window": "quiet", "cover": "quiet"}.get(
        mark.look, "ink"
    )
    font = fonts.text(12, bold=bold)
    wide, base = fonts.width(font, mark.words), box.center().y() + QFontMetricsF(font).ascent() / 2 - 1.5
    if mark.look in ("care", "work", "window") and wide + 8 < box.width() and box.height() > 11:
        if mark.look == "care":
            p.fillRect(QRectF(box.left() + 3, box.top() + 1, wide + 4, box.height() - 2), t.color("indigo_tint"))
        words(
            p,
            t,
            mark.words,
            box.left() + 5,
            base,
            "sheet" if mark.look == "work" and mark.open_now else role,
            font=font,
        )
        return
    where = QRectF(box.right() + 4, box.top(), wide, box.height())
    if where.right() > plot.left + plot.width or any(where.intersects(o) for o in taken):
        return
    words(p, t, mark.words, where.left(), base, role, font=font)
    taken.append(where)


def _day_mark(p: QPainter, t: Theme, x: float, box: QRectF, *, hand: bool, moved: bool) -> None:
    """The day a job is laid for: a plumb mark over its window; oxide where it was pulled out of it."""
    inside = box.left() - 1 <= x <= box.right() + 1
    color = t.color("ink" if inside else "oxide")
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(QPen(color, 1.8 if hand else 1.3))
    p.drawLine(QLineF(x, box.top() - 1, x, box.bottom() + 1))
    p.setBrush(t.color("indigo") if moved else color)
    p.setPen(Qt.PenStyle.NoPen)
    p.drawPolygon(QPolygonF([QPointF(x - 4, box.top() - 5), QPointF(x + 4, box.top() - 5), QPointF(x, box.top() + 1)]))
    p.restore()


def draw_nights(p: QPainter, t: Theme, year: Year, plot: Plot, box: QRectF, coldest: Sequence[float], u: Units) -> None:
    """The usual coldest night through the span: below freezing hatched."""
    low, high = min(*coldest, 0.0) - 1, max(*coldest, 1.0) + 1
    span = plot.span

    def y(c: float) -> float:
        return box.bottom() - 4 - (box.height() - fonts.scaled(18)) * (c - low) / (high - low)

    line, frost = QPainterPath(), QPainterPath()
    for n in range(0, span.days, max(span.days // 120, 1)):
        day = span.first + timedelta(days=n)
        c, x = year.night_c[year.day(day)], plot.x(day)
        (line.moveTo if n == 0 else line.lineTo)(x, y(c))
        (frost.moveTo if n == 0 else frost.lineTo)(x, y(min(c, 0.0)))
    frost.lineTo(plot.left + plot.width, y(0))
    frost.lineTo(plot.left, y(0))
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setClipPath(frost)
    hatch(p, frost, t.color("indigo_fill"), 1.0, gap_px=5)
    p.setClipping(False)
    p.setPen(QPen(t.color("edge"), 1))
    p.drawLine(QLineF(plot.left, y(0), plot.left + plot.width, y(0)))
    p.setPen(QPen(t.color("indigo"), 1.2))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(line)
    p.restore()
    for value, at in ((min(coldest), coldest.index(min(coldest))), (max(coldest), coldest.index(max(coldest)))):
        x = min(
            max(plot.x(span.first + timedelta(days=at)), plot.left + fonts.scaled(16)),
            plot.left + plot.width - fonts.scaled(16),
        )
        words(p, t, u.celsius(value), x, y(value) - 4, "indigo", align="center", ground="sheet")
