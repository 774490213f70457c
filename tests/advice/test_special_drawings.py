"""Nothing is drawn that is not reckoned: every stage, cut and size of each kind of the demo agrees with the figures beside it."""

from datetime import date

import numpy as np
import pytest

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.kinds.kinds import kind_of
from kesh.advice.kinds.plan import Setting, SpecialPlan
from kesh.advice.kinds.registry import special_plan
from kesh.advice.kinds.rock_drawing import base_mm, placed, reaches, rock_front
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.figure.overlay import Area, Note, Overlay, Size, Stroke

DAY = date(2026, 6, 20)
C = demo_collection()
TREES = (
    "saddlestone", "stilt-house", "rope-ladder", "new-leaf", "cellar-door", "dry-well", "walking-stick", "wicket", "driftline",
    "tidewater", "tollgate",
)  # fmt: skip


def setting_of(key: str, units: Units | None = None) -> Setting:
    planted = C.planting_of(key)
    assert planted is not None
    kind = {"wicket": "companion", "tidewater": "aerial", "tollgate": "graft"}.get(key)
    if kind is not None:
        planted = planted.changed(kind=kind)
    case = case_for(C, key, pot_id=planted.pot, on=DAY)
    return Setting(assess(case, C.pots[planted.pot]), planted, units or Units(), DAY)


def plan_of(key: str, units: Units | None = None) -> SpecialPlan:
    found = special_plan(setting_of(key, units))
    assert found is not None
    return found


def numbers(overlay: Overlay) -> list[float]:
    found: list[float] = []
    for s in overlay.shapes:
        if isinstance(s, Area | Stroke):
            found += [v for p in s.points for v in p]
        elif isinstance(s, Size):
            found += [*s.a, *s.b]
        else:
            found += list(s.at)
    return found


@pytest.mark.parametrize("key", TREES)
def test_every_drawing_is_of_numbers_and_near_its_tree(key: str) -> None:
    s, p = setting_of(key), plan_of(key)
    assert kind_of(s.planting, s.a.case.tree) == p.kind
    m, pot = s.a.case.tree.measure, s.a.pot
    far = 3 * max(m.height_mm or 0, pot.height_mm, pot.length_mm, m.drop_mm or 0) + 200
    for overlay in (p.front, p.above, *(stage.front for stage in p.stages)):
        values = np.array(numbers(overlay))
        assert np.all(np.isfinite(values))
        assert np.all(np.abs(values) < far)
        for shape in overlay.shapes:
            if isinstance(shape, Area):
                assert len(shape.points) >= 3
            if isinstance(shape, Stroke):
                assert len(shape.points) >= 2
                assert shape.width_mm >= 0


@pytest.mark.parametrize("key", TREES)
def test_stages_go_forward_and_each_says_what_it_is(key: str) -> None:
    p = plan_of(key)
    days = [stage.day for stage in p.stages if stage.day is not None]
    assert days == sorted(days)
    assert len({stage.title for stage in p.stages}) == len(p.stages)
    assert all(stage.title and stage.sign for stage in p.stages)


@pytest.mark.parametrize("key", TREES)
def test_cuts_are_the_sum_of_their_pieces_and_ends(key: str) -> None:
    for cut in plan_of(key).cuts:
        assert cut.total_mm > 0, cut
        assert cut.count >= 1
        assert cut.what
        assert sum(cut.pieces_mm) <= cut.total_mm + 0.5, cut


@pytest.mark.parametrize("key", TREES)
def test_in_inches_the_same_plan_says_inches(key: str) -> None:
    """One drawing, other words: no millimetre is left in a plan in inches, and nothing moves."""
    plain, inch = plan_of(key), plan_of(key, Units(length="inch"))
    assert numbers(plain.front) == numbers(inch.front)
    assert [c.total_mm for c in plain.cuts] == [c.total_mm for c in inch.cuts]
    told = " ".join((inch.title, *(f.text for f in inch.figures)))
    assert " mm" not in told, told
    assert [f.status for f in plain.findings] == [f.status for f in inch.findings]


def test_moss_goes_down_with_the_stages_and_is_gone_at_last() -> None:
    s = setting_of("saddlestone")
    rock = s.planting.rock
    assert rock is not None
    tops = []
    for stage in plan_of("saddlestone").stages:
        moss = [a for a in stage.front.shapes if isinstance(a, Area) and a.stuff == "moss"]
        tops.append(max((z for a in moss for _, z in a.points), default=0.0))
    assert tops == sorted(tops, reverse=True)
    assert tops[0] > s.soil_mm
    assert tops[-1] == 0
    # bindings are off with the moss
    last = plan_of("saddlestone").stages[-1].front
    assert not [x for x in last.shapes if isinstance(x, Stroke) and x.stuff == "wire"]


def test_bridges_of_moss_are_as_long_as_the_root_is_short() -> None:
    s = setting_of("saddlestone")
    rock = s.planting.rock
    assert rock is not None
    ways = reaches(rock)
    shapes = rock_front(s, rock, ways, 1.0, dims=True)
    bridges = [x for x in shapes if isinstance(x, Stroke) and x.stuff == "moss"]
    short = [one for _, one in ways if one is not None and not one.covered]
    assert len(bridges) == len(short) == 2
    for stroke, one in zip(bridges, short, strict=True):
        p = np.array(stroke.points)
        assert float(np.hypot(*np.diff(p, axis=0).T).sum()) == pytest.approx(one.short_mm, abs=0.01)
    # each root carries its number, and its flag the status
    flags = {x.text: x.status for x in shapes if isinstance(x, Note) and x.flag}
    assert flags == {"1": "fits", "2": "fits", "3": "watch", "4": "fits", "5": "fits", "6": "watch"}


def test_a_rock_stands_as_deep_in_the_soil_as_it_is_sunk() -> None:
    s = setting_of("saddlestone")
    rock = s.planting.rock
    assert rock is not None
    assert s.soil_mm - base_mm(s, rock) == pytest.approx(rock.sunk_mm)
    xs, zs = np.array(placed(s, rock, rock.points_mm)).T
    assert zs.min() == pytest.approx(base_mm(s, rock))
    assert np.ptp(xs) == pytest.approx(np.ptp(np.array(rock.points_mm)[:, 0]))


@pytest.mark.parametrize("key", TREES)
def test_a_size_is_as_long_as_its_figure_says(key: str) -> None:
    """What stands on a dimension line is its length in the drawing, to the millimetre."""
    for shape in plan_of(key).front.shapes:
        if isinstance(shape, Size) and shape.text.isdigit():
            long = abs(shape.b[0] - shape.a[0]) if shape.level else abs(shape.b[1] - shape.a[1])
            assert long == pytest.approx(float(shape.text), abs=1.0), shape
