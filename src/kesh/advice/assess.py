"""All findings of one planting, and the whole report that the command line prints."""

from dataclasses import dataclass, field, replace
from typing import Any, Self

from kesh.advice.answers import Answers, answers_of
from kesh.advice.case import Case
from kesh.advice.checks import Checks, checked
from kesh.advice.figures import Figures, figures_for
from kesh.advice.finding import Part, Result, Rule, Words
from kesh.base.status import FITS, STATUS, gravest_first
from kesh.base.units import Units
from kesh.model import Pot
from kesh.science.roots.fit import Seat


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

    def told(self, u: Units) -> Self:
        """The same with temperatures and winds in the reader's units."""
        return replace(self, text=u.told(self.text), remedy=u.told(self.remedy), short=u.told(self.short))

    def as_json(self) -> dict[str, Any]:
        """The keys of the report."""
        names = ("code", "status", "value", "unit", "low", "high", "text", "remedy", "source")
        found = {name: getattr(self, name) for name in names}
        return found | ({"override": self.overridden} if self.overridden else {})


@dataclass(frozen=True)
class Assessment:
    """Figures, findings and the verdict of one pot under the case's tree."""

    case: Case
    pot: Pot
    figures: Figures
    findings: tuple[Finding, ...]
    answers: Answers = field(default_factory=Answers)

    @property
    def verdict(self) -> str:
        """fits, watch, no or unknown; unknown while nothing was asked."""
        return self.answers.verdict if self.findings else "unknown"

    @property
    def fault(self) -> str:
        """Why the pot cannot be reckoned, in a sentence; empty for all but a broken record."""
        return next((f.text for f in self.findings if f.code == "record" and f.status != "fits"), "")

    @property
    def seat(self) -> Seat:
        """Where the tree stands in this pot."""
        return self.figures.seat

    def finding(self, code: str) -> Finding | None:
        """A finding by code."""
        return next((f for f in self.findings if f.code == code), None)


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


def assess(case: Case, pot: Pot, units: Units | None = None, years: Checks = ()) -> Assessment:
    """All findings of a tree in a pot, gravest first. A record that cannot be reckoned has one finding that says why.

    `years` is what the years say of it, where they were reckoned.
    """
    f = figures_for(case, [pot])
    units = units or Units()
    checks = (*checked(f), *years)
    faulty = bool(f.faulty[0])
    found = [
        _finding(rule, result, rule.said(f, result, 0, units), 0, f)
        for rule, result in checks
        if rule.code == "record" or not faulty
    ]
    found += [
        Finding(d.code, "unknown", None, "", None, None, d.text, d.remedy, "the record", "size", d.text.rstrip("."))
        for d in case.doubts
    ]
    order = sorted(checks, key=lambda one: float(one[1].close[0]))
    answers = answers_of(((r.code, STATUS[int(x.status[0])]) for r, x in order), faulty=faulty, dated=case.dated)
    return Assessment(case, pot, f, gravest_first(found), answers)


def glance(case: Case, pot: Pot) -> Assessment:
    """The figures alone, for a drawing that follows a hand: findings and verdict wait until it rests."""
    return Assessment(case, pot, figures_for(case, [pot]), ())
