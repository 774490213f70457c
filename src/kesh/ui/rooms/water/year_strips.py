"""Below the year's curves: rain, frost, nights at risk and the hot wall by month, and what helps while nobody is there."""

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from kesh.advice.rules.year import celsius
from kesh.base.units import Units
from kesh.desk.water import YearChart
from kesh.figure.line import Chance
from kesh.science.climate.weather import MONTH_DAYS
from kesh.ui.paint.marks import words
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

STRIP_PX, STRIPS = 23, 5
# helps that stand in the table of days away, in their order
AWAY_KEYS = ("as_is", "finer", "half", "sand", "both")


def draw_strips(painter: QPainter, chart: YearChart, theme: Theme, box: QRectF, words_left: float, u: Units) -> None:
    """Rain as strokes, frost as crosses, nights at risk, and hours behind the hot wall, month by month over the box's width."""
    t, high = theme, box.height() / STRIPS
    wide = box.width() / 12
    rows = (
        ("waterings", _watering_words(chart), "indigo"),
        ("rain", _rain_words(chart), "quiet"),
        ("frost", _frost_words(chart), "quiet"),
        ("at risk", _risk_words(chart), "oxide" if chart.cold is not None and not chart.cold.never and chart.cold.nights_a_year >= 0.2 else "quiet"),
        ("hot wall", _hot_words(chart), "ochre" if sum(chart.harm_hours) >= 5 else "quiet"),
    )  # fmt: skip
    for n, (name, told, role) in enumerate(rows):
        y = box.top() + n * high
        words(
            painter,
            t,
            name,
            box.left() - 8,
            y + high - 7,
            "quiet" if role == "quiet" else role,
            font=fonts.text(12),
            align="right",
        )
        words(painter, t, u.told(told), words_left, y + high - 7, role, font=fonts.text(12))
        painter.setPen(QPen(t.color("rule", 0.6), 1))
        painter.drawLine(QLineF(box.left(), y + high - 2, box.right(), y + high - 2))
    _waterings(painter, chart, theme, QRectF(box.left(), box.top(), box.width(), high))
    box = box.adjusted(0, high, 0, 0)
    for m in range(12):
        left, days = box.left() + m * wide, int(MONTH_DAYS[m])
        chance = Chance(11 + m, "sky")
        if chart.rain_mm:
            # one slanting stroke for each six millimetres
            painter.setPen(QPen(t.color("indigo_fill"), 1.1))
            for _ in range(round(chart.rain_mm[m] / 6)):
                x, y = left + chance.uniform(2, wide - 3), box.top() + chance.uniform(3, high - 12)
                painter.drawLine(QLineF(x + 2, y, x, y + 7))
        _crosses(
            painter,
            theme,
            chance,
            left,
            box.top() + high,
            wide,
            high,
            chart.frost_nights[m] if chart.frost_nights else 0.0,
        )
        if chart.risk_nights:
            painter.setPen(QPen(t.color("oxide"), 1.3))
            for _ in range(min(round(chart.risk_nights[m]), days)):
                x = left + chance.uniform(2, wide - 2)
                painter.drawLine(QLineF(x, box.top() + 2 * high + 4, x, box.top() + 3 * high - 5))
        if chart.hot_hours:
            most = max(*chart.hot_hours, 40.0)
            foot = box.top() + 4 * high - 2
            for hours, role in ((chart.hot_hours[m], "ochre_fill"), (chart.harm_hours[m], "oxide_fill")):
                tall = (high - 5) * hours / most
                painter.fillRect(QRectF(left + 0.18 * wide, foot - tall, 0.64 * wide, tall), t.color(role))


def _waterings(painter: QPainter, chart: YearChart, t: Theme, box: QRectF) -> None:
    """How often in each month: a bar from one year in ten to nine, the middling year's number over it."""
    wide, most = box.width() / 12, max(float(chart.waterings[2].max()), 1.0)
    for m in range(12):
        low, middle, high = (float(chart.waterings[k][m]) for k in range(3))
        x, y = box.left() + (m + 0.5) * wide, box.bottom() - 4
        if high < 0.5:
            continue
        painter.fillRect(QRectF(x - 0.38 * wide, y - 5, 0.76 * wide, 5), t.color("rule", 0.5))
        for value, alpha in ((high, 0.45), (low, 1.0)):
            painter.fillRect(
                QRectF(x - 0.38 * wide, y - 5, 0.76 * wide * value / most, 5), t.color("indigo_fill", alpha)
            )
        words(painter, t, f"{middle:.0f}", x, y - 7, "ink", font=fonts.text(11), align="center")


def _watering_words(chart: YearChart) -> str:
    return f"{chart.waterings_year:.0f} a year, {chart.busiest_week} in its busiest week"


def _crosses(
    painter: QPainter, t: Theme, chance: Chance, left: float, top: float, wide: float, high: float, nights: float
) -> None:
    """A small star for each night of frost."""
    painter.setPen(QPen(t.color("indigo"), 0.9))
    for _ in range(round(nights)):
        x, y = left + chance.uniform(4, wide - 4), top + chance.uniform(5, high - 7)
        for angle in (0.0, 1.05, 2.09):
            dx, dy = 2.6 * np.cos(angle), 2.6 * np.sin(angle)
            painter.drawLine(QLineF(x - dx, y - dy, x + dx, y + dy))


def _rain_words(chart: YearChart) -> str:
    return f"{sum(chart.rain_mm):.0f} mm a year" if chart.rain_mm else ""


def _frost_words(chart: YearChart) -> str:
    nights = sum(chart.frost_nights)
    return f"{nights:.0f} nights a year" if nights >= 0.5 else "no frost"


def _risk_words(chart: YearChart) -> str:
    if chart.cold is None:
        return "not known"
    if chart.cold.never:
        return "no night kills roots"
    return f"{celsius(chart.cold.night_c)} kills; {chart.cold.nights_a_year:.1f} a year"


def _hot_words(chart: YearChart) -> str:
    if not chart.hot_hours:
        return "not known"
    return f"{sum(chart.hot_hours):.0f} h over 35 °C, {sum(chart.harm_hours):.0f} over 40 °C"


def draw_away(painter: QPainter, charts: Sequence[YearChart], theme: Theme, box: QRectF, away: str) -> None:
    """Pots by what helps: one stroke for each year, red for those with distress while nobody waters."""
    t = theme
    words(painter, t, "Away", box.left(), box.top() + fonts.scaled(14), font=fonts.section())
    if not away:
        words(painter, t, "enter your first and last day: what would help is reckoned for every pot", box.left() + fonts.scaled(52),
              box.top() + fonts.scaled(14), "quiet", font=fonts.text(12))  # fmt: skip
        return
    words(painter, t, f"{away}: nobody waters; years of distress, one stroke each", box.left() + fonts.scaled(52), box.top() + fonts.scaled(14),
          "quiet", font=fonts.text(12))  # fmt: skip
    keys = [k for k in AWAY_KEYS if any(h.key == k for h in charts[0].helps)]
    name_wide = fonts.scaled(108)
    each = (box.width() - name_wide) / max(len(keys), 1)
    row_high = (box.height() - fonts.scaled(38)) / max(len(charts), 1)
    for c, key in enumerate(keys):
        told = next(h.words for h in charts[0].helps if h.key == key)
        words(
            painter,
            t,
            told,
            box.left() + name_wide + c * each,
            box.top() + fonts.scaled(32),
            "ink",
            font=fonts.text(12),
        )
    for n, chart in enumerate(charts):
        y = box.top() + fonts.scaled(38) + n * row_high
        painter.setPen(QPen(t.color("rule"), 1))
        painter.drawLine(QLineF(box.left(), y, box.right(), y))
        words(
            painter,
            t,
            chart.pot.name,
            box.left(),
            y + row_high / 2 + 5,
            "indigo" if n == 0 else "ink",
            font=fonts.text(12, bold=n == 0),
        )
        by_key = {h.key: h for h in chart.helps}
        best = min((by_key[k].away_years for k in keys if k in by_key), default=0)
        for c, key in enumerate(keys):
            if key not in by_key:
                continue
            hurt = by_key[key].away_years
            x = box.left() + name_wide + c * each
            role = "oxide" if hurt else "moss"
            words(painter, t, f"{hurt}", x, y + row_high / 2 + 1, role, font=fonts.text(13, bold=hurt == best))
            _strokes(painter, t, QPointF(x, y + row_high / 2 + 5), each - 16, hurt, chart.years)


def _strokes(painter: QPainter, t: Theme, at: QPointF, wide: float, hurt: int, years: int) -> None:
    step = wide / max(years, 1)
    for k in range(years):
        painter.setPen(QPen(t.color("oxide_fill") if k < hurt else t.color("rule"), max(step * 0.55, 0.7)))
        x = at.x() + (k + 0.5) * step
        painter.drawLine(QLineF(x, at.y(), x, at.y() + 7))
