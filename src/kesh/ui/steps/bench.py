"""The bench: one tree at a time, its steps, the sheet of each step and the panel beside it."""

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from kesh.advice.assess import Assessment
from kesh.errors import KeshError
from kesh.model.units import Units
from kesh.photo.darkroom import Darkroom
from kesh.ui.session import Session
from kesh.ui.sheet.gallery import Gallery
from kesh.ui.sheet.view import SheetView
from kesh.ui.state.lineup import with_pot
from kesh.ui.steps.brief_panel import BriefPanel
from kesh.ui.steps.brief_sheet import BriefSheet
from kesh.ui.steps.lineup_panel import LineupPanel
from kesh.ui.steps.lineup_sheet import LineupSheet
from kesh.ui.steps.photo_panel import PhotoPanel
from kesh.ui.steps.photo_sheet import PhotoSheet
from kesh.ui.steps.roots_sheet import RootsSheet
from kesh.ui.steps.tree_panel import TreePanel
from kesh.ui.steps.tree_sheet import TreeSheet
from kesh.ui.widgets.common import title
from kesh.ui.widgets.frame import Step
from kesh.ui.widgets.ranked_list import RankedList
from kesh.ui.widgets.why_panel import WhyPanel

VIEWS = {
    Step.TREE: (("front", "Front"), ("photo", "Photograph"), ("roots", "Roots in the pot")),
    Step.BRIEF: (),
    Step.LINEUP: (("columns", "Side by side"), ("overlay", "Lay over"), ("roots", "Roots"), ("shelf", "Whole shelf")),
}


class BenchSheet(QWidget):
    """Title, choice of view and the drawing."""

    viewed = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery, darkroom: Darkroom) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("sheet")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        head = QHBoxLayout()
        head.setContentsMargins(16, 10, 14, 0)
        self.title = title("", 21)
        self.title.setWordWrap(False)
        self.title.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        head.addWidget(self.title, 1)
        self._buttons = QHBoxLayout()
        self._buttons.setSpacing(0)
        head.addLayout(self._buttons)
        column.addLayout(head)
        self.stack = QStackedWidget()
        self.roots = RootsSheet(session, gallery)
        self.tree, self.brief, self.lineup = (
            TreeSheet(session, gallery),
            BriefSheet(session, gallery),
            LineupSheet(session, gallery, darkroom),
        )
        self.ranked = RankedList(session)
        self.photo = PhotoSheet(session, gallery, darkroom)
        for widget in (self.tree, self.photo, self.roots, self.brief, self.lineup, self.ranked):
            self.stack.addWidget(widget)
        column.addWidget(self.stack, 1)
        self.lineup.picked.connect(self._cut_through)
        self.lineup.laid_over.connect(lambda: self.show_view("columns" if self.view == "overlay" else "overlay"))
        self.views: dict[str, QPushButton] = {}
        self.step = Step.TREE
        self._view = {Step.TREE: "front", Step.BRIEF: "", Step.LINEUP: "columns"}

    @property
    def sheet(self) -> SheetView | None:
        """The drawing in sight, or None where a list is."""
        shown = self.stack.currentWidget()
        return shown if isinstance(shown, SheetView) else None

    @property
    def view(self) -> str:
        """The view in sight."""
        return self._view[self.step]

    def show_step(self, step: Step) -> None:
        """Another step; its views as buttons at the right."""
        if step != self.step or not self.views:
            self.step = step
            for old in self.views.values():
                self._buttons.removeWidget(old)
                old.hide()
                old.deleteLater()
            group = QButtonGroup(self)
            self.views = {}
            for key, text in VIEWS[step]:
                made = QPushButton(text)
                made.setCheckable(True)
                made.clicked.connect(lambda _=False, k=key: self.show_view(k))
                group.addButton(made)
                self.views[key] = made
                self._buttons.addWidget(made)
        self.show_view(self._view[step])

    def show_view(self, key: str) -> None:
        """Another view of the step."""
        self._view[self.step] = key
        if key in self.views:
            self.views[key].setChecked(True)
        if self.step == Step.TREE:
            self._cut_through()
            self.stack.setCurrentWidget({"roots": self.roots, "photo": self.photo}.get(key, self.tree))
        elif self.step == Step.BRIEF:
            self.stack.setCurrentWidget(self.brief)
        elif key == "roots":
            self.lineup.refresh()
            self._cut_through()
            self.stack.setCurrentWidget(self.roots)
        elif key == "shelf":
            self.stack.setCurrentWidget(self.ranked)
            self.ranked.refresh()
        else:
            self.stack.setCurrentWidget(self.lineup)
            self.lineup.overlay = key == "overlay"
            self.lineup.fit()
            self.lineup.refresh()
        self.refresh_title()
        self.viewed.emit(key)

    def _cut_through(self) -> None:
        """The section shows the present pot in the first step, the pot in hand in the line-up."""
        pot = self.lineup.chosen or None if self.step == Step.LINEUP else None
        if pot != self.roots.pot_id:
            self.roots.pot_id = pot
            self.roots.refit()
            self.roots.update()

    def next_view(self) -> None:
        """The next view of the step."""
        keys = list(self.views)
        if keys:
            self.show_view(keys[(keys.index(self.view) + 1) % len(keys)])

    def refresh(self) -> None:
        """Follow the session."""
        for view in (self.tree, self.photo, self.roots, self.brief):
            view.refit()
            view.update()
        if self.step == Step.LINEUP:
            self.lineup.refresh()
            self._cut_through()
            if self.view == "shelf":
                self.ranked.refresh()
        self.refresh_title()

    def refresh_title(self) -> None:
        """Titles state the result."""
        s = self.session
        text = ""
        if s.tree is None:
            text = "No tree yet"
        elif self.step == Step.TREE and self.view == "photo":
            text = self._photo_title()
        elif self.step == Step.TREE:
            text = self._tree_title()
        elif self.step == Step.BRIEF:
            depth, length, u = s.case().bands.depth, s.case().bands.length, s.units
            if depth.low is None or depth.high is None or length.low is None or length.high is None:
                text = "Trunk, height and spread would give the sizes asked for"
            else:
                text = f"Asked for: {u.band(depth.low, depth.high)} deep, {u.figure(length.low)}–{u.figure(length.high)} long"
        elif self.view == "roots" and self.roots.assessment is not None:
            a = self.roots.assessment
            text = f"{a.pot.name}: {seat_words(a, s.units)}"
        else:
            state = s.lineup_state()
            count = len(state.columns) if state else 0
            words = {0: "No pot", 1: "One pot", 2: "Two pots", 3: "Three pots", 4: "Four pots", 5: "Five pots"}.get(
                count, f"{count} pots"
            )
            text = f"{words} for {s.tree.name}"
            if self.view == "shelf" and state is not None:
                fits = sum(1 for v in state.ranking.verdict if v == 0)
                text = f"{len(state.ranking)} pots under {s.tree.name}; {fits or 'none'} fit{'s' if fits == 1 else ''}"
        self.title.setText(text)
        self.title.setToolTip(text)

    def _photo_title(self) -> str:
        photo, tree = self.photo.photo, self.session.tree
        assert tree is not None
        if photo is None:
            return f"No photograph of {tree.name} yet"
        try:
            found = self.photo.darkroom.figures(photo)
        except KeshError:
            found = None
        value = found.figures["height_mm"] if found else None
        if value is None or not isinstance(value.value, float):
            return f"{tree.name} in a photograph, not cut out yet"
        u = self.session.units
        return f"{u.mm(value.value)} tall by the photograph, ± {u.figure(value.plus_minus or 0)}"

    def _tree_title(self) -> str:
        s = self.session
        tree, a, u = s.tree, s.assessment(), s.units
        assert tree is not None
        if a is None:
            return f"{tree.name} stands in no pot yet"
        if self.view == "roots":
            roots, words = tree.roots, seat_words(a, u)
            return f"{u.mm(roots.depth_mm)} of root: {words}" if roots else "The root mass is not known yet"
        grave = [f for f in a.findings if f.status == "no"] or [f for f in a.findings if f.status == "watch"]
        height = u.mm(tree.measure.height_mm) if tree.measure.height_mm else "not measured"
        return f"{height} tall; {grave[0].short}" if grave and grave[0].short else f"{height} tall; the pot fits"


class BenchPanel(QStackedWidget):
    """The panel of the step in sight, or the grounds of one finding."""

    def __init__(
        self, session: Session, darkroom: Darkroom, add_photo: Callable[[], object], cut: Callable[[], object]
    ) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("panel")
        self.view = ""
        self.photo = PhotoPanel(session, darkroom, add_photo, cut)
        self.tree, self.brief, self.lineup, self.why = (
            TreePanel(session),
            BriefPanel(session),
            LineupPanel(session),
            WhyPanel(session),
        )
        self._of: dict[Step, TreePanel | BriefPanel | LineupPanel] = {
            Step.TREE: self.tree,
            Step.BRIEF: self.brief,
            Step.LINEUP: self.lineup,
        }
        self.addWidget(self.photo)
        for widget in (*self._of.values(), self.why):
            self.addWidget(widget)
            if widget is not self.why:
                widget.findings.asked.connect(self.ask)  # type: ignore[union-attr]
        self.why.closed.connect(self.back)
        self.step = Step.TREE

    def show_step(self, step: Step) -> None:
        """The panel of another step."""
        self.step = step
        self.back()
        self.refresh()

    def show_view(self, view: str) -> None:
        """The photo view has a panel of its own."""
        self.view = view
        if self.currentWidget() is not self.why:
            self.back()
        if self._on_photo:
            self.photo.refresh()

    @property
    def _on_photo(self) -> bool:
        return self.step == Step.TREE and self.view == "photo"

    def refresh(self) -> None:
        """Follow the session; an open finding is read again, and left when it is gone."""
        if self._on_photo:
            self.photo.refresh()
        if self.currentWidget() is self.why:
            self._of[self.step].refresh()
            if not self.ask(self.why.code):
                self.back()
        else:
            self._of[self.step].refresh()

    def ask(self, code: str) -> bool:
        """Show why; False when there is no such finding."""
        assessment = self.session.assessment()
        if self.step == Step.LINEUP:
            pot = self.session.collection.pots.get(self.lineup.pot)
            assessment = self.session.tried(pot) if pot else None
        if assessment is None or not self.why.show_finding(assessment, code):
            return False
        self.setCurrentWidget(self.why)
        return True

    def back(self) -> None:
        """From a finding to the findings."""
        self.setCurrentWidget(self.photo if self._on_photo else self._of[self.step])

    def walk_findings(self, by: int) -> None:
        """Put the next finding in hand."""
        rows = self._of[self.step].findings.rows
        if not rows:
            return
        if self.currentWidget() is self.why:
            codes = [r.finding.code for r in rows]
            at = codes.index(self.why.code) if self.why.code in codes else -1
            self.ask(codes[(at + by) % len(codes)])
            return
        at = next((i for i, r in enumerate(rows) if r.hasFocus()), -1 if by > 0 else 0)
        rows[(at + by) % len(rows)].setFocus()


def seat_words(a: Assessment, u: Units) -> str:
    """Whether the tree comes to sit where it should, in a few words."""
    fit = a.figures.roots
    if fit is None:
        return "roots not known yet"
    off, spare = float(fit.off_bottom_mm[0]), float(fit.spare_depth_mm[0])
    if off > 0.5:
        return f"lower by {u.mm(off)}"
    return f"raise by {u.mm(spare)}" if spare > 0.5 else "it sits right"


def hold_under(session: Session, pot_id: str) -> None:
    """Put a pot into the line-up of the tree in hand."""
    tree, pot = session.tree, session.collection.pots.get(pot_id)
    if tree is None or pot is None:
        return
    lineup = with_pot(session.lineup(), session.case(), pot)
    if lineup != session.lineup() or tree.id not in session.collection.lineups:
        session.edit(f"{pot.name} held under {tree.name}", [("lineup", tree.id, lineup)])
