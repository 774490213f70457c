"""What gives a photograph its scale, and what its lens does to straight lines."""

from collections.abc import Callable

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.base.errors import KeshError
from kesh.desk.lens import lens_words, with_bow
from kesh.desk.photo import HOW
from kesh.model import TreePhoto
from kesh.photo.darkroom import Darkroom
from kesh.photo.scale import depth_error
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, SectionHead, button, quiet, row
from kesh.ui.widgets.fields import MeasureEdit

CAMERA_MM, OFF_MM = 1500.0, 50.0


class ScaleBox(QWidget):
    """Each change is given to `write` with its words, as the photograph it leads to."""

    def __init__(self, session: Session, darkroom: Darkroom, write: Callable[[str, TreePhoto], object]) -> None:
        super().__init__()
        self._session, self._darkroom, self._write = session, darkroom, write
        self._photo: TreePhoto | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.head = SectionHead(session, "Scale")
        self.how = Choice(HOW, "Scale by")
        self.how.chosen.connect(self._how)
        self.known, self.card_w, self.card_h = (
            MeasureEdit(session, name, optional=False) for name in ("Known distance", "Card width", "Card height")
        )
        self.known.entered.connect(lambda mm: self._change("Known distance", known_mm=mm))
        self.card_w.entered.connect(lambda mm: self._card(0, mm))
        self.card_h.entered.connect(lambda mm: self._card(1, mm))
        self.known_row, self.card_row = row("Known distance", self.known), row("Card", self.card_w, self.card_h)
        self.warning, self.lens = quiet(""), quiet("")
        self.straighten = button("", self._straighten, link=True)
        for made in (
            self.head, row("Scale by", self.how), self.known_row, self.card_row, self.warning, self.lens, self.straighten,
        ):  # fmt: skip
            column.addWidget(made)

    def show_photo(self, photo: TreePhoto) -> str:
        """Show a photograph; what keeps it from having a scale, empty when nothing does."""
        self._photo = photo
        u, above = self._session.units, photo.view == "above"
        self.how.show_key(photo.how)
        self.known_row.setVisible(photo.how != "card")
        self.card_row.setVisible(photo.how == "card")
        self.known.setEnabled(photo.how == "points")
        self.known.show_mm(photo.known_mm)
        self.card_w.show_mm(photo.card_mm[0])
        self.card_h.show_mm(photo.card_mm[1])
        stand = "lie at the height of the roots" if above else "stand in the plane of the trunk"
        off = "above or below them" if above else "before or behind it"
        self.warning.setText(
            f"It must {stand}: {u.mm(OFF_MM)} {off}, taken from {u.mm(CAMERA_MM)}, falsifies every length by "
            f"{abs(depth_error(OFF_MM, CAMERA_MM)):.1%}."
        )
        bow, fault = None, ""
        notes: tuple[str, ...] = ()
        try:
            p = self._darkroom.print_of(photo)
            bow, notes = self._darkroom.bow_of(photo), p.notes
            self.head.set_note(f"{self._darkroom.scale(photo).px_mm * p.factor:.2f} px per mm")
        except KeshError as err:
            fault = str(err)
            self.head.set_note("not set")
        told, does = lens_words(photo, bow, notes)
        self.lens.setText(told)
        self.lens.setVisible(bool(told))
        self.straighten.setText(does)
        self.straighten.setVisible(bool(does))
        return fault

    def _straighten(self) -> None:
        photo = self._photo
        if photo is None:
            return
        try:
            bow = None if photo.bow else self._darkroom.bow_of(photo)
            changed = with_bow(photo, 0.0 if bow is None else bow.value, self._darkroom.print_of(photo).size)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return
        self._write("Picture as it was taken" if photo.bow else "Picture straightened", changed)

    def _change(self, label: str, **fields: object) -> None:
        if self._photo is None:
            return
        try:
            changed = self._photo.changed(**fields)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return
        self._write(label, changed)

    def _card(self, side: int, mm: object) -> None:
        if self._photo is not None:
            size = list(self._photo.card_mm)
            size[side] = mm  # type: ignore[call-overload]
            self._change("Size of the card", card_mm=tuple(size))

    def _how(self, how: str) -> None:
        pot = self._session.pot
        extra = {"known_mm": pot.length_mm} if how == "pot" and pot is not None else {}
        self._change(f"Scale by {HOW[how]}", how=how, **extra)
