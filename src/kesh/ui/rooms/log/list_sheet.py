"""The log as a list, the latest first: what was done, with its figures; found by any word of it."""

from PyQt6.QtCore import QLineF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractScrollArea, QLineEdit, QVBoxLayout, QWidget

from kesh.advice.season.lessons import FIGURES, tallies
from kesh.advice.season.life import Life
from kesh.desk.log import WRITTEN
from kesh.model import Event
from kesh.science.season.season import day_words
from kesh.ui.paint.marks import words
from kesh.ui.session import Session
from kesh.ui.theme import fonts

ROW_PX = 46


def kind_words(event: Event) -> str:
    """An entry's kind in a word or two."""
    return WRITTEN[event.kind][0].split(",")[0] if event.kind in WRITTEN else event.kind.replace("_", " ")


def figure_words(event: Event) -> str:
    """The figures of an entry; counts always with their whole and how far they may be off."""
    told = [f"{t.words} {t.count.words()}" for t in tallies((event,))]
    for key, value in event.figures:
        if key in FIGURES:
            name, unit, digits = FIGURES[key]
            k = 100.0 if unit == "%" else 1.0
            told.append(f"{name.lower()} {k * value:.{digits}f} {unit}".strip())
        elif key == "foliage_share":
            told.append(f"{value:.0%} of the leaves")
        elif key == "settling":
            told.append(f"soil sank {value:.0%}")
    if event.minutes is not None:
        told.append(f"{event.minutes:.0f} min")
    if event.photo is not None:
        told.append("with a photograph")
    return "; ".join(told[:6])


class EventRows(QAbstractScrollArea):
    """Rows of entries; only those in sight are painted."""

    picked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.rows: list[Event] = []
        self.money = ""
        self.at = ""
        self.setFrameShape(QAbstractScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Entries of the log")

    def show_rows(self, rows: list[Event], at: str) -> None:
        """Show entries with one in hand."""
        self.rows, self.at = rows, at
        bar = self.verticalScrollBar()
        assert bar is not None
        bar.setRange(0, max(len(rows) * fonts.scaled(ROW_PX) - self.height(), 0))
        bar.setSingleStep(fonts.scaled(ROW_PX))
        bar.setPageStep(max(self.height(), 1))
        view = self.viewport()
        if view is not None:
            view.update()

    def resizeEvent(self, event: object) -> None:
        self.show_rows(self.rows, self.at)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        view, bar = self.viewport(), self.verticalScrollBar()
        assert view is not None
        assert bar is not None
        p, t, high, wide = QPainter(view), self.session.theme, fonts.scaled(ROW_PX), float(view.width())
        p.fillRect(view.rect(), t.color("sheet"))
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.rows:
            words(
                p, t, "No entry. What is written down at the right stands here.", 24, 40, "quiet", font=fonts.text(14)
            )
        first = bar.value() // high
        for n in range(first, min(first + int(view.height() / high) + 2, len(self.rows))):
            self._row(p, self.rows[n], QRectF(0, n * high - bar.value(), wide, high))
        if self.hasFocus():
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(t.color("indigo"), 2))
            p.drawRect(view.rect().adjusted(1, 1, -1, -1))

    def _row(self, p: QPainter, e: Event, box: QRectF) -> None:
        t = self.session.theme
        if e.id == self.at:
            p.fillRect(box, t.color("moss_tint", 0.6))
            p.fillRect(QRectF(0, box.top(), 3, box.height()), t.color("moss"))
        y, low = box.top() + box.height() * 0.42, box.top() + box.height() * 0.82
        words(p, t, f"{day_words(e.date)} {e.date.year}", 14, y, font=fonts.text(13))
        if e.date > self.session.today:
            words(p, t, "still to come", 14, low, "ochre", font=fonts.text(12))
        words(p, t, kind_words(e), 116, y, font=fonts.text(14, bold=True))
        room = box.width() - 236
        pot = self.session.collection.pots.get(e.pot or "")
        told = e.text or (f"in {pot.name}" if pot is not None else "")
        words(
            p,
            t,
            QFontMetricsF(fonts.text(14)).elidedText(told, Qt.TextElideMode.ElideRight, room),
            222,
            y,
            font=fonts.text(14),
        )
        under = figure_words(e)
        if e.cost is not None:
            under = "; ".join(x for x in (under, f"{self.session.money}{e.cost:.2f}") if x)
        if e.corrections:
            last = e.corrections[-1]
            under = "; ".join(
                x for x in (under, f"put right {day_words(last.on)} {last.on.year}, {last.field} was {last.was}") if x
            )
        words(
            p,
            t,
            QFontMetricsF(fonts.text(12)).elidedText(under, Qt.TextElideMode.ElideRight, room),
            222,
            low,
            "quiet",
            font=fonts.text(12),
        )
        p.setPen(QPen(t.color("rule"), 1))
        p.drawLine(QLineF(8, box.bottom() - 0.5, box.width() - 8, box.bottom() - 0.5))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        bar = self.verticalScrollBar()
        if event is None or bar is None:
            return
        n = int((event.position().y() + bar.value()) // fonts.scaled(ROW_PX))
        if 0 <= n < len(self.rows):
            self.picked.emit(self.rows[n].id)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.rows:
            keys = [e.id for e in self.rows]
            at = keys.index(self.at) if self.at in keys else -1
            at = min(max(at + (1 if event.key() == Qt.Key.Key_Down else -1), 0), len(keys) - 1)
            bar = self.verticalScrollBar()
            if bar is not None:
                bar.setValue(
                    min(max(bar.value(), (at + 1) * fonts.scaled(ROW_PX) - self.height()), at * fonts.scaled(ROW_PX))
                )
            self.picked.emit(keys[at])
            return
        super().keyPressEvent(event)


def entries(life: Life | None) -> list[Event]:
    """A tree's entries and what was put right of the tree itself, the latest first."""
    if life is None:
        return []
    notes = [
        Event(id=f"put-right-{n}", tree=life.tree.id, date=x.on, kind="note", text=f"{x.field.replace('_', ' ').capitalize()} put right: it was taken for {x.was.replace('_', ' ')}.")
        for n, x in enumerate(life.tree.corrections)
    ]  # fmt: skip
    return sorted([*life.events, *notes], key=lambda e: e.date, reverse=True)


class ListSheet(QWidget):
    """Search and rows."""

    picked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("sheet")
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 8, 0, 0)
        column.setSpacing(6)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a word, a kind, a year")
        self.search.setAccessibleName("Find a word, a kind, a year")
        self.search.setFixedWidth(fonts.scaled(260))
        column.addWidget(self.search)
        column.setAlignment(self.search, Qt.AlignmentFlag.AlignLeft)
        self.rows = EventRows(session)
        column.addWidget(self.rows, 1)
        self.rows.picked.connect(self.picked)
        self.search.textChanged.connect(lambda _: self._again())
        self._life: Life | None = None
        self._at = ""

    def show_life(self, life: Life | None, at: str) -> None:
        """Show a log with an entry in hand."""
        self._life, self._at = life, at
        self._again()

    def _again(self) -> None:
        needle = self.search.text().strip().lower()
        found = entries(self._life)
        if needle:
            found = [e for e in found if needle in f"{e.date} {kind_words(e)} {e.text} {figure_words(e)}".lower()]
        self.rows.show_rows(found, self._at)
