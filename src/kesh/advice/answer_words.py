"""The three answers in a few words each, as they stand on cards and rows: how it is watered or what is wrong, what work, how it looks."""

from collections.abc import Callable

import numpy as np

from kesh.advice.answers import Answer, Answers
from kesh.advice.figures import Figures
from kesh.advice.roots.this_year import this_year
from kesh.science.season.season import MONTHS

MOST_SHORTS = 2
# words of the work that the line of figures says already
SAID_BY_FIGURES = frozenset({"root_removal"})


def often_words(days: float) -> str:
    """How often a pot asks that lasts so long."""
    if days < 0.42:
        return f"{1 / max(days, 1e-6):.0f} times a day"
    if days < 0.75:
        return "twice a day"
    if days < 1.4:
        return "every day"
    if days < 2.5:
        return "every other day"
    return f"every {days:.0f} days" if days < 45 else "hardly ever"


def lives_words(f: Figures, i: int, answer: Answer, short: Callable[[str], str]) -> str:
    """What is wrong, else how often it asks for water in the warmest month: usual for such a pot."""
    if answer.status != "fits":
        return "; ".join(short(code) for code in answer.because[:MOST_SHORTS])
    use, peak = f.use, f.peak
    if use is None or peak is None or not np.isfinite(use.days_between[i]):
        return "nothing against it"
    return f"{MONTHS[peak.month - 1]}: {often_words(float(use.days_between[i]))}, as usual here"


def work_words(f: Figures, i: int, answer: Answer, minutes: float | None, short: Callable[[str], str]) -> str:
    """Time and share of the roots, in how many years, and what stands in the way."""
    told = []
    if minutes is not None:
        told.append(
            f"{5 * max(1, round(minutes / 5))} min" if minutes < 57 else f"{minutes / 60:.1f} h".replace(".0 h", " h")
        )
    year = this_year(f, i)
    if year is not None and year.whole_share >= 0.005:
        part = f"{year.whole_share:.0%} of roots"
        told.append(f"{part}, in {year.repottings} repottings" if year.repottings > 1 else part)
    elif year is not None:
        told.append("no roots off")
    rest = [short(code) for code in answer.because if code not in SAID_BY_FIGURES]
    if year is None or (answer.status == "no" and not rest):
        rest = [short(code) for code in answer.because]
    return "; ".join((*told[:2], *rest[:1])) or "nothing against it"


def looks_words(answer: Answer, short: Callable[[str], str]) -> str:
    """What is off the school, else that it lies inside."""
    if answer.status == "fits":
        return "inside every band"
    return "; ".join(short(code) for code in answer.because[:MOST_SHORTS])


def answer_words(
    f: Figures, i: int, answers: Answers, minutes: float | None, short: Callable[[str], str]
) -> tuple[str, str, str]:
    """All three; `short` gives the few words of a finding by its code."""
    return (
        lives_words(f, i, answers.lives, short), work_words(f, i, answers.work, minutes, short), looks_words(answers.looks, short),
    )  # fmt: skip
