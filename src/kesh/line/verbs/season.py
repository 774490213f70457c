"""`kesh season`: windows, tasks and weekends of a collection, without a display."""

import argparse
from datetime import date
from pathlib import Path
from typing import Any

from kesh.advice.season.book import Book, source_of
from kesh.advice.season.weekends import weekends
from kesh.base.errors import FieldError
from kesh.base.writing import write_bytes
from kesh.formats.ical import calendar_of
from kesh.line.arguments import bundle_of_args
from kesh.line.records import load
from kesh.line.verb import Verb
from kesh.model import Collection
from kesh.science.season.days import later
from kesh.science.season.season import coming_season

MOST_DAYS = 3700


def options(sub: argparse.ArgumentParser) -> None:
    """The collection, the day, from when to when, and a calendar file."""
    bundle_of_args(sub, tree=False)
    sub.add_argument("--date", metavar="YYYY-MM-DD", help="the day from which it is seen; today without it")
    sub.add_argument("--from", dest="first", metavar="YYYY-MM-DD", help="first day; the day of --date without it")
    sub.add_argument("--to", dest="last", metavar="YYYY-MM-DD", help="last day; a year later without it")
    sub.add_argument("--ics", type=Path, metavar="FILE", help="write a calendar file")


def run(args: argparse.Namespace) -> dict[str, Any]:
    """The season, as JSON. Raises KeshError."""
    return run_season(load(args.bundle), args)


def run_season(collection: Collection, args: argparse.Namespace) -> dict[str, Any]:
    """The season as JSON; the calendar file is written where one is asked for. Raises KeshError."""
    today = args.date or date.today()
    first = args.first or today
    last = args.last or later(first, 364)
    if last < first:
        raise FieldError("--to", f"{last} is before {first}")
    if (last - first).days > MOST_DAYS:
        raise FieldError("--to", f"{last} is more than ten years after {first}")
    book = Book(collection, today)
    found: dict[str, Any] = {
        "windows": windows_of(book, first, last),
        "tasks": [
            t.model_dump(mode="json") | {"state": book.state(t), "key": t.id, "status": book.state(t), "source": source_of(t)} for t in book.open_tasks(first, last)
        ],
        "weekends": [
            {"date": w.date.isoformat(), "hours": round(w.hours, 2), "soil_l": round(w.soil_l, 3)} for w in weekends(book, first, last)
        ],
    }  # fmt: skip
    if args.ics is not None:
        write_bytes(Path(args.ics), calendar_of(book, first, last))
        found["calendar"] = str(args.ics)
    return found


def windows_of(book: Book, first: date, last: date) -> list[dict[str, Any]]:
    """Every window of every tree that touches days; `status` is how the book's day lies to the tree's window."""
    found = []
    for tree in book.c.trees.values():
        held = book.windows.get(tree.id)
        day = first
        while held is not None and day <= last:
            season = coming_season(book.species(tree), day, book.c.site, book.owns[tree.id])
            if season is None or season.first is None or season.last is None or season.first > last:
                break
            found.append({
                "tree": tree.id, "window": season.window, "first": season.first.isoformat(), "last": season.last.isoformat(),
                "status": held.status,
            })  # fmt: skip
            day = later(season.last, 1)
    return found


def season_lines(found: dict[str, Any]) -> list[str]:
    """The season as plain text."""
    lines = ["windows"]
    for w in found["windows"]:
        lines.append(
            f"  {w['first']} to {w['last']}  {w['tree']:24s}{w['window'].replace('_', ' ')} ({w['status']} now)"
        )
    lines.append("\ntasks")
    for t in found["tasks"]:
        days = f"{t['from'] or 'no day':10s} to {t['to'] or 'a sign':10s}"
        lines.append(f"  {days}  {t['tree']:24s}{t['kind'].replace('_', ' ')} ({t['state']})")
    lines.append("\nweekends")
    busy = [w for w in found["weekends"] if w["hours"] > 0]
    lines += [f"  {w['date']}  {w['hours']:5.1f} h  {w['soil_l']:6.1f} l" for w in busy] or ["  no work"]
    if "calendar" in found:
        lines.append(f"\nwritten: {found['calendar']}")
    return lines


VERB = Verb("windows, tasks and weekends of the whole collection", options, run, season_lines)
