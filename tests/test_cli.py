"""The command line as other people call it: separate processes, no display, one-line errors, exit 0 or 2."""

import json
import os
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import pytest

from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of
from kesh.line.main import main
from kesh.store.collection_file import CollectionFile
from tests.advice.test_report_contract import bundle

ROOT = Path(__file__).parents[1]


@pytest.fixture
def path(tmp_path: Path) -> Path:
    target = tmp_path / "bench.json"
    target.write_text(json.dumps(bundle()))
    return target


def run(*words: object) -> subprocess.CompletedProcess[str]:
    env = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    return subprocess.run(
        [sys.executable, "-m", "kesh", *map(str, words)], capture_output=True, text=True, cwd=ROOT, env=env
    )


def test_a_report_in_json_from_a_separate_process(path: Path) -> None:
    done = run("report", path, "--tree", "t", "--pot", "p", "--json")
    assert done.returncode == 0, done.stderr
    found = json.loads(done.stdout)
    assert found["geometry"]["inner_depth_mm"] == 90
    assert found["findings"]


def test_the_report_command_never_loads_qt() -> None:
    code = "import sys; from kesh.line.main import main; main(['schema']); assert not any(m.startswith('PyQt6') for m in sys.modules)"
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, cwd=ROOT).returncode == 0


def test_a_ranking_in_json(path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    document = bundle()
    document["pots"].append(document["pots"][0] | {"id": "q", "height_mm": 44})
    path.write_text(json.dumps(document))
    assert main(["rank", str(path), "--tree", "t", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["tree"] == "t"
    assert {r["pot"] for r in found["ranking"]} == {"p", "q"}
    for row in found["ranking"]:
        assert set(row) == {"pot", "verdict", "answers", "score", "parts", "blockers", "reason", "smallest_fix"}
        assert list(row["answers"]) == ["lives", "work", "looks"]
        assert all(set(one) == {"status", "because"} for one in row["answers"].values())
        assert set(row["parts"]) == {"size", "depth", "root_fit", "water", "looks", "handling"}


def test_text_for_people(path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["report", str(path), "--tree", "t", "--pot", "p"]) == 0
    assert "inner_depth_mm" in capsys.readouterr().out
    assert main(["rank", str(path), "--tree", "t", "--season", "best", "--school", "penjing"]) == 0
    assert " p " in capsys.readouterr().out


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["report", "{}", "--tree", "x", "--pot", "p"], "no tree 'x'"), (["report", "{}", "--tree", "t", "--pot", "x"], "no pot 'x'"),
        (["report", "{}", "--tree", "t", "--pot", "p", "--mix", "x"], "no mix 'x'"), (["rank", "nowhere.json", "--tree", "t"], "no such file"),
        (["report", "{}", "--tree", "t", "--pot", "p", "--tilt", "80"], "tilt"), (["export", "{}", "x.doc"], "should end in"),
        (["export", "{}", "x.pdf"], "names? a tree|needs a tree"), (["--size", "big", "--picture", "x.png"], "WIDTHxHEIGHT"), (["--size", "640x480"], "without --picture"),
    ],
)  # fmt: skip
def test_mistakes_take_one_line_and_exit_two(
    path: Path, capsys: pytest.CaptureFixture[str], words: list[str], said: str
) -> None:
    import re

    assert main([w.replace("{}", str(path)) for w in words]) == 2
    err = capsys.readouterr().err
    assert err.count("\n") == 1
    assert err.startswith("kesh: ")
    assert re.search(said, err), err


def test_wrong_words_exit_two() -> None:
    done = run("report", "x.json")
    assert done.returncode == 2
    assert "--tree" in done.stderr


def test_no_display_says_what_to_do() -> None:
    done = run("--demo")
    assert done.returncode == 2
    assert "--picture" in done.stderr
    assert done.stderr.count("\n") == 1


def test_a_picture_without_a_display(tmp_path: Path) -> None:
    target = tmp_path / "out.png"
    done = run("--demo", "--picture", target, "--step", "line-up", "--theme", "dark", "--size", "1100x700")
    assert done.returncode == 0, done.stderr
    assert "1100 x 700" in done.stdout
    assert target.read_bytes()[:4] == b"\x89PNG"
    assert target.stat().st_size > 50_000


def test_collections_go_out_as_bundle_list_and_sheet(tmp_path: Path) -> None:
    source = tmp_path / "demo.kesh"
    CollectionFile.create(source, demo_collection()).close()
    assert main(["export", str(source), str(tmp_path / "a.json")]) == 0
    assert json.loads((tmp_path / "a.json").read_text()) == json.loads(json.dumps(bundle_of(demo_collection())))
    assert main(["export", str(source), str(tmp_path / "a.csv")]) == 0
    done = run("export", source, tmp_path / "a.pdf", "--tree", "old-ferryman", "--pot", "ferry-tray")
    assert done.returncode == 0, done.stderr
    assert (tmp_path / "a.pdf").read_bytes()[:4] == b"%PDF"
    assert not (tmp_path / "backups").exists(), "reading writes nothing beside the file"


def test_rank_reads_a_collection_file_too(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    source = tmp_path / "demo.kesh"
    CollectionFile.create(source, demo_collection()).close()
    assert main(["rank", str(source), "--tree", "old-ferryman", "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["ranking"][0]["pot"] == "ferry-tray"


def test_design_writes_every_maker_s_files(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "demo.json"
    path.write_text(json.dumps(bundle_of(demo_collection())))
    out = tmp_path / "out"
    assert main(["design", str(path), "--tree", "tollgate", "--out", str(out), "--bed", "220,220,250", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["tree"] == "tollgate"
    assert found["feasible"] is True
    assert found["relax"] == []
    one = found["designs"][0]
    assert set(one) == {"pot", "looks", "horticulture", "findings"}
    assert 0 <= one["looks"] <= 1
    assert one["pot"]["holes"]
    assert not [f for f in one["findings"] if f["status"] == "no" and f["code"] in ("wet_foot", "tipping", "lift_mass")]
    routes = {Path(p).parent.name for p in found["files"]}
    assert routes == {"potter", "print", "box", "tube"}
    assert {Path(p).parent.parent for p in found["files"]} == {out / f"Tollgate - {one['pot']['name']}"}
    for route in routes:
        names = {Path(p).name for p in found["files"] if Path(p).parent.name == route}
        assert "contents.txt" in names
        assert all(n.startswith("tollgate-") for n in names - {"contents.txt"})
        assert any(n.endswith("-sheet.pdf") for n in names)
    assert all(Path(p).stat().st_size > 0 for p in found["files"])
    assert [row["route"] for row in found["not_made"]] == ["drill"]
    assert "enough" in found["not_made"][0]["why"]


def test_design_writes_the_files_of_a_pot_that_is_there(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path, out = tmp_path / "demo.json", tmp_path / "out"
    demo = demo_collection()
    undrilled = demo.pots["celandine-round"].changed(holes=(), holes_known=True)
    path.write_text(json.dumps(bundle_of(replace(demo, pots={**demo.pots, undrilled.id: undrilled}))))
    assert (
        main(
            [
                "design",
                str(path),
                "--tree",
                "tollgate",
                "--pot",
                undrilled.id,
                "--out",
                str(out),
                "--route",
                "potter",
                "--route",
                "drill",
            ]
        )
        == 0
    )
    said = capsys.readouterr().out
    assert said.startswith(f"{undrilled.name} for tollgate")
    folder = out / f"Tollgate - {undrilled.name}" / "drill"
    assert next(folder.glob("*-sheet.pdf")).stat().st_size > 1000
    assert "diamond core" in next(folder.glob("*-bill.csv")).read_text()
    assert main(["design", str(path), "--tree", "tollgate", "--pot", "none-such"]) == 2
    assert "no pot 'none-such'" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("more", "words"),
    [(["--tree", "nobody"], "no tree 'nobody'"), (["--tree", "tollgate", "--room", "1,2"], "3 numbers"), (["--tree", "tollgate", "--shrinkage", "0.9"], "outside 0 to 0.3"),
     (["--tree", "tollgate", "--material", "cheese"], "cheese")],
)  # fmt: skip
def test_design_says_what_is_wrong_in_one_line(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], more: list[str], words: str
) -> None:
    path = tmp_path / "demo.json"
    path.write_text(json.dumps(bundle_of(demo_collection())))
    assert main(["design", str(path), *more, "--json"]) == 2
    err = capsys.readouterr().err
    assert words in err
    assert err.count("\n") == 1


def test_a_picture_of_a_bundle_leaves_nothing_beside_it(path: Path, tmp_path: Path) -> None:
    for number in (1, 2):
        done = run(path, "--picture", tmp_path / "out.png", "--step", "tree")
        assert done.returncode == 0, done.stderr
        assert done.stderr == "", number
    assert sorted(p.name for p in tmp_path.iterdir() if p.is_file()) == ["bench.json", "out.png"]


@pytest.mark.parametrize("room", ["workshop", "shelf", "reference", "brief", "line-up"])
def test_any_room_may_be_opened_from_the_command_line(room: str, path: Path, tmp_path: Path) -> None:
    assert main([str(path), "--picture", str(tmp_path / f"{room}.png"), "--step", room]) == 0
    assert (tmp_path / f"{room}.png").stat().st_size > 10_000


def test_a_place_that_cannot_be_written_is_one_line_and_exit_2(path: Path, tmp_path: Path) -> None:
    for words in (
        ("export", path, tmp_path / "bench.json" / "below.csv"),
        (path, "--picture", tmp_path / "bench.json" / "below.png"),
        ("design", path, "--tree", "t", "--out", tmp_path / "bench.json" / "below"),
    ):
        done = run(*words)
        assert done.returncode == 2, (words, done.stdout, done.stderr)
        assert done.stderr.count("\n") == 1, done.stderr
        assert "Traceback" not in done.stderr


def test_a_verb_is_a_file(monkeypatch: pytest.MonkeyPatch, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    from kesh.line import verbs
    from kesh.line.verb import names

    (tmp_path / "count.py").write_text(
        '"""`kesh count`: how many trees."""\n'
        "from kesh.line.arguments import bundle_of_args\n"
        "from kesh.line.records import load\n"
        "from kesh.line.verb import Verb\n"
        'VERB = Verb("how many trees", lambda sub: bundle_of_args(sub, tree=False),\n'
        '    lambda args: {"trees": len(load(args.bundle).trees)}, lambda found: [f"{found[\'trees\']} trees"])\n'
    )
    bundle = tmp_path / "b.json"
    bundle.write_text(json.dumps(bundle_of(demo_collection())))
    monkeypatch.setattr(verbs, "__path__", [*verbs.__path__, str(tmp_path)])
    try:
        assert "count" in names()
        assert main(["count", str(bundle)]) == 0
        assert main(["count", str(bundle), "--json"]) == 0
        assert capsys.readouterr().out.splitlines()[0] == f"{len(demo_collection().trees)} trees"
        assert main(["count"]) == 2
        assert "kesh count --help says what can be asked" in capsys.readouterr().err
    finally:
        sys.modules.pop("kesh.line.verbs.count", None)
