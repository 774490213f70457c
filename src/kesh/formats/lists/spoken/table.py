"""Rows of a list of unknown making: its separator, a title above it, where its heads stand, and what each column holds."""

import re
from collections.abc import Callable
from dataclasses import dataclass
from difflib import get_close_matches

from kesh.base.errors import BundleError
from kesh.formats.lists.spoken.vocabulary import bare, meanings, said, tidy
from kesh.formats.lists.table import rows_of

# heads stand in one of so many first lines
LOOKED_THROUGH = 12
# words beside the one that counts: 'outer length' is a length, 'foot height' and 'inner length' are something else
BESIDE = frozenset(
    (
        "in",
        "of",
        "the",
        "pot",
        "outer",
        "outside",
        "overall",
        "total",
        "max",
        "approx",
        "about",
        "aussen",
        "aussere",
        "gesamt",
        "exterieur",
        "exterior",
        "esterno",
    )
)
# the shortest head for which a slip of the pen is looked for, and how alike the two must be
LONG, SLIP = 6, 0.85


@dataclass(frozen=True)
class Column:
    """What a column holds, the unit and the money that its head names."""

    head: str
    means: str
    unit: str = ""
    currency: str = ""


@dataclass(frozen=True)
class SpokenTable:
    """Columns, rows as (line, cells), and what was lost, as (line, why)."""

    columns: tuple[Column, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]
    lost: tuple[tuple[int, str], ...]

    @property
    def meant(self) -> frozenset[str]:
        """What the columns hold."""
        return frozenset(c.means for c in self.columns)


def column(head: str) -> Column:
    """A head: 'Größe (cm)', 'shape / glaze', 'Länge in mm', 'Preis €'."""
    plain, unit, money = bare(head).replace("_", " "), "", ""
    units, currencies, heads = meanings("unit"), meanings("currency"), meanings("head")
    if plain.rstrip(".") in heads:
        return Column(head.strip(), heads[plain.rstrip(".")])
    short = re.fullmatch(r"([a-z]{3,})\.", plain)
    if short is not None:
        # a word cut short by its point
        full = {heads[w] for w in heads if w.startswith(short[1])}
        if len(full) == 1:
            return Column(head.strip(), full.pop())
    words = re.findall(r"[^\s()\[\],:]+", plain)
    for word in reversed(words[1:] or words):
        if word in units and not unit:
            unit = units[word]
        elif word in currencies and not money:
            money = currencies[word]
    named = [w for w in words if w not in BESIDE and w not in currencies and (units.get(w) != unit or w == words[0])]
    said_so = " ".join(named)
    for part in (said_so, *re.split(r"\s*(?:/|&|\+| und | and | et | y | e )\s*", said_so)):
        if part.strip() in heads:
            return Column(head.strip(), heads[part.strip()], unit, money)
    if words and all(w in currencies for w in words):
        return Column(head.strip(), "price", unit, money)
    # a slip of the pen is looked for in a single long word only: 'points' are no pots, a foot's height is no height
    long = [w for w in heads if len(w) >= LONG]
    slip = get_close_matches(said_so, long, 1, SLIP) if len(named) == 1 and len(said_so) >= LONG else []
    return Column(head.strip(), heads[slip[0]] if slip else "", unit, money)


def _like_sizes(cell: str) -> bool:
    plain = tidy(cell)
    return len(re.findall(r"\d+(?:[.,]\d+)?", plain)) >= 2 and re.search(r"\d ?x|x ?\d|ø|\"|\d/\d", plain) is not None


def _like_money(cell: str) -> bool:
    return re.search(r"[€$£¥]|\b(?:eur|usd|gbp|chf|yen)\b", tidy(cell)) is not None


def _like_figure(cell: str) -> bool:
    return re.fullmatch(r"\d+(?:[.,]\d+)?\s*(?:cm|mm|in|\")?", tidy(cell)) is not None


def _like_look(cell: str) -> bool:
    return any(said(cell, kind) for kind in ("outline", "finish", "colour"))


def _guessed(rows: list[tuple[int, list[str]]]) -> tuple[Column, ...]:
    """Columns of a list without heads, by what stands in them."""
    found: list[Column] = []
    for k in range(max(len(cells) for _, cells in rows)):
        cells = [c[k] for _, c in rows if k < len(c) and c[k].strip()]
        taken = {c.means for c in found}
        if _share(cells, _like_sizes) > 0.5 and "size" not in taken:
            # a name with the sizes behind it is a name
            named = (
                _share(cells, lambda c: re.match(r"[^\W\d_]{3}", c.strip()) is not None) > 0.5 and "name" not in taken
            )
            means = "name" if named else "size"
        elif _share(cells, _like_money) > 0.5:
            means = "price"
        elif _share(cells, _like_figure) > 0.7:
            order = ("holes", "price") if "size" in taken else ("length_mm", "width_mm", "height_mm", "holes", "price")
            means = next((m for m in order if m not in taken), "notes")
        elif "name" not in taken:
            means = "name"
        else:
            means = "look" if _share(cells, _like_look) > 0.3 else "notes"
        found.append(Column("", means))
    return tuple(found)


def _share(cells: list[str], good: Callable[[str], bool]) -> float:
    return sum(map(good, cells)) / max(len(cells), 1)


def table_of_text(text: str, name: str) -> SpokenTable:
    """The list in a text, from a file or the clipboard. Raises BundleError for an empty one."""
    rows, lost = rows_of(text)
    filled = [(line, cells) for line, cells in rows if any(c.strip() for c in cells)]
    if not filled:
        raise BundleError(f"{name} is empty; it should hold a row for each pot")
    best, heads = -1, 0
    for n, (_, cells) in enumerate(filled[:LOOKED_THROUGH]):
        known = sum(1 for c in cells if c.strip() and column(c).means)
        digits = sum(1 for c in cells if re.match(r"\s*[-øØ€$£¥]?\s*\d", c) and not column(c).means)
        if known > heads and digits == 0 and (known >= 2 or (known == 1 and len(cells) == 1)):
            best, heads = n, known
    if best < 0:
        columns, data = _guessed(filled), filled
    else:
        columns, data = tuple(column(c) for c in filled[best][1]), filled[best + 1 :]
    return SpokenTable(columns, tuple((line, tuple(c.strip() for c in cells)) for line, cells in data), tuple(lost))
