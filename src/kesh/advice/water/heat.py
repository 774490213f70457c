"""Heat behind the lit wall of a pot through the years, and what would make it less."""

from dataclasses import dataclass, replace

import numpy as np

from kesh.advice.figures import Figures
from kesh.advice.water.cold import soil_body_of
from kesh.base.errors import FieldError
from kesh.model import Pot
from kesh.reference.tables import known_material
from kesh.science.climate.heat import LIT, HeatYear, HotWeek, SunWall, heat_year, hot_week
from kesh.science.climate.weather import Weather
from kesh.science.looks.visual_mass import darkness_of

# use of water and share of the sun by place: fx of the methods; the light's shares are judgement [J]
EXPOSURE = {"shade": 0.6, "half": 0.8, "none": 1.0, "wall": 1.3}
LIGHT = {"shade": 0.2, "half": 0.5, "none": 1.0, "wall": 1.0}
DARKNESS = (0.15, 0.50, 0.85)
LIGHT_GLAZE, BOARD, TURNED = 0.25, 0.10, 0.5


@dataclass(frozen=True)
class Cooler:
    """One thing that helps, and the hours over 35 and 40 degrees a year that are left."""

    words: str
    hours_35: float
    hours_40: float


@dataclass(frozen=True)
class PotHeat:
    """What the wall takes in, its years, and what helps, the best first."""

    absorptance: float
    year: HeatYear
    helps: tuple[Cooler, ...] = ()


def absorptance_of(pot: Pot) -> float:
    """Share of the sun that the wall takes in, by its material and how dark it is. Raises FieldError for an unknown material."""
    row = known_material(pot.material)
    if row is None:
        raise FieldError("material", f"'{pot.material}' is not in the table; how hot it becomes is not known")
    steps = (row.solar_absorptance_light, row.solar_absorptance_mid, row.solar_absorptance_dark)
    return float(np.interp(darkness_of(pot.colour), DARKNESS, steps))


def _wall(f: Figures, place: str, i: int) -> tuple[SunWall, float]:
    """(the lit wall of a pot where it stands, the latitude)."""
    site = f.case.site
    wall = SunWall(soil_body_of(f, i), absorptance_of(f.pots.pots[i]), LIT * LIGHT[place])
    return wall, (site.latitude_deg if site is not None else None) or 0.0


def _cooler_walls(wall: SunWall) -> dict[str, SunWall]:
    return {
        "a light glaze or a white cloth": replace(wall, absorptance=min(wall.absorptance, LIGHT_GLAZE)),
        "a board before the lit wall": replace(wall, lit=wall.lit * BOARD),
        "its narrow end to the sun": replace(wall, lit=wall.lit * TURNED),
        "half shade at noon": replace(wall, lit=min(wall.lit, LIT * LIGHT["half"])),
    }


def pot_hot(f: Figures, usual: Weather, place: str, i: int = 0) -> HotWeek:
    """How much of its roots the sun heats too far in the hottest usual week. Raises FieldError for what is not known."""
    wall, latitude = _wall(f, place, i)
    return hot_week(wall, usual, latitude)


def pot_hot_helped(f: Figures, usual: Weather, place: str, i: int = 0) -> tuple[tuple[str, HotWeek], ...]:
    """The same with one thing changed each, the best first, where it helps."""
    wall, latitude = _wall(f, place, i)
    now = hot_week(wall, usual, latitude)
    rows = [(words, hot_week(one, usual, latitude)) for words, one in _cooler_walls(wall).items()]
    return tuple(sorted((r for r in rows if r[1].share_40 < now.share_40 - 1e-9), key=lambda r: r[1].share_40))


def pot_heat(f: Figures, weather: Weather, place: str, i: int = 0, *, helps: bool = False) -> PotHeat:
    """The lit wall of a pot in these years. Raises FieldError for what is not known."""
    wall, latitude = _wall(f, place, i)
    found = PotHeat(wall.absorptance, heat_year(wall, weather, latitude))
    if not helps or found.year.hours_35 <= 0:
        return found
    years = {words: heat_year(one, weather, latitude) for words, one in _cooler_walls(wall).items()}
    rows = [Cooler(words, y.hours_35, y.hours_40) for words, y in years.items() if y.hours_35 < found.year.hours_35]
    return replace(found, helps=tuple(sorted(rows, key=lambda c: (c.hours_40, c.hours_35))))
