"""The one table of rules, asked the one way: cards, sheets, lists and the command line all read it here."""

from dataclasses import replace

import numpy as np

from kesh.advice.case import Case
from kesh.advice.figures import Figures
from kesh.advice.finding import Result, Rule
from kesh.advice.rules.handling import RULES as HANDLING_RULES
from kesh.advice.rules.heights import HEIGHT_RULES
from kesh.advice.rules.lift import RULES as LIFT_RULES
from kesh.advice.rules.record import RULES as RECORD_RULES
from kesh.advice.rules.roots import RULES as ROOT_RULES
from kesh.advice.rules.size import RULES as SIZE_RULES
from kesh.advice.rules.water import RULES as WATER_RULES
from kesh.base.status import NO, UNKNOWN, WATCH

RULES: tuple[Rule, ...] = (
    *RECORD_RULES,
    *SIZE_RULES,
    *ROOT_RULES,
    *LIFT_RULES,
    *HEIGHT_RULES,
    *WATER_RULES,
    *HANDLING_RULES,
)
Checks = tuple[tuple[Rule, Result], ...]


def checked(f: Figures) -> Checks:
    """Every rule that applies to a case, asked of N pots, with the artist's overrides. A pot that cannot be reckoned is unknown to all."""
    found = []
    off = f.case.off
    for rule in RULES:
        if rule.code in off:
            continue
        result = rule.check(f)
        if result is None:
            continue
        if rule.code != "record" and f.faulty.any():
            status = np.where(f.faulty, UNKNOWN, result.status).astype(np.int8)
            result = replace(result, status=status, close=np.where(f.faulty, 0.0, result.close))
        found.append((rule, _softened(rule, result, f.case)))
    return tuple(found)


def _softened(rule: Rule, result: Result, case: Case) -> Result:
    """The artist's override turns a hard no into something to watch; the finding stays in sight."""
    if rule.code not in case.overrides:
        return result
    status = np.where(result.status == NO, WATCH, result.status).astype(np.int8)
    return Result(result.value, result.low, result.high, status, result.close)
