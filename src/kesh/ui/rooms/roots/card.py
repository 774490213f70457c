"""The root in hand: what it is, where its side root sits, and what the artist decides about it."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from kesh.base.errors import KeshError
from kesh.desk.root_map import (
    DECIDED_WORDS,
    KIND_WORDS,
    degrees_of,
    side_left_alone,
    with_decision,
    with_root,
    without_root,
)
from kesh.model import MapRoot, Tree
from kesh.ui.rooms.roots.sheet import RootMapSheet
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, SectionHead, button, row
from kesh.ui.widgets.fields import MeasureEdit


class RootCard(QWidget):
    """Writes the root that the sheet has in hand."""

    def __init__(self, session: Session, sheet: RootMapSheet) -> None:
        super().__init__()
        self._session, self._sheet = session, sheet
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.head = SectionHead(session, "Root in hand")
        self.kind = Choice(KIND_WORDS, "Kind of root")
        self.kind.chosen.connect(lambda kind: self._change("Kind of a root", kind=kind))
        self.thick, self.reach, self.side, self.up = (
            MeasureEdit(session, name, optional=optional)
            for name, optional in (
                ("Thickness at the trunk", False), ("Reach", False), ("First side root at", True), ("Height on the trunk", False),
            )
        )  # fmt: skip
        self.thick.entered.connect(lambda mm: self._change("Thickness of a root", diameter_mm=mm))
        self.reach.entered.connect(lambda mm: self._change("Reach of a root", reach_mm=mm, course=()))
        self.side.entered.connect(lambda mm: self._change("Side root", side_root_at_mm=mm))
        self.up.entered.connect(lambda mm: self._change("Height of a root", height_mm=mm or 0.0))
        self.drop, self.to = _narrow(), _narrow()
        self.drop.editingFinished.connect(self._dropped)
        self.to.editingFinished.connect(self._moved)
        self.keep = QLineEdit()
        self.keep.setPlaceholderText("anchor, companion, a wanted look…")
        self.keep.setFixedWidth(fonts.scaled(160))
        self.keep.editingFinished.connect(lambda: self._change("Root kept", keep=self.keep.text().strip()))
        self.decided = Choice(DECIDED_WORDS, "Decided by you")
        self.decided.chosen.connect(
            lambda key: self._write("Decided for a root", lambda t, r: with_decision(t, r.id, key))
        )
        self.why = QLineEdit()
        self.why.setPlaceholderText("your reason")
        self.why.setFixedWidth(fonts.scaled(160))
        self.why.editingFinished.connect(lambda: self._change("Reason for a root", decided_why=self.why.text().strip()))
        self.alone = button(
            "", lambda: self._write("Side of the roots left alone", lambda t, r: side_left_alone(t, r.id)), link=True,
            tip="A graft seedling, a companion, or what is left for next time.",
        )  # fmt: skip
        self.off = button(
            "Take it off the map",
            lambda: self._write("Root taken off the map", lambda t, r: without_root(t, r.id)),
            link=True,
        )
        self._why_row, self._to_row = row("Because", self.why), row("Moved to, ° from the front", self.to)
        for made in (
            self.head, row("Kind", self.kind), row("Thickness", self.thick), row("Reach", self.reach),
            row("First side root at", self.side, tip="From the trunk along the root; a cut beyond it leaves it alive."),
            row("Falls by, °", self.drop, tip="Below level; with a minus it rises."),
            row("Height on the trunk", self.up), row("Not cut because", self.keep),
            row("Decided by you", self.decided, tip="Done at the next repotting whatever the plan says; the rest is solved anew."),
            self._to_row, self._why_row, self.alone, self.off,
        ):  # fmt: skip
            column.addWidget(made)

    def show_root(self, root: MapRoot | None) -> None:
        """Show another root, or nothing."""
        self.setVisible(root is not None)
        if root is None:
            return
        self.head.set_note(f"{root.azimuth_deg:.0f}° from the front")
        mass = self._session.tree.roots if self._session.tree is not None else None
        held = mass is not None and any(one.holds(root.azimuth_deg) for one in mass.untouched)
        self.alone.setText("Let this side be worked again" if held else "Leave this side alone, 45° of it")
        self.kind.show_key(root.kind)
        self.decided.show_key(root.decided)
        for field, value in (
            (self.thick, root.diameter_mm), (self.reach, root.reach_mm), (self.side, root.side_root_at_mm), (self.up, root.height_mm),
        ):  # fmt: skip
            field.show_mm(value)
        to = root.azimuth_deg if root.moved_to_deg is None else root.moved_to_deg
        for line, text in (
            (self.keep, root.keep),
            (self.why, root.decided_why),
            (self.drop, f"{root.drop_deg:g}"),
            (self.to, f"{to:g}"),
        ):
            if not line.hasFocus():
                line.setText(text)
        self._why_row.setVisible(bool(root.decided))
        self._to_row.setVisible(root.decided == "move")

    def _dropped(self) -> None:
        self._angle(self.drop, "drop_deg", 90.0, "Fall of a root")

    def _moved(self) -> None:
        self._angle(self.to, "moved_to_deg", 360.0, "Root moved by hand")

    def _angle(self, field: QLineEdit, name: str, most: float, label: str) -> None:
        try:
            value = degrees_of(field.text(), name.removesuffix("_deg").replace("_", " "), most)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return
        self._change(label, **{name: value})

    def _change(self, label: str, **fields: object) -> None:
        root = self._sheet.root()
        if root is None or all(getattr(root, k) == v for k, v in fields.items()):
            return
        # what a hand has corrected is assumed no longer
        note = "" if root.note == "assumed" else root.note
        self._write(label, lambda t, r: with_root(t, r.id, note=note, **fields))

    def _write(self, label: str, make: Callable[[Tree, MapRoot], Tree]) -> None:
        tree, root = self._session.tree, self._sheet.root()
        if tree is None or root is None:
            return
        try:
            changed = make(tree, root)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return
        if changed != tree:
            self._session.edit(label, [("tree", changed.id, changed)])


def _narrow() -> QLineEdit:
    made = QLineEdit()
    made.setFixedWidth(fonts.scaled(84))
    made.setAlignment(Qt.AlignmentFlag.AlignRight)
    return made
