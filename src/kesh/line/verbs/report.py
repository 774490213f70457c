"""`kesh report`: all figures and findings of one tree in one pot."""

import argparse
from datetime import date
from typing import Any

from kesh.advice.case import case_for
from kesh.advice.report.special import with_special
from kesh.advice.report.whole import report
from kesh.advice.report.year import in_years, with_year
from kesh.base.errors import FieldError
from kesh.line.arguments import bundle_of_args, case_options, finite
from kesh.line.records import load, pot_of
from kesh.line.verb import Verb
from kesh.model import Collection


def options(sub: argparse.ArgumentParser) -> None:
    """The tree, the pot, and what may be asked otherwise than the records say."""
    bundle_of_args(sub)
    sub.add_argument("--pot", required=True)
    sub.add_argument("--tilt", type=finite, metavar="DEG")
    case_options(sub)


def run(args: argparse.Namespace) -> dict[str, Any]:
    """The report as JSON. Raises KeshError."""
    collection = load(args.bundle)
    return run_report(collection, args.tree, args.pot, args.mix, args.school, args.season, args.tilt, args.date)


def run_report(
    collection: Collection,
    tree: str,
    pot: str,
    mix: str | None,
    school: str | None,
    season: str | None,
    tilt: float | None,
    day: date | None = None,
) -> dict[str, Any]:
    """The report of one tree in one pot. Raises KeshError for unknown ids."""
    if tilt is not None and not abs(tilt) <= 45:
        raise FieldError("--tilt", f"{tilt:g} is outside -45..45 degrees")
    found = pot_of(collection, pot)
    case = case_for(collection, tree, pot_id=pot, mix_id=mix, school_id=school, season=season, tilt_deg=tilt, on=day)
    a, year = in_years(case, found)
    return with_special(
        with_year(report(a, on_day=day is not None and season is None), a, year), a, day or date.today()
    )


def report_lines(found: dict[str, Any]) -> list[str]:
    """A report as plain text."""
    lines = [f"{found['tree']} in {found['pot']}: {found['verdict']} ({found['school']} school)"]
    lines += [
        f"  {key:8s}{one['status']}{': ' if one['because'] else ''}{', '.join(one['because']).replace('_', ' ')}"
        for key, one in found["answers"].items()
    ]
    season = found["season"]
    if season["window"]:
        dates = f", {season['first']} to {season['last']}" if season["first"] else ""
        open_now = not season["first"] or season["first"] <= season["today"] <= season["last"]
        told = (
            f"season {season['status']} on {season['today']}"
            if open_now or season["status"] != "best"
            else "root work in its window"
        )
        lines.append(f"{told}: {season['window'].replace('_', ' ')}{dates}")
    for group in ("proportion", "geometry", "roots", "mix", "water", "stability", "placement", "hardware", "thermal"):
        lines.append(f"\n{group}")
        for key, value in found.get(group, {}).items():
            if value == {} or value == []:
                continue
            shown = "not measured" if value is None else f"{value:.4g}" if isinstance(value, float) else str(value)
            lines.append(f"  {key:28s}{shown}")
    special = found.get("special")
    if special is not None:
        lines.append(f"\n{special['kind'].replace('_', ' ')}: {special['title']}")
        lines += [f"  {label:28s}{text}" for label, text in special["figures"].items()]
        lines += [f"  cut {c['count']} x {c['name']:12s}{c['length_mm']:.0f} mm  {c['what']}" for c in special["cuts"]]
        lines += [f"  {s['day'] or '':12s}{s['title']}: {s['sign']}" for s in special["stages"]]
    lines.append("\nfindings")
    lines += [f"  {f['status']:8s}{f['text']} {f['remedy']}".rstrip() for f in found["findings"]]
    return lines


VERB = Verb("all figures and findings of one tree in one pot", options, run, report_lines)
