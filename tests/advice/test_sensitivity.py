"""Which measure moves the advice most: checked against what the rules rest on."""

from dataclasses import replace

import pytest

from kesh.advice.case import Case, case_for
from kesh.advice.sensitivity import ESTIMATED, sensitivity
from kesh.base.units import Units
from kesh.model import Collection
from tests.builders import MIX, SITE, ball, pot, tree

POTS = tuple(pot(id=f"p{i}", length_mm=260 + 30 * i, width_mm=200 + 20 * i, height_mm=60 + 10 * i) for i in range(6))


def case(**fields: object) -> Case:
    held = Collection(
        name="x", site=SITE, trees={"maple": tree(**fields)}, pots={p.id: p for p in POTS}, mixes={"house": MIX}
    )
    return replace(case_for(held, "maple", mix_id="house"), season="best")


def test_the_depth_rule_rests_on_the_trunk_where_it_is_taken() -> None:
    found = {x.field: x for x in sensitivity(case(), POTS)}
    trunk = found["trunk_diameter_mm"]
    assert trunk.wrong_by_mm == pytest.approx(0.03 * 70)
    assert trunk.bands_move == pytest.approx(0.03, rel=0.05)
    assert "trunk_mid_mm" not in found or found["trunk_mid_mm"].bands_move < trunk.bands_move


def test_the_order_is_by_weight_and_more_error_never_weighs_less() -> None:
    plain = sensitivity(case(), POTS)
    assert [x.weight for x in plain] == sorted((x.weight for x in plain), reverse=True)
    wild = {x.field: x for x in sensitivity(case(), POTS, {"height_mm": 60.0})}
    assert wild["height_mm"].wrong_by_mm == 60
    assert wild["height_mm"].bands_move >= next((x.bands_move for x in plain if x.field == "height_mm"), 0.0)


def test_an_estimated_root_mass_is_held_to_be_twice_as_wrong() -> None:
    known = next(x for x in sensitivity(case(), POTS) if x.field == "root_depth_mm")
    guessed = tree().changed(root_masses=(ball(estimated=True),))
    other = next(x for x in sensitivity(replace(case(), tree=guessed), POTS) if x.field == "root_depth_mm")
    assert other.wrong_by_mm == pytest.approx(ESTIMATED * known.wrong_by_mm)
    assert other.scores_move >= known.scores_move


def test_what_is_not_measured_is_not_weighed() -> None:
    fields = {x.field for x in sensitivity(case(roots=None, m={"canopy_left_mm": None, "height_mm": None}), POTS)}
    assert not any(f.startswith("root_") for f in fields)
    assert "height_mm" not in fields
    assert sensitivity(case(), ()) == ()


def test_the_sentence_says_what_would_change() -> None:
    first = sensitivity(case(), POTS)[0]
    text = first.sentence(Units(length="cm"))
    assert text.startswith(first.words)
    assert "cm" in text
    assert ("would put another pot first" in text) == first.first_changes
