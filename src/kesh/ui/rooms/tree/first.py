"""Where nothing stands yet: one card with five things, and the tree as a ghost that is dragged to its size."""

from dataclasses import replace

from PyQt6.QtCore import QLineF, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from kesh.base.errors import KeshError
from kesh.desk.first import CUP_MM, STYLES, FirstTree
from kesh.desk.group_words import EXAMPLE, group_of
from kesh.reference.find import species_like
from kesh.ui.paint.gallery import Gallery, view_of
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import button, quiet
from kesh.ui.widgets.fields import MeasureEdit
from kesh.ui.widgets.ghost import Ghost
from kesh.ui.widgets.style_strip import StyleStrip

SHOWN_HITS = 5
KEY = Qt.ItemDataRole.UserRole


class GhostView(Ghost):
    """The tree that is meant: its top and the edge of its trunk are dragged."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, "The tree to scale; drag its top and the edge of its trunk")
        self._gallery = gallery
        self.first = FirstTree()
        gallery.ready.connect(self.update)

    @property
    def px_mm(self) -> float:
        """So that the tree fills the view with room to grow."""
        m = self.first.ghost().measure
        high = (m.height_mm or 400.0) + (m.drop_mm or 0.0)
        return min(
            (self.height() - 46) / (1.18 * max(high, 1.6 * CUP_MM)), (self.width() - 150) / (1.25 * high + CUP_MM)
        )

    def foot(self) -> QPointF:
        drop = (self.first.ghost().measure.drop_mm or 0.0) * self.px_mm
        return QPointF(self.width() * 0.58, self.height() - 18 - drop)

    def grips(self) -> dict[str, QPointF]:
        """Where top and trunk are taken."""
        m, foot, k = self.first.ghost().measure, self.foot(), self.px_mm
        height, trunk = m.height_mm or 0.0, m.trunk_diameter_mm or 0.0
        return {
            "height_mm": QPointF(foot.x() - 0.46 * height * k, foot.y() - height * k),
            "trunk_mm": QPointF(foot.x() + trunk / 2 * k, foot.y() - 0.1 * height * k),
        }

    def mm_at(self, key: str, at: QPointF) -> float:
        foot, k = self.foot(), self.px_mm
        if key == "height_mm":
            return float(min(max(round((foot.y() - at.y()) / k), 20), 5000))
        return float(min(max(round(2 * (at.x() - foot.x()) / k), 3), 1500))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        tree, foot, k, u = self.first.ghost(), self.foot(), self.px_mm, self._session.units
        height, trunk = tree.measure.height_mm or 0.0, tree.measure.trunk_diameter_mm or 0.0
        painter = self.begin(event, height * 1.12)
        species = self._session.tables.species.get(self.first.species or "")
        view = view_of(tree, species, self._session.theme, k, self.devicePixelRatioF())
        painter.setOpacity(0.55 if self.first.missing else 1.0)
        if view is not None:
            self._gallery.draw(painter, view, foot)
        painter.setOpacity(1.0)
        self.cup(painter, foot.x() - 0.46 * height * k - 8)
        top, edge = self.grips()["height_mm"], self.grips()["trunk_mm"]
        painter.setPen(QPen(self._session.theme.color("moss"), 1.4))
        painter.drawLine(QLineF(top.x(), top.y(), top.x(), foot.y()))
        self.grip(painter, "height_mm", u.figure(height), known=bool(self.first.sizes[0]),
                  line=QLineF(top.x(), top.y(), foot.x(), top.y()))  # fmt: skip
        self.grip(painter, "trunk_mm", u.figure(trunk), known=bool(self.first.sizes[1]),
                  line=QLineF(foot.x() - trunk / 2 * k, edge.y(), edge.x(), edge.y()))  # fmt: skip


class FirstTreeCard(QWidget):
    """One card, three ways in. Nothing is written before it stands."""

    stand = pyqtSignal(object)
    bring = pyqtSignal()
    demo = pyqtSignal()
    leave = pyqtSignal()
    turned = pyqtSignal()

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__()
        self._session = session
        self.first = FirstTree()
        self.setObjectName("sheet")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 6, 14, 10)
        column.setSpacing(6)
        middle = QHBoxLayout()
        middle.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(4)
        self.name, self.species = QLineEdit(), QLineEdit()
        self.name.setAccessibleName("Name of the tree")
        self.name.setPlaceholderText("any name you know it by")
        self.species.setAccessibleName("Species, any part of any name")
        self.species.setPlaceholderText("any part of it: hornb, pinus…")
        self.hits = QListWidget()
        self.hits.setAccessibleName("Species that match")
        # five names where there is room, two where letters are large; it never runs into what is below it
        self.hits.setMinimumHeight(fonts.scaled(42))
        self.hits.setMaximumHeight(fonts.scaled(118))
        self.hits.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.height_edit, self.trunk_edit = (
            MeasureEdit(session, "Height"),
            MeasureEdit(session, "Trunk above the flare"),
        )
        self.said = quiet("")
        left.addWidget(_numbered("1", "Name"))
        left.addWidget(self.name)
        left.addWidget(_numbered("2", "Species", "any part of it"))
        left.addWidget(self.species)
        left.addWidget(self.hits, 3)
        sizes = QHBoxLayout()
        for number, label, field in (("3", "Height", self.height_edit), ("4", "Trunk", self.trunk_edit)):
            part = QVBoxLayout()
            part.addWidget(_numbered(number, label))
            part.addWidget(field)
            sizes.addLayout(part)
        sizes.addStretch(1)
        left.addLayout(sizes)
        self.spread_edit, self.drop_edit = MeasureEdit(session, "Spread"), MeasureEdit(session, "Hangs below the soil")
        self.group_line = QLineEdit()
        self.group_line.setAccessibleName("Its trees in a line")
        self.group_line.setPlaceholderText(EXAMPLE)
        self.rows: dict[str, QWidget] = {}
        asked: tuple[tuple[str, str, QLineEdit], ...] = (
            ("spread", "Spread", self.spread_edit), ("drop", "Hangs below the soil", self.drop_edit), ("group", "Its trees", self.group_line),
        )  # fmt: skip
        for key, label, edit in asked:
            made = self.rows[key] = QWidget()
            line = QVBoxLayout(made) if key == "group" else QHBoxLayout(made)
            line.setContentsMargins(0, 0, 0, 0)
            line.setSpacing(4)
            line.addWidget(quiet(label))
            line.addWidget(edit)
            left.addWidget(made)
        left.addStretch(1)
        holder = QWidget()
        holder.setLayout(left)
        holder.setFixedWidth(fonts.scaled(240))
        session.look_changed.connect(lambda: holder.setFixedWidth(min(fonts.scaled(240), max(self.width() // 2, 240))))
        left.setContentsMargins(0, 0, 0, 0)
        self.ghost = GhostView(session, gallery)
        middle.addWidget(holder)
        middle.addWidget(self.ghost, 1)
        column.addLayout(middle, 1)
        over = QHBoxLayout()
        over.addWidget(_numbered("5", "Style", "take one in hand"))
        over.addStretch(1)
        self.said.setWordWrap(False)
        over.addWidget(self.said)
        column.addLayout(over)
        self.styles = StyleStrip(session, gallery, STYLES)
        self.styles.show_key(self.first.style)
        column.addWidget(self.styles)
        foot = QHBoxLayout()
        foot.setSpacing(22)
        self.ways = (
            button(
                "Bring in a list or a bundle",
                self.bring.emit,
                link=True,
                tip="A table of trees or pots as you keep it (Ctrl+I)",
            ),
            button(
                "Look round the demo bench", self.demo.emit, link=True, tip="An invented collection; leave it any time"
            ),
        )
        self.back = button("Leave it", self.leave.emit, link=True, tip="Nothing is written")
        for way in (*self.ways, self.back):
            foot.addWidget(way)
        foot.addStretch(1)
        self.main = button("Let it stand here", self.put, main=True)
        foot.addWidget(self.main)
        column.addLayout(foot)
        self.name.textChanged.connect(lambda text: self._say(name=text))
        self.species.textEdited.connect(self._look)
        self.species.returnPressed.connect(self._first_hit)
        self.species.installEventFilter(self)
        self.hits.itemClicked.connect(self._pick)
        self.hits.itemActivated.connect(self._pick)
        self.styles.chosen.connect(lambda key: self._say(style=key))
        self.height_edit.entered.connect(lambda mm: self._say(height_mm=mm))
        self.trunk_edit.entered.connect(lambda mm: self._say(trunk_mm=mm))
        self.spread_edit.entered.connect(lambda mm: self._say(spread_mm=mm))
        self.drop_edit.entered.connect(lambda mm: self._say(drop_mm=mm))
        self.group_line.editingFinished.connect(self._group)
        self.ghost.sized.connect(self._dragged)
        for typed in (self.name, self.height_edit, self.trunk_edit, self.spread_edit, self.drop_edit, self.group_line):
            typed.returnPressed.connect(self._next)
        self.begin(empty=True)

    def begin(self, *, empty: bool) -> None:
        """A blank card; the ways in stand only where there is nothing else yet."""
        self.first = FirstTree()
        self.name.clear()
        self.species.clear()
        self.group_line.clear()
        for field in (self.height_edit, self.trunk_edit, self.spread_edit, self.drop_edit):
            field.clear()
            field.show_mm(None)
        self.styles.show_key(self.first.style)
        for way in self.ways:
            way.setVisible(empty)
        self.back.setVisible(not empty)
        self._look("")
        self._say()

    def _say(self, **fields: object) -> None:
        self.first = replace(self.first, **fields)  # type: ignore[arg-type]
        self.ghost.first = self.first
        self.ghost.update()
        self.said.setText(self.first.fault or self.first.sentence(self._session.units))
        self.rows["drop"].setVisible(self.first.hangs)
        self.rows["group"].setVisible(self.first.several)
        usual, u = self.first.usual_spread_mm(), self._session.units
        self.spread_edit.setPlaceholderText("……" if usual is None else f"{u.figure(usual)} ± {u.figure(usual / 4)}")
        self.spread_edit.setToolTip("Left empty, the style's usual spread is taken, and said to be so")
        self.turned.emit()

    def _group(self) -> None:
        text = self.group_line.text().strip()
        try:
            self._say(group=group_of(text, self._session.units) if text else ())
        except KeshError as err:
            self._session.said.emit("no", str(err))
            self._say(group=())

    def _dragged(self, field: str, mm: float) -> None:
        (self.height_edit if field == "height_mm" else self.trunk_edit).show_mm(mm)
        self._say(**{field: mm})

    def _look(self, text: str) -> None:
        listed = self._session.tables.species
        hits = species_like(text, listed) if text.strip() else []
        self.hits.clear()
        for hit in hits[:SHOWN_HITS]:
            near = f" ({hit.why.removeprefix('near: ')})" if hit.near else ""
            item = QListWidgetItem(f"{hit.name}{near}\n{hit.botanical}")
            item.setData(KEY, hit.key)
            self.hits.addItem(item)
        # as high as what it lists: what is below it follows
        rows = min(len(hits), SHOWN_HITS) * 2 or (2 if text.strip() else 1)
        self.hits.setMaximumHeight(fonts.scaled(min(118, 8 + 19 * rows)))
        self.hits.setMinimumHeight(min(fonts.scaled(42), self.hits.maximumHeight()))
        if hits:
            self.hits.setCurrentRow(0)
        elif text.strip():
            item = QListWidgetItem("No species of that name is in the table;\nleave it blank, name it later")
            item.setFlags(Qt.ItemFlag.NoItemFlags)
            self.hits.addItem(item)
        else:
            item = QListWidgetItem(f"{len(listed)} species and groups; it may stay blank")
            item.setFlags(Qt.ItemFlag.NoItemFlags)
            self.hits.addItem(item)
        if self.first.species is not None:
            self._say(species=None)

    def eventFilter(self, watched: object, event: object) -> bool:
        if watched is self.species and isinstance(event, QKeyEvent) and event.type() == QKeyEvent.Type.KeyPress:
            steps = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}
            if Qt.Key(event.key()) in steps and self.hits.count():
                row = self.hits.currentRow() + steps[Qt.Key(event.key())]
                self.hits.setCurrentRow(max(0, min(self.hits.count() - 1, row)))
                return True
        return super().eventFilter(watched, event)  # type: ignore[arg-type]

    def _first_hit(self) -> None:
        item = self.hits.currentItem()
        if item is not None:
            self._pick(item)
        self._next()

    def _pick(self, item: QListWidgetItem) -> None:
        key = item.data(KEY)
        if key:
            self.species.setText(self._session.tables.species[key].common_name or key)
            self._say(species=key)

    def _next(self) -> None:
        """Enter goes to the next thing that is missing; when nothing is, it stands."""
        order = (
            (self.name, self.first.name.strip()), (self.species, self.first.species or self.species.text()),
            *(((self.group_line, self.first.group),) if self.first.several else ()),
            (self.height_edit, self.first.sizes[0]), (self.trunk_edit, self.first.sizes[1]),
            *(((self.drop_edit, self.first.drop_mm),) if self.first.hangs else ()),
        )  # fmt: skip
        now = self.focusWidget()
        for field, value in order:
            if not value and field is not now:
                field.setFocus()
                return
        self.put()

    def put(self) -> None:
        """It stands, where nothing is missing."""
        if not self.first.missing:
            self.stand.emit(self.first)


def _numbered(number: str, text: str, note: str = "") -> QLabel:
    """The head of one of the five."""
    made = QLabel(f"<b>{number}</b>&nbsp; {text}" + (f"&nbsp;&nbsp;<i>{note}</i>" if note else ""))
    made.setProperty("quiet", True)
    return made
