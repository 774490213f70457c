"""Holes that are proposed lie on the floor, clear of wall, feet and each other, on any outline; or none is proposed."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.advice.routes.drill import BODIES, WAYS, body_of, drill_job
from kesh.advice.routes.drill_places import edge_mm, edge_needed_mm, wanted_holes
from kesh.figure.drawing import Circle, Line, Words
from kesh.geometry.feet import BETWEEN_MM, apart_mm, over_foot, with_feet
from kesh.geometry.holes import floor_ring, on_floor
from kesh.model import Hole, Outline, Pot, Profile
from kesh.reference.notes import cautions
from kesh.reference.tables import materials
from tests.builders import ELL, SEE, TRIANGLE
from tests.kept import examples

FORMS = {"ell": ELL, "see": SEE, "triangle": TRIANGLE}


def free_pot(points: tuple[tuple[float, float], ...], **more: object) -> Pot:
    size = np.ptp(np.array(points), axis=0)
    fields: dict[str, object] = dict(
        id="p", name="Odd one", outline=Outline(kind="free", points_mm=points), length_mm=float(size[0]), width_mm=float(size[1]), height_mm=80,
        wall_mm=8, floor_mm=9, feet_mm=9, feet_style="cloud", holes=(), holes_known=True,
    )  # fmt: skip
    return with_feet(Pot.made(**(fields | more)))


def check(pot: Pot, found: tuple[Hole, ...]) -> None:
    assert on_floor(pot, found) == found
    kept = [*pot.holes, *found]
    for hole in found:
        assert edge_mm(pot, hole) >= edge_needed_mm(pot, hole) - 0.05
        assert not over_foot(pot, hole)
        apart = BETWEEN_MM if hole.drains else 12
        assert all(apart_mm(hole, other) >= apart - 0.05 for other in kept if other is not hole)


@pytest.mark.parametrize("name", list(FORMS))
@pytest.mark.parametrize("feet", ["cloud", "block", "ring", "none"])
def test_on_odd_outlines_every_proposal_lies_on_the_floor(name: str, feet: str) -> None:
    pot = free_pot(FORMS[name], feet_style=feet, feet_mm=0.0 if feet == "none" else 9.0)
    found = wanted_holes(pot)
    assert [h for h in found if h.drains]
    check(pot, found)
    made = drill_job(pot)
    assert made.template is not None
    assert all(c.status == "fits" for c in made.checks if c.text.startswith("Hole "))


outlines = st.one_of(
    st.builds(Outline, kind=st.just("rectangle"), corner_mm=st.floats(0, 30)),
    st.builds(Outline, kind=st.just("oval"), exponent=st.sampled_from([1.4, 2.0, 4.0])),
    st.builds(Outline, kind=st.just("polygon"), sides=st.integers(3, 8)),
    st.builds(Outline, kind=st.just("lobed"), lobes=st.integers(3, 8), lobe_depth=st.floats(0.05, 0.3)),
)


@settings(max_examples=examples(40))
@given(
    outlines,
    st.floats(80, 500),
    st.floats(0.5, 1.0),
    st.sampled_from(["cloud", "block", "ring", "columns"]),
    st.sampled_from(["stoneware_unglazed", "raku_smoke_fired", "print_petg"]),
    st.integers(0, 2),
)
def test_no_pot_gets_a_hole_beside_its_floor(
    outline: Outline, length: float, share: float, feet: str, body: str, there: int
) -> None:
    holes = tuple(Hole(x_mm=x, y_mm=0, diameter_mm=14) for x in (-0.15 * length, 0.15 * length)[:there])
    try:
        pot = with_feet(
            Pot(id="p", name="p", outline=outline, profile=Profile(base_inset_mm=3), length_mm=length, width_mm=share * length, height_mm=60, wall_mm=6,
                floor_mm=8, feet_mm=9, feet_style=feet, material=body, holes=holes)
        )  # fmt: skip
        floor_ring(pot)
        found = wanted_holes(pot)
    except ValueError:
        return
    check(pot, found)


def test_where_no_hole_fits_a_sentence_says_so_and_nothing_is_to_buy() -> None:
    tight = with_feet(
        Pot(
            id="p",
            name="Thimble",
            length_mm=44,
            width_mm=44,
            height_mm=40,
            wall_mm=6,
            floor_mm=6,
            outline=Outline(kind="round"),
        )
    )
    assert wanted_holes(tight) == ()
    made = drill_job(tight)
    told = dict(made.facts)["To drill"]
    assert told.startswith("nothing: no hole fits; this floor leaves no place")
    assert (made.bill, made.steps, made.drawings, made.template) == ((), (), (), None)


@pytest.mark.parametrize("name", list(FORMS))
def test_the_template_is_mirrored_for_the_underside(name: str) -> None:
    """Laid on the pot that was rolled over sideways, each hole comes to lie where it was meant."""
    pot = free_pot(FORMS[name], holes=(Hole(x_mm=-90, y_mm=-70, diameter_mm=16),))
    hole = Hole(x_mm=-60.0, y_mm=-75.0, diameter_mm=22)
    made = drill_job(pot, (hole,))
    template = made.template
    assert template is not None
    drilled = [i for i in template.items if isinstance(i, Circle) and i.layer == "holes"]
    assert [(c.x, c.y, c.radius) for c in drilled] == [(60.0, -75.0, 11.0)]
    there = [i for i in template.items if isinstance(i, Circle) and i.layer == "marks"]
    assert [(c.x, c.y) for c in there] == [(90.0, -70.0)]
    cut = next(i for i in template.items if isinstance(i, Line) and i.layer == "cut")
    ring = shapely.Polygon(cut.points)
    # an asymmetric pot: only the mirror image lies on the template
    floor = floor_ring(pot)
    assert ring.buffer(0.5).contains(shapely.affinity.scale(floor, -1, 1, origin=(0, 0)))
    if name != "triangle":
        assert name == "see" or not ring.buffer(0.5).contains(floor)
    told = [w.text for w in template.items if isinstance(w, Words)]
    assert "FRONT of the pot" in told
    assert any("underside" in t and "from below" in t for t in told)
    side = {w.text: w.x for w in template.items if isinstance(w, Words) and w.text.startswith("pot's")}
    assert side["pot's right"] < 0 < side["pot's left"]
    head, rows = made.tables[0][1], made.tables[0][2]
    assert "from above" in head[1]
    assert "from below" in head[2]
    assert "60.0 left, 75.0 front" in rows[0][1]
    assert "60.0 right, 75.0 front" in rows[0][2]


@pytest.mark.parametrize("key", list(materials()))
def test_bit_and_caution_belong_to_the_body(key: str) -> None:
    pot = with_feet(
        Pot(
            id="p",
            name="p",
            length_mm=300,
            width_mm=220,
            height_mm=80,
            wall_mm=7,
            floor_mm=8,
            feet_mm=8,
            material=key,
            holes=(),
        )
    )
    made = drill_job(pot)
    kind = body_of(pot)
    told = " ".join(
        [
            *(v for _, v in made.facts),
            *(c.care for c in made.cautions),
            *(i.what for i in made.bill),
            *(s.text for s in made.steps),
        ]
    )
    clay = key.startswith(
        (
            "stoneware",
            "porcelain",
            "earthenware",
            "terracotta",
            "raku",
            "stone_",
            "concrete",
            "tufa",
            "volcanic",
            "fibre_",
            "lightweight",
            "fibre_reinforced",
        )
    )
    assert (kind == "ceramic") == clay
    assert ("diamond core" in told) == clay
    assert ("wet sand" in told) == clay
    assert WAYS[kind][3] in {c.key for c in made.cautions}
    assert set(BODIES.values()) < set(WAYS)


def test_every_caution_of_the_drill_is_in_the_table() -> None:
    assert {way[3] for way in WAYS.values()} <= set(cautions())


def test_a_hole_entered_beside_the_floor_is_left_out_and_told() -> None:
    pot = free_pot(SEE, holes=(Hole(x_mm=1000, y_mm=0, diameter_mm=20),))
    made = drill_job(pot)
    assert made.template is not None
    left, _, right, _ = made.template.bounds()
    assert right - left < 400
    assert any(c.status == "watch" and "does not lie on the floor" in c.text for c in made.checks)
    assert [h for h in made.pot.holes if h.drains and abs(h.x_mm) < 200]
