"""`kesh schema`: the JSON schema of the bundle."""

import argparse
from typing import Any

from kesh.formats.bundle import schema
from kesh.line.verb import Verb


def options(sub: argparse.ArgumentParser) -> None:
    """Nothing is asked."""


def run(args: argparse.Namespace) -> dict[str, Any]:
    """The schema."""
    return schema()


VERB = Verb("print the JSON schema of the bundle", options, run)
