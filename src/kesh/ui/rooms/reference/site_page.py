"""The climate as a page: nine typical ones to take, and every figure of one's own to type."""

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from kesh.errors import KeshError
from kesh.model import Site
from kesh.reference.starters import climates, starter_site
from kesh.science.season import MONTHS
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.climate_grid import ClimateGrid
from kesh.ui.widgets.common import quiet, row

COLUMNS = (("tmin_c", "coldest °C"), ("tmax_c", "warmest °C"), ("rain_mm", "rain mm"), ("wind_m_s", "wind m/s"), ("rh_pct", "humidity %"), ("sun_h_day", "sun h/day"))  # fmt: skip
PLACE = (("latitude_deg", "Latitude, north +"), ("elevation_m", "Elevation, m"), ("gust_m_s", "Strongest gust, m/s"))


class SitePage(QWidget):
    """Every edit is written at once."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 8, 8)
        line.setSpacing(20)
        left = QVBoxLayout()
        left.addWidget(quiet("Take the one most like yours, then correct what you know better."))
        self.grid = ClimateGrid(session)
        self.grid.chosen.connect(lambda key: session.edit("Climate chosen", [("site", "site", climates()[key].site)]))
        left.addWidget(self.grid)
        self.fields: dict[str, QLineEdit] = {}
        for name, label in PLACE:
            field = QLineEdit()
            field.setFixedWidth(fonts.scaled(84))
            field.setAlignment(Qt.AlignmentFlag.AlignRight)
            field.setAccessibleName(label)
            field.editingFinished.connect(lambda n=name, f=field: self._place(n, f))
            self.fields[name] = field
            left.addWidget(row(label, field))
        left.addStretch(1)
        holder = QWidget()
        holder.setLayout(left)
        left.setContentsMargins(0, 0, 0, 0)
        holder.setFixedWidth(fonts.scaled(290))
        line.addWidget(holder)
        right = QVBoxLayout()
        self.table = QTableWidget(12, len(COLUMNS))
        self.table.setHorizontalHeaderLabels([words for _, words in COLUMNS])
        self.table.setVerticalHeaderLabels(list(MONTHS))
        self.table.setAccessibleName("Twelve months")
        self.table.cellChanged.connect(self._cell)
        for head in (self.table.horizontalHeader(), self.table.verticalHeader()):
            assert head is not None
            head.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        right.addWidget(self.table, 1)
        self.note = QLabel("")
        right.addWidget(self.note)
        line.addLayout(right, 1)

    @property
    def site(self) -> Site:
        """The site as it is, or an empty one."""
        return self._session.collection.site or Site()

    def refresh(self) -> None:
        """Show the site."""
        site = self.site
        self.grid.show_site(site)
        for name, field in self.fields.items():
            value = getattr(site, name)
            if not field.hasFocus():
                field.setText("" if value is None else f"{value:g}")
        self.table.blockSignals(True)
        for i in range(12):
            for k, (name, _) in enumerate(COLUMNS):
                value = getattr(site.months[i], name) if site.months else None
                item = QTableWidgetItem("" if value is None else f"{value:g}".replace("-", "\N{MINUS SIGN}"))
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(i, k, item)
        self.table.blockSignals(False)

    def _place(self, name: str, field: QLineEdit) -> None:
        text = field.text().strip().replace(",", ".")
        now = getattr(self.site, name)
        if text == ("" if now is None else f"{now:g}"):
            return
        self._write(
            f"Site: {name.split('_')[0]}",
            {name: self._figure(text) if text else (0.0 if name == "elevation_m" else None)},
        )

    def _figure(self, text: str) -> Any:
        try:
            return float(text.replace("\N{MINUS SIGN}", "-"))
        except ValueError:
            return text

    def _write(self, label: str, fields: dict[str, Any]) -> None:
        try:
            site = self.site.changed(**fields)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            self.refresh()
            return
        self._session.edit(label, [("site", "site", site)])

    def _cell(self, month: int, column: int) -> None:
        item = self.table.item(month, column)
        text = item.text().strip().replace(",", ".") if item is not None else ""
        name = COLUMNS[column][0]
        months = list(self.site.months)
        if not months:
            # twelve or none: the others are a typical year's until they are typed, and that is said
            months = list(starter_site().months)
            self._session.said.emit("watch", "The other months are those of cool, wet summers until you type yours")
        try:
            months[month] = months[month].changed(**{name: self._figure(text) if text else None})
        except KeshError as err:
            self._session.said.emit("no", str(err))
            self.refresh()
            return
        self._write(f"Climate: {MONTHS[month]}", {"months": tuple(months)})
