"""What reading a list gives: which column was taken for what, and what became of every row."""

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from itertools import count

from kesh.formats.lists.spoken.table import SpokenTable
from kesh.formats.lists.table import Header
from kesh.model import Pot, Tree


@dataclass(frozen=True)
class Understood:
    """Columns by the field they were taken for, and those that were not understood."""

    fields: Mapping[str, Header]
    left: tuple[Header, ...]

    def lines(self) -> tuple[tuple[str, str], ...]:
        """(the file's word, what it was taken for) for every column."""
        taken = [(h.words, f"{_plain(f)}{_unit(f, h)}") for f, h in self.fields.items()]
        return (*taken, *((h.words, "not used") for h in self.left if h.words))


def _plain(field: str) -> str:
    return field.removesuffix("_mm").removesuffix("_kg").removesuffix("_l").replace("_", " ")


def _unit(field: str, header: Header) -> str:
    usual = "mm" if field.endswith("_mm") else "kg" if field.endswith("_kg") else "l" if field.endswith("_l") else ""
    return f", {header.unit or usual}" if usual else ""


@dataclass(frozen=True)
class RowRead:
    """One row: the record it became, or None with why not; `told` may also say what is odd in a record that was taken."""

    line: int
    record: Pot | Tree | None
    told: str = ""


@dataclass(frozen=True)
class Imported:
    """What a list gave, row by row in the file's order."""

    rows: tuple[RowRead, ...]
    understood: Understood
    # the same list in the words it was written in, where it is one of pots: its cells can be mended before it is taken
    table: SpokenTable | None = None

    @property
    def pots(self) -> tuple[Pot, ...]:
        """The pots that came in."""
        return tuple(r.record for r in self.rows if isinstance(r.record, Pot))

    @property
    def trees(self) -> tuple[Tree, ...]:
        """The trees that came in."""
        return tuple(r.record for r in self.rows if isinstance(r.record, Tree))

    @property
    def problems(self) -> tuple[str, ...]:
        """A sentence for each row that was left out."""
        return tuple(f"line {r.line}: {r.told}" for r in self.rows if r.record is None)

    @property
    def odd(self) -> tuple[str, ...]:
        """A sentence for each row that came in and wants a look."""
        return tuple(f"line {r.line}: {r.told}" for r in self.rows if r.record is not None and r.told)


def key_for(name: str, taken: Collection[str]) -> str:
    """A key of its own for a row that brings none, by its name."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60] or "row"
    return next(key for n in count(1) if (key := stem if n == 1 else f"{stem}-{n}") not in taken)


def matched(headers: Sequence[Header], names: Mapping[str, tuple[str, ...]]) -> Understood:
    """Headers matched to fields: by the field's own name first, then by the words people use for it."""
    fields: dict[str, Header] = {}
    plain = {h.plain: h for h in reversed(headers) if h.plain}
    for field in names:
        own = _plain(field)
        for said in (field.replace("_", " "), own):
            if said in plain and field not in fields:
                fields[field] = plain[said]
    used = {h.plain for h in fields.values()}
    for field, words in names.items():
        if field in fields:
            continue
        hit = next((w for w in words if w in plain and w not in used), None)
        if hit is not None:
            fields[field] = plain[hit]
            used.add(hit)
    return Understood(fields, tuple(h for h in headers if h.plain not in used))
