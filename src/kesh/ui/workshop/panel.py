"""The makers' panel: what the route in hand says of the design, what the maker brings, checks, findings, what to buy."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QWidget

from kesh.advice.assess import Assessment
from kesh.advice.design.space import with_planned_holes
from kesh.advice.making.drill import fitted, fixes
from kesh.advice.making.job import LOCAL, Job
from kesh.advice.making.joiner import JOINTS
from kesh.advice.making.routes import FIRED, ROUTES, MakerWishes, job
from kesh.errors import KeshError
from kesh.model import Pot
from kesh.reference.tables import materials
from kesh.science.making.clay import from_bar
from kesh.science.making.tubes import FLOOR_LIFE_YEARS
from kesh.ui.places.shelf_panel import FINISHES, OUTLINES, FactList
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.state.shelf import Fact
from kesh.ui.state.workshop import (
    FAMILIES,
    family_of,
    judged,
    live_facts,
    settled,
    with_family,
    with_feet_style,
    with_one_more_hole,
    with_outline,
    with_value,
)
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, FindingList, Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.fields import MeasureEdit

HEADS = {
    "potter": "For a potter",
    "print": "For a printer",
    "box": "Timber box",
    "tube": "From pipe",
    "drill": "For the drill",
}
WRITES = {
    "potter": "Write the potter's sheet", "print": "Write the printer's files", "box": "Write the cut list",
    "tube": "Write the pipe sheet", "drill": "Write template and drill plan",
}  # fmt: skip
FEET = {"cloud": "cloud", "block": "block", "ring": "ring", "columns": "columns", "none": "none"}
SIZES = (
    ("length_mm", "Length"),
    ("width_mm", "Width"),
    ("height_mm", "Height"),
    ("wall_mm", "Wall"),
    ("floor_mm", "Floor"),
    ("feet_mm", "Feet"),
)
PLASTICS = ("print_petg", "print_asa", "print_pla")
PIPES = ("pvc_pipe", "abs_pipe", "galvanised_steel", "stainless_steel", "aluminium")
WOODS = ("timber_larch", "timber_cedar", "timber_oak", "timber_pine")
SHORT = 40
BRINGS = {"potter": "Clay and glaze", "print": "Printer", "box": "Boards", "tube": "Pipe", "drill": "Drill plan"}
SIGN = {"fits": "●", "watch": "◐", "no": "⊘", "unknown": "◌"}


class WorkshopPanel(Panel):
    """Every change is written at once; the route's job is reckoned in the background."""

    write = pyqtSignal()
    reckoned = pyqtSignal()
    beside = pyqtSignal(str)
    wanted_tree = pyqtSignal(str)

    def __init__(self, session: Session, runner: Runner) -> None:
        super().__init__(session)
        self._runner = runner
        self.pot_id, self.route = "", "potter"
        self.wishes, self.people = MakerWishes(), 2
        self.job: Job | None = None
        self.head, self.note = title(""), quiet("")
        self.live, self.figures = FactList(session), FactList(session)
        for widget in (self.head, self.note, self.live):
            self.column.addWidget(widget)
        self.gap(4)
        self.column.addWidget(SectionHead(session, "Shape", "or drag in the drawing"))
        self.outline = Choice(OUTLINES, "Outline from above")
        self.family = Choice({k: k for k in FAMILIES}, "Wall")
        self.feet = Choice(FEET, "Feet")
        self.outline.chosen.connect(
            lambda kind: self._change("Outline", lambda p: settled(with_outline(p, kind), holes_follow=True))
        )
        self.family.chosen.connect(lambda key: self._change("Wall", lambda p: with_family(p, key)))
        self.feet.chosen.connect(lambda key: self._change("Feet", lambda p: with_feet_style(p, key)))
        for label, choice in (("Outline", self.outline), ("Wall", self.family), ("Feet", self.feet)):
            self.column.addWidget(row(label, choice))
        self.fields: dict[str, MeasureEdit] = {}
        for name, label in SIZES:
            field = MeasureEdit(session, label, optional=False, fine=True)
            field.entered.connect(
                lambda mm, n=name, w=label: self._change(f"{w} changed", lambda p: with_value(p, n, mm))
            )
            self.fields[name] = field
            self.column.addWidget(row(label, field))
        self.by_rule = button(
            "Holes by the rule", lambda: self._change("Holes by the rule", with_planned_holes), link=True
        )
        self.one_drain = button(
            "One more drain hole",
            lambda: self._change("Drain hole added", lambda p: with_one_more_hole(p, 20.0)),
            link=True,
        )
        self.one_tie = button(
            "One more tie hole", lambda: self._change("Tie hole added", lambda p: with_one_more_hole(p, 5.0)), link=True
        )
        self.tray = button("Draw its drip tray", lambda: self.beside.emit("tray"), link=True)
        self.stand = button("Draw a stand for it", lambda: self.beside.emit("stand"), link=True)
        for made in (self.by_rule, self.one_drain, self.one_tie, self.tray, self.stand):
            self.column.addWidget(made)
        self.gap()
        self.route_head = SectionHead(session, "")
        self.column.addWidget(self.route_head)
        self._rows: dict[str, list[QWidget]] = {key: [] for key in ROUTES}
        self._makers()
        self.column.addWidget(self.figures)
        self.trouble, self.checks, self.more = quiet(""), quiet(""), quiet("")
        self.column.addWidget(self.more)
        self.column.addWidget(self.trouble)
        self.column.addWidget(self.checks)
        self.fixes = quiet("")
        self.do_fixes = button("They are done: change the pot", self._fixed, link=True)
        self.column.addWidget(self.fixes)
        self.column.addWidget(self.do_fixes)
        self.gap()
        self.findings = FindingList(session)
        self.column.addWidget(self.findings)
        self.gap()
        self.bill_head, self.bill = SectionHead(session, "To buy"), quiet("")
        self.care_head, self.care = SectionHead(session, "With care"), quiet("")
        parts: tuple[QWidget, ...] = (self.bill_head, self.bill, self.care_head, self.care)
        for part in parts:
            self.column.addWidget(part)
        self.main = button("", self.write.emit, main=True)
        self.foot.addWidget(self.main)

    # what the makers bring --------------------------------------------------------------------------------------

    def _makers(self) -> None:
        s = self.session
        names = {k: m.name for k, m in materials().items()}
        self.clay = Choice({k: n for k, n in names.items() if k.startswith(FIRED)}, "Clay")
        self.clay.chosen.connect(lambda key: self._change("Clay", lambda p: p.changed(material=key)))
        self.finish = Choice({k: v for k, v in FINISHES.items() if k != "as_made"}, "Finish")
        self.finish.chosen.connect(lambda key: self._change("Finish", lambda p: p.changed(finish=key)))
        self.colour = self._text("Colour", self._colour)
        self.bar_wet, self.bar_fired = (MeasureEdit(s, f"Test bar {when}", fine=True) for when in ("wet", "fired"))
        for field in (self.bar_wet, self.bar_fired):
            field.entered.connect(lambda _: self._bar())
        self._own("potter", "Clay", self.clay)
        self._own("potter", "Finish", self.finish)
        self._own("potter", "Colour, #rrggbb", self.colour)
        self._own("potter", "Test bar, wet", self.bar_wet)
        self._own("potter", "Test bar, fired", self.bar_fired)
        self.kiln = [MeasureEdit(s, f"Kiln inside, {side}") for side in ("length", "width", "height")]
        for side, field in zip(("length", "width", "height"), self.kiln, strict=True):
            self._own("potter", f"Kiln inside, {side}", field)
        self.lifters = Choice({"2": "two people", "1": "one person"}, "Who lifts it")
        self.lifters.chosen.connect(lambda key: setattr(self, "people", int(key)))
        self._own("potter", "Who lifts it", self.lifters)
        self.plastic = Choice({k: names[k] for k in PLASTICS}, "Plastic")
        self.plastic.chosen.connect(lambda key: self._bring(plastic=key))
        self.bed = [MeasureEdit(s, f"Bed {axis}", optional=False) for axis in "xyz"]
        self.gap_field = MeasureEdit(s, "Clearance of pegs", optional=False, fine=True)
        for k, field in enumerate(self.bed):
            field.entered.connect(lambda mm, at=k: self._bed(at, mm))
        self.gap_field.entered.connect(lambda mm: self._bring(printing=replace(self.wishes.printing, clearance_mm=mm)))
        self._own("print", "Plastic", self.plastic)
        for axis, field in zip(("x", "y", "z"), self.bed, strict=True):
            self._own("print", f"Bed, {axis}", field)
        self._own("print", "Peg clearance", self.gap_field)
        self.layer = MeasureEdit(s, "Layer height", optional=False, fine=True)
        self.layer.entered.connect(lambda mm: self._setting(layer_mm=mm))
        self._own("print", "Layer height", self.layer)
        self.wood = Choice({k: names[k] for k in WOODS}, "Wood")
        self.joint = Choice({str(k): v for k, v in JOINTS.items()}, "Corners")
        self.wood.chosen.connect(lambda key: self._bring(box=replace(self.wishes.box, wood=key)))
        self.joint.chosen.connect(lambda key: self._bring(box=replace(self.wishes.box, joint=key)))
        self._own("box", "Wood", self.wood)
        self._own("box", "Corners", self.joint)
        self.boards: dict[str, MeasureEdit] = {}
        for name, label in (
            ("board_mm", "Board thickness"),
            ("board_width_mm", "Board width"),
            ("stock_mm", "Stock length"),
        ):
            field = MeasureEdit(s, label, optional=False)
            field.entered.connect(lambda mm, n=name: self._bring(box=replace(self.wishes.box, **{n: mm})))
            self.boards[name] = field
            self._own("box", label, field)
        self.pipe = Choice({k: names[k] for k in PIPES}, "Pipe")
        self.floor = Choice({k: k for k in FLOOR_LIFE_YEARS}, "Floor")
        self.pipe.chosen.connect(lambda key: self._bring(tube=replace(self.wishes.tube, pipe=key)))
        self.floor.chosen.connect(lambda key: self._bring(tube=replace(self.wishes.tube, floor=key)))
        self.pipe_wall = MeasureEdit(s, "Pipe wall", optional=False, fine=True)
        self.pipe_wall.entered.connect(lambda mm: self._bring(tube=replace(self.wishes.tube, wall_mm=mm)))
        self.count = self._text("How many", self._count)
        self._own("tube", "Pipe", self.pipe)
        self._own("tube", "Its wall", self.pipe_wall)
        self._own("tube", "Floor", self.floor)
        self._own("tube", "How many", self.count)

    def _text(self, name: str, done: Callable[[], None]) -> QLineEdit:
        field = QLineEdit()
        field.setAccessibleName(name)
        field.setFixedWidth(fonts.scaled(84))
        field.editingFinished.connect(done)
        return field

    def _own(self, route: str, label: str, field: QWidget) -> None:
        made = row(label, field)
        self._rows[route].append(made)
        self.column.addWidget(made)

    def _bring(self, **wishes: Any) -> None:
        self.wishes = replace(self.wishes, **wishes)
        self.refresh()

    def _setting(self, **fields: Any) -> None:
        printing = self.wishes.printing
        self._bring(printing=replace(printing, setting=replace(printing.setting, **fields)))

    def _bed(self, at: int, mm: float) -> None:
        bed = list(self.wishes.printing.bed_mm)
        bed[at] = mm
        self._bring(printing=replace(self.wishes.printing, bed_mm=(bed[0], bed[1], bed[2])))

    def _bar(self) -> None:
        wet, fired = self.bar_wet.mm, self.bar_fired.mm
        if wet is None or fired is None:
            self._bring(shrinkage=None)
            return
        try:
            self._bring(shrinkage=from_bar(wet, fired))
        except KeshError as err:
            self.session.said.emit("no", str(err))

    def kiln_mm(self) -> tuple[float, float, float] | None:
        """The inside of the kiln that the solver keeps to; None until all three are given."""
        sizes = [field.mm for field in self.kiln]
        long, wide, high = sizes
        return None if long is None or wide is None or high is None else (long, wide, high)

    def _colour(self) -> None:
        text = self.colour.text().strip()
        pot = self.pot
        if pot is not None and text and text.lower() != pot.colour.lower():
            self._change("Colour", lambda p: p.changed(colour=text))

    def _count(self) -> None:
        try:
            self._bring(tube=replace(self.wishes.tube, count=int(self.count.text())))
        except ValueError:
            self.session.said.emit("no", f"how many: '{self.count.text()}' is no whole number; write one, such as 3")

    # the design -------------------------------------------------------------------------------------------------

    @property
    def pot(self) -> Pot | None:
        """The design in hand."""
        return self.session.collection.pots.get(self.pot_id)

    def show_pot(self, pot_id: str) -> None:
        """Another design."""
        if pot_id != self.pot_id:
            self.pot_id, self.job = pot_id, None
        self.refresh()

    def show_route(self, route: str) -> None:
        """Another maker."""
        self.route, self.job = route, None
        self.refresh()

    def _change(self, label: str, make: Callable[[Pot], Pot]) -> None:
        pot = self.session.file.collection.pots.get(self.pot_id)
        if pot is None:
            return
        try:
            changed = make(pot)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.refresh()
            return
        if changed != pot:
            self.session.edit(f"{pot.name}: {label.lower()}", [("pot", pot.id, changed)])

    def case(self) -> Any:
        """The case of the tree the design is for; None without one."""
        pot, s = self.pot, self.session
        tree = (pot.made_for if pot else None) or s.tree_id
        if tree not in s.collection.trees:
            return None
        from kesh.advice.case import case_for

        return case_for(s.collection, tree, today=s.today)

    def refresh(self) -> None:
        """Show the design in hand for the maker in hand."""
        s, pot = self.session, self.pot
        self.setEnabled(pot is not None)
        self.head.setText(HEADS[self.route])
        self.main.setText(WRITES[self.route])
        for key, rows in self._rows.items():
            for made in rows:
                made.setVisible(key == self.route)
        self.route_head.set_text(BRINGS[self.route])
        if pot is None:
            self.note.setText("Draw a pot, or ask the solver for one (F5).")
            return
        tree = s.collection.trees.get(pot.made_for or s.tree_id)
        self.note.setText(f"{pot.name}, for {tree.name}" if tree else pot.name)
        try:
            self.live.show_facts(live_facts(pot, s.units))
        except KeshError as err:
            s.said.emit("no", str(err))
        self.outline.show_key(pot.outline.kind)
        self.family.show_key(family_of(pot))
        self.feet.show_key(pot.feet_style if pot.feet_mm > 0 else "none")
        for name, field in self.fields.items():
            field.show_mm(getattr(pot, name))
        self._show_makers(pot)
        case = self.case()
        a = judged(case, pot, s.units)
        self.findings.setVisible(a is not None)
        if a is not None:
            self.findings.show_findings(tuple(f for f in a.findings if f.code not in ("pot_state", "budget")))
        self._show_fixes(a)
        if s.dragging:
            return
        route, wishes = self.route, self.wishes
        self.route_head.set_note("reckoning…" if self.job is None else "")

        def work() -> Job | str:
            try:
                return job(route, pot, case, wishes)
            except KeshError as err:
                return str(err)

        self._runner.start("job", work, self._show_job)

    def _show_fixes(self, a: Assessment | None) -> None:
        """What would make this pot fit, and what it is worth then."""
        found = fixes(a) if a is not None and self.route == "drill" else ()
        self.fixes.setVisible(bool(found))
        self.do_fixes.setVisible(any(f.pot != a.pot for f in found) if a is not None else False)
        if a is None or not found:
            self.fixes.setText("")
            return
        _, after = fitted(a.case, a.pot, found)
        lines = [f"{k}. {f.what}: {f.minutes:.0f} min, risk: {f.risk}." for k, f in enumerate(found, start=1)]
        now, then = (sum(x.status in ("watch", "no") for x in one.findings) for one in (a, after))
        lines.append(f"Open findings: {now} now, {then} afterwards; the worst then: {after.worst}.")
        self.fixes.setText("\n".join(lines))

    def _fixed(self) -> None:
        """The fixes were carried out."""
        pot = self.pot
        a = judged(self.case(), pot, self.session.units) if pot is not None else None
        if a is not None:
            self._change("Made to fit", lambda p: fitted(a.case, p, fixes(a))[0])

    def _show_makers(self, pot: Pot) -> None:
        w = self.wishes
        self.clay.show_key(pot.material)
        self.finish.show_key(pot.finish)
        if not self.colour.hasFocus():
            self.colour.setText(pot.colour.upper())
        self.plastic.show_key(w.plastic)
        for field, mm in zip(self.bed, w.printing.bed_mm, strict=True):
            field.show_mm(mm)
        self.gap_field.show_mm(w.printing.clearance_mm)
        self.layer.show_mm(w.printing.setting.layer_mm)
        self.wood.show_key(w.box.wood)
        self.joint.show_key(w.box.joint)
        for name, field in self.boards.items():
            field.show_mm(getattr(w.box, name))
        self.pipe.show_key(w.tube.pipe)
        self.floor.show_key(w.tube.floor)
        self.pipe_wall.show_mm(w.tube.wall_mm)
        if not self.count.hasFocus():
            self.count.setText(str(w.tube.count))

    def _show_job(self, found: Job | str) -> None:
        self.job = found if isinstance(found, Job) else None
        self.route_head.set_note("")
        self.main.setEnabled(self.job is not None)
        made = self.job is not None
        self.trouble.setText("" if isinstance(found, Job) else f"{SIGN['no']} {found}")
        self.trouble.setVisible(not made)
        for part in (self.figures, self.more, self.checks, self.bill_head, self.bill, self.care_head, self.care):
            part.setVisible(made)
        self.reckoned.emit()
        if self.job is None:
            return
        short = [(name, value) for name, value in self.job.facts if len(name) + len(value) < SHORT]
        self.figures.show_facts(tuple(Fact(name, value) for name, value in short))
        self.more.setText("\n".join(f"{name}: {value}" for name, value in self.job.facts if (name, value) not in short))
        self.more.setVisible(bool(self.more.text()))
        self.checks.setText("\n".join(f"{SIGN[c.status]} {c.text}" for c in self.job.checks))
        self.checks.setVisible(bool(self.job.checks))
        self.bill.setText("\n".join(f"{i.what}: {i.text}" for i in self.job.bill) or "Nothing.")
        self.care.setText("\n".join(f"{c.hazard}. {c.care}." for c in self.job.cautions) + f"\n{LOCAL}")
