"""What is done to each root: the bar of what goes in each repotting, and the roots with their reasons."""

from dataclasses import dataclass

from PyQt6.QtCore import QLineF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from kesh.ui.paint.marks import words
from kesh.ui.session import Session
from kesh.ui.theme import fonts

BAR_PX, ROW_PX = 62, 40


class ShareBar(QWidget):
    """Feeders taken, repotting by repotting, against the limit of one."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shares: tuple[float, ...] = ()
        self._limit: float | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.refit()

    def refit(self) -> None:
        """Follow the text size."""
        self.setFixedHeight(fonts.scaled(BAR_PX))

    def show_shares(self, shares: tuple[float, ...], limit: float | None) -> None:
        """Show other shares."""
        self._shares, self._limit = shares, limit
        told = ", ".join(f"{s:.0%}" for s in shares)
        self.setAccessibleName(f"Feeder roots taken in each repotting: {told}; at most {limit or 0:.0%} in one")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._limit is None:
            return
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        top, high, wide = fonts.scaled(22), fonts.scaled(16), float(self.width())
        most = max(0.5, sum(self._shares) * 1.1, self._limit * 1.2)
        k, x = wide / most, 0.0
        for n, share in enumerate(self._shares):
            if share <= 0:
                continue
            box = QRectF(x * k, top, share * k, high)
            painter.fillRect(box, t.color("oxide_fill" if n == 0 else "ochre_fill"))
            painter.setPen(QPen(t.color("oxide" if n == 0 else "ochre"), 1))
            painter.drawRect(box)
            text = f"{share:.0%}"
            if QFontMetricsF(fonts.text(12, bold=True)).horizontalAdvance(text) < box.width() - 4:
                words(
                    painter,
                    t,
                    text,
                    box.center().x(),
                    top + high - 4,
                    "ink",
                    font=fonts.text(12, bold=True),
                    align="center",
                )
            x += share
        painter.setPen(QPen(t.color("ink"), 1))
        painter.drawLine(QLineF(0, top + high, wide, top + high))
        at = self._limit * k
        painter.setPen(QPen(t.color("ink"), 1.8))
        painter.drawLine(QLineF(at, top - 5, at, top + high + 3))
        side = "left" if at < wide / 2 else "right"
        words(painter, t, f"limit of one repotting, {self._limit:.0%}", at + (4 if side == "left" else -4), top - 7, "quiet",
              font=fonts.text(12), align=side)  # fmt: skip
        for tick in range(0, int(most * 100) + 1, 10):
            if tick / 100 * k < wide - 20:
                text = f"{tick} %" if tick else "0"
                words(painter, t, text, tick / 100 * k, top + high + fonts.scaled(15), "quiet", font=fonts.text(11))


@dataclass(frozen=True)
class PlanRow:
    """One root: its number, what it is, what is done, why, and whether anything is."""

    key: str
    number: str
    what: str
    does: str
    why: str
    goes: bool


class PlanList(QWidget):
    """Rows of roots; a click takes one in hand."""

    wanted = pyqtSignal(str)

    def __init__(self, session: Session, name: str = "Roots of the map and what is done to each") -> None:
        super().__init__()
        self._session = session
        self.rows: tuple[PlanRow, ...] = ()
        self.hand = ""
        self.setAccessibleName(name)

    def refit(self) -> None:
        """Follow the text size."""
        self.setFixedHeight(fonts.scaled(ROW_PX) * len(self.rows))

    def show_rows(self, rows: tuple[PlanRow, ...], hand: str) -> None:
        """Show other roots."""
        if (rows, hand) == (self.rows, self.hand):
            return
        self.rows, self.hand = rows, hand
        self.setAccessibleDescription("; ".join(f"{r.number} {r.what}: {r.does}" for r in rows))
        self.refit()
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        each, r = fonts.scaled(ROW_PX), fonts.scaled(9)
        for k, row in enumerate(self.rows):
            y, role = k * each, "moss" if row.key == self.hand else "oxide" if row.goes else "ink"
            if row.key == self.hand:
                painter.fillRect(QRectF(0, y, self.width(), each - 1), t.color("field"))
            painter.setPen(QPen(t.color(role), 1.2))
            painter.setBrush(t.color("sheet"))
            painter.drawEllipse(QRectF(2, y + 5, 2 * r, 2 * r))
            words(
                painter,
                t,
                row.number,
                2 + r,
                y + 5 + r + fonts.scaled(4),
                role,
                font=fonts.text(12, bold=True),
                align="center",
            )
            left = 2 * r + 12
            wide = words(painter, t, row.does, left, y + fonts.scaled(16), role, font=fonts.text(13, bold=row.goes))
            room, metrics = self.width() - left - wide - 8, QFontMetricsF(fonts.text(12))
            what = row.what if metrics.horizontalAdvance(row.what) <= room else row.what.split(",")[0]
            words(
                painter,
                t,
                what if metrics.horizontalAdvance(what) <= room else "",
                self.width() - 2,
                y + fonts.scaled(16),
                "quiet",
                font=fonts.text(12),
                align="right",
            )
            why = QFontMetricsF(fonts.text(12)).elidedText(row.why, Qt.TextElideMode.ElideRight, self.width() - left)
            words(painter, t, why, left, y + fonts.scaled(32), "quiet", font=fonts.text(12))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.rows:
            at = int(event.position().y() // fonts.scaled(ROW_PX))
            if 0 <= at < len(self.rows):
                self.wanted.emit(self.rows[at].key)
