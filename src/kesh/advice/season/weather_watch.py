"""What the weather asks: tender trees in and out, rain spells, heat, frost. By days read or written down, else by the usual year."""

from collections.abc import Iterator, Sequence
from datetime import date

from kesh.advice.season.follows import made
from kesh.model import Collection, Day, Habits, Task, Tree
from kesh.reference.tables import Species
from kesh.science.days import later
from kesh.science.season_windows import YEAR, Year

TENDER = frozenset({"tropical", "succulent", "palmlike"})
WET_MM, PLAN_K, COOL_PLACE_K, MOVE_DAYS, SHADE_DAYS = 1.0, 3.0, 3.0, 14, 3


def coming_days(days: Sequence[Day], today: date) -> list[Day]:
    """Days from today on that somebody wrote down or read from a forecast, in order."""
    return sorted((d for d in days if d.date >= today), key=lambda d: d.date)


def weather_tasks(
    tree: Tree, species: Species | None, c: Collection, year: Year | None, today: date, days: Sequence[Day]
) -> Iterator[Task]:
    """Tasks of one tree. Nothing is asked of a tree that lives under glass or indoors the year round but heat."""
    if species is None:
        return
    brief = c.briefs.get(tree.id)
    keeping = brief.keeping if brief is not None else None
    housed = keeping is not None and keeping.shelter != ""
    habits = c.habits or Habits()
    if species.group in TENDER and not housed:
        yield from _in_and_out(tree, days, habits, year, today)
    if species.group == "succulent" and not (keeping is not None and keeping.roofed) and not housed:
        yield from _rain(tree, days, habits)
    yield from _heat(tree, days, habits)
    if not housed and species.root_hardy_c is not None and species.group not in TENDER:
        yield from _frost(tree, days, species.root_hardy_c)


def _in_and_out(tree: Tree, days: Sequence[Day], habits: Habits, year: Year | None, today: date) -> Iterator[Task]:
    limit = habits.cold_night_c
    if year is not None:
        # where no night of the year is as warm, the warm part of the summer is
        limit = round(min(limit, max(year.night_c) - COOL_PLACE_K), 1)
    cold = next((d.date for d in days if d.tmin_c < limit), None)
    usual = None if year is None else _cools(year, limit, today)
    if cold is not None and (usual is None or cold <= later(usual[0], 45)):
        told = "by the forecast" if any(d.date == cold and d.forecast for d in days) else "by your own weather"
        yield made(
            f"in-{tree.id}-{cold:%Y%m%d}", tree.id, "bring_in", later(cold, -1), cold,
            f"Bring it in before the night of {cold:%-d %b}.", f"nights under {limit:g} °C {told}",
        )  # fmt: skip
    elif usual is not None:
        first = usual[0]
        yield made(
            f"in-{tree.id}-{first:%Y}", tree.id, "bring_in", later(first, -MOVE_DAYS), first,
            "Bring it in; begin with the brightest place and water less.", f"nights usually fall under {limit:g} °C",
            f"Two nights under {limit:g} °C.",
        )  # fmt: skip
    if usual is not None:
        out = usual[1]
        yield made(
            f"out-{tree.id}-{out:%Y}", tree.id, "bring_out", out, later(out, MOVE_DAYS),
            "Take it out in steps of light: shade first, an hour or two more sun each few days.",
            f"nights usually stay above {limit:g} °C", "Leaves stay firm in the new light.",
        )  # fmt: skip


def _cools(year: Year, cold_c: float, today: date) -> tuple[date, date] | None:
    """(first usual cold night, first warm one after it) from a fortnight ago on; None where nights never cross it."""
    cold = [n < cold_c for n in year.night_c]
    if all(cold) or not any(cold):
        return None
    start = year.day(today)
    order = [(start - MOVE_DAYS + n) % YEAR for n in range(2 * YEAR)]
    at = next((n for n in range(1, YEAR + 1) if cold[order[n]] and not cold[order[n - 1]]), None)
    up = next((n for n in range(1, YEAR + 1) if not cold[order[n]] and cold[order[n - 1]]), None)
    if at is None or up is None:
        return None
    base = later(today, -MOVE_DAYS)
    return later(base, at), later(base, up)


def _rain(tree: Tree, days: Sequence[Day], habits: Habits) -> Iterator[Task]:
    run: list[Day] = []
    for d in [*days, None]:
        wet = d is not None and (d.rain_mm or 0.0) >= WET_MM
        if wet and d is not None and (not run or (d.date - run[-1].date).days == 1):
            run.append(d)
            continue
        if len(run) >= habits.rain_days:
            yield made(
                f"rain-{tree.id}-{run[0].date:%Y%m%d}", tree.id, "shelter_rain", run[0].date, run[-1].date,
                "Shelter it from the rain; the crown above all.", f"{len(run)} wet days in a row", "Its soil is dry again.",
            )  # fmt: skip
        run = [d] if wet and d is not None else []


def _heat(tree: Tree, days: Sequence[Day], habits: Habits) -> Iterator[Task]:
    hot = next((d for d in days if d.tmax_c >= habits.heat_c), None)
    if hot is not None:
        yield made(
            f"heat-{tree.id}-{hot.date:%Y%m%d}", tree.id, "shade_heat", hot.date, later(hot.date, SHADE_DAYS),
            "Half shade from noon on, and look at the soil twice a day.", f"{hot.tmax_c:.0f} °C on {hot.date:%-d %b}", "The heat is over.",
        )  # fmt: skip


def _frost(tree: Tree, days: Sequence[Day], kill_c: float) -> Iterator[Task]:
    least = kill_c + PLAN_K
    cold = next((d for d in days if d.tmin_c <= least), None)
    if cold is not None:
        yield made(
            f"frost-{tree.id}-{cold.date:%Y%m%d}", tree.id, "frost_cover", later(cold.date, -1), cold.date,
            "Keep its roots from freezing through: into the ground, under mulch, or into a frame.",
            f"{cold.tmin_c:.0f} °C on {cold.date:%-d %b}; its roots are planned for no less than {least:.0f} °C", "The cold is over.",
        )  # fmt: skip
