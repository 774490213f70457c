"""The words of the `kesh` command: what may be asked, and mistakes told in one line."""

import argparse
import math
from pathlib import Path
from typing import NoReturn

from kesh import __version__
from kesh.base.errors import KeshError
from kesh.base.paths import data_dir
from kesh.line.verb import Verb, names


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


def window_parser() -> OneLine:
    """`kesh [FILE]`."""
    parser = OneLine(
        prog="kesh", description="Pots for bonsai: measured, computed, drawn to scale.",
        epilog=f"Without a display: {', '.join(f'kesh {name}' for name in names())}; each has its own --help. "
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


def verb_parser(name: str, asked: Verb) -> OneLine:
    """The parser of one verb."""
    parser = OneLine(prog=f"kesh {name}", description=asked.says)
    asked.options(parser)
    if asked.text is not None:
        parser.add_argument("--json", action="store_true", help="print JSON instead of text")
    return parser


def case_options(sub: argparse.ArgumentParser, *, season: bool = True) -> None:
    """What may be asked otherwise than the records say."""
    sub.add_argument("--date", metavar="YYYY-MM-DD", help="the day that is asked about; today without it")
    sub.add_argument("--mix")
    sub.add_argument("--school")
    if season:
        sub.add_argument("--season", choices=("best", "edge", "wrong"))


def bundle_of_args(sub: argparse.ArgumentParser, *, tree: bool = True) -> None:
    """The bundle or collection, and the tree that is asked about."""
    sub.add_argument("bundle", type=Path)
    if tree:
        sub.add_argument("--tree", required=True)
