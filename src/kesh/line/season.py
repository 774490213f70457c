"""What `kesh season` does: windows, tasks and weekends of a collection, without a display."""

import argparse
from datetime import date
from pathlib import Path
from typing import Any

import numpy as np

from kesh.advice.season.book import Book, source_of
from kesh.advice.season.pot_round import spring_plan
from kesh.advice.season.weekends import weekends
from kesh.base.errors import FieldError
from kesh.base.writing import write_bytes
from kesh.formats.ical import calendar_of
from kesh.model import Collection
from kesh.science.season.days import later
from kesh.science.season.season import coming_season

MOST_DAYS = 3700


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


def run_assign(collection: Collection, args: argparse.Namespace) -> dict[str, Any]:
    """Who gets which pot, as JSON. Raises KeshError for a school or a mix that is not there."""
    book = Book(collection, args.date or date.today())
    plan = spring_plan(book, school=args.school, mix=args.mix)

    def day(value: date | None) -> str | None:
        return value.isoformat() if value is not None else None

    found: dict[str, Any] = {
        "moves": [
            {
                "tree": m.tree, "from": m.from_pot, "to": m.to_pot, "gain": round(m.gain, 4), "first": day(m.first), "last": day(m.last),
                "day": day(m.day), "frees": m.frees, "before": None if m.score_before is None else round(m.score_before, 4),
                "after": round(m.score_after, 4),
            }
            for m in plan.moves
        ],
        "stay": [s.tree for s in plan.stay if s.served],
        "unserved": [s.tree for s in plan.unserved],
        "total": round(plan.gain, 4),
        "cost": round(plan.cost, 4),
    }  # fmt: skip
    if args.costs:
        found["costs"] = {
            tree: {
                "stay": round(float(plan.stay_costs[i]), 6),
                "pots": {p: round(float(v), 6) for p, v in zip(plan.pots, plan.costs[i], strict=True) if np.isfinite(v)},
            }
            for i, tree in enumerate(plan.trees)
        }  # fmt: skip
    return found


def assign_lines(found: dict[str, Any]) -> list[str]:
    """The plan as plain text, in the order in which it is done."""
    lines = [f"{len(found['moves'])} trees move; together they gain {found['total']:.0f} points"]
    for m in found["moves"]:
        gain = f"{m['before']:.0f} to {m['after']:.0f}" if m["before"] is not None else f"{m['after']:.0f}"
        days = f"{m['first']} to {m['last']}" if m["first"] else "any day"
        after = f", when {m['frees']} is out" if m["frees"] else ""
        lines.append(f"  {m['tree']:24s}{m['from'] or 'no pot'} -> {m['to']}  {gain}  {days}{after}")
    lines.append(f"stay: {', '.join(found['stay']) or 'none'}")
    lines.append(f"nobody can serve: {', '.join(found['unserved']) or 'none'}")
    return lines
