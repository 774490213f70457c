"""Wires of a planting: by rule or as laid by hand, their lengths, and what the report tells of how they hold."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import case_for
from kesh.advice.planting.tie_plan import tie_plan
from kesh.advice.report.whole import report
from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of
from kesh.formats.bundle.read import read_bundle
from kesh.model import Tie
from kesh.science.stand.hardware import tie_length_mm
from kesh.science.stand.tie_hold import FITS_MARGIN
from kesh.science.stand.wire_path import wire_way

DEMO = demo_collection()


def stood(tree: str, **fields: object) -> Assessment:
    planting = DEMO.planting_of(tree)
    assert planting is not None
    case = case_for(DEMO, tree, pot_id=planting.pot, today=date(2026, 3, 10))
    return assess(replace(case, planting=planting.changed(**fields)), DEMO.pots[planting.pot])


def test_a_way_over_a_narrow_box_is_the_two_hole_formula() -> None:
    over = ((-60.0, 0.0, 75.0), (60.0, 0.0, 75.0))
    box = np.array([[-60.0, -40.0], [60.0, -40.0], [60.0, 40.0], [-60.0, 40.0]])
    assert wire_way(((-90.0, 0.0), (90.0, 0.0)), over, 9.0, box).cut_mm == tie_length_mm(180.0, 9.0, 120.0, 60.0, 15.0)
    # out of holes under the roots it runs along the floor first
    assert wire_way(((-30.0, 0.0), (30.0, 0.0)), over, 9.0, box).cut_mm == tie_length_mm(60.0, 9.0, 120.0, 60.0, 15.0)


def test_the_rule_takes_the_thinnest_wire_that_holds() -> None:
    a = stood("tollgate")
    plan = tie_plan(a)
    assert plan is not None and plan.hold is not None and plan.hold.margin is not None  # noqa: PT018
    assert plan.by_rule
    assert len(plan.wires) == 4, "one on each side: two side by side would leave half the round open"
    assert plan.hold.status == "fits"
    assert plan.hold.margin.min() >= FITS_MARGIN
    assert {w.gauge_mm for w in plan.wires} == {2.0}, "no thinner than growers use, though 1 mm would hold"
    # by hand in a much thinner wire it does not
    thin = tuple(Tie(id=str(n), holes=w.holes, over=w.over, gauge_mm=0.4) for n, w in enumerate(plan.wires))
    own = tie_plan(stood("tollgate", ties=thin))
    assert own is not None and own.hold is not None and own.hold.margin is not None  # noqa: PT018
    assert not own.by_rule
    assert own.hold.margin.min() < FITS_MARGIN
    assert own.wires[0].length_mm == pytest.approx(plan.wires[0].length_mm, abs=10)


def test_without_anchors_only_its_weight_holds_it() -> None:
    held = report(stood("tollgate", anchors="none"))["hardware"]
    assert held["margin_min"] == pytest.approx(held["margin_untied"])
    tied = report(stood("tollgate"))["hardware"]
    assert tied["margin_min"] > held["margin_min"]
    assert tied["margin_untied"] == pytest.approx(held["margin_untied"])
    assert len(tied["hold_n"]) == 36
    assert tied["hold_min_n"] == pytest.approx(min(tied["hold_n"]))
    assert np.all(np.array(tied["hold_n"]) >= np.array(held["hold_n"]) - 1e-9)


def test_ties_go_through_a_bundle_and_a_wire_on_the_floor_holds_nothing() -> None:
    planting = DEMO.planting_of("tollgate")
    assert planting is not None
    tie = Tie(
        id="w1",
        holes=((-85, -43), (85, -43)),
        over=((-100, -43, 60), (100, -43, 60)),
        gauge_mm=2,
        metal="copper",
        ends="twisted",
    )
    mine = planting.changed(ties=(tie,), anchors="guys")
    held = replace(DEMO, plantings=tuple(mine if p.id == planting.id else p for p in DEMO.plantings))
    back = read_bundle(bundle_of(held)).planting_of("tollgate")
    assert back is not None
    assert back.ties == (tie,)
    assert back.anchors == "guys"
    flat = tie.changed(over=((-100, -43, 0), (100, -43, 0)))
    found = report(stood("tollgate", ties=(flat,)))["hardware"]
    assert found["ties"] == []
    assert found["margin_min"] is None
