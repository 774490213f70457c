"""`kesh measure`: a tree's measures from its photograph."""

import argparse
from pathlib import Path
from typing import Any

from kesh.line.arguments import numbers
from kesh.line.verb import Verb


def options(sub: argparse.ArgumentParser) -> None:
    """The photograph, its scale, and marks on it."""
    sub.add_argument("photo", type=Path)
    scale = sub.add_mutually_exclusive_group(required=True)
    scale.add_argument(
        "--known", metavar="X1,Y1,X2,Y2,MM", help="two points (px) in the trunk's plane and their distance"
    )
    scale.add_argument(
        "--card", metavar="X1,Y1,..,X4,Y4,W_MM,H_MM",
        help="corners (px) of a card in the trunk's plane, in turn from the upper left, and its width and height",
    )  # fmt: skip
    sub.add_argument("--soil", metavar="X,Y", help="middle of the trunk's foot on the soil line (px)")
    sub.add_argument("--apex", metavar="X,Y", help="the apex (px)")
    sub.add_argument(
        "--around", metavar="X1,Y1,X2,Y2,...",
        help="a rough loop (px) round crown and trunk, or two corners of a box; outside it all is background",
    )  # fmt: skip
    sub.add_argument("--mask", type=Path, metavar="PNG", help="write what was cut out: 0 ground, 128 foliage, 255 wood")


def run(args: argparse.Namespace) -> dict[str, Any]:
    """The figures as JSON. Raises KeshError."""
    return run_measure(args.photo, args.known, args.card, args.soil, args.apex, args.mask, args.around)


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


VERB = Verb("a tree's measures from its photograph, each with its plus or minus", options, run, measure_lines)
