"""Pots over the years ahead, drawn to one scale: the tree as large as it will be, in the pot of its time, with years, points and sums."""

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from kesh.advice.season.book import Book
from kesh.advice.season.pot_years import PotYears
from kesh.model import Planting
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import dimension, ruler, words
from kesh.ui.paint.scene import draw_planted
from kesh.ui.session import Session
from kesh.ui.theme import fonts


class AheadSheet(SheetView):
    """Draws a plan; it works nothing out."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.book: Book | None = None
        self.plan: PotYears | None = None
        self.told = ""
        self.setAccessibleName("Pots over the years ahead")

    def show_plan(self, book: Book | None, plan: PotYears | None, told: str) -> None:
        """A plan, or what is said instead of one."""
        self.book, self.plan, self.told = book, plan, told
        self.refit()
        self.update()

    def _wide(self, n: int) -> float:
        assert self.plan is not None
        first, _, pot = self.plan.stays()[n]
        m = self.plan.trees[first].measure
        return max(m.spread_mm or 300.0, pot.length_mm) + 40

    def fit(self) -> None:
        """One scale for all."""
        self._fitted = True
        if self.plan is not None:
            rows = self.plan.stays()
            wide = sum(self._wide(n) for n in range(len(rows)))
            tall = max((self.plan.trees[last].measure.height_mm or 300.0) + pot.height_mm for _, last, pot in rows)
            self.px_mm = max(
                min((self.width() - 130) / max(wide, 1), (self.height() * 0.62 - 60) / max(tall, 1), 1.2), 0.02
            )
        self.scaled.emit(self.px_mm)
        self.update()

    def paint(self, painter: QPainter) -> None:
        p, t = painter, self.session.theme
        if self.plan is None or self.book is None:
            self.empty(p, self.told or "No plan yet.")
            return
        ground, rows = self.height() * 0.62, self.plan.stays()
        words(
            p,
            t,
            "As large as it grows by what was seen and what is usual, one scale",
            14,
            20,
            "quiet",
            font=fonts.book(14, italic=True),
        )
        tall = max((self.plan.trees[last].measure.height_mm or 300.0) + pot.height_mm for _, last, pot in rows)
        ruler(p, t, 48, ground, self.px_mm, tall, unit=self.session.units.length)
        self.ground(p, 54, self.width() - 18, ground)
        room = self.width() - 120 - sum(self._wide(n) * self.px_mm for n in range(len(rows)))
        gap, x = max(room / max(len(rows), 1), 4.0), 84.0
        species = self.book.species(self.plan.trees[0])
        for n, (first, last, pot) in enumerate(rows):
            wide = self._wide(n) * self.px_mm
            middle = x + wide / 2
            tree = self.plan.trees[last if n == len(rows) - 1 else (first + last) // 2]
            planted = self.book.c.planting_of(tree.id, pot.id) or Planting(id="ahead", tree=tree.id, pot=pot.id)
            draw_planted(p, self.gallery, t, tree, species, pot, planted, QPointF(middle, ground), self.px_mm)
            half = pot.length_mm * self.px_mm / 2
            dimension(
                p,
                t,
                QPointF(middle - half, ground + 14),
                QPointF(middle + half, ground + 14),
                self.session.units.figure(pot.length_mm),
            )
            words(p, t, pot.name, middle, ground + fonts.scaled(32), font=fonts.text(14, bold=n == 0), align="center")
            years = (
                f"{self.plan.years[first]}" if first == last else f"{self.plan.years[first]} to {self.plan.years[last]}"
            )
            where = {"wish": ", wished for", "design": ", to be made", "ordered": ", on order"}.get(pot.state, "")
            words(
                p, t, f"{years}{where}", middle, ground + fonts.scaled(48), "quiet", font=fonts.text(13), align="center"
            )
            x += wide + gap
        self._bars(
            p,
            QRectF(
                84, ground + fonts.scaled(66), self.width() - 110, max(self.height() - ground - fonts.scaled(104), 40)
            ),
        )

    def _bars(self, p: QPainter, box: QRectF) -> None:
        """Points of every year, a stroke where it moves."""
        plan, t = self.plan, self.session.theme
        assert plan is not None
        wide = box.width() / len(plan.years)
        words(p, t, "Points", 12, box.top() + 12, font=fonts.text(13, bold=True))
        words(p, t, "of 100", 12, box.top() + 28, "quiet")
        for n, year in enumerate(plan.years):
            left, score = box.left() + n * wide, plan.scores[n]
            high = (box.height() - 16) * (score or 0.0) / 100
            bar = QRectF(left + wide * 0.12, box.bottom() - 16 - high, wide * 0.76, high)
            p.setPen(QPen(t.color("moss" if score is not None else "oxide"), 1))
            p.setBrush(t.color("moss_tint" if score is not None else "oxide_tint"))
            p.drawRect(bar)
            told = f"{score:.0f}" if score is not None else "no"
            words(
                p,
                t,
                told,
                bar.center().x(),
                bar.top() - 4,
                "ink" if score is not None else "oxide",
                font=fonts.text(12, bold=True),
                align="center",
            )
            words(p, t, str(year), bar.center().x(), box.bottom() - 2, "quiet", font=fonts.text(12), align="center")
            if n in plan.path.moves:
                p.setPen(QPen(t.color("indigo"), 1.6))
                p.drawLine(QLineF(left, box.top(), left, box.bottom() - 12))
                words(p, t, "moves", left + 4, box.top() + 10, "indigo", font=fonts.text(12))
