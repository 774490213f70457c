"""`kesh find` and `kesh read`: words and lists on the command line, and every mistake in a line."""

import json
from pathlib import Path

import pytest

from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of
from kesh.formats.lists.pots import write_pots
from kesh.line.main import main


@pytest.fixture(scope="module")
def bundle(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("words") / "demo.json"
    path.write_text(json.dumps(bundle_of(demo_collection(), None)), encoding="utf-8")
    return path


def asked(capsys: pytest.CaptureFixture[str], *words: str) -> object:
    assert main([*words, "--json"]) == 0
    return json.loads(capsys.readouterr().out)


def test_words_find_things_and_the_reader_s_own_trees(bundle: Path, capsys: pytest.CaptureFixture[str]) -> None:
    found = asked(capsys, "find", "Rotbuche")
    assert isinstance(found, list)
    assert found[0] == {"kind": "species", "key": "european_beech", "name": "European beech", "why": "exact"}
    own = asked(capsys, "find", "Old Ferryman", str(bundle))
    assert isinstance(own, list)
    assert (own[0]["kind"], own[0]["key"]) == ("tree", "old-ferryman")


def test_where_nothing_is_near_it_says_what_to_try(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["find", "qwxyz"]) == 0
    assert "Try one word" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("name", "text", "kind"),
    [
        ("pots", "Name;Größe;Art\nA;30x22x8 cm;oval\n", "pots"), ("across", "Name;Durchmesser;Höhe\nA;24;9\n", "pots"), ("state", "name,size,state\nA,30 x 20 x 6 cm,free\n", "pots"),
        ("trees", "Baum;Baumart;Höhe\nFritz;Lärche;65\n", "trees"), ("thick", "name,trunk,height\nA,52,450\n", "trees"),
        ("log", "tree,date,kind,text\nmossback,2025-03-17,pruned,top\n", "log"),
    ],
)  # fmt: skip
def test_a_list_is_known_by_its_heads(
    name: str, text: str, kind: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / f"{name}.csv"
    path.write_text(text, encoding="utf-8")
    found = asked(capsys, "read", str(path))
    assert isinstance(found, dict)
    assert found["kind"] == kind
    assert len(found["rows"]) + len(found["refused"]) == 1
    assert main(["read", str(path)]) == 0
    assert capsys.readouterr().out.strip()


def test_kesh_s_own_list_of_pots_is_read_with_its_holes_and_colours(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    pots = demo_collection().pots
    path = tmp_path / "own.csv"
    write_pots(path, pots.values())
    found = asked(capsys, "read", str(path))
    assert isinstance(found, dict)
    rows = {row["name"]: row for row in found["rows"]}
    for pot in pots.values():
        row = rows[pot.name]
        assert (row["length_mm"], row["width_mm"], row["height_mm"]) == pytest.approx(
            (pot.length_mm, pot.width_mm, pot.height_mm), abs=0.06
        )
        assert row["colour"] == pot.colour
        if pot.holes_known and pot.holes:
            assert row["drain"] == sum(h.drains for h in pot.holes), pot.name


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (("read", "nowhere.csv"), "no such file"), (("read", "."), "cannot be read"), (("read", "words.csv", "--unit", "ell"), "invalid choice"), (("find",), "words"),
        (("find", "elm", "nowhere.json"), "no such file"),
    ],
)  # fmt: skip
def test_mistakes_take_one_line(
    words: tuple[str, ...],
    told: str,
    capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
    tmp_path: Path,
) -> None:
    monkeypatch.chdir(tmp_path)
    assert main(list(words)) == 2
    said = capsys.readouterr().err.strip()
    assert told in said
    assert "\n" not in said


@pytest.mark.parametrize(
    "body",
    [
        b"",
        b"\n\n",
        bytes(range(256)),
        b"a,b\n" * 3,
        b"Name;Size\nA;" + b"9" * 9000 + b"\n",
        b"Name;Holes;Size\nA;" + b"8" * 6000 + b";1x1x1\n",
    ],
)
def test_no_file_is_an_exception(body: bytes, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "odd.csv"
    path.write_bytes(body)
    code = main(["read", str(path), "--json"])
    out = capsys.readouterr()
    assert code in (0, 2)
    # what is printed is JSON for every reader: no Infinity, no NaN
    if code == 0:
        json.loads(out.out, parse_constant=lambda name: pytest.fail(name))
    else:
        assert "\n" not in out.err.strip()
