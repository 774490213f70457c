"""Visual mass: weights the artist tunes, what dominates, and the tree out of leaf."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.assess import assess
from kesh.advice.case import Case, case_for
from kesh.advice.figures import figures_for
from kesh.advice.why import why
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.figure.silhouette import tree_regions
from kesh.model import Brief, Collection, MassWeights
from kesh.reference.tables import tables
from kesh.science.looks.visual_mass import Region, pot_weight, shares, tree_weight
from tests.builders import MIX, SITE, planting, pot, tree

SPECIES = tables((), ()).species
share = st.floats(0.05, 1)


def case(weights: MassWeights, **fields: object) -> Case:
    held = Collection(
        name="x", site=SITE, trees={"maple": tree(**fields)}, pots={"tray": pot()}, mixes={"house": MIX},
        plantings=(planting(),), briefs={"maple": Brief(id="maple", weights=weights)},
    )  # fmt: skip
    return case_for(held, "maple")


def ratio(weights: MassWeights, **fields: object) -> float:
    found = figures_for(case(weights, **fields), [pot()]).visual_ratio
    assert found is not None
    return float(found[0])


def test_shares_add_up_and_the_heaviest_comes_first() -> None:
    found = shares((Region("wood", 100, 0, 1, 1), Region("dense", 300, 0, 0.5, 1), Region("wood", 25, 0, 1, 1)))
    assert list(found) == ["dense", "wood"]
    assert found == pytest.approx({"dense": 150 / 275, "wood": 125 / 275})
    assert shares(()) == {}


@given(share, share)
def test_half_as_solid_a_pot_weighs_half(pot_share: float, leaf: float) -> None:
    plain = MassWeights(dense=leaf)
    assert ratio(plain.changed(pot=pot_share)) == pytest.approx(ratio(plain) * pot_share)


@given(share, share)
def test_more_solid_leaves_make_the_tree_heavier(one: float, other: float) -> None:
    low, high = sorted((one, other))
    assert ratio(MassWeights(dense=low)) >= ratio(MassWeights(dense=high)) - 1e-12


def test_a_measured_opacity_wins_over_the_artists_leaf_but_not_over_the_wood() -> None:
    species = SPECIES["trident_maple"]
    measured = tree(m={"canopy_opacity": 0.4})
    found = {r.kind: r.opacity for r in tree_regions(measured, species, MassWeights(dense=0.9, wood=0.7))}
    assert found == {"dense": 0.4, "wood": 0.7}


def test_out_of_leaf_all_the_wood_is_seen_and_the_twigs_are_a_haze() -> None:
    species = SPECIES["trident_maple"]
    leafy, bare = tree_regions(tree(), species), tree_regions(tree(), species, bare=True)
    wood = {name: sum(r.area_mm2 for r in found if r.kind == "wood") for name, found in (("l", leafy), ("b", bare))}
    assert wood["b"] > wood["l"]
    assert {r.kind for r in bare} == {"wood", "haze"}
    assert sum(r.area_mm2 for r in leafy) == pytest.approx(sum(r.area_mm2 for r in bare), rel=1e-6)
    assert tree_weight(bare)[0] < tree_weight(leafy)[0]


def test_only_trees_that_drop_their_leaves_have_a_bare_figure() -> None:
    assert figures_for(case(MassWeights()), [pot()]).bare_ratio is not None
    pine = figures_for(case(MassWeights(), species="japanese_black_pine"), [pot()])
    assert pine.bare_ratio is None


def test_nothing_solid_leaves_the_ratio_unknown() -> None:
    nothing = MassWeights(wood=0, dense=0, airy=0)
    assert figures_for(case(nothing), [pot()]).visual_ratio is None
    finding = next(f for f in assess(case(nothing), pot(), Units()).findings if f.code == "visual_mass")
    assert finding.status == "unknown"


def test_why_shows_the_weights_in_force_and_what_dominates() -> None:
    found = why(assess(case(MassWeights(dense=0.6, pot=0.8)), pot(), Units()), "visual_mass", Units())
    assert found is not None
    told = dict(found.inputs)
    assert told["Weights"].startswith("wood 1.00, dense leaf 0.60, airy leaf 0.50, pot 0.80")
    assert "%" in told["Tree's weight"]
    assert told["Through the year"].endswith("bare")


def test_weights_outside_a_share_are_refused() -> None:
    with pytest.raises(FieldError, match="wood"):
        MassWeights().changed(wood=1.4)


def test_pot_weight_takes_arrays() -> None:
    found = pot_weight(np.array([100.0, 200.0]), np.array([0.0, 1.0]), 0.5)
    assert found.tolist() == [25.0, 100.0]


def test_a_dragged_tree_weighs_the_same_whatever_was_drawn_before() -> None:
    species = SPECIES["trident_maple"]
    at_rest, taller = tree(), tree(m={"height_mm": 900})
    alone = tree_regions(taller, species, rest=at_rest)
    for other in (tree(m={"height_mm": 300}), tree(m={"canopy_left_mm": 40})):
        tree_regions(other, species)
        assert tree_regions(taller, species, rest=at_rest) == alone
    assert tree_regions(at_rest, species, rest=at_rest) == tree_regions(at_rest, species)
    # a tree of another kind is no rest of this one
    assert tree_regions(taller, species, rest=at_rest.changed(seed=at_rest.seed + 1)) == tree_regions(taller, species)
