"""The solver's answer: looks against roots and water; each point opens as a design. The best four stand below it."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from kesh.advice.design.search import Design, Solution
from kesh.advice.design.space import KINDS, SIDES
from kesh.desk.workshop import chart_span
from kesh.ui.paint.marks import words
from kesh.ui.paint.paths import path_of
from kesh.ui.paint.pot_painter import draw_pot, hatch
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

FOUR_PX = 74
NEAR_PX = 9
MOST_FIGURES = 6


class SolverView(QWidget):
    """Arrows walk the curve, Enter opens the point in hand, a click does both."""

    opened = pyqtSignal(object)
    asked = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.solution: Solution | None = None
        self.at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(200, 150)
        self.setMouseTracking(True)
        self.setAccessibleName("Trade-off of looks against roots and water")

    def show_solution(self, solution: Solution | None) -> None:
        """Another answer, or none yet."""
        if solution is self.solution:
            return
        self.solution, self.at = solution, 0
        told = "not asked yet" if solution is None else f"{len(solution.designs)} designs that nothing beats"
        self.setAccessibleDescription(told)
        self.update()

    @property
    def design(self) -> Design | None:
        """The point in hand."""
        s = self.solution
        return s.designs[self.at] if s is not None and s.designs else None

    def chart(self) -> QRectF:
        """Where the chart lies."""
        return QRectF(52, 46, self.width() - 74.0, self.height() - 46 - 40 - FOUR_PX)

    def _spans(self) -> tuple[float, float, float]:
        s = self.solution
        return chart_span([(d.away, d.margin) for d in s.designs] if s else [])

    def spot(self, away: float, margin: float) -> QPointF:
        """A pair of figures in px."""
        box, (right, low, high) = self.chart(), self._spans()
        return QPointF(
            box.left() + away / right * box.width(), box.bottom() - (margin - low) / (high - low) * box.height()
        )

    def paintEvent(self, event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t, s = self._session.theme, self.solution
        painter.fillRect(self.rect(), t.color("sheet"))
        painter.setFont(fonts.section())
        painter.setPen(t.color("ink"))
        painter.drawText(QPointF(16, 24), "Solver")
        wide = painter.fontMetrics().horizontalAdvance("Solver")
        if s is None:
            words(painter, t, "not asked yet", 26 + wide, 23, "quiet", font=fonts.text(13))
            self._empty(painter, t)
            return
        told = f"{s.tried:,} pots tried, {s.obeying:,} obey every limit".replace(",", "\u202f")
        words(painter, t, told, 26 + wide, 23, "quiet", font=fonts.text(13))
        if not s.designs:
            self._relax(painter, t, s)
            return
        self._axes(painter, t)
        self._cloud(painter, t, s)
        self._curve(painter, t, s)
        self._four(painter, t, s)

    def _empty(self, painter: QPainter, t: Theme) -> None:
        """What the chart will show, and how to get it."""
        box = self.chart()
        painter.setPen(QPen(t.color("edge"), 1.2))
        painter.drawLine(QLineF(box.bottomLeft(), box.topLeft()))
        painter.drawLine(QLineF(box.bottomLeft(), box.bottomRight()))
        pen = QPen(t.color("edge"), 1.4)
        pen.setDashPattern([5, 4])
        painter.setPen(pen)
        wide, high = box.width() - 28, box.height() - 60
        left, low = box.left() + 14, box.bottom() - 26
        curve = [QPointF(left + s * wide, low - (1 - (1 - s) ** 2.4) * high) for s in np.linspace(0, 1, 24).tolist()]
        painter.drawPolyline(QPolygonF(curve))
        words(painter, t, "more room for roots and water", box.left() + 8, box.top() + 8, "quiet")
        words(painter, t, "farther from the school", box.right(), box.bottom() + 16, "quiet", align="right")
        x, y, bold = box.center().x(), box.center().y(), fonts.text(14, bold=True)
        words(painter, t, "F5 or a click tries 100,000 pots", x, y, font=bold, align="center", ground="sheet")
        told = "Each point is a pot that opens as a design."
        words(painter, t, told, x, y + 20, "quiet", align="center", ground="sheet")

    def _relax(self, painter: QPainter, t: Theme, s: Solution) -> None:
        u = self._session.units
        words(painter, t, "No pot obeys every limit. What would have to give:", 16, 62, font=fonts.text(14, bold=True))
        for k, one in enumerate(s.relax[:6]):
            by = (
                u.mm(one.by)
                if one.unit == "mm"
                else f"{one.by:.0%}"
                if one.unit == "share"
                else u.wind(one.by)
                if one.unit == "m/s"
                else f"{one.by:.1f} {one.unit}"
            )
            words(painter, t, f"{one.words}: by {by}", 32, 88 + 22 * k, "oxide", font=fonts.text(14))
        words(
            painter,
            t,
            "Change the brief, the mix or the season, then ask again (F5).",
            16,
            100 + 22 * min(len(s.relax), 6),
            "quiet",
        )

    def _axes(self, painter: QPainter, t: Theme) -> None:
        box, (right, low, high) = self.chart(), self._spans()
        nought = self.spot(0, 0).y()
        if nought < box.bottom():
            zone = QRectF(box.left(), nought, box.width(), box.bottom() - nought)
            ring = [
                [zone.left(), -zone.top()],
                [zone.right(), -zone.top()],
                [zone.right(), -zone.bottom()],
                [zone.left(), -zone.bottom()],
            ]
            path = path_of(np.array(ring))
            painter.fillPath(path, t.color("oxide_tint", 0.5))
            hatch(painter, path, t.color("oxide_tint"), 1.0, gap_px=6)
            words(
                painter,
                t,
                "short of ease",
                box.right() - 6,
                zone.bottom() - 6,
                "oxide",
                font=fonts.text(12, bold=True),
                align="right",
            )
        small = fonts.text(12)
        for k in np.arange(np.ceil(low * 5) / 5, high, 0.2):
            y = self.spot(0, float(k)).y()
            painter.setPen(QPen(t.color("rule"), 1))
            painter.drawLine(QLineF(box.left(), y, box.right(), y))
            words(
                painter,
                t,
                f"{k:+.0%}".replace("-", "−") if abs(k) > 1e-9 else "0",
                box.left() - 6,
                y + 4,
                "quiet",
                font=small,
                align="right",
            )
        step = next((n for n in (0.5, 1.0, 2.0, 5.0) if right / n <= MOST_FIGURES), 10.0)
        for k in np.arange(0, right + 1e-9, step):
            x = self.spot(float(k), 0).x()
            words(painter, t, f"{k:.1f}", x, box.bottom() + 14, "quiet", font=small, align="center")
        painter.setPen(QPen(t.color("edge"), 1.2))
        painter.drawLine(QLineF(box.bottomLeft(), box.topLeft()))
        painter.drawLine(QLineF(box.bottomLeft(), box.bottomRight()))
        words(painter, t, "margin for roots, water and stability", box.left() + 4, box.top() - 5, font=small)
        name = self._session.case().school.name.lower()
        words(
            painter, t, f"half widths off the {name} bands", box.right(), box.bottom() + 28, font=small, align="right"
        )

    def _sign(self, painter: QPainter, kind: str, at: QPointF, r: float) -> None:
        if kind == "rectangle":
            painter.drawRect(QRectF(at.x() - r, at.y() - 0.7 * r, 2 * r, 1.4 * r))
        elif kind == "round":
            painter.drawEllipse(at, 0.8 * r, 0.8 * r)
        elif kind in SIDES:
            turn = (np.arange(SIDES[kind]) + 0.5) * 2 * np.pi / SIDES[kind] - np.pi / 2
            painter.drawPolygon(QPolygonF([at + QPointF(r * float(np.cos(a)), r * float(np.sin(a))) for a in turn]))
        elif kind == "lobed":
            for dx, dy in ((-0.5, 0), (0.5, 0), (0, -0.4), (0, 0.4)):
                painter.drawEllipse(at + QPointF(dx * r, dy * r), 0.55 * r, 0.45 * r)
        else:
            painter.drawEllipse(at, r, 0.65 * r)

    def _cloud(self, painter: QPainter, t: Theme, s: Solution) -> None:
        box = self.chart()
        painter.save()
        painter.setClipRect(box)
        painter.setBrush(t.color("sheet"))
        painter.setPen(QPen(t.color("edge"), 0.8))
        rows = np.flatnonzero(s.cloud_obeys)[:160]
        for i in rows.tolist():
            self._sign(painter, KINDS[int(s.cloud_kind[i])].split()[0], self.spot(*s.cloud[i].tolist()), 3.2)
        painter.restore()

    def _curve(self, painter: QPainter, t: Theme, s: Solution) -> None:
        spots = [self.spot(d.away, d.margin) for d in s.designs]
        painter.save()
        painter.setClipRect(self.chart().adjusted(-8, -8, 8, 8))
        painter.setPen(QPen(t.color("moss"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(spots))
        painter.setBrush(t.color("moss"))
        for design, at in zip(s.designs, spots, strict=True):
            self._sign(painter, KINDS[design.kind].split()[0], at, 4.6)
        if self.design is not None:
            at = spots[self.at]
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(t.color("ink"), 1.8))
            painter.drawEllipse(at, 9, 9)
        painter.restore()
        if self.design is not None:
            at = spots[self.at]
            right = at.x() < self.chart().center().x()
            u, pot = self._session.units, self.design.pot
            text = f"{KINDS[self.design.kind].split()[0]} {u.figure(pot.length_mm)} × {u.figure(pot.width_mm)} × {u.mm(pot.height_mm)}"
            words(painter, t, text, at.x() + (14 if right else -14), at.y() + 16, font=fonts.text(13, bold=True),
                  align="left" if right else "right", ground="sheet")  # fmt: skip

    def four(self) -> list[tuple[Design, QRectF]]:
        """The best four with the place of each."""
        s = self.solution
        if s is None or not s.best:
            return []
        each = (self.width() - 24.0) / len(s.best)
        return [(d, QRectF(12 + k * each, self.height() - FOUR_PX - 4, each, FOUR_PX)) for k, d in enumerate(s.best)]

    def _four(self, painter: QPainter, t: Theme, s: Solution) -> None:
        places = self.four()
        scale = min(
            (places[0][1].width() - 14) / max(d.pot.length_mm for d, _ in places),
            34 / max(d.pot.height_mm for d, _ in places),
        )
        for design, box in places:
            foot = QPointF(box.center().x(), box.bottom() - 30)
            painter.setPen(QPen(t.color("edge"), 1))
            painter.drawLine(QLineF(box.left() + 4, foot.y(), box.right() - 4, foot.y()))
            painter.save()
            painter.translate(foot)
            painter.scale(scale, scale)
            draw_pot(painter, design.pot.changed(state="shelf"), t, scale, shadow=False)
            painter.restore()
            hand = design is self.design
            figure = f"{self._session.units.figure(design.pot.length_mm)} × {self._session.units.figure(design.pot.height_mm)}"
            words(
                painter, t, figure, box.center().x(), box.bottom() - 15, font=fonts.text(12, bold=hand), align="center"
            )
            told = f"{design.away:.1f} off, {design.margin:+.0%}".replace("-", "−")
            words(painter, t, told, box.center().x(), box.bottom() - 2, "quiet", font=fonts.text(11), align="center")

    def near(self, at: QPointF) -> Design | None:
        """The design under a point: on the curve or among the four."""
        s = self.solution
        if s is None:
            return None
        for design, box in self.four():
            if box.contains(at):
                return design
        spots = [(QLineF(self.spot(d.away, d.margin), at).length(), d) for d in s.designs]
        best = min(spots, key=lambda x: x[0], default=None)
        return best[1] if best is not None and best[0] <= NEAR_PX else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        found = self.near(event.position())
        if found is not None and self.solution is not None:
            self.at = self.solution.designs.index(found)
            self.update()
            self.opened.emit(found)
        elif self.solution is None:
            self.asked.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        s = self.solution
        if event is None:
            return
        if s is not None and s.designs and event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.at = (self.at + (1 if event.key() == Qt.Key.Key_Right else -1)) % len(s.designs)
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.design is not None:
            self.opened.emit(self.design)
        else:
            super().keyPressEvent(event)
