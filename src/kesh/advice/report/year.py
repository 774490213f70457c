"""The year in the report: frost and heat as figures, and the four findings on how the tree is kept."""

from typing import Any

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import Case
from kesh.advice.checks import Checks
from kesh.advice.figures import figures_for
from kesh.advice.rank import Ranking, rank
from kesh.advice.rules.year import year_checks
from kesh.advice.water.cold import killing_spell
from kesh.advice.water.year import PotYear, asked_of, shelf_years, years_of
from kesh.base.units import Units
from kesh.model import Pot

THERMAL = (
    "night_at_risk_c",
    "nights_at_risk_year",
    "frost_hours_outer",
    "frost_min_mean_c",
    "heat_peak_c",
    "heat_hours_40",
)


def thermal_part(a: Assessment, year: PotYear | None) -> dict[str, float | None]:
    """Frost and heat; None where it cannot be told, and where no night does it."""
    found: dict[str, float | None] = dict.fromkeys(THERMAL)
    if year is None or year.cold is None:
        return found
    found["nights_at_risk_year"] = year.cold.nights_a_year
    if year.heat is not None:
        found["heat_peak_c"], found["heat_hours_40"] = year.heat.year.peak_c, year.heat.year.hours_40
    if not year.cold.never:
        run = killing_spell(a.figures, year.cold)
        found["night_at_risk_c"] = year.cold.night_c
        found["frost_hours_outer"] = run.hours_until(year.cold.limit_c)
        found["frost_min_mean_c"] = float(run.mean_c.min())
    return found


def in_years(case: Case, pot: Pot, units: Units | None = None) -> tuple[Assessment, PotYear | None]:
    """All findings of a tree in a pot, the years among them, with what helps; and its year, where it can be told."""
    bare = assess(case, pot, units)
    if bare.fault:
        return bare, None
    asked = asked_of(case.brief.keeping, helps=True)
    told = years_of(((case, pot),), asked)[0]
    found = assess(case, pot, units, year_checks((told,), asked))
    return found, told if isinstance(told, PotYear) else None


def with_year(found: dict[str, Any], a: Assessment, year: PotYear | None) -> dict[str, Any]:
    """A report with the keys of `thermal`."""
    return found | {"thermal": thermal_part(a, year)}


UNTOLD = "only the best of a long shelf go through the years"
# pots of a long shelf that go through the years: the best by everything else
MOST_IN_YEARS = 60


def ranked_in_years(case: Case, pots: tuple[Pot, ...], *, standing: tuple[Case, Pot] | None = None) -> Ranking:
    """The shelf in order with what the years say; of a long shelf only the best go through them, the others stay untold."""
    own = () if standing is None else shelf_checks(standing[0], (standing[1],))
    if len(pots) <= MOST_IN_YEARS:
        return rank(case, pots, standing=standing, years=shelf_checks(case, pots), own_years=own)
    first = rank(case, pots, standing=standing)
    best = sorted(int(i) for i in first.order[:MOST_IN_YEARS])
    f, asked = figures_for(case, tuple(pots[i] for i in best)), asked_of(case.brief.keeping)
    told = dict(zip(best, shelf_years(f, asked), strict=True)) if case.site is not None else {}
    rows = year_checks([told.get(i, UNTOLD) for i in range(len(pots))], asked)
    return rank(case, pots, standing=standing, years=rows, own_years=own)


def shelf_checks(case: Case, pots: tuple[Pot, ...]) -> Checks:
    """What the years say of a shelf under a tree, as rows of the rule table; none without a climate."""
    if case.site is None or not case.site.months or not pots:
        return ()
    f, asked = figures_for(case, pots), asked_of(case.brief.keeping)
    return year_checks(shelf_years(f, asked), asked)
