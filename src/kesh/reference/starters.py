"""What a new collection starts with: seven mixes and a climate, all of them to be changed."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

from kesh.model.mix import Mix, Part
from kesh.model.site import Month, Site
from kesh.reference.rows import raw_table
from kesh.reference.tables import Species

FIRST_CLIMATE = "cool_wet_summers"
# what hates lime wants no more than this; a swamp tree asks for no more air than that
SOUR_TO_PH, WADES_NEED = 6.0, 0.10
MONTHS = tuple(f"{n:02d}" for n in range(1, 13))
FIGURES = ("tmin_c", "tmax_c", "rain_mm", "wind_m_s", "rh_pct", "sun_h_day")


@dataclass(frozen=True)
class Climate:
    """A typical year: of no place in particular, or of a part of a region. `coldest_night_c` is that of a usual year."""

    key: str
    words: str
    region: str
    coldest_night_c: float
    site: Site

    @property
    def zone(self) -> int:
        """Its hardiness zone."""
        return hardiness_zone(self.coldest_night_c)

    @property
    def line(self) -> str:
        """Its figures in a line: mean of the coldest and warmest month, rain of the year."""
        means = [(m.tmin_c + m.tmax_c) / 2 for m in self.site.months]
        rain = sum(m.rain_mm or 0.0 for m in self.site.months)
        cold, warm = (f"{round(mean)}".replace("-", "−") for mean in (min(means), max(means)))
        return f"{cold} to {warm} °C, {rain:.0f} mm of rain"


def hardiness_zone(coldest_night_c: float) -> int:
    """The zone of a coldest night: steps of 10 degrees Fahrenheit, zone 1 below -50, 13 the warmest (the usual thirteen zones)."""
    return int(min(max((coldest_night_c * 9 / 5 + 32 + 60) // 10 + 1, 1), 13))


@cache
def climates() -> Mapping[str, Climate]:
    """Typical climates by key: nine of no place first, then those of the regions of the world."""
    found: dict[str, Climate] = {}
    for row in raw_table("climates"):
        months = tuple(Month(**{name: float(row[f"{name}_{m}"]) for name in FIGURES}) for m in MONTHS)
        site = Site(
            name=row["words"], latitude_deg=float(row["latitude_deg"]), elevation_m=float(row["elevation_m"]),
            gust_m_s=float(row["gust_m_s"]), months=months,
        )  # fmt: skip
        found[row["key"]] = Climate(
            row["key"], row["words"], row.get("region", ""), float(row["coldest_night_c"]), site
        )
    return found


@cache
def regions() -> Mapping[str, tuple[Climate, ...]]:
    """The parts of each region, in the order of the table; under the empty word the nine of no place."""
    found: dict[str, list[Climate]] = {}
    for one in climates().values():
        found.setdefault(one.region, []).append(one)
    return {region: tuple(several) for region, several in found.items()}


def of_zone(zone: int) -> tuple[Climate, ...]:
    """All climates of a hardiness zone, wherever they lie, north first."""
    return tuple(
        sorted((c for c in climates().values() if c.region and c.zone == zone), key=lambda c: southern(c.site))
    )


def southern(site: Site | None) -> bool:
    """Whether a site is known to lie south of the equator."""
    return site is not None and (site.latitude_deg or 0.0) < 0


def turned(site: Site) -> Site:
    """A typical year on the other side of the equator: every month six months on."""
    latitude = None if site.latitude_deg is None else -site.latitude_deg
    return site.changed(latitude_deg=latitude, months=(*site.months[6:], *site.months[:6]))


def typical(key: str, south: bool) -> Site:
    """A typical climate as it runs north or south of the equator. Each of a region lies where it lies until it is turned."""
    found = climates()[key].site
    return found if southern(found) is south else turned(found)


def chosen(key: str, south: bool) -> Site:
    """A climate that was chosen on a bench known to lie south or north: one of a region says itself where it lies."""
    one = climates()[key]
    return one.site if one.region else typical(key, south)


def with_climate(site: Site | None, key: str) -> Site:
    """A site with a climate that was chosen; its days, its wall and where pots winter stay."""
    found = chosen(key, southern(site))
    if site is None:
        return found
    fields = {name: getattr(found, name) for name in ("latitude_deg", "elevation_m", "gust_m_s", "months")}
    # a name that somebody gave stays; that of a typical year goes with it
    named = site.name and site.name not in {c.words for c in climates().values()}
    return site.changed(**fields, name=site.name if named else found.name)


def climate_of(site: Site | None) -> str:
    """Which of the typical climates a site has, on either side of the equator; empty for one's own."""
    if site is None:
        return ""
    both = (site.months, (*site.months[6:], *site.months[:6]))
    return next((c.key for c in climates().values() if c.site.months in both), "")


def facing(site: Site, south: bool) -> Site:
    """A site on a side of the equator. A typical year is turned with it; months that somebody typed are their own and stay."""
    if southern(site) is south:
        return site
    key = climate_of(site)
    if key:
        found = typical(key, south)
        return site.changed(
            latitude_deg=found.latitude_deg if site.latitude_deg is None else -site.latitude_deg, months=found.months
        )
    return site if site.latitude_deg is None else site.changed(latitude_deg=-site.latitude_deg)


def starter_site() -> Site:
    """The climate a new collection has until another is chosen."""
    return climates()[FIRST_CLIMATE].site


def starter_mixes() -> dict[str, Mix]:
    """The mixes to begin with, each a recipe that many growers start from [J]."""
    found: dict[str, Mix] = {}
    for row in raw_table("starter_mixes"):
        parts = tuple(
            Part(substrate=key, parts=float(share))
            for key, share in (part.split(":") for part in row["parts"].split(";"))
        )
        found[row["key"]] = Mix(id=row["key"], name=row["name"], parts=parts, notes=row["notes"])
    return found


def starter_mix_for(species: Species | None, mixes: Mapping[str, Mix], purpose: str = "") -> Mix | None:
    """The mix that a first brief begins with, by species and what it is kept for. A start, not advice.

    Soil-based for fruit in tubs, lean for what stores water, wet for swamp trees, sour for what hates lime, open for
    conifers, else even. None when the collection has lost that starter: nothing is guessed then.
    """
    return mixes.get(starter_key(species, purpose))


def starter_key(species: Species | None, purpose: str = "") -> str:
    """Which starter suits a species and a purpose."""
    if purpose == "crop":
        return "tub"
    if species is None:
        return "even"
    if species.stores_water or purpose == "desert":
        return "lean"
    if species.min_air_porosity is not None and species.min_air_porosity <= WADES_NEED:
        return "wet"
    if species.ph_high is not None and species.ph_high <= SOUR_TO_PH:
        return "moist"
    return "open" if species.group == "conifer" else "even"
