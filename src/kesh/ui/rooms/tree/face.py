"""Step Tree as it is shown: the tree in its pot, its photograph, its roots; measures beside them."""

from typing import Any

from PyQt6.QtWidgets import QStackedWidget

from kesh.base.errors import FieldError, KeshError
from kesh.desk.first import FirstTree
from kesh.desk.ids import fresh_id
from kesh.desk.photo import lies_words
from kesh.model import Brief, TreePhoto
from kesh.reference.starters import starter_mix_for, with_climate
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.roots_sheet import RootsSheet, seat_words
from kesh.ui.photos_in import ask_photo, photo_pasted
from kesh.ui.rooms.room import BY_GRIPS, Context, Face, Room
from kesh.ui.rooms.tree.first import FirstTreeCard
from kesh.ui.rooms.tree.first_panel import FirstPanel
from kesh.ui.rooms.tree.front_sheet import TreeSheet
from kesh.ui.rooms.tree.panel import TreePanel
from kesh.ui.rooms.tree.photo_panel import PhotoPanel
from kesh.ui.rooms.tree.photo_sheet import PhotoSheet


class TreeFace(Face):
    """Three views of one tree; the photograph has a panel of its own."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        s, c = context.session, context
        self.front, self.roots = TreeSheet(s, c.gallery), RootsSheet(s, c.gallery, c.darkroom)
        self.photo = PhotoSheet(s, c.gallery, c.darkroom)
        self.sheet = QStackedWidget()
        self.first, self.beside_first = FirstTreeCard(s, c.gallery), FirstPanel(s)
        self.adding = False
        for view in (self.front, self.photo, self.roots, self.first):
            self.sheet.addWidget(view)
        self.measures = TreePanel(s)
        self.photo_panel = PhotoPanel(s, c.darkroom, c.do)
        self.photo_panel.lay_other = lambda: self.photo.lay_next()
        self.panel = QStackedWidget()
        for panel in (self.measures, self.photo_panel, self.beside_first):
            self.panel.addWidget(panel)
        self.first.stand.connect(self._stands)
        self.first.bring.connect(lambda: c.do("import"))
        self.first.demo.connect(lambda: c.do("demo"))
        self.first.leave.connect(self._leave)
        self.first.turned.connect(self._told_more)
        self.beside_first.climate.connect(self._climate)
        self.beside_first.more.connect(lambda topic: c.go("reference", topic=topic))
        self.findings = self.measures.findings
        self.measures.brief.clicked.connect(lambda: c.go("brief"))
        photo, beside = self.photo, self.photo_panel
        photo.tool_changed.connect(beside.show_tool)
        beside.tool_wanted.connect(photo.use_tool)
        beside.photo_wanted.connect(self.show_photo)
        beside.plan_wanted.connect(lambda: c.go("tree", view="roots"))
        beside.follow.toggled.connect(lambda on: setattr(photo, "follow", on))
        beside.reader = lambda: (photo.reading_mm(), photo.years)
        photo.read.connect(beside.show_reader)
        beside.trunk.years_wanted.connect(photo.show_years)
        photo.use_tool("marks")
        c.cutter.done.connect(self._cut_done)

    # what is in sight --------------------------------------------------------------------------------------------

    def title(self) -> str:
        s = self.session
        tree, a, u = s.tree, s.assessment(), s.units
        if tree is None:
            return "Nothing stands here yet: five things, and a tree does"
        if self.adding:
            return "One more tree: five things, and it stands here"
        if self.view == "photo":
            return self._photo_title()
        if a is None:
            return f"{tree.name} stands in no pot yet"
        if self.view == "roots":
            roots, words = tree.roots, seat_words(a, u)
            return f"{u.mm(roots.depth_mm)} of root: {words}" if roots else "The root mass is not known yet"
        grave = [f for f in a.findings if f.status == "no"] or [f for f in a.findings if f.status == "watch"]
        if not grave and a.verdict == "unknown":
            grave = [f for f in a.findings if f.status == "unknown"]
        height = u.mm(tree.measure.height_mm) if tree.measure.height_mm else "not measured"
        return f"{height} tall; {grave[0].short}" if grave and grave[0].short else f"{height} tall; the pot fits"

    def _photo_title(self) -> str:
        photo, tree, u = self.photo.photo, self.session.tree, self.session.units
        assert tree is not None
        if photo is None:
            return f"No photograph of {tree.name} yet"
        if photo.view == "above":
            lies = lies_words(photo, tree)[0] == "fits"
            return f"Roots from above, {'under the root plan' if lies else 'not marked yet'}"
        try:
            found = self.photo.darkroom.figures(photo)
        except KeshError:
            found = None
        value = found.figures["height_mm"] if found else None
        if found is not None and value is not None and value.value is None and value.why:
            return f"Not measured: {found.doubt:.0%} of it is in doubt"
        if value is None or not isinstance(value.value, float):
            return f"{tree.name} in a photograph, not cut out yet"
        return f"{u.mm(value.value)} tall by the photograph, ± {u.figure(value.plus_minus or 0)}"

    def drawing(self) -> SheetView | None:
        shown_now = self.sheet.currentWidget()  # type: ignore[attr-defined]
        return shown_now if isinstance(shown_now, SheetView) else None

    def px_mm(self) -> float:
        return 0.0 if self.view == "photo" else super().px_mm()

    def views(self) -> tuple[tuple[str, str], ...]:
        return () if self.on_card else super().views()

    def keys(self) -> str:
        if self.on_card:
            return "Up and Down take a species   Enter goes on, and lets it stand"
        if self.view == "roots" and self.session.collection.above_of(self.session.tree_id) is not None:
            return f"U photograph   {BY_GRIPS}"
        if self.view == "photo" and self.photo.photo is not None and self.photo.photo.view == "above":
            return "G takes a mark   arrows move it, Ctrl tenfold   V next view"
        if self.view == "photo":
            return "L loop   B brush   D date   O cut-out   G takes a mark, arrows move it   Y years"
        return BY_GRIPS

    @property
    def on_card(self) -> bool:
        """Whether the card for a new tree is in sight: asked for, or because there is none yet."""
        return self.adding or self.session.tree is None

    def _show_card(self) -> None:
        self.sheet.setCurrentWidget(self.first)  # type: ignore[attr-defined]
        self.panel.setCurrentWidget(self.beside_first)  # type: ignore[attr-defined]
        self.findings = None
        self.beside_first.refresh()
        self._told_more()

    def _told_more(self) -> None:
        self.first.main.setEnabled(not self.first.first.missing and not self.first.first.fault)

    def show_view(self, key: str) -> None:
        self.adding = False
        if self.on_card:
            self._show_card()
            super().show_view(key)
            return
        wanted = {"roots": self.roots, "photo": self.photo}.get(key, self.front)
        self.sheet.setCurrentWidget(wanted)  # type: ignore[attr-defined]
        on_photo = key == "photo"
        self.panel.setCurrentWidget(self.photo_panel if on_photo else self.measures)  # type: ignore[attr-defined]
        self.findings = None if on_photo else self.measures.findings
        super().show_view(key)
        if on_photo:
            self.photo_panel.refresh()
            self.context.cutter.cut_when_due(self.photo.photo)

    def refresh(self) -> None:
        if self.on_card:
            self._show_card()
            return
        if self.sheet.currentWidget() is self.first:  # type: ignore[attr-defined]
            self.show_view(self.view)
        # the others are fitted when they are shown
        drawing = self.drawing()
        if drawing is not None:
            drawing.refit()
            drawing.update()
        if self.view == "photo":
            self.photo_panel.refresh()
            self.context.cutter.cut_when_due(self.photo.photo)
        self.measures.refresh()

    def drafted(self) -> None:
        if self.on_card:
            return
        drawing = self.drawing()
        if drawing is not None:
            drawing.update()
        (self.photo_panel if self.view == "photo" else self.measures).refresh()

    def entered(self) -> None:
        if self.on_card:
            self._show_card()
            self.first.name.setFocus()
            return
        self.show_view(self.view)
        self.refresh()

    def tree_changed(self) -> None:
        self.adding = False

    def file_changed(self) -> None:
        self.adding = False
        self.first.begin(empty=True)

    def add_tree(self) -> None:
        """The card for a new tree: five things, and it stands there."""
        self.context.go("tree")
        self.adding = True
        self.first.begin(empty=self.session.tree is None)
        self._show_card()
        self.first.name.setFocus()
        self.turned.emit()

    def _leave(self) -> None:
        self.adding = False
        self.show_view(self.view)

    def _stands(self, first: FirstTree) -> None:
        s = self.session
        key = fresh_id(s.collection.trees, "tree")
        try:
            tree = first.tree(key, s.today)
        except KeshError as err:
            self.context.say("no", str(err))
            return
        # water and air are reckoned from the first minute; which mix that is, is said, and the brief changes it
        mix = starter_mix_for(s.tables.species.get(tree.species or ""), s.collection.mixes)
        changes = [
            ("tree", key, tree),
            *(
                [
                    (
                        "brief",
                        key,
                        Brief(id=key, mix=mix.id if mix else None, school=str(self.context.settings.get("school"))),
                    )
                ]
            ),
        ]
        if s.edit(f"{tree.name} added", changes):
            self.adding = False
            self.first.begin(empty=False)
            s.choose_tree(key)
            self.context.go("tree", view="front")
            begun = f" Judged in the mix {mix.name} until step 2 says another." if mix else ""
            self.context.say("fits", f"{tree.name} stands here.{begun} Pots: step 3")

    def _climate(self, key: str) -> None:
        s = self.session
        s.edit("Climate chosen", [("site", "site", with_climate(s.collection.site, key))])

    def arrive(self, **what: Any) -> None:
        if "view" in what:
            self.show_view(str(what["view"]))
        if "photo" in what:
            self.show_photo(str(what["photo"]))
        if what.get("measure"):
            self.measures.fields["height_mm"].setFocus()

    def show_photo(self, photo: str) -> None:
        """Take a photograph in hand."""
        self.photo.choose(photo)
        self.photo_panel.show_photo(photo)
        self.turned.emit()
        self.context.cutter.cut_when_due(self.photo.photo)

    def _cut_done(self) -> None:
        self.photo_panel.refresh()
        self.photo.refit()
        self.photo.update()
        self.turned.emit()

    # commands ----------------------------------------------------------------------------------------------------

    def measure_anew(self) -> None:
        """Start a new dated set of measures from the last one."""
        s = self.session
        if s.tree is None:
            raise FieldError("tree", "there is no tree to measure; add one with Ctrl+N")
        if s.tree.measure.taken == s.today:
            self.context.say("watch", "Today's measures are open already; change them in the fields")
            return
        fresh = s.tree.measure.changed(taken=s.today, how="hand")
        s.change_tree("Measured anew", measures=(*s.tree.measures, fresh))
        self.context.go("tree")

    def cut_out(self) -> None:
        """Cut the tree out of the photograph in hand."""
        self.context.cutter.cut_when_due(self.photo.photo, asked=True)

    def add_above(self) -> None:
        """A photograph of the roots from above, to lie under the root plan."""
        self.add_photo("above")

    def add_photo(self, view: str = "side") -> None:
        """A photograph of the tree in hand: read and kept; from the side its trunk's foot is looked for, and it is cut out."""
        ask_photo(self.context, view, self._taken)

    def paste_photo(self) -> None:
        """The picture on the clipboard as a photograph of the tree in hand."""
        photo_pasted(self.context, "side", self._taken)

    def _taken(self, photo: TreePhoto) -> None:
        self.context.go("tree", view="photo", photo=photo.id)
        if photo.view == "above":
            self.context.say("watch", "Drag the marks: a known distance, the trunk's middle, and the front marker")
        elif photo.soil is None:
            self.context.say("watch", "Drag the soil mark onto the middle of the trunk's foot, then cut the tree out")

    def delete_photo(self) -> None:
        """Take the photograph in hand out of the collection; undo brings it back."""
        photo = self.photo.photo
        if photo is None:
            raise FieldError("photo", "there is no photograph in hand; V shows those of the tree")
        if self.session.edit(f"Photograph {photo.name or 'of the tree'} deleted", [("photo", photo.id, None)]):
            self.photo.choose("")
            self.photo_panel.show_photo("")
            self.context.say("fits", "Photograph deleted; Ctrl+Z brings it back")
