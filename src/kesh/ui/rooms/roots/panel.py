"""The panel of step Roots: the bar of shares, each root with its reason, and what else bears on the plan."""

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal

from kesh.advice.assess import Assessment
from kesh.advice.roots.work import bounds_for, plan_for, standing_plan
from kesh.base.errors import KeshError
from kesh.desk.before_lift import season_words, with_answer
from kesh.desk.root_keeping import kept_plan, put_off, work_words
from kesh.desk.root_map import KIND_WORDS, plan_words, step_words, usual_map
from kesh.desk.root_views import with_side
from kesh.model import Tree
from kesh.science.roots.plan import taken_in_all
from kesh.science.season.before_lift import ASKED, before_lift, latest
from kesh.ui.rooms.roots.card import RootCard
from kesh.ui.rooms.roots.parts_box import PartsBox
from kesh.ui.rooms.roots.plan_list import PlanList, PlanRow, ShareBar
from kesh.ui.rooms.roots.sheet import RootMapSheet
from kesh.ui.rooms.roots.signs_box import SignsBox
from kesh.ui.rooms.roots.tilt_box import TiltBox
from kesh.ui.rooms.roots.views_box import ViewsBox
from kesh.ui.session import Session
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, title
from kesh.ui.widgets.trial_box import TrialBox

NO_LIMIT = "How much may go is not known: name the species in step 1, and enter the root mass."


class RootPanel(Panel):
    """Reads the plan of the pot that the sheet cuts through; its boxes write what they show."""

    wanted = pyqtSignal(str)
    wanted_part = pyqtSignal(object)

    def __init__(self, session: Session, sheet: RootMapSheet) -> None:
        super().__init__(session)
        self._sheet = sheet
        self.head, self.note = title(""), quiet("")
        self.share_head, self.bar = SectionHead(session, "Feeder roots taken"), ShareBar(session)
        self.brings = quiet("")
        self.list_head, self.list = SectionHead(session, "Which root goes"), PlanList(session)
        self.list.wanted.connect(self.wanted)
        self.usual = button("Begin with a usual map, marked as assumed", self._usual, link=True)
        self.card, self.parts = RootCard(session, sheet), PartsBox(session, sheet)
        self.parts.wanted.connect(self.wanted_part)
        self.views, self.trial, self.tilting = ViewsBox(session, self._viewed), TrialBox(session), TiltBox(session)
        self.signs = SignsBox(
            session,
            self._answered,
            lambda stop: session.change_brief("View on white tips", tips_stop=stop),
            self._instead,
        )
        for made in (
            self.head, self.note, self.share_head, self.bar, self.brings, self.list_head, self.list, self.usual, self.card,
            self.parts, self.signs, self.views, self.trial, self.tilting,
        ):  # fmt: skip
            self.column.addWidget(made)
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
            season = s.units.told(season_words(a.case.window if a is not None else s.case().window, s.today))
            self.signs.show_signs(latest(tree.signs, s.today), lift, season, tips_stop=stop)
        for made in (self.share_head, self.bar, self.brings):
            made.setVisible(False)
        self.tilting.show_planting(a, s.planting if self._sheet.pot_id is None else None)
        for box in (self.parts, self.views, self.trial):
            box.setVisible(a is not None)
        if tree is None or a is None:
            self.head.setText("No tree yet" if tree is None else f"{tree.name} stands in no pot yet")
            self.note.setText("" if tree is None else "Choose a pot in the line-up; the plan is made for it.")
            self.list.show_rows((), "")
            self.usual.setVisible(False)
            self.card.show_root(None)
            self.main.setEnabled(False)
            return
        self.parts.show_assessment(a)
        self.views.show_assessment(a, s.today)
        self.trial.show_assessment(a)
        self._show_plan(a)
        self.card.show_root(self._sheet.root())

    def follow(self) -> None:
        """Show what changes under the hand while something is pulled; the rest follows when it is let go."""
        a = self._sheet.assessment
        if a is None:
            return
        self._show_plan(a)
        self.card.show_root(self._sheet.root())
        if self._sheet.part is not None:
            self.parts.show_assessment(a)
        if self._sheet.pot_id is None:
            self.tilting.show_planting(a, self.session.planting)

    def _show_plan(self, a: Assessment) -> None:
        s, tree = self.session, a.case.tree
        plan, bounds, roots = plan_for(a.figures), bounds_for(a.figures), tree.root_map
        self.head.setText(f"{tree.name} into {a.pot.name}")
        told = "Weights and limits are custom; the artist decides."
        if any(r.note == "assumed" for r in roots):
            told = f"The map is assumed: correct it once the tree is lifted. {told}"
        kept = standing_plan(a.figures)
        if kept is not None:
            since = "" if kept.same else "; what is known has changed since"
            told = f"Kept on {kept.made:%-d %b %Y}{since}. {told}" if kept.made else f"Kept{since}. {told}"
        self.note.setText(NO_LIMIT if bounds is None else told)
        if bounds is not None:
            shares = plan.shares if plan is not None else bounds.pot_shares
            fit = a.figures.roots
            plate = float(fit.kept_depth_mm[0]) if fit is not None else None
            for made in (self.share_head, self.bar, self.brings):
                made.setVisible(True)
            self.bar.show_shares(shares, bounds.limit)
            self.share_head.set_note(f"{taken_in_all(shares):.0%} in all")
            self.brings.setText(
                f"{plan_words(plan, plate, s.units) if plan is not None else ''} {work_words(a, s.today)}".strip()
            )
        goes = sum(step.action != "keep" for step in plan.steps) if plan is not None else 0
        self.list_head.set_note(f"{goes} of {len(roots)}" if roots else "draw the first")
        rows = []
        for n, root in enumerate(roots):
            does, why = step_words(plan, root, s.today, s.units) if plan is not None else ("", "")
            step = plan.step(root.id) if plan is not None else None
            what = f"{s.units.mm(root.diameter_mm)}, {KIND_WORDS[root.kind]}"
            rows.append(PlanRow(root.id, str(n + 1), what, does, why, step is not None and step.action != "keep"))
        self.list.show_rows(tuple(rows), self._sheet.root_id)
        self.usual.setVisible(not roots)
        self.main.setEnabled(plan is not None and s.planting is not None)

    def _viewed(self, field: str, key: str) -> None:
        views = with_side(self.session.brief.root_views, field, key)
        self.session.change_brief("View on root work", root_views=views)

    def _answered(self, sign: str, value: str) -> None:
        self._write(f"{ASKED[sign]} looked at", lambda tree: with_answer(tree, sign, value, self.session.today))

    def _instead(self, key: str) -> None:
        """The same pot or the pot alone, or the next season: good answers where the signs do not say go."""
        s, tree = self.session, self.session.tree
        if tree is None:
            return
        if key == "nothing":
            self._viewed("amount", "nothing")
            s.said.emit("fits", "Nothing is cut this time: the same pot, or another that takes the whole mass")
            return
        lift = before_lift(tree.signs, s.today, tips_stop=s.brief.tips_stop)
        note = put_off(tree, lift, s.today)
        if s.edit("Root work put off", [("event", note.id, note)]):
            s.said.emit("fits", "Written into the log: root work waits for the next season")

    def _usual(self) -> None:
        tables = self.session.tables
        self._write("A usual root map", lambda tree: usual_map(tree, tables.species.get(tree.species or "")))

    def _write(self, label: str, make: Callable[[Tree], Tree]) -> None:
        tree = self.session.tree
        if tree is None:
            return
        try:
            changed = make(tree)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        self.session.edit(label, [("tree", changed.id, changed)])

    def keep_plan(self) -> None:
        """Keep the plan with the planting the tree stands in, and what it asks for later in the log."""
        s, a, plan = self.session, self._sheet.assessment, self._sheet.plan()
        if plan is None or s.planting is None or a is None:
            return
        if s.edit("Root plan kept", kept_plan(s.planting, a, plan, s.today, s.units)):
            goes = sum(step.action != "keep" for step in plan.steps)
            s.said.emit(
                "fits",
                f"Plan kept: {goes} root{'' if goes == 1 else 's'} to be cut, {plan.share:.0%} of the feeders now",
            )
