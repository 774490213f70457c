"""The panel of a special planting: which kind, what that changes, its fields, roots and things, findings."""

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from kesh.advice.kinds.kinds import kind_rows
from kesh.advice.kinds.plan import Setting, SpecialPlan
from kesh.advice.kinds.registry import kinds
from kesh.advice.kinds.rock import way_over
from kesh.advice.kinds.rock_drawing import reaches
from kesh.base.errors import FieldError, KeshError
from kesh.desk.special import guarded, kind_choices, record_of, rows_of, second_card, with_field, with_kind
from kesh.model import Planting, RockLoop, RockRoot, Thing
from kesh.ui.rooms.planting.special_form import SpecialForm
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.fields import MeasureEdit
from kesh.ui.widgets.finding_list import FindingList


class SpecialPanel(Panel):
    """Reads the plan, writes the planting."""

    to_sheet = pyqtSignal()
    to_bench = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.setting: Setting | None = None
        self.kind, self.grip = "plain", ""
        self.head, self.note = title("Planting"), quiet("")
        self.choice = Choice(kind_choices(), "Planted as")
        self.choice.chosen.connect(self._choose)
        for made in (self.head, row("Planted as", self.choice), self.note):
            self.column.addWidget(made)
        self.gap()
        self.form_head = SectionHead(session, "Its measures", "starting points")
        self.form = SpecialForm(session, self._enter)
        self.column.addWidget(self.form_head)
        self.column.addWidget(self.form)
        self.roots = QWidget()
        self._roots = QVBoxLayout(self.roots)
        self._roots.setContentsMargins(0, 0, 0, 0)
        self._roots.setSpacing(2)
        self.lengths: dict[str, MeasureEdit] = {}
        self.column.addWidget(self.roots)
        links = QWidget()
        line = QHBoxLayout(links)
        line.setContentsMargins(0, 0, 0, 0)
        self.links = {
            "root": button("Add a root", self._add_root, link=True), "loop": button("Add a binding", self._add_loop, link=True),
            "off": button("Take it away", self._take_away, link=True, tip="The root, binding or thing in hand"),
            "card": button("Make its card", self._second, link=True), "guard": button("Leave that side alone", self._guard, link=True),
            "thing": button("Add a thing", self._add_thing, link=True),
        }  # fmt: skip
        for link in self.links.values():
            line.addWidget(link)
        line.addStretch(1)
        self.column.addWidget(links)
        self.gap()
        self.findings = FindingList(session)
        self.column.addWidget(self.findings)
        self.bench = button("To the bench, hands free", self.to_bench.emit, tip="Ctrl+B")
        self.main = button("Print the work sheet", self.to_sheet.emit, main=True)
        self.foot.addWidget(self.bench)
        self.foot.addWidget(self.main)

    def show_special(
        self, setting: Setting | None, kind: str, plan: SpecialPlan | None, told: str, *, live: bool = False
    ) -> None:
        """Show a plan; while something is dragged only its figures follow."""
        self.setting, self.kind = setting, kind
        self.setEnabled(setting is not None)
        if setting is None:
            self.note.setText(told)
            self.findings.show_findings(())
            return
        row_ = kind_rows()[kind]
        self.form.show_record(kind, rows_of(kind), record_of(setting.planting, kind))
        if live:
            return
        self.head.setText(row_.words)
        off = setting.a.finding("switched_off")
        self.note.setText(row_.changes + (f" {off.text}" if off is not None else ""))
        self.choice.show_key(kind)
        self.form_head.setVisible(self.form.isVisibleTo(self) or bool(rows_of(kind)))
        self._show_roots(setting)
        shown = kinds()[kind].links
        for key, link in self.links.items():
            link.setVisible(key in shown)
        self.links["off"].setEnabled(self._in_hand() is not None)
        self.findings.show_findings(plan.findings if plan is not None else ())

    def show_grip(self, key: str) -> None:
        """What is in hand in the drawing."""
        self.grip = key
        self.links["off"].setEnabled(self._in_hand() is not None)

    def _show_roots(self, setting: Setting) -> None:
        """A field for the length of each root over the rock, with its way beside it."""
        rock = setting.planting.rock if self.kind == "rock" else None
        ids = [r.id for r in rock.roots] if rock is not None else []
        if list(self.lengths) != ids:
            while self._roots.count():
                item = self._roots.takeAt(0)
                old = item.widget() if item is not None else None
                if old is not None:
                    old.hide()
                    old.deleteLater()
            self.lengths = {}
            for key in ids:
                edit = self.lengths[key] = MeasureEdit(self.session, f"Root {key}, length")
                edit.entered.connect(lambda mm, k=key: self._length(k, mm))
                self._roots.addWidget(row(f"Root {key}", edit))
        self.roots.setVisible(bool(ids))
        if rock is None:
            return
        for root, reach in reaches(rock):
            edit = self.lengths[root.id]
            edit.show_mm(root.length_mm)
            asked = "" if reach is None else f"{self.session.units.mm(reach.asked_mm)} asked"
            edit.setToolTip(f"Along the root from the seat to its tip. {asked}")

    # --- hands

    def _change(self, label: str, make: Callable[[Setting], Planting]) -> None:
        s = self.setting
        if s is None:
            return
        try:
            made = make(s)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.form.show_record(self.kind, rows_of(self.kind), record_of(s.planting, self.kind))
            return
        self.session.edit(label, [("planting", made.id, made)])

    def _choose(self, kind: str) -> None:
        self._change(
            f"Planted as: {kind_rows()[kind].words.lower()}",
            lambda s: with_kind(s.planting, kind, s.a.case.tree, s.a.pot),
        )

    def _enter(self, name: str, value: object) -> None:
        kind = self.kind
        self._change(
            kind_rows()[kind].words, lambda s: with_field(s.planting, kind, name, value, s.a.case.tree, s.a.pot)
        )

    def _length(self, key: str, mm: float | None) -> None:
        def made(s: Setting) -> Planting:
            rock = s.planting.rock
            if rock is None:
                raise FieldError("rock", "there is no rock")
            return s.planting.changed(
                rock=rock.changed(roots=tuple(r.changed(length_mm=mm) if r.id == key else r for r in rock.roots))
            )

        self._change(f"Length of root {key}", made)

    def _add_root(self) -> None:
        def made(s: Setting) -> Planting:
            rock = s.planting.rock
            if rock is None:
                raise FieldError("rock", "there is no rock yet")
            taken = {r.id for r in rock.roots}
            key = next(str(n) for n in range(1, 100) if str(n) not in taken)
            share = (-0.55, 0.0, 0.55, -0.15, 0.4)[len(rock.roots) % 5]
            return s.planting.changed(
                rock=rock.changed(
                    roots=(*rock.roots, RockRoot(id=key, points_mm=way_over(rock.points_mm, share, rock.sunk_mm)))
                )
            )

        self._change("Root over the rock added", made)

    def _add_loop(self) -> None:
        def made(s: Setting) -> Planting:
            rock = s.planting.rock
            if rock is None:
                raise FieldError("rock", "there is no rock yet")
            top = max(z for _, z in rock.points_mm)
            return s.planting.changed(rock=rock.changed(loops=(*rock.loops, RockLoop(z_mm=round(0.5 * top, 1)))))

        self._change("Binding added", made)

    def _add_thing(self) -> None:
        def made(s: Setting) -> Planting:
            slab = s.planting.slab
            if slab is None:
                raise FieldError("slab", "there is no mound yet")
            n = len(slab.things) + 1
            thing = Thing(
                id=f"thing-{n}", name=f"stone {n}", x_mm=round(0.22 * s.a.pot.length_mm), y_mm=-20.0, size_mm=34.0
            )
            return s.planting.changed(slab=slab.changed(things=(*slab.things, thing)))

        self._change("Thing added", made)

    def _in_hand(self) -> tuple[str, int] | None:
        parts = self.grip.split(":")
        if len(parts) >= 3 and parts[1] in ("root", "loop", "thing"):
            return parts[1], int(parts[2])
        return None

    def _take_away(self) -> None:
        held = self._in_hand()
        if held is None:
            return
        what, n = held

        def made(s: Setting) -> Planting:
            rock, slab = s.planting.rock, s.planting.slab
            if what == "thing" and slab is not None:
                return s.planting.changed(slab=slab.changed(things=(*slab.things[:n], *slab.things[n + 1 :])))
            if rock is None:
                raise FieldError("rock", "there is no rock")
            if what == "root":
                return s.planting.changed(rock=rock.changed(roots=(*rock.roots[:n], *rock.roots[n + 1 :])))
            return s.planting.changed(rock=rock.changed(loops=(*rock.loops[:n], *rock.loops[n + 1 :])))

        self.grip = ""
        self._change(f"{what.capitalize()} taken away", made)

    def _second(self) -> None:
        s = self.setting
        if s is None or s.planting.companion is None:
            return
        try:
            changes = second_card(self.session.collection, s.a.case.tree, s.planting.companion)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        name = s.planting.companion.name or "the second plant"
        if self.session.edit(f"Card for {name}", changes):
            self.session.said.emit(
                "fits", f"{name[0].upper() + name[1:]} has a card of its own now; it stands on the bench list"
            )

    def _guard(self) -> None:
        s = self.setting
        if s is None or s.planting.graft is None:
            return
        try:
            made = guarded(s.a.case.tree, s.planting.graft)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        self.session.edit("Side of the graft left alone", [("tree", made.id, made)])
