"""What the Reference shows: tables as plain columns and rows, with the user's own rows marked. No Qt here."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from kesh.base.errors import FieldError
from kesh.desk.ids import fresh_id
from kesh.model import Collection
from kesh.reference.notes import SIGNS, cautions, disagreements
from kesh.reference.rows import Row, raw_table
from kesh.reference.schools import schools
from kesh.reference.tables import materials, tables, traditions

TOPICS = {
    "species": "Species",
    "substrates": "Substrates",
    "materials": "Materials",
    "tradition": "Pots by style",
    "schools": "Schools",
    "disagreements": "Disagreements",
    "cautions": "Cautions",
    "words": "Words",
}
EDITABLE = {"species": "species_row", "substrates": "substrate_row"}


# fields whose own name does not say enough, with their units
FIELD_WORDS = {
    "confidence": "How sure",
    "root_hardy_c": "Roots hardy to, °C",
    "usda_zone_min": "Hardiness zone",
    "water_need": "Water need, 1 to 5",
    "min_air_porosity": "Air asked, share",
    "ph_low": "pH from",
    "ph_high": "pH to",
    "repot_years_training_low": "Training, years from",
    "repot_years_training_high": "Training, years to",
    "repot_years_refined_low": "Refined, years from",
    "repot_years_refined_high": "Refined, years to",
    "max_root_removal_healthy": "Roots off, share",
    "bare_root_ok": "Bare root bears",
    "flat_bottom_saw_ok": "Flat saw cut bears",
    "repot_window": "Root work in",
    "second_window": "Second window",
    "vigour": "Vigour, 1 to 5",
    "kc": "Crop coefficient",
    "leaf_area_index": "Leaf area index",
    "growth_spread_percent_per_year_training": "Spread grows, % a year",
    "size_low_mm": "Grains from, mm",
    "size_high_mm": "Grains to, mm",
    "dry_bulk_density_g_per_l": "Dry weight, g/l",
    "inter_particle_porosity": "Pores between, share",
    "intra_particle_porosity": "Pores inside, share",
    "intra_water_available_fraction": "Of those usable, share",
    "ph": "pH",
    "cec": "Cation exchange",
    "breaks_down_years": "Lasts, years",
}


def field_words(name: str) -> str:
    """How the panel calls a field."""
    return FIELD_WORDS.get(name) or name.removesuffix("_hex").replace("_", " ").capitalize()


@dataclass(frozen=True)
class Entry:
    """One row: its key, the cells of the table, and every field for the panel."""

    key: str
    cells: tuple[str, ...]
    fields: tuple[tuple[str, str], ...]
    own: bool = False


@dataclass(frozen=True)
class Table:
    """A topic's heads and rows, and a sentence on how far to trust it."""

    topic: str
    heads: tuple[str, ...]
    rows: tuple[Entry, ...]
    note: str

    def matching(self, needle: str) -> tuple[Entry, ...]:
        """Rows that hold all words."""
        wanted = needle.lower().split()
        return tuple(
            r for r in self.rows if all(w in " ".join((*r.cells, *(v for _, v in r.fields))).lower() for w in wanted)
        )


def _shown(value: Any) -> str:
    if value is None or value == "":
        return ""
    if isinstance(value, float):
        return f"{value:g}"
    return str(value).replace(";", "; ").replace("_", " ") if not str(value).startswith("#") else str(value)


def _share(value: float | None) -> str:
    return "" if value is None else f"{value:.0%}"


def _range(low: float | None, high: float | None) -> str:
    return "" if low is None or high is None else f"{low:g}–{high:g}"


def _entry(row: Row, cells: tuple[str, ...], own: bool = False, more: tuple[tuple[str, str], ...] = ()) -> Entry:
    fields = tuple((name, _shown(getattr(row, name))) for name in type(row).model_fields if name != "key")
    return Entry(row.key, cells, (*more, *fields), own)


def table_of(topic: str, collection: Collection) -> Table:
    """A topic as it stands for this collection."""
    return {
        "species": _species, "substrates": _substrates, "materials": _materials, "tradition": _tradition, "schools": _schools,
        "disagreements": _disagreements, "cautions": _cautions, "words": _words,
    }[topic](collection)  # fmt: skip


def _species(c: Collection) -> Table:
    found = tables(c.species_rows, c.substrate_rows)
    rows = []
    for key, s in sorted(found.species.items(), key=lambda kv: kv[1].common_name.lower()):
        sign = SIGNS.get(s.repot_window, "")
        cells = (
            s.common_name or key, s.botanical_name, s.repot_window.replace("_", " "),
            _range(s.repot_years_refined_low, s.repot_years_refined_high), _share(s.max_root_removal_healthy),
            _share(s.min_air_porosity), _range(s.ph_low, s.ph_high), s.confidence,
        )  # fmt: skip
        rows.append(_entry(s, cells, key in found.own_species, (("wait_for", sign),) if sign else ()))
    heads = ("Species", "Botanical name", "Root work", "Every, years", "Roots off, most", "Air asked", "pH", "Sure")
    return Table("species", heads, tuple(rows), "Starting points from general knowledge; your tree and climate decide.")


def _substrates(c: Collection) -> Table:
    found = tables(c.species_rows, c.substrate_rows)
    rows = []
    for key, s in found.substrates.items():
        cells = (
            s.name or key, f"{s.size_low_mm:g}–{s.size_high_mm:g}", f"{s.dry_bulk_density_g_per_l:.0f}", _share(s.inter_particle_porosity),
            _share(s.intra_particle_porosity), "" if s.ph is None else f"{s.ph:g}", s.kind, s.confidence,
        )  # fmt: skip
        rows.append(_entry(s, cells, key in found.own_substrates))
    heads = ("Substrate", "Grain, mm", "Dry, g/l", "Pores between", "Pores inside", "pH", "Kind", "Sure")
    return Table("substrates", heads, tuple(rows), "Pore shares ± 0.05, density ± 15 %: sieving and source decide.")


def _materials(c: Collection) -> Table:
    rows = []
    for m in materials().values():
        cells = (
            m.name, f"{m.density_g_cm3:g}", f"{m.thermal_conductivity_w_mk:g}",
            f"{m.typical_wall_mm_small:g} / {m.typical_wall_mm_medium:g} / {m.typical_wall_mm_large:g}", m.frost_proof.replace("_", " "), m.confidence,
        )  # fmt: skip
        rows.append(_entry(m, cells))
    heads = ("Material", "kg/l", "W/(m K)", "Wall small / medium / large, mm", "Frost-proof", "Sure")
    return Table("materials", heads, tuple(rows), "Good for defined materials, weak for stone and mixtures.")


def _tradition(c: Collection) -> Table:
    rows = []
    for (style, school), t in traditions().items():
        depth = _range(t.depth_factor_low, t.depth_factor_high)
        cells = (
            style.replace("_", " "), school, depth, _range(t.length_factor_low, t.length_factor_high),
            t.length_basis, t.outline_balanced.replace(";", ", ").replace("_", " "), t.confidence,
        )  # fmt: skip
        rows.append(_entry(t, cells))
    heads = ("Style", "School", "Depth × trunk", "Length ×", "of", "Outline", "Sure")
    return Table("tradition", heads, tuple(rows), "Custom, not rule; exhibitions are full of exceptions.")


def _schools(c: Collection) -> Table:
    rows = []
    for s in schools().values():
        cells = (
            s.name,
            s.trunk_station.replace("_", " "),
            _range(*s.visual_mass),
            _range(*s.width_of_length),
            s.glaze_under_conifer,
        )
        fields = (
            ("voice", s.voice), ("depth", s.depth_reason), ("length", s.length_reason), ("width", s.width_reason), ("visual mass", s.visual_mass_reason),
            *((name.replace("_", " "), rule.reason) for name, rule in s.purposes.items()),
        )  # fmt: skip
        rows.append(Entry(s.key, cells, fields))
    heads = ("School", "Trunk taken", "Visual mass", "Width × length", "Glaze under conifers")
    return Table("schools", heads, tuple(rows), "Named sets of rules. Each judges on its own; none is Kesh's view.")


def _disagreements(c: Collection) -> Table:
    rows = tuple(
        Entry(
            d.key, (d.title, d.one, d.other),
            (("one side", d.one), ("the other", d.other), ("when each fits", d.fits), ("what Kesh does", d.kesh)),
        )
        for d in disagreements()
    )  # fmt: skip
    return Table("disagreements", ("Topic", "One side", "The other"), rows, "Both sides are carried; you pick.")


def _cautions(c: Collection) -> Table:
    rows = tuple(
        Entry(
            x.key, (x.when, x.hazard, x.severity),
            (("when", x.when), ("what can happen", x.hazard), ("usual care", x.care), ("gear", x.gear), ("stop when", x.stop)),
        )
        for x in cautions().values()
    )  # fmt: skip
    note = "General knowledge, not complete. Product labels, local rules and qualified people come first."
    return Table("cautions", ("When", "What can happen", "How bad"), rows, note)


def _words(c: Collection) -> Table:
    rows = tuple(
        Entry(
            r["key"], (r["word"], r["means"], r.get("also", "").replace(";", ", ")),
            (("means", r["means"]), *((("also called", r["also"].replace(";", ", ")),) if r.get("also") else ())),
        )
        for r in sorted(raw_table("glossary"), key=lambda r: r["word"].lower())
    )  # fmt: skip
    return Table(
        "words", ("Word", "Means", "Also called"), rows, "How Kesh uses the words of the trade; growers differ."
    )


def overridden(topic: str, key: str, field: str, text: str, collection: Collection) -> dict[str, Any]:
    """The user's own row with one field changed; a blank takes the shipped value back. Raises FieldError or BundleError."""
    held = collection.species_rows if topic == "species" else collection.substrate_rows
    row: dict[str, Any] = dict(next((r for r in held if r.get("key") == key), {"key": key}))
    if text.strip():
        row[field] = text.strip().replace(",", ".") if _is_number(text) else text.strip()
    else:
        row.pop(field, None)
        if not any(shipped["key"] == key for shipped in raw_table(topic)):
            raise FieldError(field, "this row is yours alone; give a value instead of a blank")
    others = tuple(r for r in held if r.get("key") != key)
    rows: tuple[Mapping[str, Any], ...] = (*others, row)
    tables(rows, ()) if topic == "species" else tables((), rows)
    return row


def copied(topic: str, key: str, collection: Collection) -> dict[str, Any]:
    """A row of the user's own with all figures of another, to be changed. Raises FieldError for a row nobody knows."""
    found = tables(collection.species_rows, collection.substrate_rows)
    rows: Mapping[str, Any] = found.species if topic == "species" else found.substrates
    if key not in rows:
        raise FieldError("key", f"there is no row '{key}'")
    name = "common_name" if topic == "species" else "name"
    row = {k: v for k, v in rows[key].model_dump().items() if v not in (None, "")}
    return row | {"key": fresh_id(rows, f"own_{key}"), name: f"My {row.get(name, key)}"[:80]}


def _is_number(text: str) -> bool:
    try:
        float(text.strip().replace(",", "."))
    except ValueError:
        return False
    return True
