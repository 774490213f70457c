"""What lies in the root mass, beside the drawing: pockets and sides left alone, each with what becomes of it."""

from collections.abc import Callable
from typing import Literal

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from kesh.advice.assess import Assessment
from kesh.advice.roots.work import pockets_for
from kesh.base.errors import KeshError
from kesh.desk.root_parts import (
    Part,
    depth_pulled,
    depths_of,
    part_changed,
    parts_of,
    pocket_words,
    record_of,
    sector_words,
    without_part,
)
from kesh.model import Pocket, Sector, Tree
from kesh.science.roots.pockets import WORDS
from kesh.ui.rooms.roots.plan_list import PlanList, PlanRow
from kesh.ui.rooms.roots.sheet import RootMapSheet
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, SectionHead, button, row
from kesh.ui.widgets.fields import MeasureEdit


class PartsBox(QWidget):
    """A list of the parts and the card of the one in hand."""

    wanted = pyqtSignal(object)

    def __init__(self, session: Session, sheet: RootMapSheet) -> None:
        super().__init__()
        self._session, self._sheet = session, sheet
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.head, self.list = (
            SectionHead(session, "In the root mass"),
            PlanList(session, "Pockets and sides left alone"),
        )
        self.list.wanted.connect(lambda key: self.wanted.emit(_part(key)))
        self.kind = Choice(WORDS, "What lies there")
        self.kind.chosen.connect(lambda kind: self._change("What lies in a pocket", kind=kind))
        self.top, self.bottom = MeasureEdit(session, "From this depth"), MeasureEdit(session, "To this depth")
        self.top.entered.connect(lambda mm: self._deepen("top", mm or 0.0))
        self.bottom.entered.connect(lambda mm: self._deepen("bottom", mm or 0.0))
        self.why = QLineEdit()
        self.why.setPlaceholderText("graft seedling, companion, next time…")
        self.why.setFixedWidth(fonts.scaled(170))
        self.why.editingFinished.connect(lambda: self._change("Why a side is left alone", why=self.why.text().strip()))
        self.off = button("Take it off the map", self._off, link=True)
        self.pocket_rows = [row("What lies there", self.kind), row("From and to this depth", self.top, self.bottom)]
        self.sector_rows = [row("Left alone because", self.why)]
        add = QWidget()
        line = QHBoxLayout(add)
        line.setContentsMargins(0, 0, 0, 0)
        self.add_pocket = button("Note a pocket", lambda: sheet.add_part("pocket"), link=True,
                                 tip="Clay, field soil, old sand or rot; P on the drawing.")  # fmt: skip
        self.add_sector = button("Leave a side alone", lambda: sheet.add_part("sector"), link=True,
                                 tip="A graft seedling, a companion, or what is left for next time; S on the drawing.")  # fmt: skip
        for made in (self.add_pocket, self.add_sector):
            line.addWidget(made)
        line.addStretch(1)
        for part in (self.head, self.list, *self.pocket_rows, *self.sector_rows, self.off, add):
            column.addWidget(part)

    def show_assessment(self, a: Assessment) -> None:
        """Show what is there and what becomes of it."""
        roots, s, hand = a.case.roots, self._session, self._sheet.part
        self.setVisible(roots is not None)
        if roots is None:
            return
        steps, rows = pockets_for(a.figures), []
        for n, part in enumerate(parts_of(roots)):
            one = record_of(roots, part)
            if isinstance(one, Sector):
                does, why = sector_words(roots, one)
            elif part.nth < len(steps):
                does, why = pocket_words(steps[part.nth], s.today, s.units)
            else:
                does, why = (WORDS[one.kind], "when it goes is not known yet") if one is not None else ("", "")
            goes = part.kind == "pocket" and part.nth < len(steps) and steps[part.nth].year == 0
            rows.append(PlanRow(f"{part.kind} {part.nth}", chr(97 + n % 26), "", does, why, goes))
        self.list.show_rows(tuple(rows), f"{hand.kind} {hand.nth}" if hand is not None else "")
        self.head.set_note("" if rows else "nothing noted")
        one = record_of(roots, hand) if hand is not None else None
        for made in self.pocket_rows:
            made.setVisible(isinstance(one, Pocket))
        for made in self.sector_rows:
            made.setVisible(isinstance(one, Sector))
        self.off.setVisible(one is not None)
        if isinstance(one, Pocket):
            self.kind.show_key(one.kind)
            top, bottom = depths_of(roots, one)
            self.top.show_mm(top)
            self.bottom.show_mm(bottom)
        elif isinstance(one, Sector) and not self.why.hasFocus():
            self.why.setText(one.why)

    def _deepen(self, edge: Literal["top", "bottom"], depth_mm: float) -> None:
        self._write("Depth of a pocket", lambda tree, part: depth_pulled(tree, part, edge, depth_mm))

    def _change(self, label: str, **fields: object) -> None:
        self._write(label, lambda tree, part: part_changed(tree, part, **fields))

    def _write(self, label: str, make: Callable[[Tree, Part], Tree]) -> None:
        s, part = self._session, self._sheet.part
        if s.tree is None or part is None:
            return
        try:
            changed = make(s.tree, part)
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        if changed != s.tree:
            s.edit(label, [("tree", changed.id, changed)])

    def _off(self) -> None:
        s, part = self._session, self._sheet.part
        if s.tree is not None and part is not None:
            self._sheet.take_part(None)
            changed = without_part(s.tree, part)
            s.edit("Taken off the map", [("tree", changed.id, changed)])


def _part(key: str) -> Part:
    kind, nth = key.split(" ")
    return Part("pocket" if kind == "pocket" else "sector", int(nth))
