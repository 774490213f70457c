"""The panel of step Water: how it is looked after, what the years say, and the figures of the pot in hand."""

from collections.abc import Callable
from datetime import date

from PyQt6.QtWidgets import QLabel, QLineEdit, QVBoxLayout, QWidget

from kesh.advice.assess import Finding
from kesh.advice.pot_year import PotYear
from kesh.errors import FieldError, KeshError
from kesh.ui.session import Session
from kesh.ui.state.water import HABITS, OVERHEAD, YearChart, advice_words, figures_of
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice, FindingList, Panel, SectionHead, quiet, row, title


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
            field.setFixedWidth(fonts.scaled(96))
            field.setPlaceholderText("2026-07-10")
            field.editingFinished.connect(lambda f=field, n=name: self._away(f, n))
        self.findings = FindingList(session)
        self.advice, self.figures_head, self.figures = quiet(""), SectionHead(session, "This pot"), QWidget()
        self._lines = QVBoxLayout(self.figures)
        self._lines.setContentsMargins(0, 0, 0, 0)
        self._lines.setSpacing(1)
        for made in (
            self.head, self.note, SectionHead(session, "How it is kept"), row("Somebody looks", self.habit), row("Overhead", self.overhead),
            row("Away", self.away_from, self.away_to, tip="First and last day on which nobody waters."),
            self.findings, self.advice, self.figures_head, self.figures,
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
        for field, value in ((self.away_from, keeping.away_from), (self.away_to, keeping.away_to)):
            if not field.hasFocus():
                field.setText("" if value is None else value.isoformat())

    def show_years(self, found: tuple[PotYear | str, ...], charts: tuple[YearChart, ...]) -> None:
        """Show what was reckoned, the pot in hand first."""
        s = self.session
        first = found[0] if found else ""
        self.head.setText(s.tree.name if s.tree else "No tree yet")
        self.note.setText(first if isinstance(first, str) else f"In {charts[0].pot.name}, use at the open bench")
        self.advice.setText(
            "" if isinstance(first, str) else advice_words(charts[0], s.brief.keeping, charts[1:], first.cold)
        )
        while self._lines.count():
            gone = self._lines.takeAt(0)
            widget = gone.widget() if gone is not None else None
            if widget is not None:
                widget.setParent(None)
                widget.deleteLater()
        if isinstance(first, str):
            return
        for name, value in figures_of(first, charts[0], s.units):
            label = QLabel(value)
            label.setAccessibleName(f"{name}: {value}")
            self._lines.addWidget(row(name, label))

    def show_findings(self, findings: tuple[Finding, ...]) -> None:
        """Show what the years say, each with what would help."""
        self.findings.show_findings(findings)

    def _keep(self, label: str, **fields: object) -> None:
        self._try(label, lambda: self.session.change_brief(label, keeping=self.session.brief.keeping.changed(**fields)))

    def _away(self, field: QLineEdit, name: str) -> None:
        text = field.text().strip()
        keeping = self.session.brief.keeping

        def write() -> None:
            try:
                day = date.fromisoformat(text) if text else None
            except ValueError as err:
                raise FieldError("away", f"'{text}' is no day; write it as 2026-07-10") from err
            if day != getattr(keeping, name):
                self.session.change_brief("Away", keeping=keeping.changed(**{name: day}))

        self._try("Away", write)

    def _try(self, label: str, write: Callable[[], None]) -> None:
        try:
            write()
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.refresh()
