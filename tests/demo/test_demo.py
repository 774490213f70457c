"""The demo shows every kind of finding, and one pot that fits."""

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.checks import RULES
from kesh.advice.rank import rank
from kesh.demo.lanternfield import demo_collection
from kesh.model import Collection


def test_it_is_the_same_every_time_and_hangs_together(demo: Collection) -> None:
    assert demo_collection() == demo
    assert len(demo.trees) >= 12
    assert len(demo.pots) == 48
    for p in demo.plantings:
        assert p.tree in demo.trees
        assert p.pot in demo.pots
        assert p.mix in demo.mixes
    for e in demo.events:
        assert e.tree in demo.trees
        assert e.pot is None or e.pot in demo.pots
    in_use = {p.pot for p in demo.plantings if p.ended is None}
    assert all(demo.pots[key].state == "in_use" for key in in_use)


def test_every_rule_speaks_somewhere_and_most_of_them_complain_somewhere(demo: Collection) -> None:
    seen: dict[str, set[str]] = {}
    for key in demo.trees:
        planted = demo.planting_of(key)
        assert planted is not None
        a = assess(case_for(demo, key, pot_id=planted.pot), demo.pots[planted.pot])
        for f in a.findings:
            seen.setdefault(f.code, set()).add(f.status)
        ranking = rank(case_for(demo, key), tuple(demo.pots.values()))
        for rule, result in ranking.checks:
            seen.setdefault(rule.code, set()).update(("fits", "watch", "no", "unknown")[s] for s in result.status)
    # these three speak only of records that cannot be reckoned, and the demo has none
    whole = {r.code for r in RULES} - {"record", "material", "holes"}
    assert whole <= set(seen)
    complain = {code for code, statuses in seen.items() if statuses & {"watch", "no"}}
    assert whole - complain - {"measured_volume", "measured_mass", "switched_off", "wet_share"} == set()
    assert any("unknown" in statuses for statuses in seen.values())


def wrong(demo: Collection, tree: str) -> dict[str, str]:
    planted = demo.planting_of(tree)
    assert planted is not None
    a = assess(case_for(demo, tree, pot_id=planted.pot), demo.pots[planted.pot])
    return {f.code: f.status for f in a.findings if f.status in ("watch", "no")}


def test_the_plantings_that_are_wrong_on_purpose_are_found(demo: Collection) -> None:
    assert "mix_ph" in wrong(demo, "evening-bell")
    assert wrong(demo, "wicket")["wet_foot"] == "watch"
    assert "lift_out" in wrong(demo, "honeyjar")
    assert "depth_band" in wrong(demo, "cartographer")
    assert wrong(demo, "long-rain")["graft"] == "no"
    assert {"wind", "wet_foot"} & set(wrong(demo, "rope-ladder"))
    assert "frost" in wrong(demo, "paper-lantern")


def test_one_pot_fits_and_the_nearest_misses_say_what_is_wrong(demo: Collection) -> None:
    entries = rank(case_for(demo, "old-ferryman"), tuple(demo.pots.values())).entries()
    assert entries[0].verdict == "fits"
    assert entries[0].pot.id == "ferry-tray"
    for entry in entries:
        if entry.verdict != "fits":
            assert entry.misses
            assert entry.smallest_fix, entry.pot.id
