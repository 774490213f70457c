"""The three answers on a tree in a pot, and the one verdict that follows: lives it there, what work is it, how does it look.

A finding belongs to exactly one question, by the catalogue. Verdict by docs/methods.md, "three answers and one verdict".
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from kesh.advice.finding import Result, Rule
from kesh.base.status import FITS, GRAVEST_FIRST, NO, STATUS, UNKNOWN, WATCH, gravity
from kesh.reference.grounds import ground_of

Asked = Literal["lives", "work", "looks"]
QUESTIONS: tuple[Asked, ...] = ("lives", "work", "looks")
# while one of these is not known the answer it belongs to is not known either; others that are open leave it standing
KEY_RULES = frozenset({"record", "root_removal", "wet_foot", "drain_holes", "depth_band", "length_band"})
# what was seen of the tree today is no property of the pair; nor is the day, until a plan has one
NOT_COUNTED = frozenset({"season", "before_lift"})
# by number, as arrays hold statuses: how grave each is
GRAVITY = np.array([GRAVEST_FIRST.index(word) for word in STATUS])


@cache
def question_of(code: str) -> str:
    """lives, work, looks, or record for a fact about what was entered."""
    return ground_of(code).question


@dataclass(frozen=True)
class Answer:
    """One answer, and the codes of the findings it rests on, the gravest first; none where all fits."""

    status: str = "fits"
    because: tuple[str, ...] = ()


@dataclass(frozen=True)
class Answers:
    """The three, always in this order."""

    lives: Answer = field(default_factory=Answer)
    work: Answer = field(default_factory=Answer)
    looks: Answer = field(default_factory=Answer)

    def each(self) -> tuple[tuple[Asked, Answer], ...]:
        """(question, answer) in their order."""
        return ("lives", self.lives), ("work", self.work), ("looks", self.looks)

    @property
    def verdict(self) -> str:
        """fits, watch, no or unknown of the whole."""
        return STATUS[int(verdict_of(np.array([[STATUS.index(a.status)] for _, a in self.each()]))[0])]

    @property
    def gravest(self) -> tuple[Asked, Answer]:
        """The one that says most against it."""
        return min(self.each(), key=lambda one: gravity(one[1].status))

    def as_json(self) -> dict[str, dict[str, object]]:
        """The keys of report and ranking."""
        return {key: {"status": one.status, "because": list(one.because)} for key, one in self.each()}


def counts(code: str, dated: bool = False) -> bool:
    """Whether a finding counts for its answer; the season does where the plan has a day."""
    return code not in NOT_COUNTED or (code == "season" and dated)


def _of_one(rows: Iterable[tuple[str, str]], question: str, dated: bool) -> Answer:
    mine = [(code, status) for code, status in rows if question_of(code) == question and counts(code, dated)]
    for wanted in ("no", "unknown", "watch"):
        found = [code for code, status in mine if status == wanted and (wanted != "unknown" or code in KEY_RULES)]
        if found:
            rest = [code for code, status in mine if status == "watch" and wanted != "watch"]
            return Answer(wanted, (*found, *rest))
    return Answer()


def answers_of(rows: Iterable[tuple[str, str]], *, faulty: bool = False, dated: bool = False) -> Answers:
    """The three answers from (code, status) of all findings; of a record that cannot be reckoned nothing is known."""
    if faulty:
        return Answers(*(Answer("unknown", ("record",)) for _ in QUESTIONS))
    each = list(rows)
    return Answers(*(_of_one(each, question, dated) for question in QUESTIONS))


def answer_arrays(checks: Sequence[tuple[Rule, Result]], n: int, *, dated: bool = False) -> NDArray[np.int8]:
    """The three answers of N pots as numbers (3, N): no where a finding says so, else unknown, else watch, else fits."""
    found = np.full((len(QUESTIONS), n), FITS, dtype=np.int8)
    if not checks:
        found[:] = UNKNOWN
        return found
    for row, question in enumerate(QUESTIONS):
        mine = [(rule, r) for rule, r in checks if question_of(rule.code) == question and counts(rule.code, dated)]
        if not mine:
            continue
        status = np.array([result.status for _, result in mine])
        key = np.array([rule.code in KEY_RULES for rule, _ in mine])[:, None]
        no, watch = (status == NO).any(axis=0), (status == WATCH).any(axis=0)
        open_ = ((status == UNKNOWN) & key).any(axis=0)
        found[row] = np.where(no, NO, np.where(open_, UNKNOWN, np.where(watch, WATCH, FITS)))
    return found


def verdict_of(answers: NDArray[np.int8] | NDArray[np.int64]) -> NDArray[np.int8]:
    """The verdict on N pots from their three answers (3, N). Looks alone never refuse."""
    lives, work, looks = answers
    no = (lives == NO) | (work == NO)
    unknown = (lives == UNKNOWN) | (work == UNKNOWN)
    fits = (lives == FITS) & (work == FITS) & (looks == FITS)
    return np.where(no, NO, np.where(unknown, UNKNOWN, np.where(fits, FITS, WATCH))).astype(np.int8)
