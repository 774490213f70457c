"""A list of pots in anybody's words: every row with what was understood of it and every doubt; nothing is dropped in silence."""

import re
from collections import Counter
from dataclasses import dataclass, field
from typing import Any

from kesh.base.units import MM
from kesh.base.words import counted
from kesh.formats.lists.spoken.cells import Look, holes_of, look_of, price_of
from kesh.formats.lists.spoken.figures import SIZES, Sizes, sizes_of
from kesh.formats.lists.spoken.table import SpokenTable
from kesh.formats.lists.spoken.vocabulary import bare, meanings, quoted

# outlines of which one side tells the other
EVEN = ("round", "hexagon", "octagon")
# no pot for a tree is smaller or larger; a slip of the unit is
LEAST_MM, MOST_MM = 15.0, 2500.0
# middle of bare figures by which a unit is guessed where none is named [J]
BELOW_CM, ABOVE_MM = 100.0, 120.0


@dataclass
class SpokenPot:
    """One row; None is what nobody said."""

    line: int
    name: str
    length_mm: float | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    outline: str | None = None
    finish: str | None = None
    colour: str | None = None
    colour_is: str | None = None
    drain: int | None = None
    ties: int | None = None
    across_mm: float | None = None
    tie_mm: float | None = None
    price: float | None = None
    currency: str | None = None
    source: str = ""
    notes: str = ""
    doubts: list[str] = field(default_factory=list)

    def as_json(self) -> dict[str, Any]:
        """For the line: what was said and every doubt."""
        kept = {k: v for k, v in vars(self).items() if v not in (None, "", []) and k not in ("across_mm", "tie_mm")}
        return kept | {k: getattr(self, k) for k in SIZES} | {"doubts": self.doubts}


@dataclass(frozen=True)
class SpokenPots:
    """All rows, the lines of which nothing can be made with why, and what has to be asked once for the list."""

    rows: tuple[SpokenPot, ...]
    refused: tuple[tuple[int, str], ...]
    questions: tuple[str, ...]
    unit: str


def is_pots(table: SpokenTable) -> bool:
    """Whether a list has sizes of pots in one column or in three, and no sign of being of trees."""
    meant = table.meant
    sizes = (
        "size" in meant
        or "diameter_mm" in meant
        or {"length_mm", "width_mm"} <= meant
        or {"length_mm", "height_mm"} <= meant
    )
    if sizes or ("holes" in meant and meant & {"look", "name"}):
        return True
    # sizes may stand behind the names
    named = [sizes_of(c, "cm") for _, cells in table.rows[:40] for c, _ in _cells(table, cells, "name")]
    return 2 * sum(1 for s in named if len(s.mm) == len(SIZES)) > len(named)


def _cells(table: SpokenTable, cells: tuple[str, ...], means: str) -> list[tuple[str, str]]:
    """(cell, unit of its head) for every column of a kind that says something."""
    return [
        (c, col.unit) for col, c in zip(table.columns, cells, strict=False) if col.means == means and c.strip(" -?")
    ]


def _unit_of(table: SpokenTable, unit: str | None) -> tuple[str, tuple[str, ...]]:
    """(unit for bare figures, questions): as told, else by how large they are, and then it is asked."""
    if unit is not None:
        return unit, ()
    told = [
        sizes_of(c, "mm")
        for _, cells in table.rows
        for m in ("size", "length_mm", "diameter_mm")
        for c, own in _cells(table, cells, m)
        if not own
    ]
    bare = sorted(max(s.mm.values()) for s in told if s.bare_unit and s.mm)
    named = Counter(s.unit for s in told if s.unit)
    if not bare:
        return "cm", ()
    middle = bare[len(bare) // 2]
    # who names a unit in other rows means it in these too
    guess = named.most_common(1)[0][0] if named else "mm" if middle > ABOVE_MM else "cm"
    rows = f"{counted(len(bare), 'row')} {'has' if len(bare) == 1 else 'have'} sizes without a unit"
    return guess, (f"{rows}, the middle one {middle:g}: {guess} is taken. Are they mm, cm or inches?",)


def _sizes(table: SpokenTable, cells: tuple[str, ...], unit: str, hint: str) -> Sizes:
    found = Sizes()
    for cell, own in _cells(table, cells, "size"):
        found = sizes_of(cell, own or unit, f"{hint} {cell}")
    for means in ("diameter_mm", *SIZES):
        for cell, own in _cells(table, cells, means):
            one = sizes_of(cell, own or unit)
            value = next(iter(one.mm.values()), None)
            if value is None or cell.lstrip().startswith("-"):
                found.doubts.append(f"{means.removesuffix('_mm')} {quoted(cell)} is no figure")
            elif len(one.mm) > 1 and means == "length_mm" and not found.mm:
                # all sizes stand in the column of the length
                found = sizes_of(cell, own or unit, hint)
            elif means == "diameter_mm":
                found.mm |= {"length_mm": value, "width_mm": value}
                found.round = True
            else:
                found.mm[means] = value
            found.bare_unit = found.bare_unit or (one.bare_unit and not own)
    return found


def _name(table: SpokenTable, line: int, cells: tuple[str, ...]) -> str:
    for means in ("name", "look", "notes", "id"):
        told = [" ".join(c.split()) for c, _ in _cells(table, cells, means)]
        # a number in front is a label, the words behind it the name
        named = next((n for n in told if re.search(r"[^\W\d_]", n)), told[0] if told else "")
        if named:
            return named if means == "name" else named[:60]
    return f"Pot of line {line}"


def _doubtful_sizes(pot: SpokenPot) -> None:
    told = {name: getattr(pot, name) for name in SIZES if getattr(pot, name) is not None}
    missing = [name.removesuffix("_mm") for name in SIZES if name not in told]
    if missing and not any("missing" in d or "one figure" in d for d in pot.doubts):
        pot.doubts.append(f"{' and '.join(missing)} {'is' if len(missing) == 1 else 'are'} missing")
    for name, mm in told.items():
        if not LEAST_MM <= mm <= MOST_MM:
            pot.doubts.append(f"{name.removesuffix('_mm')} of {mm:g} mm: is the unit right?")
    if (
        pot.outline == "round"
        and pot.length_mm
        and pot.width_mm
        and abs(pot.length_mm - pot.width_mm) > 0.01 * pot.length_mm
    ):
        pot.doubts.append("a round pot with two widths: it is taken as an oval")
        pot.outline = "oval"


def _sized(table: SpokenTable, cells: tuple[str, ...], unit: str, guessed: bool, pot: SpokenPot, words: str) -> Sizes:
    """The sizes of a row, and its name without them where they stand behind it: 'Oval 30 x 22 x 8 cm'."""
    sizes = _sizes(table, cells, unit, words)
    if not sizes.mm and not _cells(table, cells, "size"):
        beside = sizes_of(pot.name, unit, words)
        if len(beside.mm) == len(SIZES) or (len(beside.mm) == 2 and not beside.bare_unit and not beside.doubts):
            sizes = beside
            alone = re.split(r"\s*(?:\d|ø|\bdia\b)", pot.name, maxsplit=1, flags=re.IGNORECASE)[0].strip(" ,;:-")
            pot.name = alone or pot.name
    if sizes.bare_unit and unit == "mm" and guessed and 0 < max(sizes.mm.values(), default=0.0) < BELOW_CM:
        sizes.mm = {name: 10 * mm for name, mm in sizes.mm.items()}
        sizes.ranges = {name: (10 * low, 10 * most) for name, (low, most) in sizes.ranges.items()}
        sizes.doubts.append("bare figures smaller than those of the other rows: taken as cm")
    return sizes


def _looked(table: SpokenTable, pot: SpokenPot, looks: list[str], notes: list[str]) -> Look:
    """What a row tells of outline, finish and colour: its own columns, then its name."""
    look = look_of(*looks, pot.name, slips=tuple(looks))
    if "look" in table.meant or not notes:
        return look
    # a remark is asked only where no column tells of the look, and then it is said: it may speak of the shelf
    beside = look_of(*notes)
    for name in ("outline", "finish", "colour"):
        if getattr(look, name) is None and getattr(beside, name) is not None:
            setattr(look, name, getattr(beside, name))
            look.doubts.append(f"{name} is read from the remark")
    look.colour_is = look.colour_is or beside.colour_is
    return look


def _row(table: SpokenTable, line: int, cells: tuple[str, ...], unit: str, guessed: bool) -> SpokenPot:
    def told(means: str) -> list[str]:
        return [c for c, _ in _cells(table, cells, means)]

    pot = SpokenPot(line, _name(table, line, cells))
    looks, notes = told("look"), told("notes")
    sizes = _sized(table, cells, unit, guessed, pot, " ".join([*looks, pot.name]))
    pot.length_mm, pot.width_mm, pot.height_mm = (sizes.mm.get(name) for name in SIZES)
    look = _looked(table, pot, looks, notes)
    beside = look_of(re.sub(r"\d.*", "", " ".join(told("size")))).outline
    pot.outline = look.outline or ("round" if sizes.round else beside)
    if pot.outline in EVEN and (pot.length_mm is None) != (pot.width_mm is None):
        pot.length_mm = pot.width_mm = pot.length_mm or pot.width_mm
    pot.finish, pot.colour, pot.colour_is = look.finish, look.colour, look.colour_is
    holes = holes_of(next(iter(told("holes")), ""))
    pot.drain, pot.ties, pot.across_mm, pot.tie_mm = holes.drain, holes.ties, holes.across_mm, holes.tie_mm
    pot.doubts += [*sizes.doubts, *look.doubts, *holes.doubts]
    for col, cell in zip(table.columns, cells, strict=False):
        if col.means == "price" and cell:
            pot.price, code, doubt = price_of(cell)
            pot.currency = code or (col.currency or None if pot.price is not None else None)
            pot.doubts += [doubt] if doubt else []
    pot.source = "; ".join(told("source"))
    spans = [
        f"{name.removesuffix('_mm')} {low:g} to {most:g} mm, the middle taken"
        for name, (low, most) in sizes.ranges.items()
    ]
    other = [
        f"{col.head}: {c}" for col, c in zip(table.columns, cells, strict=False) if c and not col.means and col.head
    ]
    pot.notes = "; ".join([*notes, *spans, *(f"stands: {place}" for place in told("place")), *other])
    spare = [c for c in cells[len(table.columns) :] if c.strip()]
    if spare:
        pot.doubts.append(f"more cells than columns: {quoted(', '.join(spare))}")
    _doubtful_sizes(pot)
    return pot


def _nothing(cells: tuple[str, ...]) -> str:
    """Why a line is no pot at all, or an empty text."""
    filled = [c for c in cells if c.strip()]
    if all(re.fullmatch(r"[\s\-=_.*·•#]*", c) for c in filled):
        return "a line between rows, no pot"
    first = bare(filled[0]).strip(" :=")
    if first in meanings("total"):
        return "a sum, no pot"
    return ""


def spoken_pots(table: SpokenTable, unit: str | None = None) -> SpokenPots:
    """Every row of a list. `unit` is that of bare figures: mm, cm or in."""
    assert unit is None or unit in MM
    taken_unit, questions = _unit_of(table, unit)
    rows: list[SpokenPot] = []
    refused = list(table.lost)
    names: dict[str, int] = {}
    for line, cells in table.rows:
        why = _nothing(cells)
        if why:
            refused.append((line, why))
            continue
        pot = _row(table, line, cells, taken_unit, unit is None)
        said, n = pot.name, names.get(pot.name, 0) + 1
        while n > 1 and f"{said} ({n})" in names:
            n += 1
        names[said] = n
        if n > 1:
            pot.name = f"{said} ({n})"
            names[pot.name] = 1
        rows.append(pot)
    return SpokenPots(tuple(rows), tuple(sorted(refused)), questions, taken_unit)
