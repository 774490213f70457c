"""What stands on cards: how often, what work, how it looks, what keeps a whole shelf from fitting; and a long shelf's years."""

from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.answer_words import often_words
from kesh.advice.answers import KEY_RULES, QUESTIONS, answers_of, counts, question_of
from kesh.advice.case import case_for
from kesh.advice.finding import Result, Rule
from kesh.advice.rank import Ranking, rank
from kesh.advice.report import year as long_shelf
from kesh.advice.rules.year import YEAR_CODES
from kesh.base.status import STATUS
from kesh.base.words import a_few
from kesh.demo.lanternfield import demo_collection
from kesh.desk.lineup import none_fits
from kesh.reference.grounds import ground_of

DEMO = demo_collection()
SHELF = tuple(DEMO.pots.values())
DAY = date(2026, 3, 10)


def shelf(tree: str, pots: tuple[object, ...] = SHELF) -> Ranking:
    return rank(case_for(DEMO, tree, on=DAY), pots)  # type: ignore[arg-type]


@given(st.floats(0.02, 400))
def test_a_pot_that_lasts_longer_never_asks_oftener(days: float) -> None:
    order = ["times a day", "twice a day", "every day", "every other day", "every", "hardly ever"]

    def place(said: str) -> int:
        return next(
            i for i, words in enumerate(order) if said == words or (i in (0, 4) and said.startswith("every ") is (i == 4) and said not in order)
        )  # fmt: skip

    assert place(often_words(days)) <= place(often_words(days * 1.3))
    assert often_words(days).split()[0] not in ("0", "1")


@pytest.mark.parametrize("tree", DEMO.trees)
def test_every_card_says_three_things_and_each_is_whole(tree: str) -> None:
    ranking = shelf(tree)
    for entry in ranking.entries():
        assert len(entry.told) == 3
        for (_, answer), told in zip(entry.answers.each(), entry.told, strict=True):
            assert told
            assert not any(wrong in told for wrong in ("None", "nan", "inf ", "  "))
            assert not told.endswith((";", ",", "."))
            assert answer.status == "fits" or answer.because
            assert all(ground_of(code).title for code in answer.because)


@pytest.mark.parametrize("tree", ["tollgate", "old-ferryman", "long-rain"])
def test_answers_by_the_shelf_are_the_answers_one_by_one(tree: str) -> None:
    ranking = shelf(tree)
    for i in range(len(ranking)):
        rows = [(rule.code, STATUS[int(result.status[i])]) for rule, result in ranking.checks]
        alone = answers_of(rows, faulty=bool(ranking.figures.faulty[i]), dated=ranking.figures.case.dated)
        assert [STATUS[int(k)] for k in ranking.answers[:, i]] == [a.status for _, a in alone.each()]
        assert STATUS[int(ranking.verdict[i])] == alone.verdict


@pytest.mark.parametrize("tree", DEMO.trees)
def test_where_none_fits_it_says_what_alone_keeps_the_most_from_it(tree: str) -> None:
    whole = shelf(tree)
    unfit = tuple(pot for pot, v in zip(SHELF, whole.verdict, strict=True) if STATUS[int(v)] != "fits")
    if len(unfit) < len(SHELF):
        assert whole.missing() == ("", 0)
        assert none_fits(whole) == "none fits"
    ranking = shelf(tree, unfit)
    code, count = ranking.missing()
    # by hand: all that is against each pot, and the pots that have but one thing against them
    against = [
        [rule.code for rule, result in ranking.checks if speaks(rule, result, i, ranking.figures.case.dated)] for i in range(len(ranking))
    ]  # fmt: skip
    alone = [found[0] for found in against if len(found) == 1]
    assert count == max((alone.count(c) for c in set(alone)), default=0)
    assert (not code and not count) or alone.count(code) == count
    if code:
        assert none_fits(ranking).startswith("none fits, ")
        assert ground_of(code).title.lower() in none_fits(ranking).lower()


def speaks(rule: Rule, result: Result, i: int, dated: bool) -> bool:
    status = STATUS[int(result.status[i])]
    if question_of(rule.code) not in QUESTIONS or not counts(rule.code, dated):
        return False
    return status in ("watch", "no") or (status == "unknown" and rule.code in KEY_RULES)


def test_of_a_long_shelf_the_best_go_through_the_years_and_the_rest_keep_their_place(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    case = case_for(DEMO, "tollgate", on=DAY)
    monkeypatch.setattr(long_shelf, "MOST_IN_YEARS", 6)
    found, plain = long_shelf.ranked_in_years(case, SHELF), rank(case, SHELF)
    best = {int(i) for i in plain.order[:6]}
    rows = {rule.code: result for rule, result in found.checks if rule.code in YEAR_CODES}
    assert set(rows) == set(YEAR_CODES)
    for result in rows.values():
        told = {int(i) for i in np.flatnonzero(result.status != STATUS.index("unknown"))}
        assert told <= best
    # what was not reckoned says nothing for or against a pot
    for i in set(range(len(SHELF))) - best:
        assert (found.answers[:, i] == plain.answers[:, i]).all()
    whole = long_shelf.ranked_in_years(case, tuple(SHELF[i] for i in sorted(best)))
    for n, i in enumerate(sorted(best)):
        assert (found.answers[:, i] == whole.answers[:, n]).all()


def test_a_few_names_say_whether_there_are_more() -> None:
    assert a_few([]) == "none"
    assert a_few("ab") == "a, b"
    assert a_few("abc", most=2) == "a, b …"
    assert a_few({"x": 1}) == "x"
