"""The photo view's panel: the ring of photographs, the scale, the brush, and every figure beside the tape's."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QPushButton, QWidget

from kesh.base.errors import KeshError
from kesh.base.words import counted
from kesh.desk.loop import doubt_words, place_words, settle_words, settled, told_places
from kesh.desk.photo import (
    SEEN,
    TOOLS,
    front_edits,
    lies_words,
    rows,
    seen_from,
    shown_fields,
    taken_over,
    with_colour,
    without_colour,
)
from kesh.model import TreePhoto
from kesh.photo.darkroom import Darkroom
from kesh.photo.measure import PhotoMeasures
from kesh.photo.places import Place
from kesh.photo.tree_cut import TreeCut
from kesh.ui.rooms.tree.figure_table import FigureTable
from kesh.ui.rooms.tree.photo_ring import Ring
from kesh.ui.rooms.tree.scale_box import ScaleBox
from kesh.ui.rooms.tree.spot_box import SpotBox
from kesh.ui.rooms.tree.stroke_cards import StrokeCards
from kesh.ui.rooms.tree.trunk_box import TrunkBox
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, Panel, SectionHead, button, quiet, row, title

SWATCH = '<span style="background-color:{0}">&nbsp;&nbsp;&nbsp;&nbsp;&nbsp;</span>&nbsp;'


class PhotoPanel(Panel):
    """What belongs to the photograph in hand; each change is written at once."""

    tool_wanted = pyqtSignal(str)
    photo_wanted = pyqtSignal(str)
    plan_wanted = pyqtSignal()

    def __init__(self, session: Session, darkroom: Darkroom, do: Callable[[str], object]) -> None:
        super().__init__(session)
        self.darkroom, self._hand = darkroom, ""
        self.head, self.note = title(""), quiet("")
        self.column.addWidget(self.head)
        self.column.addWidget(self.note)
        self.cards = StrokeCards(session, self._settle)
        self.ring = Ring(session)
        self.ring.chosen.connect(self.photo_wanted)
        self.column.addWidget(self.cards)
        self.column.addWidget(self.ring)
        self.add = button("Add a photograph", lambda: do("add_photo"), link=True)
        self.above = button("Add one of the roots from above", lambda: do("add_above"), link=True)
        self.column.addWidget(self.add)
        self.column.addWidget(self.above)
        self.lay_other: Callable[[], None] = lambda: None
        self.other = button("Lay another date over it (D)", lambda: self.lay_other(), link=True)
        self.column.addWidget(self.other)
        self.seen = Choice(SEEN, "Seen")
        self.seen.chosen.connect(self._seen)
        self.angle, self.front = QLineEdit(), QCheckBox("This is the front")
        self.angle.setFixedWidth(fonts.scaled(60))
        self.angle.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.angle.editingFinished.connect(self._angle)
        self.front.clicked.connect(self._front)
        self.marker = QLineEdit()
        self.marker.setFixedWidth(fonts.scaled(60))
        self.marker.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.marker.setPlaceholderText("……")
        self.marker.editingFinished.connect(self._marker)
        self.roots, self.branches = QLineEdit(), QLineEdit()
        for field, name, hint in (
            (self.roots, "roots", "good, crossing, missing…"),
            (self.branches, "branches", "bar branch, gap, best side…"),
        ):
            field.setPlaceholderText(hint)
            field.setFixedWidth(fonts.scaled(160))
            field.editingFinished.connect(lambda f=field, n=name: self._note(n, f.text().strip()))
        angle = row("Angle from the front, °", self.angle, tip="Clockwise, seen from above.")
        branches = row("Branches", self.branches)
        self._of_side: list[QWidget] = [angle, self.front, branches]
        self._of_photo: list[QWidget] = [
            row("Seen", self.seen), angle, self.front,
            row("Marker in the soil, °", self.marker, tip="Clockwise from the front, seen from above; shown in plans and on the work sheet."),
            row("Roots", self.roots), branches,
        ]  # fmt: skip
        for made in self._of_photo:
            self.column.addWidget(made)
        self.gap()
        self.scale = ScaleBox(session, darkroom, self._write)
        self.column.addWidget(self.scale)
        self.gap()
        self.figure_head, self.table = SectionHead(session, "Figures"), FigureTable(session)
        self.table.wanted.connect(lambda field: self.take((field,)))
        self.tones = quiet("")
        self.trunk = TrunkBox(session)
        self.reader: Callable[[], tuple[float, bool]] = lambda: (0.0, False)
        self.gap()
        self.brush_head = SectionHead(session, "Brush", "B next, Page Up larger")
        strip = QWidget()
        line = QHBoxLayout(strip)
        line.setContentsMargins(0, 2, 0, 2)
        line.setSpacing(0)
        self.tools: dict[str, QPushButton] = {}
        for key, text in TOOLS.items():
            made_button = QPushButton(text)
            made_button.setCheckable(True)
            made_button.setStyleSheet("QPushButton { padding: 3px 2px; }")
            made_button.clicked.connect(lambda _=False, k=key: self.tool_wanted.emit(k))
            self.tools[key] = made_button
            line.addWidget(made_button, 1)
        self.follow = QCheckBox("Like colours beside it follow")
        self.follow.setChecked(True)
        for made in (self.figure_head, self.table, self.tones, self.trunk, self.brush_head, strip, self.follow):
            self.column.addWidget(made)
        self.gap()
        self.spots = SpotBox(session, self._put_colour, self._drop_colour)
        self.column.addWidget(self.spots)
        self.lies = quiet("")
        self.column.addWidget(self.lies)
        self._of_photo.append(self.scale)
        self._of_side += [self.figure_head, self.brush_head, strip, self.follow, self.spots]
        self.round = button("Draw a loop round the tree (L)", lambda: self.tool_wanted.emit("loop"), main=True)
        self.all = button("", lambda: self.take(None), main=True)
        self.again = button("Draw the loop anew (L)", lambda: self.tool_wanted.emit("loop"))
        self.cut = button("Cut the tree out", lambda: do("cut_out"))
        self.under = button("See it under the root plan", self.plan_wanted.emit, main=True)
        self._of_side.append(self.cut)
        for made in (self.round, self.all, self.again, self.cut, self.under):
            self.foot.addWidget(made)

    def _put_colour(self, part: str) -> None:
        """A mark in the upper middle of the picture, to be dragged onto the part."""
        photo = self.photo
        if photo is not None:
            wide, high = self.darkroom.print_of(photo).size
            changed = with_colour(photo, part, (round(wide * 0.5), round(high * 0.4)))
            self._change(f"Colour of {part} marked", colours=changed.colours)
            self.tool_wanted.emit("marks")

    def _drop_colour(self, part: str) -> None:
        photo = self.photo
        if photo is not None:
            self._change(f"Colour of {part} taken away", colours=without_colour(photo, part).colours)

    def _show_main(self, photo: TreePhoto | None, found: PhotoMeasures | None) -> None:
        """The one thing to do next: the loop, or to take over what is sure once it is."""
        given = 0 if found is None else len(shown_fields(found))
        sure = found is not None and given > 0
        side = photo is not None and photo.view == "side"
        self.all.setVisible(side and sure)
        self.all.setText(f"Take the {counted(given, 'sure figure')} over" if given > 1 else "Take the sure figure over")
        self.round.setVisible(side and not sure)
        self.round.setText(
            "Draw the loop anew (L)" if photo is not None and photo.loop else "Draw a loop round the tree (L)"
        )
        self.again.setVisible(side and sure)
        self.again.setText(self.round.text())

    def _show_places(self, photo: TreePhoto, cut: TreeCut | None, found: PhotoMeasures | None) -> None:
        """The places in doubt, with the strokes that settle them."""
        told = told_places(cut, self.darkroom.places(photo)) if cut is not None else ()
        if cut is None or not told:
            self.cards.setVisible(False)
            return
        rows = []
        for place in told:
            at = None if found is None else found.from_picture(np.array([place.middle]))[0]
            rows.append(
                (place, *place_words(place, None if at is None else (float(at[0]), float(at[1])), self.session.units))
            )
        self.cards.show_places(self.darkroom.print_of(photo).image, rows, settle_words(cut, told))

    def _settle(self, place: Place, tree: bool) -> None:
        photo = self.photo
        if photo is not None:
            changed = settled(photo, place, self.darkroom.print_of(photo).factor, tree=tree)
            self._write(f"Place {place.letter} is {'tree' if tree else 'background'}", changed)

    @property
    def photo(self) -> TreePhoto | None:
        """The photograph in hand."""
        return self.session.collection.photo_of(self.session.tree_id, self._hand)

    def show_photo(self, photo_id: str) -> None:
        """Another photograph is in hand."""
        self._hand = photo_id
        self.refresh()

    def show_tool(self, tool: str) -> None:
        """Another tool is in hand."""
        for key, made in self.tools.items():
            made.setChecked(key == tool)

    def show_reader(self) -> None:
        """The sheet's reader stands at another height, or outlines of later years went on or off."""
        found, (at_mm, years) = self.figures(), self.reader()
        if found is not None:
            self.trunk.show_reader(found, at_mm)
            self.trunk.show_later.setChecked(years)

    def figures(self) -> PhotoMeasures | None:
        """Figures of the photograph in hand; None until it was cut, or when its marks cannot be."""
        photo = self.photo
        if photo is None:
            return None
        try:
            return self.darkroom.figures(photo)
        except KeshError as err:
            self.note.setText(str(err))
            return None

    def refresh(self) -> None:
        """Show the photograph in hand."""
        s, photo = self.session, self.photo
        tree = s.tree
        photos = s.collection.photos_of(s.tree_id)
        self.ring.setVisible(bool(photos))
        above = photo is not None and photo.view == "above"
        for made in self._of_photo:
            made.setVisible(photo is not None)
        for made in self._of_side:
            made.setVisible(photo is not None and not above)
        for made in (self.lies, self.under):
            made.setVisible(above)
        self.setEnabled(tree is not None)
        self.head.setText(
            f"{tree.name}, {len(photos)} photograph{'' if len(photos) == 1 else 's'}" if tree else "No tree yet"
        )
        self.note.setText("")
        found = self.figures() if photo is not None else None
        self.other.setVisible(len(photos) > 1)
        self.cards.setVisible(False)
        for made in (self.table, self.tones, self.trunk):
            made.setVisible(found is not None)
        self._show_main(photo, found)
        if photo is None or tree is None:
            self.note.setText(
                "Take it straight on, at the height of the crown's middle, with a card or a rule beside the trunk."
            )
            return
        try:
            self.spots.show_tones(self.darkroom.spots(photo))
        except KeshError as err:
            self.note.setText(str(err))
        self.ring.show_photos(photos, photo.id, tree.marker_deg)
        if not self.angle.hasFocus():
            self.angle.setText(f"{photo.angle_deg:g}")
        self.front.setChecked(photo.front)
        self.seen.show_key(photo.view)
        self.lies.setText(lies_words(photo, tree)[1])
        if not self.marker.hasFocus():
            self.marker.setText("" if tree.marker_deg is None else f"{tree.marker_deg:g}")
        self.marker.setCursorPosition(0)
        for field, text in ((self.roots, photo.roots), (self.branches, photo.branches)):
            if not field.hasFocus():
                field.setText(text)
                field.setCursorPosition(0)
                field.setToolTip(text)
        fault = self.scale.show_photo(photo)
        if fault:
            self.note.setText(fault)
        self.cut.setVisible(photo.view == "side" and not self.darkroom.is_cut(photo))
        cut = self.darkroom.cut_of(photo)
        if cut is not None and doubt_words(cut):
            self.note.setText(doubt_words(cut))
        self._show_places(photo, cut, found)
        if found is not None:
            shown = rows(found, tree.measure)
            self.table.show_rows(shown)
            at_mm, years = self.reader()
            self.trunk.show_trunk(found, tree, at_mm, years=years)
            apart = sum(r.status == "watch" for r in shown)
            doubtful = sum(r.photo is None and r.why.startswith("in doubt") for r in shown)
            agreed = f"{apart} apart from the tape" if apart else "tape and photo agree"
            self.figure_head.set_note(f"{doubtful} in doubt" if doubtful else agreed)
            parts = [
                f"{name} {''.join(SWATCH.format(t.colour) for t in tones[:3])}"
                for name, tones in (("bark", found.bark), ("leaf", found.leaf))
                if tones
            ]
            lean = found.figures["lean_deg"].value
            if isinstance(lean, float):
                side = "right" if lean > 0 else "left"
                parts.append(f"trunk leans {abs(lean):.0f}° {side}" if abs(lean) >= 0.5 else "trunk upright")
            self.tones.setText(";&nbsp; ".join(parts))
        else:
            self.figure_head.set_note("after the cut-out")

    def take(self, fields: tuple[str, ...] | None) -> None:
        """Figures of the photograph as measures of its day; None for all it shows."""
        s, found = self.session, self.figures()
        if s.tree is None or found is None:
            return
        chosen = shown_fields(found) if fields is None else fields
        try:
            day = (self.photo.taken if self.photo is not None else None) or s.today
            tree = taken_over(s.tree, found, chosen, day)
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        if s.edit("Measures from the photograph", [("tree", tree.id, tree)]):
            s.said.emit(
                "fits",
                f"{counted(len(chosen), 'figure')} taken over"
                + (
                    "; the tape's set is kept in the history"
                    if tree.measure.taken is None or tree.measure.taken <= day
                    else f" under {day:%-d %b %Y}; what was measured on {tree.measure.taken:%-d %b %Y} stays in use"
                ),
            )

    def _change(self, label: str, **fields: object) -> None:
        photo = self.photo
        if photo is None:
            return
        try:
            changed = photo.changed(**fields)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        self._write(label, changed)

    def _write(self, label: str, changed: TreePhoto) -> None:
        if changed != self.photo:
            self.session.edit(label, [("photo", changed.id, changed)])

    def _angle(self) -> None:
        try:
            self._change("Angle of a photograph", angle_deg=float(self.angle.text().replace(",", ".")) % 360)
        except ValueError:
            self.session.said.emit("no", f"angle: '{self.angle.text()}' is no number; write degrees, such as 90")

    def _front(self, on: bool) -> None:
        """One photograph is the front; all angles count from it."""
        photo = self.photo
        if photo is None:
            return
        edits = front_edits(self.session.collection, photo, on=on)
        if self.session.edit("Front chosen" if on else "No front", edits) and on and photo.angle_deg:
            self.session.said.emit(
                "watch",
                "Angles count from the new front; reaches and root mass were taken from the old one, take them again",
            )

    def _marker(self) -> None:
        text = self.marker.text().strip()
        try:
            at = None if not text else float(text.replace(",", ".")) % 360
        except ValueError:
            self.session.said.emit("no", f"marker: '{text}' is no number; write degrees, such as 30")
            return
        if self.session.tree is not None and at != self.session.tree.marker_deg:
            self.session.change_tree("Marker moved", marker_deg=at)

    def _note(self, name: str, text: str) -> None:
        self._change(f"Note on {name}", **{name: text})

    def _seen(self, view: str) -> None:
        photo = self.photo
        if photo is not None and self.session.edit(
            f"Photograph {SEEN[view]}", [("photo", photo.id, seen_from(photo, view))]
        ):
            self.tool_wanted.emit("marks")
