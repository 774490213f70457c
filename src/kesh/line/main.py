"""The `kesh` command. Everything but opening the window works without a display."""

import argparse
import json
import sys
from collections.abc import Sequence
from datetime import date
from typing import Any

from kesh.base.errors import FieldError, KeshError
from kesh.line.arguments import COMMANDS, command_parser, refuse, window_parser


def main(argv: Sequence[str] | None = None) -> int:
    """Run a command; 0 when it worked, 1 when nothing was feasible or written, 2 after a one-line mistake."""
    words = list(sys.argv[1:] if argv is None else argv)
    try:
        if words and words[0] in COMMANDS:
            args = command_parser().parse_args(_joined(words))
            for option, name in (("--date", "date"), ("--from", "first"), ("--to", "last")):
                if getattr(args, name, None) is not None:
                    # not by the parser: its own refusal is many lines
                    setattr(args, name, _day(getattr(args, name), option))
            return _run(args)
        return _open(window_parser().parse_args(words))
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


def _day(text: str, option: str = "--date") -> date:
    """A day as it is written on the command line. Raises FieldError."""
    try:
        return date.fromisoformat(text)
    except ValueError as err:
        raise FieldError(option, f"'{text}' is no day; write it as 2026-03-15") from err


def _run(args: argparse.Namespace) -> int:
    if args.command == "schema":
        from kesh.formats.bundle import schema

        return _print(schema())
    if args.command == "export":
        from kesh.line.answers import export

        export(args.file, args.out, args.tree, args.pot, photographs=args.photographs, day=args.date)
        return 0
    if args.command == "measure":
        from kesh.line.answers import measure_lines, run_measure

        measured = run_measure(args.photo, args.known, args.card, args.soil, args.apex, args.mask, args.around)
        return _print(measured) if args.json else _text(measure_lines(measured))
    from kesh.line.answers import load, rank_lines, report_lines, run_rank, run_report

    collection = load(args.bundle)
    if args.command == "design":
        from kesh.line.design import design_lines, reached, run_design

        designed = run_design(collection, args)
        _print(designed) if args.json else _text(design_lines(designed))
        return 0 if reached(designed, args.out) else 1
    if args.command == "worksheet":
        from kesh.line.worksheet import run_worksheet

        run_worksheet(collection, args)
        return 0
    if args.command == "year":
        from kesh.line.year import run_year, year_lines

        year = run_year(collection, args)
        return _print(year) if args.json else _text(year_lines(year))
    if args.command == "group":
        from kesh.line.group import group_lines, run_group

        grouped = run_group(collection, args)
        return _print(grouped) if args.json else _text(group_lines(grouped))
    if args.command == "season":
        from kesh.line.season import run_season, season_lines

        season = run_season(collection, args)
        return _print(season) if args.json else _text(season_lines(season))
    if args.command == "assign":
        from kesh.line.season import assign_lines, run_assign

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
    if args.picture is None:
        refuse(args, "without --picture", size="--size")
    if args.file is not None:
        refuse(args, "beside a file: the demo has its own", demo="--demo")
    args.size = args.size or "1280x800"
    try:
        width, height = (int(part) for part in args.size.lower().split("x"))
    except ValueError as err:
        raise FieldError("--size", f"'{args.size}' is not WIDTHxHEIGHT, such as 1280x800") from err
    from kesh.ui.app import run

    return run(
        args.file,
        demo=args.demo,
        mine=args.mine,
        picture=args.picture,
        step=args.step,
        theme=args.theme,
        size=(width, height),
    )


if __name__ == "__main__":
    sys.exit(main())
