"""The night that kills the outer roots of a tree in a pot, and how many such nights its place has."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.figures import Figures
from kesh.errors import FieldError
from kesh.geometry.outline import outline_points
from kesh.geometry.volume import inner_area_mm2
from kesh.reference.tables import material
from kesh.science.cold import NEVER_C, SoilBody, critical_night_c, nights_at_risk
from kesh.science.weather import Weather

USUAL_WIND_M_S = 2.0
# plan so much above the night that kills [J]
PLAN_K = 3.0


@dataclass(frozen=True)
class PotCold:
    """What the roots bear, the night that brings the outer ones to it, and such nights a year."""

    limit_c: float
    night_c: float
    nights_a_year: float

    @property
    def never(self) -> bool:
        """Whether no night does it."""
        return self.night_c <= NEVER_C


def soil_body_of(f: Figures, i: int = 0) -> SoilBody:
    """The root zone of a pot as heat sees it, at container capacity on a bench. Raises FieldError for what is not known."""
    pot, water, mix = f.pots.pots[i], f.water, f.case.blend
    if water is None or mix is None or not f.plantable[i]:
        raise FieldError("mix", "how cold the roots become needs a mix in a pot that takes one")
    depth = float(f.soil_depth_mm[i])
    rim = outline_points(pot.outline, pot.length_mm, pot.width_mm, pot.wall_mm, 120)
    around = float(np.hypot(*(np.roll(rim, -1, axis=0) - rim).T).sum())
    floor = float(inner_area_mm2(f.pots, np.zeros((len(f.pots), 1)))[i, 0])
    volume = float(water.soil_l[i])
    return SoilBody(
        (pot.length_mm - 2 * pot.wall_mm) / 1000, (pot.width_mm - 2 * pot.wall_mm) / 1000, depth / 1000, volume / 1000,
        float(f.soil_surface_mm2[i]) / 1e6, around * depth / 1e6, floor / 1e6, mix.phi_t,
        min(float(water.held_l[i]) / max(volume, 1e-9), mix.phi_t), pot.wall_mm / 1000,
        material(pot.material).thermal_conductivity_w_mk,
    )  # fmt: skip


def pot_cold(f: Figures, weather: Weather, i: int = 0) -> PotCold:
    """The night that kills and how often it comes in these years. Raises FieldError for what is not known."""
    case = f.case
    if case.species is None:
        raise FieldError("species", "how cold the roots bear needs the species; name it in step 1")
    row = case.species.root_hardy_c
    limit = case.care.root_kill_c if row is None else row
    months = case.site.months if case.site is not None else ()
    coldest = min(months, key=lambda m: m.tmin_c, default=None)
    wind = USUAL_WIND_M_S if coldest is None or coldest.wind_m_s is None else coldest.wind_m_s
    night = critical_night_c(soil_body_of(f, i), float(limit), wind_m_s=float(wind))
    return PotCold(float(limit), night, nights_at_risk(night, weather.tmin_c))
