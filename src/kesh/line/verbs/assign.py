"""`kesh assign`: who gets which pot: the moves of the coming season as a chain."""

import argparse
from datetime import date
from typing import Any

import numpy as np

from kesh.advice.season.book import Book
from kesh.advice.season.pot_round import spring_plan
from kesh.line.arguments import bundle_of_args
from kesh.line.records import load
from kesh.line.verb import Verb
from kesh.model import Collection


def options(sub: argparse.ArgumentParser) -> None:
    """The collection, the day, and whether one school or mix speaks for all."""
    bundle_of_args(sub, tree=False)
    sub.add_argument("--date", metavar="YYYY-MM-DD", help="the day from which it is seen; today without it")
    sub.add_argument("--school", help="let one school judge all trees")
    sub.add_argument("--mix", help="reckon all trees in one mix")
    sub.add_argument("--costs", action="store_true", help="print what each tree would cost in each pot as well")


def run(args: argparse.Namespace) -> dict[str, Any]:
    """Who gets which pot, as JSON. Raises KeshError."""
    return run_assign(load(args.bundle), args)


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


VERB = Verb("who gets which pot: the moves of the coming season as a chain", options, run, assign_lines)
