"""`kesh season` and `kesh assign`: the contract's keys, and mistakes in one line."""

import json
from datetime import date
from pathlib import Path

import icalendar
import pytest

from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of
from kesh.line import main as cli
from kesh.line.main import main


@pytest.fixture(scope="module")
def bundle(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("season") / "demo.json"
    path.write_text(json.dumps(bundle_of(demo_collection())), encoding="utf-8")
    return path


def run(capsys: pytest.CaptureFixture[str], *words: str) -> dict:  # type: ignore[type-arg]
    assert main([*words, "--json"]) == 0
    found: dict = json.loads(capsys.readouterr().out)  # type: ignore[type-arg]
    return found


def test_windows_tasks_and_weekends(bundle: Path, capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    ics = tmp_path / "out.ics"
    found = run(capsys, "season", str(bundle), "--date", "2026-03-10", "--ics", str(ics))
    assert set(found) == {"windows", "tasks", "weekends", "calendar"}
    assert all(set(w) == {"tree", "window", "first", "last", "status"} for w in found["windows"])
    mossback = next(w for w in found["windows"] if w["tree"] == "mossback")
    assert (mossback["window"], mossback["first"], mossback["last"], mossback["status"]) == (
        "bud_swell",
        "2026-03-08",
        "2026-04-04",
        "best",
    )
    task = found["tasks"][0]
    assert {"id", "tree", "kind", "from", "to", "sign", "state", "asked", "why", "school", "event"} <= set(task)
    assert all(
        date.fromisoformat(w["date"]).weekday() == 5 and set(w) == {"date", "hours", "soil_l"}
        for w in found["weekends"]
    )
    assert len(icalendar.Calendar.from_ical(ics.read_bytes()).walk("VEVENT")) == len(found["tasks"])


def test_a_span_of_days_holds_only_what_touches_it(bundle: Path, capsys: pytest.CaptureFixture[str]) -> None:
    found = run(capsys, "season", str(bundle), "--date", "2026-03-10", "--from", "2026-05-20", "--to", "2026-06-20")
    windows = {w["tree"]: w for w in found["windows"]}
    # what waits for warm nights lies in the span, what is worked at bud swell does not
    assert "dry-well" in windows
    assert "tollgate" not in windows
    assert all(w["last"] >= "2026-05-20" and w["first"] <= "2026-06-20" for w in windows.values())
    assert all(t["to"] is None or t["to"] >= "2026-05-20" for t in found["tasks"])
    assert all(t["from"] is None or t["from"] <= "2026-06-20" for t in found["tasks"])
    assert found["weekends"][0]["date"] <= "2026-05-23"


def test_who_gets_which_pot(bundle: Path, capsys: pytest.CaptureFixture[str]) -> None:
    found = run(capsys, "assign", str(bundle), "--date", "2026-03-10", "--costs")
    moves = found["moves"]
    assert {"tree", "from", "to", "gain", "first", "last"} <= set(moves[0])
    assert found["total"] == pytest.approx(sum(m["gain"] for m in moves), abs=1e-3)
    into = [m["to"] for m in moves]
    assert len(set(into)) == len(into)
    staying = set(found["stay"]) | set(found["unserved"])
    held = {tree: p.pot for tree in demo_collection().trees if (p := demo_collection().planting_of(tree)) is not None}
    assert not {held[t] for t in staying if t in held} & set(into)
    # no cheaper plan: a move whose old pot nobody takes costs less than staying, and so does each chain as a whole
    extra = {m["tree"]: found["costs"][m["tree"]]["pots"][m["to"]] - found["costs"][m["tree"]]["stay"] for m in moves}
    takers = {m["frees"]: m["tree"] for m in moves if m["frees"]}
    for m in moves:
        chain = [m["tree"]]
        while chain[-1] in takers and takers[chain[-1]] not in chain:
            chain.append(takers[chain[-1]])
        if len(chain) == 1 or m["frees"] is None:
            assert sum(extra[t] for t in chain) <= 1e-6, chain
    again = run(capsys, "assign", str(bundle), "--date", "2026-03-10", "--costs")
    assert again == found


def test_plain_text_and_mistakes(bundle: Path, capsys: pytest.CaptureFixture[str]) -> None:
    for words in (("season", str(bundle), "--date", "2026-03-10"), ("assign", str(bundle), "--date", "2026-03-10")):
        assert main(list(words)) == 0
        assert "mossback" in capsys.readouterr().out
    for words in (
        ("season", str(bundle), "--date", "tomorrow"), ("season", str(bundle), "--from", "2026-05-01", "--to", "2026-04-01"),
        ("season", str(bundle), "--to", "2199-01-01"), ("assign", str(bundle), "--school", "nobody"), ("assign", str(bundle), "--mix", "mud"),
        ("season", str(bundle.parent / "none.json")), ("season", str(bundle), "--ics", str(bundle.parent / "no" / "such" / "x.ics")),
    ):  # fmt: skip
        assert main(list(words)) == 2, words
        told = capsys.readouterr().err
        assert told.startswith("kesh: ")
        assert told.count("\n") == 1


def test_an_empty_collection_has_an_empty_season(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "empty.json"
    path.write_text('{"format": "kesh-bundle", "version": 1}', encoding="utf-8")
    found = run(capsys, "season", str(path), "--date", "2026-03-10")
    assert (found["windows"], found["tasks"]) == ([], [])
    plan = run(capsys, "assign", str(path), "--date", "2026-03-10")
    assert plan["moves"] == []


@pytest.mark.parametrize("day", ["0001-01-01", "9999-12-31", "2024-02-29"])
def test_the_ends_of_the_calendar_are_days_too(tmp_path: Path, capsys: pytest.CaptureFixture[str], day: str) -> None:
    trees = [{"id": n, "species": s} for n, s in (("a", "jade"), ("b", "japanese_maple"), ("c", "trident_maple"))]
    bundle = tmp_path / "b.json"
    bundle.write_text(json.dumps({"format": "kesh-bundle", "version": 1, "trees": trees, "pots": []}))
    assert cli.main(["season", str(bundle), "--date", day, "--json"]) == 0
    assert "tasks" in json.loads(capsys.readouterr().out)


def test_every_task_tells_its_key_day_status_and_source(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    bundle = tmp_path / "b.json"
    bundle.write_text(json.dumps(bundle_of(demo_collection())))
    assert cli.main(["season", str(bundle), "--date", "2026-03-10", "--json"]) == 0
    rows = json.loads(capsys.readouterr().out)["tasks"]
    assert rows
    assert all({"key", "kind", "tree", "day", "status", "source"} <= row.keys() for row in rows)
    assert len({row["key"] for row in rows}) == len(rows)
