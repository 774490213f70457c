"""`kesh design`: solve for a tree, and write every maker's files, without a display."""

import argparse
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

from kesh.advice.assess import assess
from kesh.advice.case import Case
from kesh.advice.design.aims import design_case
from kesh.advice.design.search import Solution, solve
from kesh.advice.design.space import Wishes
from kesh.advice.routes.route import MOST_TOLD
from kesh.advice.routes.routes import job, routes
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import FieldError
from kesh.base.writing import check_folder
from kesh.formats.job_files import ThereAlreadyError
from kesh.line.arguments import bundle_of_args, case_options, finite, given_at, numbers, refuse
from kesh.line.records import load, pot_of
from kesh.line.verb import Verb
from kesh.model import Collection, Pot
from kesh.reference.tables import material
from kesh.science.making.clay import usual_or


def maker_options() -> dict[str, str]:
    """Options that say nothing without --out, by their names."""
    asked = {ask.dest: ask.option for route in routes().values() for ask in route.asks if ask.option}
    return {**asked, "route": "--route", "force": "--force"}


def options(sub: argparse.ArgumentParser) -> None:
    """The tree, the limits, the makers asked and what they bring."""
    bundle_of_args(sub)
    case_options(sub)
    sub.add_argument("--material", help="a key of the materials table (stoneware_unglazed)")
    sub.add_argument("--people", type=int, choices=(1, 2), help="how many lift it (2)")
    sub.add_argument("--room", metavar="L,W,H", help="inside of kiln or printer, mm")
    sub.add_argument("--shrinkage", type=finite, metavar="SHARE", help="total shrinkage of the clay's own test bar")
    sub.add_argument(
        "--pot", help="files for this pot of the bundle instead of a new design; the drill plan adds to its holes"
    )
    sub.add_argument("--pick", type=int, metavar="N", help="which design the files are for, 1 is the first (1)")
    files = sub.add_argument_group("files", "written into DIR/TREE - POT/ROUTE, with a list of what lies there")
    files.add_argument("--out", type=Path, metavar="DIR", help="write the makers' files here")
    files.add_argument(
        "--route", action="append", choices=tuple(routes()), help="only this maker; may be given several times"
    )
    files.add_argument("--force", action="store_true", help="replace the files of an earlier run")
    _maker_options(sub)


def _maker_options(sub: argparse.ArgumentParser) -> None:
    """What each maker brings, as in the Workshop."""
    for route in routes().values():
        asked = [ask for ask in route.asks if ask.option]
        group = sub.add_argument_group(route.words.lower()) if asked else None
        for ask in asked:
            assert group is not None
            if ask.sort == "yes":
                group.add_argument(ask.option, action="store_true", help=ask.says)
            else:
                kind: Callable[[str], Any] = (
                    int if ask.sort == "whole" else finite if ask.sort in ("mm", "fine_mm") else str
                )
                known = () if ask.known is None else tuple(ask.known())
                few = f": {', '.join(known)}" if 0 < len(known) <= MOST_TOLD else ""
                group.add_argument(ask.option, type=kind, metavar=ask.mark or None, help=ask.says + few)


def run(args: argparse.Namespace) -> dict[str, Any]:
    """The solver's answer, as JSON. Raises KeshError."""
    return run_design(load(args.bundle), args)


def run_design(collection: Collection, args: argparse.Namespace) -> dict[str, Any]:
    """The solver's answer as JSON, with the files it wrote. Raises KeshError."""
    if args.out is None:
        refuse(args, "without --out", pick="--pick", **maker_options())
    if args.pot is not None:
        why = "for a pot that is there"
        refuse(args, why, material="--material", people="--people", room="--room", pick="--pick")
    elif args.pick is not None and args.pick < 1:
        raise FieldError("--pick", f"{args.pick} is none of the designs; 1 is the first")
    if args.material is not None:
        material(args.material)
    clay = args.material or "stoneware_unglazed"
    room = _sizes(args.room, "--room")
    shrinkage = args.shrinkage
    if shrinkage is not None and not 0 <= shrinkage <= 0.3:
        raise FieldError("--shrinkage", f"{shrinkage:g} is outside 0 to 0.3")
    case = design_case(
        collection, args.tree, mix_id=args.mix, school_id=args.school, season=args.season, today=args.date
    )
    makers = makers_of(args)
    if args.out is not None:
        check_folder(args.out)
    whose = collection.trees[args.tree].name
    if args.pot is not None:
        pot = pot_of(collection, args.pot)
        files, failed = write_routes(pot, case, makers, args, whose) if args.out is not None else ([], [])
        findings = [f.as_json() for f in assess(case, pot).findings]
        return {"tree": args.tree, "pot": pot_json(pot), "findings": findings, "files": files, "not_made": failed}
    wishes = Wishes(
        material=clay, people=args.people or 2, room_mm=room, shrinkage=usual_or(clay, shrinkage),
    )  # fmt: skip
    found = solve(case, wishes)
    files, failed = [], []
    if args.out is not None and found.designs:
        pick = args.pick or 1
        if pick > len(found.designs):
            raise FieldError("--pick", f"there are {len(found.designs)} designs; {pick} is none of them")
        files, failed = write_routes(found.designs[pick - 1].pot, found.case, makers, args, whose)
    return design_json(args.tree, found) | {"files": files, "not_made": failed}


def _sizes(text: str | None, name: str) -> tuple[float, float, float] | None:
    """Length, width and height of a room; None for none. Raises KeshError."""
    found = numbers(text, name, 3)
    if any(v <= 0 for v in found):
        raise FieldError(name, f"'{text}' holds a size that is not above nought")
    return (found[0], found[1], found[2]) if found else None


def makers_of(args: argparse.Namespace) -> MakerWishes:
    """What the makers bring, as the command says it. Raises KeshError."""
    made = MakerWishes(shrinkage=args.shrinkage)
    for route in routes().values():
        asked = [ask for ask in route.asks if ask.option and given_at(args, ask.dest)]
        if route.wishes is None or not asked:
            continue
        own = route.wishes()
        for ask in asked:
            value = getattr(args, ask.dest)
            ask.check(value)
            own = ask.given(own, _sizes(value, ask.option) if ask.sort == "three_mm" else value)
        route.check(own, frozenset(ask.field for ask in asked))
        made = made.with_own(route.key, own)
    return made


def reached(found: dict[str, Any], out: Path | None) -> bool:
    """Whether the command came to anything: a design at all, and a file where files were asked for."""
    return bool(found.get("pot") or found["designs"]) and (out is None or bool(found["files"]))


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
    pot: Pot, case: Case | None, makers: MakerWishes, args: argparse.Namespace, whose: str
) -> tuple[list[str], list[dict[str, str]]]:
    """Every route's files for a pot: (paths, routes that cannot be taken and why). Raises KeshError for the folder."""
    from kesh.formats.job_files import job_bytes, run_folder, standing, with_sheet, write_run
    from kesh.ui.app import making_pdf

    files: list[str] = []
    failed: list[dict[str, str]] = []
    runs = []
    today = args.date or date.today()
    for route in args.route or routes():
        try:
            made = job(route, pot, case, makers)
        except FieldError as err:
            failed.append({"route": route, "why": str(err)})
            continue
        if not made.drawings and not made.solids:
            failed.append({"route": route, "why": dict(made.facts).get("To drill", "there is nothing to make")})
            continue
        a = assess(case, made.pot) if case is not None else None
        body = with_sheet(job_bytes(made, whose), made, whose, making_pdf(made, today, a))
        runs.append((run_folder(args.out, whose, made), made, body))
    # every folder is looked at before the first is written
    for folder, _, body in runs:
        if not args.force and (there := standing(folder, body)):
            raise FieldError(
                "--out", f"{ThereAlreadyError(folder, there)}; add --force to replace them, or name another folder"
            )
    for folder, made, body in runs:
        files += [str(p) for p in write_run(folder, made, whose, body, today, force=args.force)]
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


VERB = Verb(
    "pots designed for a tree, and every maker's files for one of them",
    options,
    run,
    design_lines,
    lambda found, args: reached(found, args.out),
)
