"""A list before it is taken: which column was taken for what, and what becomes of every row."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from kesh.base.units import Units
from kesh.base.words import counted
from kesh.formats.lists.read import Imported, RowRead
from kesh.model import Tree
from kesh.ui.asker import Asker
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme
from kesh.ui.widgets.common import button, quiet, title

MOST_SHOWN = 400
SIGN = {"fits": "●", "watch": "◐", "no": "⊘"}


def row_words(row: RowRead, units: Units) -> tuple[str, str, str, str]:
    """(status, line, what it became, what is said of it)."""
    if row.record is None:
        return "no", str(row.line), "left out", row.told
    if isinstance(row.record, Tree):
        height = row.record.measure.height_mm
        what = f"{row.record.name}, {units.mm(height) if height else 'no height'}"
    else:
        p = row.record
        what = f"{p.name}, {units.figure(p.length_mm)} × {units.figure(p.width_mm)} × {units.mm(p.height_mm)}"
    return ("watch" if row.told else "fits"), str(row.line), what, row.told


class ListPreview(QDialog):
    """Columns above, rows below; nothing is written before the main button."""

    def __init__(self, parent: QWidget, theme: Theme, name: str, found: Imported, units: Units) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"What was understood of {name}")
        self.resize(fonts.scaled(760), fonts.scaled(520))
        self.setStyleSheet(f"QDialog {{ background: {theme.panel}; }}")
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        kind = "tree" if found.trees else "pot"
        taken = len(found.trees or found.pots)
        column.addWidget(
            title(f"{counted(taken, kind).capitalize()} of {counted(len(found.rows), 'row')} can be taken")
        )
        said = [f"{words} → {field}" for words, field in found.understood.lines()]
        self.columns = quiet("   ".join(said))
        column.addWidget(self.columns)
        self.rows = QTableWidget(min(len(found.rows), MOST_SHOWN), 3)
        self.rows.setHorizontalHeaderLabels(["Line", "Becomes", "Note"])
        self.rows.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.rows.setAccessibleName("Rows of the list")
        # what is wrong stands first, in the order of the file
        order = sorted(found.rows, key=lambda r: (r.record is not None, not r.told, r.line))
        for i, row in enumerate(order[:MOST_SHOWN]):
            status, line, what, told = row_words(row, units)
            for k, text in enumerate((line, f"{SIGN[status]}  {what}", told)):
                item = QTableWidgetItem(text)
                item.setToolTip(text)
                self.rows.setItem(i, k, item)
        across, down = self.rows.horizontalHeader(), self.rows.verticalHeader()
        assert across is not None
        assert down is not None
        across.setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        across.setSectionResizeMode(1, QHeaderView.ResizeMode.Interactive)
        self.rows.setColumnWidth(1, fonts.scaled(300))
        across.setStretchLastSection(True)
        down.hide()
        column.addWidget(self.rows, 1)
        if len(found.rows) > MOST_SHOWN:
            column.addWidget(quiet(f"The first {MOST_SHOWN} of {len(found.rows)} rows, those with a note first."))
        foot = QHBoxLayout()
        foot.addStretch(1)
        leave = button("Leave it", self.reject)
        self.take = button(f"Take {counted(taken, kind)}", self.accept, main=True)
        self.take.setEnabled(taken > 0)
        self.take.setDefault(True)
        foot.addWidget(leave)
        foot.addWidget(self.take)
        column.addLayout(foot)
        self.setModal(True)
        self.setWindowFlag(Qt.WindowType.Sheet, False)

    @classmethod
    def ask(cls, asker: Asker, parent: QWidget, theme: Theme, name: str, found: Imported, units: Units) -> bool:
        """Show it; whether its rows are to be taken."""
        return asker.agree(cls(parent, theme, name, found, units))
