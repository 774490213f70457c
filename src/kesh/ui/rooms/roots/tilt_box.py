"""Tilt and turn in figures: the same that the round handles of the drawing pull."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from kesh.advice.assess import Assessment
from kesh.advice.report.roots import tilt_of
from kesh.base.errors import KeshError
from kesh.desk.root_map import degrees_of, tilt_words
from kesh.model import Planting
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import SectionHead, quiet, row


class TiltBox(QWidget):
    """Writes the planting in force."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.told, self.tilt, self.turn = quiet(""), QLineEdit(), QLineEdit()
        for field, name, label in (
            (self.tilt, "tilt_deg", "Tree tilted"), (self.turn, "turn_deg", "Tree turned in its pot"),
        ):  # fmt: skip
            field.setFixedWidth(fonts.scaled(84))
            field.setAlignment(Qt.AlignmentFlag.AlignRight)
            field.editingFinished.connect(lambda f=field, n=name, w=label: self._angle(f, n, w))
        for made in (
            SectionHead(session, "Tilt and turn"), row("Tilt to the right, °", self.tilt, tip="Below nought to the left."),
            row("Turn in the pot, °", self.turn, tip="Against the clock, seen from above; roots and marker turn with it."), self.told,
        ):  # fmt: skip
            column.addWidget(made)

    def show_planting(self, a: Assessment | None, planting: Planting | None) -> None:
        """Show a planting; a pot that is only tried has none that could be tilted."""
        self.setVisible(a is not None and planting is not None)
        if a is None or planting is None:
            return
        for field, value in ((self.tilt, planting.tilt_deg), (self.turn, planting.turn_deg)):
            if not field.hasFocus():
                field.setText(f"{value:g}")
        self.told.setText(tilt_words(tilt_of(a), planting.tilt_deg, self._session.units))

    def _angle(self, field: QLineEdit, name: str, label: str) -> None:
        planting = self._session.planting
        if planting is None:
            return
        try:
            value = degrees_of(field.text(), name.removesuffix("_deg"), 60.0 if name == "tilt_deg" else 360.0)
            changed = planting.changed(**{name: value})
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return
        if changed != planting:
            self._session.edit(f"{label} {value:g}°", [("planting", planting.id, changed)])
