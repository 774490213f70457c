"""Step Group as it is shown: the sheet, the panel, and the proposals that are made in the background."""

from typing import Any

from PyQt6.QtWidgets import QStackedWidget

from kesh.advice.assess import Assessment
from kesh.advice.group.plan import GroupPlan
from kesh.advice.group.rows import title_words
from kesh.base.errors import FieldError, KeshError
from kesh.base.progress import Progress
from kesh.desk.group import PHOTO_VIEW, VIEWS, headspace_of, taken_layout, tray_for, with_new, with_read
from kesh.model import Tree
from kesh.science.group.anneal import Layout, lay_out
from kesh.ui.hand.view import SheetView
from kesh.ui.rooms.group.panel import GroupPanel
from kesh.ui.rooms.group.photo_sheet import StemSheet, front_photo
from kesh.ui.rooms.group.sheet import GroupSheet
from kesh.ui.rooms.room import Context, Face, Room

NO_TRAY = "The group stands in no tray yet. Choose one in the line-up."
ORDINALS = ("First", "Second", "Third")
# what is said of the tray itself, as for a single tree
OF_THE_TRAY = frozenset(
    {
        "depth_band",
        "length_band",
        "width_band",
        "wet_foot",
        "wet_share",
        "watering_days",
        "lift_mass",
        "tipping",
        "wind",
        "frost",
        "switched_off",
    }
)


class GroupFace(Face):
    """The tray is the chosen one, the present one, or the first of the line-up."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        s = context.session
        self.view = "now"
        self.drawing_sheet, self.beside = GroupSheet(s, context.gallery), GroupPanel(s)
        self.stems = StemSheet(s, context.gallery, context.darkroom)
        self.sheets = QStackedWidget()
        self.sheets.addWidget(self.drawing_sheet)
        self.sheets.addWidget(self.stems)
        self.sheet, self.panel = self.sheets, self.beside
        self.findings = self.beside.findings
        self.proposals: tuple[Layout, ...] = ()
        # the plan for which the proposals were made, and how often it was asked for
        self._for: tuple[Any, ...] = ()
        self._asked = 0
        self._plan: tuple[Any, GroupPlan | None] = (None, None)
        self.drawing_sheet.chosen.connect(self.beside.show_chosen)
        self.beside.picked.connect(self._pick)
        self.beside.anew.connect(lambda: context.do("lay_out"))
        self.beside.take_over.connect(self._take_over)
        self.beside.photograph.connect(lambda: context.do("group_photo"))
        self.beside.new_tree.connect(self.add_tree)

    # --- what is in hand

    def plan(self) -> GroupPlan | None:
        """The group as it stands, the same object while nothing changed."""
        s = self.session
        tree = s.tree
        pot = tray_for(s.collection, tree) if tree is not None else None
        if tree is None or pot is None:
            return None
        mark = (tree, pot)
        if self._plan[0] is None or self._plan[0][0] is not tree or self._plan[0][1] is not pot:
            self._plan = (mark, GroupPlan(tree, pot, headspace_of(s.collection, tree, pot)))
        return self._plan[1]

    @property
    def proposed(self) -> bool:
        """Whether something is in sight that is not so yet."""
        return self.view == "move" or self.view.startswith("layout")

    def shown(self) -> GroupPlan | None:
        """What is in sight: the group as it stands, with the move, or as proposed."""
        plan = self.plan()
        if plan is None or self.view in ("now", "ground", "photo"):
            return plan
        if self.view == "move":
            move = plan.mend
            row = next((g for g in plan.rows if move is not None and g.id == move.id), None)
            if move is None or row is None:
                return plan
            return plan.moved(row.id, (row.x_mm or 0.0) + move.dx_mm, (row.y_mm or 0.0) + move.dy_mm)
        n = int(self.view.removeprefix("layout"))
        if n >= len(self.proposals) or plan.trunks is None:
            return plan
        return GroupPlan(taken_layout(plan.tree, plan.trunks.ids, self.proposals[n]), plan.pot, plan.headspace_mm)

    def assessment(self) -> Assessment | None:
        return self.session.assessment()

    def title(self) -> str:
        plan = self.shown()
        if self.session.tree is None:
            return "No tree yet"
        return "No tray to stand in yet" if plan is None else title_words(plan, self.session.units)

    def drawing(self) -> SheetView:
        return self.stems if self.view == "photo" else self.drawing_sheet

    def px_mm(self) -> float:
        return 0.0 if self.view == "photo" else self.drawing_sheet.px_mm

    def views(self) -> tuple[tuple[str, str], ...]:
        photo = (PHOTO_VIEW,) if front_photo(self.session) is not None else ()
        return (*VIEWS, *photo, *((f"layout{n}", ORDINALS[n]) for n in range(len(self.proposals))))

    def keys(self) -> str:
        if self.view == "photo":
            return "Draw from foot to tip   G next mark   arrows move it   Enter takes it over"
        if self.view == "ground":
            return "G takes a handle   arrows move it   Page up and down raise a mound   V next view"
        return "Arrows move trunk 1 mm   G next   P pins   Del beside   A other side   V next view"

    def worst(self) -> tuple[str, int]:
        plan = self.plan()
        if plan is None or not plan.tree.group:
            return "unknown", 0
        from kesh.advice.group.findings import group_findings

        found = group_findings(plan, self.session.units)
        return (found[0].status if found else "fits"), sum(f.status != "fits" for f in found)

    # --- following

    def refresh(self) -> None:
        self._drop_old()
        plan, shown = self.plan(), self.shown()
        told = "No tree yet. Add one in step 1." if self.session.tree is None else NO_TRAY
        species = self.session.case().species if self.session.tree is not None else None
        if self.view == "photo" and front_photo(self.session) is None:
            self.view = "now"
        self.sheets.setCurrentWidget(self.stems if self.view == "photo" else self.drawing_sheet)
        self.stems.update()
        self.drawing_sheet.state = self.view
        self.drawing_sheet.show_plan(shown, species, told)
        self.beside.again.setVisible(self.view == "photo")
        tray = self.session.planned_in(plan.pot.id) if plan is not None else None
        self.beside.tray = () if tray is None else tuple(f for f in tray.findings if f.code in OF_THE_TRAY)
        self.beside.show_plan(shown, plan, told, proposal=self.proposed)
        self._look_for(plan)
        self.turned.emit()

    def _drop_old(self) -> None:
        """Proposals are for the group as it was; another tree, tray or thickness makes them none."""
        plan = self.plan()
        mark = () if plan is None else self._mark(plan)
        if mark != self._for:
            self.proposals = ()
            if self.view.startswith("layout"):
                self.view = "now"

    @staticmethod
    def _mark(plan: GroupPlan) -> tuple[Any, ...]:
        rows = tuple((g.id, g.diameter_mm, g.fixed, (g.x_mm, g.y_mm) if g.fixed else None) for g in plan.rows)
        return plan.tree.id, plan.pot, rows

    def _look_for(self, plan: GroupPlan | None) -> None:
        """The one move that mends most takes half a second: it is looked for beside the work."""
        if plan is None or plan.trunks is None or "mend" in plan.__dict__:
            return

        def found(_: object) -> None:
            self.drawing_sheet.update()
            if self.view == "move":
                self.refresh()

        self.context.runner.start("group/mend", lambda: plan.mend, found)

    def drafted(self) -> None:
        plan = self.plan()
        species = self.session.case().species if self.session.tree is not None else None
        self.drawing_sheet.show_plan(plan, species, hurry=True)
        self.beside.show_plan(plan, plan, "", proposal=False, live=True)

    def show_view(self, key: str) -> None:
        self.view = key
        self.drawing_sheet.in_hand = ""
        self.refresh()
        self.stems.refit()
        super().show_view(key)

    def entered(self) -> None:
        self.refresh()

    def tree_changed(self) -> None:
        self.view, self.proposals, self._for, self._asked = "now", (), (), 0
        self.drawing_sheet.in_hand = self.beside.in_hand = ""
        self.stems.forget()

    def file_changed(self) -> None:
        self.tree_changed()

    def _pick(self, key: str) -> None:
        plan = self.plan()
        spare = plan is not None and any(g.id == key for g in plan.spares)
        self.drawing_sheet.take(f"spare:{key}" if spare else key)

    # --- hands

    def lay_out(self) -> None:
        """Three distinct proposals; pinned trees stay. Asked again, three others. Raises FieldError."""
        plan = self.plan()
        if plan is None:
            raise FieldError("group", "there is no tray to lay it out in; choose one in the line-up")
        trunks = plan.trunks
        if trunks is None:
            raise FieldError("group", "at least three trees have to stand in the tray before it can be laid out")
        if bool(trunks.fixed.all()):
            raise FieldError("group", "every tree is pinned; let at least one go")
        mark, seed = self._mark(plan), self._asked
        self._asked += 1

        def work(progress: Progress) -> list[Layout]:
            return lay_out(trunks, plan.tray, plan.x, plan.y, seed=seed, progress=progress, path=plan.path)

        def done(found: list[Layout]) -> None:
            now = self.plan()
            if now is None or self._mark(now) != mark:
                self.session.said.emit("unknown", "The group has changed meanwhile; lay it out again")
                return
            self.proposals, self._for = tuple(found), mark
            self.show_view("layout0")
            self.session.said.emit("fits", f"{len(found)} proposals; V shows the next, the present one is untouched")

        self.context.runner.start_long("group/layout", "Laying the group out", work, done)

    def _take_over(self) -> None:
        try:
            self.take_over()
        except KeshError as err:
            self.session.said.emit("no", str(err))

    def take_over(self) -> None:
        """What is in sight becomes the group's own."""
        shown = self.shown()
        if shown is None or not self.proposed:
            return
        words = "Move taken over" if self.view == "move" else "Layout taken over"
        made, self.view = shown.tree, "now"
        self.session.edit(words, [("tree", made.id, made)])
        self.refresh()

    def add_tree(self) -> None:
        """One more tree, beside the tray. Raises FieldError."""
        tree = self._tree()
        made, key = with_new(tree)
        self.session.edit(f"Tree {key} added to the group", [("tree", made.id, made)])
        self._pick(key)

    def add_mound(self) -> None:
        """One more mound of the ground; shown with its handles."""
        self._tree()
        self.beside.add_mound()
        if self.view != "ground":
            self.show_view("ground")

    def read_photo(self) -> None:
        """The front photograph of step 1, in which trunks are drawn. Raises FieldError without one."""
        self._tree()
        if front_photo(self.session) is None:
            raise FieldError("photograph", "there is none of this group from the side yet; add one in step 1")
        self.show_view("photo")
        self.stems.setFocus()

    def take_stem(self) -> None:
        """The trunk that is drawn in the photograph becomes a tree, or the measures of the one in hand. Raises FieldError."""
        tree, found = self._tree(), self.stems.found()
        if self.view != "photo" or found is None:
            raise FieldError(
                "trunk", self.stems.fault() or "draw a trunk in the photograph first, from its foot to its tip"
            )
        made, key = with_read(tree, self.beside.in_hand if self.beside.rereads else "", found)
        if self.session.edit(f"Tree {key} read from a photograph", [("tree", made.id, made)]):
            u = self.session.units
            thick = f"{u.fine(float(found.thickness.value or 0))} ± {u.fine(found.thickness.plus_minus or 0)}"
            self.session.said.emit(
                "fits",
                f"Tree {key}: {u.mm(float(found.height.value or 0))} tall, {thick} thick; those behind read small",
            )
            self.stems.forget()

    def _tree(self) -> Tree:
        tree = self.session.tree
        if tree is None:
            raise FieldError("group", "there is no tree yet; add one in step 1")
        return tree
