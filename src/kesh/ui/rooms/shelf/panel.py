"""The pot in hand: drawn in section and from above, its computed figures, which trees it suits, and every field."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QSizePolicy, QVBoxLayout, QWidget

from kesh.base.errors import KeshError
from kesh.desk.holes import clicked, moved
from kesh.desk.lineup import STATES
from kesh.desk.pot_words import FINISHES, OUTLINES, PROFILES
from kesh.desk.shelf import Suit, colour_typed, facts, hole_words, holes_typed, suits
from kesh.model import Hole, Pot
from kesh.reference.tables import materials
from kesh.ui.rooms.shelf.colour_menu import ColourMenu
from kesh.ui.rooms.shelf.order_box import OrderBox
from kesh.ui.rooms.shelf.pot_card import PotDrawing
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.facts import FactList, MarkedLine
from kesh.ui.widgets.fields import MeasureEdit

SIZES = (
    ("length_mm", "Length at the rim"), ("width_mm", "Width at the rim"), ("height_mm", "Height with feet"), ("wall_mm", "Wall"),
    ("floor_mm", "Floor"), ("feet_mm", "Feet"),
)  # fmt: skip


class ShelfPanel(Panel):
    """Every field of the pot in hand; each edit is written at once."""

    tree_wanted = pyqtSignal(str)
    photo_wanted = pyqtSignal()
    hold = pyqtSignal(str)

    def __init__(self, session: Session, runner: Runner) -> None:
        super().__init__(session)
        self._runner = runner
        self.pot_id = ""
        self.head, self.note = title(""), quiet("")
        self.drawing, self.figures = PotDrawing(session), FactList(session)
        self.drawing.hole_clicked.connect(lambda x, y, wire: self._drilled(lambda pot: clicked(pot, x, y, wire=wire)))
        self.drawing.hole_moved.connect(lambda n, x, y: self._drilled(lambda pot: moved(pot, n, x, y)))
        for widget in (self.head, self.note, self.drawing, self.figures):
            self.column.addWidget(widget)
        self.gap(4)
        self.column.addWidget(SectionHead(session, "Would suit", "best first"))
        holder = QWidget()
        self._suits = QVBoxLayout(holder)
        self._suits.setContentsMargins(0, 0, 0, 0)
        self._suits.setSpacing(1)
        self.column.addWidget(holder)
        self.gap()
        self.column.addWidget(SectionHead(session, "Sizes", "outer"))
        self.fields: dict[str, MeasureEdit] = {}
        for name, label in SIZES:
            self._length(name, label, lambda value, n=name: {n: value})
        self.outline, self.profile = Choice(OUTLINES, "Outline from above"), Choice(PROFILES, "Wall")
        self.outline.chosen.connect(self._outline)
        self.profile.chosen.connect(lambda kind: self._nested("profile", "kind", kind))
        self.column.addWidget(row("Outline", self.outline))
        self._nested_length("outline", "corner_mm", "Corner radius")
        self.column.addWidget(row("Wall", self.profile))
        self._nested_length("profile", "base_inset_mm", "Foot stands in by")
        self._nested_length("profile", "belly_mm", "Belly")
        self._nested_length("profile", "lip_offset_mm", "Lip out +, in −")
        self.gap()
        self.column.addWidget(SectionHead(session, "Card"))
        self.name, self.holes, self.price, self.colour, self.defects, self.source = (QLineEdit() for _ in range(6))
        self.volume, self.mass = QLineEdit(), QLineEdit()
        self.material = Choice(
            {k: m.name for k, m in sorted(materials().items(), key=lambda kv: kv[1].name)}, "Material"
        )
        self.finish, self.state = Choice(FINISHES, "Finish"), Choice(STATES, "Where it is")
        self.material.chosen.connect(lambda key: self._set(material=key))
        self.finish.chosen.connect(lambda key: self._set(finish=key))
        self.state.chosen.connect(lambda key: self._set(state=key))
        for label, field in (
            ("Name", self.name), ("Material", self.material), ("Finish", self.finish), ("Colour", self.colour),
            ("Where it is", self.state), ("Holes", self.holes), ("Water it holds, l", self.volume),
            ("Weighed, kg", self.mass), ("Price", self.price), ("Made or given by", self.source), ("Defects", self.defects),
        ):  # fmt: skip
            if isinstance(field, QLineEdit):
                field.setFixedWidth(fonts.scaled(126))
            self.column.addWidget(row(label, field))
        self.name.editingFinished.connect(lambda: self._text("name", self.name))
        self.swatches = ColourMenu(
            self.colour, session.theme.color("edge"), lambda colour: self._set(colour=colour), self.photo_wanted.emit
        )
        self.colour.setToolTip("In words, such as blue or dark green, or as #2F5C8A")
        self.holes.setToolTip(
            "By count, such as 2 x 20, 4 wire, placed as is usual; or x y diameter in mm, parted by semicolons; ? when nobody knows"
        )
        self.colour.editingFinished.connect(self._colour)
        self.defects.editingFinished.connect(lambda: self._text("defects", self.defects))
        self.source.editingFinished.connect(lambda: self._text("source", self.source))
        self.holes.editingFinished.connect(self._holes)
        self.volume.editingFinished.connect(lambda: self._number("measured_volume_l", self.volume))
        self.mass.editingFinished.connect(lambda: self._number("measured_mass_kg", self.mass))
        self.price.editingFinished.connect(lambda: self._number("price", self.price))
        self.order = OrderBox(session)
        self.column.addWidget(self.order)
        self.problems = quiet("")
        self.column.addWidget(self.problems)
        self.main = button("Hold it under the tree", lambda: self.hold.emit(self.pot_id), main=True)
        self.foot.addWidget(self.main)

    def _length(self, name: str, label: str, make: Any) -> None:
        field = MeasureEdit(self.session, label, optional=False)
        field.entered.connect(lambda value, m=make: self._set(**m(value)))
        self.fields[name] = field
        self.column.addWidget(row(label, field))

    def _nested_length(self, part: str, name: str, label: str) -> None:
        field = MeasureEdit(self.session, label, optional=False)
        field.entered.connect(lambda value: self._nested(part, name, value))
        self.fields[name] = field
        self.column.addWidget(row(label, field))

    @property
    def pot(self) -> Pot | None:
        """The pot in hand."""
        return self.session.collection.pots.get(self.pot_id)

    def _set(self, **fields: Any) -> None:
        pot = self.pot
        if pot is None:
            return
        if pot.outline.kind == "round" and ("length_mm" in fields or "width_mm" in fields):
            size = fields.get("length_mm", fields.get("width_mm"))
            fields |= {"length_mm": size, "width_mm": size}
        try:
            changed = pot.changed(**fields)
            facts(changed, self.session.units)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.refresh()
            return
        if changed != pot:
            what = ", ".join(fields).replace("_mm", "").replace("_", " ")
            self.session.edit(f"{pot.name}: {what} changed", [("pot", pot.id, changed)])

    def _nested(self, part: str, name: str, value: Any) -> None:
        pot = self.pot
        if pot is None:
            return
        try:
            inner = getattr(pot, part).changed(**{name: value})
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.refresh()
            return
        self._set(**{part: inner})

    def _outline(self, kind: str) -> None:
        pot = self.pot
        if pot is None:
            return
        if kind == "free" and not pot.outline.points_mm:
            self.session.said.emit("watch", "A free outline needs its points; bring it in with a bundle")
            self.refresh()
            return
        fields: dict[str, Any] = {"outline": pot.outline.changed(kind=kind)}
        if kind == "round":
            fields["width_mm"] = pot.length_mm
        self._set(**fields)

    def _text(self, name: str, field: QLineEdit) -> None:
        pot = self.pot
        if pot is not None and field.text().strip() != getattr(pot, name):
            self._set(**{name: field.text().strip()})

    def _number(self, name: str, field: QLineEdit) -> None:
        text = field.text().strip().replace(",", ".")
        try:
            value = float(text) if text else None
        except ValueError:
            self.session.said.emit("no", f"'{text}' is no number; write one, such as 4.6")
            return
        if self.pot is not None and value != getattr(self.pot, name):
            self._set(**{name: value})

    def _colour(self) -> None:
        pot, text = self.pot, self.colour.text().strip()
        if pot is None or text == pot.colour:
            return
        try:
            self._set(colour=colour_typed(text))
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.refresh()

    def _holes(self) -> None:
        pot, text = self.pot, self.holes.text().strip()
        if pot is None or text == ("?" if not pot.holes_known else hole_words(pot.holes)):
            return
        try:
            holes, known = holes_typed(text, pot)
            self._set(holes=holes, holes_known=known)
        except KeshError as err:
            self.session.said.emit("no", str(err))

    def _drilled(self, make: Callable[[Pot], tuple[Hole, ...]]) -> None:
        """Holes after a hand in the plan."""
        if self.pot is None:
            return
        try:
            self._set(holes=make(self.pot), holes_known=True)
        except KeshError as err:
            self.session.said.emit("no", str(err))

    def show_pot(self, key: str) -> None:
        """Another pot is in hand."""
        self.pot_id = key
        self.refresh()
        self._ask_suits()

    def refresh(self) -> None:
        self.order.show_pot(self.pot)
        self._refresh()

    def _refresh(self) -> None:
        """Show the pot in hand."""
        pot = self.pot
        self.setEnabled(pot is not None)
        if pot is None:
            self.head.setText("No pot in hand")
            self.note.setText("Choose one, or add one with Ctrl+Shift+N.")
            return
        self.head.setText(pot.name)
        self.note.setText(pot.defects or pot.notes or f"{STATES[pot.state]}. Left: from the front; right: cut.")
        self.drawing.show_pot(pot)
        try:
            self.figures.show_facts(facts(pot, self.session.units))
        except KeshError as err:
            self.note.setText(str(err))
        for name, field in self.fields.items():
            source = (
                pot.outline
                if name == "corner_mm"
                else pot.profile
                if name in ("base_inset_mm", "belly_mm", "lip_offset_mm")
                else pot
            )
            field.show_mm(getattr(source, name))
            parent = field.parentWidget()
            if parent is not None:
                parent.setVisible(_matters(pot, name))
        self.outline.show_key(pot.outline.kind)
        self.profile.show_key(pot.profile.kind)
        self.material.show_key(pot.material)
        self.finish.show_key(pot.finish)
        self.state.show_key(pot.state)
        self.swatches.show_colour(pot.colour)
        texts = {
            self.name: pot.name, self.colour: pot.colour, self.defects: pot.defects, self.source: pot.source,
            self.holes: hole_words(pot.holes) if pot.holes_known else "?",
            self.volume: f"{pot.measured_volume_l:g}" if pot.measured_volume_l else "",
            self.mass: f"{pot.measured_mass_kg:g}" if pot.measured_mass_kg else "", self.price: f"{pot.price:g}" if pot.price is not None else "",
        }  # fmt: skip
        for line, text in texts.items():
            if not line.hasFocus():
                line.setText(text)
                line.setCursorPosition(0)
        tree = self.session.tree
        self.main.setText(f"Hold it under {tree.name}" if tree else "Add a tree first")
        self.main.setEnabled(tree is not None)

    def _ask_suits(self) -> None:
        collection, pot, today, units = self.session.collection, self.pot, self.session.today, self.session.units
        if pot is not None and collection.trees:
            self._runner.start(
                "suits", lambda: self._runner.apart(partial(suits, collection, pot, today, units)), self._show_suits
            )
        else:
            self._show_suits(())

    def _show_suits(self, found: tuple[Suit, ...]) -> None:
        while (item := self._suits.takeAt(0)) is not None:
            old = item.widget()
            if old is not None:
                old.deleteLater()
        for suit in found:
            made = button(elided(f"{suit.name}: {suit.reason}"), partial(self.tree_wanted.emit, suit.tree), link=True)
            made.setToolTip(f"{suit.name}: {suit.reason}. See it under this tree")
            made.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            self._suits.addWidget(MarkedLine(self.session, suit.verdict, made))
        if not found:
            self._suits.addWidget(quiet("No tree yet to try it under."))


def elided(text: str, most: int = 40) -> str:
    """A text that fits a line of the panel."""
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"


def _matters(pot: Pot, name: str) -> bool:
    """Whether a field means anything for this outline and wall."""
    kind = pot.profile.kind
    return {
        "corner_mm": pot.outline.kind in ("rectangle", "polygon"), "base_inset_mm": kind in ("straight", "bowed", "lip"),
        "belly_mm": kind == "bowed", "lip_offset_mm": kind == "lip", "width_mm": pot.outline.kind != "round",
        "wall_mm": kind != "slab", "floor_mm": kind != "slab",
    }.get(name, True)  # fmt: skip
