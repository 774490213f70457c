"""The strip below the line-up: every other pot of the shelf, nearest first, each with the one thing that is wrong."""

from PyQt6.QtCore import QLineF, QPointF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from kesh.advice.rank import Ranked
from kesh.desk.lineup import LineupState, size_words
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.answer_marks import answer_marks
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import draw_pot
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE

EACH_PX, HEAD_PX, FOLDED_PX = 150, 28, 60


class HeldStrip:
    """Paints on the foot of a sheet and knows which pot lies under a point."""

    def __init__(self, sheet: SheetView) -> None:
        self._sheet = sheet
        self._first = 0
        self.states: frozenset[str] | None = None

    def turn(self, by: int) -> None:
        """Show pots further along."""
        self._first = max(0, self._first + by)
        self._sheet.update()

    def pot_at(self, point: QPointF, state: LineupState, height_px: float) -> str | None:
        """The pot under a point of the sheet."""
        if height_px < fonts.scaled(FOLDED_PX) or point.y() < self._sheet.height() - height_px + fonts.scaled(HEAD_PX):
            return None
        index = self._first + int((point.x() - 8) / fonts.scaled(EACH_PX))
        rest = state.held_back(self.states)
        return rest[index].pot.id if 0 <= index < len(rest) else None

    def paint(self, painter: QPainter, state: LineupState, height_px: float) -> None:
        """Head line and as many pots as fit; only the head line when folded."""
        t, wide = self._sheet.session.theme, self._sheet.width()
        y, right = self._sheet.height() - height_px, wide - 14.0
        painter.setPen(QPen(t.color("edge"), 1.2))
        painter.drawLine(QLineF(14, y, right, y))
        painter.setFont(fonts.section())
        painter.setPen(t.color("ink"))
        painter.drawText(QPointF(14, y + fonts.scaled(22)), "Held back")
        head = QFontMetricsF(fonts.section()).horizontalAdvance("Held back") + 26
        rest = state.held_back(self.states)
        many = len(state.ranking) - len(state.columns)
        used = words(
            painter, t, f"{many} other pots, nearest first", head, y + fonts.scaled(22), "quiet", font=fonts.text(13)
        )
        how = "Click one, or drag it up; the wheel shows more"
        if head + used + QFontMetricsF(fonts.text(13)).horizontalAdvance(how) + 30 < wide:
            words(painter, t, how, right, y + fonts.scaled(22), "quiet", font=fonts.text(13), align="right")
        if height_px < fonts.scaled(FOLDED_PX):
            return
        fit = int((wide - 20) / fonts.scaled(EACH_PX))
        self._first = max(0, min(self._first, max(0, len(rest) - fit)))
        for i, entry in enumerate(rest[self._first : self._first + fit]):
            self._pot(painter, entry, 14 + i * fonts.scaled(EACH_PX), y + fonts.scaled(30), first=i == 0)

    def _pot(self, painter: QPainter, entry: Ranked, x: float, y: float, *, first: bool) -> None:
        session, pot = self._sheet.session, entry.pot
        t, each = session.theme, fonts.scaled(EACH_PX)
        k = min(0.24, self._sheet.px_mm, (each - 22) / pot.length_mm, 38 / pot.height_mm)
        ground = y + fonts.scaled(42)
        painter.save()
        painter.translate(x + (each - 16) / 2, ground)
        painter.scale(k, k)
        draw_pot(painter, pot, t, k, shadow=False)
        painter.restore()
        painter.setPen(QPen(t.color("edge"), 1))
        painter.drawLine(QLineF(x, ground, x + each - 18, ground))
        if not first:
            painter.setPen(QPen(t.color("rule"), 1))
            painter.drawLine(QLineF(x - 9, y, x - 9, y + 92))
        room = each - 22
        name = QFontMetricsF(fonts.text(13)).elidedText(pot.name, Qt.TextElideMode.ElideRight, room)
        words(painter, t, name, x, ground + fonts.scaled(17), font=fonts.text(13))
        words(painter, t, size_words(pot, session.units), x, ground + fonts.scaled(33), "quiet")
        size = fonts.scaled(11)
        wide = answer_marks(painter, t, entry.answers, x, ground + fonts.scaled(45), size)
        held = session.lineup_case().taken.get(pot.id)
        why = f"holds {held}" if held and entry.verdict in ("fits", "watch") else entry.reason
        left = wide + fonts.scaled(7)
        text = QFontMetricsF(fonts.text(12)).elidedText(why, Qt.TextElideMode.ElideRight, room - left)
        words(painter, t, text, x + left, ground + fonts.scaled(49), STATUS_ROLE[entry.verdict])
