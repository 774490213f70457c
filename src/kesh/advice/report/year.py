"""The year in the report: frost and heat as figures, and the four findings on how the tree is kept."""

from typing import Any

from kesh.advice.assess import Assessment, Finding
from kesh.advice.rules.year import YEAR_CODES, year_findings
from kesh.advice.water.cold import killing_spell
from kesh.advice.water.year import PotYear, asked_of, place_of, years_of
from kesh.base.status import gravest_first

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


def with_year(found: dict[str, Any], a: Assessment) -> dict[str, Any]:
    """A report with the year: the keys of `thermal`, and the findings of the years among the others."""
    asked = asked_of(a.case.brief.keeping, helps=True)
    told = None if a.fault else years_of(((a.case, a.pot),), asked)[0]
    if isinstance(told, PotYear):
        own = [one.as_json() for one in year_findings(told, asked, place_of(a.figures, asked))]
    else:
        own = [_untold(code, told).as_json() for code in YEAR_CODES] if told is not None else []
    rows = list(gravest_first([*found["findings"], *own], lambda f: str(f["status"])))
    return found | {"thermal": thermal_part(a, told if isinstance(told, PotYear) else None), "findings": rows}


def _untold(code: str, why: str) -> Finding:
    what = {"dry_summer": "How it bears a dry summer", "wet_winter": "How it bears a wet winter", "night_at_risk": "How cold its roots become", "hot_wall": "How hot its wall becomes"}[code]  # fmt: skip
    return Finding(code, "unknown", None, "", None, None, f"{what} is not known.", f"{why[:1].upper()}{why[1:]}.", "the years", "water", "the year is not known")  # fmt: skip
