"""The words of the `kesh` command: what may be asked, and mistakes told in one line."""

import argparse
import math
from pathlib import Path
from typing import Any, NoReturn

from kesh import __version__
from kesh.base.errors import KeshError
from kesh.base.paths import data_dir


class UsageError(KeshError):
    """The command was written wrongly; the sentence says what and where to look."""


class OneLine(argparse.ArgumentParser):
    """A parser whose mistakes are one line, told as every other mistake is."""

    def error(self, message: str) -> NoReturn:
        """Raises UsageError."""
        text = " ".join(message.split())
        raise UsageError(f"{text}; {self.prog} --help says what can be asked")


def finite(text: str) -> float:
    """A number as it is written on the command line; neither nan nor inf."""
    try:
        value = float(text)
    except ValueError as err:
        raise argparse.ArgumentTypeError(f"'{text}' is no number") from err
    if not math.isfinite(value):
        raise argparse.ArgumentTypeError(f"'{text}' is no number that can be reckoned with")
    return value


def numbers(text: str | None, name: str, count: int | None = None) -> tuple[float, ...]:
    """Numbers with commas between them, none for none. Raises UsageError."""
    if text is None:
        return ()
    try:
        found = tuple(float(part) for part in text.split(","))
    except ValueError as err:
        raise UsageError(f"{name}: '{text}' is no list of numbers with commas between them") from err
    if not all(math.isfinite(v) for v in found):
        raise UsageError(f"{name}: '{text}' holds something that is no number that can be reckoned with")
    if count is not None and len(found) != count:
        raise UsageError(f"{name}: {count} numbers with commas between them are wanted, {len(found)} came")
    return found


def given_at(args: argparse.Namespace, name: str) -> bool:
    """Whether an option was written at all; nought is a value."""
    value = getattr(args, name)
    return value is not None and value is not False


def refuse(args: argparse.Namespace, why: str, **given: str) -> None:
    """Raises UsageError for options that would say nothing here: name of the value = the option as it is written."""
    for name, option in given.items():
        if given_at(args, name):
            raise UsageError(f"{option} says nothing {why}; leave it out")


COMMANDS = ("report", "rank", "year", "season", "assign", "group", "design", "worksheet", "measure", "export", "schema")


def window_parser() -> OneLine:
    """`kesh [FILE]`."""
    parser = OneLine(
        prog="kesh", description="Pots for bonsai: measured, computed, drawn to scale.",
        epilog=f"Without a display: {', '.join(f'kesh {name}' for name in COMMANDS)}; each has its own --help. "
        "Kesh ends with 0, with 1 when nothing was feasible or written, with 2 for a mistake.",
    )  # fmt: skip
    parser.add_argument("file", nargs="?", type=Path, help="a collection (*.kesh) or a bundle (*.json)")
    parser.add_argument(
        "--demo",
        action="store_true",
        help=f"open a fresh copy of the demo collection, kept in Kesh's own data folder under demo/ ({str(data_dir() / 'demo').replace('%', '%%')}); the last five stay",
    )
    parser.add_argument(
        "--mine", action="store_true", help="open your own collection, the one worked in last or a new one"
    )
    parser.add_argument("--picture", type=Path, metavar="PNG", help="render the main window to a picture and end")
    parser.add_argument(
        "--step", default="line-up", metavar="ROOM", help="the step or place to open, such as tree or shelf"
    )
    parser.add_argument("--theme", choices=("light", "dark"), help="light or dark")
    parser.add_argument("--size", metavar="WxH", help="size of the picture (1280x800)")
    parser.add_argument("--version", action="version", version=f"kesh {__version__}")
    return parser


def command_parser() -> OneLine:
    """Every command that needs no window."""
    parser = OneLine(prog="kesh")
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
            sub.add_argument("--tilt", type=finite, metavar="DEG")
        _case_options(sub)
        sub.add_argument("--json", action="store_true", help="print JSON instead of text")
    _year_parser(commands)
    _season_parsers(commands)
    _group_parser(commands)
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


def _group_parser(commands: Any) -> None:
    text = "the layout check of a group in its tray, and proposals to lay it out anew"
    sub = commands.add_parser("group", help=text, description=text)
    sub.add_argument("bundle", type=Path)
    sub.add_argument("--tree", required=True)
    sub.add_argument("--pot", help="another tray than the one it stands in")
    sub.add_argument("--layouts", type=int, default=0, metavar="N", help="propose so many layouts (0)")
    sub.add_argument("--seed", type=int, default=0, metavar="N", help="which run; the same seed proposes the same (0)")
    _case_options(sub, season=False)
    sub.add_argument("--json", action="store_true", help="print JSON instead of text")


def _design_parser(commands: Any) -> None:
    text = "pots designed for a tree, and every maker's files for one of them"
    sub = commands.add_parser("design", help=text, description=text)
    sub.add_argument("bundle", type=Path)
    sub.add_argument("--tree", required=True)
    _case_options(sub)
    sub.add_argument("--material", help="a key of the materials table (stoneware_unglazed)")
    sub.add_argument("--people", type=int, choices=(1, 2), help="how many lift it (2)")
    sub.add_argument("--room", metavar="L,W,H", help="inside of kiln or printer, mm")
    sub.add_argument("--shrinkage", type=finite, metavar="SHARE", help="total shrinkage of the clay's own test bar")
    sub.add_argument(
        "--pot", help="files for this pot of the bundle instead of a new design; the drill plan adds to its holes"
    )
    sub.add_argument("--pick", type=int, metavar="N", help="which design the files are for, 1 is the first (1)")
    sub.add_argument("--json", action="store_true", help="print JSON instead of text")
    files = sub.add_argument_group("files", "written into DIR/TREE - POT/ROUTE, with a list of what lies there")
    files.add_argument("--out", type=Path, metavar="DIR", help="write the makers' files here")
    files.add_argument(
        "--route", action="append", choices=ROUTE_KEYS, help="only this maker; may be given several times"
    )
    files.add_argument("--force", action="store_true", help="replace the files of an earlier run")
    _maker_options(sub)


ROUTE_KEYS = ("potter", "print", "box", "tube", "drill")
# value: option, what it needs beside --out
MAKER_OPTIONS = {
    "bed": "--bed", "plastic": "--plastic", "gap": "--gap", "layer": "--layer", "tray": "--tray", "wood": "--wood", "corners": "--corners",
    "board": "--board", "board_width": "--board-width", "stock": "--stock", "tub": "--tub", "staves": "--staves", "pipe": "--pipe",
    "pipe_wall": "--pipe-wall", "pipe_floor": "--pipe-floor", "pipe_length": "--pipe-length", "count": "--count", "rings": "--rings",
    "route": "--route", "force": "--force",
}  # fmt: skip


def _maker_options(sub: Any) -> None:
    """What each maker brings, as in the Workshop."""
    printer = sub.add_argument_group("printer")
    printer.add_argument("--bed", metavar="X,Y,Z", help="printer bed, mm (220,220,250)")
    printer.add_argument("--plastic", help="a print plastic of the materials table (print_petg)")
    printer.add_argument("--gap", type=finite, metavar="MM", help="gap in the joints (0.25)")
    printer.add_argument("--layer", type=finite, metavar="MM", help="height of a layer (0.3)")
    printer.add_argument("--tray", action="store_true", help="print a drip tray too")
    joiner = sub.add_argument_group("timber box or tub")
    joiner.add_argument("--wood", help="a timber of the materials table (timber_larch)")
    joiner.add_argument(
        "--corners",
        choices=("butt_long", "butt_short", "pinwheel", "mitre", "lapped"),
        help="how corners meet (butt_long)",
    )
    joiner.add_argument("--board", type=finite, metavar="MM", help="thickness of the boards (20)")
    joiner.add_argument("--board-width", type=finite, metavar="MM", help="their width (95)")
    joiner.add_argument("--stock", type=finite, metavar="MM", help="their length as bought (2400)")
    joiner.add_argument("--tub", action="store_true", help="a tub of staves instead of a box")
    joiner.add_argument("--staves", type=int, metavar="N", help="of how many staves (12)")
    pipes = sub.add_argument_group("tube")
    pipes.add_argument("--pipe", help="a pipe of the materials table (pvc_pipe)")
    pipes.add_argument("--pipe-wall", type=finite, metavar="MM", help="its wall (4)")
    pipes.add_argument("--pipe-floor", help="what closes it below (galvanised mesh)")
    pipes.add_argument("--pipe-length", type=finite, metavar="MM", help="its length as bought (2000)")
    pipes.add_argument("--count", type=int, metavar="N", help="how many pots (1)")
    pipes.add_argument("--rings", type=int, metavar="N", help="stacked rings in each (1)")


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
