"""The whole shelf in order under one tree: place, pot to scale, verdict, the one thing wrong, the smallest change."""

from typing import Any

from PyQt6.QtCore import QAbstractListModel, QLineF, QModelIndex, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import QAbstractItemView, QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from kesh.advice.finding import PARTS
from kesh.advice.rank import Ranked
from kesh.advice.water.short import PotShort
from kesh.desk.lineup import PART_WORDS, kind_words, size_words
from kesh.ui.paint.answer_marks import answer_mark
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import draw_pot
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE

ROW, PX_MM, PICTURE = 76, 0.21, 132


class RankedModel(QAbstractListModel):
    """Rows of the ranking that pass the filter; each is worded when it comes into sight."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.places: list[int] = []
        self._states: frozenset[str] | None = None

    def refresh(self, states: frozenset[str] | None) -> None:
        """Read the ranking again."""
        self.beginResetModel()
        self._states = states
        ranking = self._session.ranking()
        if ranking is None:
            self.places = []
        else:
            pots, order = ranking.figures.pots.pots, ranking.order
            self.places = [k for k in range(len(order)) if states is None or pots[int(order[k])].state in states]
        self.endResetModel()

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008  Qt's own signature
        return 0 if parent.isValid() else len(self.places)

    def entry(self, row: int) -> tuple[int, Ranked] | None:
        """(place, entry) of a row."""
        ranking = self._session.ranking()
        if ranking is None or row >= len(self.places) or self.places[row] >= len(ranking):
            return None
        return self.places[row] + 1, ranking.entry(self.places[row])

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        found = self.entry(index.row())
        if found is None:
            return None
        place, entry = found
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            told = "; ".join(f"{q} {a.status}, {t}" for (q, a), t in zip(entry.answers.each(), entry.told, strict=True))
            return f"{place}. {entry.pot.name}: {told}"
        if role == Qt.ItemDataRole.ToolTipRole:
            return "; ".join(entry.misses) or "inside every band"
        return found if role == Qt.ItemDataRole.UserRole else None


class RankedRow(QStyledItemDelegate):
    """Paints one row."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.years: dict[str, PotShort] = {}

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(400, fonts.scaled(ROW))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        found = index.data(Qt.ItemDataRole.UserRole)
        if painter is None or found is None:
            return
        place, entry = found
        t, box, pot = self._session.theme, QRectF(option.rect), entry.pot
        painter.save()
        painter.setClipRect(box)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(box, t.color("moss_tint"))
        painter.setPen(QPen(t.color("rule"), 1))
        painter.drawLine(QLineF(box.left(), box.bottom() - 0.5, box.right(), box.bottom() - 0.5))
        words(
            painter,
            t,
            str(place),
            box.left() + 34,
            box.top() + 34,
            "quiet",
            font=fonts.book(15, italic=True),
            align="right",
        )
        k = min(PX_MM, (box.height() - 14) / pot.height_mm)
        ground = box.bottom() - 7
        painter.save()
        painter.translate(box.left() + 46 + PICTURE / 2, ground)
        painter.scale(k, k)
        draw_pot(painter, pot, t, k, shadow=False)
        painter.restore()
        left = box.left() + 46 + PICTURE + 14
        self._words(painter, entry, box, left)
        if box.width() > 640:
            self._parts(painter, entry, QRectF(box.right() - 128, box.top(), 122, box.height()))
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(t.color("indigo"), 2))
            painter.drawRect(box.adjusted(1, 1, -2, -2))
        painter.restore()

    def _words(self, painter: QPainter, entry: Ranked, box: QRectF, left: float) -> None:
        t, u, pot, step = self._session.theme, self._session.units, entry.pot, box.height() / ROW
        right = box.right() - (136 if box.width() > 640 else 8)
        middle = left + min(210.0, (right - left) * 0.42)

        def fit(text: str, font: Any, room: float) -> str:
            return QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, room)

        def small(text: str, x: float, row: int, room: float) -> None:
            font = fonts.text(13)
            words(painter, t, fit(text, font, room), x, box.top() + row * step, "quiet", font=font)

        room = middle - left - 10
        words(painter, t, fit(pot.name, fonts.book(16), room), left, box.top() + 19 * step, font=fonts.book(16))
        words(painter, t, size_words(pot, u), left, box.top() + 36 * step, font=fonts.text(13))
        small(kind_words(pot), left, 52, room)
        for n, ((question, answer), told) in enumerate(zip(entry.answers.each(), entry.told, strict=True)):
            y = box.top() + (19 + 17 * n) * step
            answer_mark(painter, t, question, answer.status, middle + 7, y - 5 * step, 13)
            role = "ink" if answer.status == "fits" else STATUS_ROLE[answer.status]
            text = fit(told[:1].upper() + told[1:], fonts.text(13), right - middle - 24)
            words(painter, t, text, middle + 22, y, role, font=fonts.text(13))
        case = self._session.lineup_case()
        held = case.rejected.get(pot.id)
        fact = f"Rejected: {held}" if held else entry.fact
        mends = f"Would fit with {entry.smallest_fix}" if entry.smallest_fix and entry.verdict != "fits" else ""
        last = "; ".join(x[:1].upper() + x[1:] for x in (fact, mends) if x)
        small(last, middle, 70, right - middle)
        year = self.years.get(pot.id)
        if year is None:
            return
        x, y, font = left, box.top() + 68 * step, fonts.text(13)
        for told, role in ((year.hurt, STATUS_ROLE[year.summer]), (year.frost, STATUS_ROLE[year.winter])):
            if x < middle - 40:
                x += words(painter, t, fit(told, font, middle - x - 8), x, y, role, font=font) + 18

    def _parts(self, painter: QPainter, entry: Ranked, box: QRectF) -> None:
        t = self._session.theme
        words(
            painter, t, f"{entry.score:.0%}", box.right(), box.top() + 15, font=fonts.text(13, bold=True), align="right"
        )
        words(painter, t, "score", box.right() - 34, box.top() + 15, "quiet", align="right")
        each = box.width() / len(PARTS)
        for i, part in enumerate(PARTS):
            x, base, high = box.left() + i * each, box.bottom() - 17, 20.0
            painter.setPen(QPen(t.color("edge"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(x, base - high, 9, high))
            full = high * entry.parts[part]
            painter.fillRect(QRectF(x + 1, base - full, 8, full), t.color("moss_fill"))
            words(painter, t, PART_WORDS[part][0], x + 4.5, base + 11, "quiet", font=fonts.text(11), align="center")


class RankedList(QListView):
    """A click or the arrows take a pot in hand; Enter or a double click holds it under the tree."""

    wanted = pyqtSignal(str)
    picked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.ranked = RankedModel(session)
        self.states: frozenset[str] | None = None
        self.setModel(self.ranked)
        self.row = RankedRow(session)
        self.setItemDelegate(self.row)
        self.setUniformItemSizes(True)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Every pot on the shelf in order under this tree")
        self.doubleClicked.connect(self._take)
        self._refreshing = False
        self.selectionModel().currentChanged.connect(self._point)  # type: ignore[union-attr]

    def refresh(self) -> None:
        """Read the ranking again, the row in hand kept."""
        row = self.currentIndex().row()
        self._refreshing = True
        self.ranked.refresh(self.states)
        if 0 <= row < self.ranked.rowCount():
            self.setCurrentIndex(self.ranked.index(row))
        self._refreshing = False

    def pot_in_hand(self) -> str:
        """The pot of the row in hand; empty while none is."""
        found = self.ranked.entry(self.currentIndex().row()) if self.currentIndex().isValid() else None
        return found[1].pot.id if found is not None else ""

    def _point(self, index: QModelIndex) -> None:
        found = None if self._refreshing else self.ranked.entry(index.row())
        if found is not None:
            self.picked.emit(found[1].pot.id)

    def show_years(self, years: dict[str, PotShort]) -> None:
        """What the years say of each pot."""
        self.row.years = years
        port = self.viewport()
        if port is not None:
            port.update()

    def _take(self, index: QModelIndex) -> None:
        found = self.ranked.entry(index.row())
        if found is not None:
            self.wanted.emit(found[1].pot.id)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.currentIndex().isValid():
            self._take(self.currentIndex())
            return
        super().keyPressEvent(event)
