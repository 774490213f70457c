"""Paint for the line-up: what is written under a pot, and pots laid over each other as outlines."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from kesh.advice.water.short import PotShort
from kesh.base.units import Units
from kesh.desk.lineup import Bar, Column, kind_words, ordinal, size_words
from kesh.ui.paint.marks import band_bar, status_mark, words
from kesh.ui.paint.pot_painter import figure_for
from kesh.ui.paint.tree_painter import polygon
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE, STATUS_WORD, Theme

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
        track = QRectF(left, y + step(6), right - left, 16)
        band_bar(painter, t, track, bar.low, bar.high, bar.value, span)
        y += step(33)
    y += 4
    status_mark(painter, t, column.verdict, left + 6, y - step(5), step(11))
    verdict, role = STATUS_WORD[column.verdict], STATUS_ROLE[column.verdict]
    words(painter, t, verdict, left + step(17), y, role, font=fonts.text(14, bold=True))
    if chosen:
        words(painter, t, "chosen", right, y, "moss", font=bold, align="right")
    painter.setFont(fonts.text(12))
    painter.setPen(t.color("ink"))
    rest = QRectF(left, y + step(5), right - left, max(0.0, box.bottom() - y - step(5)))
    painter.drawText(rest, Qt.TextFlag.TextWordWrap, column.reason())
    if year is not None:
        # the year stands at the foot, where there is room for it below the reason
        used = painter.boundingRect(rest, int(Qt.TextFlag.TextWordWrap), column.reason()).bottom()
        rows = ((year.often, "indigo"), (year.hurt, STATUS_ROLE[year.summer]), (year.frost, STATUS_ROLE[year.winter]))
        room = int((box.bottom() - step(4) - used) / step(15))
        for n, (told, role) in enumerate(rows[: max(room, 0)]):
            line = box.bottom() - step(6) - (min(room, 3) - 1 - n) * step(15)
            words(painter, t, f"{told[:1].upper()}{told[1:]}", left, line, role, font=fonts.text(12, bold=n == 0))


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
