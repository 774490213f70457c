"""The one table of rules, asked the one way, and the one verdict: cards, sheets, lists and the command line all read it here."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

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
from kesh.base.status import FITS, NO, UNKNOWN, WATCH

RULES: tuple[Rule, ...] = (
    *RECORD_RULES,
    *SIZE_RULES,
    *ROOT_RULES,
    *LIFT_RULES,
    *HEIGHT_RULES,
    *WATER_RULES,
    *HANDLING_RULES,
)
# without these nothing can be said of a pot as a whole
KEY_RULES = frozenset({"record", "depth_band", "length_band", "root_removal", "wet_foot"})
# when to work is no property of the pot
NOT_COUNTED = frozenset({"season", "before_lift"})

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


def verdicts(checks: Sequence[tuple[Rule, Result]], n: int) -> NDArray[np.int8]:
    """fits, watch, no or unknown as a number for each of N pots.

    No where a rule that blocks says no; else unknown where a key rule cannot judge; else watch where any rule that counts
    says watch or no.
    """
    if not n or not checks:
        return np.full(n, UNKNOWN, dtype=np.int8)
    status = np.array([result.status for _, result in checks])
    blocks = np.array([rule.blocks for rule, _ in checks])[:, None]
    counts = np.array([rule.code not in NOT_COUNTED for rule, _ in checks])[:, None]
    key = np.array([rule.code in KEY_RULES for rule, _ in checks])[:, None]
    no = np.any((status == NO) & blocks, axis=0)
    unknown = np.any((status == UNKNOWN) & key, axis=0)
    watch = np.any(((status == WATCH) | (status == NO)) & counts, axis=0)
    return np.where(no, NO, np.where(unknown, UNKNOWN, np.where(watch, WATCH, FITS))).astype(np.int8)
