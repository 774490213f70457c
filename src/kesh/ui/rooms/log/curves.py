"""Height and trunk along time with what comes of them, and how full of roots the pots were."""

from collections.abc import Callable
from datetime import date, timedelta
from itertools import pairwise

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.season.life import Life, Series
from kesh.science.roots.filling import BOUND
from kesh.science.season.days import later
from kesh.science.season.growth_fit import CUT_BACK
from kesh.ui.paint.marks import words
from kesh.ui.session import Session
from kesh.ui.theme import fonts

# a measure below this share of the one before was cut back
CUT_SHARE = 1 - CUT_BACK


class Curves:
    """Draws between two heights of the sheet; `x` is where a day lies."""

    def __init__(self, session: Session, life: Life, x: Callable[[date], float], left: float, right: float) -> None:
        self.t, self.u, self.today = session.theme, session.units, session.today
        self.life, self.x, self.left, self.right = life, x, left, right

    def draw(self, p: QPainter, top: float, bottom: float) -> None:
        """Height and trunk above, roots in the pot below."""
        t = self.t
        high = bottom - top
        middle = top + high * 0.56
        p.setPen(QPen(t.color("rule"), 1))
        p.drawLine(QLineF(8, top, self.right, top))
        p.drawLine(QLineF(8, middle, self.right, middle))
        growths = (
            ("Height", self.life.heights, "moss", top + 8, high * 0.28),
            ("Trunk", self.life.trunks, "ink", top + high * 0.32, high * 0.20),
        )
        for name, series, role, y, tall in growths:
            self._growth(p, name, series, role, QRectF(self.left, y, self.right - self.left, tall))
        self._fill(p, QRectF(self.left, middle + 6, self.right - self.left, bottom - middle - 10))

    def _growth(self, p: QPainter, name: str, s: Series, role: str, box: QRectF) -> None:
        t, u = self.t, self.u
        words(p, t, name, 12, box.center().y() + 6, font=fonts.text(13, bold=True))
        words(
            p,
            t,
            u.length,
            12 + fonts.width(fonts.text(13, bold=True), name) + 5,
            box.center().y() + 6,
            "quiet",
            font=fonts.text(12),
        )
        if not s.points:
            words(p, t, "not measured", self.left + 6, box.center().y() + 6, "quiet")
            return
        ahead = s.ahead(2.0)
        most = max(*(v for _, v in s.points), ahead[0] if ahead is not None else 0.0, 1e-6) * 1.05

        def at(day: date, value: float) -> QPointF:
            return QPointF(self.x(day), box.bottom() - box.height() * value / most)

        p.setPen(QPen(t.color(role), 1.4))
        spots = [at(d, v) for d, v in s.points]
        for a, b in pairwise(spots):
            p.drawLine(QLineF(a, b))
        if ahead is not None and s.growth is not None:
            self._ahead(p, s, role, at)
        p.setBrush(t.color("sheet"))
        p.setPen(QPen(t.color(role), 1.2))
        for spot in spots:
            p.drawRect(QRectF(spot.x() - 2.5, spot.y() - 2.5, 5, 5))
        words(
            p,
            t,
            u.figure(s.points[0][1]),
            spots[0].x() - 5,
            spots[0].y() + 4,
            role,
            font=fonts.text(12),
            align="right",
            ground="sheet",
        )
        if len(spots) > 1:
            words(
                p,
                t,
                u.figure(s.points[-1][1]),
                spots[-1].x() - 4,
                spots[-1].y() - 6,
                role,
                font=fonts.text(13, bold=True),
                align="right",
            )
        for one, two in [pair for pair in pairwise(s.points) if pair[1][1] < CUT_SHARE * pair[0][1]][-1:]:
            told = f"cut back, {u.figure(one[1])} to {u.figure(two[1])}"
            words(p, t, told, at(*two).x() + 6, at(*two).y() + 13, "oxide", font=fonts.text(12))

    def _ahead(self, p: QPainter, s: Series, role: str, at: Callable[[date, float], QPointF]) -> None:
        t, u, growth = self.t, self.u, s.growth
        assert growth is not None
        last = s.points[-1][0]
        days = [later(last, 90 * n) for n in range(12)]
        line, low, high = QPolygonF(), [], []
        for day in days:
            years = (day - last).days / 365.25
            line.append(at(day, growth.at(years)))
            band = growth.band(years)
            if band is not None:
                low.append(at(day, band[0]))
                high.append(at(day, band[1]))
        if low:
            path = QPainterPath()
            path.addPolygon(QPolygonF([*low, *reversed(high)]))
            p.save()
            p.setClipRect(QRectF(self.left, 0, self.right - self.left, 10_000))
            p.fillPath(path, t.color("moss_tint"))
            p.restore()
        pen = QPen(t.color(role), 1.2)
        pen.setDashPattern([5, 4])
        p.setPen(pen)
        p.drawPolyline(line)
        year = self.today.year + 2
        years = (date(year, 6, 30) - last).days / 365.25
        band = growth.band(years)
        told = (
            f"{u.figure(band[0])}–{u.figure(band[1])} in {year}"
            if band is not None
            else f"about {u.figure(growth.at(years))} in {year}, {growth.n} measures"
        )
        end = at(days[-1], growth.at((days[-1] - last).days / 365.25))
        words(
            p, t, told, min(end.x(), self.right), end.y() + 15, role, font=fonts.text(12), align="right", ground="sheet"
        )

    def _fill(self, p: QPainter, box: QRectF) -> None:
        t, today = self.t, self.today
        words(p, t, "Roots", 12, box.center().y(), "indigo", font=fonts.text(13, bold=True))
        words(p, t, "fill the soil", 12, box.center().y() + 15, "quiet", font=fonts.text(12))

        def at(day: date, share: float) -> QPointF:
            return QPointF(self.x(day), box.bottom() - box.height() * min(share, 1.0))

        for first, last, curve, known in self.life.fillings:
            end = last or min(self.life.span[1], later(today, 900))
            days = [first + timedelta(days=n) for n in range(0, max((end - first).days, 1), 45)] + [end]
            past = [at(d, curve.at(d)) for d in days if d <= today]
            if past and not known:
                # what was left of the roots then nobody wrote down: no more than a guess
                pen = QPen(t.color("edge"), 1)
                pen.setDashPattern([3, 3])
                p.setPen(pen)
                p.drawPolyline(QPolygonF(past))
            elif past:
                area = QPainterPath(QPointF(past[0].x(), box.bottom()))
                for spot in past:
                    area.lineTo(spot)
                area.lineTo(past[-1].x(), box.bottom())
                p.fillPath(area, t.color("indigo_tint", 0.6))
                p.setPen(QPen(t.color("indigo"), 1.3))
                p.drawPolyline(QPolygonF(past))
            coming = [at(d, curve.at(d)) for d in days if d >= today]
            if last is None and coming:
                pen = QPen(t.color("indigo"), 1.2)
                pen.setDashPattern([5, 4])
                p.setPen(pen)
                p.drawPolyline(QPolygonF(coming))
            if last is None:
                self._bound(p, curve.reaches(), at)
        y = at(today, BOUND).y()
        pen = QPen(t.color("oxide"), 1)
        pen.setDashPattern([4, 3])
        p.setPen(pen)
        p.drawLine(QLineF(self.left, y, self.right, y))
        words(p, t, f"{BOUND:.0%} full", self.left - 6, y + 4, "oxide", font=fonts.text(11), align="right")
        if not self.life.fillings:
            told = "Not known: it needs the species, the crown and the day of a repotting"
            words(p, t, told, self.left + 8, box.bottom() - 8, "quiet", font=fonts.text(12))
        elif any(not known for _, _, _, known in self.life.fillings):
            told = "dashed: what was left of the roots then is assumed"
            if told:
                words(p, t, told, self.left + 6, box.bottom() - 4, "quiet", font=fonts.text(11), ground="sheet")

    def _bound(self, p: QPainter, day: date | None, at: Callable[[date, float], QPointF]) -> None:
        t = self.t
        if day is None or not self.life.span[0] <= day <= self.life.span[1]:
            return
        spot = at(day, BOUND)
        p.setPen(QPen(t.color("oxide"), 1.4))
        p.setBrush(t.color("sheet"))
        p.drawEllipse(spot, 4, 4)
        right = spot.x() + 110 < self.right
        words(
            p,
            t,
            f"{day:%B %Y}",
            spot.x() + (8 if right else -8),
            spot.y() + 15,
            "oxide",
            font=fonts.text(12, bold=True),
            align="left" if right else "right",
            ground="sheet",
        )
