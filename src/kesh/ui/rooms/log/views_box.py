"""Where growers disagree on seasons and what follows: a choice for each topic, both sides, and when each fits."""

from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from kesh.base.errors import KeshError
from kesh.desk.log import read_day
from kesh.model import Brief, Planting
from kesh.reference.notes import disagreements
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.calendar_in import CalendarIn
from kesh.ui.widgets.common import Choice, SectionHead, quiet, row
from kesh.ui.widgets.folded import Folded

# field of the views, its label, its sides, the topic of the reference
ROWS: tuple[tuple[str, str, dict[str, str], str], ...] = (
    ("timing", "When", {"early": "before the leaf", "late": "growth begun"}, "timing"),
    ("shade", "Shade after", {"week": "about a week", "weeks": "2 to 3 weeks", "sign": "until a sign"}, "shade_after"),
    ("top", "Top and roots", {"apart": "seasons apart", "same_day": "the same day"}, "top_work"),
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
        self.folded = Folded(
            "How it is done, and where it lives", "Growers differ, you pick; both sides of seven topics"
        )
        self.choices: dict[str, Choice] = {}
        self.folded.add(SectionHead(session, "How it is done", "growers differ; you pick"))
        for field, label, sides, _ in ROWS:
            choice = self.choices[field] = Choice(sides, label)
            choice.chosen.connect(lambda key, name=field: self._pick(name, key))
            self.folded.add(row(label, choice))
        self.shelter = Choice({"": "outdoors", "glass": "in a glass house", "indoors": "indoors"}, "It lives")
        self.shelter.chosen.connect(self._shelter)
        self.folded.add(row("It lives", self.shelter, tip="A glass house or a room moves its seasons"))
        self.indoors = QLineEdit()
        self.indoors.setPlaceholderText("stays out")
        self.indoors.setFixedWidth(fonts.scaled(110))
        self.indoors.editingFinished.connect(self._indoors)
        tip = "It comes in when three nights on end are colder, and stays in until the last such night"
        self.folded.add(row("Indoors below", self.indoors, tip=tip))
        self.until = QLineEdit()
        self.until.setPlaceholderText("no end")
        self.until.setFixedWidth(fonts.scaled(110))
        self.until.editingFinished.connect(self._until)
        self.calendar = CalendarIn(self.until, session)
        self.folded.add(
            row("This pot only until", self.until, tip="An interim pot: on its day Season asks for the next one")
        )
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
        self.shelter.show_key(brief.keeping.shelter)
        below = brief.keeping.indoors_below_c
        if not self.indoors.hasFocus():
            self.indoors.setText("" if below is None else self._session.units.celsius(below))

    def show_planting(self, planting: Planting | None) -> None:
        """Show until when the pot is meant."""
        self.until.setEnabled(planting is not None)
        if not self.until.hasFocus():
            day = planting.interim_until if planting is not None else None
            self.until.setText(day.isoformat() if day is not None else "")

    def _shelter(self, key: str) -> None:
        keeping = self._session.brief.keeping.changed(shelter=key)
        self._session.change_brief("Where it lives", keeping=keeping)

    def _indoors(self) -> None:
        s, text = self._session, self.indoors.text().strip()
        try:
            below = round(s.units.parse_celsius(text), 2) if text else None
            keeping = s.brief.keeping.changed(indoors_below_c=below)
        except KeshError:
            told = f"no temperature from {s.units.celsius(-20)} to {s.units.celsius(25)}"
            s.said.emit("no", f"'{text}' is {told}; leave it empty for a tree that stays out")
            return
        if below != s.brief.keeping.indoors_below_c:
            s.change_brief("Indoors below", keeping=keeping)

    def _until(self) -> None:
        s, planting = self._session, self._session.planting
        if planting is None:
            return
        try:
            day = read_day(self.until.text(), s.today, ahead=True) if self.until.text().strip() else None
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        if day != planting.interim_until:
            s.edit("How long this pot is meant for", [("planting", planting.id, planting.changed(interim_until=day))])

    def _pick(self, field: str, key: str) -> None:
        views = self._session.brief.season_views.changed(**{field: key})
        self._session.change_brief("How it is done", season_views=views)

    def _tell(self) -> None:
        key = str(self.question.currentData() or ROWS[0][3])
        self.question.show_key(key)
        topic = next((d for d in disagreements() if d.key == key), None)
        if topic is not None:
            self.told.setText(f"Some: {topic.one}\nOthers: {topic.other}\n{topic.fits}\n{topic.kesh}")
