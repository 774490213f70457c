"""Where growers disagree on planting: a choice for each topic, both sides, and what this tree in this pot says to them."""

from collections.abc import Callable

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.advice.planting.plan import PlantingPlan
from kesh.desk.planting_views import ROWS, TOPICS, here, topics
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, SectionHead, quiet, row
from kesh.ui.widgets.folded import Folded


class PlantingViewsBox(QWidget):
    """`picked` is called with a topic and the side that is chosen; the reasons unfold when they are asked for."""

    def __init__(self, session: Session, picked: Callable[[str, str], object]) -> None:
        super().__init__()
        self._plan: PlantingPlan | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        head = SectionHead(session, "How it is done", "growers differ; you pick")
        column.addWidget(head)
        self.choices: dict[str, Choice] = {}
        for topic in ROWS:
            choice = self.choices[topic.field] = Choice(dict(topic.sides), topic.label)
            choice.chosen.connect(lambda key, field=topic.field: picked(field, key))
            column.addWidget(row(topic.label, choice))
        self.folded = Folded(
            "Both sides, and what this pot says", "Where growers disagree, reckoned where statics or water can answer"
        )
        self.question, self.told = Choice({d.key: d.title for d in topics()}, "Question"), quiet("")
        self.question.chosen.connect(lambda _: self._tell())
        self.folded.add(self.question)
        self.folded.add(self.told)
        self.folded.way.clicked.connect(self._tell)
        self.folded.show_needed(False)
        column.addWidget(self.folded)

    def show_plan(self, plan: PlantingPlan) -> None:
        """Show what is chosen."""
        self._plan = plan
        views = plan.a.case.brief.planting_views
        for field, choice in self.choices.items():
            choice.show_key(str(getattr(views, field)))
        if not self.folded.rows.isHidden():
            self._tell()

    def _tell(self) -> None:
        if self._plan is None:
            return
        key = str(self.question.currentData() or TOPICS[0])
        self.question.show_key(key)
        topic = next(d for d in topics() if d.key == key)
        self.told.setText(f"Some: {topic.one}\nOthers: {topic.other}\n{here(self._plan, key)}\n{topic.fits}")
