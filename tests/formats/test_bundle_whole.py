"""Whatever stands in a collection stands in its bundle: out and in is the same, judged the same, photographs where asked for."""

import json
from pathlib import Path

import pytest

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.base.errors import KeshError
from kesh.demo.pictures import create_demo
from kesh.formats.bundle import bring, bring_bundle, bundle_of, read_bundle
from kesh.model import Collection
from kesh.model.kinds import KINDS
from tests.builders import pot, tree


def test_every_record_of_the_demo_comes_back(demo: Collection) -> None:
    again = read_bundle(json.loads(json.dumps(bundle_of(demo))))
    for kind in KINDS.values():
        assert getattr(again, kind.field) == getattr(demo, kind.field), kind.key
    for key in demo.trees:
        planting = demo.planting_of(key)
        assert planting is not None
        one, other = (assess(case_for(c, key), c.pots[planting.pot]) for c in (demo, again))
        assert [(f.code, f.status, f.value) for f in one.findings] == [
            (f.code, f.status, f.value) for f in other.findings
        ]


def test_photographs_travel_where_they_are_asked_for(tmp_path: Path) -> None:
    file = create_demo(tmp_path / "demo.kesh")
    keys = sorted({p.picture for p in file.collection.photos.values()})
    assert keys
    pictures = {key: file.picture(key) for key in keys}
    path = tmp_path / "out.json"
    path.write_text(json.dumps(bundle_of(file.collection, pictures)))
    brought = bring_bundle(path)
    assert brought.pictures == pictures
    assert brought.collection.photos == file.collection.photos
    bare = bring(json.loads(json.dumps(bundle_of(file.collection))))
    assert not bare.pictures
    file.close()


def test_a_misspelt_species_is_said_with_the_nearest() -> None:
    document = bundle_of(Collection(name="A", trees={"maple": tree(species="trident_maple")}, pots={"tray": pot()}))
    document["trees"][0]["species"] = "trident_mapel"
    brought = bring(document)
    told = " ".join((*brought.problems, *brought.odd))
    assert "trident_mapel" in told
    assert "trident_maple" in told or "Trident maple" in told


HOSTILE = [
    ("pots", "state", []), ("pots", "state", {"a": 1}), ("pots", "length_mm", 2**70), ("pots", "length_mm", 10**400),
    ("pots", "length_mm", float("nan")), ("pots", "outline", {"kind": "oval", "exponent": 1e308}), ("trees", "seed", 2**70),
    ("trees", "name", "\ud800"), ("pots", "holes", [{"x_mm": None}]), ("mixes", "parts", [{"substrate": "x", "parts": 2**70}]),
]  # fmt: skip


@pytest.mark.parametrize(("table", "name", "value"), HOSTILE)
def test_one_bad_figure_is_one_record_or_one_sentence(demo: Collection, table: str, name: str, value: object) -> None:
    document = json.loads(json.dumps(bundle_of(demo)))
    document[table][0][name] = value
    try:
        brought = bring(document)
    except KeshError:
        # a document that is refused as a whole says so in a sentence; anything else would fail here
        return
    others = {one["id"] for one in document[table][1:]}
    assert others <= set(getattr(brought.collection, table))


def test_a_number_of_thousands_of_digits_is_one_sentence(tmp_path: Path) -> None:
    path = tmp_path / "long.json"
    path.write_text(f'{{"format": "kesh-bundle", "version": {"9" * 5000}}}')
    with pytest.raises(KeshError):
        bring_bundle(path)


def test_a_trunk_of_a_group_may_be_called_as_that_of_a_single_tree() -> None:
    tree = {
        "id": "wood",
        "name": "Wood",
        "style": "forest",
        "group": [{"id": "a", "trunk_mm": 34, "x_mm": 1, "y_mm": 2}],
    }
    document = {"format": "kesh-bundle", "version": 1, "trees": [tree]}
    (trunk,) = read_bundle(document).trees["wood"].group
    assert (trunk.diameter_mm, trunk.x_mm) == (34, 1)
