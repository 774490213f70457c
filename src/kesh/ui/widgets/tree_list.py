"""The list of trees, drawn small to one scale on their own bench line. Pictures are made only for rows in sight."""

from datetime import date
from functools import partial
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
    QAbstractItemView,
    QLineEdit,
    QListView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.report.year import shelf_checks
from kesh.base.words import counted
from kesh.model import Collection, Tree
from kesh.reference.tables import tables
from kesh.ui.paint.answer_marks import answer_mark
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.small_tree import BELOW_PX, draw_small_tree, drawn_part
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import button, quiet, title

ROW = 72


class TreeModel(QAbstractListModel):
    """Trees that match what is searched for, by name, species or pot."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._needle = ""
        self.rows: list[str] = []
        self.refresh()

    def search(self, needle: str) -> None:
        """Show only trees with the words in their name, species or pot."""
        self._needle = needle.strip().lower()
        self.refresh()

    def refresh(self) -> None:
        """Read the collection again."""
        found = list(self._session.collection.trees)
        if self._needle:
            found = [key for key in found if self._needle in self._words(key)]
        if found != self.rows:
            self.beginResetModel()
            self.rows = found
            self.endResetModel()
        elif found:
            self.dataChanged.emit(self.index(0), self.index(len(found) - 1))

    def _words(self, key: str) -> str:
        tree = self._session.collection.trees[key]
        planting = self._session.collection.planting_of(key)
        pot = self._session.collection.pots.get(planting.pot) if planting else None
        return f"{tree.name} {tree.species or ''} {pot.name if pot else ''}".lower().replace("_", " ")

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008  Qt's own signature
        return 0 if parent.isValid() else len(self.rows)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        tree = self._session.collection.trees.get(self.rows[index.row()])
        if tree is None:
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return tree.name
        return tree if role == Qt.ItemDataRole.UserRole else None


class TreeRow(QStyledItemDelegate):
    """Picture, name, species and the pot with its worst finding."""

    known = pyqtSignal()

    def __init__(self, session: Session, gallery: Gallery, runner: Runner) -> None:
        super().__init__()
        self._session, self._gallery, self._runner = session, gallery, runner
        self._status: dict[str, tuple[tuple[object, ...], tuple[str, str] | None]] = {}

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(120, fonts.scaled(ROW))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        tree = index.data(Qt.ItemDataRole.UserRole)
        if painter is None or not isinstance(tree, Tree):
            return
        t, box = self._session.theme, QRectF(option.rect)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.save()
        painter.setClipRect(box)
        if chosen:
            painter.fillRect(box, t.color("sheet"))
            painter.fillRect(QRectF(box.left(), box.top(), 3, box.height()), t.color("moss"))
        painter.setPen(QPen(t.color("rule"), 1))
        painter.drawLine(QLineF(box.left() + 12, box.bottom() - 0.5, box.right(), box.bottom() - 0.5))
        self._picture(painter, tree, box)
        if box.width() > 100:
            self._words(painter, tree, box, chosen)
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setPen(QPen(t.color("indigo"), 2))
            painter.drawRect(box.adjusted(1, 1, -2, -2))
        painter.restore()

    def _picture(self, painter: QPainter, tree: Tree, box: QRectF) -> None:
        c = self._session.collection
        planting = c.planting_of(tree.id)
        species = tables(c.species_rows, c.substrate_rows).species.get(tree.species or "")
        pot = c.pots.get(planting.pot) if planting else None
        draw_small_tree(painter, self._session.theme, self._gallery, tree, species, pot, planting, box)

    def _words(self, painter: QPainter, tree: Tree, box: QRectF, chosen: bool) -> None:
        t, c = self._session.theme, self._session.collection
        left, room = box.left() + 80, box.width() - 88

        def line(text: str, y: float, font: Any, role: str, dx: float = 0.0) -> None:
            painter.setFont(font)
            painter.setPen(t.color(role))
            painter.drawText(
                QPointF(left + dx, y), QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, room - dx)
            )

        species = tables(c.species_rows, c.substrate_rows).species.get(tree.species or "")
        step = box.height() / 72
        line(tree.name, box.top() + 22 * step, fonts.book(16, bold=chosen), "ink")
        line(species.common_name if species else "species not named", box.top() + 40 * step, fonts.text(13), "quiet")
        planting = c.planting_of(tree.id)
        pot = c.pots.get(planting.pot) if planting else None
        if pot is None:
            line("no pot yet", box.top() + 58 * step, fonts.text(13), "quiet")
            return
        status = self._worst(tree, pot.id)
        if status is not None:
            answer_mark(painter, t, *status, left + 6, box.top() + 53.5 * step, 12)
        line(pot.name, box.top() + 58 * step, fonts.text(13), "ink", 17)

    def forget(self) -> None:
        """Keep no verdict."""
        self._status.clear()

    def _worst(self, tree: Tree, pot: str) -> tuple[str, str] | None:
        """(question, status) of the gravest answer on a tree in its pot; None until it is known, the row is painted again then."""
        c, today = self._session.collection, self._session.today
        rests_on = _rests_on(c, tree, pot, today)
        before, status = self._status.get(tree.id, ((), None))
        # what did not change is the same object in both, so this looks at little more than where they lie
        if before != rests_on:
            self._status[tree.id] = (rests_on, status)
            work = partial(worst_of, c, tree.id, pot, today)

            def done(found: tuple[str, str]) -> None:
                self._status[tree.id] = (rests_on, found)
                self.known.emit()

            self._runner.start_later(f"worst/{tree.id}", work, done)
            status = self._status[tree.id][1]
        return status


def worst_of(c: Collection, tree: str, pot: str, today: date) -> tuple[str, str]:
    """(question, status) of the gravest answer on a tree in its pot, the years among it."""
    case = case_for(c, tree, pot_id=pot, today=today)
    question, answer = assess(case, c.pots[pot], years=shelf_checks(case, (c.pots[pot],))).answers.gravest
    return question, answer.status


def _rests_on(c: Collection, tree: Tree, pot: str, today: date) -> tuple[object, ...]:
    """All records a verdict hangs on."""
    planted = [p for p in c.plantings if tree.id == p.tree or pot == p.pot]
    # signs of its kin and the soil that sank elsewhere count as well
    logs = (c.events, [t.signs for t in c.trees.values()], [o for o in c.overrides if o.tree == tree.id])
    own = (tree, c.pots[pot], planted, c.briefs.get(tree.id), c.lineups.get(tree.id))
    return (*own, *logs, c.mixes, c.site, c.stock, c.species_rows, c.substrate_rows, today)


class TreeList(QWidget):
    """Title, search, list, and the way to add a tree."""

    chosen = pyqtSignal(str)
    add = pyqtSignal()

    def __init__(self, session: Session, gallery: Gallery, runner: Runner) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("list")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(220)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 12, 0, 0)
        column.setSpacing(2)
        head = QVBoxLayout()
        head.setContentsMargins(14, 0, 12, 4)
        head.setSpacing(2)
        self._title, self._count = title(""), quiet("")
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a tree, species or pot")
        self.search.setAccessibleName("Find a tree, species or pot")
        head.addWidget(self._title)
        head.addWidget(self._count)
        head.addSpacing(4)
        head.addWidget(self.search)
        column.addLayout(head)
        self.model = TreeModel(session)
        self.view = QListView()
        self.view.setModel(self.model)
        self.rows = TreeRow(session, gallery, runner)
        self.view.setItemDelegate(self.rows)
        self.view.setUniformItemSizes(True)
        self.view.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.view.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.view.setAccessibleName("Trees")
        column.addWidget(self.view, 1)
        foot = QVBoxLayout()
        foot.setContentsMargins(14, 5, 12, 7)
        self._add = button("+  Add a tree", self.add.emit, link=True, tip="Ctrl+N")
        foot.addWidget(self._add)
        column.addLayout(foot)
        self.search.textChanged.connect(self.model.search)
        selection = self.view.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(self._pick)
        for ready in (gallery.ready, self.rows.known):
            ready.connect(lambda: self.view.viewport().update())  # type: ignore[union-attr]
        self.refresh()

    def refresh(self) -> None:
        """Show the collection as it stands."""
        c = self._session.collection
        self._title.setText(c.name)
        self._count.setText(
            f"{counted(len(c.trees), 'tree').capitalize()}, {self._scale_words()}" if c.trees else "No tree yet"
        )
        self.model.refresh()
        if self._session.tree_id in self.model.rows:
            index = self.model.index(self.model.rows.index(self._session.tree_id))
            selection = self.view.selectionModel()
            if selection is not None and selection.currentIndex() != index:
                selection.setCurrentIndex(index, QItemSelectionModel.SelectionFlag.ClearAndSelect)

    def _scale_words(self) -> str:
        c = self._session.collection
        pots = {p.tree: c.pots.get(p.pot) for p in (c.planting_of(key) for key in c.trees) if p is not None}
        room = fonts.scaled(ROW) - BELOW_PX
        if any(drawn_part(tree, pots.get(key), room) > 1 for key, tree in c.trees.items()):
            return "one scale, ½ where marked"
        return "all drawn to one scale"

    def forget(self) -> None:
        """Another collection is open: verdicts of the one before are reckoned anew."""
        self.rows.forget()

    def fold(self, narrow: bool, width: int) -> None:
        """Only pictures in a narrow window."""
        self.setFixedWidth(width)
        for widget in (self._title, self._count, self.search, self._add):
            widget.setVisible(not narrow)

    def _pick(self, now: QModelIndex, before: QModelIndex) -> None:
        if now.isValid():
            self.chosen.emit(self.model.rows[now.row()])
