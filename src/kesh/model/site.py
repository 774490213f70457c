"""Where the bench stands, its twelve monthly normals, and the days that somebody has written down."""

from datetime import date as Date
from typing import Annotated, Literal, Self, get_args

from pydantic import Field, field_validator, model_validator

from kesh.model.base import Key, Record

Wall = Literal["none", "shade", "half", "wall"]
WALLS: tuple[str, ...] = get_args(Wall)
WinterPlace = Literal["bench", "ground", "wall", "frame", "mulch"]
WINTER_PLACES: tuple[str, ...] = get_args(WinterPlace)

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


class Day(Record):
    """One day of somebody's own weather, or of a forecast."""

    date: Date
    tmin_c: Celsius
    tmax_c: Celsius
    rain_mm: Annotated[float, Field(ge=0, le=2000)] | None = None
    wind_m_s: Annotated[float, Field(ge=0, le=60)] | None = None
    rh_pct: Annotated[float, Field(ge=0, le=100)] | None = None
    sun_h: Annotated[float, Field(ge=0, le=24)] | None = None
    forecast: bool = False

    @model_validator(mode="after")
    def _warm_above_cold(self) -> Self:
        if self.tmax_c < self.tmin_c:
            raise ValueError(f"{self.date}: tmax_c {self.tmax_c:g} is below tmin_c {self.tmin_c:g}")
        return self


class OwnWindow(Record):
    """A window's own span: warmth sums (K d) or means of the day (degrees C), low to high, over those that ship."""

    key: Key
    low: Annotated[float, Field(ge=-100, le=10_000)]
    high: Annotated[float, Field(ge=-100, le=10_000)]

    @model_validator(mode="after")
    def _rises(self) -> Self:
        if self.high <= self.low:
            raise ValueError(f"high {self.high:g} is not above low {self.low:g}")
        return self


class Site(Record):
    """Latitude north positive. `wall`: how the bench stands to sun and wind; `winter_place`: where pots stand in the cold."""

    id: Key = "site"
    name: Key = "Site"
    latitude_deg: Annotated[float, Field(ge=-90, le=90)] | None = None
    elevation_m: Annotated[float, Field(ge=-500, le=6000)] = 0.0
    gust_m_s: Annotated[float, Field(ge=0, le=100)] | None = None
    months: tuple[Month, ...] = ()
    daily: tuple[Day, ...] = ()
    wall: Wall = "none"
    winter_place: WinterPlace = "bench"
    windows: Annotated[tuple[OwnWindow, ...], Field(max_length=40)] = ()

    @field_validator("wall", mode="before")
    @classmethod
    def _yes_or_no(cls, value: object) -> object:
        """Others say only whether there is one."""
        return ("wall" if value else "none") if isinstance(value, bool) or value is None else value

    @model_validator(mode="after")
    def _twelve(self) -> Self:
        if self.months and len(self.months) != 12:
            raise ValueError(f"months needs 12 entries, got {len(self.months)}")
        return self

    def __hash__(self) -> int:
        """By all but the days themselves: forty years of them, hashed in every frame of a drag, would be felt."""
        ends = (self.daily[0].date, self.daily[-1].date) if self.daily else ()
        place = (self.id, self.name, self.latitude_deg, self.elevation_m, self.gust_m_s, self.wall, self.winter_place)
        return hash((place, self.months, self.windows, len(self.daily), ends))
