"""Rows of a spoken list as pots: what nobody said is as usual or unknown, and the notes say so."""

from collections.abc import Collection, Mapping
from typing import Any

from pydantic import ValidationError

from kesh.base.errors import plain_reason
from kesh.formats.lists.read import Imported, RowRead, Understood, key_for
from kesh.formats.lists.spoken.figures import SIZES
from kesh.formats.lists.spoken.pots import SpokenPot, SpokenPots
from kesh.formats.lists.spoken.table import SpokenTable
from kesh.formats.lists.table import Header
from kesh.geometry.usual import NOTE, usual_body
from kesh.geometry.usual_holes import usual_holes
from kesh.model import Outline, Pot
from kesh.model.base import MOST_NOTE

KINDS: Mapping[str, dict[str, Any]] = {
    "rectangle": {"kind": "rectangle"}, "oval": {"kind": "oval"}, "round": {"kind": "round"}, "hexagon": {"kind": "polygon", "sides": 6},
    "octagon": {"kind": "polygon", "sides": 8}, "lobed": {"kind": "lobed"}, "free": {"kind": "free"},
}  # fmt: skip
FINISHES = {"unglazed": "unglazed", "glazed": "muted_glaze"}


def whole(row: SpokenPot) -> bool:
    """Whether a row has all three sizes."""
    return all((getattr(row, name) or 0) > 0 for name in SIZES)


def pot_of(row: SpokenPot, key: str) -> Pot:
    """A row as a pot. Raises ValidationError for sizes that no pot can have; call only for a whole row."""
    length, width, height = float(row.length_mm or 0), float(row.width_mm or 0), float(row.height_mm or 0)
    usual = usual_body(length, width, height)
    fields: dict[str, Any] = usual._asdict()
    notes = [row.notes, f"Wall, floor and feet: {NOTE}."]
    outline = KINDS.get(row.outline or "", {"kind": "rectangle"})
    if outline["kind"] == "free":
        # the line of a free form is not known from a word
        outline = {"kind": "oval"}
        notes.append("A free form, drawn as an oval until its outline is drawn.")
    untold = [
        words for value, words in (
            (row.outline, "outline (drawn as a rectangle)"), (row.finish, "finish (taken as bare clay)"), (row.colour, "colour"),
        ) if value is None
    ]  # fmt: skip
    if untold:
        notes.append(f"Not told: {', '.join(untold)}.")
    if row.drain is not None:
        fields["holes"] = usual_holes(row.drain, row.ties or 0, length, width, row.across_mm, row.tie_mm)
        notes.append("Holes by their count, placed as is usual.") if row.drain else None
    if row.colour is not None:
        fields["colour"] = row.colour
    if row.finish is not None:
        fields["finish"] = FINISHES[row.finish]
    if row.price is not None:
        fields["price"] = row.price
        notes.append(f"Price in {row.currency}.") if row.currency else None
    return Pot.model_validate(
        fields | {
            "id": key, "name": row.name[:120], "length_mm": length, "width_mm": width, "height_mm": height, "outline": Outline.model_validate(outline),
            "holes_known": row.drain is not None, "source": row.source, "notes": _fitting(row.notes, notes),
        }
    )  # fmt: skip


def _fitting(own: str, notes: list[str]) -> str:
    """The notes of a row with ours behind them; a long note of the list's own goes before ours."""
    told = " ".join(filter(None, notes))
    return told if len(told) <= MOST_NOTE else own


def told_over(old: Pot, row: SpokenPot, pot: Pot) -> Pot:
    """A pot that is here with what a row says of it now; all else of it stays. Holes stay where they are while their count is the same."""
    fields: dict[str, Any] = {name: getattr(pot, name) for name in SIZES}
    form, before = pot.outline, old.outline
    if row.outline is not None and (
        form.kind != before.kind or (form.kind == "polygon" and form.sides != before.sides)
    ):
        fields["outline"] = form
    # 'glazed' says less than a glaze that is known
    glazed = row.finish == "glazed" and "glaze" in old.finish
    for told, name in ((row.colour, "colour"), (None if glazed else row.finish, "finish"), (row.price, "price")):
        if told is not None:
            fields[name] = getattr(pot, name)
    counts = [(sum(h.drains for h in p.holes), sum(not h.drains for h in p.holes)) for p in (old, pot)]
    if row.drain is not None and (not old.holes_known or counts[0] != counts[1]):
        fields |= {"holes": pot.holes, "holes_known": True}
    return old.changed(**fields)


def records_of(
    found: SpokenPots, known: Mapping[str, Pot] | Collection[str], *, change: bool = False
) -> tuple[RowRead, ...]:
    """A pot for every whole row; the others say what is missing. A row that is there already in all it says is left out.

    With `change` a row that is called as a pot that is here changes that pot; else it comes in beside it under a number.
    """
    here = {p.name: p for p in known.values()} if change and isinstance(known, Mapping) else {}
    taken = set(known)
    there = {p.changed(id="?"): p.name for p in known.values()} if isinstance(known, Mapping) else {}
    names = frozenset(there.values())
    rows = [RowRead(line, None, why) for line, why in found.refused]
    for row in found.rows:
        told = "; ".join(row.doubts)
        if not whole(row):
            rows.append(RowRead(row.line, None, told or "sizes are missing"))
            continue
        try:
            pot = pot_of(row, "?")
        except ValidationError as err:
            rows.append(RowRead(row.line, None, plain_reason(err, f"line {row.line}").split(": ", 1)[1]))
            continue
        if pot in there:
            rows.append(
                RowRead(row.line, None, f"{there[pot]} is there already, the same in all that is said; left out")
            )
            continue
        old = here.pop(pot.name, None)
        if old is not None:
            after = told_over(old, row, pot)
            same = f"{old.name} is there already, the same in all that is said; left out"
            rows.append(RowRead(row.line, None, same) if after == old else RowRead(row.line, after, told))
            continue
        name, n = pot.name, 2
        while name in names:
            name, n = f"{pot.name} ({n})", n + 1
        pot = pot.changed(id=key_for(pot.name, taken), name=name)
        taken.add(pot.id)
        rows.append(RowRead(row.line, pot, told))
    return tuple(sorted(rows, key=lambda r: r.line))


def understood_of(table: SpokenTable) -> Understood:
    """Which column was taken for what, in the words of the window."""
    words = {"look": "outline, finish, colour", "place": "where it is", "count": "number of pieces", "size": "sizes"}
    fields: dict[str, Header] = {}
    left = []
    for n, col in enumerate(table.columns):
        head = Header(col.head or f"column {n + 1}", f"{n}", col.unit)
        name = words.get(col.means, col.means)
        if not name:
            left.append(head)
            continue
        fields[name if name not in fields else f"{name} {n + 1}"] = head
    return Understood(fields, tuple(left))


def imported(
    table: SpokenTable, found: SpokenPots, known: Mapping[str, Pot] | Collection[str], *, change: bool = False
) -> Imported:
    """A spoken list as any other list that came in."""
    return Imported(records_of(found, known, change=change), understood_of(table), table)
