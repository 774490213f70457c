"""Where growers disagree on seasons and what follows: a choice for each topic, both sides, and when each fits."""

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.model import Brief
from kesh.reference.notes import disagreements
from kesh.ui.session import Session
from kesh.ui.widgets.common import Choice, SectionHead, quiet, row
from kesh.ui.widgets.folded import Folded

# field of the views, its label, its sides, the topic of the reference
ROWS: tuple[tuple[str, str, dict[str, str], str], ...] = (
    ("timing", "When", {"early": "before the leaf", "late": "later, growth begun"}, "timing"),
    (
        "shade",
        "Shade after",
        {"week": "about a week", "weeks": "two to three weeks", "sign": "until a sign"},
        "shade_after",
    ),
    ("top", "Top and roots", {"apart": "separate seasons", "same_day": "the same day"}, "top_work"),
    ("leaves", "Leaves of tropicals", {"keep": "repot in leaf", "strip": "strip them first"}, "tropical_leaves"),
    ("pot_when", "Into a small pot", {"early": "early", "thicken": "thicken first"}, "early_pot"),
    ("size", "Size of a pot", {"room": "room to grow", "exact": "exact now"}, "size_now"),
    ("due", "Due by", {"fill": "how full it is", "years": "years of its kind"}, "due_by"),
)


class SeasonViewsBox(QWidget):
    """Writes the views of the tree in hand."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.folded = Folded("How it is done: growers differ, you pick", "Both sides of seven topics")
        self.choices: dict[str, Choice] = {}
        self.folded.add(SectionHead(session, "How it is done", "growers differ; you pick"))
        for field, label, sides, _ in ROWS:
            choice = self.choices[field] = Choice(sides, label)
            choice.chosen.connect(lambda key, name=field: self._pick(name, key))
            self.folded.add(row(label, choice))
        self.question, self.told = Choice({key: label for _, label, _, key in ROWS}, "Question"), quiet("")
        self.question.chosen.connect(lambda _: self._tell())
        self.folded.add(self.question)
        self.folded.add(self.told)
        self.folded.show_needed(False)
        column.addWidget(self.folded)
        self._tell()

    def show_brief(self, brief: Brief) -> None:
        """Show what is chosen."""
        for field, choice in self.choices.items():
            choice.show_key(str(getattr(brief.season_views, field)))

    def _pick(self, field: str, key: str) -> None:
        views = self._session.brief.season_views.changed(**{field: key})
        self._session.change_brief("How it is done", season_views=views)

    def _tell(self) -> None:
        key = str(self.question.currentData() or ROWS[0][3])
        self.question.show_key(key)
        topic = next((d for d in disagreements() if d.key == key), None)
        if topic is not None:
            self.told.setText(f"Some: {topic.one}\nOthers: {topic.other}\n{topic.fits}\n{topic.kesh}")
