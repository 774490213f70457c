"""All findings of one planting, and the whole report that the command line prints."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from kesh.advice.case import Case
from kesh.advice.figures import Figures, figures_for
from kesh.advice.rule import FITS, NO, STATUS, UNKNOWN, WATCH, Part, Result, Rule, Words
from kesh.advice.rules_heights import HEIGHT_RULES
from kesh.advice.rules_roots import RULES as ROOT_RULES
from kesh.advice.rules_size import RULES as SIZE_RULES
from kesh.advice.rules_water import RULES as WATER_RULES
from kesh.model import Pot
from kesh.model.units import Units
from kesh.science.root_fit import Seat

RULES: tuple[Rule, ...] = (*SIZE_RULES, *ROOT_RULES, *HEIGHT_RULES, *WATER_RULES)
ORDER = {NO: 0, WATCH: 1, UNKNOWN: 2, FITS: 3}
MEASURED_APART = 0.10


@dataclass(frozen=True)
class Finding:
    """One checked statement: the figure, the limit, the remedy, and who says so."""

    code: str
    status: str
    value: float | None
    unit: str
    low: float | None
    high: float | None
    text: str
    remedy: str
    source: str
    part: Part = "size"
    short: str = ""
    overridden: str = ""

    def as_json(self) -> dict[str, Any]:
        """The keys of the report."""
        names = ("code", "status", "value", "unit", "low", "high", "text", "remedy", "source")
        found = {name: getattr(self, name) for name in names}
        return found | ({"override": self.overridden} if self.overridden else {})


@dataclass(frozen=True)
class Assessment:
    """Figures and findings of one pot under the case's tree."""

    case: Case
    pot: Pot
    figures: Figures
    findings: tuple[Finding, ...]

    @property
    def worst(self) -> str:
        """The gravest status among the findings that judge the pot."""
        statuses = {f.status for f in self.findings if f.code != "season"}
        return next((s for s in ("no", "watch", "unknown") if s in statuses), "fits")

    @property
    def seat(self) -> Seat:
        """Where the tree stands in this pot."""
        return self.figures.seat

    def finding(self, code: str) -> Finding | None:
        """A finding by code."""
        return next((f for f in self.findings if f.code == code), None)


def softened(rule: Rule, result: Result, case: Case) -> Result:
    """The artist's override turns a hard no into something to watch; the finding stays in sight."""
    if rule.code not in case.overrides:
        return result
    status = np.where(result.status == NO, WATCH, result.status).astype(np.int8)
    return Result(result.value, result.low, result.high, status, result.close)


def _finding(rule: Rule, result: Result, words: Words, i: int, f: Figures) -> Finding:
    value, low, high = result.at(i)
    status = int(result.status[i])
    source = f.case.school.name + " school" if rule.source == "school" else rule.source
    reason = f.case.overrides.get(rule.code, "")
    text = f"{words.text} Kept by the artist: {reason}" if reason and status != FITS else words.text
    return Finding(
        rule.code,
        STATUS[status],
        value,
        rule.unit,
        low,
        high,
        text,
        words.remedy,
        source,
        rule.part,
        words.short,
        reason,
    )


def _measured(f: Figures, i: int) -> list[Finding]:
    """How far measured volume and mass are from the computed ones."""
    pot, body, found = f.pots.pots[i], f.body, []
    for code, given, computed, unit, name in (
        ("measured_volume", pot.measured_volume_l, float(body.computed_volume_l[i]), "l", "volume"),
        ("measured_mass", pot.measured_mass_kg, float(body.computed_mass_kg[i]), "kg", "mass"),
    ):
        if given is None or computed <= 0:
            continue
        apart = given / computed - 1
        status = "fits" if abs(apart) <= MEASURED_APART else "watch"
        remedy = "" if status == "fits" else "Check wall, floor and profile; the measured figure is used."
        text = f"Measured {name} {given:.2f} {unit} is {apart:+.0%} against the computed {computed:.2f} {unit}."
        low, high = computed * (1 - MEASURED_APART), computed * (1 + MEASURED_APART)
        found.append(
            Finding(code, status, given, unit, low, high, text, remedy, "measure", "size", f"{name} {apart:+.0%}")
        )
    return found


def assess(case: Case, pot: Pot, units: Units | None = None) -> Assessment:
    """All findings of a tree in a pot, gravest first."""
    f = figures_for(case, [pot])
    units = units or Units()
    found = []
    for rule in RULES:
        result = rule.check(f)
        if result is not None:
            result = softened(rule, result, case)
            found.append(_finding(rule, result, rule.words(f, result, 0, units), 0, f))
    found += _measured(f, 0)
    found.sort(key=lambda x: ORDER[STATUS.index(x.status)])
    return Assessment(case, pot, f, tuple(found))
