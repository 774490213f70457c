"""What weighs on a tree as one bar: each work with what is left of it, against what the tree bears."""

from PyQt6.QtCore import QLineF, QRectF
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.advice.season.strain_ledger import Ledger
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.session import Session
from kesh.ui.theme import fonts

TINTS = {
    "roots": ("oxide_tint", "oxide"),
    "cut": ("ochre_tint", "ochre"),
    "leaves off": ("ochre_tint", "ochre"),
    "ill": ("oxide_tint", "oxide"),
}


class StrainBar(QWidget):
    """Paints a ledger; nothing weighs is said in words."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.ledger: Ledger | None = None
        self.setFixedHeight(fonts.scaled(58))
        self.setAccessibleName("Strain")

    def show_ledger(self, ledger: Ledger | None) -> None:
        """Show a ledger."""
        self.ledger = ledger
        self.setFixedHeight(fonts.scaled(58))
        if ledger is not None:
            self.setAccessibleDescription(f"{100 * ledger.total:.0f} of {100 * ledger.limit:.0f}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.ledger is None:
            return
        p, t, book = QPainter(self), self._session.theme, self.ledger
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        most = max(1.0, book.total * 1.05)
        box = QRectF(0, fonts.scaled(18), self.width() - 1, fonts.scaled(16))
        p.setPen(QPen(t.color("edge"), 1))
        p.setBrush(t.color("field"))
        p.drawRect(box)
        x, end = box.left(), -1e9
        for load, left in sorted(book.left, key=lambda row: -row[1]):
            fill, edge = TINTS.get(load.words, ("indigo_tint", "indigo"))
            part = QRectF(x, box.top(), box.width() * left / most, box.height())
            path = QPainterPath()
            path.addRect(part)
            p.fillPath(path, t.color(fill))
            p.save()
            p.setClipPath(path)
            hatch(p, path, t.color(edge), 1.0, gap_px=5)
            p.restore()
            p.setPen(QPen(t.color(edge), 1))
            p.setBrush(t.color(fill, 0.0))
            p.drawRect(part)
            told = f"{load.words} {100 * left:.0f}"
            if x > end:
                words(p, t, told, x, box.top() - 4, edge if edge != "indigo" else "indigo", font=fonts.text(12))
                end = x + fonts.width(fonts.text(12), told) + 6
            x += part.width()
        if not book.left:
            words(p, t, "nothing weighs on it", 0, box.top() - 4, "quiet", font=fonts.text(12))
        limit = box.left() + box.width() * book.limit / most
        p.setPen(QPen(t.color("ink"), 1.6))
        p.drawLine(QLineF(limit, box.top() - 6, limit, box.bottom() + 4))
        words(
            p,
            t,
            f"bears {100 * book.limit:.0f}",
            limit,
            box.bottom() + fonts.scaled(15),
            font=fonts.text(12),
            align="center",
        )
        words(p, t, "0", 0, box.bottom() + fonts.scaled(15), "quiet", font=fonts.text(11))
        words(
            p,
            t,
            f"{100 * most:.0f}",
            self.width() - 1,
            box.bottom() + fonts.scaled(15),
            "quiet",
            font=fonts.text(11),
            align="right",
        )
