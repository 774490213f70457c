"""A climate by region or by hardiness zone, or by its look; whoever does not know says so, and is told what is assumed."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.model import Site
from kesh.reference.starters import FIRST_CLIMATE, climate_of, climates, of_zone, regions
from kesh.ui.session import Session
from kesh.ui.widgets.climate_grid import ClimateGrid
from kesh.ui.widgets.common import Choice, button, quiet, row

NO_REGION = "by its look"
NO_ZONE = "any zone"


class ClimateChoice(QWidget):
    """Region and zone narrow what is drawn; a click on a drawing takes that year."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.region = Choice({name: name or NO_REGION for name in regions()}, "Region")
        zones = sorted({c.zone for c in climates().values() if c.region})
        self.zone = Choice({"": NO_ZONE} | {str(z): f"zone {z}" for z in zones}, "Hardiness zone")
        self.grid = ClimateGrid(session)
        self.unknown = button(
            "I do not know", self._assume, link=True, tip="Kesh takes a usual year of cool, wet summers, and says so"
        )
        self.told = quiet("")
        column.addWidget(row("Region", self.region))
        column.addWidget(row("Hardiness zone", self.zone))
        for made in (self.grid, self.unknown, self.told):
            column.addWidget(made)
        self.region.chosen.connect(self._by_region)
        self.zone.chosen.connect(self._by_zone)
        self.grid.chosen.connect(self.chosen)
        self._assumed = False

    def show_site(self, site: Site | None) -> None:
        """Mark the climate a site has; its region is opened."""
        now = climates().get(climate_of(site))
        if now is not None and now not in self.grid.shown:
            self.zone.show_key("")
            self.region.show_key(now.region)
            self.grid.show_climates(regions()[now.region])
        self.grid.show_site(site)
        self.told.setText(self._words(site))

    def _words(self, site: Site | None) -> str:
        now = climates().get(climate_of(site))
        if site is None or not site.months:
            return "No climate yet: water, frost and season wait for one."
        if now is None:
            return "A climate of your own."
        line = f"{self._session.units.told(now.line)}, zone {now.zone}. Rain as bars, warm and cold as lines."
        if self._assumed and now.key == FIRST_CLIMATE:
            return f"Assumed until you know better: {now.words}. {line} Your frost dates would settle it."
        return line

    def _by_region(self, region: str) -> None:
        self.zone.show_key("")
        self.grid.show_climates(regions()[region])

    def _by_zone(self, zone: str) -> None:
        self.grid.show_climates(of_zone(int(zone)) if zone else regions()[str(self.region.currentData())])

    def _assume(self) -> None:
        self._assumed = True
        self.region.show_key("")
        self.zone.show_key("")
        self.grid.show_climates(regions()[""])
        self.chosen.emit(FIRST_CLIMATE)
