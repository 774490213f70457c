"""Step Planting as it is shown: the drawing in two views, the work in order, and the panels beside them."""

from datetime import datetime
from typing import Any

from PyQt6.QtWidgets import QStackedWidget

from kesh.advice.assess import Assessment
from kesh.advice.kinds.kinds import kind_of, kind_rows
from kesh.advice.kinds.plan import Setting, SpecialPlan
from kesh.advice.planting.meant import planting_in
from kesh.advice.planting.plan import PlantingPlan
from kesh.base.errors import FieldError, KeshError
from kesh.desk.bench_trial import used_litres
from kesh.desk.planting import pots_to_plant, title_words, with_view
from kesh.desk.potting import potted
from kesh.desk.special import shown_kind, title_of
from kesh.model import Planting
from kesh.photo.cutout import CutOut
from kesh.ui.hand.view import SheetView
from kesh.ui.rooms.planting.bench.at_bench import AtBench
from kesh.ui.rooms.planting.panel import PlantingPanel
from kesh.ui.rooms.planting.sheet import PlantingSheet
from kesh.ui.rooms.planting.special_panel import SpecialPanel
from kesh.ui.rooms.planting.special_sheet import SpecialSheet
from kesh.ui.rooms.planting.work_panel import WorkPanel
from kesh.ui.rooms.planting.work_sheet import WorkOrderSheet
from kesh.ui.rooms.room import Context, Face, Room

NONE = "The tree stands in no pot yet. Choose one in the line-up."


class PlantingFace(Face):
    """The pot is the chosen one, the first of the line-up or the present one; W swaps it."""

    def __init__(self, room: Room, context: Context) -> None:
        super().__init__(room, context)
        s = context.session
        self.drawing_sheet, self.beside = PlantingSheet(s, context.gallery), PlantingPanel(s)
        self.sheets, self.panels = QStackedWidget(), QStackedWidget()
        self.order, self.before = WorkOrderSheet(s, context.gallery), WorkPanel(s)
        self.special_sheet, self.special_beside = SpecialSheet(s, context.gallery), SpecialPanel(s)
        for stack, parts in (
            (self.sheets, (self.drawing_sheet, self.order, self.special_sheet)),
            (self.panels, (self.beside, self.before, self.special_beside)),
        ):
            for part in parts:
                stack.addWidget(part)
        self.sheet, self.panel = self.sheets, self.panels
        self.pot_id = ""
        self.bench: AtBench | None = None
        self.findings = self.beside.findings
        self.drawing_sheet.real = self._real
        self._kept: tuple[object, PlantingPlan | None] = (None, None)
        self.drawing_sheet.wire_chosen.connect(self.beside.show_wire)
        self.beside.swap.connect(self.swap)
        self.drawing_sheet.swap.connect(self.swap)
        self.beside.viewed.connect(self._viewed)
        self.beside.to_bench.connect(self.at_bench)
        self.beside.to_sheet.connect(self.print_sheet)
        self.special_sheet.grip_chosen.connect(self.special_beside.show_grip)
        self.special_beside.to_sheet.connect(self.print_sheet)
        self.special_beside.to_bench.connect(self.at_bench)
        self.order.stepped.connect(self.before.show_step)
        self.before.to_bench.connect(self.at_bench)
        self.before.to_sheet.connect(self.print_sheet)
        self.before.done.connect(self.potted)
        self.before.asked.connect(self.asked)

    def _real(self) -> CutOut | None:
        s = self.session
        photo = next(iter(s.collection.sides_of(s.tree_id)), None)
        try:
            return self.context.darkroom.cutout(photo) if photo is not None and photo.front else None
        except KeshError:
            return None

    # --- what is in hand

    def pot_in_hand(self) -> str:
        """The pot that is planned for; empty without any."""
        pots = pots_to_plant(self.session.collection, self.session.tree_id)
        return self.pot_id if self.pot_id in pots else (pots[0] if pots else "")

    def planting(self) -> Planting | None:
        """The planting in that pot as it is, planned or would be."""
        s, key = self.session, self.pot_in_hand()
        return planting_in(s.collection, s.tree_id, s.collection.pots[key]) if key and s.tree is not None else None

    def kind(self) -> str:
        """What is special about the planting in hand."""
        s = self.session
        species = s.tables.species.get(s.tree.species or "") if s.tree is not None else None
        return shown_kind(self.planting(), s.tree, species)

    def setting(self) -> Setting | None:
        """What a special plan is reckoned from."""
        plan, planting = self.plan(), self.planting()
        return (
            None
            if plan is None or planting is None
            else Setting(plan.a, planting, self.session.units, self.session.today)
        )

    def views(self) -> tuple[tuple[str, str], ...]:
        # a plain planting has the view as well: there its kind is chosen
        words = title_of(self.kind()) if self.kind() not in ("plain", "group", "pair") else "Kind"
        return (*self.room.views[:2], ("special", words), *self.room.views[2:])

    def plan(self) -> PlantingPlan | None:
        """The plan of the planting in hand, the same object while nothing changed."""
        key = self.pot_in_hand()
        a = self.session.planned_in(key) if key else None
        if a is None or a.fault:
            return None
        mark = (a, self.session.units)
        if self._kept[0] is None or self._kept[0][0] is not a or self._kept[0][1] != self.session.units:  # type: ignore[index]
            self._kept = (mark, PlantingPlan(a, self.session.units, self.session.today))
        return self._kept[1]

    def assessment(self) -> Assessment | None:
        plan = self.plan()
        return None if plan is None else plan.whole if not self.session.dragging else plan.a

    def title(self) -> str:
        plan, planting = self.plan(), self.planting()
        if self.session.tree is None:
            return "No tree yet"
        if self.view == "work" and plan is not None:
            return f"{len(plan.steps)} steps, about {sum(s.minutes or 0.0 for s in plan.steps):.0f} minutes"
        if self.view == "special" and plan is not None:
            if plan.special is not None:
                return plan.special.title
            kind = self.kind()
            # where nobody said what it is, the plant itself says how it is worked
            said = self.session.tree is not None and kind == kind_of(self.planting(), self.session.tree)
            why = kind_rows()[kind].changes.rstrip(".").lower() if said else "worked so, since it stores water"
            return f"{title_of(kind)}: {why}"
        return "No pot to plant in yet" if plan is None or planting is None else title_words(plan, planting)

    def drawing(self) -> SheetView:
        return (
            self.order if self.view == "work" else self.special_sheet if self.view == "special" else self.drawing_sheet
        )

    def px_mm(self) -> float:
        return (
            0.0
            if self.view == "work"
            else self.special_sheet.px_mm
            if self.view == "special"
            else self.drawing_sheet.px_mm
        )

    def keys(self) -> str:
        if self.view == "work":
            return "Up and down walk the steps   V next view"
        if self.view == "special":
            return "G takes a grip   arrows move it   Ctrl tenfold, Shift a tenth   V next view"
        return "Arrows move it 1 mm   T tilt   R turn   M mound   G next   W pot"

    # --- following

    def refresh(self) -> None:
        plan, planting = self.plan(), self.planting()
        told = "No tree yet. Add one in step 1." if self.session.tree is None else NONE
        if plan is None and planting is not None:
            a = self.session.planned_in(self.pot_in_hand())
            told = a.fault if a is not None else told
        self.drawing_sheet.show_plan(plan, planting, told)
        self.beside.show_plan(plan, planting)
        self.beside.show_wire(self.drawing_sheet.wire)
        if self.view == "work":
            self.order.show_plan(plan, told)
            self.before.show_plan(plan)
        if self.view == "special":
            self._show_special(told)
        self.turned.emit()

    def _show_special(self, told: str = "", *, live: bool = False) -> None:
        setting, kind = self.setting(), self.kind()
        whole = self.plan()
        plan = whole.special if whole is not None else None
        shown = plan if plan is not None or setting is None else SpecialPlan(kind, title_of(kind))
        self.special_sheet.show_special(setting, kind, shown, told, hurry=live)
        self.special_beside.show_special(setting, kind, plan, told, live=live)

    def drafted(self) -> None:
        if self.view == "special":
            self._show_special(live=True)
            return
        plan, planting = self.plan(), self.planting()
        self.drawing_sheet.show_plan(plan, planting)
        self.beside.show_plan(plan, planting, live=True)

    def show_view(self, key: str) -> None:
        self.drawing_sheet.state = key if key in ("ties", "place") else self.drawing_sheet.state
        work = key == "work"
        special = key == "special"
        self.sheets.setCurrentWidget(self.order if work else self.special_sheet if special else self.drawing_sheet)
        self.panels.setCurrentWidget(self.before if work else self.special_beside if special else self.beside)
        super().show_view(key)
        self.drawing_sheet.refit()
        self.special_sheet.refit()
        self.refresh()

    def entered(self) -> None:
        self.refresh()

    def arrive(self, **what: Any) -> None:
        if "pot" in what:
            self.pot_id = str(what["pot"])
            self.refresh()

    def tree_changed(self) -> None:
        self.pot_id = ""
        self.drawing_sheet.in_hand, self.special_sheet.in_hand = "trunk", ""

    def file_changed(self) -> None:
        self.tree_changed()

    # --- hands

    def swap(self) -> None:
        """Plan for the next pot: chosen, line-up, present."""
        pots = pots_to_plant(self.session.collection, self.session.tree_id)
        if len(pots) > 1:
            self.pot_id = pots[(pots.index(self.pot_in_hand()) + 1) % len(pots)]
            self.refresh()

    def _viewed(self, field: str, key: str) -> None:
        """Another side of a topic; where it bears on the planting itself that follows in the same step."""
        s, planting = self.session, self.planting()
        changes: list[Any] = []
        try:
            changes.append(
                ("brief", s.tree_id, s.brief.changed(planting_views=with_view(s.brief.planting_views, field, key)))
            )
            if planting is not None and field == "tie":
                plan = self.plan()
                stands = plan is not None and plan.ties is not None and plan.ties.stands_untied
                anchors = (
                    "none"
                    if key == "never" or (key == "asked" and stands)
                    else "ties"
                    if planting.anchors == "none"
                    else planting.anchors
                )
                if anchors != planting.anchors:
                    changes.append(("planting", planting.id, planting.changed(anchors=anchors)))
            if planting is not None and field == "mound" and key == "level" and planting.mound_mm:
                changes.append(("planting", planting.id, planting.changed(mound_mm=0.0)))
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        s.edit("View on planting", changes)

    def at_bench(self) -> None:
        """Hands free: one step at a time over the whole window; work that was begun goes on where it stood."""
        s = self.session
        work = s.collection.works.get(s.tree_id)
        if work is not None and work.pot in pots_to_plant(s.collection, s.tree_id):
            self.pot_id = work.pot
        if self.bench is None:
            self.bench = AtBench(s, self.context.desk.parent_widget(), self.plan, self.planting)
            self.bench.left.connect(self.refresh)
            self.bench.finished.connect(self._finish)
        if self.plan() is None:
            self.context.say("unknown", "There is no pot to plant in yet: choose one in step 3")
        else:
            self.bench.open()

    def _finish(self) -> None:
        if self.bench is None:
            return
        try:
            if self.potted():
                self.bench.leave()
        except KeshError as err:
            # the work stays open: what stands in the way is said where the hands are
            self.bench.say(str(err))

    def print_sheet(self) -> None:
        """The work sheet as PDF, A4 or A3."""
        plan, planting = self.plan(), self.planting()
        if plan is None or planting is None:
            raise FieldError("work sheet", "there is no pot to plant in yet; choose one in step 3")
        c = self.context
        folder = c.folder / f"{plan.a.case.tree.name} - {plan.a.pot.name} - work sheet.pdf"
        path, kind = c.asker.save_as(c.desk.parent_widget(), "Work sheet", folder, "A4 (*.pdf);;A3 (*.pdf)")
        if path is None:
            return
        from kesh.ui.paper.worksheet import write_worksheet

        path = path if path.suffix.lower() == ".pdf" else path.with_name(f"{path.name}.pdf")
        write_worksheet(plan, path, self.session.today, "A3" if kind.startswith("A3") else "A4")
        c.say("fits", f"Written: {path.name}")

    def potted(self) -> bool:
        """It is done: planting, pots, roots, log, aftercare and stock in one step. Whether it was written."""
        s = self.session
        work = s.collection.works.get(s.tree_id)
        if work is not None and self.bench is not None and self.bench.isVisible():
            # what was begun for a pot is written down for it, whichever was looked at since
            self.pot_id = work.pot
        plan, planting = self.plan(), self.planting()
        if plan is None or planting is None:
            raise FieldError("planting", "there is no pot to plant in yet; choose one in step 3")
        if work is not None and work.pot != plan.a.pot.id:
            work = None
        if s.collection.others_in(plan.a.pot.id, s.tree_id):
            raise FieldError(
                "pot",
                f"another tree stands in {plan.a.pot.name}; plant that one elsewhere first, or free the pot on the Shelf",
            )
        now = self.bench.now() if self.bench is not None else datetime.now()
        changes = potted(
            s.collection,
            plan,
            planting,
            s.today,
            work=work,
            now=now,
            used_l=used_litres(work) if work is not None else None,
        )
        if not s.edit(f"Potted into {plan.a.pot.name}", changes):
            return False
        event = next(key for kind, key, _ in changes if kind == "event")
        tasks = sum(t.event == event for t in s.book().tasks_of.get(s.tree_id, ()))
        self.pot_id = ""
        self.refresh()
        s.said.emit(
            "fits",
            f"Written: it stands in {plan.a.pot.name}; {tasks} steps of aftercare begin. Ctrl+Z takes all of it back",
        )
        return True
