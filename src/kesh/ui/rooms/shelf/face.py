"""The Shelf as it is shown: all pots to one scale, and the card of the one in hand."""

from typing import Any

from kesh.errors import FieldError
from kesh.model import Pot
from kesh.ui.rooms.room import Context, Face, Room
from kesh.ui.rooms.shelf.panel import ShelfPanel
from kesh.ui.rooms.shelf.sheet import ShelfSheet
from kesh.ui.state.deleting import without_pot
from kesh.ui.state.ids import fresh_id

SHOWN_PROBLEMS = 12


class ShelfFace(Face):
    """Sheet and panel of the place, joined."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        session = context.session
        self.pots, self.card = ShelfSheet(session), ShelfPanel(session, context.runner)
        self.sheet, self.panel, self.search = self.pots, self.card, self.pots.search
        self.pots.chosen.connect(self.card.show_pot)
        self.pots.add.connect(lambda: context.do("new_pot"))
        self.pots.bring.connect(lambda: context.do("import"))
        self.card.tree_wanted.connect(self._to_tree)
        self.card.hold.connect(self._hold)

    def px_mm(self) -> float:
        """The scale of all pictures."""
        return self.pots.cell.px_mm

    def refresh(self) -> None:
        self.pots.refresh()
        if not self.card.pot_id or self.card.pot is None:
            first = self.pots.model.rows[0] if self.pots.model.rows else ""
            self.card.pot_id = first
            self.pots.select(first)
        self.card.refresh()
        self._show_left_out()

    def entered(self) -> None:
        self.refresh()
        self.pots.view.setFocus()

    def arrive(self, **what: Any) -> None:
        if "pot" in what:
            self.choose(str(what["pot"]))

    def choose(self, key: str) -> None:
        """Take a pot in hand."""
        self.pots.search.clear()
        self.pots.filters[""].setChecked(True)
        self.pots.refresh()
        self.pots.select(key)

    def _show_left_out(self) -> None:
        """Rows of the last list that were left out stay in sight until the next list."""
        problems = self.session.left_out
        more = len(problems) - SHOWN_PROBLEMS
        lines = [*problems[:SHOWN_PROBLEMS], *([f"and {more} more"] if more > 0 else [])]
        self.card.problems.setText("Left out of the last list:\n" + "\n".join(lines) if problems else "")

    def _hold(self, pot: str) -> None:
        self.session.hold_under(pot)
        self.context.go("line-up")

    def _to_tree(self, tree: str) -> None:
        self.session.choose_tree(tree)
        self.context.go("line-up")

    # commands ----------------------------------------------------------------------------------------------------

    def add_pot(self) -> None:
        """A pot of a usual size; all its figures are ready to be changed."""
        s = self.session
        key = fresh_id(s.collection.pots, "pot")
        pot = Pot(
            id=key, name=f"Pot {key.rsplit('-', 1)[-1]}", length_mm=300, width_mm=220, height_mm=80, feet_mm=8, holes_known=False,
        )  # fmt: skip
        if s.edit("Pot added", [("pot", key, pot)]):
            self.context.go("shelf", pot=key)

    def delete_pot(self) -> None:
        """Take the pot in hand out of the collection with what hangs on it; undo brings all of it back."""
        s, pot = self.session, self.card.pot
        if pot is None:
            raise FieldError("pot", "there is no pot in hand; choose one on the shelf")
        changes, told = without_pot(s.collection, pot.id)
        if s.edit(f"{pot.name} deleted", changes):
            self.card.pot_id = ""
            self.context.go("shelf")
            self.context.say("fits", f"{pot.name} deleted{told}; Ctrl+Z brings it back")
