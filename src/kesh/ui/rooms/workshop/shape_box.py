"""The shape of the design as choices and sizes: outline, wall, lip, belt, feet, holes, and what is drawn beside it."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from kesh.advice.design.space import with_planned_holes
from kesh.base.errors import FieldError
from kesh.desk.bands import FORMS, KINDS, form_of, sizes_of, with_form
from kesh.desk.pot_words import OUTLINES
from kesh.desk.workshop import (
    FAMILIES,
    family_of,
    settled,
    with_count,
    with_family,
    with_feet_style,
    with_one_more_hole,
    with_outline,
    with_value,
)
from kesh.model import Pot
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, SectionHead, button, row
from kesh.ui.widgets.fields import MeasureEdit

FEET = {"cloud": "cloud", "block": "block", "ring": "ring", "columns": "columns", "none": "none"}
SIZES = (
    ("length_mm", "Length"),
    ("width_mm", "Width"),
    ("height_mm", "Height"),
    ("wall_mm", "Wall"),
    ("floor_mm", "Floor"),
    ("feet_mm", "Feet"),
)
BAND_SIZES = {"lip": (("tall_mm", "tall"), ("proud_mm", "stands out")),
              "belt": (("tall_mm", "tall"), ("proud_mm", "stands out"), ("at_mm", "above the bench"))}  # fmt: skip
COUNTED = ("polygon", "lobed")

Make = Callable[[Pot], Pot]


class ShapeBox(QObject):
    """Rows in a panel's column. Says what is to change; whoever holds it writes it."""

    changed = pyqtSignal(str, object)
    beside = pyqtSignal(str)

    def __init__(self, session: Session, column: QVBoxLayout) -> None:
        super().__init__()
        self._session, self._column = session, column
        self._column.addWidget(SectionHead(session, "Shape", "or drag in the drawing"))
        self.outline = self._choice(
            "Outline", OUTLINES, lambda p, kind: settled(with_outline(p, kind), holes_follow=True)
        )
        self.count = QLineEdit()
        self.count.setAccessibleName("Sides or lobes")
        self.count.setFixedWidth(fonts.scaled(84))
        self.count.editingFinished.connect(self._counted)
        self._count_row = row("Sides or lobes", self.count)
        self._column.addWidget(self._count_row)
        self.family = self._choice("Wall", {k: k for k in FAMILIES}, with_family)
        self.bands: dict[str, Choice] = {}
        self.fields: dict[str, MeasureEdit] = {}
        self._band_rows: dict[str, list[QWidget]] = {}
        for kind in KINDS:
            self.bands[kind] = self._choice(kind.capitalize(), FORMS, lambda p, form, k=kind: settled(with_form(p, k, form), holes_follow=False))  # type: ignore[misc]  # fmt: skip
            self._band_rows[kind] = [
                self._size(f"{kind}:{name}", f"{kind.capitalize()}, {text}") for name, text in BAND_SIZES[kind]
            ]
        self.feet = self._choice("Feet on the bench", FEET, with_feet_style)
        for name, label in SIZES:
            self._size(name, label)
        self.by_rule = self._link("Holes by the rule", "Holes by the rule", with_planned_holes)
        self.one_drain = self._link("One more drain hole", "Drain hole added", lambda p: with_one_more_hole(p, 20.0))
        self.one_tie = self._link("One more tie hole", "Tie hole added", lambda p: with_one_more_hole(p, 5.0))
        self.tray = button("Draw its drip tray", lambda: self.beside.emit("tray"), link=True)
        self.stand = button("Draw a stand for it", lambda: self.beside.emit("stand"), link=True)
        for made in (self.tray, self.stand):
            self._column.addWidget(made)

    def _choice(self, label: str, options: dict[str, str], make: Callable[[Pot, str], Pot]) -> Choice:
        made = Choice(options, label)
        made.chosen.connect(lambda key: self.changed.emit(label, lambda p: make(p, key)))
        self._column.addWidget(row(label, made))
        return made

    def _size(self, name: str, label: str) -> QWidget:
        field = MeasureEdit(self._session, label, optional=False, fine=True)
        field.entered.connect(lambda mm: self.changed.emit(f"{label} changed", lambda p: with_value(p, name, mm)))
        self.fields[name] = field
        made = row(label, field)
        self._column.addWidget(made)
        return made

    def _link(self, text: str, label: str, make: Make) -> QWidget:
        made = button(text, lambda: self.changed.emit(label, make), link=True)
        self._column.addWidget(made)
        return made

    def _counted(self) -> None:
        text = self.count.text().strip()

        def make(pot: Pot) -> Pot:
            if not text.isdigit():
                raise FieldError("sides or lobes", f"'{text}' is no whole number; write one, such as 6")
            return with_count(pot, int(text))

        self.changed.emit("Sides or lobes changed", make)

    def show_pot(self, pot: Pot) -> None:
        """Show a design's shape."""
        self.outline.show_key(pot.outline.kind)
        self._count_row.setVisible(pot.outline.kind in COUNTED)
        if not self.count.hasFocus():
            self.count.setText(str(pot.outline.sides if pot.outline.kind == "polygon" else pot.outline.lobes))
        self.family.show_key(family_of(pot))
        self.feet.show_key(pot.feet_style if pot.feet_mm > 0 else "none")
        for name, field in self.fields.items():
            if ":" not in name:
                field.show_mm(getattr(pot, name))
        for kind in KINDS:
            sizes = sizes_of(pot, kind)
            self.bands[kind].show_key(form_of(pot, kind))
            for made, (name, _) in zip(self._band_rows[kind], BAND_SIZES[kind], strict=True):
                made.setVisible(sizes is not None)
                if sizes is not None:
                    self.fields[f"{kind}:{name}"].show_mm(getattr(sizes, name))
