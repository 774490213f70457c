"""All pots drawn to one scale on their shelves. Only rows in sight are painted."""

from typing import Any

from PyQt6.QtCore import (
    QAbstractListModel,
    QItemSelectionModel,
    QLineF,
    QModelIndex,
    QPointF,
    QRectF,
    QSize,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen
from PyQt6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QLineEdit,
    QListView,
    QPushButton,
    QSizePolicy,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from kesh.base.words import counted
from kesh.desk.lineup import STATES, WHERE, size_words
from kesh.desk.shelf import SORTS, matching
from kesh.model import Pot
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import draw_pot
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, title

CELL_W, CELL_H, PICTURE = 164, 148, 84


class PotModel(QAbstractListModel):
    """Pots that match the search."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.rows: list[str] = []
        self.holders: dict[str, str] = {}

    def refresh(self, needle: str, states: frozenset[str] | None, sort: str) -> None:
        """Read the collection again."""
        c = self._session.collection
        self.holders = {
            p.pot: c.trees[p.tree].name for p in c.plantings if p.ended is None and not p.planned and p.tree in c.trees
        }  # fmt: skip
        found = matching(c, needle, states, sort)
        if found != self.rows:
            self.beginResetModel()
            self.rows = found
            self.endResetModel()
        elif found:
            self.dataChanged.emit(self.index(0), self.index(len(found) - 1))

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008  Qt's own signature
        return 0 if parent.isValid() else len(self.rows)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        pot = self._session.collection.pots.get(self.rows[index.row()])
        if pot is None:
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return f"{pot.name}, {size_words(pot, self._session.units)}"
        return pot if role == Qt.ItemDataRole.UserRole else None


class PotCell(QStyledItemDelegate):
    """A pot on its shelf with name, sizes and where it is."""

    def __init__(self, session: Session, model: PotModel) -> None:
        super().__init__()
        self._session, self._model = session, model
        self.px_mm = 0.24
        self.width = CELL_W

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(self.width, fonts.scaled(CELL_H))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        pot = index.data(Qt.ItemDataRole.UserRole)
        if painter is None or not isinstance(pot, Pot):
            return
        t, u, box = self._session.theme, self._session.units, QRectF(option.rect)
        painter.save()
        painter.setClipRect(box)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(box.adjusted(2, 2, -2, -2), t.color("moss_tint"))
        ground = box.top() + fonts.scaled(PICTURE)
        painter.save()
        painter.translate(QPointF(box.center().x(), ground))
        painter.scale(self.px_mm, self.px_mm)
        draw_pot(painter, pot, t, self.px_mm, shadow=False)
        painter.restore()
        painter.setPen(QPen(t.color("ink"), 1.2))
        painter.drawLine(QLineF(box.left(), ground, box.right(), ground))
        left, room, step = box.left() + 10, box.width() - 16, fonts.scaled(17)

        def fit(text: str, font: Any) -> str:
            return QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, room)

        words(painter, t, fit(pot.name, fonts.book(15)), left, ground + step + 2, font=fonts.book(15))
        words(painter, t, size_words(pot, u), left, ground + 2 * step + 1, font=fonts.text(13))
        holder = self._model.holders.get(pot.id)
        where = f"holds {holder}" if holder else WHERE[pot.state]
        words(painter, t, fit(where, fonts.text(12)), left, ground + 3 * step - 1, "moss" if not holder else "quiet")
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(t.color("indigo"), 2))
            painter.drawRect(box.adjusted(3, 3, -3, -3))
        painter.restore()


class ShelfSheet(QWidget):
    """Title, search, filters and the shelves."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("sheet")
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 12, 8, 0)
        column.setSpacing(8)
        self.title = title("", 21)
        self.title.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a pot, material or tree")
        self.search.setAccessibleName("Find a pot, material or tree")
        self.search.setFixedWidth(fonts.scaled(220))
        self.sort = Choice(SORTS, "Order")
        head = QHBoxLayout()
        head.setContentsMargins(0, 0, 8, 0)
        head.addWidget(self.title, 1)
        head.addWidget(self.sort)
        head.addWidget(self.search)
        column.addLayout(head)
        line = QHBoxLayout()
        line.setSpacing(0)
        group = QButtonGroup(self)
        self.filters: dict[str, QPushButton] = {}
        for key, text in {"": "All", **STATES}.items():
            made = QPushButton(text)
            made.setCheckable(True)
            made.setChecked(key == "")
            made.clicked.connect(lambda _=False: self.refresh())
            group.addButton(made)
            self.filters[key] = made
            line.addWidget(made)
        line.addStretch(1)
        column.addLayout(line)
        self.model = PotModel(session)
        self.view = QListView()
        self.view.setViewMode(QListView.ViewMode.IconMode)
        self.view.setMovement(QListView.Movement.Static)
        self.view.setResizeMode(QListView.ResizeMode.Adjust)
        self.view.setUniformItemSizes(True)
        self.view.setSpacing(0)
        self.view.setModel(self.model)
        self.cell = PotCell(session, self.model)
        self.view.setItemDelegate(self.cell)
        self.view.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.view.setAccessibleName("All pots")
        column.addWidget(self.view, 1)
        self.search.textChanged.connect(lambda _: self.refresh())
        self.sort.chosen.connect(lambda _: self.refresh())
        selection = self.view.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(self._pick)

    def refresh(self) -> None:
        """Show the collection as it stands."""
        picked = next((key for key, made in self.filters.items() if made.isChecked()), "")
        states = frozenset({picked}) if picked else None
        here = self.current()
        self.model.refresh(self.search.text(), states, str(self.sort.currentData()))
        c = self._session.collection
        longest = max((p.length_mm for p in c.pots.values()), default=600)
        highest = max((p.height_mm for p in c.pots.values()), default=300)
        # a fruit tub is as high as a tray is long: both are seen whole, and one mistyped pot does not shrink the rest to dots
        whole = min((CELL_W - 12) / longest, (fonts.scaled(PICTURE) - 6) / highest)
        self.cell.px_mm = min(0.24, max(whole, 0.08))
        free = sum(1 for p in c.pots.values() if p.state == "shelf")
        for key, made in self.filters.items():
            count = len(c.pots) if not key else sum(1 for p in c.pots.values() if p.state == key)
            made.setText(f"{'All' if not key else STATES[key]} {count}")
        if not c.pots:
            self.title.setText("Nothing stands here yet")
        else:
            shown = len(self.model.rows)
            self.title.setText(
                f"{counted(len(c.pots), 'pot').capitalize()}, {free} free"
                + (f"; {shown} shown" if shown != len(c.pots) else "")
            )
        if here:
            self.select(here)

    def resizeEvent(self, event: object) -> None:
        """Shelves run the whole width."""
        viewport = self.view.viewport()
        room = (viewport.width() if viewport else self.width()) - 4
        self.cell.width = max(120, room // max(1, room // fonts.scaled(CELL_W)))
        self.view.scheduleDelayedItemsLayout()

    def current(self) -> str:
        """The pot in hand."""
        index = self.view.currentIndex()
        return self.model.rows[index.row()] if index.isValid() and index.row() < len(self.model.rows) else ""

    def select(self, key: str) -> None:
        """Take a pot in hand."""
        if key in self.model.rows and self.current() != key:
            index = self.model.index(self.model.rows.index(key))
            selection = self.view.selectionModel()
            if selection is not None:
                selection.setCurrentIndex(index, QItemSelectionModel.SelectionFlag.ClearAndSelect)
            self.view.scrollTo(index)

    def _pick(self, now: QModelIndex, before: QModelIndex) -> None:
        if now.isValid():
            self.chosen.emit(self.model.rows[now.row()])
