"""Where the bench stands and its twelve monthly normals."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from kesh.model.base import Key, Record

Celsius = Annotated[float, Field(ge=-80, le=60)]


class Month(Record):
    """Normals of one month."""

    tmin_c: Celsius
    tmax_c: Celsius
    rain_mm: Annotated[float, Field(ge=0, le=3000)] | None = None
    wind_m_s: Annotated[float, Field(ge=0, le=60)] | None = None
    rh_pct: Annotated[float, Field(ge=0, le=100)] | None = None
    sun_h_day: Annotated[float, Field(ge=0, le=24)] | None = None

    @model_validator(mode="after")
    def _warm_above_cold(self) -> Self:
        if self.tmax_c < self.tmin_c:
            raise ValueError(f"tmax_c {self.tmax_c:g} is below tmin_c {self.tmin_c:g}")
        return self


class Site(Record):
    """Latitude north positive."""

    id: Key = "site"
    name: Key = "Site"
    latitude_deg: Annotated[float, Field(ge=-90, le=90)] | None = None
    elevation_m: Annotated[float, Field(ge=-500, le=6000)] = 0.0
    gust_m_s: Annotated[float, Field(ge=0, le=100)] | None = None
    months: tuple[Month, ...] = ()

    @model_validator(mode="after")
    def _twelve(self) -> Self:
        if self.months and len(self.months) != 12:
            raise ValueError(f"months needs 12 entries, got {len(self.months)}")
        return self
