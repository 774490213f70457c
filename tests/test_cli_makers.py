"""The command line for makers: mistakes in one line, nothing ignored in silence, exit 0, 1 or 2 as it came out."""

import json
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import pytest

from kesh.advice.routes.routes import routes
from kesh.base.errors import KeshError
from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of
from kesh.line.arguments import numbers, verb_parser
from kesh.line.main import main
from kesh.line.verb import names, verb
from kesh.line.verbs.design import maker_options

ROOT = Path(__file__).resolve().parents[1]


@pytest.fixture(scope="module")
def bundle(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("makers") / "demo.json"
    path.write_text(json.dumps(bundle_of(demo_collection())))
    return path


def left(folder: Path) -> list[Path]:
    """What was written into a folder; the settings of the test's own profile stand there anyway."""
    return [p for p in folder.iterdir() if p.name != "home"]


def told(capsys: pytest.CaptureFixture[str]) -> str:
    """The one line of a mistake."""
    err = capsys.readouterr().err
    assert err.count("\n") == 1, err
    assert err.startswith("kesh: ")
    return err


@pytest.mark.parametrize(
    ("words", "said"),
    [
        ([], "the following arguments are required: --tree"), (["--tree", "tollgate", "--people", "3"], "invalid choice: 3"),
        (["--tree", "tollgate", "--nonsense"], "unrecognized arguments: --nonsense"), (["--tree", "tollgate", "--shrinkage", "nan"], "no number that can be reckoned"),
        (["--tree", "tollgate", "--shrinkage", "much"], "'much' is no number"), (["--tree", "tollgate", "--room", "inf,300,200"], "--room"),
        (["--tree", "tollgate", "--room", "300,-1,200"], "not above nought"), (["--tree", "tollgate", "--pick", "2"], "--pick says nothing without --out"),
        (["--tree", "tollgate", "--bed", "220,220,250"], "--bed says nothing without --out"), (["--tree", "tollgate", "--force"], "--force says nothing without --out"),
        (["--tree", "tollgate", "--pot", "ferry-tray", "--material", "porcelain"], "--material says nothing for a pot that is there"),
        (["--tree", "tollgate", "--pot", "ferry-tray", "--people", "1"], "--people says nothing"),
        (["--tree", "tollgate", "--pot", "ferry-tray", "--out", "x", "--bed", "nan,1,1"], "--bed"),
        (["--tree", "tollgate", "--pot", "ferry-tray", "--out", "x", "--bed", "220,220,0"], "not above nought"),
        (["--tree", "tollgate", "--pot", "ferry-tray", "--out", "x", "--layer", "0"], "no layer"),
        (["--tree", "tollgate", "--pot", "ferry-tray", "--out", "x", "--plastic", "timber_oak"], "choose print_pla, print_petg"),
        (["--tree", "tollgate", "--pot", "ferry-tray", "--out", "x", "--wood", "print_pla"], "choose timber_larch"),
        (["--tree", "tollgate", "--pot", "ferry-tray", "--out", "x", "--staves", "9"], "add --tub"),
        (["--tree", "tollgate", "--pot", "ferry-tray", "--out", "x", "--tub", "--corners", "mitre"], "a tub of staves has none"),
        (["--tree", "tollgate", "--pick", "0", "--out", "x"], "1 is the first"), (["--tree", "tollgate", "--route", "spell", "--out", "x"], "invalid choice: 'spell'"),
    ],
)  # fmt: skip
def test_a_mistake_takes_one_line_and_writes_nothing(
    bundle: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
    words: list[str],
    said: str,
) -> None:
    monkeypatch.chdir(tmp_path)
    assert main(["design", str(bundle), *words]) == 2
    assert said in told(capsys)
    assert not left(tmp_path)


@pytest.mark.parametrize("command", names())
def test_every_command_refuses_what_it_does_not_know_in_one_line(
    command: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main([command, "--what-is-this"]) == 2
    assert "--help says what can be asked" in told(capsys)


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["--size", "640x480"], "--size says nothing without --picture"), (["x.kesh", "--demo"], "the demo has its own"),
        (["a.kesh", "b.kesh"], "unrecognized arguments"), (["--theme", "pink"], "invalid choice"),
    ],
)  # fmt: skip
def test_the_window_s_own_words_are_checked_too(
    words: list[str], said: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(words) == 2
    assert said in told(capsys)


@pytest.mark.parametrize(
    ("out", "more", "said"),
    [("a.json", ["--tree", "tollgate"], "--tree"), ("a.csv", ["--pot", "x"], "--pot"), ("a.csv", ["--photographs"], "--photographs"),
     ("a.json", ["--photographs"], "is a bundle"), ("a.pdf", ["--tree", "tollgate", "--photographs"], "--photographs")],
)  # fmt: skip
def test_export_refuses_options_that_say_nothing(
    bundle: Path, tmp_path: Path, out: str, more: list[str], said: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["export", str(bundle), str(tmp_path / out), *more]) == 2
    assert said in told(capsys)
    assert not left(tmp_path)


@pytest.mark.parametrize("out", ["A.JSON", "A.CSV"])
def test_capital_endings_are_endings(bundle: Path, tmp_path: Path, out: str) -> None:
    assert main(["export", str(bundle), str(tmp_path / out)]) == 0
    assert (tmp_path / out).stat().st_size > 100


def test_only_the_makers_asked_for_with_what_they_bring(
    bundle: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    words = ["design", str(bundle), "--tree", "tollgate", "--pot", "celandine-round", "--out", str(tmp_path), "--json"]
    assert (
        main(
            [
                *words,
                "--route",
                "box",
                "--tub",
                "--staves",
                "10",
                "--board-width",
                "140",
                "--route",
                "tube",
                "--rings",
                "1",
                "--count",
                "3",
            ]
        )
        == 0
    )
    found = json.loads(capsys.readouterr().out)
    folders = {Path(p).parent.name for p in found["files"]}
    assert folders == {"box", "tube"}
    bill = next(Path(p).read_text() for p in found["files"] if p.endswith("box-bill.csv"))
    assert '"stave, both edges bevelled"' in bill
    assert ",10\n" in bill
    assert main([*words, "--route", "box"]) == 2
    assert "add --force" in told(capsys)
    assert main([*words, "--route", "box", "--force"]) == 0
    again = json.loads(capsys.readouterr().out)
    bill = next(Path(p).read_text() for p in again["files"] if p.endswith("box-bill.csv"))
    assert "stave" not in bill
    assert "long side" in bill


def test_a_tray_is_printed_on_demand_and_small_beds_are_believed(
    bundle: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    words = [
        "design",
        str(bundle),
        "--tree",
        "tollgate",
        "--pot",
        "small-oval",
        "--out",
        str(tmp_path),
        "--route",
        "print",
        "--tray",
        "--gap",
        "0.2",
        "--bed",
        "180,180,180",
    ]
    assert main(words) == 0
    wrote = capsys.readouterr().out
    assert "tray" in wrote
    assert "piece-01.stl" in wrote


def test_nothing_feasible_and_nothing_written_are_told_by_the_exit(
    bundle: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["design", str(bundle), "--tree", "tollgate", "--room", "60,60,60", "--json"]) == 1
    assert json.loads(capsys.readouterr().out)["feasible"] is False
    words = [
        "design",
        str(bundle),
        "--tree",
        "tollgate",
        "--pot",
        "ferry-tray",
        "--out",
        str(tmp_path),
        "--route",
        "drill",
    ]
    assert main(words) == 1
    out = capsys.readouterr()
    assert "not made, drill: nothing: the holes it has are enough" in out.out
    assert out.err == ""
    assert not left(tmp_path)


def test_one_folder_that_is_in_use_keeps_all_others_unwritten(
    bundle: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    words = ["design", str(bundle), "--tree", "tollgate", "--pot", "small-oval", "--out", str(tmp_path)]
    assert main([*words, "--route", "tube"]) == 0
    capsys.readouterr()
    assert main([*words, "--route", "box", "--route", "tube"]) == 2
    assert "tube holds files already" in told(capsys)
    assert {p.name for p in tmp_path.glob("Tollgate*/*")} == {"tube"}


def test_a_hole_a_metre_away_is_no_sheet_for_a_potter(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    demo = demo_collection()
    tray = demo.pots["ferry-tray"]
    wrong = tray.changed(holes=(tray.holes[0].changed(x_mm=1000.0), *tray.holes[1:]))
    path = tmp_path / "wrong.json"
    path.write_text(json.dumps(bundle_of(replace(demo, pots={**demo.pots, tray.id: wrong}))))
    assert (
        main(
            [
                "design",
                str(path),
                "--tree",
                "tollgate",
                "--pot",
                tray.id,
                "--out",
                str(tmp_path / "out"),
                "--route",
                "potter",
            ]
        )
        == 1
    )
    assert "not made, potter: holes: the hole of" in capsys.readouterr().out


def test_help_names_every_command_and_where_the_demo_lies() -> None:
    done = subprocess.run([sys.executable, "-m", "kesh", "--help"], capture_output=True, text=True, cwd=ROOT)
    text = " ".join(done.stdout.split())
    assert done.returncode == 0
    assert all(f"kesh {name}" in text for name in names())
    assert "kesh schema" in text
    assert "data folder under demo/" in text
    assert "with 1 when nothing was feasible" in text


def test_qt_says_nothing_where_no_display_can_be_reached() -> None:
    import os

    env = os.environ | {"DISPLAY": ":4711", "QT_QPA_PLATFORM": ""}
    env.pop("WAYLAND_DISPLAY", None)
    done = subprocess.run([sys.executable, "-m", "kesh", "--demo"], capture_output=True, text=True, cwd=ROOT, env=env)
    assert done.returncode == 2
    assert done.stdout == ""
    assert done.stderr.count("\n") == 1, done.stderr
    assert done.stderr.startswith("kesh: no window can be opened")


def test_every_maker_option_belongs_to_the_parser() -> None:
    parsed = verb_parser("design", verb("design")).parse_args(["x.json", "--tree", "t"])
    assert set(maker_options()) <= set(vars(parsed))
    assert tuple(routes()) == ("potter", "print", "box", "tube", "drill")


@pytest.mark.parametrize("text", ["nan,1,2", "inf,1,2", "1,2", "a,b,c", "1,2,3,4", ",,"])
def test_lists_of_numbers_are_numbers(text: str) -> None:
    with pytest.raises(KeshError, match="--room"):
        numbers(text, "--room", 3)
    assert numbers(None, "--room", 3) == ()
    assert numbers("1,2,3", "--room", 3) == (1.0, 2.0, 3.0)
