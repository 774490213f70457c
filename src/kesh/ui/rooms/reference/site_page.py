"""The climate as a page: typical ones to take, and every figure of one's own to type."""

from functools import partial
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QScrollArea,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from kesh.advice.rules.year import PLACE_WORDS
from kesh.advice.water.cold import PLACES
from kesh.advice.water.heat import EXPOSURE
from kesh.base.errors import KeshError
from kesh.desk.quantities import read, unit_of
from kesh.desk.quantities import shown as quantity
from kesh.formats.weather_csv import WeatherFile
from kesh.model import Day, Site
from kesh.reference.starters import starter_site, with_climate
from kesh.science.climate.own_weather import normals_of, own_years
from kesh.science.season.season import MONTHS
from kesh.ui.rooms.reference.windows_box import WindowsBox
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.climate_choice import ClimateChoice
from kesh.ui.widgets.climate_grid import Hemisphere
from kesh.ui.widgets.common import Choice, button, quiet, row

COLUMNS = (("tmin_c", "coldest"), ("tmax_c", "warmest"), ("rain_mm", "rain mm"), ("wind_m_s", "wind"), ("rh_pct", "humidity %"), ("sun_h_day", "sun h/day"))  # fmt: skip
UNREAD = object()
PLACE = (("latitude_deg", "Latitude, north +"), ("elevation_m", "Elevation"), ("gust_m_s", "Strongest gust"))


class SitePage(QWidget):
    """Every edit is written at once. `wanted` asks for a file, of a forecast or of what was."""

    wanted = pyqtSignal(bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 8, 8)
        line.setSpacing(20)
        left = QVBoxLayout()
        left.addWidget(quiet("Take the one most like yours, then correct what you know better."))
        self.climate = ClimateChoice(session)
        self.climate.chosen.connect(self._climate)
        left.addWidget(self.climate)
        self.side = Hemisphere(session)
        self.side.setFixedWidth(fonts.scaled(168))
        left.addWidget(row("The bench lies", self.side))
        self.fields: dict[str, QLineEdit] = {}
        self.labels: dict[str, QLabel] = {}
        for name, label in PLACE:
            field = QLineEdit()
            field.setFixedWidth(fonts.scaled(84))
            field.setAlignment(Qt.AlignmentFlag.AlignRight)
            field.setAccessibleName(label)
            field.editingFinished.connect(lambda n=name, f=field: self._place(n, f))
            self.fields[name] = field
            line_of = row(label, field)
            self.labels[name] = line_of.findChildren(QLabel)[0]
            left.addWidget(line_of)
        self.wall = Choice(PLACE_WORDS, "The bench stands")
        self.wall.setToolTip("; ".join(f"{w}: use × {EXPOSURE[k]:g}" for k, w in PLACE_WORDS.items()))
        self.wall.chosen.connect(lambda key: self._write("Where the bench stands", {"wall": key}))
        self.winter = Choice({k: p.words for k, p in PLACES.items()}, "Pots in winter")
        self.winter.chosen.connect(lambda key: self._write("Pots in winter", {"winter_place": key}))
        for choice in (self.wall, self.winter):
            choice.setFixedWidth(fonts.scaled(168))
        left.addWidget(row("The bench", self.wall))
        left.addWidget(row("In winter", self.winter))
        self.windows = WindowsBox(session)
        left.addWidget(self.windows)
        left.addStretch(1)
        holder = QWidget()
        holder.setLayout(left)
        left.setContentsMargins(0, 0, 0, 0)
        holder.setFixedWidth(fonts.scaled(290))
        scroll = QScrollArea()
        scroll.setWidget(holder)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFixedWidth(fonts.scaled(290) + 14)
        line.addWidget(scroll)
        right = QVBoxLayout()
        self.table = QTableWidget(12, len(COLUMNS))
        self.table.setVerticalHeaderLabels(list(MONTHS))
        self.table.setAccessibleName("Twelve months")
        self.table.cellChanged.connect(self._cell)
        for head in (self.table.horizontalHeader(), self.table.verticalHeader()):
            assert head is not None
            head.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        right.addWidget(self.table, 1)
        self.note = quiet("")
        right.addWidget(self.note)
        files = QHBoxLayout()
        files.addWidget(button("Read months or days from a CSV", partial(self.wanted.emit, False), link=True))
        files.addWidget(button("Read a forecast", partial(self.wanted.emit, True), link=True))
        self.forget = button("Forget the days", self._forget, link=True)
        files.addWidget(self.forget)
        files.addStretch(1)
        right.addLayout(files)
        line.addLayout(right, 1)

    @property
    def site(self) -> Site:
        """The site as it is, or an empty one."""
        return self._session.collection.site or Site()

    def refresh(self) -> None:
        """Show the site."""
        site = self.site
        self.climate.show_site(site)
        self.side.show_site(site)
        self.windows.show_site(site)
        self.wall.show_key(site.wall)
        self.winter.show_key(site.winter_place)
        ahead = sum(d.forecast for d in site.daily)
        told = [own_years(site).words(), f"{ahead} days of forecast" if ahead else ""]
        self.note.setText(
            ". ".join(x for x in told if x) or "No weather of your own: the years are made from the normals above."
        )
        self.forget.setVisible(bool(site.daily))
        u = self._session.units
        for name, label in PLACE:
            self.labels[name].setText(f"{label}, {unit_of(name, u)}" if unit_of(name, u) else label)
        self.table.setHorizontalHeaderLabels([f"{words} {unit_of(name, u)}".strip() for name, words in COLUMNS])
        for name, field in self.fields.items():
            value = getattr(site, name)
            if not field.hasFocus():
                field.setText(quantity(name, value, u))
        self.table.blockSignals(True)
        for i in range(12):
            for k, (name, _) in enumerate(COLUMNS):
                value = getattr(site.months[i], name) if site.months else None
                item = QTableWidgetItem(quantity(name, value, u))
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(i, k, item)
        self.table.blockSignals(False)

    def _climate(self, key: str) -> None:
        """A typical climate; the days written down and where pots stand stay."""
        self._session.edit("Climate chosen", [("site", "site", with_climate(self._session.collection.site, key))])

    def _forget(self) -> None:
        self._write("Own weather forgotten", {"daily": ()})

    def take(self, found: WeatherFile) -> None:
        """Months or days that were read; days join those that are there, the newer of two counts."""
        said = "; ".join(found.problems[:2]) + (f"; {len(found.problems) - 2} more" if len(found.problems) > 2 else "")
        fields: dict[str, Any] = {}
        if found.months:
            fields["months"] = found.months
        if found.days:
            fresh = {(d.date, d.forecast) for d in found.days}
            held = [d for d in self.site.daily if (d.date, d.forecast) not in fresh]
            fields["daily"] = tuple(sorted((*held, *found.days), key=lambda d: (d.date, d.forecast)))
            if not self.site.months:
                try:
                    fields["months"] = normals_of(found.days)
                except KeshError as err:
                    said = f"{said}; {err}".strip("; ")
        if not self._write("Weather read", fields):
            return
        what = "Twelve months" if found.months else f"{len(found.days)} day{'' if len(found.days) == 1 else 's'}"
        self._session.said.emit("watch" if said else "fits", f"{what} read. {said}".strip())

    def day(self, day: Day) -> None:
        """A day from a weather station joins the others."""
        self.take(WeatherFile((), (day,), (), ()))

    def _place(self, name: str, field: QLineEdit) -> None:
        u, text, now = self._session.units, field.text(), getattr(self.site, name)
        if text.strip() == quantity(name, now, u):
            return
        value = self._read(name, text)
        if value is not UNREAD:
            self._write(
                f"Site: {name.split('_')[0]}", {name: 0.0 if value is None and name == "elevation_m" else value}
            )

    def _read(self, name: str, text: str) -> Any:
        """What was typed in the reader's unit; UNREAD, with the reason said, where it is nothing."""
        try:
            return read(name, text, self._session.units)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            self.refresh()
            return UNREAD

    def _write(self, label: str, fields: dict[str, Any]) -> bool:
        """False, with the reason on the status line, where it could not be written."""
        try:
            site = self.site.changed(**fields)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            self.refresh()
            return False
        return self._session.edit(label, [("site", "site", site)])

    def _cell(self, month: int, column: int) -> None:
        item = self.table.item(month, column)
        name = COLUMNS[column][0]
        value = self._read(name, item.text() if item is not None else "")
        if value is UNREAD:
            return
        months = list(self.site.months)
        if not months:
            # twelve or none: the others are a typical year's until they are typed, and that is said
            months = list(starter_site().months)
            self._session.said.emit("watch", "The other months are those of cool, wet summers until you type yours")
        try:
            months[month] = months[month].changed(**{name: value})
        except KeshError as err:
            self._session.said.emit("no", str(err))
            self.refresh()
            return
        self._write(f"Climate: {MONTHS[month]}", {"months": tuple(months)})
