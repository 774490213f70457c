"""Before lifting: what must lie ready against what there is, what stops the work, and the step in hand with its cautions."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from kesh.advice.assess import Finding
from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.rehearsal import Ready, stops
from kesh.advice.planting.soil_batch import SCOOP_KEY
from kesh.base.errors import KeshError
from kesh.model import Stock
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE
from kesh.ui.widgets.common import FindingRow, Panel, SectionHead, button, quiet, title


class HaveEdit(QLineEdit):
    """How much there is of one thing; blank is not said."""

    told = pyqtSignal(str, object)

    def __init__(self, session: Session, ready: Ready) -> None:
        super().__init__()
        self._session, self._ready = session, ready
        self.setFixedWidth(fonts.scaled(58))
        self.setAccessibleName(f"Have of {ready.words}")
        self.setPlaceholderText("have")
        if ready.have is not None:
            self.setText(f"{ready.have:g}")
        self._was = self.text()
        self.editingFinished.connect(self._finish)

    def _finish(self) -> None:
        text = self.text().strip().replace(",", ".")
        if text == self._was:
            return
        self._was = text
        if not text:
            self.told.emit(self._ready.key, None)
            return
        try:
            value = float(text.split(" ")[0])
        except ValueError:
            value = -1.0
        if not 0 <= value < 1e6:
            self._session.said.emit(
                "no",
                f"{self._ready.words}: '{self.text()}' is no amount; write a number in {self._ready.unit or 'pieces'}, or nothing",
            )
            return
        self.told.emit(self._ready.key, value)


class WorkPanel(Panel):
    """Reads the plan; writes the stock."""

    # a finding that stops the work is asked why
    asked = pyqtSignal(object)
    to_bench = pyqtSignal()
    to_sheet = pyqtSignal()
    done = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.plan: PlantingPlan | None = None
        self.head, self.note = title("Before lifting"), quiet("")
        self.stop_head, self.stops = SectionHead(session, "Stops"), QWidget()
        self.ready_head, self.rows = SectionHead(session, "Must lie ready"), QWidget()
        self.step_head, self.told = SectionHead(session, "This step"), quiet("")
        for made in (
            self.head,
            self.note,
            self.stop_head,
            self.stops,
            self.ready_head,
            self.rows,
            self.step_head,
            self.told,
        ):
            self.column.addWidget(made)
        for holder in (self.stops, self.rows):
            inner = QVBoxLayout(holder)
            inner.setContentsMargins(0, 0, 0, 0)
            inner.setSpacing(1)
        self._shown: object = None
        self.at = 0
        self.potted = button("It is potted: write it down", self.done.emit, tip="Ctrl+Alt+L")
        self.bench = button("To the bench, hands free", self.to_bench.emit, tip="Ctrl+B")
        self.main = button("Print the work sheet", self.to_sheet.emit, main=True)
        for one in (self.potted, self.bench, self.main):
            self.foot.addWidget(one)

    def show_plan(self, plan: PlantingPlan | None) -> None:
        """Show what this plan asks for."""
        self.plan = plan
        self.setEnabled(plan is not None)
        if plan is None:
            self.note.setText("Choose a pot in the line-up first.")
            return
        minutes = sum(s.minutes or 0.0 for s in plan.steps)
        bare = _bare_minutes(plan)
        self.note.setText(
            f"{len(plan.steps)} steps, about {minutes:.0f} minutes, {bare:.0f} of them with bare roots. Starting points; your own log will move them."
        )
        found = stops(plan.a)
        key = (plan.ready, found, self.session.theme.name, fonts.scaled(100))
        if key != self._shown:
            self._shown = key
            self._lay_out(plan, found)
        self.show_step(self.at)

    def _lay_out(self, plan: PlantingPlan, held: tuple[Finding, ...]) -> None:
        for holder in (self.stops, self.rows):
            layout = holder.layout()
            assert layout is not None
            while (item := layout.takeAt(0)) is not None:
                old = item.widget()
                if old is not None:
                    old.deleteLater()
        self.stop_head.setVisible(bool(held))
        self.stop_head.set_note("read before you lift")
        for finding in held:
            made = FindingRow(self.session, finding)
            made.asked.connect(self.asked)
            self.stops.layout().addWidget(made)  # type: ignore[union-attr]
        short = [r for r in plan.ready if r.status != "fits"]
        self.ready_head.set_note(f"{len(short)} short" if short else "type what you have")
        for ready in plan.ready:
            self.rows.layout().addWidget(self._row(ready))  # type: ignore[union-attr]
        scoop = self.session.collection.stock.get(SCOOP_KEY)
        own = Ready(SCOOP_KEY, "One scoop of yours holds", None, "l", scoop.have if scoop is not None else None)
        self.rows.layout().addWidget(self._row(own, ask=True))  # type: ignore[union-attr]

    def _row(self, ready: Ready, *, ask: bool = False) -> QWidget:
        made = QWidget()
        line = QHBoxLayout(made)
        line.setContentsMargins(0, 1, 0, 1)
        line.setSpacing(6)
        name = QLabel(ready.words)
        name.setWordWrap(True)
        line.addWidget(name, 1)
        amount = QLabel(ready.need_words)
        amount.setProperty("quiet", True)
        line.addWidget(amount)
        if ready.need is not None or ask:
            field = HaveEdit(self.session, ready)
            field.told.connect(lambda key, value, r=ready: self._have(key, value, r))
            line.addWidget(field)
        if ready.status != "fits":
            name.setStyleSheet(f"color: {self.session.theme.color(STATUS_ROLE[ready.status]).name()};")
            name.setText(ready.short_words)
        return made

    def _have(self, key: str, value: float | None, ready: Ready) -> None:
        try:
            record = None if value is None else Stock.made(id=key, item=ready.words, unit=ready.unit, have=value)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        self.session.edit(f"Stock of {ready.words}", [("stock", key, record)])

    def show_step(self, n: int) -> None:
        """The step in hand with all its lines and cautions."""
        self.at = n
        plan = self.plan
        if plan is None or not plan.steps:
            return
        step = plan.steps[min(n, len(plan.steps) - 1)]
        self.step_head.set_text(step.title if len(step.title) < 30 else step.word.capitalize())
        self.step_head.set_note(f"step {min(n, len(plan.steps) - 1) + 1} of {len(plan.steps)}")
        lines = [f"{step.figure} {step.figure_words}".strip(), *step.lines]
        lines += [f"Take care: {c.hazard}. {c.care}. Gear: {c.gear}. Stop: {c.stop}." for c in step.cautions]
        if step.cautions:
            lines.append("Usual cautions; local rules and qualified people come first.")
        self.told.setText("\n".join(x for x in lines if x))


def _bare_minutes(plan: PlantingPlan) -> float:
    """Minutes between lifting and filling."""
    total, bare = 0.0, False
    for step in plan.steps:
        bare = bare or step.clock == "start"
        if bare:
            total += step.minutes or 0.0
        if step.clock == "end":
            return total
    return total
