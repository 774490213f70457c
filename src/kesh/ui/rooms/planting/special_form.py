"""The fields of a kind as a form that is built from its rows; each writes at once."""

from collections.abc import Callable
from datetime import date
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QGridLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from kesh.advice.kinds.kind import FieldRow
from kesh.base.days import day_of
from kesh.model import Record
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.calendar_in import CalendarIn
from kesh.ui.widgets.common import Choice, row, with_meanings
from kesh.ui.widgets.fields import MeasureEdit

# a label that is longer has its row alone
SHORT = 9
FINE = frozenset({"wire_mm", "root_mm", "diameter_mm", "scion_mm"})
Enter = Callable[[str, object], None]


class PlainEdit(QLineEdit):
    """A short text that is read as a number, a count, a day or words; what cannot be read is said and stays as it was."""

    def __init__(self, session: Session, row_: FieldRow, enter: Enter) -> None:
        super().__init__()
        self._session, self._row, self._enter, self._shown = session, row_, enter, ""
        self.setAccessibleName(row_.label)
        self.setToolTip(row_.tip)
        if row_.sort == "date":
            self.setPlaceholderText("2026-03-15")
            self.calendar = CalendarIn(self, session)
        self.editingFinished.connect(self._finish)

    def show_value(self, value: object) -> None:
        """Show a value without announcing it."""
        text = (
            ""
            if value is None
            else value.isoformat()
            if isinstance(value, date)
            else f"{value:g}"
            if isinstance(value, float)
            else str(value)
        )
        self._shown = text
        if not self.hasFocus() or not self.isModified():
            self.setText(text)

    def _finish(self) -> None:
        text = self.text().strip()
        if text == self._shown:
            return
        try:
            value = self._read(text)
        except ValueError:
            told = {
                "date": "no day; write it as 2026-03-15",
                "count": "no count; write a whole number",
                "number": "no number",
                "deg": "no angle; write degrees",
            }
            self._session.said.emit(
                "no", f"{self._row.label}: '{text}' is {told.get(self._row.sort, 'nothing that can be read')}"
            )
            self.setText(self._shown)
            return
        self._enter(self._row.name, value)

    def _read(self, text: str) -> object:
        if not text and self._row.blank:
            return "" if self._row.sort == "text" and self._row.name == "name" else None
        plain = text.replace(",", ".").replace("\N{MINUS SIGN}", "-").replace("°", "")
        if self._row.sort == "date":
            return day_of(text, self._session.today)
        if self._row.sort == "count":
            return int(plain)
        if self._row.sort in ("number", "deg"):
            value = float(plain)
            if value != value or abs(value) == float("inf"):
                raise ValueError(text)
            return value % 360 if self._row.sort == "deg" and self._row.name != "half_deg" else value
        return text


class SpecialForm(QWidget):
    """Rows in two columns where they are short; rebuilt for another kind only."""

    def __init__(self, session: Session, enter: Enter) -> None:
        super().__init__()
        self._session, self._enter = session, enter
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(2)
        self.fields: dict[str, QWidget] = {}
        self._kind = ""

    def show_record(self, kind: str, rows: tuple[FieldRow, ...], record: Record | None) -> None:
        """The fields of a kind with what a record says."""
        if kind != self._kind:
            self._build(kind, rows)
        for one in rows:
            self._show(one, self.fields[one.name], getattr(record, one.name, None))
        self.setVisible(record is not None and bool(rows))

    def _build(self, kind: str, rows: tuple[FieldRow, ...]) -> None:
        self._kind, self.fields = kind, {}
        while self._column.count():
            item = self._column.takeAt(0)
            old = item.widget() if item is not None else None
            if old is not None:
                old.hide()
                old.deleteLater()
        short: list[tuple[FieldRow, QWidget]] = []
        for one in rows:
            field = self.fields[one.name] = self._made(one)
            if one.sort in ("choice", "flag", "text", "date"):
                self._pairs(short)
                short = []
                self._column.addWidget(field if one.sort == "flag" else row(one.label, field, tip=one.tip))
            elif len(one.label) > SHORT:
                self._pairs(short)
                short = []
                self._pairs([(one, field)])
            else:
                short.append((one, field))
        self._pairs(short)

    def _pairs(self, cells: list[tuple[FieldRow, QWidget]]) -> None:
        for n in range(0, len(cells), 2):
            made = QWidget()
            grid = QGridLayout(made)
            grid.setContentsMargins(0, 1, 0, 1)
            grid.setHorizontalSpacing(6)
            for k, (one, field) in enumerate(cells[n : n + 2]):
                label = QLabel(one.label)
                label.setToolTip(with_meanings(one.tip, one.label))
                field.setFixedWidth(fonts.scaled(62))
                grid.addWidget(label, 0, 2 * k)
                grid.addWidget(field, 0, 2 * k + 1)
                grid.setColumnStretch(2 * k, 1)
            self._column.addWidget(made)

    def _made(self, one: FieldRow) -> QWidget:
        if one.sort == "mm":
            edit = MeasureEdit(self._session, one.label, fine=one.name in FINE)
            edit.setToolTip(one.tip)
            edit.entered.connect(lambda mm, r=one: self._enter(r.name, 0.0 if mm is None and not r.blank else mm))
            return edit
        if one.sort == "choice":
            choice = Choice(dict(one.options), one.label)
            choice.chosen.connect(lambda key, r=one: self._enter(r.name, key))
            return choice
        if one.sort == "flag":
            box = QCheckBox(one.label)
            box.setToolTip(one.tip)
            box.clicked.connect(lambda on, r=one: self._enter(r.name, bool(on)))
            return box
        return PlainEdit(self._session, one, self._enter)

    @staticmethod
    def _show(one: FieldRow, field: QWidget, value: Any) -> None:
        if isinstance(field, MeasureEdit):
            field.show_mm(value)
        elif isinstance(field, Choice):
            field.show_key(str(value))
        elif isinstance(field, QCheckBox):
            field.setChecked(bool(value))
        elif isinstance(field, PlainEdit):
            field.show_value(value)
