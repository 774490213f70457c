"""A page of the work sheet and its tools: heads, paragraphs, boxes to tick."""

from dataclasses import dataclass
from datetime import date

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPdfWriter, QPen

from kesh.advice.planting.plan import PlantingPlan
from kesh.ui.paint.marks import words
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import LIGHT

EDGE, BODY = 52.0, 17.0


@dataclass
class Sheet:
    """The page in hand and its tools, in units of a quarter millimetre."""

    p: QPainter
    writer: QPdfWriter
    plan: PlantingPlan
    today: date
    wide: float
    high: float
    number: int = 1

    @property
    def room(self) -> float:
        """How wide the text may be."""
        return self.wide - 2 * EDGE

    @property
    def foot(self) -> float:
        """How far down it may go."""
        return self.high - EDGE - 18

    def turn(self) -> None:
        """The next page."""
        self.footer()
        self.writer.newPage()
        self.number += 1

    def footer(self) -> None:
        """Which tree, which day, which page."""
        told = f"{self.plan.a.case.tree.name} into {self.plan.a.pot.name}, {self.today:%-d %B %Y}"
        words(self.p, LIGHT, told, EDGE, self.high - EDGE + 6, "quiet", font=fonts.text(13))
        words(
            self.p,
            LIGHT,
            f"page {self.number}",
            self.wide - EDGE,
            self.high - EDGE + 6,
            "quiet",
            font=fonts.text(13),
            align="right",
        )

    def rule(self, text: str, x: float, y: float, width: float, note: str = "") -> float:
        """A head on a line, with a note at its right; returns where the text below begins."""
        self.p.setFont(fonts.book(22, bold=True))
        self.p.setPen(LIGHT.color("ink"))
        self.p.drawText(QPointF(x, y), text)
        if note:
            words(self.p, LIGHT, note, x + width, y, "quiet", font=fonts.text(14), align="right")
        self.p.setPen(QPen(LIGHT.color("edge"), 1.0))
        self.p.drawLine(QLineF(x, y + 7, x + width, y + 7))
        return y + 32

    def text(
        self, text: str, x: float, y: float, width: float, px: float = BODY, role: str = "ink", *, bold: bool = False
    ) -> float:
        """A paragraph with its first baseline at y; returns its height."""
        font = fonts.text(px, bold=bold)
        metrics = QFontMetricsF(font)
        box = metrics.boundingRect(QRectF(0, 0, width, 4000), Qt.TextFlag.TextWordWrap, text)
        self.p.setFont(font)
        self.p.setPen(LIGHT.color(role))
        self.p.drawText(QRectF(x, y - metrics.ascent(), width, box.height() + 3), Qt.TextFlag.TextWordWrap, text)
        return float(box.height())

    def tall(self, text: str, width: float, px: float = BODY, *, bold: bool = False) -> float:
        """How high a paragraph would be."""
        metrics = QFontMetricsF(fonts.text(px, bold=bold))
        return float(metrics.boundingRect(QRectF(0, 0, width, 4000), Qt.TextFlag.TextWordWrap, text).height())

    def box(self, x: float, y: float, side: float = 17.0) -> None:
        """A box to tick, its lower edge on the baseline."""
        self.p.setPen(QPen(LIGHT.color("ink"), 1.4))
        self.p.setBrush(Qt.BrushStyle.NoBrush)
        self.p.drawRect(QRectF(x, y - side + 2, side, side))
