"""What `kesh worksheet` does: the work sheet of one tree in one pot as PDF, without a display."""

import argparse
from datetime import date

from kesh.advice.assess import assess
from kesh.advice.case import case_for, season_planned
from kesh.advice.planting.plan import PlantingPlan
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.line.answers import pot_of
from kesh.model import Collection


def run_worksheet(collection: Collection, args: argparse.Namespace) -> None:
    """Write the sheet. Raises KeshError for unknown ids, a pot that cannot be reckoned, and a place that cannot be written."""
    if args.out.suffix.lower() != ".pdf":
        raise FieldError("--out", f"'{args.out.name}' should end in .pdf")
    pot = pot_of(collection, args.pot)
    day = args.date or date.today()
    from kesh.desk.planting import planting_in
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
