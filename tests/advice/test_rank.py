"""The ranking: independent of order, blockers first in the reason, mended by its own smallest fix."""

import math
import random
from dataclasses import replace
from datetime import date
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.answers import question_of
from kesh.advice.assess import assess
from kesh.advice.case import Case, case_for
from kesh.advice.checks import RULES
from kesh.advice.finding import PARTS
from kesh.advice.rank import rank
from kesh.advice.why import why
from kesh.base.status import STATUS
from kesh.base.units import Units
from kesh.line.verbs.rank import run_rank
from kesh.line.verbs.report import run_report
from kesh.model import Brief, Collection, Lineup, Override, Pot, Rejection, Trial
from kesh.reference.grounds import grounds
from tests.builders import MIX, SITE, planting, pot, tree


def bench(**more: Any) -> Collection:
    """A maple, a shelf of one tray, a mix and a site."""
    base: dict[str, Any] = {"site": SITE, "trees": {"maple": tree()}, "pots": {"tray": pot()}, "mixes": {"house": MIX}}
    return Collection(**(base | more))


def maple(season: str = "best", **more: Any) -> Case:
    return case_for(bench(**more), "maple", season=season)


sizes = st.tuples(
    st.floats(150, 600),
    st.floats(0.6, 1),
    st.floats(40, 220),
    st.sampled_from(["rectangle", "oval", "lobed", "polygon"]),
)


def shelf(rows: list[tuple[float, float, float, str]]) -> list[Pot]:
    return [
        pot(
            id=f"p{i:03}", length_mm=length, width_mm=max(length * share, 120), height_mm=height, outline={"kind": kind}
        )
        for i, (length, share, height, kind) in enumerate(rows)
    ]


@given(st.lists(sizes, min_size=1, max_size=9), st.integers(0, 999))
def test_another_order_of_the_list_gives_the_same_ranking(rows: list, seed: int) -> None:
    pots = shelf(rows)
    mixed = pots[:]
    random.Random(seed).shuffle(mixed)
    a = [e.as_json() for e in rank(maple(), pots).entries()]
    b = [e.as_json() for e in rank(maple(), mixed).entries()]
    assert a == b


@given(st.lists(sizes, min_size=1, max_size=6))
def test_scores_are_shares_and_verdicts_follow_their_findings(rows: list) -> None:
    for entry in rank(maple(), shelf(rows)).entries():
        assert 0 <= entry.score <= 1
        assert set(entry.parts) == set(PARTS)
        assert all(0 <= v <= 1 for v in entry.parts.values())
        assert bool(entry.blockers) == (entry.verdict == "no")
        # a weighted geometric mean: a part at nought is a fiftieth, so that it cannot win
        assert entry.score == pytest.approx(math.prod(max(v, 0.02) ** PARTS[k] for k, v in entry.parts.items()))


@given(sizes)
def test_ranking_and_assessment_say_the_same_of_one_pot(row: tuple) -> None:
    p = shelf([row])[0]
    entry, a = rank(maple(), [p]).entry(0), assess(maple(), p)
    found = {f.code: f.status for f in a.findings}
    assert set(entry.blockers) <= {code for code, status in found.items() if status == "no"}


def test_best_first_and_ties_by_id() -> None:
    good, deep, tiny = pot(id="b"), pot(id="deep", height_mm=260), pot(id="tiny", length_mm=150, width_mm=120)
    ranking = rank(maple(), [tiny, deep, good, good.changed(id="a")])
    order = [e.pot.id for e in ranking.entries()]
    assert order[:2] == ["a", "b"]
    verdicts = [e.verdict for e in ranking.entries()]
    assert verdicts.index("no") >= 2


def test_the_reason_names_the_gravest_miss_and_the_fix_mends_it() -> None:
    entry = rank(maple(), [pot(holes=())]).entry(0)
    assert entry.verdict == "no"
    assert "drain_holes" in entry.blockers
    assert "drill" in entry.smallest_fix
    mended = rank(maple(), [pot()]).entry(0)
    assert "drain_holes" not in mended.blockers


def test_a_pot_too_shallow_is_mended_by_the_depth_it_asks_for() -> None:
    # the classical school asks for 0.8 x 70 mm at least
    shallow = pot(height_mm=45)
    fixes = assess(maple(), shallow).finding("depth_band")
    assert fixes is not None
    assert fixes.status == "no"
    mended = shallow.changed(height_mm=45 + fixes.low - shallow.inner_depth_mm)
    assert assess(maple(), mended).finding("depth_band").status == "fits"  # type: ignore[union-attr]


def test_an_empty_shelf_gives_an_empty_ranking() -> None:
    ranking = rank(maple(), [])
    assert len(ranking) == 0
    assert ranking.entries() == []


def test_a_tree_with_nothing_measured_is_unknown_not_wrong() -> None:
    blank = tree(m=dict.fromkeys(("height_mm", "trunk_diameter_mm", "canopy_left_mm", "canopy_right_mm")), roots=None)
    entry = rank(case_for(bench(trees={"maple": blank}), "maple", season="best"), [pot()]).entry(0)
    assert entry.verdict == "unknown"


def test_an_override_softens_its_finding_and_stays_in_sight() -> None:
    plain = assess(maple(), pot(height_mm=45)).finding("depth_band")
    kept = Override(id="maple/depth_band", tree="maple", code="depth_band", reason="I like it thin.")
    a = assess(maple(overrides=(kept,)), pot(height_mm=45))
    finding = a.finding("depth_band")
    assert plain is not None
    assert finding is not None
    assert (plain.status, finding.status) == ("no", "watch")
    assert "I like it thin." in finding.text
    assert finding.as_json()["override"] == "I like it thin."
    assert "depth_band" not in rank(maple(overrides=(kept,)), [pot(height_mm=45)]).entry(0).blockers


def test_rejected_and_taken_pots_say_so() -> None:
    no = Rejection(id="maple/tray", tree="maple", pot="tray", reason="Too red.")
    entry = rank(maple(rejections=(no,)), [pot()]).entry(0)
    assert "rejected" in entry.fact
    other = tree(id="elm", name="Elm")
    held = bench(trees={"maple": tree(), "elm": other}, plantings=(planting(tree="elm"),))
    case = case_for(held, "maple", season="best")
    assert case.taken == {"tray": "Elm"}
    assert assess(case, pot()).finding("pot_state").status == "watch"  # type: ignore[union-attr]


def test_a_trial_moves_the_trunk_in_its_own_pot_only() -> None:
    lineup = Lineup(id="maple", pots=("a", "b"), trials=(Trial(pot="a", offset_x_mm=-60),))
    case = maple(lineups={"maple": lineup})
    pots = [pot(id="a"), pot(id="b")]
    ranking = rank(case, pots)
    roots = ranking.figures.roots
    assert roots is not None
    assert roots.off_left_mm[0] > roots.off_left_mm[1]
    assert assess(case, pots[0]).seat.x_mm == -60
    assert assess(case, pots[1]).seat.x_mm == 0


def test_growing_on_is_not_judged_by_display() -> None:
    from kesh.model import Brief, Purpose

    deep = pot(height_mm=200)
    shown = assess(maple(), deep).finding("depth_band")
    grown = assess(maple(briefs={"maple": Brief(id="maple", purpose=Purpose.GROW_ON)}), deep).finding("depth_band")
    assert shown is not None
    assert grown is not None
    assert shown.status == "no"
    assert grown.status in ("fits", "watch")


def test_visual_mass_is_not_asked_of_hanging_and_growing_trees() -> None:
    for t in (tree(style="cascade", m={"drop_mm": 200}), tree(stage="developing"), tree(style="forest")):
        case = case_for(bench(trees={"maple": t}), "maple", season="best")
        assert assess(case, pot()).finding("visual_mass") is None
    assert assess(maple(), pot()).finding("visual_mass") is not None


@pytest.mark.parametrize(
    "change",
    [
        {},
        {"holes": ()},
        {"height_mm": 45},
        {"height_mm": 240},
        {"profile": {"kind": "slab"}, "height_mm": 30},
        {"state": "wish", "price": 900},
    ],
)
def test_every_finding_has_words_and_grounds(change: dict) -> None:
    a = assess(maple(), pot(**change))
    assert {f.code for f in a.findings} <= set(grounds())
    for f in a.findings:
        assert f.text.endswith((".", "!")) or f.text.endswith("?"), f.text
        assert f.source
        if f.status in ("no", "watch") and f.code != "season":
            assert f.remedy, f.code
        found = why(a, f.code, Units())
        assert found is not None
        assert found.rule
        assert found.sure


def test_grounds_cover_every_rule() -> None:
    assert {rule.code for rule in RULES} <= set(grounds())


def test_units_reach_every_sentence() -> None:
    for f in assess(maple(), pot(height_mm=45), Units(length="inch", volume="quart", mass="lb")).findings:
        assert " mm" not in f.text + f.remedy, f.text
        assert " kg" not in f.text, f.text


def test_a_season_that_is_wrong_cuts_the_limit_but_does_not_judge_the_pot() -> None:
    a = assess(maple("wrong"), pot())
    assert a.finding("season").status == "no"  # type: ignore[union-attr]
    assert a.case.limit_share == pytest.approx(0.55 * 0.85 * 0.3)
    refuse = {f.code for f in a.findings if f.status == "no" and question_of(f.code) in ("lives", "work")}
    assert (a.verdict == "no") == bool(refuse - {"season"})


@pytest.mark.parametrize("key", ["old-ferryman", "rope-ladder", "tidewater", "seven-neighbours"])
def test_a_pot_is_judged_alike_alone_and_in_company(demo: Collection, key: str) -> None:
    shallow = pot(id="shallow", height_mm=24, floor_mm=10)
    pots = (*demo.pots.values(), shallow)
    ranking = rank(case_for(demo, key), pots)
    for i, one in enumerate(pots):
        assert rank(case_for(demo, key), (one,)).entry(0) == ranking.entry_of(i), one.id


def test_rank_and_report_say_one_thing_of_the_pot_a_tree_stands_in(demo: Collection) -> None:
    day = date(2026, 3, 10)
    told = 0
    for key in demo.trees:
        planting = demo.planting_of(key)
        if planting is None:
            continue
        # the years of a whole shelf take seconds: two pots tell
        c = replace(demo, pots={k: demo.pots[k] for k in (planting.pot, "ferry-tray")})
        entry = next(e for e in run_rank(c, key, None, None, None, day)["ranking"] if e["pot"] == planting.pot)
        report = run_report(demo, key, planting.pot, None, None, None, None, day)
        assert entry["verdict"] == report["verdict"], key
        assert {k: v["status"] for k, v in entry["answers"].items()} == {
            k: v["status"] for k, v in report["answers"].items()
        }, key
        told += 1
    assert told == len(demo.trees)


def test_root_work_is_meant_for_the_next_window_until_somebody_says_otherwise(demo: Collection) -> None:
    december, tree = date(2026, 12, 10), "mossback"
    demo = replace(demo, briefs={**demo.briefs, tree: Brief(id=tree)})
    meant = case_for(demo, tree, today=december)
    assert meant.window is not None
    assert meant.window.status == "wrong"
    assert meant.season == "best"
    pots = tuple(demo.pots.values())
    ranked = rank(meant, pots)
    spring = rank(case_for(demo, tree, today=date(2026, 3, 10)), pots)
    assert [STATUS[v] for v in ranked.verdict] == [STATUS[v] for v in spring.verdict]
    a = assess(meant, pots[0]).finding("season")
    assert a is not None
    assert a.status == "fits"
    assert "is meant for its window" in a.text
    # a day that is asked about tells its own season and leaves the plan as it is; a brief that says so is judged by the day
    asked = case_for(demo, tree, on=december)
    assert asked.window is not None
    assert (asked.window.status, asked.season) == ("wrong", "best")
    said = replace(demo, briefs={**demo.briefs, tree: Brief(id=tree, season="today")})
    assert case_for(said, tree, today=december).season == "wrong"
    assert case_for(said, tree, today=december, season="edge").season == "edge"
