"""Pot and tree by colour: how far each stands from the other, how far the pot draws the eye, and swatches to try."""

from collections.abc import Callable, Mapping

from PyQt6.QtCore import QLineF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.advice.assess import Assessment
from kesh.advice.rules.colour import SWATCHES, ColourAdvice, colour_advice
from kesh.ui.paint.marks import band_bar, words
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import SectionHead, button, quiet

ROW_PX = 21
EACH_ROW = 6


class ColourLines(QWidget):
    """A swatch and a difference for each colour of the tree, then a band for each season's pull."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.advice: ColourAdvice | None = None
        self.setAccessibleName("The pot's colour beside the tree's")

    def show_advice(self, advice: ColourAdvice) -> None:
        """Show other figures."""
        self.advice = advice
        self.setFixedHeight(fonts.scaled(ROW_PX) * (len(advice.lines) + len(advice.pulls) + bool(advice.pulls)) + 6)
        told = [f"{x.part} {x.difference:.0f}, {x.words}" for x in advice.lines]
        told += [f"draws the eye {season} {value:.2f}" for season, value in advice.pulls]
        self.setAccessibleDescription("; ".join(told))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.advice is None:
            return
        painter = QPainter(self)
        t, each, right = self._session.theme, fonts.scaled(ROW_PX), float(self.width())
        y = 0.0
        for line in self.advice.lines:
            painter.setPen(QPen(t.color("edge"), 1))
            painter.setBrush(QColor(line.colour))
            painter.drawRect(QRectF(0.5, y + 4, fonts.scaled(22), each - 8))
            words(painter, t, line.part, fonts.scaled(30), y + each - 6, font=fonts.text(13))
            words(
                painter,
                t,
                line.words,
                right - fonts.scaled(30),
                y + each - 6,
                "quiet",
                font=fonts.text(13),
                align="right",
            )
            words(
                painter, t, f"{line.difference:.0f}", right, y + each - 6, font=fonts.text(13, bold=True), align="right"
            )
            y += each
        if self.advice.pulls:
            words(painter, t, "how far it draws the eye", 0, y + each - 6, "quiet", font=fonts.text(13))
            y += each
        for season, value in self.advice.pulls:
            inside = self.advice.low <= value <= self.advice.high
            words(painter, t, season, 0, y + each - 6, font=fonts.text(13))
            left = fonts.scaled(104)
            track = QRectF(left, y + 3, right - left - fonts.scaled(40), each - 5)
            band_bar(painter, t, track, self.advice.low, self.advice.high, min(value, 1.2), (0.0, 1.2))
            role = "ink" if inside else "oxide"
            words(painter, t, f"{value:.2f}", right, y + each - 6, role, font=fonts.text(13, bold=True), align="right")
            y += each


class Swatches(QWidget):
    """Clays and glazes in two rows; a click or Enter tries one on the pot in hand."""

    tried = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Clays and glazes to try on the pot")
        self.setFixedHeight(fonts.scaled(24) * 2 + 4)

    def _box(self, i: int) -> QRectF:
        each = self.width() / EACH_ROW
        return QRectF((i % EACH_ROW) * each + 1, (i // EACH_ROW) * fonts.scaled(24) + 1, each - 4, fonts.scaled(24) - 4)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t = self._session.theme
        for i, colour in enumerate(SWATCHES.values()):
            box = self._box(i)
            painter.fillRect(box, QColor(colour))
            hand = self.hasFocus() and i == self.at
            painter.setPen(QPen(t.color("indigo" if hand else "edge"), 2 if hand else 1))
            painter.drawRect(box)
            if hand:
                painter.drawLine(QLineF(box.left(), box.bottom() + 2, box.right(), box.bottom() + 2))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            found = next((n for i, n in enumerate(SWATCHES) if self._box(i).contains(event.position())), "")
            self.setToolTip(found.capitalize())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        for i in range(len(SWATCHES)):
            if self._box(i).contains(event.position()):
                self._try(i)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {
            Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -EACH_ROW, Qt.Key.Key_Down: EACH_ROW,
        }  # fmt: skip
        if event is not None and event.key() in steps:
            self.at = (self.at + steps[Qt.Key(event.key())]) % len(SWATCHES)
            self.setAccessibleDescription(list(SWATCHES)[self.at])
            self.update()
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._try(self.at)
        else:
            super().keyPressEvent(event)

    def _try(self, i: int) -> None:
        self.at = i
        self.setAccessibleDescription(list(SWATCHES)[i])
        self.update()
        self.tried.emit(list(SWATCHES.values())[i])


class ColourBox(QWidget):
    """Figures, both schools, and swatches that are tried on the drawing before they are kept.

    `seen` gives bark and leaf as a photograph of this tree shows them; they win over the species' usual ones.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._pot = ""
        self.seen: Callable[[], Mapping[str, str]] = dict
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        self.head, self.lines = SectionHead(session, "Colour", ""), ColourLines(session)
        self.tradition, self.freedom = quiet(""), quiet("")
        self.swatches = Swatches(session)
        self.swatches.tried.connect(self.try_colour)
        self.keep = button("Keep this colour", self._keep, link=True)
        self.back = button("Back to the pot's own", session.drop_draft, link=True)
        for part in (self.head, self.lines, self.tradition, self.freedom, self.swatches, self.keep, self.back):
            column.addWidget(part)

    def show_assessment(self, a: Assessment) -> None:
        """Follow the pot in hand, as it is or as it is tried."""
        if self._pot != a.pot.id and self._tried() is not None:
            self._session.drop_draft()
        self._pot = a.pot.id
        advice = colour_advice(a, seen=self.seen())
        self.lines.show_advice(advice)
        self.head.set_note(
            {"fits": "stays behind the tree", "watch": "look again", "unknown": "species not named"}[advice.status]
        )
        self.tradition.setText(advice.tradition)
        self.freedom.setText(f"{advice.freedom} Figures are starting points.")
        tried = self._tried() is not None
        self.keep.setVisible(tried)
        self.back.setVisible(tried)

    def _tried(self) -> str | None:
        """The colour that is tried and not written, None when there is none."""
        own, shown = self._session.file.collection.pots.get(self._pot), self._session.collection.pots.get(self._pot)
        return shown.colour if own is not None and shown is not None and own.colour != shown.colour else None

    def try_colour(self, colour: str) -> None:
        """Show the pot in a colour without writing it."""
        pot = self._session.file.collection.pots.get(self._pot)
        if pot is not None:
            self._session.draft([("pot", pot.id, pot.changed(colour=colour))])

    def _keep(self) -> None:
        pot, colour = self._session.file.collection.pots.get(self._pot), self._tried()
        if pot is not None and colour is not None:
            self._session.edit(f"{pot.name} in another colour", [("pot", pot.id, pot.changed(colour=colour))])
