"""Bring in a list of pots: every row as it came, drawn as it is read, each cell open to be mended; nothing is taken before the button."""

from collections.abc import Callable, Mapping
from typing import TypeVar

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from kesh.base.units import Units
from kesh.base.words import counted
from kesh.desk.brought_list import (
    FIELDS,
    UNITS,
    BroughtList,
    hole_words,
    look_words,
    price_words,
    size_words,
    status_of,
)
from kesh.formats.lists.spoken.pots import SpokenPot
from kesh.model import Pot
from kesh.ui.paint.marks import status_mark
from kesh.ui.paint.pot_painter import draw_pot
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_WORD, Theme
from kesh.ui.widgets.common import Sheet, button, quiet, title

K = TypeVar("K")
MOST_SHOWN = 400
# widths of the columns: line, as it came, drawing, then the cells
LINE, CAME, DRAWN = 34, 190, 124
WIDTHS = {"name": 130, "sizes": 120, "holes": 100, "look": 190, "price": 70}
HEADS = {"name": "name", "sizes": "sizes", "holes": "holes", "look": "outline, colour, finish", "price": "price"}
LARGEST_PX = 96.0


class _Drawn(QWidget):
    """The pot of a row to one scale with the others, and how sure the row is."""

    def __init__(self, theme: Theme, line: int, came: str) -> None:
        super().__init__()
        self.theme, self.line, self.came = theme, line, came
        self.pot: Pot | None = None
        self.px_mm = 0.2
        self.setFixedSize(fonts.scaled(LINE + CAME + DRAWN), fonts.scaled(56))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, t = QPainter(self), self.theme
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(t.color("quiet"))
        p.setFont(fonts.text(13, italic=True))
        p.drawText(QRectF(4, 4, fonts.scaled(LINE), 20), str(self.line))
        p.setFont(fonts.text(13))
        box = QRectF(fonts.scaled(LINE), 4, fonts.scaled(CAME) - 12, self.height() - 8)
        p.drawText(box, int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop), self.came)
        left, floor = fonts.scaled(LINE + CAME), self.height() - 8
        p.setPen(QPen(t.color("edge"), 1))
        p.drawLine(int(left), floor, self.width() - 10, floor)
        p.save()
        p.translate(left + fonts.scaled(DRAWN) / 2 - 6, floor)
        if self.pot is not None:
            p.scale(self.px_mm, self.px_mm)
            draw_pot(p, self.pot, t, self.px_mm, shadow=False)
        else:
            # nothing certain to draw: a dotted place for it
            p.setPen(QPen(t.color("quiet"), 1, Qt.PenStyle.DotLine))
            p.drawRoundedRect(QRectF(-30, -22, 60, 22), 4, 4)
        p.restore()


class _Mark(QWidget):
    """The sign of a row."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme, self.status = theme, "fits"
        self.setFixedSize(24, 24)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        status_mark(p, self.theme, self.status, 6, 6, 12)


class _Row(QWidget):
    """One row: what it came as, its pot, its cells and its doubt."""

    def __init__(self, sheet: "ListSheet", row: SpokenPot) -> None:
        super().__init__()
        self.line = row.line
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 4)
        column.setSpacing(0)
        across = QHBoxLayout()
        across.setSpacing(6)
        self.drawn = _Drawn(sheet.theme, row.line, sheet.brought.came_as(row.line))
        across.addWidget(self.drawn)
        self.cells: dict[str, QLineEdit] = {}
        for name in FIELDS:
            cell = QLineEdit()
            cell.setFixedWidth(fonts.scaled(WIDTHS[name]))
            cell.setAccessibleName(f"{HEADS[name]}, line {row.line}")
            cell.editingFinished.connect(lambda n=name, c=cell: sheet.mend(self.line, n, c.text()))
            self.cells[name] = cell
            across.addWidget(cell)
        self.mark = _Mark(sheet.theme)
        across.addWidget(self.mark)
        across.addStretch(1)
        column.addLayout(across)
        self.doubt = quiet("")
        self.doubt.setIndent(fonts.scaled(LINE + CAME + DRAWN) + 6)
        column.addWidget(self.doubt)
        self.shown: dict[str, str] = {}

    def show_row(self, row: SpokenPot, pot: Pot | None, px_mm: float, units: Units) -> None:
        """Show a row as it is read now."""
        told = {
            "name": row.name,
            "sizes": size_words(row, units),
            "holes": hole_words(row),
            "look": look_words(row),
            "price": price_words(row),
        }
        for name, cell in self.cells.items():
            cell.setText(told[name])
            cell.setCursorPosition(0)
            cell.setPlaceholderText({"sizes": "… × … × …", "price": ""}.get(name, "not said"))
        self.shown = told
        self.drawn.pot, self.drawn.px_mm = pot, px_mm
        self.mark.status = status_of(row)
        self.mark.setToolTip(STATUS_WORD[self.mark.status])
        self.doubt.setText("; ".join(row.doubts))
        self.doubt.setVisible(bool(row.doubts))
        self.drawn.update()
        self.mark.update()


class ListSheet(Sheet):
    """The list in hand; rows in doubt stand first, the unit is asked once."""

    def __init__(self, parent: QWidget | None, theme: Theme, name: str, brought: BroughtList) -> None:
        super().__init__(parent)
        self.theme, self.brought = theme, brought
        self.setWindowTitle(f"Bring in {name}")
        self.resize(fonts.scaled(1060), fonts.scaled(680))
        self.setStyleSheet(f"QDialog, QScrollArea, QScrollArea > QWidget > QWidget {{ background: {theme.sheet}; }}")
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 16, 24, 16)
        self.head = title("", 24)
        column.addWidget(self.head)
        column.addWidget(
            quiet(f"{name}; nothing is taken before you say so. Tab goes from cell to cell, every cell can be mended.")
        )
        self.units = QButtonGroup(self)
        if brought.asks_unit():
            column.addLayout(self._unit_bar())
        if brought.same_named:
            column.addLayout(self._same_bar())
        column.addLayout(self._heads())
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inner = QWidget()
        self.list = QVBoxLayout(inner)
        self.list.setContentsMargins(0, 0, 0, 0)
        self.list.setSpacing(0)
        area.setWidget(inner)
        column.addWidget(area, 1)
        found = brought.read()
        order = sorted(found.rows, key=lambda r: ({"unknown": 0, "watch": 1, "fits": 2}[status_of(r)], r.line))
        self.rows = {row.line: _Row(self, row) for row in order[:MOST_SHOWN]}
        for one in self.rows.values():
            self.list.addWidget(one)
        self.list.addStretch(1)
        if len(found.rows) > MOST_SHOWN:
            column.addWidget(
                quiet(f"{len(found.rows) - MOST_SHOWN} more rows, all understood, are not shown and are taken too.")
            )
        self.left = quiet("; ".join(f"line {line}: {why}" for line, why in found.refused))
        self.left.setVisible(bool(found.refused))
        column.addWidget(self.left)
        foot = QHBoxLayout()
        foot.addStretch(1)
        self.leave = button("Leave it", self.reject)
        self.take = button("", self.accept, main=True)
        foot.addWidget(self.leave)
        foot.addWidget(self.take)
        column.addLayout(foot)
        self.setModal(True)
        self.refresh()

    def _heads(self) -> QHBoxLayout:
        line = QHBoxLayout()
        line.setSpacing(0)
        gap, unit = 6, self.brought.units.length
        told = (
            ("line", LINE, 0),
            ("as it came", CAME, 0),
            ("as it is read", DRAWN, gap),
            *((HEADS[n] + (f", {unit}" if n == "sizes" else ""), WIDTHS[n], gap) for n in FIELDS),
        )
        for name, width, space in told:
            label = quiet(name)
            label.setWordWrap(False)
            label.setFixedWidth(fonts.scaled(width) + space)
            line.addWidget(label)
        line.addStretch(1)
        return line

    def _unit_bar(self) -> QHBoxLayout:
        brought = self.brought
        options = {unit: f"{name}: {brought.example(unit)} {brought.units.length}" for unit, name in UNITS.items()}
        now = brought.unit or brought.read().unit
        return self._bar("The figures have no unit.", self.units, options, now, self.choose_unit)

    def _same_bar(self) -> QHBoxLayout:
        """What becomes of rows that are called as pots that are here."""
        count, self.same = self.brought.same_named, QButtonGroup(self)
        told = f"{counted(count, 'row')} {'is' if count == 1 else 'are'} called as pots that are here."
        options = {True: "They change those pots", False: "They come in beside them"}
        return self._bar(told, self.same, options, self.brought.changes, self.choose_same)

    def _bar(
        self, told: str, group: QButtonGroup, options: Mapping[K, str], now: object, choose: Callable[[K], None]
    ) -> QHBoxLayout:
        """A question with its answers side by side, one of them pressed."""
        bar = QHBoxLayout()
        bar.addWidget(quiet(told))
        for key, words in options.items():
            one = QPushButton(words)
            one.setCheckable(True)
            one.setChecked(key == now)
            one.setAutoDefault(False)
            one.clicked.connect(lambda _=False, k=key: choose(k))
            group.addButton(one)
            bar.addWidget(one)
        bar.addStretch(1)
        return bar

    def choose_same(self, change: bool) -> None:
        """Rows of known names change those pots, or come in beside them."""
        self.brought.change = change
        self.refresh()

    def choose_unit(self, unit: str) -> None:
        """Read the bare figures in another unit."""
        self.brought.unit = unit
        self.refresh()

    def mend(self, line: int, name: str, text: str) -> None:
        """What was typed into a cell, read like the list itself."""
        row = self.rows[line]
        if text == row.shown.get(name):
            return
        self.brought.mend(line, name, text)
        self.refresh()

    def refresh(self) -> None:
        """Every row as it is read now."""
        found = {row.line: row for row in self.brought.read().rows}
        pots = {line: self.brought.drawn(row) for line, row in found.items() if line in self.rows}
        largest = max((max(p.length_mm, 1.6 * p.height_mm) for p in pots.values() if p is not None), default=400.0)
        for line, widget in self.rows.items():
            widget.show_row(found[line], pots[line], fonts.scaled(LARGEST_PX) / largest, self.brought.units)
        self.head.setText(self.brought.head())
        coming = self.brought.imported()
        waits = sum(1 for r in coming.rows if r.record is None and r.line in found)
        fresh, changed = self.brought.to_do(coming)
        taken = [f"take {counted(fresh, 'pot')}"] if fresh or not changed else []
        taken += [f"change {counted(changed, 'pot')}"] if changed else []
        words = " and ".join(taken)
        self.take.setText(
            f"{words[:1].upper()}{words[1:]}"
            + (f"; {waits} stay{'s' if waits == 1 else ''} in the list" if waits else "")
        )
        self.take.setEnabled(bool(coming.pots))
