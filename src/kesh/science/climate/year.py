"""The year in a pot: a store of water that a tree and the soil surface empty and that rain and the keeper fill.

Usual year and years that could have been (docs/methods.md, "the year in a pot"). Use by FAO-56 with a crown coefficient,
two-stage drying of the surface; a bucket, so a difference of a third is nothing.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from kesh.geometry.outline import Floats
from kesh.reference.tables import Species
from kesh.science.climate.breath import air_need_at
from kesh.science.climate.weather import MONTH_DAYS, Weather, month_of_day
from kesh.science.season.windows import YEAR
from kesh.science.water.drying import DEFAULT_LAI, crown_coefficient

Habit = Literal["asked", "daily", "twice", "alternate"]
HABITS: tuple[Habit, ...] = ("asked", "daily", "twice", "alternate")
# below this share of the store a tree suffers
DISTRESS = 0.15
# the lowest third is asked for half of what the mix as a whole is asked for
LOW_SHARE = 0.5
MOST_PARTS, MANY_PARTS = 24, 8
# a dry spell is not followed farther than this
LONGEST_GAP = 60


@dataclass(frozen=True)
class PotWater:
    """What a pot holds and what empties it: litres, square metres, mm; one pot."""

    available_l: float
    mad: float
    crown_area_m2: float
    crown_coefficient: float
    soil_area_m2: float
    mouth_area_m2: float
    ke: float
    tew_mm: float
    rew_mm: float
    exposure: float
    # so much must be used after a watering until the roots have the air they want
    wet_until_l: float
    # under a roof; what wet sand under it gives while nobody is there
    roofed: bool = False
    reserve_l: float = 0.0
    # of the mix just drained: its litres, the air in its upper half and lowest third, and what the roots want at 20 degrees
    soil_l: float = 0.0
    air_upper: float = 1.0
    air_low: float = 1.0
    air_need: float = 0.0


@dataclass(frozen=True)
class UsualYear:
    """A year of daily normals: litres, waterings by day (365,), and how far the balance is from closed."""

    waterings: np.ndarray
    irrigation_l: float
    transpiration_l: float
    evaporation_l: float
    drainage_l: float
    rain_l: float
    store_l: Floats
    balance_error_l: float

    @property
    def busiest_week(self) -> int:
        """Most waterings in seven days on end."""
        twice = np.concatenate([self.waterings, self.waterings[:6]])
        return int(np.convolve(twice, np.ones(7), "valid").max())


def leaf_by_day(species: Species, mean_c: Floats, latitude_deg: float) -> Floats:
    """Share of full leaf on each day of years of day means (Y, 365)."""
    if not species.sheds_leaves:
        return np.clip(mean_c / 10, 0.2, 1)
    local = (np.arange(1, YEAR + 1) + (182 if latitude_deg < 0 else 0)) % 365
    rise, fall = np.clip((local - 90) / 40, 0, 1), np.clip((325 - local) / 40, 0, 1)
    return np.broadcast_to(np.maximum(0.05, np.minimum(rise, fall)), mean_c.shape)


def surface_factor(species: Species, crown_area_m2: float, soil_area_m2: float, mulch: float = 1.0) -> float:
    """Ke: evaporation of a bare wet surface under the crown against ET0."""
    cover = min(1.0, crown_area_m2 / max(soil_area_m2, 1e-9))
    lai = species.leaf_area_index or DEFAULT_LAI
    return float(1.05 * (1 - cover * (1 - np.exp(-0.5 * lai))) * mulch)


def pot_water(
    species: Species, crown_area_m2: float, soil_area_m2: float, mouth_area_m2: float, available_l: float, mad: float, tew_mm: float,
    wet_until_l: float, *, exposure: float = 1.0, mulch: float = 1.0, air: tuple[float, float, float, float] = (0.0, 1.0, 1.0, 0.0),
) -> PotWater:  # fmt: skip
    """Gather what the year needs of a pot and its tree; `air` is (litres of mix, air above, air below, air wanted)."""
    return PotWater(
        available_l, mad, crown_area_m2, crown_coefficient(species), soil_area_m2, mouth_area_m2,
        surface_factor(species, crown_area_m2, soil_area_m2, mulch), tew_mm, min(5.0, tew_mm / 2), exposure, wet_until_l,
        soil_l=air[0], air_upper=air[1], air_low=air[2], air_need=air[3],
    )  # fmt: skip


def usual(pot: PotWater, weather: Weather, leaf: Floats, *, roofed: bool = False) -> UsualYear:
    """The bucket over one year, watered when it asks. Each day has as many parts as the pot's thirst wants."""
    cap, low = pot.available_l, (1 - pot.mad) * pot.available_l
    store, spent = cap, 0.0
    waterings, stores = np.zeros(YEAR), np.zeros(YEAR)
    irrigated = tree_l = soil_l = drained = rained = 0.0
    late = max(pot.tew_mm - pot.rew_mm, 1e-9)
    for d in range(YEAR):
        et0 = float(weather.et0_mm[0, d]) * pot.exposure
        thirst = et0 * pot.crown_coefficient * pot.crown_area_m2 * float(leaf[0, d])
        bare = et0 * pot.ke * pot.soil_area_m2
        parts = int(np.clip(np.ceil((thirst + bare) / max(0.5 * pot.mad * cap, 1e-12)), 1, MOST_PARTS))
        rain_mm = 0.0 if roofed else float(weather.rain_mm[0, d]) / parts
        for _ in range(parts):
            if store <= low:
                irrigated += cap - store
                store, spent = cap, 0.0
                waterings[d] += 1
            stress = min(max(store / max(low, 1e-12), 0.0), 1.0)
            dry = 1.0 if spent < pot.rew_mm else max(0.0, (pot.tew_mm - spent) / late)
            tree, soil = thirst * stress / parts, bare * dry / parts
            over = min(1.0, store / max(tree + soil, 1e-12))
            tree, soil = tree * over, soil * over
            store -= tree + soil
            spent = max(0.0, spent + soil / max(pot.soil_area_m2, 1e-12) - rain_mm)
            came = rain_mm * pot.mouth_area_m2
            gone = max(0.0, store + came - cap)
            store += came - gone
            tree_l, soil_l, drained, rained = tree_l + tree, soil_l + soil, drained + gone, rained + came
        stores[d] = store
    error = cap + irrigated + rained - tree_l - soil_l - drained - store
    return UsualYear(waterings, irrigated, tree_l, soil_l, drained, rained, stores, error)


@dataclass(frozen=True)
class ManyYears:
    """What years that could have been bring a pot: each (Y,), by month (Y, 12)."""

    waterings: Floats
    waterings_by_month: Floats
    irrigation_l: Floats
    drainage_l: Floats
    dry_hours: Floats
    wet_hours: Floats
    dry_by_month: Floats
    wet_by_month: Floats
    distress: np.ndarray
    away_distress: np.ndarray
    home_distress: np.ndarray
    longest_wet_days: Floats
    # most days on end at rest on which the lowest third, and the upper half, lack the air that roots want so cold
    rest_wet_days: Floats
    rest_drowned_days: Floats
    gap_days: Floats
    balance_error_l: float


def ensemble(
    pots: list[PotWater], weather: Weather, leaf: Floats, *, habit: Habit = "asked", roofed: bool = False,
    away: np.ndarray | None = None, rest: np.ndarray | None = None,
) -> list[ManyYears]:  # fmt: skip
    """The bucket over many years for several pots at once, all in the same weather.

    `away` (365,) marks days without a keeper. A keeper who looks once or twice a day, or every other day, waters what has
    used its share by then; *asked* looks all the time. `rest` (365,) marks days on which the tree does not grow.
    """
    p, y = len(pots), weather.years

    def column(name: str) -> Floats:
        return np.array([getattr(pot, name) for pot in pots], float)[:, None]

    cap, soil_m2, mouth, tew, rew = (
        column(n) for n in ("available_l", "soil_area_m2", "mouth_area_m2", "tew_mm", "rew_mm")
    )
    low, late = (1 - column("mad")) * cap, np.maximum(tew - rew, 1e-9)
    tree_k = column("exposure") * column("crown_coefficient") * column("crown_area_m2") / MANY_PARTS
    soil_k = column("exposure") * column("ke") * soil_m2 / MANY_PARTS
    wet_until, reserve = column("wet_until_l"), column("reserve_l")
    bed = np.repeat(reserve, y, axis=1)
    under_sky = np.where(np.array([[roofed or pot.roofed] for pot in pots]), 0.0, 1.0)
    looks = _looks(habit)
    gone_away = np.zeros(YEAR, bool) if away is None else away
    month, hours = month_of_day(), 24.0 / MANY_PARTS
    store, spent = np.repeat(cap, y, axis=1), np.zeros((p, y))
    made = {name: np.zeros((12, p, y)) for name in ("waterings", "dry", "wet")}
    total = {name: np.zeros((p, y)) for name in ("in", "rain", "out", "drain", "bed")}
    wet_days, low_wet, upper_wet = (np.zeros((p, y, YEAR), bool) for _ in range(3))
    cold_need = air_need_at(1.0, weather.mean_c)
    low_lacks, upper_lacks = _lacks(pots, LOW_SHARE, "air_low"), _lacks(pots, 1.0, "air_upper")
    distress, away_distress, home_distress = (np.zeros((p, y), bool) for _ in range(3))
    # everything of one part of a day is written into these: there are 2,920 parts, and fresh tables would cost more than the sums
    asks, soaked, suffers, wants = (np.zeros((p, y), bool) for _ in range(4))
    tree, soil, use, both, work, drain = (np.zeros((p, y)) for _ in range(6))
    wet_today, ones = np.zeros((p, y), np.intp), np.ones((p, y))
    suffer_l = DISTRESS * cap
    for d in range(YEAR):
        m, et0 = month[d], weather.et0_mm[:, d]
        thirst, bare = tree_k * (et0 * leaf[:, d]), soil_k * et0
        rain = under_sky * weather.rain_mm[:, d] / MANY_PARTS
        came, gone = mouth * rain, bool(gone_away[d])
        waterings, dry_hours, wet_hours = made["waterings"][m], made["dry"][m], made["wet"][m]
        wet_today.fill(0)
        for part in range(MANY_PARTS):
            if not gone and looks(d, part):
                np.less_equal(store, low, out=asks)
                if np.count_nonzero(asks):
                    np.subtract(cap, store, out=work)
                    np.add(total["in"], work, out=total["in"], where=asks)
                    waterings += asks
                    np.copyto(store, cap, where=asks)
                    np.copyto(spent, 0.0, where=asks)
            np.divide(store, low, out=tree)
            np.maximum(tree, 0.0, out=tree)
            np.minimum(tree, 1.0, out=tree)
            tree *= thirst
            # the surface dries freely until its ready share is spent
            np.subtract(tew, spent, out=soil)
            soil /= late
            np.copyto(soil, 1.0, where=np.less(spent, rew, out=wants))
            np.maximum(soil, 0.0, out=soil)
            np.minimum(soil, 1.0, out=soil)
            soil *= bare
            np.add(tree, soil, out=both)
            np.minimum(both, store, out=use)
            np.copyto(work, ones)
            np.divide(use, both, out=work, where=np.greater(both, 0.0, out=wants))
            soil *= work
            soil /= soil_m2
            spent += soil
            spent -= rain
            np.maximum(spent, 0.0, out=spent)
            store -= use
            store += came
            if gone:
                # the sand gives what the pot has lost, while it has some
                gives = np.minimum(bed, np.maximum(cap - store, 0.0))
                bed, store = bed - gives, store + gives
                total["bed"] += gives
            np.subtract(store, cap, out=drain)
            np.maximum(drain, 0.0, out=drain)
            store -= drain
            total["out"] += use
            total["rain"] += came
            total["drain"] += drain
            dry_hours += np.less(store, low, out=wants)
            np.subtract(cap, store, out=work)
            np.less(work, wet_until, out=soaked)
            wet_hours += soaked
            wet_today += soaked
            np.less(store, suffer_l, out=suffers)
            distress |= suffers
            if gone:
                away_distress |= suffers
            elif not gone_away[d - 1]:
                # the morning after the return still belongs to the time away
                home_distress |= suffers
        if not gone:
            bed = np.repeat(reserve, y, axis=1)
        np.greater(wet_today, MANY_PARTS / 2, out=wet_days[:, :, d])
        # at rest a pot changes slowly: the end of the day tells it
        gone_l, need = cap - store, cold_need[:, d]
        low_wet[:, :, d] = gone_l < low_lacks(need)
        upper_wet[:, :, d] = gone_l < upper_lacks(need)
    for name, each in (("waterings", 1.0), ("dry", hours), ("wet", hours)):
        made[name] = np.moveaxis(made[name], 0, -1) * each
    resting = np.zeros(YEAR, bool) if rest is None else rest
    longest = longest_spells(wet_days)
    low_days, upper_days = longest_spells(low_wet & resting), longest_spells(upper_wet & resting)
    error = np.abs(cap + total["in"] + total["bed"] + total["rain"] - total["out"] - total["drain"] - store)
    gaps = longest_gaps(pots, weather, leaf)
    return [
        ManyYears(
            made["waterings"][i].sum(axis=1), made["waterings"][i], total["in"][i], total["drain"][i], made["dry"][i].sum(axis=1),
            made["wet"][i].sum(axis=1), made["dry"][i], made["wet"][i], distress[i], away_distress[i], home_distress[i], longest[i], low_days[i], upper_days[i], gaps[i],
            float(error[i].max()),
        )
        for i in range(p)
    ]  # fmt: skip


def _lacks(pots: list[PotWater], share: float, name: str) -> Callable[[Floats], Floats]:
    """Litres (P, Y) that must be gone since a watering until a layer has the air it needs, for needs against 20 degrees (Y,)."""
    soil, need, air = (
        np.array([getattr(pot, n) for pot in pots], float)[:, None] for n in ("soil_l", "air_need", name)
    )
    return lambda cold: soil * (share * need * cold[None, :] - air)


def longest_spells(days: np.ndarray) -> Floats:
    """Most days on end in each year (..., Y, 365), a spell over the turn of the year counted with the year in which it ends."""
    run, longest = np.zeros(days.shape[:-1]), np.zeros(days.shape[:-1])
    lead, still = np.zeros(days.shape[:-1]), np.ones(days.shape[:-1], bool)
    for d in range(days.shape[-1]):
        run = np.where(days[..., d], run + 1, 0)
        longest = np.maximum(longest, run)
        still &= days[..., d]
        lead += still
    # the last days of one year go on in the next; the years are a ring
    before = np.roll(run, 1, axis=-1)
    return np.minimum(np.maximum(longest, before + lead), float(days.shape[-1]))


def _looks(habit: Habit):  # type: ignore[no-untyped-def]
    """Whether the keeper looks at a part of a day: the first part is early in the morning."""
    return {
        "asked": lambda d, part: True,
        "daily": lambda d, part: part == 2,
        "twice": lambda d, part: part in (2, 6),
        "alternate": lambda d, part: part == 2 and d % 2 == 0,
    }[habit]


def longest_gaps(pots: list[PotWater], weather: Weather, leaf: Floats) -> list[Floats]:
    """How many days a full pot lasts from the middle of each month, without rain, until it asks for water (Y, 12), for each."""
    starts = np.cumsum(MONTH_DAYS) - MONTH_DAYS // 2
    found = []
    for pot in pots:
        thirst = weather.et0_mm * leaf * pot.exposure * pot.crown_coefficient * pot.crown_area_m2
        late, gaps = max(pot.tew_mm - pot.rew_mm, 1e-9), np.full((weather.years, 12), float(LONGEST_GAP))
        for m, start in enumerate(starts):
            days = (start + np.arange(LONGEST_GAP)) % YEAR
            bare = np.cumsum(weather.et0_mm[:, days] * pot.exposure * pot.ke, axis=1)
            surface = np.where(bare <= pot.rew_mm, bare, pot.tew_mm - late * np.exp(-(bare - pot.rew_mm) / late))
            used = np.cumsum(thirst[:, days], axis=1) + surface * pot.soil_area_m2
            over = used >= pot.mad * pot.available_l
            last = over.argmax(axis=1)
            row = np.arange(weather.years)
            before = np.where(last > 0, used[row, np.maximum(last - 1, 0)], 0.0)
            # within the day in which its share is used up
            part = (pot.mad * pot.available_l - before) / np.maximum(used[row, last] - before, 1e-12)
            gaps[:, m] = np.where(over.any(axis=1), np.minimum(last + part, LONGEST_GAP), LONGEST_GAP)
        found.append(gaps)
    return found
