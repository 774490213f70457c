"""The panel of step Water: how it is looked after, what the years say, and the figures of the pot in hand."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QLineEdit, QVBoxLayout, QWidget

from kesh.advice.assess import Finding
from kesh.advice.rules.year import PLACE_WORDS, place_sentence
from kesh.advice.water.cold import PLACES
from kesh.advice.water.year import PotYear
from kesh.base.days import day_of
from kesh.base.errors import FieldError, KeshError
from kesh.desk.water import HABITS, OVERHEAD, YearChart, advice_words, figures_of
from kesh.ui.rooms.water.readings_box import ReadingsBox
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.calendar_in import CalendarIn
from kesh.ui.widgets.common import Choice, Panel, SectionHead, quiet, row, title
from kesh.ui.widgets.finding_list import FindingList


class WaterPanel(Panel):
    """Every change is written at once, and the years are reckoned anew."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.head, self.note = title(""), quiet("")
        self.habit, self.overhead = Choice(HABITS, "How often somebody looks"), Choice(OVERHEAD, "Overhead")
        self.habit.chosen.connect(lambda key: self._keep("How often somebody looks", habit=key))
        self.overhead.chosen.connect(lambda key: self._keep("Overhead", roofed=key == "roof"))
        self.away_from, self.away_to = QLineEdit(), QLineEdit()
        for field, name in ((self.away_from, "away_from"), (self.away_to, "away_to")):
            field.setFixedWidth(fonts.scaled(116))
            field.setPlaceholderText("2026-07-10")
            field.editingFinished.connect(lambda f=field, n=name: self._away(f, n))
            CalendarIn(field, session)
        self.findings, self.readings = FindingList(session), ReadingsBox(session)
        self.place = Choice({"": "as the bench"} | PLACE_WORDS, "Where it stands")
        self.place.chosen.connect(lambda key: self._keep("Where it stands", place=key))
        self.winter = Choice({key: p.words for key, p in PLACES.items()}, "In winter")
        self.winter.chosen.connect(self._winter)
        self.sand = QLineEdit()
        self.sand.setFixedWidth(fonts.scaled(56))
        self.sand.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.sand.editingFinished.connect(self._sand)
        self.advice, self.figures_head, self.figures = quiet(""), SectionHead(session, "This pot"), QWidget()
        self._lines = QVBoxLayout(self.figures)
        self._lines.setContentsMargins(0, 0, 0, 0)
        self._lines.setSpacing(1)
        for made in (
            self.head, self.note, SectionHead(session, "How it is kept"), row("Somebody looks", self.habit), row("Overhead", self.overhead), row("It stands", self.place), row("In winter", self.winter),
            row("Away", self.away_from, self.away_to, tip="First and last day on which nobody waters."),
            row("On wet sand, l", self.sand, tip="Litres that a bed of wet sand under the pot gives while nobody is there."),
            self.findings, self.advice, self.readings, self.figures_head, self.figures,
        ):  # fmt: skip
            self.column.addWidget(made)
        self.column.addWidget(
            quiet(
                "A bucket and sixty years of weather that could have been: figures to compare pots by, no timetable. Feel the soil before you water."
            )
        )

    def refresh(self) -> None:
        """Show how the tree in hand is kept."""
        s, keeping = self.session, self.session.brief.keeping
        self.setEnabled(s.tree is not None)
        self.habit.show_key(keeping.habit)
        self.overhead.show_key("roof" if keeping.roofed else "rain")
        site = s.collection.site
        self.place.show_key(keeping.place)
        self.winter.show_key(site.winter_place if site is not None else "bench")
        self.winter.setEnabled(site is not None)
        if not self.sand.hasFocus():
            self.sand.setText(f"{keeping.reserve_l:g}" if keeping.reserve_l else "")
        self.readings.refresh()
        for field, value in ((self.away_from, keeping.away_from), (self.away_to, keeping.away_to)):
            if not field.hasFocus():
                field.setText("" if value is None else value.isoformat())

    def show_years(self, found: tuple[PotYear | str, ...], charts: tuple[YearChart, ...]) -> None:
        """Show what was reckoned, the pot in hand first."""
        s = self.session
        first = found[0] if found else ""
        self.head.setText(s.tree.name if s.tree else "No tree yet")
        self.note.setText(
            first if isinstance(first, str) else f"In {charts[0].pot.name}, {place_sentence(self._place())}"
        )
        self.advice.setText("" if isinstance(first, str) else advice_words(charts[0], s.brief.keeping, charts[1:]))
        while self._lines.count():
            gone = self._lines.takeAt(0)
            widget = gone.widget() if gone is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        if isinstance(first, str):
            return
        for name, value in figures_of(first, charts[0], s.units):
            label = QLabel(value)
            label.setAccessibleName(f"{name}: {value}")
            self._lines.addWidget(row(name, label))

    def _place(self) -> str:
        site = self.session.collection.site
        return self.session.brief.keeping.place or (site.wall if site is not None else "none")

    def show_findings(self, findings: tuple[Finding, ...]) -> None:
        """Show what the years say, each with what would help."""
        self.findings.show_findings(findings)

    def _keep(self, label: str, **fields: object) -> None:
        self._try(label, lambda: self.session.change_brief(label, keeping=self.session.brief.keeping.changed(**fields)))

    def _winter(self, key: str) -> None:
        site = self.session.collection.site
        if site is not None and key != site.winter_place:
            self.session.edit(f"In winter {PLACES[key].words}", [("site", site.id, site.changed(winter_place=key))])

    def _sand(self) -> None:
        text = self.sand.text().strip().replace(",", ".")

        def write() -> None:
            try:
                litres = float(text) if text else 0.0
            except ValueError as err:
                raise FieldError("sand", f"'{text}' is no figure; write litres, such as 3") from err
            if litres != self.session.brief.keeping.reserve_l:
                self.session.change_brief("Wet sand", keeping=self.session.brief.keeping.changed(reserve_l=litres))

        self._try("Wet sand", write)

    def _away(self, field: QLineEdit, name: str) -> None:
        text = field.text().strip()
        keeping = self.session.brief.keeping

        def write() -> None:
            day = day_of(text, self.session.today, "away", ahead=True) if text else None
            if day != getattr(keeping, name):
                self.session.change_brief("Away", keeping=keeping.changed(**{name: day}))

        self._try("Away", write)

    def _try(self, label: str, write: Callable[[], None]) -> None:
        try:
            write()
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.refresh()
