"""Pots designed for special plantings and for a given group obey what these ask."""

from dataclasses import replace

import numpy as np
import pytest

from kesh.advice.design.aims import design_case
from kesh.advice.design.search import Solution, solve
from kesh.advice.design.space import Wishes
from kesh.advice.design.special import group_discs, planting_for, special_sizes
from kesh.advice.kinds.plan import Setting
from kesh.advice.kinds.registry import special_plan
from kesh.base.progress import Progress
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.model import Collection
from kesh.science.group.tray import tray_of

COUNT = 6000


@pytest.fixture(scope="module")
def bench() -> Collection:
    return demo_collection()


def solved(bench: Collection, tree: str) -> Solution:
    return solve(design_case(bench, tree), Wishes(), Progress(), count=COUNT)


def test_a_tray_for_a_given_group_holds_every_root(bench: Collection) -> None:
    found = solved(bench, "seven-neighbours")
    assert found.designs
    spots, r = group_discs(found.case)
    for design in found.designs:
        inside = tray_of(design.pot).inside_mm(spots[:, 0], spots[:, 1])
        assert np.all(inside >= r - 1e-6), design.pot.name


@pytest.mark.parametrize(
    ("tree", "codes"),
    [("stilt-house", ("tube_inside", "tube_length")), ("new-leaf", ("layer_pot",)), ("saddlestone", ("rock_room",))],
)
def test_a_design_passes_the_findings_of_its_kind(bench: Collection, tree: str, codes: tuple[str, ...]) -> None:
    found = solved(bench, tree)
    assert found.designs
    for design in found.designs[:6]:
        a = found.assessment(design)
        assert a.case.planting is not None
        planting = a.case.planting
        if planting.tube is not None:
            planting = planting.changed(tube=planting.tube.changed(inside_mm=None, length_mm=None))
        if planting.rock is not None:
            planting = planting.changed(rock=planting.rock.changed(x_mm=0.0, y_mm=0.0))
        plan = special_plan(Setting(a, planting, Units(), found.case.day))
        assert plan is not None
        told = {f.code: f.status for f in plan.findings}
        for code in codes:
            assert told[code] == "fits", (design.pot.name, code)


def test_a_cascade_s_pot_lets_its_tail_hang_and_its_stone_counts(bench: Collection) -> None:
    p = bench.planting_of("rope-ladder")
    assert p is not None
    hanging = p.changed(kind="cascade", counterweight_kg=2.0)
    c = replace(bench, plantings=tuple(hanging if q.id == p.id else q for q in bench.plantings))
    found = solved(c, "rope-ladder")
    for design in found.designs:
        assert design.pot.height_mm + hanging.raise_mm - 205 >= 30 - 1.5
    case = design_case(c, "rope-ladder")
    lighter = (
        replace(case, planting=case.planting.changed(counterweight_kg=None)) if case.planting is not None else case
    )
    pot = bench.pots["rope-tower"]
    from kesh.advice.figures import figures_for

    one, other = figures_for(case, [pot, pot]).stand, figures_for(lighter, [pot, pot]).stand
    assert one is not None
    assert other is not None
    assert one.mass_dry_kg - other.mass_dry_kg == pytest.approx([2.0, 2.0])
    assert np.all(one.tip_angle_deg > other.tip_angle_deg)


def test_a_tub_that_cannot_be_says_what_would_have_to_give(bench: Collection) -> None:
    found = solved(bench, "cellar-door")
    assert found.designs or found.relax
    for design in found.designs:
        assert design.pot.profile.base_inset_mm <= 0.35 * design.pot.body_height_mm + 0.5


def test_a_plain_planting_is_designed_for_as_before(bench: Collection) -> None:
    assert planting_for(bench, "mossback") is None
    case = design_case(bench, "mossback")
    assert case.planting is None
    assert special_sizes(case).lengths == ()
