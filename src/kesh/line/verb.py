"""What a verb of the command line is, and how it is found by its word."""

import argparse
import pkgutil
from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from typing import Any

from kesh.line import verbs

Options = Callable[[argparse.ArgumentParser], None]


def done(found: Any, args: argparse.Namespace) -> bool:
    """Every answer is one."""
    return True


@dataclass(frozen=True)
class Verb:
    """One verb: what it answers in a line, its options, its work, its answer as plain text, whether it came to anything.

    `run` gives what is printed as JSON, or None where it wrote a file and nothing is printed. Without `text` the answer
    is printed as JSON only; with it `--json` is among the options. `run` raises KeshError.
    """

    says: str
    options: Options
    run: Callable[[argparse.Namespace], Any]
    text: Callable[[Any], list[str]] | None = None
    reached: Callable[[Any, argparse.Namespace], bool] = done


def names() -> tuple[str, ...]:
    """All verbs, by their files: none is opened for it."""
    return tuple(sorted(found.name for found in pkgutil.iter_modules(verbs.__path__)))


def verb(name: str) -> Verb:
    """A verb by its word."""
    found: Verb = import_module(f"kesh.line.verbs.{name}").VERB
    return found
