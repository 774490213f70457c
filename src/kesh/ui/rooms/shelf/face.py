"""The Shelf as it is shown: all pots to one scale, and the card of the one in hand."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QStackedWidget

from kesh.base.errors import FieldError, KeshError
from kesh.base.progress import Progress
from kesh.base.writing import shown
from kesh.desk.deleting import without_pot
from kesh.desk.first import FirstPot
from kesh.desk.ids import fresh_id
from kesh.desk.pot_photo import PotPhoto
from kesh.photo.classes import Image
from kesh.ui.hand.view import SheetView
from kesh.ui.photos_in import PICTURES, copied_picture
from kesh.ui.rooms.room import Context, Face, Room
from kesh.ui.rooms.shelf.first import FirstPotCard, FirstPotPanel
from kesh.ui.rooms.shelf.panel import ShelfPanel
from kesh.ui.rooms.shelf.pot_photo_sheet import PotPhotoSheet
from kesh.ui.rooms.shelf.sheet import ShelfSheet

SHOWN_PROBLEMS = 12


class ShelfFace(Face):
    """Sheet and panel of the place, joined."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        session = context.session
        self.pots, self.card = ShelfSheet(session), ShelfPanel(session, context.runner)
        self.first, self.adding = FirstPotCard(session), False
        self.sheet = QStackedWidget()
        for view in (self.pots, self.first):
            self.sheet.addWidget(view)
        self.panel, self.search = QStackedWidget(), self.pots.search
        self.beside_first = FirstPotPanel(session, self.first)
        for panel in (self.card, self.beside_first):
            self.panel.addWidget(panel)
        self.first.stand.connect(self._stands)
        self.first.bring.connect(lambda: context.do("import"))
        self.card.photo_wanted.connect(lambda: context.do("colour_from_photo"))
        self.first.photo.connect(lambda: context.do("pot_from_photo"))
        self.first.leave.connect(self._leave)
        self.pots.chosen.connect(self.card.show_pot)
        self.card.tree_wanted.connect(self._to_tree)
        self.card.hold.connect(self._hold)

    def keys(self) -> str:
        return "Left and Right take an outline   Enter goes on, and puts it there" if self.on_card else super().keys()

    def px_mm(self) -> float:
        """The scale of all pictures."""
        return 0.0 if self.on_card else self.pots.cell.px_mm

    def drawing(self) -> SheetView | None:
        return None

    @property
    def on_card(self) -> bool:
        """Whether the card for a new pot is in sight: asked for, or because there is none yet."""
        return self.adding or not self.session.collection.pots

    def refresh(self) -> None:
        self.sheet.setCurrentWidget(self.first if self.on_card else self.pots)  # type: ignore[attr-defined]
        self.panel.setCurrentWidget(self.beside_first if self.on_card else self.card)  # type: ignore[attr-defined]
        self.pots.refresh()
        if not self.card.pot_id or self.card.pot is None:
            first = self.pots.model.rows[0] if self.pots.model.rows else ""
            self.card.pot_id = first
            self.pots.select(first)
        self.card.refresh()
        self._show_left_out()

    def entered(self) -> None:
        self.refresh()
        (self.first.length if self.on_card else self.pots.view).setFocus()

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
        """The card for a pot: an outline, three sizes, and it stands there."""
        self.adding = True
        self.first.begin(empty=not self.session.collection.pots)
        self.context.go("shelf")

    def pot_from_photo(self) -> None:
        """A pot from its photograph, with plus and minus; nothing is written before it is taken."""
        c = self.context
        path = c.asker.open_file(c.desk.parent_widget(), "A pot from its photograph", c.folder, PICTURES)
        if path is not None:
            from kesh.photo.read import read_photo

            self._shot(lambda: read_photo(path).image, shown(path))

    def colour_from_photo(self) -> None:
        """The colour of the pot in hand from a photograph of it, and nothing else."""
        c, pot = self.context, self.card.pot
        if pot is None:
            raise FieldError("pot", "there is no pot in hand; choose one on the shelf")
        path = c.asker.open_file(c.desk.parent_widget(), f"The colour of {pot.name}", c.folder, PICTURES)
        if path is None:
            return

        def read(progress: Progress) -> str:
            from kesh.photo.error import PhotoError
            from kesh.photo.read import read_photo
            from kesh.photo.session import at_working_size

            shot = PotPhoto.of(at_working_size(read_photo(path).image)[0])
            if shot.seen is None:
                raise PhotoError(shot.fault)
            return shot.seen.colour

        def take(colour: str) -> None:
            if self.session.edit(f"Colour of {pot.name}", [("pot", pot.id, pot.changed(colour=colour))]):
                c.say("watch", f"{colour} from {shown(path)}: the light of the picture is in it; correct it by eye")

        c.runner.start_long("pot photograph", f"Looking for the pot in {shown(path)}", read, take)

    def pot_from_clipboard(self) -> None:
        """The picture of a pot that was copied."""
        from kesh.photo.read import decode_photo

        body = copied_picture()
        self._shot(lambda: decode_photo(body, "the clipboard").image, "the clipboard")

    def _shot(self, load: Callable[[], Image], name: str) -> None:
        def read(progress: Progress) -> PotPhoto:
            from kesh.photo.session import at_working_size

            return PotPhoto.of(at_working_size(load())[0])

        self.context.runner.start_long("pot photograph", f"Looking for the pot in {name}", read, self._shot_read)

    def _shot_read(self, shot: PotPhoto) -> None:
        c, s = self.context, self.session
        sheet = PotPhotoSheet(c.desk.parent_widget(), s, shot, s.today)
        if not c.asker.agree(sheet):
            return
        key = fresh_id(s.collection.pots, "pot")
        try:
            pot = sheet.shot.pot(key, s.today, s.units)
        except KeshError as err:
            c.say("no", str(err))
            return
        if s.edit(f"{pot.name} added", [("pot", key, pot)]):
            self.adding = False
            c.go("shelf", pot=key)
            c.say("fits", f"{pot.name} is on the shelf; its holes are not known yet, count them at the right")

    def _leave(self) -> None:
        self.adding = False
        self.refresh()
        self.turned.emit()

    def _stands(self, first: FirstPot) -> None:
        s = self.session
        key = fresh_id(s.collection.pots, "pot")
        try:
            pot = first.pot(key)
        except KeshError as err:
            self.context.say("no", str(err))
            return
        self.adding = False
        if s.edit(f"{pot.name} added", [("pot", key, pot)]):
            self.first.begin(empty=False)
            self.context.go("shelf", pot=key)
            self.context.say("fits", f"{pot.name} is on the shelf; what else is known of it stands at the right")

    def file_changed(self) -> None:
        self.adding = False
        self.card.pot_id = ""

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
