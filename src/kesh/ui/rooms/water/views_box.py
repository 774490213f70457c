"""Where growers disagree about mix and water: both sides, and what this pot says to each."""

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.advice.case import Case
from kesh.advice.water.views import water_views
from kesh.model import Pot
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, quiet
from kesh.ui.widgets.folded import Folded


class WaterViewsBox(QWidget):
    """Folded until somebody asks; reckoned when it is open."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._stand: tuple[Case, Pot] | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.folded = Folded("Where growers disagree", "Both sides, reckoned for this pot where physics can answer")
        self.choice, self.told = Choice({}, "Question"), quiet("")
        self.choice.chosen.connect(lambda _: self._tell())
        self.folded.add(self.choice)
        self.folded.add(self.told)
        self.folded.way.clicked.connect(self._tell)
        column.addWidget(self.folded)
        self.folded.show_needed(False)

    def show_stand(self, case: Case | None, pot: Pot | None) -> None:
        """Another pot or mix."""
        self._stand = (case, pot) if case is not None and pot is not None else None
        self.setVisible(self._stand is not None)
        if not self.folded.rows.isHidden():
            self._tell()

    def _tell(self) -> None:
        if self._stand is None:
            return
        views = water_views(*self._stand, self._session.units)
        now = str(self.choice.currentData() or views[0].topic.key)
        if self.choice.count() != len(views):
            self.choice.clear()
            for v in views:
                self.choice.addItem(v.topic.title, v.topic.key)
        self.choice.show_key(now)
        one = next(v for v in views if v.topic.key == now)
        self.told.setText(f"Some: {one.topic.one}\nOthers: {one.topic.other}\n{one.here}\n{one.topic.fits}")
