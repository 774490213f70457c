"""Which root goes, against a second solver that tries everything, closed forms, and what must always hold."""

from itertools import pairwise, product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.model import MapRoot, Sector
from kesh.science.roots.choice import Offer, _by_program, _Search
from kesh.science.roots.plan import (
    Bounds,
    RootPlan,
    beyond,
    feeder_shares,
    largest_gap_deg,
    root_plan,
    unevenness,
    why_kept,
)

KINDS = ("radial", "crossing", "circling", "rising", "tap", "under", "dead")
POINTS = {"dead": 5, "circling": 4, "tap": 3, "under": 3, "crossing": 2, "rising": 2}


@st.composite
def maps(draw: st.DrawFn, most: int = 8) -> tuple[MapRoot, ...]:
    count = draw(st.integers(1, most))
    azimuths = draw(st.lists(st.integers(0, 359), min_size=count, max_size=count, unique=True))
    return tuple(
        MapRoot(
            id=f"r{n}", azimuth_deg=a, diameter_mm=draw(st.integers(3, 30)), reach_mm=draw(st.integers(60, 200)),
            kind=draw(st.sampled_from(KINDS)), keep=draw(st.sampled_from(["", "", "", "anchor"])),
            side_root_at_mm=draw(st.one_of(st.none(), st.integers(10, 150))),
        )
        for n, a in enumerate(azimuths)
    )  # fmt: skip


LIMITS = st.sampled_from([0.0, 0.1, 0.25, 0.38, 0.5])
FEEDERS = st.sampled_from(["near_trunk", "even", "outside_bottom"])


def by_trying_all(roots: tuple[MapRoot, ...], limit: float, pot: float, feeders: str) -> tuple[float, float]:
    """(points, loss) of the best first repotting, written from the rules and sharing no code with the product."""
    live = [r for r in roots if r.kind != "dead"]
    median = (
        float(np.median([r.diameter_mm for r in live])) if live else float(np.median([r.diameter_mm for r in roots]))
    )
    total = sum(r.diameter_mm**2 for r in live)

    def gap(some: list[MapRoot]) -> float:
        a = sorted(r.azimuth_deg for r in some)
        return 360.0 if len(a) < 2 else max((a[(k + 1) % len(a)] - a[k]) % 360 for k in range(len(a)))

    most = max(150.0, gap(live))
    options = []
    for r in roots:
        own = [("keep", 0.0, 0.0)]
        if not r.keep:
            share = 0.7 * r.diameter_mm**2 / total if r.kind != "dead" else 0.0
            times = r.diameter_mm / median
            kind = POINTS.get(r.kind, 0) * times
            thick = 1.5 * times if r.diameter_mm > 1.8 * median else 0.0
            front = 1.0 * times if min(r.azimuth_deg, 360 - r.azimuth_deg) <= 12 and r.diameter_mm > median else 0.0
            if kind + front > 0:
                own.append(("off", kind + front, share))
            back = (0.0 if r.kind == "dead" else kind) + thick + front
            if back > 0 and r.side_root_at_mm is not None and r.side_root_at_mm < r.reach_mm:
                x = r.side_root_at_mm / r.reach_mm
                part = {"near_trunk": (1 - x) ** 2, "even": 1 - x, "outside_bottom": 1 - x * x}[feeders]
                own.append(("short", back, share * part))
        options.append(own)
    best = (0.0, 0.0)
    for pick in product(*options):
        points, loss = sum(p[1] for p in pick), sum(p[2] for p in pick)
        if loss and 1 - (1 - pot) * (1 - loss) > limit + 1e-9:
            continue
        stay = [r for r, p in zip(roots, pick, strict=True) if r.kind != "dead" and p[0] != "off"]
        if live and gap(stay) > most + 1e-6:
            continue
        if points > best[0] + 1e-9 or (abs(points - best[0]) <= 1e-9 and loss < best[1] - 1e-9):
            best = (points, loss)
    return best


@given(maps(), LIMITS, st.sampled_from([0.0, 0.08, 0.2]), FEEDERS)
def test_the_first_repotting_is_as_good_as_trying_everything(
    roots: tuple[MapRoot, ...], limit: float, pot: float, feeders: str
) -> None:
    if pot > limit:
        pot = 0.0
    plan = root_plan(roots, Bounds(limit, (pot,), 2.0, feeders))  # type: ignore[arg-type]
    points, loss = by_trying_all(roots, limit, pot, feeders)
    assert plan.points == pytest.approx(points, abs=1e-7)
    assert plan.share == pytest.approx(1 - (1 - pot) * (1 - loss), abs=1e-7)


def cut_in(plan: RootPlan, year: float) -> list[str]:
    return [s.root for s in plan.steps if s.action != "keep" and s.year == year]


@given(maps(12), LIMITS, FEEDERS, st.integers(0, 359), st.integers(0, 120))
def test_budget_sector_keep_and_gap_hold_in_every_repotting(
    roots: tuple[MapRoot, ...], limit: float, feeders: str, start: int, wide: int
) -> None:
    sector = Sector(from_deg=start, to_deg=(start + wide) % 360 or 360)
    bounds = Bounds(limit, (0.0,), 3.0, feeders, (sector,))  # type: ignore[arg-type]
    plan = root_plan(roots, bounds)
    assert [s.root for s in plan.steps] == [r.id for r in roots]
    assert all(share <= limit + 1e-9 for share in plan.shares)
    by_id = {r.id: r for r in roots}
    for step in plan.steps:
        root = by_id[step.root]
        if step.action != "keep":
            assert not root.keep
            assert not sector.holds(root.azimuth_deg)
            assert step.why
        if step.action == "shorten":
            assert step.at_mm == root.side_root_at_mm
    live = [r for r in roots if r.kind != "dead"]
    gone = {s.root for s in plan.steps if s.action == "remove"}
    stay = [r.azimuth_deg for r in live if r.id not in gone]
    assert plan.gap_before_deg == pytest.approx(largest_gap_deg([r.azimuth_deg for r in live]))
    assert plan.gap_after_deg == pytest.approx(largest_gap_deg(stay))
    assert plan.gap_after_deg <= max(150.0, plan.gap_before_deg) + 1e-6


@given(maps(), FEEDERS)
def test_a_larger_budget_never_mends_less(roots: tuple[MapRoot, ...], feeders: str) -> None:
    points = [root_plan(roots, Bounds(limit, (0.0,), 2.0, feeders)).points for limit in (0, 0.1, 0.2, 0.35, 0.6, 0.9)]  # type: ignore[arg-type]
    assert all(b >= a - 1e-9 for a, b in pairwise(points))


@given(maps(), st.integers(1, 359))
def test_turning_the_tree_changes_only_azimuths(roots: tuple[MapRoot, ...], turn: int) -> None:
    # what faces the viewer is a fault of the front, so roots near it are left out of this
    off = tuple(
        r for r in roots if all(min(a % 360, 360 - a % 360) > 12 for a in (r.azimuth_deg, r.azimuth_deg + turn))
    )
    turned = tuple(r.changed(azimuth_deg=(r.azimuth_deg + turn) % 360) for r in off)
    one, two = (root_plan(m, Bounds(0.3)) for m in (off, turned))
    assert one.points == pytest.approx(two.points)
    assert one.share == pytest.approx(two.share)
    assert one.gap_before_deg == pytest.approx(two.gap_before_deg)
    assert one.unevenness_after == pytest.approx(two.unevenness_after, abs=1e-9) or one.steps != two.steps


@given(
    st.lists(
        st.tuples(st.floats(0.2, 6), st.integers(0, 30).map(lambda n: n / 100), st.integers(0, 10).map(lambda n: n / 10), st.booleans()), min_size=3, max_size=13,
    ),
    st.floats(0, 0.6), st.floats(150, 359),
)  # fmt: skip
def test_branches_and_an_integer_program_agree(
    rows: list[tuple[float, float, float, bool]], spare: float, gap: float
) -> None:
    azimuths = [360 * n / len(rows) for n in range(len(rows))]
    offers = [[Offer("remove", p, loss, leaves=False), Offer("shorten", 0.8 * p, k * loss, leaves=True)] if faulty else []
              for p, loss, k, faulty in rows]  # fmt: skip
    live = [True] * len(rows)

    def points(chosen: list[int | None]) -> float:
        loss = sum(offers[i][k].loss for i, k in enumerate(chosen) if k is not None)
        assert loss <= spare + 1e-6
        return sum(offers[i][k].points for i, k in enumerate(chosen) if k is not None)

    most = max(gap, largest_gap_deg(azimuths))
    other = _by_program(azimuths, live, offers, spare, most) if any(offers) else [None] * len(rows)
    assert other is not None
    assert points(_Search(azimuths, live, offers, spare, most).best()) == pytest.approx(points(other), abs=1e-4)


def test_a_map_full_of_faults_writes_nothing_to_the_output(capfd: pytest.CaptureFixture[str]) -> None:
    chance = np.random.default_rng(5)
    for _ in range(40):
        count = int(chance.integers(14, 31))
        roots = tuple(
            MapRoot(id=f"r{n}", azimuth_deg=float(a) / 10, diameter_mm=float(chance.uniform(2, 30)), reach_mm=float(chance.uniform(30, 200)),
                    kind=str(chance.choice(KINDS[1:6])), side_root_at_mm=float(chance.uniform(5, 150)))
            for n, a in enumerate(chance.choice(3600, count, replace=False))
        )  # fmt: skip
        root_plan(roots, Bounds(float(chance.uniform(0.1, 0.5)), (0.05,)))
    assert capfd.readouterr().out == ""


def ring(kinds: dict[int, str], count: int = 8, mm: float = 10.0) -> tuple[MapRoot, ...]:
    """Roots at even angles, off the front."""
    return tuple(
        MapRoot(id=f"r{n}", azimuth_deg=20 + n * 360 / count, diameter_mm=mm, reach_mm=120, kind=kinds.get(n, "radial"))
        for n in range(count)
    )


def test_closed_forms() -> None:
    assert largest_gap_deg([0, 90, 200]) == 160
    assert largest_gap_deg([350, 10]) == 340
    assert largest_gap_deg([5]) == 360
    assert unevenness(ring({})) == pytest.approx(0, abs=1e-9)
    assert unevenness(ring({})[:1]) == pytest.approx(1)
    assert beyond("near_trunk", 0.5) == 0.25
    assert beyond("even", 0.25) == 0.75
    assert beyond("outside_bottom", 0.5) == 0.75
    assert beyond("even", 3) == 0
    assert sum(feeder_shares(ring({2: "dead"})).values()) == pytest.approx(0.7)


def test_dead_roots_go_whatever_the_budget_and_what_is_left_waits_for_its_year() -> None:
    roots = ring({0: "dead", 2: "circling", 4: "circling"})
    nothing = root_plan(roots, Bounds(0.0))
    assert cut_in(nothing, 0) == ["r0"]
    assert "nothing may be cut now" in next(s.why for s in nothing.steps if s.root == "r2")
    # a seventh of seven tenths is a tenth for each living root; a limit of 0.1 takes one at a time
    plan = root_plan(roots, Bounds(0.1, (0.0,), 2.0))
    assert cut_in(plan, 0) == ["r0", "r2"]
    assert cut_in(plan, 2) == ["r4"]
    # shares are of today's feeders in every repotting: by then it has grown anew what it lost
    assert plan.shares == pytest.approx((0.7 / 7, 0.7 / 7))


def test_the_pot_and_the_roots_share_one_budget() -> None:
    roots = ring({2: "circling", 4: "circling"})
    share = 0.7 / 8
    both = root_plan(roots, Bounds(0.25, (0.0,)))
    assert len(cut_in(both, 0)) == 2
    one = root_plan(roots, Bounds(0.25, (0.12,), 3.0))
    assert len(cut_in(one, 0)) == 1
    assert one.share == pytest.approx(1 - 0.88 * (1 - share))
    assert len(cut_in(one, 3)) == 1


def test_what_is_cut_leaves_no_gap_and_a_side_root_saves_the_place() -> None:
    roots = tuple(
        MapRoot(id=f"r{n}", azimuth_deg=a, diameter_mm=10, reach_mm=100, kind=kind, side_root_at_mm=side)
        for n, (a, kind, side) in enumerate([(20, "radial", None), (100, "circling", None), (180, "radial", None), (270, "radial", None)])
    )  # fmt: skip
    plan = root_plan(roots, Bounds(0.5))
    # without the second root 160 degrees would stand empty
    assert cut_in(plan, 0) == []
    assert "too large a gap" in next(s.why for s in plan.steps if s.root == "r1")
    held = root_plan((*roots[:1], roots[1].changed(side_root_at_mm=40.0), *roots[2:]), Bounds(0.5))
    step = held.step("r1")
    assert step is not None
    assert (step.action, step.at_mm) == ("shorten", 40)
    assert "beyond the side root at 40 mm" in step.why
    assert step.share == pytest.approx(0.7 / 4 * 0.6)


@given(maps(), LIMITS, FEEDERS, st.data())
def test_what_the_artist_decides_is_done_and_the_rest_is_solved_anew(
    roots: tuple[MapRoot, ...], limit: float, feeders: str, data: st.DataObject
) -> None:
    one = data.draw(st.sampled_from(roots))
    decided = tuple(r.changed(decided="remove", decided_why="in the way") if r.id == one.id else r for r in roots)
    bounds = Bounds(limit, (0.0,), 2.0, feeders)  # type: ignore[arg-type]
    plan = root_plan(decided, bounds)
    step = plan.step(one.id)
    assert step is not None
    if one.keep:
        assert step.action == "keep"
        assert "decided otherwise, but kept" in step.why
        assert plan.points == root_plan(roots, bounds).points
        return
    assert (step.action, step.year, step.at_mm) == ("remove", 0, 0)
    assert "in the way" in step.why
    own = 0.0 if one.kind == "dead" else feeder_shares(roots)[one.id]
    assert step.share == pytest.approx(own)
    # nothing else is cut but what the rest of the budget bears
    others = sum(s.share for s in plan.steps if s.year == 0 and s.root != one.id)
    assert others <= max(limit - own, 0.0) + 1e-9
    assert plan.share == pytest.approx(own + others)
    live = [r.azimuth_deg for r in roots if r.kind != "dead"]
    without = [r.azimuth_deg for r in roots if r.kind != "dead" and r.id != one.id]
    assert plan.gap_after_deg <= max(150.0, largest_gap_deg(live), largest_gap_deg(without)) + 1e-6


def test_a_thin_root_is_moved_by_hand_and_a_stiff_one_is_not() -> None:
    roots = (
        MapRoot(id="front", azimuth_deg=4, diameter_mm=6, reach_mm=80, decided="move", moved_to_deg=24),
        *(MapRoot(id=f"r{n}", azimuth_deg=90.0 * n, diameter_mm=5, reach_mm=80) for n in (1, 2, 3)),
    )
    plan = root_plan(roots, Bounds(0.3))
    step = plan.step("front")
    assert step is not None
    assert (step.action, step.share, step.at_mm) == ("move", 0.0, None)
    assert "by hand to 24°" in step.why
    # it no longer comes at the viewer: that fault is mended, 6 mm over a median of 5
    assert plan.points == pytest.approx(1.2)
    assert plan.gap_after_deg == pytest.approx(114)
    for changed, why in (({"diameter_mm": 9.0}, "too stiff"), ({"moved_to_deg": 60.0}, "30° at most")):
        stays = root_plan((roots[0].changed(**changed), *roots[1:]), Bounds(0.3)).step("front")
        assert stays is not None
        assert stays.action != "move"
        if stays.action == "keep":
            assert why in stays.why
    cut = root_plan((roots[0].changed(decided="shorten"), *roots[1:]), Bounds(0.3)).step("front")
    assert cut is not None
    assert "no side root" in cut.why or cut.action == "remove"


def test_sides_worked_in_turn_leave_every_root_its_repotting() -> None:
    sides = tuple(
        tuple(Sector(from_deg=(a - 44.9) % 360, to_deg=(a + 44.9) % 360) for a in (start, start + 180))
        for start in (90, 0)
    )
    roots = tuple(r.changed(side_root_at_mm=40.0) for r in ring({n: "circling" for n in range(8)}))
    plan = root_plan(roots, Bounds(0.5, (0.0,), 2.0, turns=sides))
    first = {r.id for r in roots if not any(s.holds(r.azimuth_deg) for s in sides[0])}
    assert set(cut_in(plan, 0)) <= first
    assert cut_in(plan, 0)
    assert cut_in(plan, 2)
    assert all(
        not any(s.holds(next(r for r in roots if r.id == k).azimuth_deg) for s in sides[1]) for k in cut_in(plan, 2)
    )


def test_schools_see_some_faults_otherwise() -> None:
    roots = ring({1: "rising", 3: "crossing"})
    assert len(cut_in(root_plan(roots, Bounds(0.4)), 0)) == 2
    natural = root_plan(roots, Bounds(0.4, weights=(("rising", 0.0), ("crossing", 0.0))))
    assert natural.points == 0
    assert cut_in(natural, 0) == []


def test_sectors_hold_across_the_front() -> None:
    sector = Sector(from_deg=330, to_deg=20, why="graft seedling")
    assert sector.holds(350)
    assert sector.holds(20)
    assert not sector.holds(25)
    assert sector.span_deg == 50
    root = MapRoot(id="a", azimuth_deg=355, diameter_mm=9, reach_mm=90)
    assert "graft seedling" in why_kept(root, (sector,))
    assert Sector(from_deg=-30, to_deg=390).from_deg == 330


def test_a_map_of_thirty_faults_is_solved_at_once() -> None:
    chance = np.random.default_rng(4)
    roots = tuple(
        MapRoot(id=f"r{n}", azimuth_deg=float(12 * n), diameter_mm=float(chance.uniform(4, 24)), reach_mm=150,
                kind="circling", side_root_at_mm=float(chance.uniform(20, 120)))
        for n in range(30)
    )  # fmt: skip
    same = tuple(r.changed(diameter_mm=10.0, side_root_at_mm=None) for r in roots)
    for some in (roots, same):
        plan = root_plan(some, Bounds(0.3))
        assert plan.points > 0
        assert all(s <= 0.3 + 1e-9 for s in plan.shares)
        assert plan.gap_after_deg <= 150
    assert len(cut_in(root_plan(same, Bounds(0.3)), 0)) == 12
    assert root_plan((), Bounds(0.3)).steps == ()


def test_a_root_that_was_cut_back_is_not_cut_again() -> None:
    roots = (
        MapRoot(id="front", azimuth_deg=4, diameter_mm=14, reach_mm=120, side_root_at_mm=46),
        *ring({}, count=5, mm=9.0),
    )
    plan = root_plan(roots, Bounds(0.5, (0.0,), 2.0))
    step = plan.step("front")
    assert step is not None
    assert (step.action, step.year) == ("shorten", 0)
    assert len(plan.shares) == 1


def test_roots_wait_while_the_pot_takes_the_whole_budget_and_are_not_forgotten() -> None:
    roots = ring({2: "circling"})
    plan = root_plan(roots, Bounds(0.2, (0.19, 0.19, 0.19), 2.0))
    step = plan.step("r2")
    assert step is not None
    assert (step.action, step.year) == ("remove", 6)
    assert plan.shares == pytest.approx((0.19, 0.19, 0.19, 0.7 / 8))
