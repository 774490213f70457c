"""`kesh year`: the year of a tree in one or several pots, without a display."""

import argparse
from dataclasses import replace
from datetime import date
from typing import Any

import numpy as np

from kesh.advice.case import case_for
from kesh.advice.figures import figures_for
from kesh.advice.water.year import PotYear, YearAsked, pot_years, weather_of
from kesh.base.errors import FieldError
from kesh.line.arguments import bundle_of_args, case_options
from kesh.line.records import load, pot_of
from kesh.line.verb import Verb
from kesh.model import Collection
from kesh.science.climate.weather import Weather, month_of_day
from kesh.science.season.season import MONTHS

MOST_YEARS = 1000


def options(sub: argparse.ArgumentParser) -> None:
    """Tree, pots, how it is kept, and which years."""
    bundle_of_args(sub)
    sub.add_argument("--pot", required=True, action="append", help="may be given several times")
    sub.add_argument(
        "--habit", choices=("asked", "daily", "twice", "alternate"), default="asked", help="when the keeper looks"
    )
    sub.add_argument("--roofed", action="store_true", help="no rain reaches the pot")
    sub.add_argument("--away", metavar="FROM..TO", help="days without a keeper, such as 2026-07-10..2026-07-24")
    sub.add_argument("--years", type=int, default=60, metavar="N", help="so many years that could have been")
    sub.add_argument("--seed", type=int, default=1, metavar="N", help="which years")
    case_options(sub, season=False)


def run(args: argparse.Namespace) -> dict[str, Any]:
    """The year, as JSON. Raises KeshError."""
    return run_year(load(args.bundle), args)


def run_year(collection: Collection, args: argparse.Namespace) -> dict[str, Any]:
    """The year as JSON. Raises KeshError for unknown ids and for what the year needs and nobody has entered."""
    if not 1 <= args.years <= MOST_YEARS:
        raise FieldError("--years", f"{args.years} is outside 1 to {MOST_YEARS}")
    if args.seed < 0:
        raise FieldError("--seed", f"{args.seed} is below nought; any whole number from nought on names a set of years")
    asked = YearAsked(args.habit, args.roofed, _away(args.away), args.years, args.seed)
    pots = [pot_of(collection, key) for key in args.pot]
    found = []
    for pot in pots:
        # each pot as the tree stands or would stand in it
        case = case_for(collection, args.tree, pot_id=pot.id, mix_id=args.mix, school_id=args.school, on=args.date)
        f = figures_for(case, [pot])
        keeping = case.brief.keeping
        own = replace(asked, place=keeping.place, reserve_l=keeping.reserve_l)
        found.append(_of_pot(pot.id, pot_years(f, (0,), own)[0], weather_of(f, own)[0]))
    return {"tree": args.tree, "pots": found}


def _away(text: str | None) -> tuple[date, date] | None:
    if text is None:
        return None
    try:
        first, last = (date.fromisoformat(part) for part in text.split(".."))
    except ValueError as err:
        raise FieldError("--away", f"'{text}' is not FROM..TO, such as 2026-07-10..2026-07-24") from err
    if last < first:
        raise FieldError("--away", f"{last} is before {first}")
    return first, last


def _bands(values: np.ndarray) -> list[float]:
    """What one year in ten, in two, and nine in ten stay below."""
    return [float(v) for v in np.percentile(values, (10, 50, 90))]


def _of_pot(key: str, one: PotYear, plain: Weather) -> dict[str, Any]:
    water, use, many, month = one.water, one.usual, one.many, month_of_day()
    names = (
        "available_l",
        "mad",
        "crown_area_m2",
        "crown_coefficient",
        "soil_area_m2",
        "ke",
        "tew_mm",
        "rew_mm",
        "exposure",
    )
    return {
        "pot": key,
        "inputs": {name: getattr(water, name) for name in names},
        "usual": {
            "waterings": int(use.waterings.sum()), "irrigation_l": use.irrigation_l, "transpiration_l": use.transpiration_l,
            "evaporation_l": use.evaporation_l, "drainage_l": use.drainage_l, "balance_error_l": use.balance_error_l,
            "busiest_week": use.busiest_week,
        },
        "ensemble": {
            "waterings": _bands(many.waterings), "dry_hours": _bands(many.dry_hours), "wet_hours": _bands(many.wet_hours),
            "distress_chance": float(many.distress.mean()), "away_distress_chance": float(many.away_distress.mean()),
        },
        "months": [
            {
                "et0_mm_day": float(plain.et0_mm[0, month == m].mean()), "waterings": float(use.waterings[month == m].sum()),
                "gap_days": _bands(many.gap_days[:, m]),
            }
            for m in range(12)
        ],
    }  # fmt: skip


def year_lines(found: dict[str, Any]) -> list[str]:
    """The year as plain text."""
    lines = []
    for one in found["pots"]:
        use, many = one["usual"], one["ensemble"]
        lines.append(
            f"{found['tree']} in {one['pot']}: {use['waterings']} waterings, {use['irrigation_l']:.0f} l in a usual year"
        )
        lines.append(
            f"  busiest week {use['busiest_week']} waterings; one year in ten over {many['waterings'][2]:.0f} in all"
        )
        lines.append(f"  dry {many['dry_hours'][1]:.0f} h, too wet {many['wet_hours'][1]:.0f} h in a middling year")
        lines.append(
            f"  in distress in {many['distress_chance']:.0%} of years; away {many['away_distress_chance']:.0%}"
        )
        row = [f"{name} {m['waterings']:.0f}" for name, m in zip(MONTHS, one["months"], strict=True)]
        lines.append(f"  {', '.join(row)}")
    return lines


VERB = Verb(
    "the year of one tree in one or several pots: waterings, dry and wet hours, what it bears alone",
    options,
    run,
    year_lines,
)
