"""Beside the photograph: what the trunk's place does to the depth, heights marked on it, and the years ahead."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from kesh.advice.rules.caps import caps
from kesh.base.errors import KeshError
from kesh.desk.brief import later
from kesh.desk.heights import (
    HEIGHT_WORDS,
    STATIONS,
    depth_lines,
    marked_heights,
    reader_words,
    station_words,
    taper_words,
    with_height,
    with_marked,
)
from kesh.model import Tree
from kesh.photo.measure import PhotoMeasures
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, SectionHead, button, quiet, row
from kesh.ui.widgets.fields import MeasureEdit


class TrunkBox(QWidget):
    """Follows the reader of the sheet. A height is marked where the reader stands, moved or cleared in its field."""

    years_wanted = pyqtSignal(bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._at_mm = 0.0
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.head = SectionHead(session, "Trunk", "drag the reader")
        self.reader, self.depths, self.why, self.taper = quiet(""), quiet(""), quiet(""), quiet("")
        self.station = Choice(STATIONS, "Depth taken from the trunk")
        self.station.chosen.connect(lambda key: session.change_brief("Trunk taken elsewhere", trunk_station=key))
        self.kind = Choice(HEIGHT_WORDS, "What is at this height")
        self.mark = button("Mark it at the reader", self._mark, link=True)
        self.heights = QWidget()
        self._lines = QVBoxLayout(self.heights)
        self._lines.setContentsMargins(0, 0, 0, 0)
        self._lines.setSpacing(0)
        self.fields: dict[str, MeasureEdit] = {}
        self.later_head = SectionHead(session, "Years ahead", "usual rates")
        self.show_later = QCheckBox("Lay their outlines over it (Y)")
        self.show_later.clicked.connect(self.years_wanted)
        self.later = quiet("")
        for part in (
            self.head, self.reader, row("Depth taken", self.station), self.depths, self.why, self.taper,
            row("At the reader", self.kind), self.mark, self.heights, self.later_head, self.show_later, self.later,
        ):  # fmt: skip
            column.addWidget(part)

    def show_reader(self, found: PhotoMeasures, at_mm: float) -> None:
        """Only the reader moved."""
        self._at_mm = at_mm
        self.reader.setText(reader_words(found, at_mm, self._session.units).capitalize() + ".")

    def show_trunk(self, found: PhotoMeasures, tree: Tree, at_mm: float, *, years: bool) -> None:
        """Show the tree with the reader at a height."""
        s, u = self._session, self._session.units
        case = s.case()
        used = case.brief.trunk_station or tree.trunk_station
        self.show_reader(found, at_mm)
        self.station.show_key(used)
        self.depths.setText("\n".join(depth_lines(tree, found, case.school, case.brief.purpose.value, used, u)))
        self.why.setText(station_words(tree, used))
        self.taper.setText(taper_words(found, u))
        self.taper.setVisible(bool(self.taper.text()))
        self._show_heights(tree)
        self.show_later.setChecked(years)
        lines = [
            f"{when}: {u.figure(h)} high, {u.figure(w)} wide, trunk {u.figure(t)}" for when, h, w, t in later(case)
        ]
        lines += [cap.sentence(u) for cap in caps(case, s.pot)]
        self.later.setText("\n".join(lines))

    def _show_heights(self, tree: Tree) -> None:
        found = marked_heights(tree)
        if [h.key for h in found] != list(self.fields):
            while (item := self._lines.takeAt(0)) is not None:
                old = item.widget()
                if old is not None:
                    old.hide()
                    old.deleteLater()
            self.fields = {}
            for one in found:
                field = MeasureEdit(self._session, f"{one.words}, height above the soil")
                field.entered.connect(lambda mm, key=one.key: self._move(key, mm))
                self.fields[one.key] = field
                self._lines.addWidget(row(one.words, field, tip="Height above the soil; clear it to take it away."))
        for one in found:
            self.fields[one.key].show_mm(one.height_mm)

    def _mark(self) -> None:
        tree, kind = self._session.tree, str(self.kind.currentData())
        if tree is not None:
            at = -self._at_mm if kind == "tap_root" else self._at_mm
            self._write(f"{HEIGHT_WORDS[kind]} marked", lambda: with_marked(tree, kind, at))

    def _move(self, key: str, mm: float | None) -> None:
        tree = self._session.tree
        if tree is not None:
            self._write("Height on the trunk changed", lambda: with_height(tree, key, mm))

    def _write(self, label: str, make) -> None:  # type: ignore[no-untyped-def]
        try:
            tree = make()
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return
        self._session.edit(label, [("tree", tree.id, tree)])
