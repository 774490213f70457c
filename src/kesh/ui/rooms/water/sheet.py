"""The year drawn: how many days a full pot lasts by month, as a band of years; hours dry and too wet; waterings."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.rules.year import WET_FITS_DAYS
from kesh.desk.water import YearChart, days_words
from kesh.geometry.outline import Floats
from kesh.science.climate.year import LONGEST_GAP
from kesh.science.season.season import MONTHS
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import figure_for, hatch
from kesh.ui.paint.tree_painter import closed_path
from kesh.ui.rooms.water.year_strips import STRIP_PX, STRIPS, draw_away, draw_strips
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE

LEFT_PX, RIGHT_PX, TOP = 70, 182, 62.0
# days on the left, in a scale in which each step is as large as it is many times more
TICKS = (1, 2, 4, 7, 14, 30)
LEAST_DAYS = 0.6


class YearSheet(SheetView):
    """The pot in hand with its band, others of the line-up as lines; nothing of it is to scale, the small pots are."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.charts: tuple[YearChart, ...] = ()
        self.sentence, self.away, self.foot = "", "", 0.0
        self.setAccessibleName("The year in the pot: days it lasts, hours dry and too wet, by month")

    def show_charts(self, charts: tuple[YearChart, ...], sentence: str, away: str = "") -> None:
        """Show other years, the pot in hand first; or a sentence where there is none to show."""
        self.charts, self.sentence, self.away = charts, sentence, away
        told = "; ".join(f"{c.pot.name}: {c.distress_years} of {c.years} years hurt it" for c in charts)
        self.setAccessibleDescription(told or sentence)
        self.update()

    @property
    def _left(self) -> float:
        """Room at the left for the scale, as large as the text."""
        return float(fonts.scaled(LEFT_PX))

    @property
    def _right(self) -> float:
        """Room at the right for the pots."""
        return float(fonts.scaled(RIGHT_PX))

    def _x(self, month: float) -> float:
        return self._left + (month + 0.5) / 12 * (self.width() - self._left - self._right)

    def paint(self, painter: QPainter) -> None:
        if not self.charts:
            self.empty(painter, self.sentence or "Reckoning sixty years…")
            return
        # from the foot up: days away, months, strips; what is left is shared by the days and the hours
        away = fonts.scaled(44 + 30 * len(self.charts)) if self.away else fonts.scaled(24)
        low = self.height() - away - 12
        strips = fonts.scaled(STRIP_PX) * STRIPS
        self.foot = low - fonts.scaled(22)
        left = self.foot - strips - TOP - fonts.scaled(52)
        days, hours = 0.60 * left, 0.40 * left
        self._stripes(painter)
        self._days(painter, TOP, days)
        self._hours(painter, TOP + days + fonts.scaled(30), hours)
        box = QRectF(self._left, self.foot - strips, self.width() - self._left - self._right, strips)
        draw_strips(
            painter, self.charts[0], self.session.theme, box, self.width() - self._right + 14, self.session.units
        )
        self._pots(painter, TOP, days)
        painter.setPen(QPen(self.session.theme.color("rule"), 1))
        painter.drawLine(QLineF(16, low, self.width() - 16, low))
        draw_away(painter, self.charts, self.session.theme, QRectF(16, low + 4, self.width() - 32, away), self.away)

    def _stripes(self, painter: QPainter) -> None:
        """Months as stripes, their names at the foot."""
        t, wide = self.session.theme, (self.width() - self._left - self._right) / 12
        for m, name in enumerate(MONTHS):
            if m % 2:
                painter.fillRect(QRectF(self._left + m * wide, TOP, wide, self.foot - TOP), t.color("panel", 0.55))
            role = "ink" if m == self.charts[0].driest else "quiet"
            words(
                painter,
                t,
                name,
                self._x(m),
                self.foot + fonts.scaled(15),
                role,
                font=fonts.text(12, bold=role == "ink"),
                align="center",
            )

    def _days(self, painter: QPainter, top: float, tall: float) -> None:
        t, chart = self.session.theme, self.charts[0]
        words(
            painter,
            t,
            "Days a full pot lasts without rain",
            self._left,
            top - 18,
            "indigo",
            font=fonts.text(13, bold=True),
        )
        words(
            painter,
            t,
            "until it asks, in eight of ten years",
            self._left + fonts.scaled(232),
            top - 18,
            "quiet",
            font=fonts.text(12),
        )
        low, span = np.log(LEAST_DAYS), np.log(LONGEST_GAP) - np.log(LEAST_DAYS)

        def y(days: Floats | float) -> Floats:
            return np.asarray(top + tall * (1 - (np.log(np.maximum(days, LEAST_DAYS)) - low) / span))

        for tick in TICKS:
            at = float(y(tick))
            painter.setPen(QPen(t.color("ochre" if tick == 1 else "rule"), 1))
            painter.drawLine(QLineF(self._left, at, self.width() - self._right, at))
            words(painter, t, f"{tick}", self._left - 8, at + 4, "quiet", font=fonts.text(12), align="right")
        under = QRectF(self._left, float(y(1)), self.width() - self._left - self._right, top + tall - float(y(1)))
        painter.fillRect(under, t.color("ochre_fill", 0.16))
        words(
            painter,
            t,
            "under a day: look twice",
            self._left + 6,
            under.bottom() - 5,
            "ochre",
            font=fonts.text(12, bold=True),
        )
        x = np.array([self._x(m) for m in range(12)])
        band = np.vstack([np.column_stack([x, y(chart.gap_days[2])]), np.column_stack([x, y(chart.gap_days[0])])[::-1]])
        path = QPainterPath()
        path.addPolygon(QPolygonF([QPointF(a, b) for a, b in band.tolist()]))
        painter.fillPath(path, t.color("indigo_fill", 0.45))
        for n, one in reversed([*enumerate(self.charts)]):
            pen = QPen(t.color("indigo" if n == 0 else "ink"), 2.4 if n == 0 else 1.2)
            if n:
                pen.setDashPattern([6, 3] if n == 1 else [2, 3])
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolyline(QPolygonF([QPointF(a, b) for a, b in zip(x, y(one.gap_days[1]), strict=True)]))
        m = chart.driest
        spot = QPointF(float(x[m]), float(y(chart.gap_days[1][m])))
        painter.setPen(QPen(t.color("indigo"), 1.4))
        painter.setBrush(t.color("sheet"))
        painter.drawEllipse(spot, 4, 4)
        told = days_words(float(chart.gap_days[1][m]))
        words(
            painter,
            t,
            told,
            spot.x(),
            spot.y() - 12,
            "indigo",
            font=fonts.text(14, bold=True),
            align="center",
            ground="sheet",
        )

    def _hours(self, painter: QPainter, top: float, tall: float) -> None:
        """Hours a day with water due above the line, with too little air below it."""
        t, chart = self.session.theme, self.charts[0]
        ease, k = top + 0.34 * tall, tall / 36
        x = np.array([self._left, *(self._x(m) for m in range(12)), self.width() - self._right])

        def ring(values: Floats, sign: float) -> QPainterPath:
            # the year goes round: its ends meet between December and January
            turn = (values[0] + values[-1]) / 2
            y = ease + sign * k * np.array([turn, *values, turn])
            path = QPainterPath()
            path.addPolygon(
                QPolygonF(
                    [QPointF(x[0], ease), *(QPointF(a, b) for a, b in zip(x, y, strict=True)), QPointF(x[-1], ease)]
                )
            )
            path.closeSubpath()
            return path

        for values, sign, fill, line in (
            (chart.dry_hours, -1.0, "ochre_fill", "ochre"),
            (chart.wet_hours, 1.0, "indigo_fill", "indigo"),
        ):
            # one year in ten is worse than the pale band, a middling one has the hatched part
            painter.fillPath(ring(values[2], sign), t.color(fill, 0.25))
            path = ring(values[1], sign)
            painter.fillPath(path, t.color(fill, 0.45))
            hatch(painter, path, t.color(line), 1.0, angle_deg=40, gap_px=9)
            painter.setPen(QPen(t.color(line), 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)
        painter.setPen(QPen(t.color("moss"), 1.8))
        painter.drawLine(QLineF(self._left, ease, self.width() - self._right, ease))
        words(painter, t, "ease", self._left - 8, ease + 4, "moss", font=fonts.text(12, bold=True), align="right")
        words(painter, t, "24 h", self._left - 8, ease + 24 * k + 4, "quiet", font=fonts.text(12), align="right")
        words(
            painter,
            t,
            "Hours a day, middling year and nine of ten: water is due",
            self._left,
            top - 4,
            "ochre",
            font=fonts.text(12, bold=True),
            ground="sheet",
        )
        words(
            painter,
            t,
            "too little air",
            self._left + 6,
            ease + fonts.scaled(16),
            "indigo",
            font=fonts.text(12, bold=True),
            ground="sheet",
        )
        m, dry = int(chart.wet_hours[1].argmax()), int(chart.dry_hours[1].argmax())
        side = self.width() - self._right + 14
        words(
            painter,
            t,
            f"{MONTHS[dry]}: dry {chart.dry_hours[1][dry]:.1f} h a day",
            side,
            ease - 6,
            "ochre",
            font=fonts.text(12),
        )
        words(
            painter,
            t,
            f"{MONTHS[m]}: too wet {chart.wet_hours[1][m]:.0f} h a day",
            side,
            ease + fonts.scaled(16),
            "indigo",
            font=fonts.text(12),
        )
        if chart.rest_wet_days >= 1:
            role = {"fits": "quiet", "watch": "ochre", "no": "oxide"}[chart.winter]
            told = f"at rest {chart.rest_wet_days:.0f} days on end"
            words(painter, t, told, side, ease + fonts.scaled(33), role, font=fonts.text(12, bold=role != "quiet"))
            limit = f"up to {WET_FITS_DAYS:.0f} are usual"
            words(painter, t, limit, side, ease + fonts.scaled(49), "quiet", font=fonts.text(12))

    def _pots(self, painter: QPainter, top: float, room: float) -> None:
        """The pots to one scale at the right, each with its line, its days and the years that hurt it."""
        t, left = self.session.theme, self.width() - self._right + 14
        each, wide = room / max(len(self.charts), 3), 0.46 * self._right
        if each < fonts.scaled(48):
            self._pots_in_words(painter, left, top, each)
            return
        k = min(
            wide / max(c.pot.length_mm for c in self.charts),
            (each - fonts.scaled(26)) / max(c.pot.height_mm for c in self.charts),
        )
        for n, one in enumerate(self.charts):
            y, tall = top - 8 + n * each, one.pot.height_mm * k
            role = "indigo" if n == 0 else "ink"
            foot = y + each - fonts.scaled(26)
            painter.save()
            painter.translate(left + wide / 2, foot)
            painter.scale(k, k)
            painter.setPen(QPen(t.color("ink"), 0.8 / k))
            painter.setBrush(t.color("oxide_tint"))
            figure = figure_for(one.pot)
            for ring in (*figure.clay, *figure.feet):
                painter.drawPath(closed_path(ring))
            painter.restore()
            pen = QPen(t.color(role), 2.4 if n == 0 else 1.2)
            if n:
                pen.setDashPattern([6, 3] if n == 1 else [2, 3])
            painter.setPen(pen)
            painter.drawLine(QLineF(left, foot + 4, left + wide, foot + 4))
            words(painter, t, one.pot.name, left, foot + fonts.scaled(18), role, font=fonts.text(12, bold=n == 0))
            side, line = float(self.width() - 16), fonts.scaled(15)
            base = max(foot - tall / 2 - line / 2, y + line)
            words(
                painter,
                t,
                days_words(float(one.gap_days[1][one.driest])),
                side,
                base,
                role,
                font=fonts.text(13, bold=True),
                align="right",
            )
            words(
                painter, t, f"in {MONTHS[one.driest]}", side, base + line, "quiet", font=fonts.text(11), align="right"
            )
            told = f"hurt {one.distress_years} in {one.years}"
            words(
                painter,
                t,
                told,
                side,
                foot + fonts.scaled(18),
                STATUS_ROLE[one.status],
                font=fonts.text(12, bold=True),
                align="right",
            )

    def _pots_in_words(self, painter: QPainter, left: float, top: float, each: float) -> None:
        """Where there is no room to draw them."""
        t = self.session.theme
        for n, one in enumerate(self.charts):
            y = top + n * max(each, fonts.scaled(32))
            role = "indigo" if n == 0 else "ink"
            words(painter, t, one.pot.name, left, y, role, font=fonts.text(12, bold=n == 0))
            told = f"{days_words(float(one.gap_days[1][one.driest]))}, hurt {one.distress_years} in {one.years}"
            words(painter, t, told, left, y + fonts.scaled(15), STATUS_ROLE[one.status], font=fonts.text(12))
