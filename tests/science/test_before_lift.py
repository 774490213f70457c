"""Seven signs before lifting: what each says, what holds together, and both views on white tips."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of, read_bundle
from kesh.model import SIGNS, Sign
from kesh.science.season.before_lift import ANSWERS, ASKED, HOLDS_DAYS, ORDER, before_lift, latest

TODAY = date(2026, 3, 10)
GOOD = {
    "buds": "swelling",
    "white_tips": "few",
    "cut_colour": "pale",
    "smell": "earth",
    "wobble": "firm",
    "leaves": "none",
    "work": "none",
}


def seen(**answers: str) -> list[Sign]:
    return [Sign(date=TODAY, sign=sign, value=value) for sign, value in answers.items()]


def test_all_good_says_go_and_nothing_is_open() -> None:
    found = before_lift(seen(**GOOD), TODAY)
    assert found.verdict == "go"
    assert found.open == ()
    assert found.limit_share == 1
    assert set(ANSWERS) == set(ASKED) == set(SIGNS)
    nothing = before_lift([], TODAY)
    assert nothing.verdict == "go"
    assert nothing.told == ()
    assert nothing.open == SIGNS


@pytest.mark.parametrize(
    ("sign", "value", "verdict"),
    [("white_tips", "many", "wait"), ("leaves", "wilted", "wait"), ("work", "recent", "wait"), ("cut_colour", "brown", "care"),
     ("smell", "sour", "care"), ("wobble", "loose", "care"), ("buds", "in_leaf", "care"), ("buds", "resting", "go")],
)  # fmt: skip
def test_one_grave_sign_decides(sign: str, value: str, verdict: str) -> None:
    found = before_lift(seen(**(GOOD | {sign: value})), TODAY)
    assert found.verdict == verdict
    assert verdict == "go" or found.told[0].verdict == verdict


def test_both_views_on_white_tips() -> None:
    many = seen(**(GOOD | {"white_tips": "many"}))
    stop, care = before_lift(many, TODAY), before_lift(many, TODAY, tips_stop=False)
    assert (stop.verdict, stop.limit_share) == ("wait", 1)
    assert (care.verdict, care.limit_share) == ("care", 0.7)


def test_rot_does_not_wait() -> None:
    found = before_lift(seen(**(GOOD | {"cut_colour": "brown", "leaves": "wilted", "work": "recent"})), TODAY)
    assert found.rot
    assert found.verdict == "care"
    assert any("whatever the season" in t.text for t in found.told)


def test_answers_grow_old_and_the_last_one_counts() -> None:
    old = Sign(date=TODAY - timedelta(days=HOLDS_DAYS + 1), sign="leaves", value="wilted")
    assert before_lift([old], TODAY).told == ()
    first = Sign(date=TODAY - timedelta(days=9), sign="leaves", value="wilted")
    assert latest([first, *seen(leaves="firm")], TODAY) == {"leaves": "firm"}
    assert latest([*seen(leaves="firm"), first], TODAY) == {"leaves": "firm"}
    # a day that is still to come, and a word that nobody knows, say nothing
    assert (
        latest(
            [
                Sign(date=TODAY + timedelta(days=3), sign="buds", value="opening"),
                Sign(date=TODAY, sign="smell", value="7"),
            ],
            TODAY,
        )
        == {}
    )


@given(st.dictionaries(st.sampled_from(SIGNS), st.integers(0, 3)), st.booleans())
def test_one_more_sign_never_makes_it_milder_but_for_rot(picks: dict[str, int], tips_stop: bool) -> None:
    answers = {sign: list(ANSWERS[sign])[n % len(ANSWERS[sign])] for sign, n in picks.items()}
    whole = before_lift(seen(**answers), TODAY, tips_stop=tips_stop)
    assert [ORDER[t.verdict] for t in whole.told] == sorted((ORDER[t.verdict] for t in whole.told), reverse=True)
    for sign in answers:
        less = before_lift(seen(**{k: v for k, v in answers.items() if k != sign}), TODAY, tips_stop=tips_stop)
        assert ORDER[less.verdict] <= ORDER[whole.verdict] or whole.rot


def test_the_finding_tells_it_and_the_limit_follows_the_view() -> None:
    held = demo_collection()
    tree = held.trees["mossback"].changed(signs=tuple(seen(white_tips="many")))
    held = replace(held, trees={**held.trees, "mossback": tree})
    pot = held.pots["thrush-oval"] if "thrush-oval" in held.pots else next(iter(held.pots.values()))
    plain = case_for(demo_collection(), "mossback", pot_id=pot.id, season="best", today=TODAY)
    stop = assess(case_for(held, "mossback", pot_id=pot.id, season="best", today=TODAY), pot)
    found = stop.finding("before_lift")
    assert found is not None
    assert found.status == "watch"
    assert "wait" in found.text
    assert stop.case.limit_share == plain.limit_share
    brief = held.briefs.get("mossback")
    assert brief is not None
    careful = replace(held, briefs={**held.briefs, "mossback": brief.changed(tips_stop=False)})
    case = case_for(careful, "mossback", pot_id=pot.id, season="best", today=TODAY)
    assert case.limit_share == pytest.approx(0.7 * (plain.limit_share or 0))
    # the verdict on the pot does not hang on the day
    assert assess(plain, pot).verdict == stop.verdict
    assert assess(plain, pot).finding("before_lift") is None


def test_signs_go_through_a_bundle_and_numbers_of_others_are_kept_as_words() -> None:
    document = bundle_of(demo_collection())
    row = next(t for t in document["trees"] if t["id"] == "wicket")
    row["signs"] = [
        {"date": "2026-03-01", "sign": "buds", "value": "swelling"},
        {"sign": "white_tips", "value": 3, "by": "me"},
    ]
    signs = read_bundle(document).trees["wicket"].signs
    assert [(s.sign, s.value) for s in signs] == [("buds", "swelling"), ("white_tips", "3")]
    again = read_bundle(bundle_of(read_bundle(document)))
    assert again.trees["wicket"].signs == signs
