"""The Brief step's panel: purpose, horizon, judge, mix, limits, and the findings they lead to."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QSlider, QWidget

from kesh.advice.rules.caps import caps
from kesh.advice.rules.size import REFINED
from kesh.advice.sensitivity import Influence
from kesh.base.errors import FieldError, KeshError
from kesh.desk.heights import STATIONS
from kesh.model import MassWeights, Purpose
from kesh.reference.schools import schools
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, Panel, SectionHead, button, quiet, row, title
from kesh.ui.widgets.fields import MeasureEdit, ShareSlider
from kesh.ui.widgets.finding_list import FindingList

PURPOSES = {
    Purpose.GROW_ON: ("Grow on", "thicken trunk and branches"),
    Purpose.TRAIN_ROOTS: ("Train", "spread the roots into a plate"),
    Purpose.REFINE: ("Refine", "the pot it is meant to live in"),
    Purpose.SHOW: ("Show", "for an exhibition"),
    Purpose.HOLD: ("Hold", "recover with all its roots"),
}
# plantings with rules of their own: the second row
SPECIAL_PURPOSES = {
    Purpose.CUTTING: ("Cutting", "a trunk without roots: grip first"),
    Purpose.FOREST: ("Group", "several trees in one tray"),
    Purpose.CASCADE: ("Cascade", "it hangs below the rim"),
    Purpose.TUBE: ("Tube", "roots are bared year by year"),
    Purpose.ROCK: ("Rock", "roots grow over a rock"),
    Purpose.CROP: ("Crop", "a fruit tree in a tub"),
    Purpose.DESERT: ("Dry", "a plant that stores water"),
}
ALL_PURPOSES = PURPOSES | SPECIAL_PURPOSES
SEASONS = {
    "": "its next window", "today": "the season of today", "best": "its best season", "edge": "the edge of it", "wrong": "out of season",
}  # fmt: skip
WEIGHTS = {"wood": "Wood", "dense": "Dense leaf", "airy": "Airy leaf", "pot": "Pot"}


class BriefPanel(Panel):
    """Every change is written at once and judged at once."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.head, self.note = title(""), quiet("")
        self.column.addWidget(self.head)
        self.column.addWidget(self.note)
        self.gap(4)
        self.purposes: dict[str, QPushButton] = {}
        for group in (PURPOSES, SPECIAL_PURPOSES):
            strip = QWidget()
            line = QHBoxLayout(strip)
            line.setContentsMargins(0, 0, 0, 0)
            line.setSpacing(0)
            for purpose, (text, tip) in group.items():
                made = QPushButton(text)
                made.setCheckable(True)
                made.setToolTip(tip)
                made.setStyleSheet(
                    "QPushButton { padding: 3px 2px; }"
                    if group is PURPOSES
                    else "QPushButton { padding: 3px 1px; font-size: 12px; }"
                )
                made.clicked.connect(
                    lambda _=False, p=purpose: session.change_brief(f"Purpose: {ALL_PURPOSES[p][0].lower()}", purpose=p)
                )
                self.purposes[purpose] = made
                line.addWidget(made, 1)
            self.column.addWidget(strip)
        self.gap()
        self.horizon_head = SectionHead(session, "Horizon")
        self.column.addWidget(self.horizon_head)
        self.horizon = QSlider(Qt.Orientation.Horizontal)
        self.horizon.setRange(0, 15)
        self.horizon.setAccessibleName("Horizon in years")
        self.horizon.sliderReleased.connect(self._horizon)
        self.horizon.valueChanged.connect(lambda v: None if self.horizon.isSliderDown() else self._horizon())
        self.column.addWidget(self.horizon)
        self.caps = quiet("")
        self.column.addWidget(self.caps)
        self.gap()
        self.column.addWidget(SectionHead(session, "Who judges"))
        self.school = Choice({key: s.name + " school" for key, s in schools().items()}, "School")
        self.school.chosen.connect(lambda key: session.change_brief(f"Judge: {key}", school=key))
        self.station = Choice(STATIONS, "Trunk taken")
        self.station.chosen.connect(lambda key: session.change_brief("Trunk taken elsewhere", trunk_station=key))
        self.season = Choice(SEASONS, "Season of the root work")
        self.season.chosen.connect(lambda key: session.change_brief("Season planned", season=key or None))
        self.mix = Choice({}, "Mix")
        self.mix.chosen.connect(lambda key: session.change_brief("Mix chosen", mix=key))
        self.column.addWidget(row("Judged by", self.school))
        self.voice = quiet("")
        self.column.addWidget(self.voice)
        self.column.addWidget(row("Trunk taken", self.station))
        self.column.addWidget(row("Mix", self.mix))
        self.column.addWidget(row("Root work in", self.season))
        self.gap()
        self.findings = FindingList(session)
        self.column.addWidget(self.findings)
        self.gap()
        self.again_head, self.again = (SectionHead(session, "Worth measuring again"), quiet(""))
        self.column.addWidget(self.again_head)
        self.column.addWidget(self.again)
        self.gap()
        self.column.addWidget(SectionHead(session, "Limits", "blank: none"))
        self.bench, self.door = MeasureEdit(session, "Bench length"), MeasureEdit(session, "Doorway")
        self.car = MeasureEdit(session, "Clear height of the car")
        self.car.entered.connect(lambda mm: self._limit("car_height_mm", mm))
        self.bench.entered.connect(lambda mm: self._limit("bench_length_mm", mm))
        self.door.entered.connect(lambda mm: self._limit("doorway_mm", mm))
        self.lift, self.budget = QLineEdit(), QLineEdit()
        for field, name in ((self.lift, "lift_kg"), (self.budget, "budget")):
            field.setFixedWidth(self.bench.width())
            field.setAlignment(Qt.AlignmentFlag.AlignRight)
            field.setPlaceholderText("……")
            field.editingFinished.connect(lambda f=field, n=name: self._number(f, n))
        self.column.addWidget(row("Bench length", self.bench))
        self.column.addWidget(row("Doorway", self.door))
        self.column.addWidget(row("Car, clear height", self.car))
        self.column.addWidget(row("One person lifts, kg", self.lift))
        self.budget_row = row("Budget", self.budget)
        self.column.addWidget(self.budget_row)
        self.stand, self.show_height = MeasureEdit(session, "Stand height"), MeasureEdit(session, "Height allowed")
        self.stand.entered.connect(lambda mm: session.change_brief("Stand changed", stand_mm=mm or 0.0))
        self.show_height.entered.connect(lambda mm: self._limit("show_height_mm", mm))
        self.column.addWidget(
            row(
                "Stand under the pot",
                self.stand,
                tip="Shown below the pot in the drawings of the tree and the line-up.",
            )
        )
        self.column.addWidget(row("Height allowed, with stand", self.show_height))
        self.gap()
        self.column.addWidget(SectionHead(session, "Visual mass", "1 is solid, 0 a gap"))
        self.weights: dict[str, ShareSlider] = {}
        for name, words in WEIGHTS.items():
            slider = ShareSlider(f"{words}, how solid it looks")
            slider.tried.connect(lambda share, n=name: self._weigh(n, share, final=False))
            slider.put.connect(lambda share, n=name: self._weigh(n, share, final=True))
            self.weights[name] = slider
            self.column.addWidget(row(words, slider))
        self.usual = button("Take the usual weights", self._usual_weights, link=True)
        self.column.addWidget(self.usual)
        self.lineup = button("Hold pots under the tree", lambda: None, main=True)
        self.foot.addWidget(self.lineup)

    def show_influences(self, found: tuple[Influence, ...]) -> None:
        """Which measures move the advice most; the first one is asked for again."""
        u = self.session.units
        lines = [x.sentence(u) for x in found[:3]]
        self.again.setText("\n".join(lines))
        for part in (self.again_head, self.again):
            part.setVisible(bool(lines))

    def _horizon(self) -> None:
        years = float(self.horizon.value())
        if years != self.session.brief.horizon_years:
            self.session.change_brief(f"Horizon {years:g} years", horizon_years=years)

    def _weigh(self, name: str, share: float, *, final: bool) -> None:
        s = self.session
        if s.tree is None:
            return
        brief = s.brief.changed(
            weights=s.file.collection.briefs.get(s.tree_id, s.brief).weights.changed(**{name: share})
        )
        if final:
            s.edit(f"{WEIGHTS[name]} weighs {share:.2f}", [("brief", s.tree_id, brief)])
        else:
            s.draft([("brief", s.tree_id, brief)])

    def _usual_weights(self) -> None:
        self.session.change_brief("The usual weights", weights=MassWeights())

    def _limit(self, name: str, value: float | None) -> None:
        try:
            limits = self.session.brief.limits.changed(**{name: value})
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        self.session.change_brief("Limit changed", limits=limits)

    def _number(self, field: QLineEdit, name: str) -> None:
        text = field.text().strip().replace(",", ".")
        try:
            value = float(text) if text else None
        except ValueError:
            self.session.said.emit("no", str(FieldError(name, f"'{text}' is no number; write one, such as 18")))
            return
        if value != getattr(self.session.brief.limits, name):
            self._limit(name, value)

    def refresh(self) -> None:
        """Show the brief of the tree in hand."""
        tree, brief = self.session.tree, self.session.brief
        self.setEnabled(tree is not None)
        if tree is None:
            self.head.setText("No tree yet")
            return
        self.head.setText(f"{ALL_PURPOSES[brief.purpose][0]}, over {brief.horizon_years:g} years")
        for key, made in self.purposes.items():
            made.setChecked(key == brief.purpose)
        self.horizon_head.set_note(f"{brief.horizon_years:g} years")
        self.horizon.blockSignals(True)
        self.horizon.setValue(round(brief.horizon_years))
        self.horizon.blockSignals(False)
        reached = caps(self.session.case(), self.session.pot)
        self.caps.setText("\n".join(cap.sentence(self.session.units) for cap in reached))
        self.caps.setVisible(bool(reached))
        self.school.show_key(brief.school)
        case = self.session.case()
        self.voice.setText(case.school.voice)
        self.station.show_key(brief.trunk_station or tree.trunk_station)
        self.season.show_key(brief.season or "")
        mixes = self.session.collection.mixes
        if [self.mix.itemData(i) for i in range(self.mix.count())] != list(mixes):
            self.mix.clear()
            for key, mix in mixes.items():
                self.mix.addItem(mix.name, key)
        self.mix.show_key(case.mix.id if case.mix else "")
        self.bench.show_mm(brief.limits.bench_length_mm)
        self.door.show_mm(brief.limits.doorway_mm)
        self.car.show_mm(brief.limits.car_height_mm)
        self.stand.show_mm(brief.stand_mm or None)
        self.show_height.show_mm(brief.limits.show_height_mm)
        for name, slider in self.weights.items():
            slider.show_share(getattr(brief.weights, name))
        self.usual.setVisible(brief.weights != MassWeights())
        self.lift.setText(f"{brief.limits.lift_kg:g}" if brief.limits.lift_kg else "")
        label = self.budget_row.findChild(QLabel)
        if label is not None:
            label.setText(f"Budget, {self.session.money}")
        self.budget.setText(f"{brief.limits.budget:g}" if brief.limits.budget else "")
        a = self.session.assessment()
        kept = [
            f
            for f in (a.findings if a else ())
            if f.part in ("size", "depth", "looks")
            or f.code in ("lift_mass", "budget", "doorway", "car_height", "show_height")
        ]
        inside = sum(f.status == "fits" for f in kept)
        self.note.setText(
            f"The present pot keeps {inside} of {len(kept)} points asked for."
            if a
            else "The tree stands in no pot yet."
        )
        if tree.stage not in REFINED and case.school.purposes[brief.purpose.value].looks_count:
            self.note.setText(
                f"{self.note.text()} The tree is {tree.stage.replace('_', ' ')}: display bands are advice only."
            )
        off = a.finding("switched_off") if a is not None else None
        if off is not None:
            self.note.setText(f"{self.note.text()} {off.text}")
        self.findings.show_findings(tuple(kept))
        self.findings.setVisible(a is not None)
