"""What each maker brings: clay and kiln, printer, boards, pipe. It is kept from one pot to the next."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from kesh.advice.routes.potter import FIRED
from kesh.advice.routes.route import Ask
from kesh.advice.routes.routes import routes
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import KeshError
from kesh.desk.pot_words import FINISHES
from kesh.model import Pot
from kesh.reference.tables import materials
from kesh.science.making.clay import SampleBar
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, SectionHead, row
from kesh.ui.widgets.fields import MeasureEdit

SIDES, AXES = ("length", "width", "height"), "xyz"


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
        self._rows: dict[str, list[QWidget]] = {key: [] for key in routes()}
        names = {k: m.name for k, m in materials().items()}
        self._potter(names)
        # every widget of what a route asks, by route and field; three of them for three measures
        self.asked: dict[tuple[str, str], Any] = {}
        for key, route in routes().items():
            for ask in route.asks:
                if ask.label:
                    self.asked[key, ask.field] = self._ask(key, ask)

    def _potter(self, names: dict[str, str]) -> None:
        self.clay = self._choice("potter", "Clay", {k: n for k, n in names.items() if k.startswith(FIRED)}, lambda key: self.changed.emit("Clay", lambda p: p.changed(material=key)))  # fmt: skip
        # names of clays are long
        self.clay.setMinimumContentsLength(18)
        self.finish = self._choice("potter", "Finish", {k: v for k, v in FINISHES.items() if k != "as_made"}, lambda key: self.changed.emit("Finish", lambda p: p.changed(finish=key)))  # fmt: skip
        self.colour = self._text("potter", "Colour, #rrggbb", self._colour)
        self.bar = {when: self._measure("potter", f"Test bar, {when}", lambda _: self._bar(), fine=True, optional=True) for when in ("wet", "dry", "fired")}  # fmt: skip
        self.kiln = [self._measure("potter", f"Kiln inside, {side}", lambda _: self._kiln(), optional=True) for side in SIDES]  # fmt: skip
        self.lifters = self._choice("potter", "Who lifts it", {"2": "two people", "1": "one person"}, lambda key: self._bring(people=int(key)))  # fmt: skip

    def _ask(self, route: str, ask: Ask) -> Any:
        label, field = ask.label, (route, ask.field)
        if ask.sort in ("choice", "yes"):
            keys = {"no": False, "yes": True} if ask.sort == "yes" else {}
            return self._choice(
                route, label, dict(ask.choices()), lambda key: self._own(route, ask, keys.get(key, key))
            )
        if ask.sort == "three_mm":
            return [self._measure(route, f"{label}, {axis}", lambda mm, k=k: self._third(route, ask, k, mm)) for k, axis in enumerate(AXES)]  # type: ignore[misc]  # fmt: skip
        if ask.sort == "whole":
            return self._text(route, label, lambda: self._whole(route, ask, self.asked[field]))
        return self._measure(route, label, lambda mm: self._own(route, ask, mm), fine=ask.sort == "fine_mm")

    # rows --------------------------------------------------------------------------------------------------------

    def _add(self, route: str, label: str, field: QWidget) -> None:
        made = row(label, field)
        self._rows[route].append(made)
        self._column.addWidget(made)

    def _choice(self, route: str, label: str, options: dict[str, str], done: Callable[[str], None]) -> Choice:
        made = Choice(options, label)
        made.chosen.connect(done)
        self._add(route, label, made)
        return made

    def _measure(
        self, route: str, label: str, done: Callable[[float], None], *, fine: bool = False, optional: bool = False
    ) -> MeasureEdit:
        made = MeasureEdit(self._session, label, optional=optional, fine=fine)
        made.entered.connect(done)
        self._add(route, label, made)
        return made

    def _text(self, route: str, label: str, done: Callable[[], None]) -> QLineEdit:
        made = QLineEdit()
        made.setAccessibleName(label)
        made.setFixedWidth(fonts.scaled(84))
        made.editingFinished.connect(done)
        self._add(route, label, made)
        return made

    # what changes ------------------------------------------------------------------------------------------------

    def _bring(self, **wishes: Any) -> None:
        made = replace(self.wishes, **wishes)
        if made != self.wishes:
            self.wishes = made
            self.brought.emit()

    def _own(self, route: str, ask: Ask, value: Any) -> None:
        """What the maker of one route brings is something else now."""
        held = self._held(route)
        made = ask.given(held, value)
        if made != held:
            self.wishes = self.wishes.with_own(route, made)
            self.brought.emit()

    def _held(self, route: str) -> Any:
        """What the maker of one route brings."""
        kind = routes()[route].wishes
        assert kind is not None, f"{route} asks for things and has no record to keep them in"
        return self.wishes.of(kind)

    def _third(self, route: str, ask: Ask, at: int, mm: float) -> None:
        three = list(ask.value(self._held(route)))
        three[at] = mm
        self._own(route, ask, tuple(three))

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

    def _whole(self, route: str, ask: Ask, field: QLineEdit) -> None:
        if field.text().strip().isdigit():
            self._own(route, ask, int(field.text()))
            return
        self._session.said.emit("no", f"{ask.label}: '{field.text()}' is no whole number; write one, such as 3")
        field.setText(str(ask.value(self._held(route))))

    # showing -----------------------------------------------------------------------------------------------------

    def show_pot(self, pot: Pot | None, route: str) -> None:
        """The fields of a route for a design."""
        for key, rows in self._rows.items():
            for made in rows:
                made.setVisible(key == route)
        self.head.set_text(routes()[route].brings)
        w = self.wishes
        self._show_asked(route)
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

    def _show_asked(self, shown: str) -> None:
        """What the makers of single routes bring, and whether it is asked now."""
        for key, route in routes().items():
            for ask in route.asks:
                if ask.label:
                    self._show_ask(self.asked[key, ask.field], ask, self._held(key), seen=key == shown)

    def _show_ask(self, made: Any, ask: Ask, held: Any, *, seen: bool) -> None:
        value = ask.value(held)
        if ask.sort == "three_mm":
            for one, mm in zip(made, value, strict=True):
                one.show_mm(mm)
        elif ask.sort in ("mm", "fine_mm"):
            made.show_mm(value)
        elif ask.sort != "whole":
            made.show_key(("yes" if value else "no") if ask.sort == "yes" else value)
        elif not made.hasFocus():
            made.setText(str(value))
        for field in made if ask.sort == "three_mm" else (made,):
            if seen and (holder := field.parentWidget()) is not None:
                holder.setVisible(ask.only(held))
