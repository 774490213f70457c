"""The panel of step Roots: the bar of shares, each root with its reason, and the card of the one in hand."""

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QLineEdit

from kesh.advice.report_roots import tilt_of
from kesh.advice.root_work import bounds_for, plan_for, tools, work
from kesh.errors import KeshError
from kesh.model import MapRoot, Tree
from kesh.science.before_lift import ASKED, before_lift, latest
from kesh.science.root_time import minutes_words
from kesh.ui.rooms.roots.sheet import RootMapSheet
from kesh.ui.session import Session
from kesh.ui.state.before_lift import with_answer
from kesh.ui.state.root_map import (
    KIND_WORDS,
    degrees_of,
    kept_plan,
    plan_words,
    side_left_alone,
    step_words,
    tilt_words,
    usual_map,
    with_root,
    without_root,
)
from kesh.ui.state.words import comma_and
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.fields import MeasureEdit
from kesh.ui.widgets.plan_list import PlanList, PlanRow, ShareBar
from kesh.ui.widgets.signs_box import SignsBox

NO_LIMIT = "How much may go is not known: name the species in step 1, and enter the root mass."


class RootPanel(Panel):
    """Reads the plan of the pot that the sheet cuts through; writes the root in hand."""

    wanted = pyqtSignal(str)

    def __init__(self, session: Session, sheet: RootMapSheet) -> None:
        super().__init__(session)
        self._sheet = sheet
        self.head, self.note = title(""), quiet("")
        self.share_head, self.bar, self.brings = (
            SectionHead(session, "Feeder roots taken"),
            ShareBar(session),
            quiet(""),
        )
        self.list_head, self.list = SectionHead(session, "Which root goes"), PlanList(session)
        self.list.wanted.connect(self.wanted)
        self.usual = button("Begin with a usual map, marked as assumed", self._usual, link=True)
        self.card_head = SectionHead(session, "Root in hand")
        self.kind = Choice(KIND_WORDS, "Kind of root")
        self.kind.chosen.connect(lambda kind: self._change("Kind of a root", kind=kind))
        self.thick, self.reach, self.side = (
            MeasureEdit(session, name, optional=optional)
            for name, optional in (("Thickness at the trunk", False), ("Reach", False), ("First side root at", True))
        )
        self.thick.entered.connect(lambda mm: self._change("Thickness of a root", diameter_mm=mm))
        self.reach.entered.connect(lambda mm: self._change("Reach of a root", reach_mm=mm, course=()))
        self.side.entered.connect(lambda mm: self._change("Side root", side_root_at_mm=mm))
        self.keep = QLineEdit()
        self.keep.setPlaceholderText("anchor, companion, a wanted look…")
        self.keep.setFixedWidth(fonts.scaled(160))
        self.keep.editingFinished.connect(lambda: self._change("Root kept", keep=self.keep.text().strip()))
        self.off = button("Take it off the map", self._off, link=True)
        self.alone = button(
            "", self._alone, link=True, tip="A graft seedling, a companion, or what is left for next time."
        )
        self._card = [
            self.card_head, row("Kind", self.kind), row("Thickness", self.thick), row("Reach", self.reach),
            row("First side root at", self.side, tip="From the trunk along the root; a cut beyond it leaves it alive."),
            row("Not cut because", self.keep), self.alone, self.off,
        ]  # fmt: skip
        for made in (
            self.head,
            self.note,
            self.share_head,
            self.bar,
            self.brings,
            self.list_head,
            self.list,
            self.usual,
            *self._card,
        ):
            self.column.addWidget(made)
        self.tilt_head, self.tilt_told = SectionHead(session, "Tilt and turn"), quiet("")
        self.tilt, self.turn = QLineEdit(), QLineEdit()
        for field, name, label in (
            (self.tilt, "tilt_deg", "Tree tilted"),
            (self.turn, "turn_deg", "Tree turned in its pot"),
        ):
            field.setFixedWidth(fonts.scaled(84))
            field.setAlignment(Qt.AlignmentFlag.AlignRight)
            field.editingFinished.connect(lambda f=field, n=name, w=label: self._angle(f, n, w))
        self._tilted = [
            self.tilt_head, row("Tilt to the right, °", self.tilt, tip="Below nought to the left."),
            row("Turn in the pot, °", self.turn, tip="Against the clock, seen from above; roots and marker turn with it."),
            self.tilt_told,
        ]  # fmt: skip
        for made in self._tilted:
            self.column.addWidget(made)
        self.signs = SignsBox(
            session, self._answered, lambda stop: session.change_brief("View on white tips", tips_stop=stop)
        )
        self.gap()
        self.column.addWidget(self.signs)
        self.main = button("Keep this plan", self.keep_plan, main=True)
        self.foot.addWidget(self.main)

    def refresh(self) -> None:
        """Show the plan in force."""
        s, a = self.session, self._sheet.assessment
        tree = s.tree
        self.setEnabled(tree is not None)
        self.signs.setVisible(tree is not None)
        if tree is not None:
            stop = s.brief.tips_stop
            lift = before_lift(tree.signs, s.today, tips_stop=stop)
            self.signs.show_signs(latest(tree.signs, s.today), lift, tips_stop=stop)
        for made in (self.share_head, self.bar, self.brings):
            made.setVisible(False)
        self._show_tilt()
        if tree is None or a is None:
            self.head.setText("No tree yet" if tree is None else f"{tree.name} stands in no pot yet")
            self.note.setText("" if tree is None else "Choose a pot in the line-up; the plan is made for it.")
            self.list.show_rows((), "")
            self.usual.setVisible(False)
            self._show_card(None)
            self.main.setEnabled(False)
            return
        plan, bounds, roots = plan_for(a.figures), bounds_for(a.figures), tree.root_map
        self.head.setText(f"{tree.name} into {a.pot.name}")
        told = "Weights and limits are custom; the artist decides."
        if any(r.note == "assumed" for r in roots):
            told = f"The map is assumed: correct it once the tree is lifted. {told}"
        self.note.setText(NO_LIMIT if bounds is None else told)
        if bounds is not None:
            shares = plan.shares if plan is not None else bounds.pot_shares
            for made in (self.share_head, self.bar, self.brings):
                made.setVisible(True)
            self.bar.show_shares(shares, bounds.limit)
            self.share_head.set_note(f"{1 - _left(shares):.0%} in all")
            self.brings.setText(f"{plan_words(plan) if plan is not None else ''} {self._time()}".strip())
        goes = sum(s.action in ("remove", "shorten") for s in plan.steps) if plan is not None else 0
        self.list_head.set_note(f"{goes} of {len(roots)}" if roots else "draw the first")
        rows = []
        for n, root in enumerate(roots):
            does, why = step_words(plan, root, s.today, s.units) if plan is not None else ("", "")
            step = plan.step(root.id) if plan is not None else None
            what = f"{s.units.mm(root.diameter_mm)}, {KIND_WORDS[root.kind]}"
            rows.append(PlanRow(root.id, str(n + 1), what, does, why, step is not None and step.action != "keep"))
        self.list.show_rows(tuple(rows), self._sheet.root_id)
        self.usual.setVisible(not roots)
        self._show_card(self._sheet.root())
        self.main.setEnabled(plan is not None and s.planting is not None)

    def _show_tilt(self) -> None:
        """Tilt and turn of the planting, and what the tilt brings."""
        s, planting, a = self.session, self.session.planting, self._sheet.assessment
        # a pot that is only tried has no planting yet that could be tilted
        here = planting is not None and a is not None and self._sheet.pot_id is None
        for made in self._tilted:
            made.setVisible(here)
        if not here or planting is None or a is None:
            return
        for field, value in ((self.tilt, planting.tilt_deg), (self.turn, planting.turn_deg)):
            if not field.hasFocus():
                field.setText(f"{value:g}")
        self.tilt_told.setText(tilt_words(tilt_of(a), planting.tilt_deg, s.units))

    def _angle(self, field: QLineEdit, name: str, label: str) -> None:
        planting = self.session.planting
        if planting is None:
            return
        try:
            value = degrees_of(field.text(), name.removesuffix("_deg"), 60.0 if name == "tilt_deg" else 360.0)
            changed = planting.changed(**{name: value})
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        if changed != planting:
            self.session.edit(f"{label} {value:g}°", [("planting", planting.id, changed)])

    def _time(self) -> str:
        """How long the first repotting takes."""
        a = self._sheet.assessment
        told = None if a is None else work(a.figures)
        if a is None or told is None:
            return ""
        hot = told.long_on_a_hot_day(a.figures.peak.mean_c if a.figures.peak else None)
        return (
            f"About {minutes_words(told.total)}, {minutes_words(told.bare)} of them with bare roots."
            + (" Not on a hot day: shade, and keep the roots wet." if hot else "")
            + f" At hand: {comma_and(tools(a.figures))}."
        )

    def _show_card(self, root: MapRoot | None) -> None:
        for made in self._card:
            made.setVisible(root is not None)
        if root is None:
            return
        self.card_head.set_note(f"{root.azimuth_deg:.0f}° from the front")
        mass = self.session.tree.roots if self.session.tree is not None else None
        held = mass is not None and any(one.holds(root.azimuth_deg) for one in mass.untouched)
        self.alone.setText("Let this side be worked again" if held else "Leave this side alone, 45° of it")
        self.kind.show_key(root.kind)
        self.thick.show_mm(root.diameter_mm)
        self.reach.show_mm(root.reach_mm)
        self.side.show_mm(root.side_root_at_mm)
        if not self.keep.hasFocus():
            self.keep.setText(root.keep)

    def _change(self, label: str, **fields: object) -> None:
        tree, root = self.session.tree, self._sheet.root()
        if tree is None or root is None or all(getattr(root, k) == v for k, v in fields.items()):
            return
        # what a hand has corrected is assumed no longer
        note = "" if root.note == "assumed" else root.note
        self._write(label, lambda: with_root(tree, root.id, note=note, **fields))

    def _answered(self, sign: str, value: str) -> None:
        tree = self.session.tree
        if tree is not None:
            self._write(f"{ASKED[sign]} looked at", lambda: with_answer(tree, sign, value, self.session.today))

    def _alone(self) -> None:
        tree, root = self.session.tree, self._sheet.root()
        if tree is not None and root is not None:
            self._write("Side of the roots left alone", lambda: side_left_alone(tree, root.id))

    def _off(self) -> None:
        tree, root = self.session.tree, self._sheet.root()
        if tree is not None and root is not None:
            self._write("Root taken off the map", lambda: without_root(tree, root.id))

    def _usual(self) -> None:
        tree = self.session.tree
        if tree is not None:
            self._write("A usual root map", lambda: usual_map(tree))

    def _write(self, label: str, make: Callable[[], Tree]) -> None:
        try:
            changed = make()
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        self.session.edit(label, [("tree", changed.id, changed)])

    def keep_plan(self) -> None:
        """Keep the plan with the planting the tree stands in."""
        s, plan = self.session, self._sheet.plan()
        if plan is None or s.planting is None:
            return
        if s.edit("Root plan kept", [("planting", s.planting.id, kept_plan(s.planting, plan, s.today))]):
            goes = sum(step.action != "keep" for step in plan.steps)
            s.said.emit(
                "fits",
                f"Plan kept: {goes} root{'' if goes == 1 else 's'} to be cut, {plan.share:.0%} of the feeders now",
            )


def _left(shares: tuple[float, ...]) -> float:
    left = 1.0
    for share in shares:
        left *= 1 - share
    return left
