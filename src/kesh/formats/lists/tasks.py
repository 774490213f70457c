"""Tasks as a list that any table program reads: one row a task, days as they are written everywhere."""

import csv
import io
import re
from collections.abc import Iterable

from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of
from kesh.advice.season.supplies import Supply

HEADS = ("tree", "name", "kind", "from", "to", "day", "state", "text", "sign", "why", "school", "minutes", "id")


def tasks_csv(book: Book) -> str:
    """All tasks, open and closed, in the order of their days. A text that begins like a formula is quoted as text."""
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(HEADS)
    for t in book.tasks:
        table.writerow([
            t.tree, safe(book.c.trees[t.tree].name), kind_of(t.kind).words, _day(t.from_), _day(t.to), _day(t.day), book.state(t),
            safe(t.text), safe(t.sign), safe(t.why), safe(t.school), "" if t.minutes is None else f"{t.minutes:g}", t.id,
        ])  # fmt: skip
    return out.getvalue()


def _day(day: object) -> str:
    return "" if day is None else str(day)


def safe(text: str) -> str:
    """A table program runs what begins with these signs; a blank before them keeps it a text. What ends a text is left out.

    A figure keeps its minus.
    """
    plain = "".join(sign for sign in text if sign >= " " or sign in "\n\t")
    if plain[:1] == "-" and re.fullmatch(r"-?[\d.]+(?:[eE][-+]?\d+)?(?:[ ;].*)?", plain):
        return plain
    return f" {plain}" if plain[:1] in ("=", "+", "-", "@", "\t") else plain


def orders_csv(rows: Iterable[Supply], book: Book) -> str:
    """What has to be got, the shortest first: need, what there is, what is missing, and for which trees."""
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(("item", "unit", "need", "have", "missing", "trees", "key"))
    for s in rows:
        names = ", ".join(safe(book.c.trees[t].name) for t in s.trees if t in book.c.trees)
        have = "" if s.have is None else f"{s.have:.3g}"
        table.writerow(
            [safe(s.words), s.unit, f"{s.need:.3g}", have, f"{s.need if s.have is None else s.short:.3g}", names, s.key]
        )
    return out.getvalue()
