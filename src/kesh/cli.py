"""The `kesh` command. Everything but opening the window works without a display."""

import argparse
import json
import sys
from collections.abc import Sequence
from datetime import date
from pathlib import Path
from typing import Any

from kesh import __version__
from kesh.errors import FieldError, KeshError

COMMANDS = ("report", "rank", "year", "season", "assign", "design", "worksheet", "measure", "export", "schema")


def main(argv: Sequence[str] | None = None) -> int:
    """Run a command; 0 when it worked, 2 after a one-line error."""
    words = list(sys.argv[1:] if argv is None else argv)
    try:
        if words and words[0] in COMMANDS:
            args = _command_parser().parse_args(_joined(words))
            for option, name in (("--date", "date"), ("--from", "first"), ("--to", "last")):
                if getattr(args, name, None) is not None:
                    # not by the parser: its own refusal is many lines
                    setattr(args, name, _day(getattr(args, name), option))
            return _run(args)
        return _open(_window_parser().parse_args(words))
    except KeshError as err:
        print(f"kesh: {' '.join(str(err).split())}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        return 0


def _joined(words: list[str]) -> list[str]:
    """Places in px may begin with a minus; joined to their option they are not taken for an option of their own."""
    found: list[str] = []
    for word in words:
        if found and found[-1] in ("--known", "--card", "--soil", "--apex") and word[:2].strip("-.0123456789") == "":
            found[-1] += f"={word}"
        else:
            found.append(word)
    return found


def _window_parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="kesh", description="Pots for bonsai: measured, computed, drawn to scale.",
        epilog="Without a display: kesh report, kesh rank, kesh year, kesh season, kesh assign, kesh design, kesh worksheet, kesh measure, kesh export; each has its own --help.",
    )  # fmt: skip
    parser.add_argument("file", nargs="?", type=Path, help="a collection (*.kesh) or a bundle (*.json)")
    parser.add_argument("--demo", action="store_true", help="open a fresh copy of the demo collection")
    parser.add_argument("--picture", type=Path, metavar="PNG", help="render the main window to a picture and end")
    parser.add_argument(
        "--step", default="line-up", metavar="ROOM", help="the step or place to open, such as tree or shelf"
    )
    parser.add_argument("--theme", choices=("light", "dark"), help="light or dark")
    parser.add_argument("--size", default="1280x800", metavar="WxH", help="size of the picture")
    parser.add_argument("--version", action="version", version=f"kesh {__version__}")
    return parser


def _command_parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="kesh")
    commands = parser.add_subparsers(dest="command", required=True)
    for name, text in (
        ("report", "all figures and findings of one tree in one pot"),
        ("rank", "every pot in order under one tree"),
    ):
        sub = commands.add_parser(name, help=text, description=text)
        sub.add_argument("bundle", type=Path)
        sub.add_argument("--tree", required=True)
        if name == "report":
            sub.add_argument("--pot", required=True)
            sub.add_argument("--tilt", type=float, metavar="DEG")
        _case_options(sub)
        sub.add_argument("--json", action="store_true", help="print JSON instead of text")
    _year_parser(commands)
    _season_parsers(commands)
    _measure_parser(commands)
    _design_parser(commands)
    _worksheet_parser(commands)
    export = commands.add_parser("export", help="a collection as a bundle, its pots as CSV, or a tree's sheet as PDF")
    export.add_argument("file", type=Path)
    export.add_argument("out", type=Path, help="*.json, *.csv or *.pdf")
    export.add_argument("--date", metavar="YYYY-MM-DD", help="the day of a PDF sheet; today without it")
    export.add_argument("--tree", help="for a PDF sheet")
    export.add_argument("--pot", help="for a PDF sheet; the present pot without it")
    export.add_argument(
        "--photographs", action="store_true", help="put the photographs of a collection into its bundle"
    )
    commands.add_parser("schema", help="print the JSON schema of the bundle")
    return parser


def _case_options(sub: argparse.ArgumentParser, *, season: bool = True) -> None:
    """What may be asked otherwise than the records say."""
    sub.add_argument("--date", metavar="YYYY-MM-DD", help="the day that is asked about; today without it")
    sub.add_argument("--mix")
    sub.add_argument("--school")
    if season:
        sub.add_argument("--season", choices=("best", "edge", "wrong"))


def _year_parser(commands: Any) -> None:
    text = "the year of one tree in one or several pots: waterings, dry and wet hours, what it bears alone"
    sub = commands.add_parser("year", help=text, description=text)
    sub.add_argument("bundle", type=Path)
    sub.add_argument("--tree", required=True)
    sub.add_argument("--pot", required=True, action="append", help="may be given several times")
    sub.add_argument(
        "--habit", choices=("asked", "daily", "twice", "alternate"), default="asked", help="when the keeper looks"
    )
    sub.add_argument("--roofed", action="store_true", help="no rain reaches the pot")
    sub.add_argument("--away", metavar="FROM..TO", help="days without a keeper, such as 2026-07-10..2026-07-24")
    sub.add_argument("--years", type=int, default=60, metavar="N", help="so many years that could have been")
    sub.add_argument("--seed", type=int, default=1, metavar="N", help="which years")
    _case_options(sub, season=False)
    sub.add_argument("--json", action="store_true", help="print JSON instead of text")


def _season_parsers(commands: Any) -> None:
    text = "windows, tasks and weekends of the whole collection"
    sub = commands.add_parser("season", help=text, description=text)
    sub.add_argument("bundle", type=Path)
    sub.add_argument("--date", metavar="YYYY-MM-DD", help="the day from which it is seen; today without it")
    sub.add_argument("--from", dest="first", metavar="YYYY-MM-DD", help="first day; the day of --date without it")
    sub.add_argument("--to", dest="last", metavar="YYYY-MM-DD", help="last day; a year later without it")
    sub.add_argument("--ics", type=Path, metavar="FILE", help="write a calendar file")
    sub.add_argument("--json", action="store_true", help="print JSON instead of text")
    text = "who gets which pot: the moves of the coming season as a chain"
    sub = commands.add_parser("assign", help=text, description=text)
    sub.add_argument("bundle", type=Path)
    sub.add_argument("--date", metavar="YYYY-MM-DD", help="the day from which it is seen; today without it")
    sub.add_argument("--school", help="let one school judge all trees")
    sub.add_argument("--mix", help="reckon all trees in one mix")
    sub.add_argument("--costs", action="store_true", help="print what each tree would cost in each pot as well")
    sub.add_argument("--json", action="store_true", help="print JSON instead of text")


def _day(text: str, option: str = "--date") -> date:
    """A day as it is written on the command line. Raises FieldError."""
    try:
        return date.fromisoformat(text)
    except ValueError as err:
        raise FieldError(option, f"'{text}' is no day; write it as 2026-03-15") from err


def _design_parser(commands: Any) -> None:
    text = "pots designed for a tree, and every maker's files for one of them"
    sub = commands.add_parser("design", help=text, description=text)
    sub.add_argument("bundle", type=Path)
    sub.add_argument("--tree", required=True)
    _case_options(sub)
    sub.add_argument("--material", default="stoneware_unglazed", help="a key of the materials table")
    sub.add_argument("--people", type=int, choices=(1, 2), default=2, help="how many lift it")
    sub.add_argument("--room", metavar="L,W,H", help="inside of kiln or printer, mm")
    sub.add_argument("--shrinkage", type=float, metavar="SHARE", help="total shrinkage of the clay's own test bar")
    sub.add_argument("--bed", metavar="X,Y,Z", help="printer bed, mm (220,220,250)")
    sub.add_argument(
        "--pot", help="files for this pot of the bundle instead of a new design; the drill plan adds to its holes"
    )
    sub.add_argument("--pick", type=int, default=1, metavar="N", help="which design the files are for, 1 is the first")
    sub.add_argument("--out", type=Path, metavar="DIR", help="write every route's files here")
    sub.add_argument("--json", action="store_true", help="print JSON instead of text")


def _worksheet_parser(commands: Any) -> None:
    text = "the work sheet of one tree in one pot as PDF: place, cut list, soil, the work step by step"
    sub = commands.add_parser("worksheet", help=text, description=text)
    sub.add_argument("bundle", type=Path)
    sub.add_argument("--tree", required=True)
    sub.add_argument("--pot", required=True)
    sub.add_argument("--out", type=Path, required=True, metavar="F.pdf")
    sub.add_argument("--paper", choices=("A4", "A3"), default="A4")
    _case_options(sub)


def _measure_parser(commands: Any) -> None:
    text = "a tree's measures from its photograph, each with its plus or minus"
    sub = commands.add_parser("measure", help=text, description=text)
    sub.add_argument("photo", type=Path)
    scale = sub.add_mutually_exclusive_group(required=True)
    scale.add_argument(
        "--known", metavar="X1,Y1,X2,Y2,MM", help="two points (px) in the trunk's plane and their distance"
    )
    scale.add_argument(
        "--card", metavar="X1,Y1,..,X4,Y4,W_MM,H_MM",
        help="corners (px) of a card in the trunk's plane, in turn from the upper left, and its width and height",
    )  # fmt: skip
    sub.add_argument("--soil", metavar="X,Y", help="middle of the trunk's foot on the soil line (px)")
    sub.add_argument("--apex", metavar="X,Y", help="the apex (px)")
    sub.add_argument(
        "--around", metavar="X1,Y1,X2,Y2,...",
        help="a rough loop (px) round crown and trunk, or two corners of a box; outside it all is background",
    )  # fmt: skip
    sub.add_argument("--mask", type=Path, metavar="PNG", help="write what was cut out: 0 ground, 128 foliage, 255 wood")
    sub.add_argument("--json", action="store_true", help="print JSON instead of text")


def _run(args: argparse.Namespace) -> int:
    if args.command == "schema":
        from kesh.formats.bundle import schema

        return _print(schema())
    if args.command == "export":
        from kesh.commands import export

        export(args.file, args.out, args.tree, args.pot, photographs=args.photographs, day=args.date)
        return 0
    if args.command == "measure":
        from kesh.commands import measure_lines, run_measure

        measured = run_measure(args.photo, args.known, args.card, args.soil, args.apex, args.mask, args.around)
        return _print(measured) if args.json else _text(measure_lines(measured))
    from kesh.commands import load, rank_lines, report_lines, run_rank, run_report

    collection = load(args.bundle)
    if args.command == "design":
        from kesh.making_commands import design_lines, run_design

        designed = run_design(collection, args)
        return _print(designed) if args.json else _text(design_lines(designed))
    if args.command == "worksheet":
        from kesh.worksheet_command import run_worksheet

        run_worksheet(collection, args)
        return 0
    if args.command == "year":
        from kesh.year_command import run_year, year_lines

        year = run_year(collection, args)
        return _print(year) if args.json else _text(year_lines(year))
    if args.command == "season":
        from kesh.season_command import run_season, season_lines

        season = run_season(collection, args)
        return _print(season) if args.json else _text(season_lines(season))
    if args.command == "assign":
        from kesh.season_command import assign_lines, run_assign

        shared = run_assign(collection, args)
        return _print(shared) if args.json else _text(assign_lines(shared))
    if args.command == "report":
        found = run_report(collection, args.tree, args.pot, args.mix, args.school, args.season, args.tilt, args.date)
        return _print(found) if args.json else _text(report_lines(found))
    ranked = run_rank(collection, args.tree, args.mix, args.school, args.season, args.date)
    return _print(ranked) if args.json else _text(rank_lines(ranked))


def _print(document: Any) -> int:
    print(json.dumps(document, indent=1, ensure_ascii=False, allow_nan=False))
    return 0


def _text(lines: list[str]) -> int:
    print("\n".join(lines))
    return 0


def _open(args: argparse.Namespace) -> int:
    try:
        width, height = (int(part) for part in args.size.lower().split("x"))
    except ValueError as err:
        raise FieldError("--size", f"'{args.size}' is not WIDTHxHEIGHT, such as 1280x800") from err
    from kesh.ui.app import run

    return run(args.file, demo=args.demo, picture=args.picture, step=args.step, theme=args.theme, size=(width, height))


if __name__ == "__main__":
    sys.exit(main())
