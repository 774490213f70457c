"""The log as a list: out with every figure, in with a sentence for each row that cannot be read."""

import csv
import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from pathlib import Path

from kesh.base.days import day_of
from kesh.base.errors import BundleError, KeshError
from kesh.base.progress import Progress
from kesh.base.words import folded
from kesh.base.writing import shown
from kesh.formats.lists.table import Table, decoded, table_of
from kesh.formats.lists.tasks import safe
from kesh.model import EVENT_KINDS, Collection, Event, Tree

HEAD_BYTES = 65_536
HEADS = ("tree", "date", "kind", "text", "pot", "minutes", "cost", "strain", "figures", "planned", "id")
# heads as others write them
ALSO: Mapping[str, tuple[str, ...]] = {
    "tree": ("tree", "name", "plant", "baum", "arbre", "arbol", "albero", "arvore", "pianta", "plante"),
    "date": ("date", "day", "when", "datum", "tag", "wann", "jour", "fecha", "dia", "data", "giorno"),
    # 'Art' and 'tipo' head the species of a list of trees as well
    "kind": ("kind", "what", "type", "event", "work", "was", "arbeit", "massnahme", "quoi", "travail", "trabajo", "lavoro"),
    "text": ("text", "note", "notes", "words", "remark", "remarks", "notiz", "notizen", "bemerkung", "remarque", "nota", "notas", "osservazioni"),
    "pot": ("pot", "container", "schale", "topf", "maceta", "vaso"), "minutes": ("minutes", "min", "time", "minuten", "dauer", "minutos", "minuti"),
    "cost": ("cost", "price", "kosten", "preis", "cout", "prix", "costo", "coste", "prezzo"), "strain": ("strain",), "figures": ("figures",),
    "planned": ("planned",), "id": ("id",),
}  # fmt: skip
KIND_WORDS: Mapping[str, tuple[str, ...]] = {
    "repotted": (
        "repot", "repotting", "potted", "potted up", "umgetopft", "umtopfen", "eingetopft", "rempote", "rempotage", "rempoter", "trasplantado", "trasplante", "transplantado",
        "rinvasato", "rinvaso",
    ),
    "pruned": ("prune", "cut", "cut back", "pruning", "trimmed", "pinched", "geschnitten", "schneiden", "schnitt", "pinziert", "taille", "tailler", "podado", "poda", "potato", "potatura"),
    "wired": ("wire", "wiring", "gedrahtet", "drahten", "drahtung", "ligature", "ligaturer", "alambrado", "alambrar", "filo applicato", "filatura"),
    "fed": (
        "feed", "feeding", "fertilised", "fertilized", "fertiliser", "gedungt", "dungen", "dunger", "engrais", "fertilise", "abonado", "abono", "concimato", "concimazione",
    ),
    "seen": ("look", "looked at", "gesehen", "beobachtet", "vu", "observe", "visto", "observado", "osservato"),
    "measured": ("measure", "gemessen", "messen", "mesure", "medido", "misurato"),
    "defoliated": ("defoliation", "defoliate", "entlaubt", "blattschnitt", "defeuille", "defoliation complete", "defoliado", "defogliato"),
    "ailing": ("pest", "pests", "ill", "sick", "aphids", "krank", "schadlinge", "lause", "malade", "parasites", "enfermo", "plaga", "malato", "parassiti"),
    "root_work": ("root work", "root pruning", "roots cut", "wurzelschnitt", "wurzelarbeit", "racines", "raices", "radici"),
    "flowered": ("flower", "flowers", "in bloom", "gebluht", "blute", "floraison", "fleuri", "florecido", "fiorito"),
    "moved": ("move", "brought in", "taken out", "umgestellt", "deplace", "movido", "spostato"),
    "note": ("notes", "other", "notiz", "remarque", "nota"),
}  # fmt: skip
_KINDS = {said: kind for kind, words in KIND_WORDS.items() for said in words} | {kind: kind for kind in EVENT_KINDS}


@dataclass(frozen=True)
class BroughtEvents:
    """Entries that came in, a sentence for each row that did not, and by entry what was not understood of it."""

    events: tuple[Event, ...]
    problems: tuple[str, ...]
    doubts: Mapping[str, str] = field(default_factory=dict)


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


def is_log(path: Path) -> bool:
    """Whether a list is a log, by the heads in its first lines: a tree, a day, and what was done."""
    try:
        with path.open("rb") as file:
            body = file.read(HEAD_BYTES)
        return {"tree", "date", "kind"} <= set(columns_of(table_of(decoded(body, shown(path)), shown(path))))
    except (OSError, BundleError):
        return False


def columns_of(table: Table) -> dict[str, str]:
    """The plain head of each thing an entry has."""
    plain = {folded(h.plain): h.plain for h in table.headers}
    found: dict[str, str] = {}
    for key, names in ALSO.items():
        head = next((plain[n] for n in names if n in plain), None)
        if head is not None and head not in found.values():
            found[key] = head
    return found


def kind_of_word(word: str) -> str | None:
    """The kind of entry that somebody's word means; None for a word that is not known."""
    plain = folded(word.strip()).replace("_", " ")
    return _KINDS.get(plain) or _KINDS.get(plain.replace(" ", "_"))


def everybody(table: Table) -> Collection:
    """A collection in which every tree that a list names stands: for a list that is only looked at."""
    head = columns_of(table).get("tree", "")
    names = dict.fromkeys(name for row in table.rows if (name := row.cells.get(head, "").strip()))
    return Collection(name="list", trees={name: Tree(id=name[:200], name=name[:200]) for name in names})


def read_events(table: Table, c: Collection, progress: Progress | None = None) -> BroughtEvents:
    """Entries from a list. Trees are found by id or name; an entry that is there already is not doubled."""
    columns = columns_of(table)
    trees = {t.id.lower(): t.id for t in c.trees.values()} | {t.name.strip().lower(): t.id for t in c.trees.values()}
    pots = {p.id.lower(): p.id for p in c.pots.values()} | {p.name.strip().lower(): p.id for p in c.pots.values()}
    have = {(e.tree, e.date, e.kind, e.text.strip()) for e in c.events}
    ids = {e.id for e in c.events}
    found: list[Event] = []
    doubts: dict[str, str] = {}
    problems = [(line, told) for line, told in table.lost]
    for n, row in enumerate(table.rows):
        if progress is not None and n % 50 == 0:
            progress.at(n / len(table.rows))
        cells = {key: row.cells.get(head, "").strip() for key, head in columns.items()}
        try:
            event = _event(cells, trees, pots, ids)
        except (KeshError, ValueError) as err:
            problems.append((row.line, " ".join(str(err).split())))
            continue
        key = (event.tree, event.date, event.kind, event.text.strip())
        if key not in have:
            have.add(key)
            ids.add(event.id)
            found.append(event)
            if cells.get("kind") and kind_of_word(cells["kind"]) is None:
                doubts[event.id] = (
                    f"row {row.line}: '{cells['kind'][:40]}' is no kind of entry that is known; kept as a note"
                )
    return BroughtEvents(tuple(found), tuple(f"row {line}: {told}" for line, told in sorted(problems)), doubts)


def _event(cells: Mapping[str, str], trees: Mapping[str, str], pots: Mapping[str, str], ids: set[str]) -> Event:
    def cell(key: str) -> str:
        return cells.get(key, "")

    tree = trees.get(cell("tree").lower())
    if tree is None:
        raise ValueError(f"there is no tree '{cell('tree')}'")
    # a word that is not known is kept as a note, in its own words
    known = kind_of_word(cell("kind"))
    kind, text = (known, cell("text")) if known else ("note", ": ".join(filter(None, (cell("kind"), cell("text")))))
    key, n = cell("id"), len(ids) + 1
    if not key or key in ids:
        while f"list-{tree}-{n}" in ids:
            n += 1
        key = f"list-{tree}-{n}"
    return Event.made(
        id=key, tree=tree, date=day_of(cell("date"), None), kind=kind, text=text, pot=pots.get(cell("pot").lower()), minutes=_number(cell("minutes"), "minutes"),
        cost=_number(cell("cost"), "cost"), strain=_number(cell("strain"), "strain"), figures=_figures(cell("figures")), planned=_figures(cell("planned")),
    )  # fmt: skip


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
