"""`kesh find`: the search of the window, for everything, in any words."""

import argparse
from pathlib import Path
from typing import Any

from kesh.line.records import load
from kesh.line.verb import Verb
from kesh.reference.search import find


def options(sub: argparse.ArgumentParser) -> None:
    """The words, and whose trees and pots are looked through too."""
    sub.add_argument("words", help="what is looked for, in one pair of quotes")
    sub.add_argument("bundle", nargs="?", type=Path, help="a bundle or a collection whose trees and pots count too")


def run(args: argparse.Namespace) -> list[dict[str, str]]:
    """What the words may mean, best first. Raises KeshError for a bundle that cannot be read."""
    collection = None if args.bundle is None else load(args.bundle)
    return [hit.as_json() for hit in find(args.words, collection)]


def lines(found: Any) -> list[str]:
    """The answers as plain text."""
    if not found:
        return ["Nothing is near. Try one word of it, its botanical name, or what you want to do."]
    return [f"{hit['kind']:9s} {hit['key']:28s} {hit['name']} ({hit['why']})" for hit in found]


VERB = Verb("what some words mean: species, materials, places, commands, words of the trade", options, run, lines)
