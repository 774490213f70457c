"""Limits say the same as the rules, margins are monotone, what is not known is left out."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.design.aims import at_centre, away_from_school, joined_margin
from kesh.advice.design.limits import Limit, limits
from kesh.advice.design.space import Wishes
from kesh.advice.figures import figures_for
from kesh.demo.lanternfield import demo_collection
from kesh.model import Limits

DEMO = demo_collection()
POTS = [p for p in DEMO.pots.values() if p.profile.kind != "slab" and p.holes]


@pytest.mark.parametrize("tree", ["old-ferryman", "tollgate", "grey-heron", "seven-neighbours", "honeyjar"])
def test_a_limit_is_broken_just_where_its_rule_says_no(tree: str) -> None:
    case = at_centre(case_for(DEMO, tree))
    f = figures_for(case, POTS)
    found = {one.code: one for one in limits(f, Wishes())}
    for i, pot in enumerate(POTS):
        a = assess(case, pot)
        for code in ("wet_foot", "lift_mass", "tipping"):
            finding = a.finding(code)
            if finding is None or code not in found or finding.status == "unknown":
                continue
            assert bool(found[code].obeyed[i]) == (finding.status != "no"), (code, pot.id)
            # at ease is where the rule is at ease
            if code in ("wet_foot", "tipping"):
                assert (found[code].margin[i] >= -1e-9) == (finding.status == "fits"), (code, pot.id)


limit = st.builds(
    Limit, code=st.just("x"), words=st.just("x"), unit=st.just("mm"), value=st.lists(st.floats(0.1, 50), min_size=2, max_size=8).map(lambda v: np.sort(np.array(v))),
    limit=st.floats(1, 40), ease=st.floats(1, 40), most=st.booleans(), grows=st.just(True),
)  # fmt: skip


@given(limit)
def test_more_of_the_good_is_never_less_margin_and_over_is_what_is_missing(one: Limit) -> None:
    steps = np.diff(one.margin)
    assert np.all(steps <= 1e-12) if one.most else np.all(steps >= -1e-12)
    assert np.all(np.abs(one.margin) <= 1)
    target = float(one.limit)  # type: ignore[arg-type]
    assert np.array_equal(one.obeyed, one.value <= target + 1e-6 if one.most else one.value >= target - 1e-6)
    mended = one.value - one.over if one.most else one.value + one.over
    assert np.all(mended <= target + 1e-9) if one.most else np.all(mended >= target - 1e-9)


def test_not_a_number_breaks_nothing_and_gains_nothing() -> None:
    one = Limit("x", "x", "mm", np.array([np.nan, 5.0]), 4.0, 3.0, True, True)
    assert one.obeyed.tolist() == [True, False]
    assert one.margin[0] == 0


def test_only_what_is_known_and_asked_is_limited() -> None:
    bare = replace(case_for(DEMO, "old-ferryman"), mix=None, site=None)
    f = figures_for(bare, POTS[:3])
    assert {one.code for one in limits(f, Wishes())} <= {
        "lift_out", "root_removal", "bench_length", "doorway", "depth_band", "depth_band_least", "length_band", "length_band_least",
    }  # fmt: skip
    asked = replace(bare, brief=bare.brief.changed(limits=Limits(car_height_mm=700.0)))
    codes = {one.code for one in limits(figures_for(asked, POTS[:3]), Wishes(room_mm=(500, 400, 200)))}
    assert {"car_height", "room_length", "room_width", "room_height"} <= codes
    assert "bench_length" not in codes


def test_the_middle_of_every_band_is_nearest_to_the_school() -> None:
    case = at_centre(case_for(DEMO, "tollgate"))
    b = case.bands
    assert b.depth.low is not None
    assert b.depth.high is not None
    assert b.length.low is not None
    assert b.length.high is not None
    base = DEMO.pots["gate-oval"].changed(outline=DEMO.pots["gate-tray"].outline)
    middle = base.changed(
        length_mm=(b.length.low + b.length.high) / 2,
        height_mm=(b.depth.low + b.depth.high) / 2 + base.floor_mm + base.feet_mm,
    )
    for changes in (
        {"length_mm": b.length.high * 1.3},
        {"length_mm": b.length.low * 0.8},
        {"height_mm": middle.height_mm * 1.6},
    ):
        near, far = away_from_school(figures_for(case, [middle, middle.changed(**changes)]))
        assert near < far


@given(st.lists(st.lists(st.floats(-1, 1), min_size=4, max_size=4), min_size=1, max_size=6))
def test_the_joined_margin_lies_between_the_worst_and_the_mean(rows: list[list[float]]) -> None:
    table = np.array(rows)
    found = joined_margin(list(table), 4)
    assert np.all(found >= table.min(axis=0) - 1e-12)
    assert np.all(found <= table.mean(axis=0) + 1e-12)
    assert joined_margin([], 4).tolist() == [0, 0, 0, 0]
