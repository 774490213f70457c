"""What `kesh design` does: solve for a tree, and write every maker's files, without a display."""

import argparse
from datetime import date
from pathlib import Path
from typing import Any

from kesh.advice.assess import assess
from kesh.advice.case import Case
from kesh.advice.design.aims import design_case
from kesh.advice.design.search import Solution, solve
from kesh.advice.design.space import Wishes
from kesh.advice.making.printer import PrintWishes
from kesh.advice.making.routes import ROUTES, MakerWishes, job
from kesh.commands import numbers, pot_of
from kesh.errors import FieldError
from kesh.model import Collection, Pot
from kesh.reference.tables import material
from kesh.science.making.clay import usual_or
from kesh.writing import check_folder


def run_design(collection: Collection, args: argparse.Namespace) -> dict[str, Any]:
    """The solver's answer as JSON, with the files it wrote. Raises KeshError."""
    material(args.material)
    room, bed = numbers(args.room, "--room", 3), numbers(args.bed, "--bed", 3)
    shrinkage = args.shrinkage
    if shrinkage is not None and not 0 <= shrinkage <= 0.3:
        raise FieldError("--shrinkage", f"{shrinkage:g} is outside 0 to 0.3")
    case = design_case(
        collection, args.tree, mix_id=args.mix, school_id=args.school, season=args.season, today=args.date
    )
    makers = MakerWishes(
        shrinkage=shrinkage, printing=PrintWishes(bed_mm=(bed[0], bed[1], bed[2])) if bed else PrintWishes()
    )
    if args.out is not None:
        check_folder(args.out)
    if args.pot is not None:
        return _of_pot(case, pot_of(collection, args.pot), args, makers)
    wishes = Wishes(
        material=args.material, people=args.people, room_mm=(room[0], room[1], room[2]) if room else None,
        shrinkage=usual_or(args.material, shrinkage),
    )  # fmt: skip
    found = solve(case, wishes)
    files: list[str] = []
    failed: list[dict[str, str]] = []
    if args.out is not None and found.designs:
        if not 1 <= args.pick <= len(found.designs):
            raise FieldError("--pick", f"there are {len(found.designs)} designs; {args.pick} is none of them")
        pot = found.designs[args.pick - 1].pot
        files, failed = write_routes(pot, found.case, makers, args.out)
    return design_json(args.tree, found) | {"files": files, "not_made": failed}


def _of_pot(case: Case, pot: Pot, args: argparse.Namespace, makers: MakerWishes) -> dict[str, Any]:
    """Every maker's files for a pot that is there: the drill plan adds to the holes it has. Raises KeshError."""
    files, failed = write_routes(pot, case, makers, args.out) if args.out is not None else ([], [])
    findings = [f.as_json() for f in assess(case, pot).findings]
    return {"tree": args.tree, "pot": pot_json(pot), "findings": findings, "files": files, "not_made": failed}


def design_json(tree: str, found: Solution) -> dict[str, Any]:
    """The public keys of `kesh design --json`."""
    return {
        "tree": tree,
        "feasible": bool(found.designs),
        "designs": [
            {
                "pot": pot_json(d.pot), "looks": round(d.looks, 4), "horticulture": round(d.margin, 4),
                "findings": [f.as_json() for f in assess(found.case, d.pot).findings],
            }
            for d in found.designs
        ],
        "relax": [{"limit": r.limit, "by": round(r.by, 4), "unit": r.unit} for r in found.relax],
        "tried": found.tried,
    }  # fmt: skip


def pot_json(pot: Pot) -> dict[str, Any]:
    """A pot as in the bundle."""
    data = {
        k: v for k, v in pot.model_dump(mode="json").items() if v is not None and k not in ("holes_known", "acquired")
    }
    data["holes"] = data["holes"] if pot.holes_known else None
    return data


def write_routes(
    pot: Pot, case: Case | None, makers: MakerWishes, folder: Path
) -> tuple[list[str], list[dict[str, str]]]:
    """Every route's files for a pot: (paths, routes that cannot be taken and why). Raises KeshError for the folder."""
    from kesh.formats.job_files import write_job
    from kesh.ui.app import print_making

    files, failed = [], []
    for route in ROUTES:
        try:
            made = job(route, pot, case, makers)
        except FieldError as err:
            failed.append({"route": route, "why": str(err)})
            continue
        files += [str(p) for p in write_job(made, folder)]
        paper = folder / f"{route}.pdf"
        print_making(
            made,
            paper,
            date.today(),
            assess(case, made.pot) if case is not None and route in ("potter", "print") else None,
        )
        files.append(str(paper))
    return files, failed


def design_lines(found: dict[str, Any]) -> list[str]:
    """The answer as plain text."""
    if "pot" in found:
        return [
            f"{found['pot']['name']} for {found['tree']}",
            *(f"  {f['status']:8s}{f['text']}" for f in found["findings"] if f["status"] != "fits"),
            *_written(found),
        ]
    lines = []
    for k, one in enumerate(found["designs"], start=1):
        p = one["pot"]
        worst = next((f["text"] for f in one["findings"] if f["status"] == "no"), "")
        lines.append(
            f"{k:3d}  {p['name']:22s}{p['length_mm']:.0f} × {p['width_mm']:.0f} × {p['height_mm']:.0f} mm  "
            f"looks {one['looks']:.2f}  roots and water {one['horticulture']:+.2f}  {worst}".rstrip()
        )
    if not lines:
        lines.append("No pot obeys every limit. What would have to give:")
        lines += [f"  {r['limit']} by {r['by']:.4g} {r['unit']}" for r in found["relax"]]
    return lines + _written(found)


def _written(found: dict[str, Any]) -> list[str]:
    lines = [f"wrote {name}" for name in found["files"]]
    return lines + [f"not made, {row['route']}: {row['why']}" for row in found["not_made"]]
