"""A list of pots before it is taken: its rows as they came and as they are read, what was mended in place, and what will be taken. No Qt here."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from kesh.base.once import once
from kesh.base.units import Units
from kesh.base.words import counted
from kesh.formats.lists.read import Imported
from kesh.formats.lists.spoken.cells import holes_of, look_of, price_of
from kesh.formats.lists.spoken.figures import SIZES, sizes_of
from kesh.formats.lists.spoken.pots import SpokenPot, SpokenPots, spoken_pots
from kesh.formats.lists.spoken.records import imported, pot_of, whole
from kesh.formats.lists.spoken.table import SpokenTable
from kesh.model import Pot

UNITS = {"cm": "cm", "mm": "mm", "in": "inch"}
# rows that are looked at for an example
LOOKED_AT = 60
FIELDS = ("name", "sizes", "holes", "look", "price")


def size_words(row: SpokenPot, units: Units) -> str:
    """'300 × 220 × 80' in the units of the reader, with dots for what is missing."""
    sizes = (row.length_mm, row.width_mm, row.height_mm)
    told = ["…" if mm is None else units.figure(mm) for mm in sizes]
    if row.outline == "round" and row.length_mm is not None and row.length_mm == row.width_mm:
        return f"Ø {told[0]} × {told[2]}"
    return " × ".join(told) if any(mm is not None for mm in sizes) else ""


def hole_words(row: SpokenPot) -> str:
    """'2 × 20, 4 wire', or nothing."""
    if row.drain is None:
        return ""
    drain = "none" if row.drain == 0 else f"{row.drain}" + (f" × {row.across_mm:.0f}" if row.across_mm else "")
    return drain + (f", {row.ties} wire" if row.ties else "")


def look_words(row: SpokenPot) -> str:
    """'oval, blue, glazed', as far as it was told."""
    return ", ".join(w for w in (row.outline, row.colour_is, row.finish) if w)


def price_words(row: SpokenPot) -> str:
    """'45 EUR', or nothing."""
    return "" if row.price is None else f"{row.price:g} {row.currency or ''}".strip()


def status_of(row: SpokenPot) -> str:
    """How well a row is understood: fits, watch where something is in doubt, unknown where no pot can be made of it yet."""
    return "unknown" if not whole(row) else "watch" if row.doubts else "fits"


@dataclass
class BroughtList:
    """The list in hand. An edit is read by the same words as the list itself."""

    table: SpokenTable
    known: Mapping[str, Pot]
    units: Units = field(default_factory=Units)
    unit: str | None = None
    edits: dict[int, dict[str, str]] = field(default_factory=dict)
    # whether rows called as pots that are here change those; None until somebody says so
    change: bool | None = None
    _read: dict[str | None, SpokenPots] = field(default_factory=dict, repr=False)

    def plainly(self, unit: str | None) -> SpokenPots:
        """The list as it is read in a unit, before anything is mended."""
        if unit not in self._read:
            self._read[unit] = spoken_pots(self.table, unit)
        return self._read[unit]

    def read(self) -> SpokenPots:
        """Every row with what was mended in it."""
        found = self.plainly(self.unit)
        return replace(found, rows=tuple(self._mended(row) for row in found.rows))

    def came_as(self, line: int) -> str:
        """A row as it stands in the file."""
        return "; ".join(c for c in self._cells.get(line, ()) if c)

    @once
    def _cells(self) -> dict[int, tuple[str, ...]]:
        return dict(self.table.rows)

    def mend(self, line: int, name: str, text: str) -> None:
        """Put other words in the place of a row's own."""
        self.edits.setdefault(line, {})[name] = text

    def imported(self) -> Imported:
        """What will be taken, and a sentence for each row that will not."""
        return imported(self.table, self.read(), self.known, change=self.changes)

    @once
    def same_named(self) -> int:
        """How many rows are called as pots that are here already."""
        names = {p.name for p in self.known.values()}
        return sum(row.name in names for row in self.plainly(None).rows)

    @property
    def changes(self) -> bool:
        """Whether such rows change those pots: as it was said, else where most of the list is here already, so that it is the list again."""
        if self.change is not None:
            return self.change
        return 2 * self.same_named > len(self.plainly(None).rows)

    def to_do(self, coming: Imported | None = None) -> tuple[int, int]:
        """(pots that come in, pots that are here and change), of what will be taken."""
        pots = (coming or self.imported()).pots
        changed = sum(p.id in self.known for p in pots)
        return len(pots) - changed, changed

    def asks_unit(self) -> bool:
        """Whether the list has figures without a unit."""
        return bool(self.plainly(None).questions)

    def example(self, unit: str) -> str:
        """What the first row with bare figures would be in a unit; the first rows are enough to tell."""
        few = replace(self.table, rows=self.table.rows[:LOOKED_AT])
        read, other = (spoken_pots(few, u).rows for u in (unit, "mm" if unit != "mm" else "cm"))
        told = [
            (size_words(r, self.units), size_words(o, self.units)) for r, o in zip(read, other, strict=True) if whole(r)
        ]
        return next((r for r, o in told if r != o), told[0][0] if told else "")

    def drawn(self, row: SpokenPot) -> Pot | None:
        """The pot of a whole row."""
        try:
            return pot_of(row, "?") if whole(row) else None
        except ValueError:
            return None

    def head(self) -> str:
        """'35 pots read; 31 understood, 4 to look at'."""
        rows = self.read().rows
        sure = sum(1 for r in rows if status_of(r) == "fits")
        return f"{counted(len(rows), 'pot')} read; {sure} understood" + (
            f", {len(rows) - sure} to look at" if sure < len(rows) else ""
        )

    def _mended(self, row: SpokenPot) -> SpokenPot:
        told = self.edits.get(row.line)
        if not told:
            return row
        one = replace(row, doubts=list(row.doubts))
        if told.get("name", "").strip():
            one.name = told["name"].strip()
        if "sizes" in told:
            sizes = sizes_of(told["sizes"].replace("…", " "), self.units.length, one.outline or "")
            one.length_mm, one.width_mm, one.height_mm = (sizes.mm.get(name) for name in SIZES)
            missing = [name.removesuffix("_mm") for name in SIZES if sizes.mm.get(name) is None]
            one.doubts = sizes.doubts or ([f"{' and '.join(missing)} missing"] if missing else [])
            one.outline = "round" if sizes.round else one.outline
        if "holes" in told:
            holes = holes_of(told["holes"])
            one.drain, one.ties, one.across_mm, one.tie_mm = holes.drain, holes.ties, holes.across_mm, holes.tie_mm
            one.doubts = [d for d in one.doubts if not d.startswith("holes")] + holes.doubts
        if "look" in told:
            look = look_of(told["look"], slips=(told["look"],))
            one.outline, one.finish, one.colour, one.colour_is = look.outline, look.finish, look.colour, look.colour_is
            one.doubts = [d for d in one.doubts if "is taken for" not in d] + look.doubts
        if "price" in told:
            one.price, one.currency, doubt = price_of(told["price"])
            one.doubts = [d for d in one.doubts if not d.startswith("price")] + ([doubt] if doubt else [])
        return one
