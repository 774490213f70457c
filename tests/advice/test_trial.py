"""The trial fit: what stands above the rim tells the depth of the roots, and what still has to come off."""

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import case_for
from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.trial import TrialFit, trial_fit, trials_of, with_depth
from kesh.advice.roots.this_year import this_year
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.model import Collection, Event, Pot
from tests.builders import MIX, SITE, planting, pot, tree

TODAY = date(2026, 3, 10)


def tried(shown: Pot | None = None, **fields: object) -> Assessment:
    shown = shown or pot()
    held = Collection(
        name="x",
        site=SITE,
        trees={"maple": tree(roots={"depth_mm": 110})},
        pots={shown.id: shown},
        mixes={"house": MIX},
        plantings=(planting(**fields),),
    )
    case = replace(case_for(held, "maple", pot_id=shown.id, today=TODAY), season="best")
    return assess(case, shown, Units())


def test_the_depth_is_read_off_the_rim_by_hand() -> None:
    # 100 high less 10 of floor is 90 inside; 0.12 of that of mix below: a root mass that stands 32 above the rim is 111.2 deep
    found = trial_fit(tried(), 32)
    assert found.depth_mm == pytest.approx(90 - 10.8 + 32)
    assert found.lower_by_mm == 32
    assert found.words(Units()) == "Lower by 32 mm: take it off the bottom."


def test_below_the_rim_more_mix_goes_under_it() -> None:
    found = trial_fit(tried(raise_mm=-5, base_layer_mm=20), -14)
    assert found.depth_mm == 90 - 20 - 14
    assert found.words(Units(length="cm")) == "Raise by 0.9 cm: put that much more mix under it."
    assert trial_fit(tried(), 0.6).seated


@given(st.floats(20, 160))
def test_a_trial_agrees_with_the_cut_that_was_computed(depth_mm: float) -> None:
    a = tried()
    roots = a.case.tree.roots
    assert roots is not None
    case = replace(a.case, tree=a.case.tree.changed(root_masses=(roots.changed(depth_mm=depth_mm),)))
    again = assess(case, a.pot, Units())
    stands = depth_mm + again.seat.floor_layer_mm - a.pot.inner_depth_mm
    found = trial_fit(again, stands)
    assert again.figures.roots is not None
    assert found.depth_mm == pytest.approx(depth_mm, abs=0.1)
    assert max(found.lower_by_mm, 0) == pytest.approx(float(again.figures.roots.off_bottom_mm[0]), abs=0.1)


def test_what_cannot_be_is_refused_in_words() -> None:
    with pytest.raises(FieldError, match="no root mass at all"):
        trial_fit(tried(), -90)
    slab = pot(id="tray", profile={"kind": "slab"}, holes=())
    with pytest.raises(FieldError, match="takes no soil"):
        trial_fit(tried(slab), 10)


def test_the_root_mass_keeps_its_history() -> None:
    before = tree()
    once = with_depth(before, 96, TODAY)
    twice = with_depth(once, 71, TODAY)
    assert [r.depth_mm for r in once.root_masses] == [70, 96]
    assert [r.depth_mm for r in twice.root_masses] == [70, 71]
    assert twice.roots is not None
    assert twice.roots.seen == TODAY
    assert with_depth(tree(roots=None), 80, TODAY).roots is None


def test_trials_are_read_back_for_their_own_pot() -> None:
    one = TrialFit(32, 0, 110)
    log = [
        Event(id=str(i), tree="maple", date=TODAY, kind=kind, pot=key, figures=one.figures())  # type: ignore[arg-type]
        for i, (kind, key) in enumerate([("trial_fit", "tray"), ("trial_fit", "other"), ("pot_tried", "tray")])
    ]
    found = trials_of(log, "maple", "tray")
    assert [(event.id, trial) for event, trial in found] == [("0", one)]


def test_what_is_left_on_below_for_the_next_time_is_not_asked_off_at_the_trial() -> None:
    c = demo_collection()
    a = assess(case_for(c, "honeyjar", pot_id="chalk-oval", on=date(2026, 3, 10)), c.pots["chalk-oval"])
    year = this_year(a.figures)
    assert year is not None
    assert year.repottings == 2
    higher = float(a.figures.roots.off_bottom_mm[0]) - year.bottom_mm  # type: ignore[union-attr]
    assert 5 < higher <= 20
    assert trial_fit(a, a.seat.raise_mm + higher).seated
    assert trial_fit(a, a.seat.raise_mm).lower_by_mm < -5, "set as deep as in the end, mix is missing under it"
    steps = {step.key: step for step in PlantingPlan(a, Units()).steps}
    for key in ("try", "set"):
        assert steps[key].figure == Units().figure(a.seat.raise_mm + higher)
        assert steps[key].figure_words.startswith("mm over the rim")


def test_a_tree_goes_back_into_the_pot_it_stands_in_whatever_is_left_for_the_next_time() -> None:
    c = demo_collection()
    for pot_id, home in (("slip-tray", True), ("slip-two", False)):
        pots = c.pots | {"slip-two": c.pots["slip-tray"].changed(id="slip-two", name="Slip two")}
        held = replace(c, pots=pots)
        a = assess(case_for(held, "wicket", pot_id=pot_id, on=date(2026, 3, 10)), held.pots[pot_id])
        year = this_year(a.figures)
        assert year is not None
        assert not year.goes_in
        assert year.home is home
        told = " ".join(" ".join((s.title, *s.lines)) for s in PlantingPlan(a, Units()).steps)
        assert ("waits until it has been worked once more" in told) is not home
        assert "as high as it stood" in told
        assert ("It does not go into this pot yet" in told) is not home
