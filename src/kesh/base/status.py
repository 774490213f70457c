"""How grave a finding is: four words, one order for lists of findings, one for pots from best to worst."""

from collections.abc import Callable, Iterable
from typing import Literal, TypeVar

Status = Literal["fits", "watch", "no", "unknown"]
T = TypeVar("T")

# by number, as arrays of statuses hold them
STATUS: tuple[Status, ...] = ("fits", "watch", "no", "unknown")
FITS, WATCH, NO, UNKNOWN = range(4)
# what is read first: what refuses, then what asks for an eye, then what nobody knows, then what is good
GRAVEST_FIRST: tuple[Status, ...] = ("no", "watch", "unknown", "fits")
# which pot is taken first: one of which nothing is known comes before one that is refused
BEST_FIRST: tuple[Status, ...] = ("fits", "watch", "unknown", "no")


def gravity(status: str) -> int:
    """Where a status stands in a list of findings: 0 is the gravest. Raises ValueError for another word."""
    return GRAVEST_FIRST.index(status)


def gravest_first(found: Iterable[T], status: Callable[[T], str] = lambda f: f.status) -> tuple[T, ...]:  # type: ignore[attr-defined]
    """What says no before what is to be watched, what is not known before what fits; else as they come."""
    return tuple(sorted(found, key=lambda f: gravity(status(f))))


def gravest(statuses: Iterable[str]) -> str:
    """The gravest of several statuses; fits where there are none."""
    return min(statuses, key=gravity, default="fits")
