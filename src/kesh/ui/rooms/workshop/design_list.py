"""The list of designs, each drawn small to one scale, with its size and its worst finding."""

from PyQt6.QtCore import QLineF, QModelIndex, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen
from PyQt6.QtWidgets import (
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from kesh.desk.workshop import designs
from kesh.model import Pot
from kesh.ui.paint.marks import status_mark
from kesh.ui.paint.pot_painter import draw_pot
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import button, quiet, title

ROW, PICTURE_PX = 72, 62.0
KEY = Qt.ItemDataRole.UserRole


class DesignRow(QStyledItemDelegate):
    """Picture, name, tree, size."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.px_mm = 0.14

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(120, fonts.scaled(ROW))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        pot = self._session.collection.pots.get(str(index.data(KEY)))
        if painter is None or pot is None:
            return
        t, u, box = self._session.theme, self._session.units, QRectF(option.rect)
        painter.save()
        painter.setClipRect(box)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(box, t.color("sheet"))
            painter.fillRect(QRectF(box.left(), box.top(), 3, box.height()), t.color("moss"))
        painter.setPen(QPen(t.color("rule"), 1))
        painter.drawLine(QLineF(box.left() + 12, box.bottom() - 0.5, box.right(), box.bottom() - 0.5))
        ground = QPointF(box.left() + 10 + PICTURE_PX / 2, box.bottom() - 14)
        painter.setPen(QPen(t.color("edge"), 1))
        painter.drawLine(QLineF(ground.x() - PICTURE_PX / 2, ground.y(), ground.x() + PICTURE_PX / 2, ground.y()))
        painter.save()
        painter.translate(ground)
        painter.scale(self.px_mm, self.px_mm)
        draw_pot(painter, pot.changed(state="shelf"), t, self.px_mm, shadow=False)
        painter.restore()
        x, room = box.left() + PICTURE_PX + 20, box.width() - PICTURE_PX - 26
        tree = self._session.collection.trees.get(pot.made_for or "")
        painter.setPen(t.color("ink"))
        for text, font, y, role in (
            (pot.name, fonts.book(17), 22, "ink"), (tree.name if tree else "no tree", fonts.text(13), 41, "quiet"),
            (f"{u.figure(pot.length_mm)} × {u.figure(pot.width_mm)} × {u.figure(pot.height_mm)}", fonts.text(13), 60, "ink"),
        ):  # fmt: skip
            painter.setFont(font)
            painter.setPen(t.color(role))
            shown = QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, room)
            painter.drawText(QPointF(x + (16 if y == 60 else 0), box.top() + fonts.scaled(y)), shown)
        status_mark(painter, t, self._status(pot), x + 6, box.top() + fonts.scaled(60) - 4, 10)
        painter.restore()

    def _status(self, pot: Pot) -> str:
        a = self._session.design_assessment(pot)
        return "unknown" if a is None else a.verdict


class DesignList(QWidget):
    """Title, search, rows, and the way to a new design."""

    chosen = pyqtSignal(str)
    add = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.drill = False
        self.setObjectName("list")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 12, 0, 8)
        column.setSpacing(2)
        self.head, self.note = title("Designs"), quiet("")
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a design or tree")
        self.search.setAccessibleName("Find a design or tree")
        self.search.textChanged.connect(lambda _: self.refresh())
        self.view = QListWidget()
        self.view.setAccessibleName("Designs")
        self.row = DesignRow(session)
        self.view.setItemDelegate(self.row)
        self.view.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.view.currentItemChanged.connect(lambda now, _: self.chosen.emit(str(now.data(KEY))) if now else None)
        self.new = button("+  Draw a pot", self.add.emit, link=True)
        for widget, left in ((self.head, 14), (self.note, 14), (self.search, 12), (self.view, 0), (self.new, 14)):
            holder = QVBoxLayout()
            holder.setContentsMargins(left, 0, left if left == 12 else 0, 0)
            holder.addWidget(widget)
            column.addLayout(holder, 1 if widget is self.view else 0)

    @property
    def pot_id(self) -> str:
        """The design in hand."""
        item = self.view.currentItem()
        return str(item.data(KEY)) if item else ""

    def refresh(self) -> None:
        """Read the collection again and keep the choice."""
        found = designs(self._session.collection, self.search.text(), drill=self.drill)
        keys, here = [p.id for p in found], self.pot_id
        self.head.setText("Pots to drill" if self.drill else "Designs")
        self.note.setText(
            f"{len(found)} pots, all to one scale" if self.drill else f"{len(found)} drawn, all to one scale"
        )
        longest = max((p.length_mm for p in found), default=400.0)
        tallest = max((p.height_mm for p in found), default=100.0)
        self.row.px_mm = min(PICTURE_PX / longest, 44.0 / tallest)
        if [str(self.view.item(i).data(KEY)) for i in range(self.view.count())] != keys:  # type: ignore[union-attr]
            self.view.blockSignals(True)
            self.view.clear()
            for pot in found:
                item = QListWidgetItem(pot.name)
                item.setData(KEY, pot.id)
                self.view.addItem(item)
            self.view.blockSignals(False)
            self.choose(here if here in keys else keys[0] if keys else "")
            if not keys:
                self.chosen.emit("")
        viewport = self.view.viewport()
        if viewport is not None:
            viewport.update()

    def choose(self, pot_id: str) -> None:
        """Take a design in hand."""
        for i in range(self.view.count()):
            item = self.view.item(i)
            if item is not None and str(item.data(KEY)) == pot_id:
                self.view.setCurrentItem(item)
                self.chosen.emit(pot_id)
                return
