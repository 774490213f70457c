"""Pots as CSV, out and in. Bad rows are named and left out; good rows come in."""

import csv
import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from kesh.errors import BundleError, plain_reason
from kesh.formats.words import kept_words
from kesh.model import Band, Hole, Outline, Pot, Profile
from kesh.progress import Progress
from kesh.writing import write_text

OUTLINE = ("corner_mm", "exponent", "sides", "lobes", "lobe_depth", "lobe_style")
PROFILE = ("base_inset_mm", "belly_mm", "lip_height_share", "lip_offset_mm")
PLAIN = (
    "length_mm", "width_mm", "height_mm", "wall_mm", "floor_mm", "feet_mm", "feet_style", "material", "finish", "colour",
    "price", "state", "measured_volume_l", "measured_mass_kg", "defects", "source", "notes", "made_for",
)  # fmt: skip
COLUMNS = ("id", "name", "outline", *OUTLINE, "profile", *PROFILE, *PLAIN, "holes", "bands")
MOST_ROWS = 200_000


@dataclass(frozen=True)
class Imported:
    """Pots that came in, and a sentence for each row that did not."""

    pots: tuple[Pot, ...]
    problems: tuple[str, ...]


def write_pots(path: Path, pots: Iterable[Pot]) -> None:
    """Write pots as CSV; holes as `x y diameter`, bands as `form height-share tall proud`, joined by `;`. Free outlines and profile tables travel in bundles only."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    writer.writeheader()
    for pot in pots:
        row: dict[str, Any] = {"id": pot.id, "name": pot.name, "outline": pot.outline.kind, "profile": pot.profile.kind}
        row |= {name: getattr(pot.outline, name) for name in OUTLINE} | {
            name: getattr(pot.profile, name) for name in PROFILE
        }
        row |= {name: getattr(pot, name) for name in PLAIN}
        row["holes"] = (
            ";".join(f"{h.x_mm:g} {h.y_mm:g} {h.diameter_mm:g}" for h in pot.holes) if pot.holes_known else "?"
        )
        row["bands"] = ";".join(f"{b.form} {b.at_share:g} {b.tall_mm:g} {b.proud_mm:g}" for b in pot.bands)
        writer.writerow({k: "" if v is None else v for k, v in row.items()})
    write_text(path, out.getvalue())


def _holes(cell: str) -> tuple[Hole, ...]:
    found = []
    for part in cell.split(";"):
        if part.strip():
            numbers = [float(n) for n in part.split()]
            if len(numbers) != 3:
                raise ValueError(f"hole '{part.strip()}' needs x, y and diameter")
            found.append(Hole(x_mm=numbers[0], y_mm=numbers[1], diameter_mm=numbers[2]))
    return tuple(found)


def _bands(cell: str) -> tuple[Band, ...]:
    found = []
    for part in cell.split(";"):
        words = part.split()
        if len(words) not in (0, 4):
            raise ValueError(f"band '{part.strip()}' needs its form, height share, tall and proud")
        if words:
            names = ("form", "at_share", "tall_mm", "proud_mm")
            found.append(Band.model_validate(dict(zip(names, words, strict=True))))
    return tuple(found)


def _pot(row: Mapping[str, str], number: int) -> Pot:
    cells = {k: v.strip() for k, v in row.items() if k in COLUMNS and isinstance(v, str) and v.strip()}
    fields: dict[str, Any] = kept_words({k: cells[k] for k in PLAIN if k in cells})
    fields["id"] = cells.get("id") or f"csv-{number}"
    fields["name"] = cells.get("name") or fields["id"]
    fields["outline"] = Outline.model_validate(
        {"kind": cells.get("outline", "rectangle")} | {k: cells[k] for k in OUTLINE if k in cells}
    )
    fields["profile"] = Profile.model_validate(
        {"kind": cells.get("profile", "straight")} | {k: cells[k] for k in PROFILE if k in cells}
    )
    holes = cells.get("holes", "")
    fields["holes_known"] = holes != "?"
    fields["holes"] = () if holes == "?" else _holes(holes)
    fields["bands"] = _bands(cells.get("bands", ""))
    return Pot.model_validate(fields)


def _delimiter(text: str) -> str:
    """What parts the columns, told by the first line alone: names of pots may hold anything."""
    first = text.partition("\n")[0]
    return max(",;\t", key=first.count)


def read_pots(path: Path, known: Iterable[str] = (), progress: Progress | None = None) -> Imported:
    """Read pots. `known` are ids already in the collection: such rows are named, not overwritten.

    Raises BundleError for a file that is no CSV of pots at all, StoppedError when the progress was stopped.
    """
    try:
        text = path.read_text(encoding="utf-8-sig")
    except FileNotFoundError as err:
        raise BundleError(f"{path.name}: there is no such file") from err
    except (OSError, UnicodeDecodeError) as err:
        raise BundleError(f"{path.name} cannot be read as text: {err}") from err
    reader = csv.DictReader(io.StringIO(text), delimiter=_delimiter(text))
    missing = [name for name in ("length_mm", "width_mm", "height_mm") if name not in (reader.fieldnames or [])]
    if missing:
        raise BundleError(f"{path.name} is no table of pots: column {missing[0]} is missing in its first line")
    lines = max(text.count("\n"), 1)
    pots: dict[str, Pot] = {}
    taken, problems = set(known), []
    try:
        for number, row in enumerate(reader, 2):
            if progress is not None and number % 50 == 0:
                progress.at(min(number / lines, 1.0))
            if number > MOST_ROWS:
                problems.append(f"line {number}: more than {MOST_ROWS} rows; the rest is left out")
                break
            try:
                pot = _pot(row, number)
            except ValidationError as err:
                problems.append(plain_reason(err, f"line {number}"))
                continue
            except ValueError as err:
                problems.append(f"line {number}: {err}")
                continue
            if pot.id in pots or pot.id in taken:
                problems.append(f"line {number}: a pot '{pot.id}' is there already; left out")
                continue
            pots[pot.id] = pot
    except csv.Error as err:
        problems.append(f"line {reader.line_num}: {err}; the rest is left out")
    return Imported(tuple(pots.values()), tuple(problems))
