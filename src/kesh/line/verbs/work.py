"""`kesh work`: the work on one tree step by step, as Planting's Work and At the bench show it."""

import argparse
from datetime import date
from typing import Any

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.planting.meant import planting_in
from kesh.advice.planting.plan import PlantingPlan
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.line.arguments import bundle_of_args, case_options
from kesh.line.records import load, pot_of
from kesh.line.verb import Verb
from kesh.model import Collection


def options(sub: argparse.ArgumentParser) -> None:
    """The tree and the pot, and what may be asked otherwise than the records say."""
    bundle_of_args(sub)
    sub.add_argument("--pot", required=True)
    case_options(sub)


def run(args: argparse.Namespace) -> dict[str, Any]:
    """The work as JSON. Raises KeshError."""
    return run_work(load(args.bundle), args.tree, args.pot, args.mix, args.school, args.season, args.date)


def run_work(
    collection: Collection, tree: str, pot: str, mix: str | None = None, school: str | None = None, season: str | None = None,
    day: date | None = None,
) -> dict[str, Any]:  # fmt: skip
    """Kind, steps, minutes, and what comes off this year. Raises KeshError for unknown ids and a pot that cannot be reckoned."""
    found = pot_of(collection, pot)
    if tree not in collection.trees:
        case_for(collection, tree)
    planting = planting_in(collection, tree, found)
    case = case_for(
        collection, tree, pot_id=pot, mix_id=mix, school_id=school, season=season, on=day, planting=planting
    )
    a = assess(case, found)
    if a.fault:
        raise FieldError("pot", a.fault)
    plan = PlantingPlan(a, Units(), day or date.today())
    batch = plan.batch
    steps = [
        {
            "key": s.key, "title": s.title, "lines": list(s.lines), "minutes": round(s.minutes or 0.0, 1), "bare": s.key in plan.bare_keys,
        }
        for s in plan.steps
    ]  # fmt: skip
    return {
        "kind": plan.kind, "steps": steps, "minutes": round(plan.minutes, 1), "bare_minutes": round(plan.bare_minutes, 1),
        "feeders_share": plan.feeders_share, "base_mm": a.seat.base_mm, "heap_mm": 0.0 if batch is None else batch.heap_mm,
    }  # fmt: skip


def work_lines(found: dict[str, Any]) -> list[str]:
    """The work as plain text."""
    head = f"{found['kind'].replace('_', ' ')}: {found['minutes']:.0f} minutes, {found['bare_minutes']:.0f} of them with bare roots"
    lines = [
        head,
        f"{found['feeders_share']:.0%} of the feeders come off; {found['base_mm']:.0f} mm of mix under the roots",
    ]
    for n, s in enumerate(found["steps"], start=1):
        lines.append(f"{n:3d}  {s['title']}  ({s['minutes']:.0f} min{', roots bare' if s['bare'] else ''})")
        lines += [f"       {line}" for line in s["lines"]]
    return lines


VERB = Verb("the work on one tree step by step: what, in which order, how long", options, run, work_lines)
