"""For whom a pot is kept, and what was asked of its maker: when, promised for when, and how it stands."""

from typing import get_args

from PyQt6.QtWidgets import QLineEdit

from kesh.base.errors import KeshError
from kesh.desk.log import read_day
from kesh.model import Order, Pot, Reservation
from kesh.model.order import OrderStatus
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, row
from kesh.ui.widgets.folded import Folded

STATUS = {
    "asked": "asked",
    "promised": "promised",
    "late": "late, said the maker",
    "here": "it is here",
    "off": "called off",
}
assert set(STATUS) == set(get_args(OrderStatus))


class OrderBox(Folded):
    """Writes the reservation on the pot and its order."""

    def __init__(self, session: Session) -> None:
        super().__init__("Reserved, on order", "Kept for a tree; asked of a maker, promised for a day")
        self._session = session
        self.pot: Pot | None = None
        self._trees: tuple[str, ...] = ()
        self.tree = Choice({"": "nobody"}, "Reserved for")
        self.season, self.asked, self.promised = QLineEdit(), QLineEdit(), QLineEdit()
        self.status = Choice(STATUS, "Order")
        for field, name in (
            (self.season, "For which season"),
            (self.asked, "Asked on"),
            (self.promised, "Promised for"),
        ):
            field.setAccessibleName(name)
            field.setFixedWidth(fonts.scaled(110))
        self.season.setPlaceholderText("spring 2027")
        self.tree.chosen.connect(lambda _: self._reserve())
        self.season.editingFinished.connect(self._reserve)
        for field in (self.asked, self.promised):
            field.setPlaceholderText("2027-03-01")
            field.editingFinished.connect(self._order)
        self.status.chosen.connect(lambda _: self._order())
        for label, widget in (
            ("Reserved for", self.tree),
            ("For which season", self.season),
            ("Asked on", self.asked),
            ("Promised for", self.promised),
            ("It stands", self.status),
        ):
            self.add(row(label, widget))
        self.show_needed(False)

    def show_pot(self, pot: Pot | None) -> None:
        """Show what is kept and asked of a pot."""
        self.pot = pot
        self.setVisible(pot is not None)
        if pot is None:
            return
        c = self._session.collection
        trees = tuple(c.trees)
        if trees != self._trees:
            self._trees = trees
            self.tree.clear()
            self.tree.addItem("nobody", "")
            for tree in c.trees.values():
                self.tree.addItem(tree.name, tree.id)
        kept, order = pot.reserved, c.orders.get(pot.id)
        self.tree.show_key(kept.tree if kept is not None else "")
        if not self.season.hasFocus():
            self.season.setText(kept.season if kept is not None else "")
        for field, day in (
            (self.asked, order.asked if order else None),
            (self.promised, order.promised if order else None),
        ):
            if not field.hasFocus():
                field.setText(day.isoformat() if day is not None else "")
        self.status.show_key(order.status if order is not None else "asked")
        self.show_needed(kept is not None or order is not None)

    def _reserve(self) -> None:
        pot, tree = self.pot, str(self.tree.currentData() or "")
        if pot is None:
            return
        kept = Reservation(tree=tree, season=self.season.text().strip()) if tree else None
        if kept != pot.reserved:
            name = self._session.collection.trees[tree].name if tree else ""
            self._session.edit(
                f"{pot.name} reserved for {name}" if tree else f"{pot.name} free again",
                [("pot", pot.id, pot.changed(reserved=kept))],
            )

    def _order(self) -> None:
        pot, s = self.pot, self._session
        if pot is None:
            return
        try:
            asked, promised = (
                read_day(f.text(), s.today, ahead=f is self.promised) if f.text().strip() else None
                for f in (self.asked, self.promised)
            )
            before = s.collection.orders.get(pot.id)
            if before is None and asked is None and promised is None:
                return
            base = before or Order(id=pot.id, pot=pot.id)
            after = base.changed(asked=asked, promised=promised, status=str(self.status.currentData() or "asked"))
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        if after == before:
            return
        changes = [("order", pot.id, after)]
        if after.status == "here" and pot.state == "ordered":
            # it came: from now on it stands on the shelf
            changes.append(("pot", pot.id, pot.changed(state="shelf")))  # type: ignore[arg-type]
        s.edit(f"Order of {pot.name}", changes)
