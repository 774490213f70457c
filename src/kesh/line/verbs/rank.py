"""`kesh rank`: every pot in order under one tree."""

import argparse
from datetime import date
from typing import Any

from kesh.advice.case import case_for
from kesh.advice.report.year import ranked_in_years
from kesh.line.arguments import bundle_of_args, case_options
from kesh.line.records import load
from kesh.line.verb import Verb
from kesh.model import Collection


def options(sub: argparse.ArgumentParser) -> None:
    """The tree, and what may be asked otherwise than the records say."""
    bundle_of_args(sub)
    case_options(sub)


def run(args: argparse.Namespace) -> dict[str, Any]:
    """The ranking as JSON. Raises KeshError."""
    return run_rank(load(args.bundle), args.tree, args.mix, args.school, args.season, args.date)


def run_rank(
    collection: Collection, tree: str, mix: str | None, school: str | None, season: str | None, day: date | None = None
) -> dict[str, Any]:
    """Every pot in order under one tree. Raises KeshError for an unknown tree."""
    case = case_for(collection, tree, mix_id=mix, school_id=school, season=season, on=day)
    now = collection.planting_of(tree)
    pot = collection.pots.get(now.pot) if now is not None else None
    stands = None
    if pot is not None:
        own = case_for(collection, tree, pot_id=pot.id, mix_id=mix, school_id=school, season=season, on=day)
        stands = (own, pot)
    pots = tuple(collection.pots.values())
    ranking = ranked_in_years(case, pots, standing=stands)
    return {"tree": tree, "ranking": [entry.as_json() for entry in ranking.entries()]}


def rank_lines(found: dict[str, Any]) -> list[str]:
    """A ranking as plain text."""
    rows = [
        f"{i + 1:4d}  {r['verdict']:8s}{r['score']:.2f}  {r['pot']:24s}{r['reason']}"
        for i, r in enumerate(found["ranking"])
    ]
    return rows or ["No pots in this bundle."]


VERB = Verb("every pot in order under one tree", options, run, rank_lines)
