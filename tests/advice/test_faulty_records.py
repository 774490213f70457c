"""One bad record is one record with a finding: never an exception for the shelf, the ranking or the sheet."""

from dataclasses import replace

import numpy as np
import pytest

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.rank import rank
from kesh.advice.report.whole import report
from kesh.advice.why import why
from kesh.base.units import Units
from kesh.geometry.columns import columns
from kesh.geometry.feet import feet_volume_mm3, feet_volumes_mm3
from kesh.model import Brief, Collection, DrainageLayer, Hole, Mix, Outline, Part, Planting, Pot, RootViews
from tests.builders import MIX, SITE, ball, pot, tree
from tests.kept import FULL

CROSSED = Outline(kind="free", points_mm=((-100, -100), (100, 100), (100, -100), (-100, 100)))
BAD = {
    "material": pot(id="bad", material="ceramic"),
    "outline": pot(id="bad", outline=CROSSED),
    "walls": pot(id="bad", profile={"kind": "straight", "base_inset_mm": 180}),
}


def bench(**changes: object) -> Collection:
    base = Collection(site=SITE, trees={"maple": tree()}, mixes={"house": MIX}, pots={"tray": pot()})
    return replace(base, **changes)  # type: ignore[arg-type]


def test_verdicts_agree_wherever_they_are_told(demo: Collection) -> None:
    """Card, sheet and command line: 21 trees in 48 pots."""
    pots = tuple(demo.pots.values())
    for key in demo.trees:
        case = case_for(demo, key)
        told = {e.pot.id: e.verdict for e in rank(case, pots).entries()}
        assert told == {p.id: assess(case, p).verdict for p in pots}
        assert report(assess(case, pots[0]))["verdict"] == told[pots[0].id]


@pytest.mark.parametrize("kind", BAD)
def test_a_pot_that_cannot_be_reckoned_is_one_pot_with_a_finding(kind: str) -> None:
    bad = BAD[kind]
    pots = (pot(id="a"), bad, pot(id="b", height_mm=80))
    case = case_for(bench(pots={p.id: p for p in pots}), "maple", season="best")
    entries = {e.pot.id: e for e in rank(case, pots).entries()}
    alone = {e.pot.id: e for e in rank(case, (pots[0], pots[2])).entries()}
    assert entries["a"].score == alone["a"].score, "the others are judged as if it were not there"
    assert entries["b"].verdict == alone["b"].verdict
    a = assess(case, bad)
    code = "material" if kind == "material" else "record"
    found = a.finding(code)
    assert found is not None
    assert found.status == "unknown"
    assert found.remedy
    assert why(a, code, Units()) is not None
    told = report(a)
    if kind == "material":
        assert told["geometry"]["inner_volume_l"] > 0
        assert told["geometry"]["body_mass_kg"] is None
        assert told["stability"]["tip_angle_deg"] is None
        assert {f.code: f.status for f in a.findings}["frost"] == "unknown"
        assert "ceramic" in a.finding("lift_mass").text  # type: ignore[union-attr]
    else:
        assert entries["bad"].verdict == "unknown"
        assert entries["bad"].reason.startswith("not reckoned")
        assert [f.code for f in a.findings] == ["record"]
        assert told["geometry"]["inner_volume_l"] is None
        assert told["water"]["held_l"] is None
        assert told["hardware"]["screens"] == []


def test_what_a_case_rests_on_and_nobody_knows_is_told() -> None:
    lost = tree(species="trident_mapel", roots={"offset_x_mm": 900})
    planted = Planting(id="p", tree="maple", pot="tray", mix="gone")
    c = bench(trees={"maple": lost}, plantings=(planted,), briefs={"maple": Brief(id="maple", school="martian")})
    a = assess(case_for(c, "maple", pot_id="tray"), pot())
    told = {f.code: f for f in a.findings}
    assert {"species", "mix", "root_mass", "school"} <= set(told)
    assert "trident_maple" in told["species"].remedy
    assert "'gone'" in told["mix"].text
    assert "trunk stands outside" in told["root_mass"].text
    for f in a.findings:
        assert "no room for mix" not in f.text, f.code
        assert "in the site or the tree" not in f.remedy
        assert why(a, f.code, Units()) is not None
    assert rank(case_for(c, "maple"), (pot(),)).entry(0).verdict == "unknown"


@pytest.mark.parametrize(
    "mix",
    [
        Mix(id="house", name="House", parts=(Part(substrate="moon_dust", parts=1),)),
        Mix(id="house", name="House", parts=MIX.parts, drainage_layer=DrainageLayer(substrate="moon_dust", thickness_mm=10)),
        Mix(id="house", name="House", parts=(Part(substrate="akadama_hard_3_6", parts=0),)),
    ],
)  # fmt: skip
def test_a_mix_that_cannot_be_reckoned_is_told_and_only_water_suffers(mix: Mix) -> None:
    a = assess(case_for(bench(mixes={"house": mix}), "maple", season="best"), pot())
    assert a.finding("mix") is not None
    assert a.finding("wet_foot").status == "unknown"  # type: ignore[union-attr]
    assert a.finding("root_removal").status == "fits"  # type: ignore[union-attr]


def test_holes_for_wires_drain_nothing_and_one_beside_the_floor_counts_for_nothing() -> None:
    drained = pot(holes=(Hole(x_mm=0, diameter_mm=20), Hole(x_mm=-90, diameter_mm=3), Hole(x_mm=5000, diameter_mm=60)))
    only = pot(holes=(Hole(x_mm=0, diameter_mm=20),))
    case = case_for(bench(), "maple", season="best", tilt_deg=20)
    a, b = assess(case, drained), assess(case, only)
    assert report(a)["geometry"]["hole_area_cm2"] == pytest.approx(np.pi)
    assert report(a)["water"]["tilted"] == report(b)["water"]["tilted"]
    assert a.finding("drain_holes").value == b.finding("drain_holes").value  # type: ignore[union-attr]
    found = a.finding("holes")
    assert found is not None
    assert "5000" in found.text
    assert b.finding("holes") is None
    tied = assess(case, pot(holes=(Hole(x_mm=0, diameter_mm=20, use="tie"),)))
    assert tied.finding("drain_holes").status == "no"  # type: ignore[union-attr]
    wide = assess(case, pot(holes=(Hole(x_mm=0, diameter_mm=6, use="drain"),)))
    assert wide.finding("drain_holes").status == "watch"  # type: ignore[union-attr]


def test_a_pine_is_combed_not_sawn(demo: Collection) -> None:
    from kesh.advice.planting.worksheet import cut_lines

    case = case_for(demo, "old-ferryman", season="best")
    a = assess(case, demo.pots["slip-tray"])
    found = a.finding("flat_saw")
    assert found is not None
    assert found.status == "watch"
    assert "comb" in found.remedy.lower()
    assert not any("saw height" in line for line in cut_lines(a, Units()))
    sawn = Brief(id="maple", root_views=RootViews(amount="saw"))
    maple = assess(case_for(bench(briefs={"maple": sawn}), "maple", season="best"), pot(height_mm=50))
    assert maple.finding("flat_saw").status == "fits"  # type: ignore[union-attr]
    assert any("saw height" in line for line in cut_lines(maple, Units()))


def test_ties_follow_a_turned_root_mass_and_planned_holes_are_said() -> None:
    from kesh.advice.planting.worksheet import hardware_lines
    from kesh.advice.report.whole import cut_list

    holes = (Hole(x_mm=-60, diameter_mm=20), Hole(x_mm=60, diameter_mm=20))
    c = bench(trees={"maple": tree(roots={"length_mm": 250, "width_mm": 150})}, pots={"tray": pot(holes=holes)})

    def cuts(turn: float) -> tuple[float, ...]:
        planted = Planting(id="p", tree="maple", pot="tray", mix="house", turn_deg=turn)
        made = cut_list(assess(case_for(replace(c, plantings=(planted,)), "maple", pot_id="tray"), c.pots["tray"]))
        assert made is not None
        return made.tie_wire_mm

    straight, turned = cuts(0), cuts(90)
    assert straight[0] - turned[0] == pytest.approx(1.05 * 2 * 100, abs=12), (
        "100 mm less over the top, and down its sides"
    )
    bare = assess(case_for(c, "maple"), pot(holes=(), length_mm=600, width_mm=450))
    made = cut_list(bare)
    assert made is not None
    assert made.planned_drains
    assert len(made.tie_wire_mm) <= 2
    assert any("to be drilled first" in line for line in hardware_lines(bare, Units()))
    assert report(bare)["hardware"]["planned_holes"] is True


def test_side_room_ends_at_the_very_corner_of_a_hexagon() -> None:
    from kesh.geometry.outline import outline_points
    from kesh.science.roots.fit import Seat, fit

    hexagon = pot(
        outline={"kind": "polygon", "sides": 6, "corner_mm": 6},
        length_mm=260,
        width_mm=225,
        profile={"kind": "tube"},
        holes=(),
    )
    seat = Seat(clearance_mm=15, floor_layer_mm=12)
    q = hexagon.wall_mm + 15
    inner = outline_points(hexagon.outline, 260, 225, q, 2000)
    found = fit(
        ball(outline=Outline(kind="rectangle"), length_mm=240, width_mm=60, depth_mm=40), columns([hexagon]), seat
    )
    assert float(found.off_right_mm[0]) == pytest.approx(120 - inner[:, 0].max(), abs=0.05)
    sharp = 130 * np.cos(np.pi / 6)
    assert inner[:, 0].max() == pytest.approx((sharp - q) / np.cos(np.pi / 6), abs=0.05), (
        "beyond its radius a corner is sharp"
    )


Solids = dict[str, tuple[float, tuple[float, ...]]]


@pytest.fixture(scope="module")
def solids(demo: Collection) -> Solids:
    """(volume in mm3, extents in mm) of each pot of the demo as it is meshed: the second way of computing."""
    from kesh.geometry.solid import solid

    made = ((pot_id, solid(one)) for pot_id, one in demo.pots.items())
    return {pot_id: (float(mesh.volume), tuple(mesh.extents)) for pot_id, mesh in made}


def test_feet_are_the_same_in_mass_and_drawing(demo: Collection, solids: Solids) -> None:
    from kesh.geometry.volume import body

    for one in demo.pots.values():
        computed = float(body(columns([one])).body_volume_cm3[0])
        assert computed == pytest.approx(solids[one.id][0] / 1e3, rel=5e-3), one.id
    many = tuple(p.changed(id=f"{p.id}-{k}") for k in range(2) for p in demo.pots.values())
    alone = np.array([feet_volume_mm3(p) for p in many])
    assert feet_volumes_mm3(columns(many)) == pytest.approx(alone, rel=0.06)


def test_stated_and_overall_size_are_two_figures(demo: Collection, solids: Solids) -> None:
    from kesh.geometry.overall import overall_mm, overalls_mm

    for one in demo.pots.values():
        assert overall_mm(one) == pytest.approx(solids[one.id][1], abs=0.3), one.id
    many = tuple(p.changed(id=f"{p.id}-{k}") for k in range(2) for p in demo.pots.values())
    long, wide = overalls_mm(columns(many))
    assert np.column_stack([long, wide]) == pytest.approx(np.array([overall_mm(p)[:2] for p in many]), abs=0.3)
    belly = pot(outline={"kind": "round"}, length_mm=262, width_mm=262, profile={"kind": "bowed", "belly_mm": 22})
    told = report(assess(case_for(bench(), "maple"), belly))
    assert told["geometry"]["overall_mm"] == pytest.approx([306, 306, 100])
    tight = bench(briefs={"maple": Brief(id="maple", limits={"bench_length_mm": 290})})  # type: ignore[arg-type]
    assert assess(case_for(tight, "maple"), belly).finding("bench_length").status == "no"  # type: ignore[union-attr]


def test_the_limit_for_one_person_is_the_one_the_brief_gives(demo: Collection) -> None:
    a = assess(case_for(bench(briefs={"maple": Brief(id="maple", limits={"lift_kg": 1.0})}), "maple"), pot())  # type: ignore[arg-type]
    assert a.finding("lift_mass").high == 1.0  # type: ignore[union-attr]
    assert "1.0 kg" in a.finding("lift_mass").text  # type: ignore[union-attr]


def test_any_pot_of_the_model_is_judged_without_an_exception() -> None:
    rng = np.random.default_rng(7)
    case = case_for(bench(), "maple", season="best")
    kinds = ("rectangle", "oval", "round", "polygon", "lobed", "free")
    made: list[Pot] = []
    while len(made) < (150 if FULL else 70):
        long, wide = rng.uniform(20, 900, 2)
        outline = Outline(
            kind=str(rng.choice(kinds)), corner_mm=float(rng.choice([0, 5, 300])), sides=int(rng.integers(3, 16)),
            exponent=float(rng.uniform(1, 20)), lobes=int(rng.integers(2, 12)), lobe_depth=float(rng.uniform(0, 0.45)),
            lobe_style=str(rng.choice(["cusp", "smooth"])), points_mm=tuple(map(tuple, rng.uniform(-300, 300, (5, 2)).tolist())),
        )  # fmt: skip
        try:
            one = pot(
                id=f"p{len(made)}", outline=outline, length_mm=float(long), width_mm=float(long if outline.kind == "round" else wide),
                height_mm=float(rng.uniform(10, 500)), wall_mm=float(rng.uniform(1, 40)), floor_mm=float(rng.uniform(1, 30)),
                profile={"kind": str(rng.choice(["straight", "tube", "bowed", "lip", "slab"])), "base_inset_mm": float(rng.uniform(-100, 300)),
                         "belly_mm": float(rng.uniform(-60, 60)), "lip_offset_mm": float(rng.uniform(-60, 60))},
                feet_mm=float(rng.choice([0, 6])), feet_style=str(rng.choice(["block", "cloud", "ring", "columns", "none"])),
                material=str(rng.choice(["stoneware_unglazed", "cheese"])),
            )  # fmt: skip
        except ValueError:
            continue
        made.append(one)
        report(assess(case, one))
    ranked = rank(case, tuple(made)).entries()
    assert len(ranked) == len(made)
    assert all(e.reason for e in ranked)
