"""`kesh group`: the layout check of a group in its tray, and proposals to lay it out anew, without a display."""

import argparse
from typing import Any

from kesh.advice.case import case_for
from kesh.advice.group.findings import group_findings
from kesh.advice.group.plan import GroupPlan
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.line.arguments import bundle_of_args, case_options
from kesh.line.records import load, pot_of
from kesh.line.verb import Verb
from kesh.model import Collection
from kesh.science.group.anneal import lay_out

MOST_LAYOUTS = 20


def options(sub: argparse.ArgumentParser) -> None:
    """The group, its tray, and how many proposals."""
    bundle_of_args(sub)
    sub.add_argument("--pot", help="another tray than the one it stands in")
    sub.add_argument("--layouts", type=int, default=0, metavar="N", help="propose so many layouts (0)")
    sub.add_argument("--seed", type=int, default=0, metavar="N", help="which run; the same seed proposes the same (0)")
    case_options(sub, season=False)


def run(args: argparse.Namespace) -> dict[str, Any]:
    """The layout check, as JSON. Raises KeshError."""
    return run_group(load(args.bundle), args)


def run_group(collection: Collection, args: argparse.Namespace) -> dict[str, Any]:
    """The layout check as JSON. Raises KeshError for unknown ids, and for fewer than three trees in the tray."""
    if not 0 <= args.layouts <= MOST_LAYOUTS:
        raise FieldError("--layouts", f"{args.layouts} is outside 0 to {MOST_LAYOUTS}")
    if args.seed < 0:
        raise FieldError("--seed", f"{args.seed} is below nought; any whole number from nought on names a run")
    case = case_for(collection, args.tree, pot_id=args.pot, school_id=args.school, mix_id=args.mix, on=args.date)
    present = collection.planting_of(args.tree)
    key = args.pot or (present.pot if present is not None else None)
    if key is None:
        raise FieldError("--pot", f"{case.tree.name} stands in no pot; name one")
    plan = GroupPlan(case.tree, pot_of(collection, key), case.headspace_mm)
    if not case.tree.group:
        raise FieldError("group", f"no trees of {case.tree.name} are entered; the layout check wants at least three")
    t, check = plan.trunks, plan.check
    if t is None or check is None:
        raise FieldError("group", f"{len(plan.rows)} placed; the layout check wants at least three trees")
    found: dict[str, Any] = {
        "tree": args.tree, "pot": key, "score": check.score, "parts": check.parts, "fits": check.fits, "worst": check.worst,
        "mend": None if plan.mend is None else {"id": plan.mend.id, "dx_mm": plan.mend.dx_mm, "dy_mm": plan.mend.dy_mm, "score": plan.mend.score},
        "in_line": [list(one.ids) for one in check.in_line],
        "room_l": {g.id: float(v) for g, v in zip(plan.rows, plan.room_l, strict=True)},
        "hill_l": plan.hill_l, "advised": plan.advised, "layouts": [],
        "findings": [f.as_json() for f in group_findings(plan, Units())],
    }  # fmt: skip
    if args.layouts:
        made = lay_out(t, plan.tray, plan.x, plan.y, count=args.layouts, seed=args.seed, path=plan.path)
        found["layouts"] = [
            {
                "score": one.score, "fits": one.fits,
                "group": [
                    g.changed(x_mm=float(one.x_mm[k]), y_mm=float(one.y_mm[k])).model_dump(mode="json", exclude_none=True)
                    for k, g in enumerate(plan.rows)
                ],
            }
            for one in made
        ]  # fmt: skip
    return found


def group_lines(found: dict[str, Any]) -> list[str]:
    """The check as plain text."""
    lines = [f"{found['tree']} in {found['pot']}: layout check {found['score']:.0f} of 100 (a check, not beauty)"]
    lines += [
        f"  {key:12s}{value:.2f}{'  worst' if key == found['worst'] else ''}" for key, value in found["parts"].items()
    ]
    lines += [f"in line: {', '.join(ids)}" for ids in found["in_line"]]
    if found["mend"]:
        m = found["mend"]
        lines.append(f"move {m['id']} by {m['dx_mm']:+.0f} mm right, {m['dy_mm']:+.0f} mm back: {m['score']:.0f}")
    lines += [f"layout {n + 1}: {one['score']:.0f}" for n, one in enumerate(found["layouts"])]
    return lines + [f"  {f['status']:8s}{f['text']} {f['remedy']}".rstrip() for f in found["findings"]]


VERB = Verb("the layout check of a group in its tray, and proposals to lay it out anew", options, run, group_lines)
