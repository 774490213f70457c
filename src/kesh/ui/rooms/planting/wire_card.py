"""The wire in hand: behind which root it hides, whether it lies on a pad, when it comes off."""

from collections.abc import Callable

from PyQt6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.tie_plan import TiePlan
from kesh.desk.planting import with_height, with_tie, without_wire
from kesh.model import Planting
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, SectionHead, button, quiet, row
from kesh.ui.widgets.fields import MeasureEdit

Change = Callable[[str, Callable[[Planting], Planting]], None]


class WireCard(QWidget):
    """Shown while an end of a wire is in hand."""

    def __init__(self, session: Session, change: Change, ties: Callable[[], TiePlan | None]) -> None:
        super().__init__()
        self._change, self._ties, self._wire = change, ties, ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.head = SectionHead(session, "Wire")
        self.behind = Choice({}, "Behind root")
        self.behind.chosen.connect(lambda key: self._set("Hidden route", behind=key or None))
        self.pad = QCheckBox("on a soft pad")
        self.pad.clicked.connect(lambda on: self._set("Pad", pad=bool(on)))
        self.high = MeasureEdit(session, "Takes hold above the floor", optional=False)
        self.high.entered.connect(
            lambda mm: self._change("Height of a wire", lambda p: with_height(p, self._ties(), self._wire, float(mm)))
        )
        self.told = quiet("")
        self.away = button("Take this wire away", self._take_away, link=True)
        for made in (
            self.head,
            row("Behind root", self.behind),
            row("Takes hold above the floor", self.high),
            self.pad,
            self.told,
            self.away,
        ):
            column.addWidget(made)
        self.hide()

    def show_wire(self, wire: str, plan: PlantingPlan | None, planting: Planting | None) -> None:
        """Another wire, or none."""
        self._wire = wire
        found = (
            next((w for w in plan.ties.wires if w.id == wire), None)
            if plan is not None and plan.ties is not None
            else None
        )
        self.setVisible(found is not None)
        if found is None or plan is None:
            return
        self.head.set_text(f"Wire {wire}")
        self.head.set_note(plan.u.mm(found.length_mm))
        self.behind.clear()
        self.behind.addItem("none, it shows", "")
        for n, root in enumerate(plan.a.case.tree.root_map):
            self.behind.addItem(f"root {n + 1}, {plan.u.mm(root.diameter_mm)} at {root.azimuth_deg:.0f}°", root.id)
        self.behind.show_key(found.behind or "")
        self.pad.setChecked(found.pad)
        self.high.show_mm(found.over[0][2])
        legs = found.legs()
        self.told.setText(
            f"{len(legs)} leg{'' if len(legs) == 1 else 's'} of {found.gauge_mm:g} mm {found.metal} pull {legs[0].pull_n:.0f} N each: half of what the wire bears."
        )

    def _set(self, label: str, **fields: object) -> None:
        self._change(label, lambda p: with_tie(p, self._ties(), self._wire, **fields))

    def _take_away(self) -> None:
        self._change("Wire taken away", lambda p: without_wire(p, self._ties(), self._wire))
