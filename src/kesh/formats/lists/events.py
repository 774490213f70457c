"""The log as a list: out with every figure, in with a sentence for each row that cannot be read."""

import csv
import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from kesh.errors import BundleError, KeshError
from kesh.formats.lists.tasks import safe
from kesh.model import EVENT_KINDS, Collection, Event
from kesh.progress import Progress
from kesh.writing import reason, shown

MOST_BYTES = 32 * 1024 * 1024
HEADS = ("tree", "date", "kind", "text", "pot", "minutes", "cost", "strain", "figures", "planned", "id")
# heads as others write them
ALSO: Mapping[str, tuple[str, ...]] = {
    "tree": ("tree", "name", "plant"), "date": ("date", "day", "when"), "kind": ("kind", "what", "type", "event", "work"),
    "text": ("text", "note", "notes", "words", "remark"), "pot": ("pot", "container"), "minutes": ("minutes", "min", "time"),
    "cost": ("cost", "price"), "strain": ("strain",), "figures": ("figures",), "planned": ("planned",), "id": ("id",),
}  # fmt: skip
KIND_WORDS = {
    "repot": "repotted", "repotting": "repotted", "potted": "repotted", "prune": "pruned", "cut": "pruned", "pruning": "pruned", "wire": "wired",
    "wiring": "wired", "feed": "fed", "feeding": "fed", "fertilised": "fed", "fertilized": "fed", "look": "seen", "measure": "measured",
    "defoliation": "defoliated", "defoliate": "defoliated", "pest": "ailing", "pests": "ailing", "ill": "ailing", "root work": "root_work",
}  # fmt: skip


@dataclass(frozen=True)
class BroughtEvents:
    """Entries that came in, and a sentence for each row that did not."""

    events: tuple[Event, ...]
    problems: tuple[str, ...]


def events_csv(c: Collection) -> str:
    """Every entry of every tree, the oldest first."""
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(HEADS)
    for e in sorted(c.events, key=lambda e: (e.date, e.tree, e.id)):
        table.writerow([
            e.tree, e.date.isoformat(), e.kind, safe(e.text), e.pot or "", _plain(e.minutes), _plain(e.cost), _plain(e.strain), _pairs(e.figures), _pairs(e.planned), e.id,
        ])  # fmt: skip
    return out.getvalue()


def _plain(value: float | None) -> str:
    return "" if value is None else f"{value:.10g}"


def _pairs(rows: Iterable[tuple[str, float]]) -> str:
    return "; ".join(f"{k}={v:.10g}" for k, v in rows)


def read_text(path: Path) -> str:
    """The text of a list. Raises BundleError where it cannot be read."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise BundleError(f"{shown(path)} is larger than {MOST_BYTES // 2**20} MB; split it into parts")
        return path.read_bytes().decode("utf-8-sig")
    except UnicodeDecodeError:
        return path.read_bytes().decode("cp1252", errors="replace")
    except OSError as err:
        raise BundleError(f"{shown(path)} cannot be read: {reason(err)}") from err


def first_line(path: Path) -> list[str]:
    """The heads of a list; none where there is nothing to read."""
    try:
        with path.open("rb") as file:
            line = file.readline(100_000).decode("utf-8-sig", errors="replace").strip()
    except OSError:
        return []
    return next(csv.reader([line], delimiter=max(",;\t", key=line.count)), []) if line else []


def is_log(heads: Iterable[str]) -> bool:
    """Whether a table's heads are those of a log: a tree, a day, and what was done."""
    found = columns_of(heads)
    return {"tree", "date", "kind"} <= set(found)


def columns_of(heads: Iterable[str]) -> dict[str, int]:
    """Which column is what."""
    plain = [h.strip().lower().replace("_", " ") for h in heads]
    found: dict[str, int] = {}
    for key, names in ALSO.items():
        at = next((plain.index(n) for n in names if n in plain), None)
        if at is not None and at not in found.values():
            found[key] = at
    return found


def read_events(text: str, c: Collection, progress: Progress | None = None) -> BroughtEvents:
    """Entries from a list. Trees are found by id or name; an entry that is there already is not doubled."""
    lines = text.lstrip("\ufeff").splitlines()
    if not lines:
        return BroughtEvents((), ("the list is empty",))
    sign = max(",;\t", key=lines[0].count)
    rows = list(csv.reader(lines, delimiter=sign))
    columns = columns_of(rows[0])
    trees = {t.id.lower(): t.id for t in c.trees.values()} | {t.name.strip().lower(): t.id for t in c.trees.values()}
    pots = {p.id.lower(): p.id for p in c.pots.values()} | {p.name.strip().lower(): p.id for p in c.pots.values()}
    have = {(e.tree, e.date, e.kind, e.text.strip()) for e in c.events}
    ids = {e.id for e in c.events}
    found: list[Event] = []
    problems: list[str] = []
    for n, row in enumerate(rows[1:], 2):
        if progress is not None and n % 50 == 0:
            progress.at(n / len(rows))
        if not any(cell.strip() for cell in row):
            continue
        try:
            event = _event(row, columns, trees, pots, ids)
        except (KeshError, ValueError) as err:
            problems.append(f"row {n}: {' '.join(str(err).split())}")
            continue
        key = (event.tree, event.date, event.kind, event.text.strip())
        if key not in have:
            have.add(key)
            ids.add(event.id)
            found.append(event)
    return BroughtEvents(tuple(found), tuple(problems))


def _event(
    row: list[str], at: Mapping[str, int], trees: Mapping[str, str], pots: Mapping[str, str], ids: set[str]
) -> Event:
    def cell(key: str) -> str:
        return row[at[key]].strip() if key in at and at[key] < len(row) else ""

    tree = trees.get(cell("tree").lower())
    if tree is None:
        raise ValueError(f"there is no tree '{cell('tree')}'")
    plain = cell("kind").lower()
    kind = KIND_WORDS.get(plain, plain.replace(" ", "_"))
    if kind not in EVENT_KINDS:
        raise ValueError(f"'{cell('kind')}' is no kind of entry; known are {', '.join(EVENT_KINDS)}")
    key, n = cell("id"), len(ids) + 1
    if not key or key in ids:
        while f"list-{tree}-{n}" in ids:
            n += 1
        key = f"list-{tree}-{n}"
    return Event.made(
        id=key, tree=tree, date=_day(cell("date")), kind=kind, text=cell("text"), pot=pots.get(cell("pot").lower()), minutes=_number(cell("minutes"), "minutes"),
        cost=_number(cell("cost"), "cost"), strain=_number(cell("strain"), "strain"), figures=_figures(cell("figures")), planned=_figures(cell("planned")),
    )  # fmt: skip


def _day(text: str) -> date:
    for sign in ("-", "/", "."):
        parts = text.split(sign)
        if len(parts) == 3 and all(p.strip().isdigit() for p in parts):
            a, b, c = (int(p) for p in parts)
            if a > 31:
                return date(a, b, c)
            if (c > 31 and sign == ".") or (c > 31 and a > 12):
                # a point between them, or a day over twelve, leaves no doubt which is the month
                return date(c, b, a)
            if c > 31:
                raise ValueError(f"'{text}' can be two days; write it as {c}-{a:02d}-{b:02d} or {c}-{b:02d}-{a:02d}")
    raise ValueError(f"'{text}' is no day; write it as 2025-03-17")


def _number(text: str, name: str) -> float | None:
    if not text:
        return None
    try:
        return float(text.replace(",", "."))
    except ValueError as err:
        raise ValueError(f"{name} '{text}' is no number") from err


def _figures(text: str) -> tuple[tuple[str, float], ...]:
    found = []
    for part in text.split(";"):
        key, sign, value = part.partition("=")
        if sign:
            number = _number(value.strip(), key.strip())
            if number is not None:
                found.append((key.strip(), number))
    return tuple(found)
