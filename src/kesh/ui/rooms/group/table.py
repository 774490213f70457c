"""The trees of a group as a table: name, thickness, height, lean and root room; every cell but the last is written in."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from kesh.advice.group.plan import GroupPlan, with_row
from kesh.base.errors import KeshError
from kesh.desk.group import lean_words, parse_lean, renamed
from kesh.model import GroupTree, Tree
from kesh.ui.session import Session
from kesh.ui.theme import fonts

HEADS = ("trunk", "thick", "height", "lean", "room, l")
NAME, THICK, HEIGHT, LEAN, ROOM = range(5)
TIPS = (
    "Its name; a • is pinned: it keeps its place", "Thickness a finger's breadth above the soil", "From the soil to the tip",
    "How many degrees and where to: 5 left, 8 back right", "Soil nearest to it",
)  # fmt: skip
MOST = 9


class GroupTable(QTableWidget):
    """`chosen` names the tree of the row in hand, `changed` sends the whole tree after a cell was written, with what to call it."""

    chosen = pyqtSignal(str)
    changed = pyqtSignal(str, object)

    def __init__(self, session: Session) -> None:
        super().__init__(0, len(HEADS))
        self.session = session
        self._tree: Tree | None = None
        self._shown = False
        self.setHorizontalHeaderLabels(HEADS)
        for n, tip in enumerate(TIPS):
            item = self.horizontalHeaderItem(n)
            if item is not None:
                item.setToolTip(tip)
                item.setTextAlignment(Qt.AlignmentFlag.AlignLeft if n == NAME else Qt.AlignmentFlag.AlignRight)
        side, top = self.verticalHeader(), self.horizontalHeader()
        if side is not None:
            side.hide()
            side.setDefaultSectionSize(fonts.scaled(23))
        if top is not None:
            top.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
            top.setSectionResizeMode(LEAN, QHeaderView.ResizeMode.Stretch)
            for n, wide in ((NAME, 38), (THICK, 42), (HEIGHT, 46), (ROOM, 52)):
                self.setColumnWidth(n, fonts.scaled(wide))
        self.setShowGrid(False)
        t = session.theme
        self.setStyleSheet(
            f"QHeaderView, QHeaderView::section {{ background: {t.panel}; padding: 2px 3px; }} QTableView::item {{ padding: 0 3px; }}"
        )
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setTabKeyNavigation(False)
        self.setAccessibleName("Trees of the group")
        self.cellChanged.connect(self._written)
        self.currentCellChanged.connect(lambda row, *_: self._chosen(row))

    def show_group(self, plan: GroupPlan, *, editable: bool = True) -> None:
        """Show the trees of a plan; those of a proposal are only read."""
        self._tree, self._shown = plan.tree, False
        u = self.session.units
        room = {g.id: float(v) for g, v in zip(plan.rows, plan.room_l, strict=True)}
        rows = plan.tree.group
        self.setRowCount(len(rows))
        for n, row in enumerate(rows):
            # in the table lean is as wide as its words; a spare has no room yet
            cells = (
                ("• " if row.fixed else "") + row.id, "" if row.diameter_mm is None else u.figure(row.diameter_mm),
                "" if row.height_mm is None else u.figure(row.height_mm), lean_words(row),
                f"{room[row.id]:.2f}" if row.id in room else "dead" if not row.alive else "spare" if not row.placed else "",
            )  # fmt: skip
            for k, text in enumerate(cells):
                item = QTableWidgetItem(text)
                flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
                if k != ROOM and editable:
                    flags |= Qt.ItemFlag.ItemIsEditable
                item.setFlags(flags)
                item.setTextAlignment(
                    (Qt.AlignmentFlag.AlignLeft if k == NAME else Qt.AlignmentFlag.AlignRight)
                    | Qt.AlignmentFlag.AlignVCenter
                )
                self.setItem(n, k, item)
        self.setFixedHeight(min(len(rows), MOST) * fonts.scaled(23) + fonts.scaled(28))
        self._shown = True

    def show_chosen(self, key: str) -> None:
        """The row of the trunk in hand."""
        if self._tree is None:
            return
        n = next((i for i, g in enumerate(self._tree.group) if g.id == key), None)
        self._shown = False
        if n is None:
            self.clearSelection()
        elif n != self.currentRow():
            self.setCurrentCell(n, NAME)
        self._shown = True

    def _chosen(self, n: int) -> None:
        if self._shown and self._tree is not None and 0 <= n < len(self._tree.group):
            self.chosen.emit(self._tree.group[n].id)

    def _written(self, n: int, column: int) -> None:
        tree = self._tree
        item = self.item(n, column)
        if not self._shown or tree is None or item is None or n >= len(tree.group):
            return
        row = tree.group[n]
        try:
            self.changed.emit(f"Tree {row.id} of the group", self._changed(tree, row, column, item))
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.changed.emit("", None)

    def _changed(self, tree: Tree, row: GroupTree, column: int, item: QTableWidgetItem) -> Tree:
        """The tree with what was written. Raises KeshError."""
        u, text = self.session.units, item.text().strip()
        if column == NAME:
            return renamed(tree, row.id, text.removeprefix("•"))
        if column == THICK:
            return with_row(tree, row.id, diameter_mm=u.parse_mm(text, "thickness") if text else None)
        if column == HEIGHT:
            return with_row(tree, row.id, height_mm=u.parse_mm(text, "height") if text else None)
        lean, azimuth = parse_lean(text)
        return with_row(tree, row.id, lean_deg=lean, azimuth_deg=azimuth)
