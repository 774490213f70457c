"""`kesh export`: a collection as a bundle, its pots or trees as CSV, or a tree's sheet as PDF."""

import argparse
from datetime import date
from pathlib import Path

from kesh.base.errors import FieldError
from kesh.line.records import load
from kesh.line.verb import Verb


def options(sub: argparse.ArgumentParser) -> None:
    """Where from, where to, and what goes along."""
    sub.add_argument("file", type=Path)
    sub.add_argument("out", type=Path, help="*.json, *.csv or *.pdf")
    sub.add_argument("--date", metavar="YYYY-MM-DD", help="the day of a PDF sheet; today without it")
    sub.add_argument("--tree", help="for a PDF sheet")
    sub.add_argument("--pot", help="for a PDF sheet; the present pot without it")
    sub.add_argument("--trees", action="store_true", help="for a CSV: the trees in place of the pots")
    sub.add_argument("--photographs", action="store_true", help="put the photographs of a collection into its bundle")


def run(args: argparse.Namespace) -> None:
    """Write it. Raises KeshError."""
    export(args.file, args.out, args.tree, args.pot, photographs=args.photographs, day=args.date, trees=args.trees)


def export(
    source: Path, out: Path, tree: str | None, pot: str | None, *, photographs: bool = False, day: date | None = None, trees: bool = False
) -> None:  # fmt: skip
    """Write a bundle, a CSV of pots, or a tree's sheet. Raises KeshError for an unknown kind of file."""
    import json

    from kesh.base.writing import write_text
    from kesh.formats.bundle import bundle_of
    from kesh.formats.lists.pots import write_pots
    from kesh.formats.lists.trees import trees_csv
    from kesh.reference.tables import tables
    from kesh.store.reading import read_pictures

    kind = out.suffix.lower()
    given = {
        "--tree": tree,
        "--pot": pot,
        "--date": day,
        "--photographs": photographs or None,
        "--trees": trees or None,
    }
    for option in {
        ".json": ("--tree", "--pot", "--date", "--trees"),
        ".csv": tuple(o for o in given if o != "--trees"),
        ".pdf": ("--photographs", "--trees"),
    }.get(kind, ()):
        if given[option] is not None:
            raise FieldError(option, f"it says nothing for {kind}; leave it out")
    if photographs and source.suffix.lower() != ".kesh":
        raise FieldError("--photographs", f"{source.name} is a bundle; photographs come out of a collection (*.kesh)")
    collection = load(source)
    if kind == ".json":
        pictures = read_pictures(source) if photographs else None
        write_text(out, json.dumps(bundle_of(collection, pictures), indent=1, ensure_ascii=False))
    elif kind == ".csv" and trees:
        rows = tables(collection.species_rows, collection.substrate_rows)
        write_text(out, trees_csv(collection.trees.values(), rows.species))
    elif kind == ".csv":
        write_pots(out, collection.pots.values())
    elif kind == ".pdf":
        from kesh.ui.app import print_sheet

        if tree is None:
            raise FieldError("--tree", "a sheet needs a tree; name one with --tree")
        print_sheet(collection, tree, pot, out, day)
    else:
        raise FieldError("out", f"'{out.name}' should end in .json, .csv or .pdf")


VERB = Verb("a collection as a bundle, its pots as CSV, or a tree's sheet as PDF", options, run)
