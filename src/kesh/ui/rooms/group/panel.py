"""The panel of step Group: the trees as a table, figures of the whole, findings, and how they are laid out anew."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QWidget

from kesh.advice.assess import Finding
from kesh.advice.group.findings import group_findings, years_words
from kesh.advice.group.plan import GroupPlan, with_row
from kesh.advice.group.rows import COUNTS
from kesh.base.errors import KeshError
from kesh.base.status import gravest_first
from kesh.base.words import counted
from kesh.desk.group import with_mound, with_new_mound, with_new_way, without
from kesh.model import Tree
from kesh.science.group.stand import DISC_SHARE, clump_trunk_mm
from kesh.ui.rooms.group.table import GroupTable
from kesh.ui.session import Session
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.finding_list import FindingList


class GroupPanel(Panel):
    """Reads the plan, writes the tree."""

    picked = pyqtSignal(str)
    anew = pyqtSignal()
    take_over = pyqtSignal()
    photograph = pyqtSignal()
    new_tree = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.plan: GroupPlan | None = None
        self.in_hand = ""
        self.tray: tuple[Finding, ...] = ()
        self.head, self.note = title("Group"), quiet("")
        self.table = GroupTable(session)
        self.table.chosen.connect(self.picked.emit)
        self.table.changed.connect(self._written)
        for made in (self.head, self.note, self.table):
            self.column.addWidget(made)
        links = QWidget()
        line = QHBoxLayout(links)
        line.setContentsMargins(0, 0, 0, 0)
        self.add, self.off = (
            button("Add a tree", self.new_tree.emit, link=True),
            button("Take away", self._take_away, link=True),
        )
        self.dead = button("Died", self._died, link=True, tip="It died, or it lives after all")
        self.photo = button("Photograph", self.photograph.emit, link=True, tip="Read trunks from a photograph")
        for link in (self.add, self.photo, self.dead, self.off):
            line.addWidget(link)
        line.addStretch(1)
        self.column.addWidget(links)
        self.again = QCheckBox("Into the tree in hand")
        self.again.setToolTip(
            "A trunk read from the photograph gives the tree in hand its measures, instead of making one more"
        )
        self.again.hide()
        self.column.addWidget(self.again)
        self.gap()
        self.findings = FindingList(session)
        self.column.addWidget(self.findings)
        self.gap()
        self.figures_head = SectionHead(session, "The whole", "starting points")
        self.column.addWidget(self.figures_head)
        self.figures: dict[str, QLabel] = {}
        for key, label in FIGURES:
            told = self.figures[key] = QLabel("")
            told.setAccessibleName(label)
            self.column.addWidget(row(label, told))
        ground = QWidget()
        line = QHBoxLayout(ground)
        line.setContentsMargins(0, 0, 0, 0)
        self.mound, self.flat = (
            button("Add a mound", self.add_mound, link=True),
            button("Level it", self._level, link=True),
        )
        self.way = button("Add a path", self._way, link=True)
        for link in (self.mound, self.flat, self.way):
            line.addWidget(link)
        line.addStretch(1)
        self.column.addWidget(ground)
        self.one, self.all = (
            button("Take the thickest", lambda: self._as_one("dominant"), link=True),
            button("Take all as one", lambda: self._as_one("all"), link=True),
        )
        self.one_told = quiet("")
        both = QWidget()
        line = QHBoxLayout(both)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self.one)
        line.addWidget(self.all)
        line.addStretch(1)
        self.column.addWidget(self.one_told)
        self.column.addWidget(both)
        self.main = button("Lay them out anew", self._main, main=True)
        self.told = quiet("The total is a check, not beauty.")
        self.foot.addWidget(self.main)
        self.foot.addWidget(self.told)
        self._proposal = False

    @property
    def rereads(self) -> bool:
        """Whether a trunk read from a photograph goes into the tree in hand."""
        return self.again.isChecked() and not self.again.isHidden()

    # --- following

    def show_plan(
        self, plan: GroupPlan | None, own: GroupPlan | None, told: str, *, proposal: bool, live: bool = False
    ) -> None:
        """Show a plan; `own` is the group as it stands, which the hands change. While something is dragged only its figures follow."""
        self.plan, self._proposal = own, proposal
        self.setEnabled(plan is not None)
        self.main.setText("Take this layout" if proposal else "Lay them out anew")
        if plan is None:
            self.note.setText(told)
            self.findings.show_findings(())
            self.table.setRowCount(0)
            return
        self._figures(plan)
        if live:
            return
        n = len(plan.rows)
        who = COUNTS[n] if n < len(COUNTS) else str(n)
        self.head.setText(f"{who} trunk{'' if n == 1 else 's'} in one tray" if n else "A group")
        spares = f"; {counted(len(plan.spares), 'spare')}" if plan.spares else ""
        self.note.setText(f"{plan.pot.name}{spares}")
        self.table.show_group(plan, editable=not proposal)
        self.show_chosen(self.in_hand)
        self.flat.setVisible(bool(plan.tree.hill))
        self.way.setText("Take the path out" if plan.tree.way is not None else "Add a path")
        self.findings.show_findings(gravest_first((*group_findings(plan, self.session.units), *self.tray)))

    def show_chosen(self, key: str) -> None:
        """The trunk in hand."""
        self.in_hand = key
        row_ = next((g for g in self.plan.tree.group if g.id == key), None) if self.plan is not None else None
        self.off.setEnabled(row_ is not None)
        self.dead.setEnabled(row_ is not None)
        self.dead.setText("Lives" if row_ is not None and not row_.alive else "Died")
        self.table.show_chosen(key)

    def _figures(self, plan: GroupPlan) -> None:
        u = self.session.units
        least = plan.room_l.min() if len(plan.rows) else None
        living, of, _ = plan.survival
        years, _ = plan.meet
        main = plan.future_main
        told = {
            "count": "" if plan.advised is None or len(plan.rows) < 3 else f"{len(plan.rows)} of {plan.advised}",
            "discs": f"{plan.disc_share:.0%} of {DISC_SHARE:.0%}",
            "room": "" if least is None else u.litres(float(least)),
            "soil": u.litres(float(plan.room_l.sum())) + (f", {u.litres(plan.hill_l)} of it hill" if plan.hill_l > 0.005 else ""),
            "meet": "they meet now" if years == 0 else f"in about {years_words(years)}" if years is not None else "not within 30 years",
            "future": "" if main is None else plan.rows[main].id,
            "living": f"{living} of {of}",
        }  # fmt: skip
        for key, label in self.figures.items():
            label.setText(told[key])
        if len(plan.rows):
            one, whole = clump_trunk_mm(plan.d, "dominant"), clump_trunk_mm(plan.d, "all")
            self.one_told.setText(
                f"As one trunk: {u.mm(one)} by the thickest, {u.mm(whole)} by all (root of the sum of squares)."
            )

    # --- hands

    def _main(self) -> None:
        (self.take_over if self._proposal else self.anew).emit()

    def _written(self, label: str, tree: object) -> None:
        if isinstance(tree, Tree):
            self.session.edit(label, [("tree", tree.id, tree)])
        elif self.plan is not None:
            self.table.show_group(self.plan)

    def _change(self, label: str, made: Tree) -> None:
        self.session.edit(label, [("tree", made.id, made)])

    def _take_away(self) -> None:
        if self.plan is None or not self.in_hand:
            return
        try:
            self._change(f"Tree {self.in_hand} taken out of the group", without(self.plan.tree, self.in_hand))
        except KeshError as err:
            self.session.said.emit("no", str(err))

    def _died(self) -> None:
        """The tree in hand died, or lives after all: n of N follows."""
        row_ = next((g for g in self.plan.tree.group if g.id == self.in_hand), None) if self.plan is not None else None
        if self.plan is not None and row_ is not None:
            self._change(
                f"Tree {row_.id} {'died' if row_.alive else 'lives'}",
                with_row(self.plan.tree, row_.id, alive=not row_.alive),
            )

    def add_mound(self) -> None:
        """One more mound."""
        if self.plan is not None:
            try:
                self._change("Mound added", with_new_mound(self.plan.tree, self.plan.pot))
            except KeshError as err:
                self.session.said.emit("no", str(err))

    def _level(self) -> None:
        if self.plan is not None and self.plan.tree.hill:
            self._change("Last mound taken away", with_mound(self.plan.tree, len(self.plan.tree.hill) - 1, None))

    def _way(self) -> None:
        plan = self.plan
        if plan is not None:
            there = plan.tree.way is not None
            self._change(
                "Path taken out" if there else "Path added",
                plan.tree.changed(way=None) if there else with_new_way(plan.tree, plan.pot),
            )

    def _as_one(self, rule: str) -> None:
        plan = self.plan
        if plan is not None and len(plan.rows):
            value = clump_trunk_mm(plan.d, "dominant" if rule == "dominant" else "all")
            self.session.change_measure("Trunk of the group as one", trunk_diameter_mm=round(value, 1))


FIGURES = (
    ("count", "Trees, advised for the tray"), ("discs", "Root discs, borne"), ("room", "Least root room"), ("soil", "Soil"),
    ("meet", "Roots meet"), ("future", "Thickest in ten years"), ("living", "Living, of all"),
)  # fmt: skip
