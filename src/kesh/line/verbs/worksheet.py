"""`kesh worksheet`: the work sheet of one tree in one pot as PDF, without a display."""

import argparse
from datetime import date
from pathlib import Path

from kesh.advice.assess import assess
from kesh.advice.case import case_for, season_planned
from kesh.advice.planting.meant import planting_in
from kesh.advice.planting.plan import PlantingPlan
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.base.writing import check_file
from kesh.line.arguments import bundle_of_args, case_options
from kesh.line.records import load, pot_of
from kesh.line.verb import Verb
from kesh.model import Collection


def options(sub: argparse.ArgumentParser) -> None:
    """Tree, pot, file and paper."""
    bundle_of_args(sub)
    sub.add_argument("--pot", required=True)
    sub.add_argument("--out", type=Path, required=True, metavar="F.pdf")
    sub.add_argument("--paper", choices=("A4", "A3"), default="A4")
    case_options(sub)


def run(args: argparse.Namespace) -> None:
    """Write the sheet. Raises KeshError."""
    run_worksheet(load(args.bundle), args)


def run_worksheet(collection: Collection, args: argparse.Namespace) -> None:
    """Write the sheet. Raises KeshError for unknown ids, a pot that cannot be reckoned, and a place that cannot be written."""
    if args.out.suffix.lower() != ".pdf":
        raise FieldError("--out", f"'{args.out.name}' should end in .pdf")
    pot = pot_of(collection, args.pot)
    check_file(args.out)
    day = args.date or date.today()
    from kesh.ui.app import print_worksheet

    planting = planting_in(collection, args.tree, pot)
    case = case_for(
        collection,
        args.tree,
        pot_id=pot.id,
        mix_id=args.mix,
        school_id=args.school,
        # a day that is asked about is judged by itself, else the sheet tells the plan
        season=args.season or (None if args.date is not None else season_planned(collection, args.tree)),
        on=day,
        planting=planting,
    )
    a = assess(case, pot)
    if a.fault:
        raise FieldError("pot", a.fault)
    print_worksheet(PlantingPlan(a, Units()), args.out, day, args.paper)


VERB = Verb("the work sheet of one tree in one pot as PDF: place, cut list, soil, the work step by step", options, run)
