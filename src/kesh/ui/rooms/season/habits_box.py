"""How the user lives: hours for a weekend, days an order takes, days away, the night that brings tender trees in."""

import re
from datetime import date

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QLineEdit

from kesh.base.days import day_of
from kesh.base.errors import KeshError
from kesh.desk.quantities import read, shown, unit_of
from kesh.model import Away, Habits
from kesh.model.habits import HABITS
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import quiet, row
from kesh.ui.widgets.folded import Folded

FIELDS = (("weekend_hours", "Hours for a weekend", "h"), ("order_days", "An order takes", "days"), ("cold_night_c", "Tender trees in at nights of", "°C"),
          ("rain_days", "Shelter after wet days", "days"), ("heat_c", "Shade from", "°C"))  # fmt: skip


class HabitsBox(Folded):
    """Writes the habits of the collection, field by field; away is a line each, such as 2026-07-14..2026-07-28."""

    def __init__(self, session: Session) -> None:
        super().__init__("How you live: hours, days away, orders", "What the weekends are measured by")
        self._session = session
        self.fields: dict[str, QLineEdit] = {}
        self.labels: dict[str, QLabel] = {}
        for key, label, unit in FIELDS:
            field = self.fields[key] = _narrow(label)
            field.editingFinished.connect(lambda k=key: self._number(k))
            line = row(f"{label}, {unit}", field)
            self.labels[key] = line.findChildren(QLabel)[0]
            self.add(line)
        self.away = _narrow("Away", 150)
        self.away.setPlaceholderText("from..to, from..to")
        self.away.editingFinished.connect(self._away)
        self.add(row("Away", self.away, tip="Days when nobody is there; a plus behind them means somebody waters"))
        self.add(quiet("Days as 2026-07-14..2026-07-28; with + behind them somebody waters."))
        self.show_needed(False)

    def show_habits(self, habits: Habits) -> None:
        """Show what is written."""
        u = self._session.units
        for key, label, unit in FIELDS:
            self.labels[key].setText(f"{label}, {unit_of(key, u) or unit}")
            if not self.fields[key].hasFocus():
                self.fields[key].setText(shown(key, getattr(habits, key), u))
        if not self.away.hasFocus():
            self.away.setText(", ".join(f"{a.from_}..{a.to}{'+' if a.keeper else ''}" for a in habits.away))

    @property
    def _now(self) -> Habits:
        return self._session.collection.habits or Habits()

    def _number(self, key: str) -> None:
        u, text = self._session.units, self.fields[key].text()
        if text.strip() == shown(key, getattr(self._now, key), u):
            return
        try:
            value = read(key, text, u)
            whole = key in ("order_days", "rain_days") and value is not None
            self._write(self._now.changed(**{key: int(value) if whole and value is not None else value}))
        except KeshError as err:
            self._session.said.emit("no", f"{err}; the one before is kept")
            self.show_habits(self._now)

    def _away(self) -> None:
        try:
            rows = tuple(_read(part, self._session.today) for part in self.away.text().split(",") if part.strip())
            if rows != self._now.away:
                self._write(self._now.changed(away=rows))
        except (ValueError, KeshError) as err:
            self._session.said.emit(
                "no", f"Away: {err}" if isinstance(err, KeshError) else "Away: write days as 2026-07-14..2026-07-28"
            )

    def _write(self, habits: Habits) -> None:
        self._session.edit("How you live", [(HABITS, HABITS, habits)])


def _read(text: str, today: date) -> Away:
    """Days away from words. Raises ValueError and KeshError."""
    plain = text.strip()
    first, _, last = re.sub(r"\s+(?:to|until|bis|till)\s+|\s*…\s*", "..", plain.rstrip("+ ")).partition("..")
    begins = day_of(first, today, "away", ahead=True)
    return Away.made(
        to=day_of(last, begins, "away", ahead=True) if last.strip() else begins,
        keeper=plain.endswith("+"),
        **{"from": begins},
    )


def _narrow(name: str, px: int = 64) -> QLineEdit:
    field = QLineEdit()
    field.setFixedWidth(fonts.scaled(px))
    field.setAlignment(Qt.AlignmentFlag.AlignRight)
    field.setAccessibleName(name)
    return field
