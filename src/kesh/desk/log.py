"""Step Log without a window: what is written down, how an entry is put right, and what was seen of a full pot."""

import re
from collections.abc import Mapping
from datetime import date

from kesh.base.days import day_of
from kesh.base.errors import FieldError
from kesh.desk.ids import fresh_id
from kesh.model import Collection, Correction, Event, Sign, Tree
from kesh.model.events import EventKind
from kesh.store.collection_file import Change

# what can be written down here: words, what its figure is, and how it is written
WRITTEN: Mapping[str, tuple[str, str, str]] = {
    "seen": ("seen", "", ""),
    "pruned": ("cut", "foliage_share", "share of the leaves, such as 20 %"),
    "wired": ("wired", "twigs", "twigs, if only twigs"),
    "fed": ("fed", "", ""),
    "moved": ("moved in or out", "", ""),
    "defoliated": ("leaves off", "", ""),
    "flowered": ("last flower fell", "", ""),
    "ailing": ("ill, or pests", "", ""),
    "repotted": ("repotted, some time ago", "removed_feeder_share", "share of the feeders, such as 30 %"),
    "propagated": ("propagated", "rooted", "such as 15-20 of 24"),
    "experiment": ("experiment", "alive", "such as 5 of 6"),
    "round": ("round", "", ""),
    "note": ("note", "", ""),
}
# what can be seen that Kesh reckons with: sign, value, words, what is asked for
SIGHTS: tuple[tuple[str, str, str, str], ...] = (
    ("", "", "nothing of these", ""),
    ("buds", "swelling", "buds swell", ""),
    ("buds", "opening", "leaves open", ""),
    ("lifted", "", "tree lifted out of the pot by", "mm"),
    ("roots_at_holes", "yes", "roots at the holes", ""),
    ("drains_slowly", "", "water stands for", "seconds"),
    ("lifts_whole", "yes", "lifts out whole, white mat", ""),
    ("loose_at_wall", "yes", "soil still loose at the wall", ""),
)
COUNTED = re.compile(r"^\s*(\d+)(?:\s*(?:-|–|to)\s*(\d+))?\s*(?:of|/)\s*(\d+)\s*$")


def read_day(text: str, today: date, *, ahead: bool = False, south: bool = False) -> date:
    """A day from words, today where none are; without a year the last such day, or `ahead` the next. Raises FieldError."""
    return day_of(text, today, ahead=ahead, south=south) if text.strip() else today


def read_share(text: str) -> float:
    """A share from words: 20 %, 20, 0.2. Raises FieldError."""
    plain = text.strip().rstrip("%").strip().replace(",", ".")
    try:
        value = float(plain)
    except ValueError as err:
        raise FieldError("share", f"'{text.strip()}' is no share; write it as 20 %") from err
    value = value / 100 if "%" in text or value > 1 else value
    if not 0 <= value <= 1:
        raise FieldError("share", f"'{text.strip()}' is outside 0 to 100 %")
    return value


def read_figures(kind: str, text: str) -> tuple[tuple[str, float], ...]:
    """The figures of an entry from its one field: a share, or a count with its whole. Raises FieldError."""
    name = WRITTEN[kind][1]
    plain = text.strip()
    if not plain or not name:
        return ()
    if name == "twigs":
        return (("twigs", 1.0),) if plain.lower().startswith(("twig", "y", "1")) else ()
    if name in ("rooted", "alive"):
        found = COUNTED.match(plain.replace("about", "").replace("or", "to"))
        if found is None:
            raise FieldError(
                "count", f"'{plain}' has no whole; write it as 9 of 12, or 15-20 of 24 where you are not sure"
            )
        low, high, of = int(found[1]), int(found[2] or found[1]), int(found[3])
        if not low <= high <= of or of < 1:
            raise FieldError("count", f"{low} to {high} of {of} cannot be")
        return (
            (("of", float(of)), (name, float(low)))
            if low == high
            else (("of", float(of)), (f"{name}_low", float(low)), (f"{name}_high", float(high)))
        )
    return ((name, read_share(plain)),)


def written(
    c: Collection, tree: str, kind: EventKind, day: date, text: str, *, figures: tuple[tuple[str, float], ...] = (), minutes: float | None = None,
    cost: float | None = None, photo: str | None = None, pot: str | None = None,
) -> list[Change]:  # fmt: skip
    """A new entry of the log. Raises FieldError."""
    event = Event.made(
        id=fresh_id({e.id for e in c.events}, f"{kind}-{tree}"), tree=tree, date=day, kind=kind, text=text.strip(), figures=figures, minutes=minutes,
        cost=cost, photo=photo, pot=pot,
    )  # fmt: skip
    return [("event", event.id, event)]


def with_sight(tree: Tree, sight: tuple[str, str, str, str], value: str, day: date) -> list[Change]:
    """A sign that Kesh reckons with, kept with the tree. Raises FieldError."""
    sign, fixed, words, unit = sight
    if not sign:
        return []
    told = fixed or value.strip()
    if unit:
        try:
            if not 0 <= float(told.replace(",", ".")) <= 10_000:
                raise ValueError(told)
        except ValueError as err:
            raise FieldError("sign", f"{words}: write how many {unit}") from err
    return [
        ("tree", tree.id, tree.changed(signs=(*tree.signs, Sign(date=day, sign=sign, value=told.replace(",", ".")))))
    ]


def put_right(event: Event, today: date, **fields: object) -> Event:
    """The entry with fields put right; what stood there is kept with the day. Raises FieldError."""
    before = {name: getattr(event, name) for name in fields}
    changed = {name: value for name, value in fields.items() if value != before[name]}
    if not changed:
        return event
    notes = tuple(Correction(on=today, field=name, was=as_words(before[name])) for name in changed)
    return event.changed(**changed, corrections=(*event.corrections, *notes))


def as_words(value: object) -> str:
    """A field as words, for what it said before."""
    if value is None or value == "":
        return "nothing"
    if isinstance(value, tuple):
        return ", ".join(f"{k} {v:g}" for k, v in value)
    return str(value)


def species_put_right(before: Collection, changes: list[Change], today: date) -> list[Change]:
    """Trees whose species changed keep what they were taken for; all rules follow the new species by themselves."""
    found: list[Change] = []
    for kind, key, record in changes:
        old = before.trees.get(key) if kind == "tree" else None
        if (
            old is not None
            and isinstance(record, Tree)
            and old.species
            and record.species != old.species
            and record.corrections == old.corrections
        ):
            note = Correction(on=today, field="species", was=old.species)
            record = record.changed(corrections=(*record.corrections, note))
        found.append((kind, key, record))
    return found
