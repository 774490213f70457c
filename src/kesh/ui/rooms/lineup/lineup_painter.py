"""Paint for the line-up: what is written under a pot, and pots laid over each other as outlines."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from kesh.advice.water.short import PotShort
from kesh.base.units import Units
from kesh.desk.lineup import Bar, Column, kind_words, ordinal, size_words
from kesh.ui.paint.answer_marks import answer_mark
from kesh.ui.paint.marks import band_bar, words
from kesh.ui.paint.pot_painter import figure_for
from kesh.ui.paint.tree_painter import polygon
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE, Theme

OUTLINE_ROLES = ("oxide", "indigo", "ochre", "moss", "ink")
DASHES: tuple[list[float], ...] = ([6, 3], [2, 2], [9, 3, 2, 3], [4, 5], [1, 2])
Spanned = list[tuple[Bar, tuple[float, float]]]


def column_text(
    painter: QPainter, t: Theme, u: Units, column: Column, box: QRectF, y: float, bars: Spanned, *, in_hand: bool, chosen: bool,
    year: PotShort | None = None,
) -> None:  # fmt: skip
    """Name, place, sizes, bars in their spans, verdict and its reason, from y downward."""
    pot = column.pot
    left, right = box.left() + 9, box.right() - 9
    name = fonts.book(16, bold=in_hand)
    place = ordinal(column.place)
    words(painter, t, place, right, y, "quiet", font=fonts.book(14, italic=True), align="right")
    room = right - left - QFontMetricsF(fonts.book(14, italic=True)).horizontalAdvance(place) - 8
    words(painter, t, QFontMetricsF(name).elidedText(pot.name, Qt.TextElideMode.ElideRight, room), left, y, font=name)
    step = fonts.scaled
    words(painter, t, size_words(pot, u), left, y + step(19), "ink", font=fonts.text(14, bold=True))
    kind = QFontMetricsF(fonts.text(13)).elidedText(kind_words(pot), Qt.TextElideMode.ElideRight, right - left)
    words(painter, t, kind, left, y + step(36), "quiet", font=fonts.text(13))
    y += step(54)
    bold = fonts.text(13, bold=True)
    for bar, span in bars:
        value = "……" if bar.value is None else u.mm(bar.value) if bar.unit else f"{bar.value:.2f}"
        words(painter, t, bar.words, left, y, "quiet", font=fonts.text(13))
        words(painter, t, value, right, y, "ink" if bar.inside else "oxide", font=bold, align="right")
        track = QRectF(left, y + step(7), right - left, 12)
        band_bar(painter, t, track, bar.low, bar.high, bar.value, span)
        y += step(31)
    y += step(6)
    if chosen:
        words(painter, t, "chosen", right, y - step(80), "moss", font=bold, align="right")
    y = answer_lines(painter, t, column, left, right, y, box.bottom())
    more = column.beside()
    if more and y < box.bottom() - step(12):
        painter.setFont(fonts.text(12))
        painter.setPen(t.color("quiet"))
        painter.drawText(QRectF(left, y - step(4), right - left, box.bottom() - y), Qt.TextFlag.TextWordWrap, more)
    if year is not None:
        rows = ((year.hurt, STATUS_ROLE[year.summer]), (year.frost, STATUS_ROLE[year.winter]))
        room = int((box.bottom() - step(4) - y) / step(15))
        for n, (told, role) in enumerate(rows[: max(room, 0)]):
            line = box.bottom() - step(6) - (min(room, 2) - 1 - n) * step(15)
            words(painter, t, f"{told[:1].upper()}{told[1:]}", left, line, role, font=fonts.text(12))


def answer_lines(
    painter: QPainter, t: Theme, column: Column, left: float, right: float, y: float, bottom: float
) -> float:
    """The three answers, each with its sign and its few words, in as many lines as they take; returns where they end."""
    step, size = fonts.scaled, fonts.scaled(15)
    font = fonts.text(13)
    metrics = QFontMetricsF(font)
    for n, ((question, answer), told) in enumerate(zip(column.entry.answers.each(), column.entry.told, strict=True)):
        if y > bottom - step(8):
            break
        answer_mark(painter, t, question, answer.status, left + size / 2, y - step(4), size)
        role = "ink" if answer.status == "fits" else STATUS_ROLE[answer.status]
        # the answers that follow keep a line each
        lines = int((bottom - y + metrics.ascent() - (2 - n) * step(4)) / metrics.lineSpacing())
        most = min(max(lines - (2 - n), 1), 3)
        room = QRectF(
            left + size + step(7), y - metrics.ascent(), right - left - size - step(7), most * metrics.lineSpacing()
        )
        painter.setFont(font)
        painter.setPen(t.color(role))
        text = _that_fits(told[:1].upper() + told[1:], metrics, room)
        lines = round(_taken(text, metrics, room.width()) / metrics.lineSpacing())
        painter.drawText(room, Qt.TextFlag.TextWordWrap, text)
        y += lines * metrics.lineSpacing() + step(4)
    return y


def _taken(text: str, metrics: QFontMetricsF, width: float) -> float:
    return metrics.boundingRect(QRectF(0, 0, width, 1e4), int(Qt.TextFlag.TextWordWrap), text).height()


def _that_fits(text: str, metrics: QFontMetricsF, room: QRectF) -> str:
    """As many of the parts between semicolons as have room: half a part would say something else."""
    parts = text.split("; ")
    while len(parts) > 1 and _taken("; ".join(parts), metrics, room.width()) > room.height() + 1:
        parts.pop()
    told = "; ".join(parts)
    if _taken(told, metrics, room.width()) <= room.height() + 1:
        return told
    return metrics.elidedText(told, Qt.TextElideMode.ElideRight, room.width())


def laid_over(
    painter: QPainter, t: Theme, u: Units, column: Column, others: list[Column], foot: QPointF, px_mm: float
) -> None:
    """Other pots as outlines over the one in full, rims level and trunks in line, with a key at the left."""
    y = 48.0
    for i, other in enumerate(others):
        role, dashes = OUTLINE_ROLES[i % 5], DASHES[i % 5]
        painter.save()
        shift = (column.planting.offset_x_mm - other.planting.offset_x_mm) * px_mm
        painter.translate(foot.x() + shift, foot.y() + (other.pot.height_mm - column.pot.height_mm) * px_mm)
        painter.scale(px_mm, px_mm)
        pen = QPen(t.color(role), 1.5 / px_mm)
        pen.setDashPattern(dashes)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolygon(polygon(figure_for(other.pot).elevation))
        painter.restore()
        sample = QPen(t.color(role), 1.5)
        sample.setDashPattern(dashes)
        painter.setPen(sample)
        painter.drawLine(QLineF(64, y - 4, 94, y - 4))
        words(painter, t, f"{other.pot.name}, {size_words(other.pot, u)}", 102, y, font=fonts.text(13))
        y += 19
    told = f"{column.pot.name} in full, rims level; the others as outlines"
    words(painter, t, told, 64, 28, "quiet", font=fonts.book(14, italic=True))
