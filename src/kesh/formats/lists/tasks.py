"""Tasks as a list that any table program reads: one row a task, days as they are written everywhere."""

import csv
import io

from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of

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
    """A table program runs what begins with these signs; a blank before them keeps it a text."""
    return f" {text}" if text[:1] in ("=", "+", "-", "@", "\t") else text
