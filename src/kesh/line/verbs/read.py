"""`kesh read`: what is understood of a list of pots, trees, log entries or weather, row by row; nothing is written."""

import argparse
from datetime import date
from pathlib import Path
from typing import Any

from kesh.base.errors import BundleError
from kesh.base.writing import shown
from kesh.formats.lists.any import pots_in_words
from kesh.formats.lists.events import everybody, is_log, read_events
from kesh.formats.lists.spoken.pots import spoken_pots
from kesh.formats.lists.table import read_table, read_text, table_of
from kesh.formats.lists.trees import trees_of
from kesh.formats.weather_csv import read_weather
from kesh.line.verb import Verb
from kesh.reference.tables import tables


def options(sub: argparse.ArgumentParser) -> None:
    """The list, and the unit of figures that have none."""
    sub.add_argument("list", type=Path, help="a list as CSV or text, its cells parted by any usual sign")
    sub.add_argument(
        "--unit",
        choices=("mm", "cm", "in"),
        help="what bare figures are; without it their size decides, and it is asked",
    )


def run(args: argparse.Namespace) -> dict[str, Any]:
    """The rows with their doubts. Raises BundleError for a list of something else."""
    text, name = read_text(args.list), shown(args.list)
    table = pots_in_words(text, table_of(text, name), name)
    if table is not None:
        found = spoken_pots(table, args.unit)
        return {
            "kind": "pots", "unit": found.unit, "rows": [row.as_json() for row in found.rows],
            "refused": [{"line": line, "why": why} for line, why in found.refused], "questions": list(found.questions),
        }  # fmt: skip
    return _other(args.list, args.unit)


def _other(path: Path, unit: str | None) -> dict[str, Any]:
    if is_log(path):
        table = read_table(path)
        brought = read_events(table, everybody(table))
        rows = [
            {
                "tree": e.tree,
                "date": e.date.isoformat(),
                "kind": e.kind,
                "text": e.text,
                "doubts": [brought.doubts[e.id].partition(": ")[2]] if e.id in brought.doubts else [],
            }
            for e in brought.events
        ]
        return {"kind": "log", "rows": rows, "refused": [_refused(told) for told in brought.problems], "questions": []}
    try:
        trees = trees_of(read_table(path), shown(path), tables().species, date.today(), unit=unit)
    except BundleError as no_trees:
        return _weather(path, no_trees)
    taken = []
    for row in trees.rows:
        if row.record is not None:
            tree = row.record.model_dump(mode="json", exclude_defaults=True)
            measure = (tree.pop("measures", None) or [{}])[-1]
            doubts = [row.told] if row.told else []
            taken.append(
                {"line": row.line, **{k: v for k, v in tree.items() if k != "seed"}, **measure, "doubts": doubts}
            )
    refused = [{"line": r.line, "why": r.told} for r in trees.rows if r.record is None]
    return {"kind": "trees", "rows": taken, "refused": refused, "questions": []}


def _weather(path: Path, no_trees: BundleError) -> dict[str, Any]:
    try:
        weather = read_weather(path)
    except BundleError as no_weather:
        raise BundleError(f"{shown(path)}: no pots, trees, log or weather were understood in it; its first line should name the columns") from no_weather  # fmt: skip
    rows = [{**day.model_dump(mode="json", exclude_none=True), "doubts": []} for day in weather.days]
    return {"kind": "weather", "rows": rows, "refused": [_refused(p) for p in weather.problems], "questions": []}


def _refused(told: str) -> dict[str, Any]:
    line, _, why = told.removeprefix("row ").removeprefix("line ").partition(": ")
    return {"line": int(line), "why": why} if line.isdigit() else {"line": 0, "why": told}


def lines(found: dict[str, Any]) -> list[str]:
    """The rows as plain text."""
    said = []
    for row in found["rows"]:
        names = {"pots": ("length_mm", "width_mm", "height_mm"), "trees": ("height_mm", "trunk_diameter_mm")}.get(
            found["kind"], ()
        )
        sizes = " x ".join("?" if row.get(k) is None else f"{row[k]:g}" for k in names) + (" mm" if names else "")
        doubts = f"  ? {'; '.join(row['doubts'])}" if row["doubts"] else ""
        said.append(f"{row.get('line', ''):>5}  {row.get('name') or row.get('tree') or row.get('date', ''):28s} {sizes} {row.get('colour_is') or row.get('species', '')}{doubts}")  # fmt: skip
    said += [f"{r['line']:>5}  left out: {r['why']}" for r in found["refused"]]
    return [*said, *found["questions"]] or ["Nothing stands in this list."]


VERB = Verb("what is understood of a list, row by row; nothing is written", options, run, lines)
