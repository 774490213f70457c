"""Trees as a list: a name, a species in any words, and the few measures that people write down."""

import csv
import io
import re
from collections.abc import Iterable, Iterator, Mapping
from datetime import date
from typing import Any

from pydantic import ValidationError

from kesh.base.days import day_of
from kesh.base.errors import BundleError, FieldError, plain_reason
from kesh.base.progress import Progress
from kesh.formats.lists.cells import blank, kilograms, length_mm
from kesh.formats.lists.read import Imported, RowRead, Understood, key_for, matched
from kesh.formats.lists.table import Header, Row, Table
from kesh.formats.lists.tasks import safe
from kesh.model import Measure, Tree
from kesh.model.tree import STAGES, STYLES
from kesh.reference.find import species_like
from kesh.reference.tables import Species

NAMES: Mapping[str, tuple[str, ...]] = {
    "id": ("key", "nr", "no", "number", "code", "nummer"),
    "name": ("tree", "tree name", "title", "label", "baum", "bezeichnung", "nom", "arbre", "nombre", "arbol", "nome", "albero"),
    "species": ("kind", "botanical name", "latin name", "common name", "sort", "art", "baumart", "sorte", "espece", "especie", "specie", "plant", "variety"),
    "style": ("form", "shape", "stil", "estilo", "stile"), "stage": ("state", "phase", "stadium"),
    "height_mm": ("high", "h", "tall", "hohe", "hoehe", "hauteur", "altura", "alto", "altezza"),
    "trunk_diameter_mm": ("trunk", "girth", "diameter", "dia", "nebari", "trunk width", "stamm", "stammdicke", "stammdurchmesser", "tronc", "tronco", "trunk diameter", "thickness"),
    "canopy_left_mm": ("left", "reach left", "links", "gauche", "izquierda", "sinistra"), "canopy_right_mm": ("right", "reach right", "rechts", "droite", "derecha", "destra"),
    "canopy_front_mm": ("front", "reach front", "vorn"), "canopy_back_mm": ("back", "reach back", "hinten"),
    "spread_mm": ("spread", "crown", "canopy", "width", "breite", "krone", "kronenbreite", "largeur", "envergure", "anchura", "ancho", "copa", "larghezza", "chioma"),
    "crown_base_mm": ("crown base",), **{name: () for name in ("trunk_at_soil_mm", "trunk_mid_mm", "flare_width_mm", "flare_depth_mm", "apex_offset_mm", "drop_mm", "graft_height_mm")},
    "measured": ("date", "day", "gemessen"), "mass_kg": ("mass", "weight", "gewicht", "poids", "peso"), "origin": ("from", "source", "herkunft", "origine", "origen"),
    "notes": ("note", "remarks", "comment", "comments", "bemerkung", "bemerkungen", "notiz", "remarque", "nota", "notas"),
}  # fmt: skip
LENGTHS = tuple(f for f in NAMES if f.endswith("_mm"))
# without one of these a table of names and heights could be anything
TELLING = ("species", "trunk_diameter_mm", "style", "stage")


OUT = (
    "id", "name", "species", "botanical_name", "style", "stage", "measured",
    *(name for name in Measure.model_fields if name.endswith(("_mm", "_kg"))), "origin", "notes",
)  # fmt: skip


def trees_csv(trees: Iterable[Tree], listed: Mapping[str, Species]) -> str:
    """Trees as a list: who they are, and their latest measures. What is read back from it is the same."""
    out = io.StringIO()
    writer = csv.DictWriter(out, OUT, lineterminator="\n")
    writer.writeheader()
    for tree in trees:
        species = listed.get(tree.species or "")
        told = {name: getattr(tree.measure, name) for name in OUT if hasattr(tree.measure, name)}
        row = {
            "id": tree.id, "name": tree.name, "species": tree.species or "", "botanical_name": species.botanical_name if species else "",
            "style": tree.style, "stage": tree.stage, "measured": tree.measure.taken, "origin": tree.origin, "notes": tree.notes, **told,
        }  # fmt: skip
        writer.writerow(
            {
                k: "" if v is None else safe(v) if isinstance(v, str) else f"{v:.10g}" if isinstance(v, float) else v
                for k, v in row.items()
            }
        )
    return out.getvalue()


def understood(table: Table, name: str) -> Understood:
    """Which column is which field. Raises BundleError when it is no table of trees."""
    found = matched(table.headers, NAMES)
    if "name" not in found.fields and "species" not in found.fields:
        raise BundleError(f"{name} is no table of trees: a column with their names is missing in its first line")
    if not any(f in found.fields for f in TELLING):
        raise BundleError(f"{name} is no table of trees: a column for species, trunk or style is missing")
    return found


# a tree lower than this in bare figures is told in cm, and a trunk thicker than this share of its height in mm
LOW_IN_MM, THICK = 130.0, 0.4


def _bare(table: Table, header: Header | None) -> list[float]:
    """The figures of a column that have no unit, in its cells or its head."""
    cells = [] if header is None or header.unit else [row.cells.get(header.plain, "") for row in table.rows]
    return [float(c.replace(",", ".")) for c in cells if re.fullmatch(r"\s*\d+(?:[.,]\d+)?\s*", c)]


def units_of(table: Table, fields_of: Mapping[str, Header], unit: str | None = None) -> dict[str, str]:
    """The unit of bare figures by field: as told, else cm where heights are too low to be mm; beside heights in cm all are."""
    found = {f: h.unit or unit or "mm" for f, h in fields_of.items() if f in LENGTHS}
    heights, trunks = (sorted(_bare(table, fields_of.get(f))) for f in ("height_mm", "trunk_diameter_mm"))
    height = fields_of.get("height_mm")
    told = height.unit if height is not None else ""
    if unit is None and told in ("", "cm"):
        middle = heights[len(heights) // 2] if heights else 0.0
        low = told == "cm" or 0 < middle < LOW_IN_MM
        for f, h in fields_of.items():
            if low and f in LENGTHS and not h.unit:
                found[f] = "cm"
        if low and trunks and middle and trunks[len(trunks) // 2] > THICK * middle:
            found["trunk_diameter_mm"] = "mm"
    return found


def _tree(
    row: Row,
    fields_of: Mapping[str, Header],
    listed: Mapping[str, Species],
    today: date,
    taken: set[str],
    units: Mapping[str, str],
) -> tuple[Tree, str]:
    cells = {f: row.cells.get(h.plain, "") for f, h in fields_of.items()}
    told = {f: c for f, c in cells.items() if not blank(c)}
    measure: dict[str, Any] = {f: length_mm(told[f], units[f], f) for f in LENGTHS if f in told}
    spread = measure.pop("spread_mm", None)
    if spread is not None:
        measure = {"canopy_left_mm": spread / 2, "canopy_right_mm": spread / 2} | measure
    if "mass_kg" in told:
        measure["mass_kg"] = kilograms(told["mass_kg"], fields_of["mass_kg"].unit, "mass_kg")
    fields: dict[str, Any] = {f: told[f] for f in ("origin", "notes") if f in told}
    odd = [] if spread is None else [f"spread {spread:.0f} mm taken as half to each side"]
    if "species" in told:
        hits = species_like(told["species"], listed)
        if hits and (hits[0].sure or (len(hits) == 1 and not hits[0].near)):
            fields["species"] = hits[0].key
            odd += [f"species taken for {hits[0].name}"] if not hits[0].exact else []
            if told["species"].strip().lower() not in (hits[0].name.lower(), hits[0].botanical.lower(), hits[0].key):
                # a cultivar or a name of the trade says more than the row it belongs to
                fields["notes"] = "; ".join(
                    filter(None, [fields.get("notes"), f"species as written: {told['species']}"])
                )
        else:
            near = f"; perhaps {' or '.join(h.name for h in hits[:3])}" if hits else ""
            odd.append(f"species '{told['species']}' is not in the table{near}: name it in step 1")
            fields["notes"] = "; ".join(filter(None, [fields.get("notes"), f"species as written: {told['species']}"]))
    for f, known in (("style", STYLES), ("stage", STAGES)):
        if f in told:
            key = re.sub(r"[^a-z]+", "_", told[f].lower()).strip("_")
            # just so first: a cascade is no semi-cascade
            hit = key if key in known else next((k for k in known if k.startswith(key) or key in k), None)
            if hit is None:
                odd.append(f"{f} '{told[f]}' is not known here and left out")
            else:
                fields[f] = hit
    fields["name"] = told.get("name") or told.get("species") or told.get("id") or f"Tree of line {row.line}"
    fields["id"] = told.get("id") or key_for(fields["name"], taken)
    fields["seed"] = row.line * 7 + 3
    taken_on = today
    if "measured" in told:
        try:
            taken_on = day_of(told["measured"], None, "measured")
        except FieldError as err:
            odd.append(f"{err}; taken as measured today")
    return Tree(measures=(Measure(taken=taken_on, **measure),), **fields), "; ".join(odd)


def _said(tree: Tree) -> Iterator[tuple[object, ...]]:
    """What a list could have said of a tree: its name, species and the figures of each time it was measured."""
    return ((tree.name, tree.species, measure.model_dump_json(exclude={"taken", "how"})) for measure in tree.measures)


def trees_of(
    table: Table, name: str, listed: Mapping[str, Species], today: date, known: Mapping[str, Tree] | Iterable[str] = (),
    progress: Progress | None = None, unit: str | None = None,
) -> Imported:  # fmt: skip
    """Trees of a table, measured on the day a column tells, else today. `unit` is that of bare figures; without it their size decides. `known` are those already in the collection, or their ids.

    A row without an id that tells the very figures of a tree of that name is not brought in twice. Raises BundleError for a
    table of something else, StoppedError when stopped.
    """
    found, taken, rows = understood(table, name), set(known), []
    id_plain = found.fields["id"].plain if "id" in found.fields else ""
    units = units_of(table, found.fields, unit)
    there = {said for tree in known.values() for said in _said(tree)} if isinstance(known, Mapping) else set()
    for n, row in enumerate(table.rows):
        if progress is not None and n % 50 == 0:
            progress.at(n / len(table.rows))
        try:
            tree, odd = _tree(row, found.fields, listed, today, taken, units)
        except ValidationError as err:
            rows.append(RowRead(row.line, None, plain_reason(err, f"line {row.line}").split(": ", 1)[1]))
            continue
        except FieldError as err:
            rows.append(RowRead(row.line, None, str(err)))
            continue
        if not row.cells.get(id_plain, "").strip() and there.intersection(_said(tree)):
            rows.append(RowRead(row.line, None, f"{tree.name} is there already, with these figures; left out"))
            continue
        if tree.id in taken:
            rows.append(RowRead(row.line, None, f"a tree '{tree.id}' is there already; left out"))
            continue
        taken.add(tree.id)
        rows.append(RowRead(row.line, tree, odd))
    rows += [RowRead(line, None, words) for line, words in table.lost]
    return Imported(tuple(sorted(rows, key=lambda r: r.line)), found)
