"""What the command line does, without a display and without printing."""

from datetime import date
from pathlib import Path
from typing import Any

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.rank import rank
from kesh.advice.report.special import with_special
from kesh.advice.report.whole import report
from kesh.advice.report.year import with_year
from kesh.base.errors import FieldError
from kesh.formats.bundle import load_bundle
from kesh.line.arguments import numbers
from kesh.model import Collection, Pot


def load(path: Path) -> Collection:
    """A collection from a bundle or, read-only, from a collection file."""
    if path.suffix.lower() == ".kesh":
        from kesh.store.reading import read_collection

        return read_collection(path)
    return load_bundle(path)


def pot_of(collection: Collection, pot: str) -> Pot:
    """A pot by its id. Raises FieldError with those that are there."""
    if pot not in collection.pots:
        raise FieldError("pot", f"no pot '{pot}'; known are {', '.join(list(collection.pots)[:8]) or 'none'}")
    return collection.pots[pot]


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
    a = assess(case, found)
    return with_special(with_year(report(a), a), a, day or date.today())


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
    ranking = rank(case, tuple(collection.pots.values()), standing=stands)
    return {"tree": tree, "ranking": [entry.as_json() for entry in ranking.entries()]}


def report_lines(found: dict[str, Any]) -> list[str]:
    """A report as plain text."""
    lines = [f"{found['tree']} in {found['pot']}: {found['verdict']} ({found['school']} school)"]
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


def rank_lines(found: dict[str, Any]) -> list[str]:
    """A ranking as plain text."""
    rows = [
        f"{i + 1:4d}  {r['verdict']:8s}{r['score']:.2f}  {r['pot']:24s}{r['reason']}"
        for i, r in enumerate(found["ranking"])
    ]
    return rows or ["No pots in this bundle."]


def run_measure(
    photo: Path,
    known: str | None,
    card: str | None,
    soil: str | None,
    apex: str | None,
    mask: Path | None,
    around: str | None = None,
) -> dict[str, Any]:
    """Figures of a photograph; the mask is written where asked for. Raises KeshError."""
    from kesh.photo.session import Marks, measure_photo, write_mask

    def pair(text: str | None, name: str) -> tuple[float, float] | None:
        found = numbers(text, name, 2)
        return (found[0], found[1]) if found else None

    two = numbers(known, "--known", 5)
    marks = Marks(
        known=(two[0], two[1], two[2], two[3], two[4]) if two else None, card=numbers(card, "--card", 10) or None,
        soil=pair(soil, "--soil"), apex=pair(apex, "--apex"),
        loop=numbers(around, "--around"),
    )  # fmt: skip
    measured = measure_photo(photo, marks)
    if mask is not None:
        write_mask(mask, measured.mask)
    found = measured.found.as_dict()
    if measured.loop is not None:
        found["loop_px"] = [[round(float(v), 1) for v in spot] for spot in measured.loop]
        found["loop_proposed"] = measured.cut.proposed
    found["notes"] = [*measured.photo.notes, *measured.found.notes]
    return found


def measure_lines(found: dict[str, Any]) -> list[str]:
    """Figures of a photograph as plain text."""
    lines = []
    for key, row in found.items():
        rows = (
            {f"{key}: {k}": v for k, v in row.items()}
            if key == "trunk_mm"
            else {key: row}
            if isinstance(row, dict)
            else {}
        )
        for name, one in rows.items():
            if one["value"] is None:
                lines.append(f"{name:26s}not seen: {one.get('why', '')}")
            else:
                lines.append(f"{name:26s}{one['value']} ± {one['plus_minus']} {one['unit']}")
    lines.append(f"{'doubt':26s}{found['doubt']:.0%} of the tree's area")
    return lines + [f"note: {text}" for text in found["notes"]]


def export(
    source: Path, out: Path, tree: str | None, pot: str | None, *, photographs: bool = False, day: date | None = None
) -> None:  # fmt: skip
    """Write a bundle, a CSV of pots, or a tree's sheet. Raises KeshError for an unknown kind of file."""
    import json

    from kesh.base.writing import write_text
    from kesh.formats.bundle import bundle_of
    from kesh.formats.lists.pots import write_pots
    from kesh.store.reading import read_pictures

    kind = out.suffix.lower()
    given = {"--tree": tree, "--pot": pot, "--date": day, "--photographs": photographs or None}
    for option in {".json": ("--tree", "--pot", "--date"), ".csv": tuple(given), ".pdf": ("--photographs",)}.get(
        kind, ()
    ):
        if given[option] is not None:
            raise FieldError(option, f"it says nothing for {kind}; leave it out")
    if photographs and source.suffix.lower() != ".kesh":
        raise FieldError("--photographs", f"{source.name} is a bundle; photographs come out of a collection (*.kesh)")
    collection = load(source)
    if kind == ".json":
        pictures = read_pictures(source) if photographs else None
        write_text(out, json.dumps(bundle_of(collection, pictures), indent=1, ensure_ascii=False))
    elif kind == ".csv":
        write_pots(out, collection.pots.values())
    elif kind == ".pdf":
        from kesh.ui.app import print_sheet

        if tree is None:
            raise FieldError("--tree", "a sheet needs a tree; name one with --tree")
        print_sheet(collection, tree, pot, out, day)
    else:
        raise FieldError("out", f"'{out.name}' should end in .json, .csv or .pdf")
