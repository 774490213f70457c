"""Bundles and lists in and out; damaged, foreign and hostile files."""

import json
from pathlib import Path

import pytest

from kesh.base.errors import BundleError, KeshError
from kesh.base.writing import write_text
from kesh.formats.bundle import bundle_of, load_bundle, read_bundle, schema
from kesh.formats.lists.pots import COLUMNS, read_pots, write_pots
from kesh.model import Collection, Outline, Profile
from tests.builders import pot


def test_a_collection_survives_the_bundle(demo: Collection) -> None:
    document = json.loads(json.dumps(bundle_of(demo), allow_nan=False))
    again = read_bundle(document)
    assert set(again.trees) == set(demo.trees)
    for key, tree in demo.trees.items():
        assert again.trees[key].measure == tree.measure.changed(how="hand"), key
        assert again.trees[key].roots == tree.roots, key
    assert {k: p.changed(acquired=None) for k, p in again.pots.items()} == {
        k: p.changed(acquired=None) for k, p in demo.pots.items()
    }
    assert again.site == demo.site
    assert len(again.plantings) == len(demo.plantings)
    assert bundle_of(again)["plantings"] == document["plantings"]


def test_the_schema_in_the_docs_is_the_one_in_force() -> None:
    path = Path(__file__).parents[2] / "docs" / "kesh-bundle.schema.json"
    assert json.loads(path.read_text(encoding="utf-8")) == schema()


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no JSON"), ("{", "no JSON"), ("[1, 2]", "no kesh-bundle"), ('{"format": "kesh-bundle", "version": 1, "pots": [{"id": "a"}]}', "length_mm"),
        ('{"format": "kesh-bundle", "version": 1, "x": NaN}', "NaN"), ('{"format": "kesh-bundle", "version": 1, "x": -Infinity}', "Infinity"),
        ('{"a":' * 100_000, "deep|JSON"), ('{"format": "kesh-bundle", "version": 9}', "newer"), ('{"format": "kesh-bundle", "version": true}', "version"),
    ],
)  # fmt: skip
def test_bad_files_are_refused_in_one_sentence(tmp_path: Path, text: str, words: str) -> None:
    path = tmp_path / "x.json"
    path.write_text(text)
    with pytest.raises(BundleError, match=words) as err:
        load_bundle(path)
    assert "\n" not in str(err.value)


def test_files_that_are_no_text_or_not_there(tmp_path: Path) -> None:
    with pytest.raises(BundleError, match="no such file"):
        load_bundle(tmp_path / "nothing.json")
    (tmp_path / "picture.json").write_bytes(b"\x89PNG\r\n\xff\xfe\x00")
    with pytest.raises(BundleError, match="cannot be read as text"):
        load_bundle(tmp_path / "picture.json")


def test_twice_the_same_id_is_refused() -> None:
    row = {"id": "a", "length_mm": 300, "width_mm": 200, "height_mm": 80}
    with pytest.raises(BundleError, match="twice"):
        read_bundle({"format": "kesh-bundle", "version": 1, "pots": [row, row]})


def test_words_of_other_hands_are_understood() -> None:
    found = read_bundle(
        {
            "format": "kesh-bundle", "version": 1, "extra": {"anything": 1},
            "trees": [{"id": "t", "style": "informal upright", "stage": "on show", "height_mm": 400}],
            "pots": [{"id": "p", "length_mm": 300, "width_mm": 200, "height_mm": 80, "state": "in use", "finish": "celadon glaze", "colour": "green"}],
        }
    )  # fmt: skip
    assert found.trees["t"].style == "informal_upright"
    assert found.trees["t"].stage == "on_show"
    assert found.pots["p"].state == "in_use"
    assert found.pots["p"].finish == "muted_glaze"
    assert found.pots["p"].colour.startswith("#")


def test_pots_survive_the_list(tmp_path: Path, demo: Collection) -> None:
    path = tmp_path / "pots.csv"
    write_pots(path, demo.pots.values())
    found = read_pots(path)
    assert not found.problems
    assert {p.id: p for p in found.pots} == dict(demo.pots), "free outlines too"


def test_bad_rows_are_named_and_good_rows_come_in(tmp_path: Path) -> None:
    path = tmp_path / "pots.csv"
    path.write_text(
        "id;name;length_mm;width_mm;height_mm;holes\n"
        "a;Good;300;200;80;0 0 22\nb;Wide;300;-5;80;\nc;Word;long;200;80;\nd;Hole;300;200;80;1 2\na;Again;300;200;80;\ne;;310;210;90;?\n",
        encoding="utf-8",
    )
    found = read_pots(path, known=["old"])
    assert [p.id for p in found.pots] == ["a", "e"]
    assert [p.split(":")[0] for p in found.problems] == ["line 3", "line 4", "line 5", "line 6"]
    assert found.pots[0].holes[0].diameter_mm == 22
    assert not found.pots[1].holes_known
    assert read_pots(path, known=["a"]).pots[0].id == "e"


def test_a_long_list_with_bad_rows(tmp_path: Path) -> None:
    path = tmp_path / "pots.csv"
    rows = [
        f"p{i},Pot {i},{200 + i % 300},{150 + i % 100},{'x' if i % 1000 == 7 else 60 + i % 90}" for i in range(8_000)
    ]
    path.write_text("id,name,length_mm,width_mm,height_mm\n" + "\n".join(rows) + "\n")
    found = read_pots(path)
    assert len(found.pots) == 7_992
    assert len(found.problems) == 8
    assert found.problems[0].startswith("line 9:")


def test_a_table_of_something_else_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "mails.csv"
    path.write_text("from,to\na,b\n")
    with pytest.raises(BundleError, match="length_mm"):
        read_pots(path)


def test_every_column_is_written(tmp_path: Path) -> None:
    path = tmp_path / "one.csv"
    write_pots(path, [pot(outline=Outline(kind="oval"), profile=Profile(kind="lip", lip_offset_mm=-4))])
    assert path.read_text().splitlines()[0].split(",") == list(COLUMNS)


def test_writing_is_whole_or_not_at_all(tmp_path: Path) -> None:
    path = tmp_path / "a.txt"
    write_text(path, "first")
    with pytest.raises(KeshError, match="cannot be written"):
        write_text(tmp_path / "nowhere" / "a.txt", "second")
    write_text(path, "second")
    assert path.read_text() == "second"
    assert list(tmp_path.glob("a.txt*")) == [path]
