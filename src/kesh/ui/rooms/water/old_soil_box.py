"""Old soil: what is ticked decides how much of it may go back into the pot."""

from PyQt6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from kesh.advice.roots.old_soil import QUESTIONS, old_soil
from kesh.ui.session import Session
from kesh.ui.widgets.common import quiet
from kesh.ui.widgets.folded import Folded


class OldSoilBox(QWidget):
    """Folded until somebody asks; nothing of it is written."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.folded = Folded("Use the old soil again?", "Five questions, and how much may go back")
        self.ticks = {key: QCheckBox(text) for key, text in QUESTIONS.items()}
        self.folded.add(quiet("Old soil: what is true of it?"))
        for tick in self.ticks.values():
            tick.toggled.connect(lambda _: self.refresh())
            self.folded.add(tick)
        self.told = quiet("")
        self.folded.add(self.told)
        column.addWidget(self.folded)
        self.folded.show_needed(False)
        session.tree_changed.connect(self._another)
        self.refresh()

    def _another(self) -> None:
        """What was true of one tree's soil is not true of another's."""
        for tick in self.ticks.values():
            tick.setChecked(False)

    def refresh(self) -> None:
        """Say what the ticks allow."""
        self.told.setText(old_soil([k for k, t in self.ticks.items() if t.isChecked()]).words)
