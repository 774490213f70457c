"""How it is done: where growers disagree, a choice for each topic, and what the choice changes."""

from collections.abc import Callable
from datetime import date

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.advice.assess import Assessment
from kesh.desk.root_views import ROWS, changes_words, chosen
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, SectionHead, quiet, row


class ViewsBox(QWidget):
    """`picked` is called with a topic and the side that is chosen."""

    def __init__(self, session: Session, picked: Callable[[str, str], object]) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.head, self.told = SectionHead(session, "How it is done"), quiet("")
        column.addWidget(self.head)
        self.choices: dict[str, Choice] = {}
        for topic in ROWS:
            choice = self.choices[topic.field] = Choice(dict(topic.sides), topic.label)
            choice.chosen.connect(lambda key, field=topic.field: picked(field, key))
            column.addWidget(row(topic.label, choice))
        column.addWidget(self.told)

    def show_assessment(self, a: Assessment, today: date) -> None:
        """Show what is chosen and what it changes."""
        views = a.case.brief.root_views
        for field, choice in self.choices.items():
            choice.show_key(chosen(views, field))
        self.head.set_note("growers differ; you pick")
        self.told.setText(changes_words(a, today))
