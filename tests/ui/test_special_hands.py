"""Grips of special plantings: where they lie, what a pull makes of them, and pulls that make no sense."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.kinds.kind import Grip
from kesh.advice.kinds.kinds import kind_of
from kesh.advice.kinds.plan import Setting
from kesh.advice.kinds.registry import special_plan
from kesh.base.errors import FieldError, KeshError
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.desk.special import grips, pulled
from kesh.model import Planting

DAY = date(2026, 6, 20)
SPECIAL = (
    "saddlestone", "stilt-house", "rope-ladder", "new-leaf", "cellar-door", "dry-well", "walking-stick", "wicket", "driftline",
    "tidewater", "tollgate",
)  # fmt: skip
COLLECTION = demo_collection()
# the kinds that a planting carries beside what it is by style
BESIDE = {"wicket": "companion", "tidewater": "aerial", "tollgate": "graft"}
# grips that go one way only: along the trunk, the tube, the stake
UPRIGHT = {
    "tube:lower", "layer:cut", "cutting:deep", "tub:stake", "desert:soil", "slab:mound", "graft:join", "aerial:from", "rock:loop:0",
    "rock:loop:1", "rock:loop:2",
}  # fmt: skip


def setting_of(key: str, planting: Planting | None = None) -> Setting:
    """A demo tree in its pot, planted as it is or as told."""
    planted = planting or COLLECTION.planting_of(key)
    assert planted is not None
    case = case_for(COLLECTION, key, pot_id=planted.pot, on=DAY)
    return Setting(assess(case, COLLECTION.pots[planted.pot]), planted, Units(), DAY)


SETTINGS = {key: setting_of(key) for key in SPECIAL}


def kind(key: str) -> str:
    return BESIDE.get(key) or kind_of(SETTINGS[key].planting, COLLECTION.trees[key])


def grip_of(s: Setting, what: str, key: str) -> Grip:
    return next(g for g in grips(s, what) if g.key == key)


def after(s: Setting, made: Planting) -> Setting:
    """The same tree and pot, planted otherwise."""
    return Setting(s.a, made, s.u, s.today)


ALL = [(key, grip.key) for key in SPECIAL for grip in grips(SETTINGS[key], kind(key))]


def test_every_kind_has_something_to_take_in_hand() -> None:
    assert {key for key, _ in ALL} == set(SPECIAL)
    keys = [one for _, one in ALL]
    assert len(keys) > 40, "a rock alone has its roots, bindings and corners"
    assert all(len({g.key for g in grips(s, kind(key))}) == len(grips(s, kind(key))) for key, s in SETTINGS.items())


@pytest.mark.parametrize(("tree", "key"), ALL)
def test_a_grip_that_is_let_go_where_it_lies_changes_nothing(tree: str, key: str) -> None:
    s = SETTINGS[tree]
    grip = grip_of(s, kind(tree), key)
    there = grip_of(after(s, pulled(s, key, grip.x_mm, grip.y_mm)), kind(tree), key)
    assert (there.x_mm, there.y_mm) == pytest.approx((grip.x_mm, grip.y_mm), abs=0.3)


@pytest.mark.parametrize(("tree", "key"), ALL)
def test_a_grip_goes_where_it_is_pulled(tree: str, key: str) -> None:
    s = SETTINGS[tree]
    grip = grip_of(s, kind(tree), key)
    dx, dy = 2.0, -3.0
    made = pulled(s, key, grip.x_mm + dx, grip.y_mm + dy)
    assert made != s.planting
    there = grip_of(after(s, made), kind(tree), key)
    if key.startswith(("companion:", "graft:at", "graft:edge")):
        # rays turn about the trunk: the side follows, the reach stays
        x, y = s.planting.offset_x_mm, s.planting.offset_y_mm
        assert (there.x_mm - x) ** 2 + (there.y_mm - y) ** 2 == pytest.approx(
            (grip.x_mm - x) ** 2 + (grip.y_mm - y) ** 2
        )
        assert (there.x_mm - x) * (grip.y_mm + dy - y) == pytest.approx((there.y_mm - y) * (grip.x_mm + dx - x), abs=30)
        return
    if key in UPRIGHT:
        assert there.y_mm == pytest.approx(grip.y_mm + dy, abs=0.2)
    elif key == "aerial:out":
        assert there.x_mm == pytest.approx(grip.x_mm + dx, abs=0.2)
    else:
        assert (there.x_mm, there.y_mm) == pytest.approx((grip.x_mm + dx, grip.y_mm + dy), abs=0.2)


@given(which=st.sampled_from(ALL), x=st.floats(-1e6, 1e6), y=st.floats(-1e6, 1e6))
def test_no_pull_however_far_breaks_anything(which: tuple[str, str], x: float, y: float) -> None:
    """It gives a planting whose plan can be told, or says in a sentence why not."""
    tree, key = which
    s = SETTINGS[tree]
    try:
        made = pulled(s, key, x, y)
    except KeshError:
        return
    there = after(s, made)
    assert [g.key for g in grips(there, kind(tree))] != []
    told = special_plan(there)
    assert told is not None
    assert "nan" not in told.title


def test_a_grip_that_is_none_is_a_sentence() -> None:
    with pytest.raises(FieldError, match="nothing that is moved"):
        pulled(SETTINGS["saddlestone"], "spoon:1", 0, 0)
    assert grips(SETTINGS["saddlestone"], "plain") == []


def test_what_nobody_entered_lies_where_the_plan_reckons_it() -> None:
    """Cut of a layer, depth of a cutting, end of a stake: one figure for the grip and for the words."""
    s = SETTINGS["new-leaf"]
    layer = s.planting.layer
    assert layer is not None
    s = after(s, s.planting.changed(layer=layer.changed(cut_mm=None)))
    assert grip_of(s, "layer", "layer:cut").y_mm == pytest.approx(s.foot[1] - 10)
    assert "cut 10 mm under" in special_plan(s).title  # type: ignore[union-attr]

    s = SETTINGS["walking-stick"]
    cutting = s.planting.cutting
    assert cutting is not None
    s = after(s, s.planting.changed(cutting=cutting.changed(grip_mm=None)))
    deep = s.a.pot.inner_depth_mm - s.a.case.headspace_mm
    assert grip_of(s, "cutting", "cutting:deep").y_mm == pytest.approx(s.soil_mm - deep)
    assert f"{deep:.0f} mm deep" in special_plan(s).title  # type: ignore[union-attr]

    s = SETTINGS["cellar-door"]
    tub = s.planting.tub
    assert tub is not None
    s = after(s, s.planting.changed(tub=tub.changed(stake_mm=None)))
    # between a third and a half of the stem: half way
    told = special_plan(s)
    assert told is not None
    end = grip_of(s, "fruit_tub", "tub:stake").y_mm - s.soil_mm
    stake = next(c for c in told.cuts if c.name == "stake")
    assert stake.total_mm > end > 0
    assert grips(after(s, s.planting.changed(tub=tub.changed(staked=False))), "fruit_tub") == []


def test_a_rock_takes_its_tree_along() -> None:
    s = SETTINGS["saddlestone"]
    rock = s.planting.rock
    assert rock is not None
    made = pulled(s, "rock:at", rock.x_mm + 20, rock.y_mm - 8)
    assert made.rock is not None
    assert (made.rock.x_mm, made.rock.y_mm) == (rock.x_mm + 20, rock.y_mm - 8)
    assert made.offset_x_mm == pytest.approx(s.planting.offset_x_mm + 20)
    assert made.offset_y_mm == pytest.approx(s.planting.offset_y_mm - 8)
    # sunk by 10 mm more the seat is 10 mm lower
    at = grip_of(s, "rock", "rock:sunk")
    lower = pulled(s, "rock:sunk", at.x_mm, at.y_mm - 10)
    level = pulled(s, "rock:sunk", at.x_mm, at.y_mm)
    assert lower.rock is not None
    assert lower.rock.sunk_mm == pytest.approx(rock.sunk_mm + 10, abs=0.2)
    assert level.raise_mm - lower.raise_mm == pytest.approx(10, abs=1.0)
