"""The photograph's figures beside the tape's, with the difference."""

from PyQt6.QtCore import QLineF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from kesh.desk.photo import FigureRow
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.session import Session
from kesh.ui.theme import fonts

ROW_PX = 24


class FigureTable(QWidget):
    """Mark, figure, photograph, tape, difference: one line each. A click takes the photograph's figure over."""

    wanted = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.rows: tuple[FigureRow, ...] = ()
        self.setAccessibleName("Figures of the photograph beside the tape's")
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_rows(self, shown: tuple[FigureRow, ...]) -> None:
        """Show other figures."""
        self.rows = shown
        u = self._session.units
        self.setFixedHeight(fonts.scaled(ROW_PX) * (len(shown) + 1) + 4)
        self.setAccessibleDescription(
            "; ".join(f"{r.words}: photograph {r.texts(u)[0]}, tape {r.texts(u)[1]}" for r in shown)
        )
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t, u, each, right = self._session.theme, self._session.units, fonts.scaled(ROW_PX), float(self.width())
        tape_x, photo_x = right - fonts.scaled(40), right - fonts.scaled(80)
        small = fonts.text(12)
        for text, x in (("photo", photo_x), ("tape", tape_x), ("apart", right)):
            words(painter, t, text, x, each - 8, "quiet", font=small, align="right")
        for i, line in enumerate(self.rows):
            y = each * (i + 2) - 8.0
            painter.setPen(QPen(t.color("rule"), 1))
            painter.drawLine(QLineF(0, y + 6.5, right, y + 6.5))
            photo, tape, apart = line.texts(u)
            status_mark(painter, t, line.status, 6, y - 4.5, 9)
            words(painter, t, line.words, 18, y, font=fonts.text(13))
            if line.photo is None:
                doubtful = line.why.startswith("in doubt")
                words(painter, t, "in doubt" if doubtful else "hidden", photo_x, y, "ochre" if doubtful else "quiet",
                      font=small, align="right")  # fmt: skip
            else:
                words(painter, t, photo, photo_x, y, font=fonts.text(13, bold=True), align="right")
            words(painter, t, tape, tape_x, y, "quiet", font=fonts.text(13), align="right")
            words(
                painter,
                t,
                apart,
                right,
                y,
                "ochre" if line.status == "watch" else "quiet",
                font=fonts.text(13),
                align="right",
            )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            at = int(event.position().y() // fonts.scaled(ROW_PX)) - 1
            if 0 <= at < len(self.rows) and self.rows[at].photo is not None:
                self.wanted.emit(self.rows[at].field)
