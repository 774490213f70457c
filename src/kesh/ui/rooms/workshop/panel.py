"""The makers' panel: what the route in hand says of the design, what the maker brings, checks, findings, what to buy."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from kesh.advice.assess import Assessment
from kesh.advice.design.aims import design_case
from kesh.advice.routes.drill import fitted, fixes
from kesh.advice.routes.job import LOCAL, Job
from kesh.advice.routes.routes import job, routes, wishes_of, wishes_text
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import KeshError
from kesh.base.status import gravest_first
from kesh.desk.shelf import Fact
from kesh.desk.workshop import judged, live_facts
from kesh.model import Pot
from kesh.ui.rooms.workshop.maker_box import MakerBox
from kesh.ui.rooms.workshop.shape_box import ShapeBox
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, title
from kesh.ui.widgets.facts import FactList
from kesh.ui.widgets.finding_list import FindingList

SHORT = 40
SIGN = {"fits": "●", "watch": "◐", "no": "⊘", "unknown": "◌"}


class WorkshopPanel(Panel):
    """Every change is written at once; the route's job is reckoned in the background."""

    write = pyqtSignal()
    reckoned = pyqtSignal()
    beside = pyqtSignal(str)
    kept = pyqtSignal(str)

    def __init__(self, session: Session, runner: Runner, kept: str = "") -> None:
        super().__init__(session)
        self._runner = runner
        self.pot_id, self.route = "", "potter"
        self.job: Job | None = None
        self.head, self.note = title(""), quiet("")
        self.live, self.figures = FactList(session), FactList(session)
        for widget in (self.head, self.note, self.live):
            self.column.addWidget(widget)
        self.gap(4)
        self.shape = ShapeBox(session, self.column)
        self.gap()
        self.makers = MakerBox(session, self.column, wishes_of(kept))
        self.shape.changed.connect(self._change)
        self.shape.beside.connect(self.beside)
        self.makers.changed.connect(self._change)
        self.makers.brought.connect(self._brought)
        self.column.addWidget(self.figures)
        self.trouble, self.checks, self.more = quiet(""), FindingList(session), quiet("")
        self.checks.head.set_text("As it is made")
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

    @property
    def wishes(self) -> MakerWishes:
        """What the makers bring."""
        return self.makers.wishes

    def _brought(self) -> None:
        self.kept.emit(wishes_text(self.wishes))
        self.refresh()

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
        return design_case(s.collection, tree, today=s.today)

    def assessment(self) -> Assessment | None:
        """Findings of the design in hand under its tree; None without either."""
        pot = self.pot
        return judged(self.case(), pot, self.session.units) if pot is not None else None

    def refresh(self) -> None:
        """Show the design in hand for the maker in hand."""
        s, pot = self.session, self.pot
        self.setEnabled(pot is not None)
        self.head.setText(routes()[self.route].head)
        self.main.setText(routes()[self.route].writes)
        self.makers.show_pot(pot, self.route)
        if pot is None:
            self.note.setText("Draw a pot, or ask the solver for one (F5).")
            return
        tree = s.collection.trees.get(pot.made_for or s.tree_id)
        self.note.setText(f"{pot.name}, for {tree.name}" if tree else pot.name)
        try:
            self.live.show_facts(live_facts(pot, s.units))
        except KeshError as err:
            s.said.emit("no", str(err))
        self.shape.show_pot(pot)
        case = self.case()
        a = judged(case, pot, s.units)
        self.findings.setVisible(a is not None)
        if a is not None:
            self.findings.show_findings(tuple(f for f in a.findings if f.code not in ("pot_state", "budget")))
        self._show_fixes(a)
        if s.dragging:
            return
        route, wishes = self.route, self.wishes
        self.makers.head.set_note("reckoning…" if self.job is None else "")

        def work() -> Job | str:
            try:
                made: Job = self._runner.apart(partial(job, route, pot, case, wishes))
                return made
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
        lines.append(f"Open findings: {now} now, {then} afterwards; the verdict then: {after.verdict}.")
        self.fixes.setText("\n".join(lines))

    def _fixed(self) -> None:
        """The fixes were carried out."""
        a = self.assessment()
        if a is not None:
            self._change("Made to fit", lambda p: fitted(a.case, p, fixes(a))[0])

    def _show_job(self, found: Job | str) -> None:
        self.job = found if isinstance(found, Job) else None
        self.makers.head.set_note("")
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
        self.checks.show_findings(gravest_first(c.finding(routes()[self.route].head.lower()) for c in self.job.checks))
        self.checks.setVisible(bool(self.job.checks))
        self.bill.setText("\n".join(f"{i.what}: {i.text}" for i in self.job.bill) or "Nothing.")
        self.care.setText("\n".join(f"{c.hazard}. {c.care}." for c in self.job.cautions) + f"\n{LOCAL}")
