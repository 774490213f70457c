"""The trial fit beside the drawing: what stands above the rim is typed, what comes off is said, each trial is kept."""

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.advice.assess import Assessment
from kesh.advice.planting.trial import TrialFit, trial_fit, trials_of, with_depth
from kesh.advice.roots.this_year import stands_now_mm
from kesh.base.errors import KeshError
from kesh.model import Event
from kesh.ui.session import Session
from kesh.ui.widgets.common import SectionHead, button, quiet, row
from kesh.ui.widgets.fields import MeasureEdit


class TrialBox(QWidget):
    """A field, its verdict, and the trials so far in this pot."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._a: Assessment | None = None
        self._fit: TrialFit | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.head = SectionHead(session, "Trial fit")
        self.stands = MeasureEdit(session, "Top of the roots above the rim")
        self.stands.entered.connect(self._judge)
        self.verdict, self.log = quiet(""), quiet("")
        self.keep = button("Log this trial", self._keep)
        for part in (
            self.head,
            row("Top of the roots above the rim", self.stands, tip="Below the rim: with a minus."),
            self.verdict,
            self.keep,
            self.log,
        ):
            column.addWidget(part)

    def show_assessment(self, a: Assessment) -> None:
        """Follow the pot in hand; a figure typed for another pot is dropped."""
        u = self._session.units
        if self._a is None or (a.pot.id, a.case.tree.id) != (self._a.pot.id, self._a.case.tree.id):
            self._fit = None
            self.stands.show_mm(None)
            self.stands.setText("")
        self._a = a
        self.setVisible(bool(a.figures.plantable[0]))
        self.head.set_note(f"set on {u.mm(a.seat.base_mm)} of mix")
        self._show()
        lines = []
        for number, (event, one) in enumerate(
            trials_of(self._session.collection.events, a.case.tree.id, a.pot.id), start=1
        ):
            lines.append(
                f"{number}.  {event.date:%-d %b}  stood {u.mm(one.stands_mm)}, {u.mm(one.depth_mm)} of root. {one.words(u)}"
            )
        self.log.setText("\n".join(lines))
        self.log.setVisible(bool(lines))

    def _judge(self, stands_mm: float | None) -> None:
        self._fit = None
        if stands_mm is not None and self._a is not None:
            try:
                self._fit = trial_fit(self._a, stands_mm)
            except KeshError as err:
                self._session.said.emit("no", str(err))
        self._show()

    def _show(self) -> None:
        u = self._session.units
        wanted = f"Wanted: {u.mm(stands_now_mm(self._a.figures))}. " if self._a else ""
        self.verdict.setText(
            f"{wanted}{self._fit.words(u)} The root mass is {u.mm(self._fit.depth_mm)} deep."
            if self._fit
            else f"{wanted}Set the tree in, measure, saw, set it in again."
        )
        self.keep.setVisible(self._fit is not None)

    def _keep(self) -> None:
        s, a, fit = self._session, self._a, self._fit
        if a is None or fit is None or s.tree is None:
            return
        number = len(s.collection.events)
        event = Event(
            id=f"trial-{s.tree_id}-{number}-{s.today}", tree=s.tree_id, date=s.today, kind="trial_fit", pot=a.pot.id,
            text=f"Trial fit in {a.pot.name}. {fit.words(s.units)}", figures=fit.figures(),
        )  # fmt: skip
        try:
            tree = with_depth(s.tree, fit.depth_mm, s.today)
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        self._fit = None
        self.stands.show_mm(None)
        self.stands.setText("")
        if s.edit(
            f"Trial fit logged, {fit.words(s.units).lower()}", [("event", event.id, event), ("tree", tree.id, tree)]
        ):
            told = "" if tree.roots else " Its length and width are not known yet: type them in step 1"
            s.said.emit("fits", f"Logged; the figures follow {s.units.mm(fit.depth_mm)} of root.{told}")
