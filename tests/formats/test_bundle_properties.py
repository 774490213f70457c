"""Whatever can be typed into a record survives the bundle, and the CSV list keeps what its columns hold."""

import json
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from hypothesis import example, given
from hypothesis import strategies as st

from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of, read_bundle
from kesh.formats.lists.pots import read_pots, write_pots
from kesh.model import Pot, Tree
from kesh.store.records import with_changes
from tests.builders import pot, tree

DEMO = demo_collection()
mm = st.integers(40, 900)
words = st.text(st.characters(categories=("L", "N", "P", "Zs"), exclude_characters="\x85\xa0"), min_size=1, max_size=30)
names = words.map(str.strip).filter(bool)


@st.composite
def pots(draw: st.DrawFn) -> Pot:
    kind = draw(st.sampled_from(["rectangle", "oval", "round", "polygon", "lobed"]))
    length = draw(st.integers(150, 900))
    width = length if kind in ("round", "polygon") else draw(st.integers(120, 900))
    fields: dict[str, Any] = {
        "id": draw(st.from_regex(r"[a-z][a-z0-9-]{0,10}[a-z0-9]", fullmatch=True)),
        "name": draw(names),
        "outline": {"kind": kind},
        "length_mm": length,
        "width_mm": width,
        "height_mm": draw(st.integers(45, 400)),
        "wall_mm": draw(st.integers(4, 14)),
        "floor_mm": draw(st.integers(5, 16)),
        "feet_mm": draw(st.integers(0, 15)),
        "state": draw(st.sampled_from(["shelf", "wish"])),
        "price": draw(st.one_of(st.none(), st.integers(0, 5000).map(float))),
    }
    return pot(**fields)


@st.composite
def trees(draw: st.DrawFn) -> Tree:
    measures = {
        "height_mm": draw(st.integers(200, 1200)),
        "trunk_diameter_mm": draw(st.one_of(st.none(), st.integers(15, 180))),
        "canopy_left_mm": draw(mm),
        "canopy_right_mm": draw(mm),
        "crown_base_mm": draw(st.one_of(st.none(), st.integers(20, 190))),
    }
    roots = draw(st.one_of(st.none(), st.fixed_dictionaries({"depth_mm": st.integers(20, 200)})))
    return tree(id="typed", name=draw(names), m=measures, roots=roots)


@given(pots())
def test_any_pot_survives_the_bundle(one: Pot) -> None:
    held = with_changes(DEMO, [("pot", one.id, one)])
    again = read_bundle(json.loads(json.dumps(bundle_of(held), allow_nan=False)))
    assert again.pots[one.id] == one


@given(trees())
def test_any_tree_survives_the_bundle(one: Tree) -> None:
    held = with_changes(DEMO, [("tree", one.id, one)])
    again = read_bundle(json.loads(json.dumps(bundle_of(held), allow_nan=False))).trees[one.id]
    assert again.name == one.name
    assert again.style == one.style
    assert again.measure.changed(how="hand") == one.measure.changed(how="hand")
    assert again.roots == one.roots


@example([pot(id="a", name="plain"), pot(id="b", name=chr(34) + "0,")])
@given(st.lists(pots(), max_size=5, unique_by=lambda p: p.id))
def test_any_pots_survive_the_list(several: list[Pot]) -> None:
    with TemporaryDirectory() as folder:
        path = Path(folder) / "pots.csv"
        write_pots(path, several)
        found = read_pots(path)
    assert not found.problems
    again = {p.id: p for p in found.pots}
    assert set(again) == {p.id for p in several}
    for one in several:
        for field in ("name", "length_mm", "width_mm", "height_mm", "wall_mm", "floor_mm", "feet_mm", "state", "price"):
            assert getattr(again[one.id], field) == getattr(one, field), field
        assert again[one.id].outline.kind == one.outline.kind
