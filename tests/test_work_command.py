"""`kesh work`: the same steps as the window shows, for every kind; one line for what cannot be."""

import json
import subprocess
import sys
from datetime import date
from pathlib import Path

import pytest

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.planting.meant import planting_in
from kesh.advice.planting.plan import PlantingPlan
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of
from kesh.line.main import main
from kesh.line.verbs.work import run_work, work_lines

DEMO = demo_collection()
DAY = date(2026, 3, 10)
HOMES = [(tree, p.pot) for tree in DEMO.trees if (p := DEMO.planting_of(tree)) is not None and p.pot in DEMO.pots]


@pytest.fixture(scope="module")
def path(tmp_path_factory: pytest.TempPathFactory) -> Path:
    target = tmp_path_factory.mktemp("work") / "bench.json"
    target.write_text(json.dumps(bundle_of(DEMO), default=str))
    return target


@pytest.mark.parametrize(("tree", "pot"), HOMES)
def test_every_tree_is_told_in_steps_that_add_up(tree: str, pot: str) -> None:
    found = run_work(DEMO, tree, pot, day=DAY)
    steps = found["steps"]
    assert found["minutes"] == pytest.approx(sum(s["minutes"] for s in steps), abs=0.05 * len(steps) + 0.05)
    bare = [n for n, s in enumerate(steps) if s["bare"]]
    assert found["bare_minutes"] == pytest.approx(sum(steps[n]["minutes"] for n in bare), abs=0.05 * len(steps) + 0.05)
    # bare in one run of steps, lifted before and covered after
    assert bare == list(range(bare[0], bare[-1] + 1)) if bare else found["bare_minutes"] == 0
    assert len({s["key"] for s in steps}) == len(steps)
    # what comes last is its place, with a layer the mother tree after it
    assert "carry" in {s["key"] for s in steps[-2:]}
    assert 0 <= found["feeders_share"] <= 1
    for line in work_lines(found):
        assert not any(wrong in line for wrong in ("None", "nan", " 1 trees", " 1 roots", "  1 wires", "0 screens"))


@pytest.mark.parametrize(("tree", "pot"), HOMES[::4])
def test_line_and_window_tell_one_plan(tree: str, pot: str) -> None:
    planting = planting_in(DEMO, tree, DEMO.pots[pot])
    a = assess(case_for(DEMO, tree, pot_id=pot, on=DAY, planting=planting), DEMO.pots[pot])
    plan = PlantingPlan(a, Units(), DAY)
    told = run_work(DEMO, tree, pot, day=DAY)
    assert [(s["key"], s["title"], s["lines"]) for s in told["steps"]] == [
        (s.key, s.title, list(s.lines)) for s in plan.steps
    ]


def test_the_text_reads_in_order_and_the_json_has_its_keys(path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    words = ["work", str(path), "--tree", "seven-neighbours", "--pot", "neighbours-tray", "--date", "2026-03-10"]
    assert main(words) == 0
    text = capsys.readouterr().out
    assert text.index("main tree first") < text.index("Then the others") < text.index("Moss")
    assert main([*words, "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert set(found) == {"kind", "steps", "minutes", "bare_minutes", "feeders_share", "base_mm", "heap_mm"}
    assert all(set(s) == {"key", "title", "lines", "minutes", "bare"} for s in found["steps"])


@pytest.mark.parametrize(
    ("tree", "pot", "more", "words"),
    [
        ("nobody", "gate-oval", (), "no tree 'nobody'"),
        ("tollgate", "nothing", (), "no pot 'nothing'; known are "),
        ("tollgate", "gate-oval", ("--date", "2026-13-01"), "is no day"),
        ("tollgate", "gate-oval", ("--mix", "mud"), "no mix 'mud'"),
        ("tollgate", "gate-oval", ("--school", "mine"), "no school 'mine'"),
    ],
)
def test_what_cannot_be_is_one_line(
    path: Path, capsys: pytest.CaptureFixture[str], tree: str, pot: str, more: tuple[str, ...], words: str
) -> None:
    assert main(["work", str(path), "--tree", tree, "--pot", pot, *more]) == 2
    told = capsys.readouterr().err
    assert told.startswith("kesh: ")
    assert words in told
    assert told.count("\n") == 1


def test_a_long_list_of_pots_says_that_there_are_more(path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    main(["work", str(path), "--tree", "tollgate", "--pot", "nothing"])
    assert capsys.readouterr().err.rstrip().endswith(" …")


@pytest.mark.parametrize("verb", ["work", "rank"])
def test_a_full_disk_is_one_line_and_no_success(path: Path, verb: str) -> None:
    pot = () if verb == "rank" else ("--pot", "gate-oval")
    words = [sys.executable, "-m", "kesh", verb, str(path), "--tree", "tollgate", *pot, "--json"]
    with open("/dev/full", "w") as full:
        done = subprocess.run(words, stdout=full, stderr=subprocess.PIPE, text=True, check=False)
    assert done.returncode == 1
    assert done.stderr.startswith("kesh: nothing was written: ")
    assert done.stderr.count("\n") == 1


def test_a_reader_who_has_seen_enough_is_no_mistake(path: Path) -> None:
    words = [sys.executable, "-m", "kesh", "report", str(path), "--tree", "tollgate", "--pot", "gate-oval", "--json"]
    with subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as told:
        assert told.stdout is not None
        assert told.stderr is not None
        told.stdout.close()
        assert told.stderr.read() == b""
    assert told.returncode == 0
