"""What each maker brings: clay and kiln, printer, boards, pipe. It is kept from one pot to the next."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from kesh.advice.routes.joiner import JOINTS
from kesh.advice.routes.routes import FIRED, ROUTES, MakerWishes
from kesh.base.errors import KeshError
from kesh.desk.pot_words import FINISHES
from kesh.model import Pot
from kesh.reference.tables import materials
from kesh.science.making.clay import SampleBar
from kesh.science.making.tubes import FLOOR_LIFE_YEARS
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, SectionHead, row
from kesh.ui.widgets.fields import MeasureEdit

PLASTICS = ("print_petg", "print_asa", "print_pla")
PIPES = ("pvc_pipe", "abs_pipe", "galvanised_steel", "stainless_steel", "aluminium")
WOODS = ("timber_larch", "timber_cedar", "timber_oak", "timber_pine")
TUB = "tub of staves"
BRINGS = {"potter": "Clay and glaze", "print": "Printer", "box": "Boards", "tube": "Pipe", "drill": "Drill plan"}
SIDES = ("length", "width", "height")


class MakerBox(QObject):
    """Rows in a panel's column: the fields of the route in hand. `brought` tells that something of the maker's changed, `changed` of the pot."""

    changed = pyqtSignal(str, object)
    brought = pyqtSignal()

    def __init__(self, session: Session, column: QVBoxLayout, wishes: MakerWishes) -> None:
        super().__init__()
        self._session, self._column, self.wishes = session, column, wishes
        self._pot: Pot | None = None
        self.head = SectionHead(session, "")
        self._column.addWidget(self.head)
        self._rows: dict[str, list[QWidget]] = {key: [] for key in ROUTES}
        names = {k: m.name for k, m in materials().items()}
        self._potter(names)
        self._printer(names)
        self._joiner(names)
        self._pipes(names)

    def _potter(self, names: dict[str, str]) -> None:
        self.clay = self._choice("potter", "Clay", {k: n for k, n in names.items() if k.startswith(FIRED)}, lambda key: self.changed.emit("Clay", lambda p: p.changed(material=key)))  # fmt: skip
        # names of clays are long
        self.clay.setMinimumContentsLength(18)
        self.finish = self._choice("potter", "Finish", {k: v for k, v in FINISHES.items() if k != "as_made"}, lambda key: self.changed.emit("Finish", lambda p: p.changed(finish=key)))  # fmt: skip
        self.colour = self._text("potter", "Colour, #rrggbb", self._colour)
        self.bar = {when: self._measure("potter", f"Test bar, {when}", lambda _: self._bar(), fine=True, optional=True) for when in ("wet", "dry", "fired")}  # fmt: skip
        self.kiln = [self._measure("potter", f"Kiln inside, {side}", lambda _: self._kiln(), optional=True) for side in SIDES]  # fmt: skip
        self.lifters = self._choice("potter", "Who lifts it", {"2": "two people", "1": "one person"}, lambda key: self._bring(people=int(key)))  # fmt: skip

    def _printer(self, names: dict[str, str]) -> None:
        self.plastic = self._choice("print", "Plastic", {k: names[k] for k in PLASTICS}, lambda key: self._bring(plastic=key))  # fmt: skip
        self.bed = [self._measure("print", f"Bed, {axis}", lambda mm, at=k: self._bed(at, mm)) for k, axis in enumerate("xyz")]  # type: ignore[misc]  # fmt: skip
        self.gap_field = self._measure("print", "Gap in the joints", lambda mm: self._part("printing", clearance_mm=mm), fine=True)  # fmt: skip
        self.layer = self._measure("print", "Layer height", self._layer, fine=True)
        self.tray = self._choice("print", "Drip tray", {"no": "none", "yes": "printed too"}, lambda key: self._part("printing", tray=key == "yes"))  # fmt: skip

    def _joiner(self, names: dict[str, str]) -> None:
        joints = {str(k): v for k, v in JOINTS.items()} | {TUB: TUB}
        self.wood = self._choice("box", "Wood", {k: names[k] for k in WOODS}, lambda key: self._part("box", wood=key))
        self.joint = self._choice("box", "Corners", joints, self._joint)
        self.staves = self._text("box", "Staves", lambda: self._whole(self.staves, "Staves", "box", "staves"))
        self.boards = {
            name: self._measure("box", label, lambda mm, n=name: self._part("box", **{n: mm}))  # type: ignore[misc]
            for name, label in (("board_mm", "Board thickness"), ("board_width_mm", "Board width"), ("stock_mm", "Stock length"))
        }  # fmt: skip

    def _pipes(self, names: dict[str, str]) -> None:
        self.pipe = self._choice("tube", "Pipe", {k: names[k] for k in PIPES}, lambda key: self._part("tube", pipe=key))
        self.pipe_wall = self._measure("tube", "Its wall", lambda mm: self._part("tube", wall_mm=mm), fine=True)
        self.floor = self._choice("tube", "Floor", {k: k for k in FLOOR_LIFE_YEARS}, lambda key: self._part("tube", floor=key))  # fmt: skip
        self.count = self._text("tube", "How many", lambda: self._whole(self.count, "How many", "tube", "count"))
        self.rings = self._text("tube", "Stacked rings", lambda: self._whole(self.rings, "Stacked rings", "tube", "rings"))  # fmt: skip

    # rows --------------------------------------------------------------------------------------------------------

    def _own(self, route: str, label: str, field: QWidget) -> None:
        made = row(label, field)
        self._rows[route].append(made)
        self._column.addWidget(made)

    def _choice(self, route: str, label: str, options: dict[str, str], done: Callable[[str], None]) -> Choice:
        made = Choice(options, label)
        made.chosen.connect(done)
        self._own(route, label, made)
        return made

    def _measure(
        self, route: str, label: str, done: Callable[[float], None], *, fine: bool = False, optional: bool = False
    ) -> MeasureEdit:
        made = MeasureEdit(self._session, label, optional=optional, fine=fine)
        made.entered.connect(done)
        self._own(route, label, made)
        return made

    def _text(self, route: str, label: str, done: Callable[[], None]) -> QLineEdit:
        made = QLineEdit()
        made.setAccessibleName(label)
        made.setFixedWidth(fonts.scaled(84))
        made.editingFinished.connect(done)
        self._own(route, label, made)
        return made

    # what changes ------------------------------------------------------------------------------------------------

    def _bring(self, **wishes: Any) -> None:
        made = replace(self.wishes, **wishes)
        if made != self.wishes:
            self.wishes = made
            self.brought.emit()

    def _part(self, part: str, **fields: Any) -> None:
        self._bring(**{part: replace(getattr(self.wishes, part), **fields)})

    def _layer(self, mm: float) -> None:
        self._part("printing", setting=replace(self.wishes.printing.setting, layer_mm=mm))

    def _bed(self, at: int, mm: float) -> None:
        bed = list(self.wishes.printing.bed_mm)
        bed[at] = mm
        self._part("printing", bed_mm=(bed[0], bed[1], bed[2]))

    def _joint(self, key: str) -> None:
        if key == TUB:
            self._part("box", tub=True)
        else:
            self._part("box", tub=False, joint=key)

    def _kiln(self) -> None:
        long, wide, high = (field.mm for field in self.kiln)
        whole = long is not None and wide is not None and high is not None
        self._bring(kiln_mm=(long, wide, high) if whole else None)

    def _bar(self) -> None:
        """A bar counts once it was measured wet and fired; it stays with its clay."""
        if self._pot is None:
            return
        key = self._pot.material
        wet, dry, fired = (self.bar[when].mm for when in ("wet", "dry", "fired"))
        bars = {k: v for k, v in self.wishes.bars.items() if k != key}
        if wet is None or fired is None:
            self._bring(bars=bars)
            return
        try:
            self._bring(bars=bars | {key: SampleBar(wet, fired, dry, self._session.today.isoformat())})
        except KeshError as err:
            self._session.said.emit("no", str(err))

    def _colour(self) -> None:
        text = self.colour.text().strip()
        if self._pot is not None and text and text.lower() != self._pot.colour.lower():
            self.changed.emit("Colour", lambda p: p.changed(colour=text))

    def _whole(self, field: QLineEdit, label: str, part: str, name: str) -> None:
        if field.text().strip().isdigit():
            self._part(part, **{name: int(field.text())})
            return
        self._session.said.emit("no", f"{label}: '{field.text()}' is no whole number; write one, such as 3")
        field.setText(str(getattr(getattr(self.wishes, part), name)))

    # showing -----------------------------------------------------------------------------------------------------

    def show_pot(self, pot: Pot | None, route: str) -> None:
        """The fields of a route for a design."""
        for key, rows in self._rows.items():
            for made in rows:
                made.setVisible(key == route)
        self.head.set_text(BRINGS[route])
        w = self.wishes
        holder = self.staves.parentWidget()
        if holder is not None:
            holder.setVisible(route == "box" and w.box.tub)
        # fields of another clay's bar are not to be read for this one
        fresh = pot is None or self._pot is None or pot.material != self._pot.material
        self._pot = pot
        if pot is None:
            return
        self.clay.show_key(pot.material)
        self.finish.show_key(pot.finish)
        if not self.colour.hasFocus():
            self.colour.setText(pot.colour.upper())
        bar = w.bars.get(pot.material)
        if bar is not None or fresh:
            for when, mm in zip(("wet", "dry", "fired"), (bar.wet_mm, bar.dry_mm, bar.fired_mm) if bar else (None,) * 3, strict=True):  # fmt: skip
                self.bar[when].show_mm(mm)
        if w.kiln_mm is not None:
            for field, mm in zip(self.kiln, w.kiln_mm, strict=True):
                field.show_mm(mm)
        self.lifters.show_key(str(w.people))
        self.plastic.show_key(w.plastic)
        for field, mm in zip(self.bed, w.printing.bed_mm, strict=True):
            field.show_mm(mm)
        self.gap_field.show_mm(w.printing.clearance_mm)
        self.layer.show_mm(w.printing.setting.layer_mm)
        self.tray.show_key("yes" if w.printing.tray else "no")
        self.wood.show_key(w.box.wood)
        self.joint.show_key(TUB if w.box.tub else w.box.joint)
        for name, field in self.boards.items():
            field.show_mm(getattr(w.box, name))
        self.pipe.show_key(w.tube.pipe)
        self.floor.show_key(w.tube.floor)
        self.pipe_wall.show_mm(w.tube.wall_mm)
        for text, value in ((self.count, w.tube.count), (self.rings, w.tube.rings), (self.staves, w.box.staves)):
            if not text.hasFocus():
                text.setText(str(value))
