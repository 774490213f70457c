"""Colours taken from chosen places of a photograph: flower or fruit, autumn leaf, bark, leaf."""

from collections.abc import Callable, Mapping

from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.model.photo import COLOUR_PARTS
from kesh.photo.tones import Tone
from kesh.science.looks.colour_names import colour_words
from kesh.ui.paint.marks import words
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, SectionHead, button, quiet, row

ROW_PX = 22


class SpotLines(QWidget):
    """A swatch with its part and value for each place; a click takes the place away."""

    dropped = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.tones: Mapping[str, Tone] = {}
        self.setAccessibleName("Colours taken from the photograph")

    def show_tones(self, tones: Mapping[str, Tone]) -> None:
        """Show other colours."""
        self.tones = tones
        self.setFixedHeight(fonts.scaled(ROW_PX) * len(tones))
        self.setAccessibleDescription("; ".join(f"{part} {colour_words(tone.colour)}" for part, tone in tones.items()))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t, each, right = self._session.theme, fonts.scaled(ROW_PX), float(self.width())
        for k, (part, tone) in enumerate(self.tones.items()):
            y = k * each
            painter.setPen(QPen(t.color("edge"), 1))
            painter.setBrush(QColor(tone.colour))
            painter.drawRect(QRectF(0.5, y + 4, fonts.scaled(22), each - 8))
            words(
                painter, t, f"{part}  {colour_words(tone.colour)}", fonts.scaled(30), y + each - 6, font=fonts.text(13)
            )
            words(painter, t, "take away", right, y + each - 6, "moss", font=fonts.text(13), align="right")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            at = int(event.position().y() // fonts.scaled(ROW_PX))
            if 0 <= at < len(self.tones) and event.position().x() > self.width() / 2:
                self.dropped.emit(list(self.tones)[at])


class SpotBox(QWidget):
    """Choose what is to be taken, put a mark on it, drag the mark; the colour goes into the advice on pots."""

    def __init__(self, session: Session, put: Callable[[str], None], drop: Callable[[str], None]) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.part = Choice({part: part for part in COLOUR_PARTS}, "Colour of")
        self.part.show_key(COLOUR_PARTS[0])
        self.put = button("Put a mark on it", lambda: put(str(self.part.currentData())), link=True)
        self.lines = SpotLines(session)
        self.lines.dropped.connect(drop)
        self.hint = quiet("Then drag the mark; the colour counts in the advice on pots.")
        for made in (SectionHead(session, "Colours"), row("Colour of", self.part), self.put, self.lines, self.hint):
            column.addWidget(made)

    def show_tones(self, tones: Mapping[str, Tone]) -> None:
        """Colours of the photograph in hand."""
        self.lines.show_tones(tones)
