"""What the command line does, without a display and without printing."""

from pathlib import Path
from typing import Any

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.rank import rank
from kesh.advice.report import report
from kesh.errors import FieldError
from kesh.formats.bundle import load_bundle
from kesh.model import Collection


def load(path: Path) -> Collection:
    """A collection from a bundle or, read-only, from a collection file."""
    if path.suffix == ".kesh":
        from kesh.store.collection_file import read_collection

        return read_collection(path)
    return load_bundle(path)


def run_report(
    collection: Collection,
    tree: str,
    pot: str,
    mix: str | None,
    school: str | None,
    season: str | None,
    tilt: float | None,
) -> dict[str, Any]:
    """The report of one tree in one pot. Raises KeshError for unknown ids."""
    if tilt is not None and not abs(tilt) <= 45:
        raise FieldError("--tilt", f"{tilt:g} is outside -45..45 degrees")
    if pot not in collection.pots:
        raise FieldError("pot", f"no pot '{pot}'; known are {', '.join(list(collection.pots)[:8]) or 'none'}")
    case = case_for(collection, tree, pot_id=pot, mix_id=mix, school_id=school, season=season, tilt_deg=tilt)
    return report(assess(case, collection.pots[pot]))


def run_rank(
    collection: Collection, tree: str, mix: str | None, school: str | None, season: str | None
) -> dict[str, Any]:
    """Every pot in order under one tree. Raises KeshError for an unknown tree."""
    case = case_for(collection, tree, mix_id=mix, school_id=school, season=season)
    ranking = rank(case, tuple(collection.pots.values()))
    return {"tree": tree, "ranking": [entry.as_json() for entry in ranking.entries()]}


def report_lines(found: dict[str, Any]) -> list[str]:
    """A report as plain text."""
    lines = [f"{found['tree']} in {found['pot']}: {found['verdict']} ({found['school']} school)"]
    for group in ("proportion", "geometry", "roots", "mix", "water", "stability", "hardware"):
        lines.append(f"\n{group}")
        for key, value in found[group].items():
            shown = "not measured" if value is None else f"{value:.4g}" if isinstance(value, float) else str(value)
            lines.append(f"  {key:28s}{shown}")
    lines.append("\nfindings")
    lines += [f"  {f['status']:8s}{f['text']} {f['remedy']}".rstrip() for f in found["findings"]]
    return lines


def rank_lines(found: dict[str, Any]) -> list[str]:
    """A ranking as plain text."""
    rows = [
        f"{i + 1:4d}  {r['verdict']:8s}{r['score']:.2f}  {r['pot']:24s}{r['reason']}"
        for i, r in enumerate(found["ranking"])
    ]
    return rows or ["No pots in this bundle."]


def export(source: Path, out: Path, tree: str | None, pot: str | None) -> None:
    """Write a bundle, a CSV of pots, or a tree's sheet. Raises KeshError for an unknown kind of file."""
    import json

    from kesh.formats.bundle import bundle_of
    from kesh.formats.pots_csv import write_pots
    from kesh.formats.safe import write_text

    collection = load(source)
    if out.suffix == ".json":
        write_text(out, json.dumps(bundle_of(collection), indent=1, ensure_ascii=False))
    elif out.suffix == ".csv":
        write_pots(out, collection.pots.values())
    elif out.suffix == ".pdf":
        from kesh.ui.app import print_sheet

        if tree is None:
            raise FieldError("--tree", "a sheet needs a tree; name one with --tree")
        print_sheet(collection, tree, pot, out)
    else:
        raise FieldError("out", f"'{out.name}' should end in .json, .csv or .pdf")
