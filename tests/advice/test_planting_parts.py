"""What several places tell of one planting is reckoned once: what is short, what is cut, who stands in a pot, what follows."""

from collections import Counter
from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.planting.placing import soil_line, surface_mm
from kesh.advice.planting.rehearsal import Ready
from kesh.advice.planting.soil_batch import HAIR_SHARE, NOUGHT, BatchLine, shortage
from kesh.advice.planting.tie_plan import metals_of
from kesh.advice.planting.worksheet import hardware_lines
from kesh.advice.season.aftercare import care_tasks
from kesh.base.status import gravest_first, gravity
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.model import Collection, Hole, Planting, Stock
from kesh.science.roots.fit import kept_ring, kept_rings
from kesh.science.roots.side_room import side_room_mm
from kesh.science.stand.hardware import LAP_MM
from kesh.science.stand.tie_hold import FITS_MARGIN
from tests.advice.test_planting_plan import plan
from tests.builders import SITE, pot, tree

START = date(2026, 3, 10)
amount = st.floats(0.001, 1e4)


# --- what is short


@given(amount, amount, amount)
def test_more_in_the_shed_never_makes_it_worse(need: float, one: float, other: float) -> None:
    less, more = sorted((one, other))
    for soil in (True, False):
        assert gravity(shortage(need, less, soil=soil)) <= gravity(shortage(need, more, soil=soil))


@pytest.mark.parametrize(
    ("have", "soil", "status"),
    [
        (10.0, True, "fits"), (10.0 - NOUGHT / 2, False, "fits"), (10 * (1 - HAIR_SHARE) + 1e-6, True, "watch"), (10 * (1 - HAIR_SHARE) + 1e-6, False, "no"),
        (10 * (1 - HAIR_SHARE) - 1e-3, True, "no"), (0.0, True, "no"),
    ],
)  # fmt: skip
def test_a_hair_is_only_for_soil(have: float, soil: bool, status: str) -> None:
    assert shortage(10.0, have, soil=soil) == status


@given(st.floats(0.1, 50), st.floats(0, 60))
def test_the_bar_and_the_list_say_the_same_of_one_component(need: float, have: float) -> None:
    line = BatchLine("pumice", "Pumice", "3–6 mm", need, 0.5, have, 1.0)
    ready = Ready("pumice", "Pumice", need, "l", have)
    assert line.status == ready.status
    assert line.missing_l == ready.missing
    assert (ready.missing > 0) == (have < need)


def test_what_nobody_counted_is_not_short() -> None:
    assert Ready("feed", "Feed").status == "fits"
    assert Ready("wire", "Wire", 2.0, "m").status == "fits"
    assert BatchLine("pumice", "Pumice", "3–6 mm", 2.0, 0.5, None, 1.0).status == "fits"


@pytest.mark.parametrize(
    ("ready", "need", "short"),
    [
        (Ready("w", "Wire", 2.5, "m", 1.0), "2.50 m", "Wire: 1.50 m short"),
        (Ready("w", "Mesh", 120.0, "cm²", 20.0), "120 cm²", "Mesh: 100 cm² short"),
        (Ready("w", "Stones", 3.0, "", 1.0), "3", "Stones: 2.00 short"),
        (Ready("w", "Feed"), "", "Feed: 0.00 short"),
    ],
)
def test_amounts_in_words(ready: Ready, need: str, short: str) -> None:
    assert ready.need_words == need
    assert ready.short_words == short


def test_finding_list_and_bar_agree_on_a_whole_planting() -> None:
    lines = plan().batch
    assert lines is not None
    one, *rest = lines.lines
    stock = {one.key: Stock(id=one.key, have=one.litres / 2)} | {r.key: Stock(id=r.key, have=r.litres) for r in rest}
    short = plan(more={"stock": stock})
    assert short.batch is not None
    bar = {line.key: line.status for line in short.batch.lines}
    listed = {r.key: r.status for r in short.ready if r.key in bar}
    assert bar == listed
    assert bar[one.key] == "no"
    said = next(f for f in short.findings if f.code == "stock")
    assert said.status == "no"
    assert said.value == sum(v != "fits" for v in bar.values())


# --- what is cut


def test_screens_are_counted_by_size_and_lapped_all_round() -> None:
    holes = tuple(Hole(x_mm=x, y_mm=0.0, diameter_mm=d) for x, d in ((-120.0, 20.0), (0.0, 30.0), (120.0, 20.0)))
    made = plan(pot_fields={"holes": holes})
    cuts = made.cuts
    assert cuts is not None
    assert cuts.screen_sizes == {44: 2, 54: 1}
    assert sum(cuts.screen_sizes.values()) == len(cuts.screens) == len(holes)
    # the sheet that covers them all reaches as far past the outermost holes as the single screens do
    assert cuts.sheet is not None
    assert cuts.sheet.length_mm == pytest.approx(240 + 20 + 2 * LAP_MM)
    assert cuts.sheet.width_mm == pytest.approx(30 + 2 * LAP_MM)
    told = hardware_lines(made.a, Units())
    assert any(line.startswith("2 × screen 44 × 44 mm") for line in told)
    assert any(line.startswith("1 × screen 54 × 54 mm") for line in told)


def test_metres_by_gauge_add_up_to_every_piece() -> None:
    cuts = plan().cuts
    assert cuts is not None
    wires = sum(w.length_mm for w in cuts.ties) + sum(c.count * c.way.cut_mm for c in cuts.clips)
    assert sum(cuts.totals_m().values()) == pytest.approx(wires / 1000)
    told = cuts.totals_words()
    assert sum(float(part.split(" ")[-2]) for part in told.split(", ")) == pytest.approx(wires / 1000, abs=0.02)
    metres = [float(part.split(" ")[-2]) for part in told.split(", ")]
    assert metres == sorted(metres, reverse=True)
    assert Counter(w.length_mm for w in cuts.ties)[cuts.spare_mm] >= 1


def test_nothing_to_cut_has_no_words() -> None:
    cuts = plan(anchors="none", pot_fields={"holes": ()}).cuts
    assert cuts is None or not cuts.ties


# --- the place


@given(st.floats(-40, 40), st.floats(-40, 40), st.lists(st.floats(0.4, 1.0), min_size=1, max_size=5))
def test_rings_at_several_heights_are_each_the_ring_alone(x: float, y: float, shrinks: list[float]) -> None:
    a = plan(offset_x_mm=x, offset_y_mm=y).a
    roots, fit = a.case.roots, a.figures.roots
    assert roots is not None
    assert fit is not None
    offset = float(fit.allowed_offset_mm[0])
    rings = kept_rings(roots, a.figures.pots, a.seat, offset, shrinks)
    for ring, shrink in zip(rings, shrinks, strict=True):
        alone = kept_ring(roots, a.figures.pots, a.seat, offset, shrink)
        assert np.array_equal(ring, alone)
    # less root mass never reaches farther
    small, large = kept_rings(roots, a.figures.pots, a.seat, offset, (min(shrinks), 1.0))
    assert len(small) == len(large)


def test_the_finding_on_side_room_tells_the_room_of_the_drawing() -> None:
    made = plan(offset_x_mm=-60.0)
    a = made.a
    assert a.case.roots is not None
    assert a.figures.roots is not None
    anew = side_room_mm(a.case.roots, a.figures.pots, a.seat, a.figures.roots)
    assert anew is not None
    assert made.room_mm == pytest.approx(anew)
    said = next(f for f in made.findings if f.code == "side_room")
    assert said.value == round(float(anew.min()), 1)


@pytest.mark.parametrize("dressing", [0.0, 5.0, 12.0])
def test_heights_stand_against_soil_and_dressing_together(dressing: float) -> None:
    bare, dressed = plan(raise_mm=10.0).a, plan(raise_mm=10.0, dressing_mm=dressing).a
    assert surface_mm(dressed) == pytest.approx(surface_mm(bare) + dressing)
    foot = next(h for h in soil_line(dressed) if h.name == "foot")
    assert foot.over_mm == pytest.approx(-surface_mm(dressed))


# --- what holds it


def test_its_weight_is_enough_where_the_margin_is() -> None:
    light = plan(anchors="none", tree_fields={"m": {"mass_kg": 0.3}}).ties
    heavy = plan(anchors="none", tree_fields={"m": {"mass_kg": 80.0}}).ties
    for found, stands in ((light, False), (heavy, True)):
        assert found is not None
        assert found.hold is not None
        assert found.hold.margin_untied is not None
        assert found.stands_untied is stands
        assert (float(found.hold.margin_untied.min()) >= FITS_MARGIN) is stands


def test_gravest_first_keeps_the_order_within_a_status() -> None:
    found = gravest_first(reversed(plan(mound_mm=20.0).findings))
    at = [gravity(f.status) for f in found]
    assert at == sorted(at)
    whole = plan(mound_mm=20.0).whole.findings
    assert [gravity(f.status) for f in whole] == sorted(gravity(f.status) for f in whole)


# --- what follows


def test_the_sheet_and_the_tasks_name_the_same_steps() -> None:
    made = plan(brief={"root_views": {"old_soil": "wash"}})
    rows = made.aftercare()
    tasks = care_tasks("maple", "repotted-p", START, rows)
    assert [t.kind for t in tasks] == [r.step for r in rows]
    slipped = made.aftercare(cut=False)
    # without a cut nothing asks for more patience than after one
    assert {r.severity for r in slipped} <= {"light", "any"}
    assert "heavy" in {r.severity for r in rows} or "moderate" in {r.severity for r in rows}


# --- who stands in a pot


def _bench(*plantings: Planting) -> Collection:
    return Collection(
        name="b", trees={k: tree(id=k) for k in ("one", "two")}, pots={"tray": pot()}, plantings=plantings
    )


def test_only_another_tree_that_stands_there_now_is_in_the_way() -> None:
    there = Planting(id="a", tree="two", pot="tray")
    assert [p.id for p in _bench(there).others_in("tray", "one")] == ["a"]
    assert _bench(there).others_in("tray", "two") == ()
    assert _bench(there.changed(planned=True)).others_in("tray", "one") == ()
    assert _bench(there.changed(ended=START)).others_in("tray", "one") == ()
    # a planting of a tree that is not there any more holds no pot
    assert _bench(there.changed(tree="gone")).others_in("tray", "one") == ()
    # nor does one that a later planting took the tree out of
    later = Planting(id="b", tree="two", pot="box", date=START)
    assert _bench(there, later).others_in("tray", "one") == ()


def test_nobody_stands_twice_in_the_demo() -> None:
    c = demo_collection()
    for tree_id in c.trees:
        now = c.planting_of(tree_id)
        if now is not None:
            assert c.others_in(now.pot, tree_id) == ()
            assert [p.tree for p in c.others_in(now.pot, "nobody")] == [tree_id]


@pytest.mark.parametrize(
    ("mass_kg", "gust_m_s", "status"), [(0.3, 25.0, "no"), (0.3, 12.0, "watch"), (80.0, 12.0, "fits")]
)
def test_untied_is_judged_by_weight_and_the_same_wherever_it_is_told(
    mass_kg: float, gust_m_s: float, status: str
) -> None:
    site = SITE.changed(gust_m_s=gust_m_s)
    made = plan(anchors="none", tree_fields={"m": {"mass_kg": mass_kg}}, more={"site": site})
    assert made.ties is not None
    assert made.ties.hold is not None
    # seen as pulls it never fits: there are none
    assert made.ties.hold.status != "fits"
    assert made.ties.status == status
    assert next(f for f in made.findings if f.code == "tie_hold").status == status


@pytest.mark.parametrize("anchors", ["ties", "rods", "raft", "stones", "guys"])
def test_what_is_held_is_judged_by_its_pulls(anchors: str) -> None:
    ties = plan(anchors=anchors).ties
    assert ties is not None
    assert ties.hold is not None
    assert ties.status == ties.hold.status
    assert ties.untied_margin == pytest.approx(float(ties.hold.margin_untied.min()))  # type: ignore[union-attr]
    # the wind that lifts the roots is the gust times the root of what the weight bears of it
    assert ties.gone_at_m_s == pytest.approx(ties.gust_m_s * ties.untied_margin**0.5)  # type: ignore[operator]


def test_without_a_root_mass_nothing_is_known() -> None:
    assert plan(tree_fields={"roots": None}).ties is None


# --- odd input


@pytest.mark.parametrize("size", ["nan", "inf", "0", "-2", "500", "thick", ""])
def test_a_gauge_that_is_none_is_passed_over(size: str) -> None:
    stock = {f"wire-copper-{size}": Stock(id=f"wire-copper-{size}", have=5)}
    assert metals_of(stock) == ("aluminium",)
    found = plan(more={"stock": stock}).ties
    assert found is not None
    assert {w.metal for w in found.wires} == {"aluminium"}
    assert all(0 < w.gauge_mm <= 10 for w in found.wires)


ODD_POTS: tuple[dict[str, object], ...] = (
    {}, {"height_mm": 12}, {"length_mm": 60, "width_mm": 40, "height_mm": 30}, {"length_mm": 1800, "width_mm": 900, "height_mm": 400}, {"holes": ()},
    {"profile": {"kind": "slab"}},
)  # fmt: skip


@pytest.mark.parametrize("fields", ODD_POTS)
@pytest.mark.parametrize("anchors", ["ties", "stones", "guys", "none"])
@pytest.mark.parametrize("roots", [{}, None])
def test_no_step_says_a_figure_that_is_none(
    fields: dict[str, object], anchors: str, roots: dict[str, object] | None
) -> None:
    made = plan(anchors=anchors, pot_fields=dict(fields), tree_fields={"roots": roots})
    if made.a.fault:
        assert made.a.fault[0].isupper() or made.a.fault
        return
    told = [
        *(w for s in made.steps for w in (s.title, s.figure, s.figure_words, *s.lines)), *(f.text for f in made.findings),
        *(r.short_words for r in made.ready), *(r.need_words for r in made.ready),
    ]  # fmt: skip
    for text in told:
        words = text.lower().replace("(", " ").replace("−", " ").split()
        assert not {"nan", "inf", "none,", "-inf"} & set(words), text


@given(st.floats(0.2, 80), st.one_of(st.none(), st.floats(1, 30)))
def test_lifting_and_carrying_ask_for_two_at_the_same_mass(mass: float, own: float | None) -> None:
    limits = {} if own is None else {"limits": {"lift_kg": own}}
    made = plan(tree_fields={"m": {"mass_kg": mass}}, brief=limits)
    keys = {s.key: {c.key for c in s.cautions} for s in made.steps if s.key in ("lift", "carry")}
    assert ("heavy_lift" in keys["lift"]) is ("heavy_lift" in keys["carry"])
    stand = made.a.figures.stand
    assert stand is not None
    limit = float(stand.one_person_kg[0]) if own is None else min(own, float(stand.one_person_kg[0]))
    assert ("heavy_lift" in keys["lift"]) is (float(stand.mass_wet_kg[0]) > limit)
