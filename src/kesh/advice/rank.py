"""The whole shelf in order under one tree, with what is wrong with each pot and the smallest change that mends it."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from kesh.advice.answer_words import answer_words
from kesh.advice.answers import (
    KEY_RULES,
    QUESTIONS,
    Answers,
    answer_arrays,
    answers_of,
    counts,
    question_of,
    verdict_of,
)
from kesh.advice.case import Case
from kesh.advice.checks import Checks, checked
from kesh.advice.figures import Figures, figures_for
from kesh.advice.finding import PARTS, Result, Rule
from kesh.advice.roots.work import work
from kesh.base.once import once
from kesh.base.status import BEST_FIRST, FITS, NO, STATUS, UNKNOWN, WATCH
from kesh.base.units import Units
from kesh.geometry.columns import words_of
from kesh.geometry.outline import Floats
from kesh.model import Pot

# no part at nought can win, and none makes all others worthless [J]
LEAST_PART = 0.02
# the place of each status, by its number, among pots from best to worst
VERDICT_ORDER = np.array([BEST_FIRST.index(word) for word in STATUS])


def _speaks(code: str, status: int) -> bool:
    """Whether a finding says something against a pot: what is open only where the answer hangs on it."""
    return status in (NO, WATCH) or (status == UNKNOWN and code in KEY_RULES)


@dataclass(frozen=True)
class Ranked:
    """One pot in the order."""

    pot: Pot
    verdict: str
    score: float
    parts: dict[str, float]
    blockers: tuple[str, ...]
    reason: str
    smallest_fix: str
    misses: tuple[str, ...]
    answers: Answers = field(default_factory=Answers)
    # what is no property of the pair but is told beside the name: it holds another tree, it is kept for one
    fact: str = ""
    # the three answers in a few words each
    told: tuple[str, str, str] = ("", "", "")

    def as_json(self) -> dict[str, Any]:
        """The keys of the ranking."""
        return {
            "pot": self.pot.id,
            "verdict": self.verdict,
            "score": round(self.score, 6),
            "parts": {k: round(v, 6) for k, v in self.parts.items()},
            "answers": self.answers.as_json(),
            "blockers": list(self.blockers),
            "reason": self.reason,
            "smallest_fix": self.smallest_fix or None,
        }


@dataclass(frozen=True)
class Ranking:
    """N pots in order, best first. Entries are worded on demand."""

    figures: Figures
    checks: tuple[tuple[Rule, Result], ...]
    units: Units
    # the pot in which the tree stands, ranked as it stands there: mix, seat and day are those of its planting
    own: "Ranking | None" = None

    @once
    def own_at(self) -> int:
        """The number of the pot in which the tree stands; -1 where it is not among them."""
        if self.own is None:
            return -1
        key = self.own.figures.pots.pots[0].id
        return next((i for i, pot in enumerate(self.figures.pots.pots) if pot.id == key), -1)

    def __len__(self) -> int:
        return len(self.figures.pots)

    @once
    def status(self) -> NDArray[np.int8]:
        """Status of every rule (R, N)."""
        return np.array([result.status for _, result in self.checks])

    @once
    def parts(self) -> dict[str, Floats]:
        """Score by part, 0..1, (N,)."""
        found: dict[str, Floats] = {}
        for part in PARTS:
            rows = [
                (rule.weight, result.close) for rule, result in self.checks if rule.part == part and rule.weight > 0
            ]
            total = sum(weight for weight, _ in rows)
            found[part] = sum((w * c for w, c in rows), np.zeros(len(self))) / total if total else np.ones(len(self))
        return found

    @once
    def score(self) -> Floats:
        """Weighted product of the parts, 0..1, (N,)."""
        found = np.ones(len(self))
        for name, weight in PARTS.items():
            found = found * np.maximum(self.parts[name], LEAST_PART) ** weight
        if self.own is not None and self.own_at >= 0:
            found[self.own_at] = self.own.score[0]
        return found

    @once
    def answers(self) -> NDArray[np.int8]:
        """The three answers as numbers, lives, work, looks, (3, N)."""
        found = answer_arrays(self.checks, len(self), dated=self.figures.case.dated)
        if self.own is not None and self.own_at >= 0:
            found[:, self.own_at] = self.own.answers[:, 0]
        return found

    @once
    def verdict(self) -> NDArray[np.int8]:
        """fits, watch, no or unknown as a number, (N,)."""
        return verdict_of(self.answers)

    @once
    def refusing(self) -> NDArray[np.bool_]:
        """Which rules refuse a pot where they say no (R,): those of life and work."""
        dated = self.figures.case.dated
        return np.array([question_of(r.code) in ("lives", "work") and counts(r.code, dated) for r, _ in self.checks])

    @once
    def blocked(self) -> NDArray[np.int64]:
        """How many rules refuse each pot, (N,)."""
        found = np.asarray(((self.status == NO) & self.refusing[:, None]).sum(axis=0))
        if self.own is not None and self.own_at >= 0:
            found[self.own_at] = self.own.blocked[0]
        return found

    @once
    def order(self) -> NDArray[np.intp]:
        """Pot numbers, best first; ties go by the pot's id, never by its place in the list."""
        if not len(self):
            return np.zeros(0, dtype=np.intp)
        names, codes = words_of(self.figures.pots, "id")
        worst = VERDICT_ORDER[self.verdict]
        return np.lexsort((np.array(names)[codes], -np.round(self.score, 9), self.blocked, worst))

    def missing(self) -> tuple[str, int]:
        """(code, pots) where nothing fits: the finding that alone keeps most pots from it, and how many those are; empty else."""
        if not len(self) or bool((self.verdict == FITS).any()):
            return "", 0
        dated = self.figures.case.dated
        named = np.array([counts(r.code, dated) and question_of(r.code) in QUESTIONS for r, _ in self.checks])
        key = np.array([r.code in KEY_RULES for r, _ in self.checks])[:, None]
        bad = named[:, None] & ((self.status == NO) | (self.status == WATCH) | ((self.status == UNKNOWN) & key))
        alone = bad & (bad.sum(axis=0) == 1)[None, :]
        by_rule = alone.sum(axis=1)
        best = int(by_rule.argmax())
        return (self.checks[best][0].code, int(by_rule[best])) if by_rule[best] else ("", 0)

    def entry(self, place: int) -> Ranked:
        """The pot at a place in the order, 0 best."""
        i = int(self.order[place])
        return self.entry_of(i)

    def entry_of(self, i: int) -> Ranked:
        """The entry of pot number i in the list that was ranked."""
        if self.own is not None and i == self.own_at:
            return self.own.entry_of(0)
        dated = self.figures.case.dated
        misses = [
            (int(result.status[i] != NO), float(result.close[i]), rule, result)
            for rule, result in self.checks
            if _speaks(rule.code, int(result.status[i]))
            and counts(rule.code, dated)
            and question_of(rule.code) in QUESTIONS
        ]
        faulty = bool(self.figures.faulty[i])
        if faulty:
            # nothing else can be said of a record that cannot be reckoned
            misses = [(0, 0.0, rule, result) for rule, result in self.checks if rule.code == "record"]
        blockers = tuple(
            rule.code
            for (rule, result), no in zip(self.checks, self.refusing, strict=True)
            if no and result.status[i] == NO
        )
        # where the pot as a whole cannot be judged, what is missing for it comes before what is known to be amiss
        open_ = {rule.code for rule, result in self.checks if rule.code in KEY_RULES and result.status[i] == UNKNOWN}
        first = open_ if self.verdict[i] == UNKNOWN else set(blockers)
        misses.sort(key=lambda m: (m[2].code not in first, m[0], m[1]))
        words = [
            rule.said(self.figures, result, i, self.units) for _, _, rule, result in misses[: max(3, len(blockers))]
        ]
        # the nearest miss is the blocker closest to its limit; mending all blockers makes the pot fit
        fixes = [w.fix for w in words[: max(1, len(blockers))] if w.fix]
        return Ranked(
            pot=self.figures.pots.pots[i],
            verdict=STATUS[int(self.verdict[i])],
            score=float(self.score[i]),
            parts={name: float(values[i]) for name, values in self.parts.items()},
            blockers=blockers,
            reason=words[0].short if words else "inside every band",
            smallest_fix=" and ".join(dict.fromkeys(fixes)),
            misses=tuple(w.short for w in words),
            answers=(answers := self._answers_at(i, faulty)),
            fact=self._fact_of(i),
            told=self._told(i, answers, faulty),
        )

    def _told(self, i: int, answers: Answers, faulty: bool) -> tuple[str, str, str]:
        by_code = {rule.code: (rule, result) for rule, result in self.checks}

        def short(code: str) -> str:
            rule, result = by_code[code]
            return rule.said(self.figures, result, i, self.units).short

        if faulty:
            return short("record"), "not judged", "not judged"
        effort = work(self.figures, i)
        return answer_words(self.figures, i, answers, None if effort is None else effort.total, short)

    def _answers_at(self, i: int, faulty: bool) -> Answers:
        order = sorted(self.checks, key=lambda one: float(one[1].close[i]))
        rows = [(rule.code, STATUS[int(result.status[i])]) for rule, result in order]
        return answers_of(rows, faulty=faulty, dated=self.figures.case.dated)

    def _fact_of(self, i: int) -> str:
        found = next(((r, x) for r, x in self.checks if r.code == "pot_state" and x.status[i] != FITS), None)
        return "" if found is None else found[0].said(self.figures, found[1], i, self.units).short

    def entries(self, start: int = 0, stop: int | None = None) -> list[Ranked]:
        """A run of the order."""
        return [self.entry(place) for place in range(start, len(self) if stop is None else min(stop, len(self)))]


def rank(
    case: Case, pots: Sequence[Pot], units: Units | None = None, *, standing: tuple[Case, Pot] | None = None,
    years: Checks = (), own_years: Checks = (),
) -> Ranking:  # fmt: skip
    """Rank pots under the case's tree. An empty shelf gives an empty ranking.

    With `standing`, its case in the pot where it stands now, that pot is judged as it stands and not as one planted anew.
    `years` is what the years say of these pots, in their order, where they were reckoned; `own_years` of the standing one.
    """
    f = figures_for(case, pots if isinstance(pots, tuple) else tuple(pots))
    own = None if standing is None else rank(standing[0], (standing[1],), units, years=own_years)
    return Ranking(f, (*checked(f), *years) if pots else (), units or Units(), own)
