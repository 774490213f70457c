"""Clay, prints, boards and tubes against worked examples and closed forms."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.science.making.boards import KERF_MM, Piece, box_plan, nested, side_lengths
from kesh.science.making.clay import SampleBar, clay_mass, from_bar, joined_shrinkage, shrinkage_of, wet_mm
from kesh.science.making.printing import PrintSetting, estimate
from kesh.science.making.strength import SHARE, floor_bearing, kind_of, rim_bearing, usual_wall
from kesh.science.making.tubes import pipes_needed, staves, tube_pot


@given(st.floats(0, 0.15), st.floats(0, 0.15), st.floats(10, 900))
def test_shrinkage_adds_up_and_comes_back(drying: float, firing: float, fired: float) -> None:
    s = joined_shrinkage(drying, firing)
    assert 1 - s == pytest.approx((1 - drying) * (1 - firing))
    wet = wet_mm(fired, s)
    assert wet * (1 - s) == pytest.approx(fired)
    assert from_bar(wet, fired) == pytest.approx(s, abs=1e-9)


def test_clay_in_figures() -> None:
    assert wet_mm(372, 0.11) == pytest.approx(417.98, abs=0.01)
    mass = clay_mass(3.6)
    assert mass.dry_kg == pytest.approx(3.6 / 0.93)
    assert mass.wet_kg == pytest.approx(3.6 / 0.93 * 1.22)
    assert [shrinkage_of(m) for m in ("stoneware_glazed", "porcelain", "terracotta_frost_rated")] == [0.12, 0.15, 0.08]


@pytest.mark.parametrize(
    "call",
    [
        lambda: wet_mm(100, 0.31),
        lambda: wet_mm(100, -0.01),
        lambda: from_bar(100, 101),
        lambda: from_bar(0, 0),
        lambda: shrinkage_of("timber_larch"),
    ],
)
def test_clay_that_cannot_be_is_refused(call) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(FieldError):
        call()


def test_a_print_of_shell_and_infill() -> None:
    # 1 l of solid under 0.2 m2: the shell is 0.2 x 3 x 0.8 = 0.48 l, the rest is filled by a fifth
    found = estimate(1.0, 0.2, 90.0, 1.27)
    assert found.extruded_l == pytest.approx(0.48 + 0.2 * 0.52)
    assert found.mass_kg == pytest.approx(0.584 * 1.27)
    assert found.layers == 300
    assert found.hours == pytest.approx(0.584e6 / (10 * 0.75) / 3600)
    assert found.filament_m == pytest.approx(0.584e6 / (np.pi * 1.75**2 / 4) / 1000)
    # thin walls are all shell
    assert estimate(0.3, 0.2, 90, 1.27).extruded_l == pytest.approx(0.3)
    with pytest.raises(FieldError, match="infill"):
        estimate(1, 1, 1, 1, PrintSetting(infill=1.2))


@pytest.mark.parametrize(
    ("joint", "sizes"),
    [
        ("butt_long", (440, 300)),
        ("butt_short", (400, 340)),
        ("pinwheel", (420, 320)),
        ("mitre", (440, 340)),
        ("lapped", (440, 340)),
    ],
)
def test_board_lengths_by_joint(joint: str, sizes: tuple[float, float]) -> None:
    assert side_lengths(400, 300, 20, joint) == sizes  # type: ignore[arg-type]


def test_overhang_lengthens_covering_boards_only() -> None:
    assert side_lengths(400, 300, 20, "butt_long", 15) == (470, 300)
    assert side_lengths(400, 300, 20, "lapped", 15) == (470, 370)


def test_courses_slats_and_gaps() -> None:
    plan = box_plan(400, 300, 210, 20, 95)
    assert plan.courses == 3
    ripped = [p for p in plan.pieces if "ripped" in p.name]
    assert {p.width_mm for p in ripped} == {20.0}
    assert sum(p.count for p in plan.pieces if p.name.startswith("long side")) == 6
    # floor under the sides: (440 + 6) / (95 + 6) leaves four slats
    assert plan.slats == 4
    assert plan.gap_mm == pytest.approx((440 - 4 * 95) / 3)
    assert plan.mesh
    assert not box_plan(400, 300, 210, 20, 104).mesh
    with pytest.raises(FieldError, match="height"):
        box_plan(400, 300, 0, 20, 95)


pieces = st.lists(
    st.builds(
        Piece,
        name=st.just("a"),
        length_mm=st.floats(50, 2000),
        width_mm=st.sampled_from([45.0, 95.0]),
        count=st.integers(1, 6),
    ),
    min_size=1,
    max_size=6,
)


@given(pieces)
def test_nested_boards_hold_every_piece_and_no_more_than_they_are_long(found: list[Piece]) -> None:
    boards = nested(tuple(found), 2400)
    for width, stocks in boards.items():
        wanted = sorted(p.length_mm for p in found if p.width_mm == width for _ in range(p.count))
        assert sorted(length for one in stocks for _, length in one.cuts) == pytest.approx(wanted)
        for one in stocks:
            used = sum(length for _, length in one.cuts)
            assert used + (len(one.cuts) - 1) * KERF_MM <= 2400 + 1e-6
        # first fit decreasing never opens a board while all others are less than half full
        assert sum(sum(length for _, length in one.cuts) < 1150 for one in stocks) <= 1


def test_a_piece_longer_than_the_stock_is_refused() -> None:
    with pytest.raises(FieldError, match="longer than the stock"):
        nested((Piece("long side", 2500, 95, 1),), 2400)


@given(st.floats(60, 400), st.floats(1, 8), st.floats(50, 600))
def test_a_pipe_holds_a_cylinder(outside: float, wall: float, height: float) -> None:
    found = tube_pot(outside, wall, height, 5)
    assert found.volume_l == pytest.approx(np.pi * (outside - 2 * wall) ** 2 / 4 * (height - 5) / 1e6)
    assert found.sheet_mm == pytest.approx(np.pi * (outside - wall))


@given(st.integers(3, 24), st.floats(100, 500), st.floats(8, 30))
def test_staves_close_the_ring(sides: int, inside: float, board: float) -> None:
    found = staves(inside, board, sides)
    assert 2 * found.bevel_deg * sides == pytest.approx(360)
    # the inner faces go once round a polygon of that width across its flats
    assert found.inner_mm * sides == pytest.approx(sides * inside * np.tan(np.pi / sides))
    assert found.outer_mm > found.inner_mm


def test_tubes_and_staves_that_cannot_be() -> None:
    for call in (lambda: tube_pot(100, 50, 200, 5), lambda: tube_pot(100, 3, 5, 5), lambda: staves(100, 20, 2)):
        with pytest.raises(FieldError):
            call()


@given(st.floats(2, 60), st.floats(3, 20), st.floats(100, 400))
def test_the_needed_thickness_just_holds(load: float, thick: float, span: float) -> None:
    for found in (
        floor_bearing(load, span * 400, span, thick, 45, "clay"),
        rim_bearing(load, 90, thick, 100, 45, "clay"),
    ):
        assert found.allowed_mpa == pytest.approx(SHARE["clay"] * 45)
        assert found.holds == (thick >= found.needed_mm - 1e-9)
    exact = floor_bearing(
        load, span * 400, span, floor_bearing(load, span * 400, span, 5, 45, "clay").needed_mm, 45, "clay"
    )
    assert exact.stress_mpa == pytest.approx(exact.allowed_mpa)


def test_usual_walls_by_material() -> None:
    assert usual_wall("stoneware_unglazed", np.array([0.0, 500.0])) == pytest.approx([4, 10])
    assert float(usual_wall("porcelain", 500)) == 7
    assert float(usual_wall("timber_larch", 500)) == 20
    assert [kind_of(m) for m in ("stoneware_glazed", "print_pla", "timber_oak", "pvc_pipe")] == [
        "clay",
        "print",
        "timber",
        "plain",
    ]


@given(st.floats(0, 0.14), st.floats(0, 0.14), st.floats(20, 200))
def test_a_bar_measured_dry_says_the_same_total(drying: float, firing: float, wet: float) -> None:
    dry = wet * (1 - drying)
    fired = dry * (1 - firing)
    with_dry, without = SampleBar(wet, fired, dry), SampleBar(wet, fired)
    assert with_dry.total == pytest.approx(without.total, abs=1e-9)
    assert with_dry.drying == pytest.approx(drying, abs=1e-9)
    assert with_dry.firing == pytest.approx(firing, abs=1e-9)
    assert without.drying is None
    assert without.firing is None


@pytest.mark.parametrize("marks", [(100, 110, None), (100, 90, 105), (100, 90, 85), (0, 0, None), (100, 50, None)])
def test_a_bar_that_grew_or_shrank_beyond_clay_is_refused(marks: tuple[float, float, float | None]) -> None:
    with pytest.raises(FieldError):
        SampleBar(*marks)


@given(st.lists(st.floats(20, 900), min_size=1, max_size=14))
def test_pipes_bought_hold_every_cut_and_one_less_would_not_by_length(cuts: list[float]) -> None:
    count = pipes_needed(cuts, 1000.0, 3.0)
    assert sum(cuts) <= count * 1000 + 1e-6
    # first-fit decreasing never needs more than this of the least that length alone asks for
    least = int(np.ceil(sum(c + 3 for c in cuts) / 1003 - 1e-9))
    assert least <= count <= 11 / 9 * least + 3


def test_a_cut_longer_than_the_pipe_is_refused() -> None:
    with pytest.raises(FieldError, match="buy longer pipe"):
        pipes_needed([2100.0], 2000.0, 3.0)
