"""The panel beside the drawing: figures of the place, what holds the tree, how it is done, findings."""

from collections.abc import Callable
from datetime import date, timedelta

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QWidget

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.tie_plan import TiePlan, options
from kesh.base.errors import KeshError
from kesh.desk.planting import pot_words, rule_again, standing_best, with_anchors, with_gauge, with_stones, with_wire
from kesh.model import Planting
from kesh.science.stand.hardware import WIRE_SIZES_MM
from kesh.science.stand.tie_hold import FITS_MARGIN
from kesh.ui.rooms.planting.anchor_strip import AnchorStrip
from kesh.ui.rooms.planting.branch_box import BranchBox
from kesh.ui.rooms.planting.views_box import PlantingViewsBox
from kesh.ui.rooms.planting.wire_card import WireCard
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, Panel, SectionHead, button, quiet, row, title, with_meanings
from kesh.ui.widgets.fields import MassEdit, MeasureEdit
from kesh.ui.widgets.finding_list import FindingList

FIELDS = (
    ("offset_x_mm", "Right", "Of the pot's middle; left of it with a minus"), ("offset_y_mm", "Back", "Of the pot's middle; before it with a minus"),
    ("raise_mm", "Over rim", "The top of the roots; below the rim with a minus"), ("headspace_mm", "Headspace", "From the rim down to the soil"),
    ("mound_mm", "Mound", "Over the soil line"), ("base_layer_mm", "Mix under", "All soil under the roots, a drainage layer among it"),
    ("dressing_mm", "Dressing", "Mulch or moss on the soil now"), ("dressing_mm_year", "A year", "Dressing that is added every year"),
)  # fmt: skip
ANGLES = (
    ("turn_deg", "Turn", "Against the clock, seen from above"),
    ("tilt_deg", "Tilt", "To the viewer's right; to the left with a minus"),
)
METALS = {"aluminium": "aluminium", "copper": "copper", "steel": "steel"}


class PlantingPanel(Panel):
    """Reads the plan; writes the planting."""

    swap = pyqtSignal()
    viewed = pyqtSignal(str, str)
    to_bench = pyqtSignal()
    to_sheet = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.plan: PlantingPlan | None = None
        self.planting: Planting | None = None
        self.head, self.note = title("Planting"), quiet("")
        self.other = button("Another pot", self.swap.emit, link=True, tip="W")
        self.place = SectionHead(session, "Placement", "from the middle of the pot")
        self.fields: dict[str, MeasureEdit] = {}
        for made in (self.head, self.note, self.other, self.place):
            self.column.addWidget(made)
        cells: list[tuple[str, QWidget, str]] = []
        for key, label, tip in FIELDS:
            field = self.fields[key] = MeasureEdit(session, label)
            field.entered.connect(lambda mm, k=key: self._enter(k, mm))
            cells.append((label, field, tip))
        self.angles: dict[str, DegreeEdit] = {}
        for key, label, tip in ANGLES:
            angle = self.angles[key] = DegreeEdit(session, label)
            angle.entered.connect(lambda deg, k=key: self._enter(k, deg))
            cells.append((label, angle, tip))
        for one, other in zip(cells[::2], cells[1::2], strict=True):
            self.column.addWidget(pair_row(one, other))
        self.best = button("Stand it by the school", self._best, link=True)
        self.column.addWidget(self.best)
        self.gap()
        self.ties = SectionHead(session, "What holds it")
        self.strip = AnchorStrip(session)
        self.strip.chosen.connect(lambda key: self._change(f"Held by {key}", lambda p: with_anchors(p, key)))
        self.gauge, self.metal = (
            Choice({f"{g:g}": f"{g:g} mm" for g in WIRE_SIZES_MM}, "Gauge"),
            Choice(METALS, "Metal"),
        )
        self.gauge.setMinimumContentsLength(5)
        self.metal.setMinimumContentsLength(7)
        self.gauge.chosen.connect(
            lambda key: self._change(f"Wires of {key} mm", lambda p: with_gauge(p, self._ties(), gauge_mm=float(key)))
        )
        self.metal.chosen.connect(
            lambda key: self._change(f"Wires of {key}", lambda p: with_gauge(p, self._ties(), metal=key))
        )
        self.stone = MassEdit(session, "Mass of a stone")
        self.stone.entered.connect(
            lambda kg: self._change("Stones", lambda p: with_stones(p, self._ties(), float(kg or 1.0)))
        )
        self.wire_row, self.stone_row = (row("Wire", self.gauge, self.metal), row("Mass of a stone", self.stone))
        self.card = WireCard(session, self._change, self._ties)
        self.consequence = quiet("")
        links = QWidget()
        line = QHBoxLayout(links)
        line.setContentsMargins(0, 0, 0, 0)
        self.rule, self.more = (
            button("Lay out by rule", lambda: self._change("Wires by rule", rule_again), link=True),
            button("One more wire", self._one_more, link=True),
        )
        for made in (self.rule, self.more):
            line.addWidget(made)
        line.addStretch(1)
        self.links = links
        self.branches = BranchBox(session, self._change)
        for part in (
            self.ties,
            self.strip,
            self.wire_row,
            self.stone_row,
            self.links,
            self.card,
            self.consequence,
            self.branches,
        ):
            self.column.addWidget(part)
        self.gap()
        self.views = PlantingViewsBox(session, self.viewed.emit)
        self.findings = FindingList(session)
        self.column.addWidget(self.findings)
        self.gap()
        self.column.addWidget(self.views)
        self.bench = button("To the bench, hands free", self.to_bench.emit, tip="Ctrl+B")
        self.main = button("Print the work sheet", self.to_sheet.emit, main=True)
        self.foot.addWidget(self.bench)
        self.foot.addWidget(self.main)

    def _ties(self) -> TiePlan | None:
        return self.plan.ties if self.plan is not None else None

    def show_plan(self, plan: PlantingPlan | None, planting: Planting | None, *, live: bool = False) -> None:
        """Show a plan; while something is dragged only its figures follow."""
        s = self.session
        self.plan, self.planting = plan, planting
        self.setEnabled(plan is not None)
        if plan is None or planting is None:
            self.note.setText("Choose a pot in the line-up, then it is planned here.")
            self.findings.show_findings(())
            return
        for key, field in self.fields.items():
            value = getattr(planting, key)
            if value is None:
                value = {"headspace_mm": plan.a.case.headspace_mm, "base_layer_mm": plan.a.seat.base_mm}.get(key)
            field.show_mm(value)
        for key, angle in self.angles.items():
            angle.show_deg(getattr(planting, key))
        held = plan.ties
        self.ties.set_note(
            ""
            if held is None or held.gale_n is None
            else f"gust {held.gale_n:.0f} N, asked {FITS_MARGIN * held.gale_n:.0f}"
        )
        if live:
            return
        self.note.setText(f"Into {plan.a.pot.name}, {pot_words(s.collection, s.tree_id, plan.a.pot.id)}")
        self.strip.show_plans(options(plan.a), held.anchors if held is not None else planting.anchors)
        wires = held.wires if held is not None else ()
        self.wire_row.setVisible(bool(wires))
        self.links.setVisible(
            bool(planting.ties) or (held is not None and held.anchors in ("ties", "rods", "guys", "raft"))
        )
        self.rule.setEnabled(bool(planting.ties or planting.stones))
        self.stone_row.setVisible(held is not None and bool(held.stones))
        if wires:
            self.gauge.show_key(f"{wires[0].gauge_mm:g}")
            self.metal.show_key(wires[0].metal)
        if held is not None and held.stones:
            self.stone.show_kg(held.stones[0].mass_kg)
        self.branches.show_planting(planting)
        self.consequence.setText(consequence_words(plan, s.today))
        self.views.show_plan(plan)
        self.findings.show_findings(plan.whole.findings)

    def show_wire(self, wire: str) -> None:
        """The card of the wire in hand."""
        self.card.show_wire(wire, self.plan, self.planting)

    def _enter(self, key: str, value: object) -> None:
        given = 0.0 if value is None and key not in ("headspace_mm", "base_layer_mm") else value
        self._change("Placement", lambda p: p.changed(**{key: given}))

    def _best(self) -> None:
        plan = self.plan
        if plan is not None:
            self._change("Stood by the school", lambda p: standing_best(p, plan))

    def _one_more(self) -> None:
        plan = self.plan
        if plan is not None:
            self._change("One more wire", lambda p: with_wire(p, plan.ties, plan.a))

    def _change(self, label: str, make: Callable[[Planting], Planting]) -> None:
        planting = self.planting
        if planting is None:
            return
        try:
            changed = make(planting)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.show_plan(self.plan, planting)
            return
        self.session.edit(label, [("planting", changed.id, changed)])


def pair_row(one: tuple[str, QWidget, str], other: tuple[str, QWidget, str]) -> QWidget:
    """Two short labels with their fields side by side; the tip tells the whole of each."""
    made = QWidget()
    grid = QGridLayout(made)
    grid.setContentsMargins(0, 1, 0, 1)
    grid.setHorizontalSpacing(6)
    for n, (label, field, tip) in enumerate((one, other)):
        text = QLabel(label)
        text.setToolTip(with_meanings(tip, label))
        field.setToolTip(tip)
        field.setFixedWidth(fonts.scaled(66))
        field.setAccessibleName(label)
        grid.addWidget(text, 0, 2 * n)
        grid.addWidget(field, 0, 2 * n + 1)
        grid.setColumnStretch(2 * n, 1)
    return made


def consequence_words(plan: PlantingPlan, today: date) -> str:
    """What becomes of it untied, and when ties come off."""
    held = plan.ties
    if held is None or held.hold is None or held.gone_at_m_s is None:
        return "How firmly it is held is told once root mass, height and reach are known."
    bare = f"Untied a wind of {plan.u.wind(held.gone_at_m_s)} lifts the roots; new feeder roots snap at every rocking."
    if held.anchors == "none":
        return bare
    years = plan.holds_after_years
    when = (
        "when roots hold"
        if years is None
        else "as soon as it has settled: roots hold by then"
        if years < 0.1
        else f"about {today + timedelta(days=365 * years):%B %Y}, when roots fill six tenths"
    )
    return f"{bare} Off {when}; look at them each spring, before they cut in."


class DegreeEdit(MeasureEdit):
    """A field for degrees: no unit is converted."""

    def __init__(self, session: Session, name: str) -> None:
        super().__init__(session, name)

    def _written(self, mm: float) -> str:
        return f"{mm:g}°"

    def show_deg(self, value: float) -> None:
        """Show an angle without announcing it."""
        self.show_mm(value)

    def _finish(self) -> None:
        text = self.text().strip().replace("°", "").replace(",", ".").replace("−", "-")
        if text == ("" if self._mm is None else f"{self._mm:g}"):
            return
        try:
            value = float(text or 0.0)
        except ValueError:
            self._fault(f"{self.accessibleName()}: '{text}' is no angle; write degrees such as 4 or -4")
            return
        if value != value or abs(value) == float("inf"):
            self._fault(f"{self.accessibleName()}: '{text}' is no angle; write degrees such as 4 or -4")
            return
        self._announce(value)
