"""Pots as a list, out and in. Every row of a list is accounted for: taken, with what was understood, or left out, with why."""

import csv
import io
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from kesh.base.errors import BundleError, FieldError, plain_reason
from kesh.base.progress import Progress
from kesh.base.writing import write_text
from kesh.formats.lists.cells import blank, kilograms, length_mm, litres, number, whole, word
from kesh.formats.lists.read import Imported, RowRead, Understood, key_for, matched
from kesh.formats.lists.table import Header, Row, Table, read_table
from kesh.formats.lists.tasks import safe
from kesh.formats.odd import odd_words
from kesh.formats.words import kept_words
from kesh.geometry.usual import NOTE, usual_body
from kesh.model import Band, Hole, Outline, Pot, Profile, Reservation
from kesh.model.base import MOST_NOTE

OUTLINE = ("corner_mm", "exponent", "sides", "lobes", "lobe_depth", "lobe_style", "points_mm")
PROFILE = ("base_inset_mm", "belly_mm", "lip_height_share", "lip_offset_mm", "table")
PLAIN = (
    "length_mm", "width_mm", "height_mm", "wall_mm", "floor_mm", "feet_mm", "feet_style", "foot_count", "foot_area_mm2",
    "material", "finish", "colour", "price", "state", "measured_volume_l", "measured_mass_kg", "defects", "source", "notes",
    "made_for", "acquired",
)  # fmt: skip
COLUMNS = ("id", "name", "outline", *OUTLINE, "profile", *PROFILE, *PLAIN, "holes", "bands", "reserved")
NO_HOLES, UNKNOWN_HOLES = "none", "?"
# stands in the id of a pot whose row brings none
NO_ID = "?"

# plain headers people use for each field; a field's own name without its unit goes without saying
NAMES: Mapping[str, tuple[str, ...]] = {
    "id": ("key", "nr", "no", "number", "code"), "name": ("pot", "pot name", "title", "label"),
    "length_mm": ("long", "l", "outer length", "outside length", "size l"), "width_mm": ("wide", "w", "breadth", "depth front to back", "outer width"),
    "height_mm": ("high", "h", "tall", "outer height"), "diameter_mm": ("dia", "d", "o", "across"),
    "wall_mm": ("wall thickness", "thickness"), "floor_mm": ("floor thickness", "base thickness"), "feet_mm": ("foot height", "height of feet", "foot"),
    "feet_style": ("feet kind", "kind of feet"), "outline": ("shape", "form"), "profile": ("wall shape", "side"), "corner_mm": ("corner radius", "corner"),
    "material": ("clay", "made of", "body"), "finish": ("glaze", "surface"), "colour": ("color", "hue"), "price": ("cost", "paid", "value"),
    "state": ("status", "where", "place", "where it is"), "measured_volume_l": ("volume", "water", "holds", "capacity"),
    "measured_mass_kg": ("mass", "weight"), "defects": ("damage", "flaws", "cracks"), "source": ("maker", "made by", "from", "bought from", "giver"),
    "notes": ("note", "remarks", "comment", "comments"), "holes": ("drain holes", "drainage"), "bands": ("belts",), "acquired": ("bought", "date", "since"),
}  # fmt: skip
SHAPES = {
    "rectangle": ("rect", "rectangular", "square", "box", "oblong"), "oval": ("ellipse", "elliptical", "egg"), "round": ("circle", "circular", "drum", "bowl"),
    "polygon": ("hexagon", "hexagonal", "octagon", "octagonal", "even sided"), "lobed": ("flower", "mokko", "lobe", "petal"), "free": ("free form", "freeform", "irregular"),
}  # fmt: skip
SIDES = {"hexagon": 6, "hexagonal": 6, "octagon": 8, "octagonal": 8}
WALLS = {
    "straight": ("tapered", "slanted"), "tube": ("upright", "vertical"), "bowed": ("bellied", "belly", "curved", "rounded"), "lip": ("rim", "lipped"),
    "table": ("by table",), "slab": ("flat", "stone"),
}  # fmt: skip
WHERE = {
    "shelf": ("own shelf", "own", "free", "empty", "here"), "in_use": ("in use", "used", "planted", "taken"), "wish": ("wished for", "wanted", "wishlist"),
    "design": ("designed",), "ordered": ("on order", "order"),
}  # fmt: skip
LENGTHS = frozenset({"length_mm", "width_mm", "height_mm", "diameter_mm", "wall_mm", "floor_mm", "feet_mm", "corner_mm", "base_inset_mm", "belly_mm", "lip_offset_mm"})  # fmt: skip
FIGURES = frozenset({"exponent", "lobe_depth", "lip_height_share", "price", "foot_area_mm2"})
# "none" is a word of its own here, elsewhere it says that nothing is known
WORDED = frozenset({"feet_style", "finish"})
FREE_WORDS = frozenset({"id", "name", "defects", "source", "notes", "made_for", "reserved"})
WHOLES = frozenset({"sides", "lobes", "foot_count"})


def write_pots(path: Path, pots: Iterable[Pot]) -> None:
    """Write pots as CSV: holes as `x y diameter [use]`, bands as `form height-share tall proud`, points and profile tables as pairs, all joined by `;`."""
    write_text(path, pots_csv(pots))


def pots_csv(pots: Iterable[Pot]) -> str:
    """The list as text."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    writer.writeheader()
    for pot in pots:
        row: dict[str, Any] = {"id": pot.id, "name": pot.name, "outline": pot.outline.kind, "profile": pot.profile.kind}
        row |= {name: getattr(pot.outline, name) for name in OUTLINE}
        row |= {name: getattr(pot.profile, name) for name in PROFILE} | {name: getattr(pot, name) for name in PLAIN}
        row["points_mm"] = ";".join(f"{x:.10g} {y:.10g}" for x, y in pot.outline.points_mm)
        row["table"] = ";".join(f"{u:.10g} {inset:.10g}" for u, inset in pot.profile.table)
        holes = ";".join(f"{h.x_mm:.10g} {h.y_mm:.10g} {h.diameter_mm:.10g} {h.use or ''}".strip() for h in pot.holes)
        row["holes"] = (holes or NO_HOLES) if pot.holes_known else UNKNOWN_HOLES
        row["bands"] = ";".join(f"{b.form} {b.at_share:.10g} {b.tall_mm:.10g} {b.proud_mm:.10g}" for b in pot.bands)
        kept = pot.reserved
        row["reserved"] = "" if kept is None else f"{kept.tree}, {kept.season}".rstrip(", ")
        writer.writerow({k: "" if v is None else safe(v) if isinstance(v, str) else v for k, v in row.items()})
    return out.getvalue()


def _pairs(cell: str, field: str) -> tuple[tuple[float, float], ...]:
    found = []
    for part in filter(str.strip, cell.split(";")):
        figures = part.split()
        if len(figures) != 2:
            raise FieldError(field, f"'{part.strip()}' needs two figures")
        found.append((number(figures[0], field), number(figures[1], field)))
    return tuple(found)


def _holes(cell: str) -> tuple[Hole, ...]:
    found = []
    for part in filter(str.strip, cell.split(";")):
        words = part.split()
        if len(words) not in (3, 4):
            raise FieldError("holes", f"hole '{part.strip()}' needs x, y and diameter")
        x, y, across = (number(w, "holes") for w in words[:3])
        found.append(
            Hole.model_validate(
                {"x_mm": x, "y_mm": y, "diameter_mm": across, "use": words[3] if len(words) == 4 else None}
            )
        )
    return tuple(found)


def _bands(cell: str) -> tuple[Band, ...]:
    found = []
    for part in filter(str.strip, cell.split(";")):
        words = part.split()
        if len(words) != 4:
            raise FieldError("bands", f"band '{part.strip()}' needs its form, height share, tall and proud")
        found.append(Band.model_validate(dict(zip(("form", "at_share", "tall_mm", "proud_mm"), words, strict=True))))
    return tuple(found)


def _cell(field: str, text: str, unit: str) -> Any:
    if field in LENGTHS:
        return length_mm(text, unit, field)
    if field in FIGURES:
        return number(text, field)
    if field in WHOLES:
        return whole(text, field)
    if field == "measured_volume_l":
        return litres(text, unit, field)
    if field == "measured_mass_kg":
        return kilograms(text, unit, field)
    return word(text, WHERE, field) if field == "state" else text


def _says(field: str, cell: str) -> bool:
    """Whether a cell says something: free words are kept as they are, "none" means nothing but for feet and finish."""
    if field in FREE_WORDS or field == "holes":
        return bool(cell)
    return not (blank(cell) or (cell.lower() == "none" and field not in WORDED))


def _outline(cells: Mapping[str, str], fields: dict[str, Any]) -> Outline:
    told = cells.get("outline", "").strip().lower()
    given = {k: fields.pop(k) for k in OUTLINE if k in fields and k != "points_mm"}
    if told in SIDES:
        given.setdefault("sides", SIDES[told])
    kind = word(told, SHAPES, "outline") if told else "round" if "diameter_mm" in fields else "rectangle"
    points = _pairs(cells.get("points_mm", ""), "points_mm")
    fields.pop("points_mm", None)
    return Outline.model_validate({"kind": kind, "points_mm": points} | given)


def _pot(row: Row, fields_of: Mapping[str, Header]) -> Pot:
    cells = {field: row.cells.get(h.plain, "") for field, h in fields_of.items()}
    told = {f: c for f, c in cells.items() if _says(f, c)}
    fields: dict[str, Any] = {
        f: _cell(f, c, fields_of[f].unit)
        for f, c in told.items()
        if f not in ("outline", "profile", "holes", "bands", "points_mm", "table", "id", "name", "reserved")
    }
    outline = _outline(told, fields)
    across = fields.pop("diameter_mm", None)
    if across is not None:
        fields = {"length_mm": across, "width_mm": across} | fields
    if outline.kind == "round" and ("length_mm" in fields) != ("width_mm" in fields):
        side = fields.get("length_mm", fields.get("width_mm"))
        fields |= {"length_mm": side, "width_mm": side}
    profile = {"kind": word(told["profile"], WALLS, "profile") if "profile" in told else "straight"}
    profile |= {k: fields.pop(k) for k in PROFILE if k in fields}
    if "table" in told:
        profile["table"] = _pairs(told["table"], "table")  # type: ignore[assignment]
    fields["id"] = told.get("id") or NO_ID
    fields["name"] = told.get("name") or told.get("id") or f"Pot of line {row.line}"
    _unsaid(fields, profile["kind"] == "slab" or fields.get("feet_style") == "none")
    holes = told.get("holes", "").strip().lower()
    # nothing said of holes is not the same as no holes
    fields["holes_known"] = holes not in ("", UNKNOWN_HOLES, "unknown")
    if holes in (NO_HOLES, "no", "0"):
        fields["holes"] = ()
    elif fields["holes_known"]:
        fields["holes"] = _holes(told["holes"])
    fields["bands"] = _bands(told.get("bands", ""))
    tree, _, season = told.get("reserved", "").partition(",")
    if tree.strip():
        fields["reserved"] = Reservation(tree=tree.strip(), season=season.strip())
    return Pot.model_validate(kept_words(fields) | {"outline": outline, "profile": Profile.model_validate(profile)})


def _unsaid(fields: dict[str, Any], flat: bool) -> None:
    """Lists tell outer sizes: what they say nothing of is as usual, and the notes say so."""
    sizes = [fields.get(name) for name in ("length_mm", "width_mm", "height_mm")]
    if not all(isinstance(size, float | int) and size > 0 for size in sizes):
        return
    usual = usual_body(*sizes)._asdict()  # type: ignore[arg-type]
    left = [name for name in usual if name not in fields and not (flat and name == "feet_mm")]
    fields |= {name: usual[name] for name in left}
    if left:
        words = [name.removesuffix("_mm") for name in left]
        told = " and ".join((*([", ".join(words[:-1])] if len(words) > 1 else []), words[-1]))
        notes = " ".join(filter(None, [fields.get("notes"), f"{told.capitalize()}: {NOTE}."]))
        # a long note of the list's own goes before ours
        if len(notes) <= MOST_NOTE:
            fields["notes"] = notes


def understood(table: Table, name: str) -> Understood:
    """Which column is which field. Raises BundleError when it is no table of pots at all."""
    found = matched(table.headers, {field: NAMES.get(field, ()) for field in (*COLUMNS, "diameter_mm")})
    need = [f for f in ("length_mm", "width_mm", "height_mm") if f not in found.fields]
    if "diameter_mm" in found.fields:
        need = [f for f in need if f == "height_mm"]
    if need:
        raise BundleError(f"{name} is no table of pots: column {need[0]} is missing in its first line")
    return found


def pots_of(
    table: Table, name: str, known: Mapping[str, Pot] | Iterable[str] = (), progress: Progress | None = None
) -> Imported:
    """Pots of a table. `known` are those already in the collection, or their ids: such rows are named, not overwritten.

    A row without an id gets one by its name; one that is in the collection in all it says is not brought in twice.

    Raises BundleError for a table of something else, StoppedError when the progress was stopped.
    """
    found, taken, rows = understood(table, name), set(known), []
    there = {p.changed(id=NO_ID): p.name for p in known.values()} if isinstance(known, Mapping) else {}
    good: list[tuple[int, Pot]] = []
    for n, row in enumerate(table.rows):
        if progress is not None and n % 50 == 0:
            progress.at(n / len(table.rows))
        try:
            pot = _pot(row, found.fields)
        except ValidationError as err:
            rows.append(RowRead(row.line, None, plain_reason(err, f"line {row.line}").split(": ", 1)[1]))
            continue
        except ValueError as err:
            rows.append(RowRead(row.line, None, str(err)))
            continue
        if pot.id == NO_ID:
            if pot in there:
                rows.append(
                    RowRead(row.line, None, f"{there[pot]} is there already, the same in all that is said; left out")
                )
                continue
            pot = pot.changed(id=key_for(pot.name, taken))
        if pot.id in taken:
            rows.append(RowRead(row.line, None, f"a pot '{pot.id}' is there already; left out"))
            continue
        taken.add(pot.id)
        good.append((row.line, pot))
    odd = odd_words([pot for _, pot in good])
    rows += [RowRead(line, pot, "; ".join(words)) for (line, pot), words in zip(good, odd, strict=True)]
    rows += [RowRead(line, None, words) for line, words in table.lost]
    return Imported(tuple(sorted(rows, key=lambda r: r.line)), found)


def read_pots(path: Path, known: Mapping[str, Pot] | Iterable[str] = (), progress: Progress | None = None) -> Imported:
    """Read a file of pots. Raises BundleError for a file that is no list of pots at all, StoppedError when stopped."""
    return pots_of(read_table(path), path.name, known, progress)
